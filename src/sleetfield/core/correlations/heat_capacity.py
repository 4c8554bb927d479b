"""Heat-capacity correlations, J/(mol K)."""

from __future__ import annotations

import numpy as np

from ..arrays import Array
from ..constants import R
from .contract import HeatCapacity


class Polynomial(HeatCapacity):
    """Cp/(J/(mol K)) = c1 + c2 T + c3 T² + ..., any number of coefficients."""

    def inside(self, T: Array) -> tuple[Array, Array]:
        slope = np.polynomial.polynomial.polyder(np.asarray(self.coefficients))
        polyval = np.polynomial.polynomial.polyval
        return np.asarray(polyval(T, self.coefficients)), np.asarray(polyval(T, slope))

    def antiderivatives(self, T: Array) -> tuple[Array, Array]:
        c = np.asarray(self.coefficients)
        energy = np.polynomial.polynomial.polyval(T, np.polynomial.polynomial.polyint(c))
        rest = np.polynomial.polynomial.polyint(c[1:]) if len(c) > 1 else np.zeros(1)
        return np.asarray(energy), c[0] * np.log(T) + np.polynomial.polynomial.polyval(T, rest)


class ReducedPolynomial(Polynomial):
    """Cp/R = c1 + c2 T + c3 T² + ..., any number of coefficients."""

    def inside(self, T: Array) -> tuple[Array, Array]:
        value, slope = super().inside(T)
        return R * value, R * slope

    def antiderivatives(self, T: Array) -> tuple[Array, Array]:
        energy, entropy = super().antiderivatives(T)
        return R * energy, R * entropy


class Hyperbolic(HeatCapacity):
    """Cp/(J/(mol K)) = c1 + c2 ((c3/T)/sinh(c3/T))² + c4 ((c5/T)/cosh(c5/T))².

    Aly and Lee, Fluid Phase Equilib. 6 (1981) 169-179.
    """

    def inside(self, T: Array) -> tuple[Array, Array]:
        c1, c2, c3, c4, c5 = self.coefficients
        u, v = c3 / T, c5 / T
        first, second = c2 * (u / np.sinh(u)) ** 2, c4 * (v / np.cosh(v)) ** 2
        return c1 + first + second, 2.0 / T * (first * (u / np.tanh(u) - 1.0) + second * (v * np.tanh(v) - 1.0))

    def antiderivatives(self, T: Array) -> tuple[Array, Array]:
        c1, c2, c3, c4, c5 = self.coefficients
        u, v = c3 / T, c5 / T
        energy = c1 * T + c2 * c3 / np.tanh(u) - c4 * c5 * np.tanh(v)
        entropy = c1 * np.log(T) + c2 * (u / np.tanh(u) - np.log(np.sinh(u))) - c4 * (v * np.tanh(v) - np.log(np.cosh(v)))
        return energy, entropy
