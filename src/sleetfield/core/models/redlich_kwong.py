"""Redlich-Kwong equation of state (1949).

    P = RT/(V - b) - a/(√T V(V + b)),   that is α = √(T_c/T)

Reference: Redlich and Kwong, Chem. Rev. 44 (1949) 233-244. Ω_a and Ω_b are used to full precision.
"""

import numpy as np

from ..arrays import Array
from ..constants import R
from .soave_redlich_kwong import SoaveRedlichKwong


class RedlichKwong(SoaveRedlichKwong):
    """The Redlich-Kwong equation of state: the volume terms of Soave's, with its own temperature function."""

    def _scaled_root_a(self, T: Array, P: Array) -> Array:
        root_a = (self.root_ac * self.Tc**0.25)[:, None] * T**-0.25
        return np.asarray(root_a * (np.sqrt(P) / (R * T)))

    def root_a(self, T: Array) -> tuple[Array, Array, Array]:
        t = T[:, None]
        value = self.root_ac * (self.Tc / t) ** 0.25
        return value, -0.25 * value / t, 0.3125 * value / t**2
