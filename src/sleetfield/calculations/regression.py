"""Parameters of a model from measured vapor-liquid equilibria, by weighted least squares in the measured quantities.

Derivatives by parameters come from the converged points (`core.equilibrium.parameter_derivatives`), so that a step costs one batch of points.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import product
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from ..core.fitting.least_squares import Fit, fit
from ..data_sets import DataSet
from ..errors import CalculationError, InputError
from ..mixture import Mixture
from ..recipes.parameter import Parameters
from ..results.regression import FittedQuantity, Regression
from .later import ANSWERS
from .prediction import DEFAULTS, Predicted, Shifted, predict

Array = NDArray[np.float64]

LOSSES: dict[str, Literal["linear", "soft_l1"]] = {"squares": "linear", "stray points": "soft_l1"}
"""What a residual counts as: its square; or, far from the rest, hardly more than its size, so that stray points pull less."""

_STEP = 1e-5
_MISSED = 30.0
"""Uncertainties that a point counts as missed by where the model has no answer."""
_STARTS = (-0.5, 0.5, 1.5)
"""Values that parameters without a known one are begun from, all combinations of up to three of them."""
_INSIDE = 1e-6
"""How far inside its bounds a parameter begins at least, as a share of them."""
_BEST = 2
"""How many of them are fitted from."""
_TOLERANCE = 1e-10


def regress(
    system: Mixture,
    data: DataSet | Sequence[DataSet],
    *,
    fit: str | Sequence[str],
    loss: str = "squares",
    bounds: Mapping[str, tuple[float, float]] | None = None,
) -> Regression:
    """Fit parameters of a system's model to measurements.

    Parameters
    ----------
    system : System
        The model; its parameters are where the fit starts, and those not fitted stay.
    data : DataSet or sequence of them
        What `read_data` gives; several sets are fitted together.
    fit : str or sequence of str
        Names of ``system.parameters``, with " slope" or " bend" behind them for how they depend on temperature; or symbols alone, such as "tau" or "kij",
        which stand for all parameters of that kind.
    loss : {"squares", "stray points"}
        The second lets stray points pull less.
    bounds : mapping of names to two numbers, optional
        Where others are wanted than those of the model family.

    Returns
    -------
    Regression
        Values with standard errors, deviations in every measured quantity; ``.system`` is the system with the fitted parameters.

    Raises
    ------
    InputError
        If there is no such parameter, or there are not more measured quantities than parameters.
    CalculationError
        If the fit does not converge.

    Examples
    --------
    >>> import sleetfield as sl
    >>> import numpy as np
    >>> known = sl.System(["ethanol", "water"], liquid="NRTL")
    >>> x = np.array([[0.1, 0.9], [0.3, 0.7], [0.6, 0.4], [0.9, 0.1]])
    >>> points = known.bubble(x, T=350.0)
    >>> data = sl.DataSet(known.names, points.T, points.P, x, points.y)
    >>> start = known.with_parameters({"tau ethanol / water": 0.5, "tau water / ethanol": 0.5})
    >>> found = sl.regress(start, data, fit="tau")
    >>> float(abs(found.system.bubble(x, T=350.0).P / points.P - 1.0).max()) < 1e-6
    True

    """
    sets = (data,) if isinstance(data, DataSet) else tuple(data)
    if not sets:
        raise InputError("There are no data to fit to.")
    if loss not in LOSSES:
        raise InputError(f"loss is {loss!r}; it is one of {', '.join(LOSSES)}.")
    names = _names(system.model.parameters, [fit] if isinstance(fit, str) else list(fit))
    for name in names:
        # a slope of what doesn't depend on temperature is refused
        system.model.with_parameters({name: system.model.parameters.value(name) + _STEP})
    problem = _Problem(system, sets, names)
    low, high = problem.bounds(bounds or {})
    found, start = None, problem.start
    for candidate in problem.starts(low, high):
        one = _solved(problem, candidate, (low, high), LOSSES[loss])
        if (
            one is not None
            and problem.predicted(one.parameters)
            and (found is None or one.standard_deviation < found.standard_deviation)
        ):
            found, start = one, candidate
    if found is None:
        raise CalculationError(f"The fit of {', '.join(names)} did not converge. Try other starting values, or fewer parameters.")
    return _told(problem, found, start, (low, high), loss)


class _Problem:
    """Predictions and their derivatives as functions of the parameters ``(K,)``; the last evaluation is kept."""

    def __init__(self, system: Mixture, sets: tuple[DataSet, ...], names: list[str]) -> None:
        self.system, self.sets, self.names = system, sets, names
        self.start = np.array([system.model.parameters.value(name) for name in names])
        sizes = {s.symbol: s.size for s in system.model.all_symbols()}
        self.sizes = np.array([sizes[name.split(" ", 1)[0]] for name in names])
        self.evaluations = 0
        self._last: tuple[bytes, list[list[Predicted]]] = (b"", [])
        with np.errstate(all="ignore"):
            rows = [p for data in sets for p in predict(system, data)]
        self.measured = np.concatenate([p.measured for p in rows])
        self.uncertainty = np.concatenate([p.uncertainty for p in rows])
        if len(self.measured) <= len(names):
            raise InputError(f"{len(self.measured)} measured values don't determine {len(names)} parameters; fit fewer.")

    def at(self, values: Array) -> Mixture:
        """The system with other parameters."""
        numbers = dict(zip(self.names, values.tolist(), strict=True))
        return type(self.system).of(self.system.who, self.system.model.with_parameters(numbers), self.system.units)

    def predicted(self, values: Array) -> list[list[Predicted]]:
        """What the model says of every set; nothing where the numbers make no model."""
        key = values.tobytes()
        if self._last[0] != key:
            self.evaluations += 1
            try:
                system = self.at(values)
                shifts = [self._shift(values, k) for k in range(len(values))]
            except InputError:
                self._last = key, []
                return []
            with np.errstate(all="ignore"):
                self._last = key, [predict(system, data, shifts) for data in self.sets]
        return self._last[1]

    def _shift(self, values: Array, k: int) -> Shifted:
        step = _STEP * max(self.sizes[k], abs(float(values[k])))
        below, above = values.copy(), values.copy()
        below[k] -= step
        above[k] += step
        return Shifted(self.at(below), self.at(above), step)

    def values(self, parameters: Array) -> Array:
        """All predictions ``(N,)``; one that there is none of counts as far off."""
        parts = [p.value for part in self.predicted(parameters) for p in part]
        value = np.concatenate(parts) if parts else np.full(len(self.measured), np.nan)
        predicted: Array = np.where(np.isfinite(value), value, self.measured + _MISSED * self.uncertainty)
        return predicted

    def slopes(self, parameters: Array) -> Array:
        """Their derivatives ``(N, K)``."""
        parts = [p.slopes for part in self.predicted(parameters) for p in part]
        slopes: Array = np.nan_to_num(np.concatenate(parts)) if parts else np.zeros((len(self.measured), len(parameters)))
        return slopes

    def bounds(self, own: Mapping[str, tuple[float, float]]) -> tuple[Array, Array]:
        """Lowest and highest values ``(K,)``: of the family, or a user's own."""
        symbols = {s.symbol: (s.low, s.high) for s in self.system.model.all_symbols()}
        if strange := [name for name in own if name not in self.names]:
            raise InputError(f"bounds has {strange[0]!r}, which is not fitted; fitted are {', '.join(self.names)}.")
        wide = (-np.inf, np.inf)
        pairs = [own.get(n, wide if n.endswith((" slope", " bend")) else symbols[n.split(" ", 1)[0]]) for n in self.names]
        low, high = (np.array(column, dtype=float) for column in zip(*pairs, strict=True))
        if not (low < high).all():
            raise InputError("The lower bound of a parameter is to be below its upper one.")
        return low, high

    def starts(self, low: Array, high: Array) -> list[Array]:
        """Where fits begin: from the values that there are; where parameters of pairs are not known, from the two best of several."""
        margins = (_INSIDE * np.abs(np.where(np.isfinite(b), b, 0.0)) for b in (low, high))
        inside = np.clip(self.start, low + next(margins), high - next(margins))
        unknown = [k for k, name in enumerate(self.names) if not self._known(name)]
        free = [k for k in unknown if not self.names[k].endswith((" slope", " bend"))][:3]
        if not free or self.system.activity is None:
            return [inside]
        candidates = [inside]
        for values in product(_STARTS, repeat=len(free)):
            one = inside.copy()
            one[free] = values
            candidates.append(np.clip(one, low, high))
        return sorted(candidates, key=self._sum_of_squares)[:_BEST]

    def _known(self, name: str) -> bool:
        bare = name.removesuffix(" slope").removesuffix(" bend")
        parameters = self.system.model.parameters
        return parameters[bare].known if bare in parameters else True

    def _sum_of_squares(self, values: Array) -> float:
        try:
            system = self.at(values)
        except InputError:
            return np.inf
        self.evaluations += 1
        with np.errstate(all="ignore"):
            value = np.concatenate([p.value for data in self.sets for p in predict(system, data)])
        off = np.where(np.isfinite(value), (value - self.measured) / self.uncertainty, _MISSED)
        return float((off**2).sum())


