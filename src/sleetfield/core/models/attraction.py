"""The binary interaction parameters in the mixing rule, 1 - kᵢⱼ(T)."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..arrays import Array, Numbers
from .temperature_terms import CURVATURES, SLOPES, VALUES, Function, varying


class Attraction:
    """The matrix 1 - kᵢⱼ(T), from kij ``(C, C)``, or ``(K, C, C)`` by the first K terms of `temperature_terms.TERMS`."""

    def __init__(self, kij: Array) -> None:
        self._constant: Array = 1.0 - (kij if kij.ndim == 2 else kij[0])
        self._varying: list[tuple[int, Array]] = [] if kij.ndim == 2 else [(k, -kij[k]) for k in varying(kij)]

    @property
    def sum(self) -> tuple[tuple[int, ...], Array]:
        """Which terms it is a sum of, the constant one first, and their coefficients ``(K, C, C)``."""
        return (0, *(k for k, _ in self._varying)), np.stack([self._constant, *(part for _, part in self._varying)])

    def matrix(self, T: Numbers) -> Numbers:
        """``(C, C)``, or ``(N, C, C)`` where it depends on temperature."""
        result: Numbers = self._constant
        for k, part in self._varying:
            result = result + part * VALUES[k](T)[:, None, None]
        return result

    def slopes(self, T: Numbers) -> tuple[Numbers, Numbers]:
        """Its first and second derivative by temperature ``(N, C, C)``."""
        return self._derivative(T, SLOPES), self._derivative(T, CURVATURES)

    def _derivative(self, T: Numbers, functions: Sequence[Function]) -> Numbers:
        result: Numbers = np.zeros((len(T), *self._constant.shape), dtype=T.dtype)
        for k, part in self._varying:
            result += part * functions[k](T)[:, None, None]
        return result

    def applied(self, u: Array, T: Array) -> Array:
        """The matrix at each temperature times the columns ``u (C, N)``."""
        result: Array = self._constant @ u
        for k, part in self._varying:
            result += part @ (u * VALUES[k](T))
        return result

    def applied_slopes(self, u: Array, T: Array) -> tuple[Array, Array]:
        """The first and second derivative of the matrix by temperature, times the columns ``u (C, N)``."""
        return self._applied_derivative(u, T, SLOPES), self._applied_derivative(u, T, CURVATURES)

    def _applied_derivative(self, u: Array, T: Array, functions: Sequence[Function]) -> Array:
        result = np.zeros_like(u)
        for k, part in self._varying:
            result += part @ (u * functions[k](T))
        return result
