"""Quantities that a liquid has without any equilibrium being solved: activity coefficients at infinite dilution, Henry's constants, excess enthalpies, densities."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from ...core.arrays import ABSENT, component_major
from ...core.constants import R
from ...core.models.contract import LIQUID
from ...data_sets import DataSet
from ...errors import InputError
from ...mixture import Mixture
from .contract import Points, Predicted, Shifted, by_differences, liquid_pressure, predicted, used_points

Array = NDArray[np.float64]


def infinite_dilution(system: Mixture, data: DataSet, shifts: Sequence[Shifted]) -> list[Predicted]:
    """γ∞ of each component in the other."""
    return _of_traces(
        system, data, shifts, "gamma_inf", lambda m, T, P, i: np.exp(_ln_phi_trace(m, T, P, i) - _ln_phi_pure(m, T, P, i))
    )


def henry(system: Mixture, data: DataSet, shifts: Sequence[Shifted]) -> list[Predicted]:
    """Henry's constant f/x of each component in the other."""
    return _of_traces(system, data, shifts, "Henry", lambda m, T, P, i: P * np.exp(_ln_phi_trace(m, T, P, i)))


def _of_traces(
    system: Mixture,
    data: DataSet,
    shifts: Sequence[Shifted],
    quantity: str,
    value: Callable[[Mixture, Array, Array, int], Array],
) -> list[Predicted]:
    if len(system) != 2:
        raise InputError(f"{data.source}: {quantity} is of a component in one other; the set has {len(system)} components.")
    found: list[Predicted] = []
    for i, name in enumerate(system.names):
        points = np.flatnonzero(data.used & np.isfinite(data["T"]) & np.isfinite(data[quantity][:, i]))
        if not points.size:
            continue
        T, P = data["T"][points], _pressures(system, data, points)

        def of(m: Mixture, T: Array = T, P: Array = P, i: int = i) -> Array:
            return value(m, T, P, i)

        slopes = by_differences(system, shifts, of)
        found += predicted(data, f"{quantity} {name}", points, data[quantity][points, i], of(system), slopes)
    if not found:
        raise InputError(f"{data.source} has no point with T and {quantity} that is not left out.")
    return found


def excess_enthalpy(system: Mixture, data: DataSet, shifts: Sequence[Shifted]) -> list[Predicted]:
    """Hᴱ of the liquid: -RT² times what ∂ln φ/∂T of the mixture has over those of the pure liquids."""
    points = used_points(data, "T", "x", "HE")
    x, T, P = np.clip(data["x"][points], 0.0, 1.0), data["T"][points], _pressures(system, data, points)

    def of(m: Mixture) -> Array:
        bound = m.phase_model.at(T, P)
        mixed = (x * bound.evaluate(component_major(np.maximum(x, ABSENT)), LIQUID).dT).sum(axis=1)
        for i in range(len(m)):
            mixed = mixed - x[:, i] * bound.evaluate(_of_one(len(T), len(m), i), LIQUID).dT[:, i]
        return np.asarray(-R * T**2 * mixed)

    return predicted(data, "HE", points, data["HE"][points], of(system), by_differences(system, shifts, of))


def density(system: Mixture, data: DataSet, shifts: Sequence[Shifted]) -> list[Predicted]:
    """Mass density of the liquid."""
    points = used_points(data, "T", "density")
    x = np.clip(data["x"][points], 0.0, 1.0) if len(system) > 1 else np.ones((len(points), 1))
    if np.isnan(x).any():
        raise InputError(f"{data.source}: densities of mixtures need the composition x of every point.")
    T, P = data["T"][points], _pressures(system, data, points)
    mass = system.mean_molar_mass(x)

    def of(m: Mixture) -> Array:
        Z = m.phase_model.at(T, P).describe(component_major(np.maximum(x, ABSENT)), LIQUID).Z
        return np.asarray(mass * P / (Z * R * T))

    return predicted(data, "density", points, data["density"][points], of(system), by_differences(system, shifts, of))


def _pressures(system: Mixture, data: DataSet, points: Points) -> Array:
    return liquid_pressure(system, data["T"][points], data["P"][points])


def _ln_phi_trace(m: Mixture, T: Array, P: Array, i: int) -> Array:
    return np.asarray(m.phase_model.at(T, P).ln_phi(_of_one(len(T), 2, 1 - i), LIQUID)[:, i])


def _ln_phi_pure(m: Mixture, T: Array, P: Array, i: int) -> Array:
    return np.asarray(m.phase_model.at(T, P).ln_phi(_of_one(len(T), 2, i), LIQUID)[:, i])


def _of_one(count: int, components: int, i: int) -> Array:
    x = np.full((count, components), ABSENT)
    x[:, i] = 1.0
    return component_major(x)
