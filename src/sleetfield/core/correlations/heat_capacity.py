"""Heat-capacity correlations, J/(mol K)."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from ..arrays import Array
from ..compiled.ideal_gases import HYPERBOLIC, OSCILLATORS, POLYNOMIAL
from ..constants import R
from .contract import HeatCapacity


def _sum_of_powers(T: Array, coefficients: Sequence[float]) -> Array:
    """c0 + c1 T + c2 T² + ..., from the inside out."""
    value: Array = coefficients[-1] + np.zeros_like(T)
    for c in reversed(coefficients[:-1]):
        value = value * T + c
    return value


class Polynomial(HeatCapacity):
    """Cp/(J/(mol K)) = c1 + c2 T + c3 T² + ..., any number of coefficients."""

    number = POLYNOMIAL

    def inside(self, T: Array) -> tuple[Array, Array]:
        c = self.coefficients
        return _sum_of_powers(T, c), _sum_of_powers(T, [k * a for k, a in enumerate(c)][1:] or [0.0])

    def antiderivatives(self, T: Array) -> tuple[Array, Array]:
        c = self.coefficients
        energy = _sum_of_powers(T, [0.0, *(a / (k + 1) for k, a in enumerate(c))])
        rest = _sum_of_powers(T, [0.0, *(a / (k + 1) for k, a in enumerate(c[1:]))])
        return energy, c[0] * np.log(T) + rest


class ReducedPolynomial(Polynomial):
    """Cp/R = c1 + c2 T + c3 T² + ..., any number of coefficients."""

    number = POLYNOMIAL

    def plain(self) -> tuple[float, ...]:
        return tuple(R * c for c in self.coefficients)

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

    number = HYPERBOLIC

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


class Oscillators(HeatCapacity):
    """Cp/(J/(mol K)) = c1 + c2 T + c3 T² + c4 T³ + c5 E(c6/T) + c7 E(c8/T) + ..., E(x) = x² eˣ/(eˣ - 1)².

    The harmonic oscillators of Planck and Einstein, as equations of state that are fitted to all that was measured have them.
    """

    number = OSCILLATORS

    def _rest(self) -> Polynomial:
        return Polynomial(self.coefficients[:4], self.T_min, self.T_max)

    def _oscillators(self, T: Array) -> Iterator[tuple[Array, Array, Array, Array]]:
        """Of each: its amount, x, eˣ - 1 and E; none of it where it stands for nothing."""
        for amount, theta in zip(self.coefficients[4::2], self.coefficients[5::2], strict=True):
            there = np.asarray(theta) > 0.0
            x = np.where(there, theta, 1.0) / T
            less = np.expm1(np.minimum(x, _COLD))
            yield np.where(there & (x < _COLD), amount, 0.0), x, less, x**2 * (less + 1.0) / less**2

    def inside(self, T: Array) -> tuple[Array, Array]:
        value, slope = self._rest().inside(T)
        for amount, x, less, e in self._oscillators(T):
            value = value + amount * e
            slope = slope + amount * e / T * (x * (less + 2.0) / less - 2.0)
        return value, slope

    def antiderivatives(self, T: Array) -> tuple[Array, Array]:
        energy, entropy = self._rest().antiderivatives(T)
        for amount, x, less, _ in self._oscillators(T):
            energy = energy + amount * x * T / less
            entropy = entropy + amount * (x / less - np.log(-np.expm1(-x)))
        return energy, entropy


_COLD = 500.0
"""Oscillators with a temperature so many times the one at hand stand still."""
