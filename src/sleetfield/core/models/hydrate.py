"""Gas hydrates: water's lattice with guests in its cages (van der Waals and Platteeuw, Adv. Chem. Phys. 2 (1959) 1-57).

    ln f_w(hydrate) = ln f_w(empty lattice) - Σₘ νₘ ln(1 + Σᵢ Cₘᵢ fᵢ),    θₘᵢ = Cₘᵢ fᵢ / (1 + Σⱼ Cₘⱼ fⱼ)
    Cₘᵢ = Aₘᵢ/T exp(Bₘᵢ/T)
    ln f_w(empty lattice) = ln f_w(pure liquid) + Δμ/(RT) + Δv P/(RT)
    Δμ/(RT) = Δμ₀/(RT₀) - ∫ (Δh₀ + Δc (T - T₀))/(RT²) dT from T₀ to T

νₘ is the number of cages of a kind for each molecule of water, θ the share of them that a guest fills, C the constants of Langmuir in the form of Parrish and
Prausnitz (Ind. Eng. Chem. Process Des. Dev. 11 (1972) 26-35); Δμ₀, Δh₀ and Δv = v_lattice - v_liquid are what the empty lattice has more than liquid water at T₀ = 273.15 K.
The pure liquid is that of the model of fluids.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..arrays import Array
from ..constants import R
from .contract import LIQUID, PhaseModel
from .crystal import Crystal, ln_f_alone
from .pure_solid import PureSolid

_T0 = 273.15
_HIGHEST = 340.0
"""K; beyond all hydrates that are known of these guests."""


@dataclass(frozen=True, eq=False)
class Hydrate(Crystal):
    """One structure of hydrate.

    Attributes
    ----------
    water : int
        The position of water.
    cages : (M,)
        Cages of each kind for each molecule of water.
    potential, enthalpy, heat_capacity, volume : float
        What the empty lattice has more than liquid water at 273.15 K: J/mol, J/mol, J/(mol K), m3/mol.
    A, B : (M, C)
        Constants of Langmuir, K/Pa and K; A is 0 where a component does not fit in.
    ice : PureSolid, optional
        Ice, which holds water back where it is more stable than what the fluids make of it.
    """

    water: int
    cages: Array
    potential: float
    enthalpy: float
    heat_capacity: float
    volume: float
    A: Array
    B: Array
    ice: PureSolid | None = None

    @property
    def highest_T(self) -> float:
        return _HIGHEST

    def langmuir(self, T: Array) -> Array:
        """C ``(N, M, C)``, 1/Pa."""
        t = T[:, None, None]
        return np.asarray(self.A / t * np.exp(self.B / t))

    def occupancy(self, T: Array, ln_f: Array) -> Array:
        """θ ``(N, M, C)``: the share of each kind of cage that each guest fills."""
        Cf = self._driven_in(T, ln_f)
        return np.asarray(Cf / (1.0 + Cf.sum(axis=2, keepdims=True)))

    def _driven_in(self, T: Array, ln_f: Array) -> Array:
        """C f ``(N, M, C)``."""
        return np.asarray(self.langmuir(T) * np.exp(ln_f)[:, None, :])

    def composition(self, T: Array, ln_f: Array) -> Array:
        """Mole fractions ``(N, C)`` of a hydrate in equilibrium with fluids."""
        n = np.einsum("m,nmc->nc", self.cages, self.occupancy(T, ln_f))
        n[:, self.water] = 1.0
        return np.asarray(n / n.sum(axis=1, keepdims=True))

    def over_liquid(self, T: Array, P: Array) -> Array:
        """ln(f of the empty lattice's water / f of pure liquid water) ``(N,)`` at the same pressure."""
        h0 = self.enthalpy - self.heat_capacity * _T0
        integral = h0 * (1.0 / _T0 - 1.0 / T) + self.heat_capacity * np.log(T / _T0)
        return np.asarray(self.potential / (R * _T0) - integral / R + self.volume * P / (R * T))

    def supersaturation(self, fluid: PhaseModel, T: Array, P: Array, ln_f: Array) -> Array:
        liquid = ln_f_alone(fluid, self.water, T, P, LIQUID)
        of_water = ln_f[:, self.water]
        if self.ice is not None:
            of_water = np.minimum(of_water, self.ice.at(fluid, T, P).ln_phi + np.log(P))
        held = (self.cages * np.log1p(self._driven_in(T, ln_f).sum(axis=2))).sum(axis=1)
        return np.asarray(of_water - liquid - self.over_liquid(T, P) + held)
