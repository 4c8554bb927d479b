"""The binary interaction parameters in the mixing rule, 1 - kᵢⱼ(T) with kᵢⱼ = k⁰ᵢⱼ + k¹ᵢⱼ T + k²ᵢⱼ/T."""

from __future__ import annotations

import numpy as np

from ..arrays import Array


class Attraction:
    """The matrix 1 - kᵢⱼ(T), from kij ``(C, C)``, or ``(3, C, C)`` where it depends on temperature."""

    def __init__(self, kij: Array) -> None:
        self._constant: Array = 1.0 - (kij if kij.ndim == 2 else kij[0])
        self._varying: tuple[Array, Array] | None = None if kij.ndim == 2 else (-kij[1], -kij[2])

    def matrix(self, T: Array) -> Array:
        """``(C, C)``, or ``(N, C, C)`` where it depends on temperature."""
        if self._varying is None:
            return self._constant
        by_T, by_inverse_T = self._varying
        t = T[:, None, None]
        return np.asarray(self._constant + by_T * t + by_inverse_T / t)

    def slopes(self, T: Array) -> tuple[Array, Array]:
        """Its first and second derivative by temperature ``(N, C, C)``."""
        if self._varying is None:
            nothing = np.zeros((len(T), *self._constant.shape))
            return nothing, nothing
        by_T, by_inverse_T = self._varying
        t = T[:, None, None]
        return np.asarray(by_T - by_inverse_T / t**2), np.asarray(2.0 * by_inverse_T / t**3)

    def applied(self, u: Array, T: Array) -> Array:
        """The matrix at each temperature times the columns ``u (C, N)``."""
        result: Array = self._constant @ u
        if self._varying is not None:
            by_T, by_inverse_T = self._varying
            result += by_T @ (u * T)
            result += by_inverse_T @ (u / T)
        return result

    def applied_slopes(self, u: Array, T: Array) -> tuple[Array, Array]:
        """The first and second derivative of the matrix by temperature, times the columns ``u (C, N)``."""
        if self._varying is None:
            nothing = np.zeros_like(u)
            return nothing, nothing
        by_T, by_inverse_T = self._varying
        return by_T @ u - by_inverse_T @ (u / T**2), 2.0 * (by_inverse_T @ (u / T**3))
