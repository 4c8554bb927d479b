"""A pure solid, by its heat of fusion: its fugacity beside that of the subcooled liquid.

    ln fˢ = ln fˡ(T, P₀) - A(T) + vˢ(P - P₀)/RT
    A = (ΔH/R)(1/T - 1/Tₘ) + (ΔC/R)(1 - Tₘ/T - ln(T/Tₘ)) + Σ (ΔHₜ/R)(1/T - 1/Tₜ) over transitions Tₜ > T

ΔH is the heat of fusion at the melting point Tₘ, ΔC the heat capacity of the liquid less that of the solid, ΔHₜ the heat of a transition between two forms of
the solid (Prausnitz, Lichtenthaler and de Azevedo, Molecular Thermodynamics of Fluid-Phase Equilibria, 3rd ed. (1999), ch. 11). Enthalpy, entropy and volume follow: at the melting point
the liquid's enthalpy is above the solid's by exactly ΔH.
"""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import dataclass, replace
from typing import NamedTuple, Self

import numpy as np

from ..arrays import Array
from ..constants import ATMOSPHERE, R
from .contract import LIQUID, PhaseModel
from .crystal import COMPRESSED, Crystal

P_MELTING = ATMOSPHERE
"""P₀: what melting points are for, and where the subcooled liquid is looked at."""


class SolidStates(NamedTuple):
    """A pure solid at ``N`` states: ln φ of its component, derivatives by T and P, ∂²ln φ/∂T², and PV/RT."""

    ln_phi: Array
    dT: Array
    dP: Array
    g_TT: Array
    Z: Array


_NONE = 1e3
"""ln φ of a solid where there is no liquid to melt to, far above the melting point."""


@dataclass(frozen=True)
class Solid(Crystal):
    """The pure solid of one component; whoever adds a kind of solid derives a frozen dataclass from this.

    Attributes
    ----------
    component : int
        Its position.
    """

    component: int

    @abstractmethod
    def at(self, fluid: PhaseModel, T: Array, P: Array) -> SolidStates:
        """At ``T``, ``P (N,)`` beside a model of fluids, whose pure liquid or ideal gas its fugacity may rest on."""

    def of(self, component: int) -> Self:
        """The same where its component has another position."""
        return replace(self, component=component)

    def supersaturation(self, fluid: PhaseModel, T: Array, P: Array, ln_f: Array) -> Array:
        return np.asarray(ln_f[:, self.component] - np.log(P) - self.at(fluid, T, P).ln_phi)

    def composition(self, T: Array, ln_f: Array) -> Array:
        return np.asarray(np.eye(ln_f.shape[1])[np.full(len(T), self.component)])


@dataclass(frozen=True)
class PureSolid(Solid):
    """The solid of one component, by its heat of fusion.

    Attributes
    ----------
    melting_T : float
        K.
    heat_of_fusion : float
        J/mol.
    volume : float
        m3/mol.
    heat_capacity_step : float
        Heat capacity of the liquid less that of the solid, J/(mol K).
    transitions : tuple of (float, float)
        Temperatures, K, of transitions to other forms below the melting point, and their heats, J/mol.
    """

    melting_T: float
    heat_of_fusion: float
    volume: float
    heat_capacity_step: float = 0.0
    transitions: tuple[tuple[float, float], ...] = ()

    @property
    def highest_T(self) -> float:
        return COMPRESSED * self.melting_T

    def below_liquid(self, T: Array) -> tuple[Array, Array, Array]:
        """A and its first two derivatives by temperature ``(N,)``."""
        Tm, H, C = self.melting_T, self.heat_of_fusion / R, self.heat_capacity_step / R
        value = H * (1.0 / T - 1.0 / Tm) + C * (1.0 - Tm / T - np.log(T / Tm))
        slope = -H / T**2 + C * (Tm / T - 1.0) / T
        curvature = 2.0 * H / T**3 + C * (1.0 - 2.0 * Tm / T) / T**2
        for T_t, heat in self.transitions:
            own = np.where(T < T_t, heat / R, 0.0)
            value, slope, curvature = value + own * (1.0 / T - 1.0 / T_t), slope - own / T**2, curvature + 2.0 * own / T**3
        return value, slope, curvature

    def at(self, fluid: PhaseModel, T: Array, P: Array) -> SolidStates:
        pure, x = fluid.select([self.component]).at(T, np.full(len(T), P_MELTING)), np.ones((len(T), 1))
        liquid = pure.evaluate(x, LIQUID)
        A, A_T, A_TT = self.below_liquid(T)
        expansion = self.volume / (R * T)
        ln_phi = liquid.ln_phi[:, 0] + np.log(P_MELTING / P) - A + expansion * (P - P_MELTING)
        # above the melting point and the stability of its liquid at that pressure, nothing is known of it, and it is not there
        boiled = (T > self.melting_T) & (pure.describe(x, LIQUID).kinds != LIQUID)
        return SolidStates(
            np.where(boiled, _NONE, ln_phi),
            liquid.dT[:, 0] - A_T - expansion * (P - P_MELTING) / T,
            expansion - 1.0 / P,
            liquid.g_TT - A_TT + 2.0 * expansion * (P - P_MELTING) / T**2,
            P * expansion,
        )
