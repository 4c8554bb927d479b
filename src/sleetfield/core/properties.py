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
from .models.contract import PhaseModel

_BLOCK = 4096


@dataclass(frozen=True)
class PhaseProperties:
    """Molar properties of ``N`` phases: J/mol, J/(mol K), m3/mol; NaN where a heat capacity is missing.

    Residual ones are those against the ideal gas at the same T and P.
    """

    ln_phi: Array
    Z: Array
    V: Array
    H: Array
    S: Array
    Cp: Array
    H_residual: Array
    S_residual: Array


def phase_properties(
    model: PhaseModel, heat_capacities: Sequence[HeatCapacity | None], T: Array, P: Array, x: Array, kinds: Kinds
) -> PhaseProperties:
    """Properties of phases ``x (N, C)`` of the given kinds at ``T``, ``P`` ``(N,)``."""
    return in_blocks(functools.partial(_block, model, heat_capacities), (T, P, x, kinds), _BLOCK)


def _block(
    model: PhaseModel, heat_capacities: Sequence[HeatCapacity | None], T: Array, P: Array, x: Array, kinds: Kinds
) -> PhaseProperties:
    with np.errstate(all="ignore"):
        e = model.at(T, P).evaluate(np.maximum(x, ABSENT), kinds)
        H_ideal, S_ideal, Cp_ideal = _ideal_gas(heat_capacities, T, P, x)
        g, g_T = (x * e.ln_phi).sum(axis=-1), (x * e.dT).sum(axis=-1)
        H_residual = -R * T**2 * g_T
        S_residual = H_residual / T - R * g
        Cp_residual = -R * (2.0 * T * g_T + T**2 * e.g_TT)
        V = e.Z * R * T / P
    whole = H_ideal + H_residual, S_ideal + S_residual, Cp_ideal + Cp_residual
    return PhaseProperties(e.ln_phi, e.Z, V, *whole, H_residual, S_residual)


def _ideal_gas(heat_capacities: Sequence[HeatCapacity | None], T: Array, P: Array, x: Array) -> tuple[Array, Array, Array]:
    H, Cp = np.zeros(len(T)), np.zeros(len(T))
    S = -R * (np.log(P / P_REFERENCE) + (x * np.log(np.maximum(x, ABSENT))).sum(axis=-1))
    for i, correlation in enumerate(heat_capacities):
        share = x[:, i]
        if not (share > 0.0).any():
            continue
        if correlation is None:
            missing = np.where(share > 0.0, np.nan, 0.0)
            H, S, Cp = H + missing, S + missing, Cp + missing
            continue
        energy, entropy = correlation.integrals(T, T_REFERENCE)
        H = H + share * energy
        S = S + share * entropy
        Cp = Cp + share * correlation.value(T)
    return H, S, Cp
