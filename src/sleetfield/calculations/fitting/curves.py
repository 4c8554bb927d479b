"""What models say of a set's quantities between its points, with the confidence band that fitted parameters leave; and intervals of anything else."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import replace
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...arguments import guarded
from ...core.fitting.least_squares import CONFIDENCE
from ...data_sets import DataSet
from ...errors import InputError
from ...mixture import Mixture
from ...results.data_table import DataTable
from ...results.regression import Regression
from ..later import ANSWERS
from ..predictions import Predicted, predict
from .adjustable import Adjustable
from .problem import Movable, system_of, with_numbers

Array = NDArray[np.float64]

_POINTS = 101
_LEVELS = 5
"""How many isotherms or isobars of a set are drawn at most."""
_EDGE = 1e-6
_STEP = 0.02
"""Share of a standard error that a parameter is moved by for a derivative."""


@guarded
def data_table(data: DataSet | Sequence[DataSet], beside: Mapping[str, Mixture] | None = None) -> DataTable:
    """Measurements as a table that prints, is saved, and is drawn with models beside it.

    Parameters
    ----------
    data : DataSet or sequence of them
        Of one kind and of the same components.
    beside : mapping of labels to systems, optional
        Models whose lines are drawn with the points.

    Raises
    ------
    InputError
        If there are none, or they are of several kinds.

    Examples
    --------
    >>> import sleetfield as sl
    >>> data = sl.DataSet.of(["acetone", "1-butanol"], T="60 degC", P=["45 kPa", "68 kPa"], x=[0.3, 0.6])
    >>> ax = sl.data_table(data, {"ideal": sl.System(data.names, liquid="ideal")}).plot()

    """
    return DataTable((data,) if isinstance(data, DataSet) else tuple(data), dict(beside or {}), ANSWERS)


class Curve(NamedTuple):
    """A line of a model: whose it is, of which quantity, where, its values, and half the width of its 95 % band (NaN where there is none).

    ``across`` is what ``at`` is: "x" of the first component, or "T"; ``level`` says what is held.
    """

    model: str
    quantity: str
    across: str
    at: Array
    value: Array
    half_width: Array
    level: float


def curves(fits: Sequence[Regression | Mixture], data: DataSet) -> tuple[Curve, ...]:
    """Lines of every model through the range of a set.

    Raises
    ------
    InputError
        If the set can't be drawn so: of more than two components, or at too many temperatures and pressures.
    """
    if len(data.names) > 2:
        raise InputError(
            f"{data.source} has {len(data.names)} components, which no plane diagram shows; take figure='parity' or 'residuals'."
        )
    return tuple(c for fit in fits for dense, level in _dense(data) for c in _of_model(fit, dense, level))


def _of_model(fit: Regression | Mixture, dense: DataSet, level: float) -> Iterator[Curve]:
    system = fit if isinstance(fit, Mixture) else fit.system
    part = system_of(system, dense)
    with np.errstate(all="ignore"):
        if isinstance(fit, Mixture):
            found = predict(part, dense)
            halves = [np.full(len(p.points), np.nan) for p in found]
        else:
            found, halves = _with_bands(fit, part, dense)
    across = _across(dense)
    for p, half in zip(found, halves, strict=True):
        at = dense["T"] if across == "T" else dense["x"][:, 0]
        yield Curve(system.model_title, p.quantity, across, at[p.points], p.value, half, level)


def _with_bands(fit: Regression, part: Mixture, dense: DataSet) -> tuple[list[Predicted], list[Array]]:
    from scipy.stats import t as student

    movable = Movable(part, adjustable_of(fit))
    found = predict(movable.at(fit.values), dense, movable.shifts(fit.values))
    quantile = student.ppf(0.5 + 0.5 * CONFIDENCE, fit.freedom)
    halves = []
    for p in found:
        J = movable.spread(p.slopes)
        halves.append(quantile * np.sqrt(np.maximum(np.einsum("ij,jk,ik->i", J, fit.covariance, J), 0.0)))
    return found, halves


def adjustable_of(fit: Regression) -> Adjustable:
    """What a regression adjusted."""
    none = np.full(len(fit.names), np.inf)
    return Adjustable(fit.names, fit.tied, fit.standard_error / 1e-2, -none, none)


def _across(data: DataSet) -> str:
    if data.kind in ("vapor-liquid", "azeotrope", "excess enthalpy"):
        return "x"
    if data.kind == "density" and len(data.names) == 2 and np.ptp(data["x"][:, 0]) > _EDGE:
        return "x"
    return "T"


def _dense(data: DataSet) -> Iterator[tuple[DataSet, float]]:
    """Sets like the measured one at many places, each with the temperature or pressure that is held."""
    across = _across(data)
    if across == "T":
        yield _along_temperature(data), np.nan
        return
    held = data.given if data.kind == "vapor-liquid" else "T"
    values = data[held][data.used]
    levels = _levels(values[np.isfinite(values)])
    if len(levels) > _LEVELS and data.kind != "azeotrope":
        raise InputError(f"{data.source} has more than {_LEVELS} values of {held}; take figure='parity' or 'residuals'.")
    for level in levels[:_LEVELS]:
        yield _along_composition(data, held, level), float(level)


def _levels(values: Array) -> list[float]:
    """Values apart by more than a measurement's scatter."""
    levels: list[float] = []
    for v in np.sort(values):
        if not levels or abs(v / levels[-1] - 1.0) > 0.01:
            levels.append(float(v))
    groups = [values[np.abs(values / level - 1.0) <= 0.01] for level in levels]
    return [float(np.median(g)) for g in groups]


