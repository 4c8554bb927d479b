"""Enthalpy, entropy, heat capacity and volume of phases, all from the one phase model.

    Hᴿ = -RT² Σ xᵢ ∂ln φᵢ/∂T,   Gᴿ = RT Σ xᵢ ln φᵢ,   Sᴿ = (Hᴿ - Gᴿ)/T,   Cpᴿ = -R(2T g' + T² g'') with g = Σ xᵢ ln φᵢ

on top of ideal-gas values that are zero at 298.15 K and 1 bar for each pure component.
"""

from __future__ import annotations

import functools
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

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


class IdealGases:
    """Enthalpy, entropy at 1 bar and heat capacity of each pure ideal gas at ``T (N,)``, each when it is first asked for, ``(N, C)``.

    Zero where a component is absent from ``x (N, C)`` and its heat capacity is missing, NaN where it is there.
    """

    def __init__(self, heat_capacities: HeatCapacities, T: Array, x: Array) -> None:
        self._all, self._T, self._x = together(tuple(heat_capacities), T_REFERENCE), T, x

    @cached_property
    def _integrals(self) -> tuple[Array, Array]:
        h, s = self._all.integrals(self._T)
        return self._known(h), self._known(s)

    def _known(self, values: Array) -> Array:
        for i in self._all.missing:
            values[:, i] = np.where(self._x[:, i] > ABSENT, np.nan, 0.0)
        return values

    @property
    def h(self) -> Array:
        """J/mol."""
        return self._integrals[0]

    @property
    def s(self) -> Array:
        """J/(mol K)."""
        return self._integrals[1]

    @cached_property
    def cp(self) -> Array:
        """J/(mol K)."""
        return self._known(self._all.values(self._T))


@dataclass(frozen=True)
class PhaseProperties:
    """Molar properties of ``N`` phases: J/mol, J/(mol K), m3/mol; NaN where a heat capacity is missing.

    Residual ones are those against the ideal gas at the same T and P; ``V_T`` and ``V_P`` are the derivatives of the volume at constant
    pressure and at constant temperature, ``ln_phi_T`` and ``ln_phi_P`` those of ln φ.
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
    ln_phi_T: Array
    ln_phi_P: Array


def phase_properties(
    model: PhaseModel, heat_capacities: HeatCapacities, T: Array, P: Array, x: Array, kinds: Kinds
) -> PhaseProperties:
    """Properties of phases ``x (N, C)`` of the given kinds at ``T``, ``P`` ``(N,)``."""
    return in_blocks(functools.partial(_block, model, heat_capacities), (T, P, x, kinds), _BLOCK)


def _block(model: PhaseModel, heat_capacities: HeatCapacities, T: Array, P: Array, x: Array, kinds: Kinds) -> PhaseProperties:
    with np.errstate(all="ignore"):
        e = model.at(T, P).evaluate(np.maximum(x, ABSENT), kinds)
        return properties_of(e, IdealGases(heat_capacities, T, x), T, P, x)


def properties_of(e: Evaluation, ideal: IdealGases, T: Array, P: Array, x: Array) -> PhaseProperties:
    """Properties of phases ``x (N, C)`` for which the model has been evaluated, on top of those of ideal gases."""
    g, g_T = (x * e.ln_phi).sum(axis=-1), (x * e.dT).sum(axis=-1)
    H_residual = -R * T**2 * g_T
    S_residual = H_residual / T - R * g
    H = (x * ideal.h).sum(axis=-1) + H_residual
    S = (x * (ideal.s - R * np.log(np.maximum(x, ABSENT)))).sum(axis=-1) - R * np.log(P / P_REFERENCE) + S_residual
    Cp = (x * ideal.cp).sum(axis=-1) - R * (2.0 * T * g_T + T**2 * e.g_TT)
    V_T, V_P = R / P * (e.Z + T * e.Z_T), R * T / P * (e.Z_P - e.Z / P)
    # of a liquid whose volume does not depend on pressure only rounding is left
    V_P = np.where(np.abs(V_P) * P < _INCOMPRESSIBLE * np.abs(e.Z) * R * T / P, 0.0, V_P)
    return PhaseProperties(e.ln_phi, e.Z, e.Z * R * T / P, H, S, Cp, H_residual, S_residual, V_T, V_P, e.dT, e.dP)


def value_of(name: str, e: Evaluation, ideal: IdealGases, T: Array, P: Array, x: Array) -> Array:
    """V, H, S or U of phases alone ``(N,)``, as `properties_of` has it."""
    V = e.Z * R * T / P
    if name == "V":
        return V
    H_residual = -R * T**2 * (x * e.dT).sum(axis=-1)
    if name == "S":
        mixing = (x * (ideal.s - R * np.log(np.maximum(x, ABSENT)) - R * e.ln_phi)).sum(axis=-1)
        return np.asarray(mixing - R * np.log(P / P_REFERENCE) + H_residual / T)
    H = (x * ideal.h).sum(axis=-1) + H_residual
    return np.asarray(H if name == "H" else H - P * V)
