"""Vapor and liquid in equilibrium: pressures at given temperature, or temperatures at given pressure, and the composition of the other phase."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ...core.equilibrium.parameter_derivatives import Phase, Shift, of_saturation, of_split_saturation, unequal_fugacities
from ...core.equilibrium.saturation import Near
from ...core.models.contract import LIQUID, VAPOR
from ...core.restricted import restricted_flash
from ...data_sets import DataSet
from ...mixture import Mixture
from ..saturation import saturate
from .contract import Predicted, Shifted, predicted, used_points

Array = NDArray[np.float64]

_EQUAL = 1e-5
"""How much ln f may differ between the phases of a saturation point."""


class BoilingPoints:
    """Of liquids their bubble points; of vapors alone their dew points. An azeotrope is a liquid whose vapor is the same.

    Points are sought from where they were found the last time.
    """

    def __init__(self, data: DataSet) -> None:
        self.data = data
        self.kind = "bubble" if len(data.names) == 1 or np.isfinite(data["x"]).any() else "dew"
        self._near: Near | None = None

    def __call__(self, system: Mixture, shifts: Sequence[Shifted]) -> list[Predicted]:
        data, kind, given = self.data, self.kind, self.data.given
        feed, other = (data["x"], data["y"]) if kind == "bubble" else (data["y"], data["x"])
        if data.kind == "azeotrope":
            other = feed
        if len(system) == 1:
            feed = np.ones((len(data), 1))
        unknown = "P" if given == "T" else "T"
        points = used_points(data, given, *(["x" if kind == "bubble" else "y"] if len(system) > 1 else []))
        z = np.clip(feed[points], 0.0, 1.0)
        found = saturate(system, kind, given, data[given][points], z, self._near)
        sought = getattr(found, unknown)
        self._near = sought, found.incipient
        slopes, moved = slopes_of(system, kind, given, z, (found.T, found.P, found.incipient), shifts)
        result = predicted(data, unknown, points, data[unknown][points], sought, slopes)
        letter = "y" if kind == "bubble" else "x"
        for i in range(len(system) - 1):
            # a component that is not there says nothing, nor does the only one
            seen = np.flatnonzero((z[:, i] > 0.0) & (z[:, i] < 1.0))
            name = f"{letter} {system.names[i]}"
            result += predicted(data, name, points[seen], other[points[seen], i], found.incipient[seen, i], moved[seen][:, :, i])
        return result


def slopes_of(
    system: Mixture, kind: str, given: str, z: Array, found: tuple[Array, ...], shifts: Sequence[Shifted]
) -> tuple[Array, Array]:
    """Derivatives of the unknown ``(N, K)`` and of the incipient phase ``(N, K, C)`` by parameters; zero where there is no point.

    Feeds that are two liquids at their bubble point obey the equations of both.
    """
    T, P, incipient = found
    sought = P if given == "T" else T
    slopes, moved = np.zeros((len(z), len(shifts))), np.zeros((len(z), len(shifts), len(system)))
    there = np.flatnonzero(np.isfinite(T) & np.isfinite(P))
    if not shifts or not there.size:
        return slopes, moved
    kinds = (LIQUID, VAPOR) if kind == "bubble" else (VAPOR, LIQUID)
    phases = Phase(z[there], kinds[0]), Phase(incipient[there], kinds[1])
    model = system.phase_model
    models = [Shift(s.below.phase_model, s.above.phase_model, s.step) for s in shifts]
    by_log, moved[there] = of_saturation(model, models, given, T[there], P[there], *phases)
    slopes[there] = by_log * sought[there, None]
    split = there[unequal_fugacities(model, T[there], P[there], *phases) > _EQUAL]
    if split.size:
        slopes[split], moved[split] = _of_split(system, models, given, T[split], P[split], z[split], incipient[split])
    return slopes, moved


def _of_split(system: Mixture, models: Sequence[Shift], given: str, T: Array, P: Array, z: Array, y: Array) -> tuple[Array, Array]:
    """The same of feeds that boil as two liquids; zero where these are not found."""
    slopes, moved = np.zeros((len(z), len(models))), np.zeros((len(z), len(models), len(system)))
    found = restricted_flash(system.thermodynamics, T, P, z, "LL")
    two = np.flatnonzero(np.isfinite(found.amount).sum(axis=1) == 2)
    if two.size:
        liquids, amounts = found.x[two, :2], found.amount[two, :2]
        by_log, moved[two] = of_split_saturation(system.phase_model, models, given, T[two], P[two], y[two], liquids, amounts)
        slopes[two] = by_log * (P if given == "T" else T)[two, None]
    return slopes, moved
