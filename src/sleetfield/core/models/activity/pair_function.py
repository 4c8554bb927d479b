"""Binary parameters as a function of temperature: aᵢⱼ + bᵢⱼ/T + cᵢⱼ ln T + dᵢⱼ T, with T in K."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ...arrays import Array


class PairFunction:
    """One quantity of every ordered pair.

    Parameters
    ----------
    coefficients : (4, C, C)
        a, b, c and d.
    """

    def __init__(self, coefficients: Array) -> None:
        self.coefficients = np.asarray(coefficients, dtype=float)
        self._terms = [k for k in range(1, 4) if self.coefficients[k].any()]

    def _sum(self, T: Array, functions: Sequence[Array], start: Array) -> Array:
        value = np.repeat(start[:, :, None], len(T), axis=2)
        for k in self._terms:
            value += self.coefficients[k][:, :, None] * functions[k]
        return value

    def value(self, T: Array) -> Array:
        """``(C, C, N)``."""
        return self._sum(T, (T, 1.0 / T, np.log(T), T), self.coefficients[0])

    def slope(self, T: Array) -> Array:
        """Its derivative by temperature ``(C, C, N)``, 1/K."""
        return self._sum(T, (T, -1.0 / T**2, 1.0 / T, np.ones_like(T)), np.zeros_like(self.coefficients[0]))

    def curvature(self, T: Array) -> Array:
        """Its second derivative by temperature ``(C, C, N)``, 1/K²."""
        return self._sum(T, (T, 2.0 / T**3, -1.0 / T**2, np.zeros_like(T)), np.zeros_like(self.coefficients[0]))

    def select(self, components: Sequence[int]) -> PairFunction:
        """The same for those components."""
        i = np.asarray(components)
        return PairFunction(self.coefficients[:, i[:, None], i])
