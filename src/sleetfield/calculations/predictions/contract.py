"""What every kind of measurement gives a regression: predicted values beside measured ones, with their derivatives by parameters.

Whoever adds a kind writes in a file of its own what makes of a data set a function ``(system, shifts) -> list[Predicted]``, which may remember where it found its
points, and enters it in `KINDS` of the package; the system has the data's components in the data's order. A point that the model has no answer for is NaN. All points and parameters are one batch.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...core.constants import ATMOSPHERE
from ...data_sets import DataSet
from ...errors import InputError
from ...mixture import Mixture

Array = NDArray[np.float64]
Points = NDArray[np.intp]


class Shifted(NamedTuple):
    """Two mixtures whose models differ in one parameter by ``step`` to either side."""

    below: Mixture
    above: Mixture
    step: float


class Predicted(NamedTuple):
    """One measured quantity of ``M`` points: which points of the set, what was measured, its standard uncertainty, what the model says, and its
    derivatives by parameters ``(M, K)``.
    """

    quantity: str
    points: Points
    measured: Array
    uncertainty: Array
    value: Array
    slopes: Array


Predict = Callable[[Mixture, Sequence[Shifted]], list[Predicted]]
"""What a model says of the points of one set."""


def predicted(data: DataSet, name: str, points: Points, measured: Array, value: Array, slopes: Array) -> list[Predicted]:
    """Those of the ``points`` at which a quantity was measured; ``name`` is its symbol, perhaps with a component behind it."""
    seen = np.isfinite(measured)
    if not seen.any():
        return []
    u = data.standard_uncertainty(name.split(" ", maxsplit=1)[0], measured, points)
    return [Predicted(name, points[seen], measured[seen], u[seen], value[seen], slopes[seen])]


def used_points(data: DataSet, *quantities: str) -> Points:
    """The points that are not left out and have all of the quantities.

    Raises
    ------
    InputError
        If there is none.
    """
    there = data.used.copy()
    for q in quantities:
        values = data[q]
        there &= np.isfinite(values) if values.ndim == 1 else np.isfinite(values).all(axis=1)
    points = np.flatnonzero(there)
    if not points.size:
        raise InputError(f"{data.source} has no point with {' and '.join(quantities)} that is not left out.")
    return points


def by_differences(system: Mixture, shifts: Sequence[Shifted], values: Callable[[Mixture], Array]) -> Array:
    """Derivatives of explicit values ``(M,)`` by parameters ``(M, K)``."""
    columns = [(values(s.above) - values(s.below)) / (2.0 * s.step) for s in shifts]
    return np.stack(columns, axis=1) if columns else np.zeros((len(values(system)), 0))


def liquid_pressure(system: Mixture, T: Array, P: Array) -> Array:
    """Pressures ``(N,)`` where they were measured; else 1 atm, or what keeps all components liquid, roughly."""
    boiling = np.exp(system.phase_model.ln_saturation_guess(T)).max(axis=1)
    return np.where(np.isfinite(P), P, np.maximum(ATMOSPHERE, np.minimum(1.2 * boiling, 1e7)))


def remembering_nothing(work: Callable[[Mixture, DataSet, Sequence[Shifted]], list[Predicted]]) -> Callable[[DataSet], Predict]:
    """What makes a `Predict` of a function that needs no memory."""
    return lambda data: lambda system, shifts: work(system, data, shifts)