def _along_composition(data: DataSet, held: str, level: float) -> DataSet:
    x = np.linspace(0.0, 1.0, _POINTS)
    both = np.stack([x, 1.0 - x], axis=1)
    values = {"x": both, held: np.full(_POINTS, level)}
    # measured values that the model's take the place of
    if data.kind == "vapor-liquid":
        values |= {"P": np.linspace(1e5, 2e5, _POINTS)} if held == "T" else {"T": np.linspace(300.0, 400.0, _POINTS)}
        values["y"] = np.full((_POINTS, 2), 0.5)
    elif data.kind == "azeotrope":
        values |= {"P": np.linspace(1e5, 2e5, _POINTS)}
    else:
        values |= {q: np.ones(_POINTS) for q in ("HE", "density") if q in data.values}
        values |= {"P": np.full(_POINTS, float(np.nanmedian(data["P"])))} if np.isfinite(data["P"]).any() else {}
    return replace(data, values=values, uncertainty={}, weight=None, excluded={}, source="")


def _along_temperature(data: DataSet) -> DataSet:
    T = data["T"][data.used]
    low, high = float(np.nanmin(T)), float(np.nanmax(T))
    margin = max(0.02 * (high - low), 0.5)
    at = np.linspace(low - margin, high + margin, _POINTS)
    order = np.argsort(data["T"])
    values = {}
    for q, measured in data.values.items():
        columns = measured.reshape(len(data), -1)[order]
        filled = np.stack([np.interp(at, data["T"][order], column) for column in columns.T], axis=1)
        values[q] = filled if measured.ndim == 2 else filled[:, 0]
    return replace(data, values={**values, "T": at}, uncertainty={}, weight=None, excluded={}, source="")


def interval_of(fit: Regression, function: Callable[[Any], Any]) -> tuple[Array, Array]:
    """Value and half width of the 95 % interval of what is calculated from a fitted system."""
    from scipy.stats import t as student

    value = np.asarray(function(fit.system), dtype=float)
    wanted = adjustable_of(fit)
    slopes = []
    for k, error in enumerate(fit.standard_error):
        step = max(_STEP * error, 1e-7 * max(1e-3, abs(fit.values[k])))
        ends = []
        for sign in (-1.0, 1.0):
            moved = fit.values.copy()
            moved[k] += sign * step
            ends.append(np.asarray(function(with_numbers(fit.system, wanted.numbers(moved))), dtype=float))
        slopes.append((ends[1] - ends[0]) / (2.0 * step))
    J = np.stack(slopes, axis=-1)
    variance = np.einsum("...j,jk,...k->...", J, fit.covariance, J)
    half = student.ppf(0.5 + 0.5 * CONFIDENCE, fit.freedom) * np.sqrt(np.maximum(variance, 0.0))
    return value, np.asarray(half)
