"""What each component has in a phase: partial molar properties, and activities against the pure liquids at the same temperature and pressure.

    V̄ᵢ = RT(1/P + ∂ln φᵢ/∂P),   H̄ᵢ = hᵢ - RT² ∂ln φᵢ/∂T,   S̄ᵢ = sᵢ - R ln(P/P₀) - R ln xᵢ - R ln φᵢ - RT ∂ln φᵢ/∂T
    ln γᵢ = ln φᵢ(x) - ln φᵢ(pure liquid),   aᵢ = xᵢ γᵢ

The mean of the former by mole fractions is the phase's own volume, enthalpy and entropy.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from .arrays import ABSENT, Array
from .constants import P_REFERENCE, R
from .models.contract import LIQUID, PhaseModel
from .properties import HeatCapacities, IdealGases, PhaseProperties


class Partials(NamedTuple):
    """M3/mol, J/mol and J/(mol K) ``(N, C)``."""

    V: Array
    H: Array
    S: Array


def partials(p: PhaseProperties, heat_capacities: HeatCapacities, T: Array, P: Array, x: Array) -> Partials:
    """Of phases ``x (N, C)`` with properties ``p`` at ``T`` and ``P (N,)``; NaN where a component is absent."""
    ideal, T, P = IdealGases(heat_capacities, T, x), T[:, None], P[:, None]
    there = np.where(x > ABSENT, 1.0, np.nan)
    with np.errstate(all="ignore"):
        entropy = ideal.s - R * (np.log(P / P_REFERENCE) + np.log(np.maximum(x, ABSENT)) + p.ln_phi + T * p.ln_phi_T)
        return Partials(there * R * T * (1.0 / P + p.ln_phi_P), there * (ideal.h - R * T**2 * p.ln_phi_T), there * entropy)


def ln_gamma(model: PhaseModel, T: Array, P: Array, ln_phi: Array) -> Array:
    """Logarithms of activity coefficients ``(N, C)`` of liquids with ``ln_phi (N, C)``; NaN of components that are no liquid at ``T`` and ``P (N,)``."""
    n, c = ln_phi.shape
    found = np.full((n, c), np.nan)
    bound = model.at(T, P)
    with np.errstate(all="ignore"):
        for i in range(c):
            pure = np.full((n, c), ABSENT)
            pure[:, i] = 1.0
            liquid = bound.describe(pure, LIQUID).kinds == LIQUID
            found[:, i] = np.where(liquid, ln_phi[:, i] - bound.ln_phi(pure, LIQUID)[:, i], np.nan)
    return found
