"""Parameters of a model from measurements of every kind, by weighted least squares or maximum likelihood.

Derivatives by parameters come from the converged points (`core.equilibrium.parameter_derivatives`), so that a step costs one batch of points for each set.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...arguments import guarded
from ...core.fitting.least_squares import Fit, Loss, fit_residuals
from ...data_sets import QUANTITIES, DataSet, fitted_to
from ...data_sets.data_set import uncertainty_of
from ...errors import CalculationError, InputError
from ...mixture import Mixture
from ...results.regression import FittedQuantity, Regression
from ..later import ANSWERS
from .adjustable import Adjustable, adjustable
from .consequences import consequences, false_splits
from .problem import SPLIT, Problem, with_numbers
from .starts import searched, starts

Array = NDArray[np.float64]

LOSSES: dict[str, Loss] = {"squares": Loss(), "stray points": Loss("soft_l1", 1.0), "absolute": Loss("soft_l1", 0.1)}
"""What a residual counts as: its square; or, far from the rest, hardly more than its size, so that stray points pull less; or its size."""

_TOLERANCE = 1e-9
_POOR = 2.0
"""Standard deviation over the uncertainties from which it is worth looking for another minimum."""


@guarded
def regress(
    system: Mixture,
    data: DataSet | Sequence[DataSet],
    *,
    fit: str | Sequence[str] | None = None,
    objective: str = "measured",
    loss: str = "squares",
    uncertainty: Mapping[str, Any] | None = None,
    bounds: Mapping[str, tuple[float, float]] | None = None,
    tied: Mapping[str, str | tuple[float, str]] | None = None,
    forbid_split: bool = False,
) -> Regression:
    """Fit parameters of a system's model to measurements.

    Parameters
    ----------
    system : System
        The model; its parameters are where the fit starts, and those not fitted stay.
    data : DataSet or sequence of them
        What `read_data` gives; sets of several kinds, and of some of the system's components, are fitted together.
    fit : str or sequence of str, optional
        What is usual for the family where nothing is named. Names of ``system.parameters``, with " slope" or " bend" behind them for how they depend on temperature; or symbols alone, such as "tau" or "kij",
        which stand for all parameters of that kind. With " 1/T" behind it a parameter is proportional to 1/T, as an energy over RT is.
    objective : {"measured", "relative volatility", "activity coefficients", "all variables"}
        What is made small: the measured quantities' residuals; with ln α for y; ln γ of complete points; or, by maximum likelihood, the residuals of all
        variables, none of which is taken as exact.
    loss : {"squares", "stray points", "absolute"}
        The second lets stray points pull less, the third takes the sizes of residuals.
    uncertainty : mapping of quantity to number or text, optional
        Standard uncertainties that stand before those of the data: in SI, with a unit, or a share ("0.5 %"), so that a quantity is fitted relative to its
        size; None leaves a quantity out.
    bounds : mapping of names to two numbers, optional
        Where others are wanted than those of the model family.
    tied : mapping of names to names or (factor, name), optional
        Parameters that are another one, or a factor times it.
    forbid_split : bool
        Whether parameters that split a liquid, of which vapor-liquid data were measured, are kept from it.

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
    >>> known = sl.System(["ethanol", "water"], liquid="NRTL")
    >>> x = [0.1, 0.3, 0.6, 0.9]
    >>> points = known.bubble([[v, 1.0 - v] for v in x], T=350.0)
    >>> data = sl.DataSet.of(known.names, T=350.0, P=points.P, x=x, y=points.y)
    >>> start = known.with_parameters({"tau ethanol / water": 0.5, "tau water / ethanol": 0.5})
    >>> found = sl.regress(start, data, fit="tau")
    >>> float(abs(found.system.bubble(points.z, T=350.0).P / points.P - 1.0).max()) < 1e-6
    True

    """
    given = (data,) if isinstance(data, DataSet) else tuple(data)
    sets = tuple(_as_wanted(one, uncertainty or {}) for one in given if one.used.any())
    if not sets:
        raise InputError("There are no data to fit to." if not given else "There is no point to fit to: every one is left out.")
    if loss not in LOSSES:
        raise InputError(f"loss is {loss!r}; it is one of {', '.join(LOSSES)}.")
    wanted = adjustable(system, system.model.recipe.usual_fit if fit is None else fit, bounds or {}, tied or {})
    problem = Problem(system, sets, wanted, objective, forbid_split)
    found, start = _best(problem, LOSSES[loss])
    if found is None:
        raise CalculationError(
            f"The fit of {', '.join(wanted.names)} did not converge: try other starting values or fewer parameters; or the model can't give such data."
        )
    return _told(problem, found, start, given, {"loss": loss, "objective": objective})


def _as_wanted(data: DataSet, uncertainty: Mapping[str, Any]) -> DataSet:
    """A set with other uncertainties, and without what is not to be fitted."""
    known, values = dict(data.uncertainty), dict(data.values)
    for q, u in uncertainty.items():
        if q not in QUANTITIES:
            raise InputError(f"uncertainty has {q!r}, which is no quantity; there are {', '.join(QUANTITIES)}.")
        if q not in values:
            continue
        if u is None:
            del values[q]
        else:
            known[q] = np.broadcast_to(uncertainty_of(q, u, values[q]), (len(data),)).copy()
    return replace(data, values=values, uncertainty=known)


def _best(problem: Problem, loss: Loss) -> tuple[Fit | None, Array]:
    """The best fit from every start; where that does not follow the data, from others too."""
    found, begun = _best_from(problem, starts(problem), loss)
    if found is None or found.standard_deviation > _POOR:
        again, other = _best_from(problem, searched(problem, range(len(problem.start))), loss)
        if again is not None and (found is None or _cost(again, loss) < _cost(found, loss)):
            return again, other
    return found, begun


def _best_from(problem: Problem, candidates: Sequence[Array], loss: Loss) -> tuple[Fit | None, Array]:
    found, begun = None, problem.start
    for start in candidates:
        one = _solved(problem, start, loss)
        if one is not None and problem.predicted(one.parameters) and (found is None or _cost(one, loss) < _cost(found, loss)):
            found, begun = one, start
    return found, begun


def _cost(fit: Fit, loss: Loss) -> float:
    pull, _ = loss.pull(fit.residuals)
    return float((pull * fit.residuals).sum())


def _solved(problem: Problem, start: Array, loss: Loss) -> Fit | None:
    wanted = problem.adjustable
    return fit_residuals(
        problem.residuals,
        problem.jacobian,
        start,
        scale=np.maximum(wanted.sizes, np.abs(start)),
        bounds=(wanted.low, wanted.high),
        loss=loss,
        tolerance=_TOLERANCE,
        without_freedom=problem.without_freedom,
    )


def _told(problem: Problem, found: Fit, start: Array, given: tuple[DataSet, ...], options: dict[str, str]) -> Regression:
    parts = problem.predicted(found.parameters)
    quantities, first = [], 0
    for number, (part, predicted) in enumerate(zip(problem.parts, parts, strict=True)):
        for p in predicted:
            rows = slice(first, first + len(p.points))
            first += len(p.points)
            if p.quantity != SPLIT:
                statistics = (found.scaled[rows], found.leverage[rows], found.influence[rows], found.stray[rows])
                told = number, part.data.source, p.quantity, p.points, p.measured, p.uncertainty, p.value
                quantities.append(FittedQuantity(*told, *statistics))
    wanted, sets = problem.adjustable, [part.data for part in problem.parts]
    fitted = with_numbers(problem.system, wanted.numbers(found.parameters), fitted_to(sets))
    return Regression(
        system=fitted,
        names=wanted.names,
        tied=dict(wanted.tied),
        values=found.parameters,
        standard_error=found.standard_error,
        interval=found.interval,
        covariance=found.covariance,
        correlation=found.correlation,
        start=start,
        at_bound=wanted.at_bound(found.parameters),
        quantities=tuple(quantities),
        standard_deviation=found.standard_deviation,
        sum_of_squares=found.sum_of_squares,
        freedom=found.freedom,
        evaluations=problem.evaluations,
        ended=found.ended,
        data=given,
        consequences=consequences(fitted, sets, wanted, found),
        remarks=(*_assumed(problem, quantities), *false_splits(fitted, sets), *_narrow(wanted, sets, fitted)),
        later=ANSWERS,
        **options,
    )


def _assumed(problem: Problem, quantities: Sequence[FittedQuantity]) -> list[str]:
    """Uncertainties that no data set has, in words."""
    lacking = {}
    for q in quantities:
        symbol = q.quantity.split(" ")[0]
        if symbol in QUANTITIES and symbol not in problem.parts[q.number].data.uncertainty:
            lacking[symbol] = f"{QUANTITIES[symbol].usual} of {symbol}"
    return [f"Standard uncertainties that the data don't have are taken as {', '.join(lacking.values())}."] if lacking else []


_NARROW = 15.0
"""Range of temperature, K, below which a slope is hardly told from the value."""


def _narrow(wanted: Adjustable, sets: Sequence[DataSet], system: Mixture) -> list[str]:
    """Slopes that are fitted to hardly more than one temperature."""
    notes = []
    for name in wanted.names:
        if not name.endswith((" slope", " bend")):
            continue
        of = set(system.model.parameters[name.rsplit(" ", 1)[0]].of)
        T = np.concatenate([d["T"][d.used] for d in sets if of <= set(d.names)])
        if np.isfinite(T).any() and np.nanmax(T) - np.nanmin(T) < _NARROW:
            notes.append(
                f"{name} is fitted to temperatures that differ by {np.nanmax(T) - np.nanmin(T):.3g} K: too few to tell it from the value."
            )
    return notes
