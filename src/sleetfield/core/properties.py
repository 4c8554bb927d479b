"""Enthalpy, entropy, heat capacity and volume of phases, all from the one phase model.

    Hᴿ = -RT² Σ xᵢ ∂ln φᵢ/∂T,   Gᴿ = RT Σ xᵢ ln φᵢ,   Sᴿ = (Hᴿ - Gᴿ)/T,   Cpᴿ = -R(2T g' + T² g'') with g = Σ xᵢ ln φᵢ

on top of ideal-gas values that are zero at 298.15 K and 1 bar for each pure component.
"""

from __future__ import annotations

import functools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from .arrays import ABSENT, Array, Kinds
from .blocks import in_blocks
from .constants import P_REFERENCE, T_REFERENCE, R
from .correlations import HeatCapacity
from .correlations.together import together
from .models.contract import Evaluation, PhaseModel

_BLOCK = 4096
_INCOMPRESSIBLE = 1e-13
"""Relative change of volume with ln P that is none."""

HeatCapacities = Sequence[HeatCapacity | None]
IdealGases = tuple[Array, Array, Array]
"""Enthalpy, entropy and heat capacity of pure ideal gases, see `ideal_gas`."""


@dataclass(frozen=True)
class PhaseProperties:
    """Molar properties of ``N`` phases: J/mol, J/(mol K), m3/mol; NaN where a heat capacity is missing.

    Residual ones are those against the ideal gas at the same T and P; ``V_T`` and ``V_P`` are the derivatives of the volume at constant
    pressure and at constant temperature.
    """

    ln_phi: Array
    Z: Array
    V: Array
    H: Array
    S: Array
    Cp: Array
    H_residual: Array
    S_residual: Array
    V_T: Array
    V_P: Array


def phase_properties(
    model: PhaseModel, heat_capacities: HeatCapacities, T: Array, P: Array, x: Array, kinds: Kinds
) -> PhaseProperties:
    """Properties of phases ``x (N, C)`` of the given kinds at ``T``, ``P`` ``(N,)``."""
    return in_blocks(functools.partial(_block, model, heat_capacities), (T, P, x, kinds), _BLOCK)


def _block(model: PhaseModel, heat_capacities: HeatCapacities, T: Array, P: Array, x: Array, kinds: Kinds) -> PhaseProperties:
    with np.errstate(all="ignore"):
        e = model.at(T, P).evaluate(np.maximum(x, ABSENT), kinds)
        return properties_of(e, ideal_gas(heat_capacities, T, x), T, P, x)


def properties_of(e: Evaluation, ideal: IdealGases, T: Array, P: Array, x: Array) -> PhaseProperties:
    """Properties of phases ``x (N, C)`` for which the model has been evaluated, on top of those of ideal gases."""
    h, s, cp = ideal
    g, g_T = (x * e.ln_phi).sum(axis=-1), (x * e.dT).sum(axis=-1)
    H_residual = -R * T**2 * g_T
    S_residual = H_residual / T - R * g
    H = (x * h).sum(axis=-1) + H_residual
    S = (x * (s - R * np.log(np.maximum(x, ABSENT)))).sum(axis=-1) - R * np.log(P / P_REFERENCE) + S_residual
    Cp = (x * cp).sum(axis=-1) - R * (2.0 * T * g_T + T**2 * e.g_TT)
    V_T, V_P = R / P * (e.Z + T * e.Z_T), R * T / P * (e.Z_P - e.Z / P)
    # of a liquid whose volume does not depend on pressure only rounding is left
    V_P = np.where(np.abs(V_P) * P < _INCOMPRESSIBLE * np.abs(e.Z) * R * T / P, 0.0, V_P)
    return PhaseProperties(e.ln_phi, e.Z, e.Z * R * T / P, H, S, Cp, H_residual, S_residual, V_T, V_P)


def ideal_gas(heat_capacities: HeatCapacities, T: Array, x: Array) -> IdealGases:
    """Enthalpy, entropy at 1 bar and heat capacity of each pure ideal gas ``(N, C)``; zero where a component is absent, NaN where it is
    there and its heat capacity is missing.
    """
    all_of_them = together(tuple(heat_capacities), T_REFERENCE)
    h, s, cp = all_of_them.at(T)
    for i in all_of_them.missing:
        h[:, i] = s[:, i] = cp[:, i] = np.where(x[:, i] > ABSENT, np.nan, 0.0)
    return h, s, cp