def _names(parameters: Parameters, wanted: list[str]) -> list[str]:
    """The parameters that names and symbols mean."""
    found: list[str] = []
    for entry in wanted:
        symbol, _, part = entry.partition(" ")
        of_kind = parameters.of_symbol(symbol)
        if of_kind and part in ("", "slope", "bend"):
            found += [f"{p.name} {part}".strip() for p in of_kind]
        else:
            parameters.value(entry)
            found.append(entry)
    if not found:
        raise InputError("fit names no parameter.")
    return list(dict.fromkeys(found))


def _solved(problem: _Problem, start: Array, bounds: tuple[Array, Array], loss: Literal["linear", "soft_l1"]) -> Fit | None:
    return fit(
        problem.values,
        problem.measured,
        problem.uncertainty,
        start,
        scale=np.maximum(problem.sizes, np.abs(start)),
        slopes=problem.slopes,
        bounds=bounds,
        loss=loss,
        tolerance=_TOLERANCE,
    )


def _told(problem: _Problem, found: Fit, start: Array, bounds: tuple[Array, Array], loss: str) -> Regression:
    parts = problem.predicted(found.parameters)
    quantities, first = [], 0
    for data, part in zip(problem.sets, parts, strict=True):
        for p in part:
            rows = slice(first, first + len(p.points))
            quantities.append(
                FittedQuantity(data.source, p.quantity, p.points, p.measured, p.uncertainty, p.value, found.scaled[rows])
            )
            first += len(p.points)
    fitted = problem.at(found.parameters)
    return Regression(
        system=fitted,
        names=tuple(problem.names),
        values=found.parameters,
        standard_error=found.standard_error,
        interval=found.interval,
        correlation=found.correlation,
        start=start,
        at_bound=tuple(np.isclose(found.parameters, bounds[0]) | np.isclose(found.parameters, bounds[1])),
        quantities=tuple(quantities),
        standard_deviation=found.standard_deviation,
        evaluations=problem.evaluations,
        loss=loss,
        data=problem.sets,
        assumed=tuple(_assumed(problem.sets)),
        later=ANSWERS,
    )


def _assumed(sets: Sequence[DataSet]) -> list[str]:
    """Uncertainties that no data set has, in words."""
    words = {"T": f"{DEFAULTS['T']:g} K of T", "P": f"{DEFAULTS['P']:.1%} of P", "y": f"{DEFAULTS['y']:g} of fractions"}
    measured: dict[str, Any] = {"y": "y"}
    for data in sets:
        measured["P" if data.given == "T" else "T"] = True
    return [words[q] for q in words if q in measured and not all(q in d.uncertainty for d in sets)]
