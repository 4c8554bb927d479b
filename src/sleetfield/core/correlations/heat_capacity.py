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


class Hyperbolic(HeatCapacity):
    """Cp = c1 + c2 [(c3/T)/sinh(c3/T)]² + c4 [(c5/T)/cosh(c5/T)]², J/(mol K).

    Aly and Lee, Fluid Phase Equilib. 6 (1981) 169-179.
    """

    def inside(self, T: Array) -> Array:
        c1, c2, c3, c4, c5 = self.coefficients
        s, c = c3 / T, c5 / T
        return c1 + c2 * (s / np.sinh(s)) ** 2 + c4 * (c / np.cosh(c)) ** 2

    def antiderivatives(self, T: Array) -> tuple[Array, Array]:
        c1, c2, c3, c4, c5 = self.coefficients
        s, c = c3 / T, c5 / T
        coth, tanh = 1.0 / np.tanh(s), np.tanh(c)
        energy = c1 * T + c2 * c3 * coth - c4 * c5 * tanh
        entropy = c1 * np.log(T)
        entropy += c2 * (s * coth - np.log(np.sinh(s))) - c4 * (c * tanh - np.log(np.cosh(c)))
        return energy, entropy
