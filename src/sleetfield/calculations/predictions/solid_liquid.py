"""Liquids saturated with a solid: how much of it they hold at given temperature; or, where temperatures are what is uncertain, where they are saturated."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ...core.equilibrium.solid_saturation import dissolved_at, imbalance, temperature_at
from ...data_sets import DataSet
from ...mixture import Mixture
from .contract import Predicted, Shifted, by_differences, liquid_pressure, predicted, used_points

Array = NDArray[np.float64]


def solid_liquid(system: Mixture, data: DataSet, shifts: Sequence[Shifted]) -> list[Predicted]:
    """Mole fractions of the solid's component, or temperatures where the data have an uncertainty of T and none of x."""
    points = used_points(data, "T", "x")
    i = data.names.index(data.solid)
    T, x = data["T"][points], np.clip(data["x"][points], 1e-15, 1.0)
    P = liquid_pressure(system, T, data["P"][points])
    by_temperature = "T" in data.uncertainty and "x" not in data.uncertainty
    found = temperature_at(system.phase_model, i, P, x, T) if by_temperature else dissolved_at(system.phase_model, i, T, P, x)
    at = np.where(np.isfinite(found.T), found.T, T)

    def off(m: Mixture) -> Array:
        return imbalance(m.phase_model, i, at, P, found.x)

    slopes = -by_differences(system, shifts, off) / found.slope[:, None]
    if by_temperature:
        return predicted(data, "T", points, T, found.T, slopes)
    value = found.x[:, i]
    # at and above the melting point everything dissolves, whatever the parameters
    moved = np.where((value < 1.0 - 1e-9)[:, None], value[:, None] * slopes, 0.0)
    return predicted(data, f"x {data.solid}", points, data["x"][points, i], value, moved)
