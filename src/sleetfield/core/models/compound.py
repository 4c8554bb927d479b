"""A solid compound of fixed composition, by the heat with which it melts to a liquid of that composition.

    s = Σ νᵢ (ln fᵢ - ln fᵢ°) + (ΔH/R)(1/T - 1/Tₘ)

νᵢ are the parts of a formula unit, fᵢ° the fugacities in a liquid of the compound's composition at the same T and P, ΔH the heat of fusion of a formula unit and Tₘ the temperature at
which the compound melts to that liquid, or would if it did not part before (Prigogine and Defay, Chemical Thermodynamics (1954), ch. 23).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..arrays import ABSENT, Array, component_major
from ..constants import R
from .contract import LIQUID, PhaseModel
from .crystal import COMPRESSED, Crystal


@dataclass(frozen=True, eq=False)
class Compound(Crystal):
    """One compound.

    Attributes
    ----------
    parts : (C,)
        Of each component in a formula unit.
    melting_T : float
        K.
    heat_of_fusion : float
        J for each mole of formula units.
    """

    parts: Array
    melting_T: float
    heat_of_fusion: float

    @property
    def highest_T(self) -> float:
        return COMPRESSED * self.melting_T

    def supersaturation(self, fluid: PhaseModel, T: Array, P: Array, ln_f: Array) -> Array:
        x = np.maximum(self.composition(T, ln_f), ABSENT)
        own = np.log(x) + fluid.at(T, P).ln_phi(component_major(x), LIQUID) + np.log(P)[:, None]
        there = self.parts > 0.0
        driving = (self.parts * (ln_f - own))[:, there].sum(axis=1)
        return np.asarray(driving + self.heat_of_fusion / R * (1.0 / T - 1.0 / self.melting_T))

    def composition(self, T: Array, ln_f: Array) -> Array:
        return np.tile(self.parts / self.parts.sum(), (len(T), 1))
