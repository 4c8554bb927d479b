"""The activity of water in a solution of one salt, by Pitzer's equation (J. Phys. Chem. 77 (1973) 268-277; Pitzer and Mayorga, ibid. 2300-2308).

    ln a_w = -M_w ν m φ
    φ - 1 = |z₊z₋| f + m (2ν₊ν₋/ν) B + m² (2(ν₊ν₋)^1.5/ν) C,    f = -A √I/(1 + 1.2 √I),    B = β₀ + β₁ exp(-2 √I)

m is the molality, I the ionic strength, A Debye and Hückel's constant of osmotic coefficients at 25 °C, where the parameters are from: at 0 °C what is held back differs by some percent.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..arrays import Array
from .contract import LIQUID, PhaseModel
from .crystal import Crystal, ln_f_alone

_A = 0.3915
_M_WATER = 0.0180153
_B, _ALPHA = 1.2, 2.0


@dataclass(frozen=True)
class Salt:
    """Ions of a formula unit, their charges, and Pitzer's parameters, kg/mol and (kg/mol)²."""

    cations: int
    anions: int
    z_cation: int
    z_anion: int
    beta0: float
    beta1: float
    C: float

    def osmotic_coefficient(self, m: float) -> float:
        """φ at a molality, mol/kg."""
        nu = self.cations + self.anions
        both = self.cations * self.anions
        root = np.sqrt(0.5 * m * (self.cations * self.z_cation**2 + self.anions * self.z_anion**2))
        f = -_A * root / (1.0 + _B * root)
        B = self.beta0 + self.beta1 * np.exp(-_ALPHA * root)
        return float(1.0 + abs(self.z_cation * self.z_anion) * f + m * 2.0 * both / nu * B + m**2 * 2.0 * both**1.5 / nu * self.C)

    def ln_water_activity(self, m: float) -> float:
        """ln a_w at a molality, mol/kg."""
        return -_M_WATER * (self.cations + self.anions) * m * self.osmotic_coefficient(m)


@dataclass(frozen=True, eq=False)
class BesideBrine(Crystal):
    """A crystal beside a solution that holds water back: water's fugacity is at most that over the solution.

    Attributes
    ----------
    crystal : Crystal
    water : int
        The position of water.
    ln_activity : float
        Of water in the solution.
    """

    crystal: Crystal
    water: int
    ln_activity: float

    @property
    def highest_T(self) -> float:
        return self.crystal.highest_T

    def _held_back(self, fluid: PhaseModel, T: Array, P: Array, ln_f: Array) -> Array:
        pure = ln_f_alone(fluid, self.water, T, P, LIQUID)
        held = ln_f.copy()
        held[:, self.water] = np.minimum(held[:, self.water], pure + self.ln_activity)
        return held

    def supersaturation(self, fluid: PhaseModel, T: Array, P: Array, ln_f: Array) -> Array:
        return self.crystal.supersaturation(fluid, T, P, self._held_back(fluid, T, P, ln_f))

    def composition(self, T: Array, ln_f: Array) -> Array:
        return self.crystal.composition(T, ln_f)
