"""What each component has in a phase: partial molar properties, and activities against the pure liquids at the same temperature and pressure.

    V̄ᵢ = RT(1/P + ∂ln φᵢ/∂P),   H̄ᵢ = hᵢ - RT² ∂ln φᵢ/∂T,   S̄ᵢ = sᵢ - R ln(P/P₀) - R ln xᵢ - R ln φᵢ - RT ∂ln φᵢ/∂T
    ln γᵢ = ln φᵢ(x) - ln φᵢ(pure liquid),   aᵢ = xᵢ γᵢ

The mean of the former by mole fractions is the phase's own volume, enthalpy and entropy. Of a liquid on whose fugacities pressure has no effect, the volumes are those of the
pure liquids, which its own is added up from.
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


def partials(model: PhaseModel, heat_capacities: HeatCapacities, T: Array, P: Array, x: Array, p: PhaseProperties) -> Partials:
    """Of phases ``x (N, C)`` with properties ``p`` at ``T`` and ``P (N,)``; NaN where a component is absent."""
    ideal, T_, P_ = IdealGases(heat_capacities, T, x), T[:, None], P[:, None]
    there = np.where(x > ABSENT, 1.0, np.nan)
    with np.errstate(all="ignore"):
        entropy = ideal.s - R * (np.log(P_ / P_REFERENCE) + np.log(np.maximum(x, ABSENT)) + p.ln_phi + T_ * p.ln_phi_T)
        volume = R * T_ * (1.0 / P_ + p.ln_phi_P)
        unfelt = np.abs(volume).max(axis=1) < _UNFELT * R * T / P
        if unfelt.any():
            volume[unfelt] = _pure_liquids(model, T[unfelt], P[unfelt], x.shape[1]).volumes
        return Partials(there * volume, there * (ideal.h - R * T_**2 * p.ln_phi_T), there * entropy)


_UNFELT = 1e-12
"""Of an ideal gas's volume: less is rounding."""


def ln_gamma(model: PhaseModel, T: Array, P: Array, ln_phi: Array) -> Array:
    """Logarithms of activity coefficients ``(N, C)`` of liquids with ``ln_phi (N, C)``; NaN of components that are no liquid at ``T`` and ``P (N,)``."""
    with np.errstate(all="ignore"):
        return ln_phi - _pure_liquids(model, T, P, ln_phi.shape[1]).ln_phi


class _PureLiquids(NamedTuple):
    """Ln φ and m3/mol of each pure component as a liquid ``(N, C)``; NaN of those that are none."""

    ln_phi: Array
    volumes: Array


def _pure_liquids(model: PhaseModel, T: Array, P: Array, c: int) -> _PureLiquids:
    found, bound = _PureLiquids(np.full((len(T), c), np.nan), np.full((len(T), c), np.nan)), model.at(T, P)
    for i in range(c):
        pure = np.full((len(T), c), ABSENT)
        pure[:, i] = 1.0
        described = bound.describe(pure, LIQUID)
        liquid = described.kinds == LIQUID
        found.ln_phi[:, i] = np.where(liquid, bound.ln_phi(pure, LIQUID)[:, i], np.nan)
        found.volumes[:, i] = np.where(liquid, described.Z * R * T / P, np.nan)
    return found
