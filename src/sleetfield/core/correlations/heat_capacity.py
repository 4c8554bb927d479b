"""Ideal-gas heat-capacity correlations, J/(mol K)."""

from __future__ import annotations

import numpy as np

from ..arrays import Array
from ..constants import R
from .contract import HeatCapacity


class Polynomial(HeatCapacity):
    """Cp/(J/(mol K)) = c1 + c2 T + c3 T² + ..., any number of coefficients."""

    def inside(self, T: Array) -> Array:
        return np.asarray(np.polynomial.polynomial.polyval(T, self.coefficients))

    def antiderivatives(self, T: Array) -> tuple[Array, Array]:
        c = np.asarray(self.coefficients)
        energy = np.polynomial.polynomial.polyval(T, np.polynomial.polynomial.polyint(c))
        rest = np.polynomial.polynomial.polyint(c[1:]) if len(c) > 1 else np.zeros(1)
        return np.asarray(energy), c[0] * np.log(T) + np.polynomial.polynomial.polyval(T, rest)


class ReducedPolynomial(Polynomial):
    """Cp/R = c1 + c2 T + c3 T² + ..., any number of coefficients."""

    def inside(self, T: Array) -> Array:
        return R * super().inside(T)

    def antiderivatives(self, T: Array) -> tuple[Array, Array]:
        energy, entropy = super().antiderivatives(T)
        return R * energy, R * entropy
