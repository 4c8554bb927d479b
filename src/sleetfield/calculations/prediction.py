"""What a model says of measured points, and how that moves with its parameters: one batch for a data set."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..core.equilibrium.parameter_derivatives import Phase, Shift, of_saturation
from ..core.models.contract import LIQUID, VAPOR
from ..data_sets import DataSet
from ..errors import InputError
from ..mixture import Mixture
from .saturation import saturate

Array = NDArray[np.float64]

DEFAULTS = {"T": 0.05, "P": 0.005, "y": 0.005}
"""Standard uncertainties where a data set has none: K; of the pressure; by mole."""


class Predicted(NamedTuple):
    """One measured quantity of ``M`` points: which points of the set, what was measured, its standard uncertainty, what the model says, and its
    derivatives by parameters ``(M, K)``.
    """

    quantity: str
    points: NDArray[np.intp]
    measured: Array
    uncertainty: Array
    value: Array
    slopes: Array


def predict(system: Mixture, data: DataSet, shifts: Sequence[Shift] = ()) -> list[Predicted]:
    """Pressures at given temperature, or temperatures at given pressure, and the compositions of the other phase, of all points that are not left out.

    A point that the model has no answer for is NaN.

    Raises
    ------
    InputError
        If the data are not of the system's components, or no composition was measured.
    """
    order = _order(system, data)
    kind = "bubble" if np.isfinite(data.x).any() else "dew"
    feed, other = (data.x, data.y) if kind == "bubble" else (data.y, data.x)
    feed, other = feed[:, order], other[:, order]
    given = data.given
    unknown = "P" if given == "T" else "T"
    fixed, sought = getattr(data, given), getattr(data, unknown)
    points = np.flatnonzero(data.used & np.isfinite(fixed) & np.isfinite(feed).all(axis=1))
    if not points.size:
        raise InputError(f"{data.source} has no point with {given} and a composition that is not left out.")
    z = np.clip(feed[points], 0.0, 1.0)
    found = saturate(system, kind, given, fixed[points], z)
    there = np.flatnonzero(np.isfinite(found.T + found.P))
    slopes, moved = np.zeros((len(points), len(shifts))), np.zeros((len(points), len(shifts), len(system)))
    if shifts and there.size:
        kinds = (LIQUID, VAPOR) if kind == "bubble" else (VAPOR, LIQUID)
        phases = Phase(z[there], kinds[0]), Phase(found.incipient[there], kinds[1])
        by_log, moved[there] = of_saturation(system.phase_model, shifts, given, found.T[there], found.P[there], *phases)
        slopes[there] = by_log * getattr(found, unknown)[there, None]
    result = []
    seen = np.isfinite(sought[points])
    if seen.any():
        measured = sought[points]
        value = getattr(found, unknown)
        u = _uncertainty(data, unknown, points, measured)
        result.append(Predicted(unknown, points[seen], measured[seen], u[seen], value[seen], slopes[seen]))
    letter = "y" if kind == "bubble" else "x"
    for i in range(len(system) - 1):
        measured = other[points, i]
        # a component that is not there says nothing, nor does the only one
        seen = np.isfinite(measured) & (z[:, i] > 0.0) & (z[:, i] < 1.0)
        if seen.any():
            u = _uncertainty(data, "y", points, measured)
            name = f"{letter} {system.names[i]}"
            result.append(Predicted(name, points[seen], measured[seen], u[seen], found.incipient[seen, i], moved[seen][:, :, i]))
    return result


def _order(system: Mixture, data: DataSet) -> list[int]:
    """Where the system's components stand in the data.

    Raises
    ------
    InputError
        If they are not the same.
    """
    if set(data.names) != set(system.names):
        raise InputError(f"{data.source} is of {', '.join(data.names)}; the system has {', '.join(system.names)}.")
    return [data.names.index(name) for name in system.names]


def _uncertainty(data: DataSet, quantity: str, points: NDArray[np.intp], measured: Array) -> Array:
    known = data.uncertainty.get(quantity)
    if known is not None:
        return known[points]
    return np.abs(measured) * DEFAULTS["P"] if quantity == "P" else np.full(len(points), DEFAULTS[quantity])
