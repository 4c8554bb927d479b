"""What a model says of measured points, and how that moves with its parameters: one batch for a data set."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..core.equilibrium.parameter_derivatives import Phase, Shift, of_saturation, unequal_fugacities
from ..core.equilibrium.saturation import SaturationResult
from ..core.models.contract import LIQUID, VAPOR
from ..data_sets import DataSet
from ..errors import InputError
from ..mixture import Mixture
from .saturation import saturate

Array = NDArray[np.float64]

DEFAULTS = {"T": 0.05, "P": 0.005, "y": 0.005}
"""Standard uncertainties where a data set has none: K; of the pressure; by mole."""

_EQUAL = 1e-5
"""How much ln f may differ between the phases of a saturation point."""


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
    points: NDArray[np.intp]
    measured: Array
    uncertainty: Array
    value: Array
    slopes: Array


def predict(system: Mixture, data: DataSet, shifts: Sequence[Shifted] = ()) -> list[Predicted]:
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
    slopes, moved = _slopes(system, kind, given, z, found, shifts)
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


def _slopes(
    system: Mixture, kind: str, given: str, z: Array, found: SaturationResult, shifts: Sequence[Shifted]
) -> tuple[Array, Array]:
    """Derivatives of the unknown ``(N, K)`` and of the incipient phase ``(N, K, C)`` by parameters; zero where there is no point.

    Feeds that are two liquids at their bubble point don't obey the equations of one, and are solved again to either side.
    """
    unknown = "P" if given == "T" else "T"
    slopes, moved = np.zeros((len(z), len(shifts))), np.zeros((len(z), len(shifts), len(system)))
    there = np.flatnonzero(np.isfinite(found.T) & np.isfinite(found.P))
    if not shifts or not there.size:
        return slopes, moved
    kinds = (LIQUID, VAPOR) if kind == "bubble" else (VAPOR, LIQUID)
    phases = Phase(z[there], kinds[0]), Phase(found.incipient[there], kinds[1])
    T, P, model = found.T[there], found.P[there], system.phase_model
    models = [Shift(s.below.phase_model, s.above.phase_model, s.step) for s in shifts]
    by_log, moved[there] = of_saturation(model, models, given, T, P, *phases)
    slopes[there] = by_log * getattr(found, unknown)[there, None]
    split = there[unequal_fugacities(model, T, P, *phases) > _EQUAL]
    for k, s in enumerate(shifts if split.size else ()):
        values = getattr(found, given)[split]
        below, above = (saturate(one, kind, given, values, z[split]) for one in (s.below, s.above))
        slopes[split, k] = (getattr(above, unknown) - getattr(below, unknown)) / (2.0 * s.step)
        moved[split, k] = (above.incipient - below.incipient) / (2.0 * s.step)
    return slopes, moved


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
