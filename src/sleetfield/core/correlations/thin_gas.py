"""Viscosities and thermal conductivities of thin gases, Pa s and W/(m K)."""

from __future__ import annotations

import numpy as np

from ..arrays import Array
from .contract import OfThinGas


class LogarithmicForm(OfThinGas):
    """ln y = c1 + c2 ln T + c3/T (+ c4/T²), as tables of gases at all temperatures have it (Gordon, McBride and Zeleznik, NASA TM 86885 (1984))."""

    def _logarithm(self, T: Array) -> tuple[Array, Array]:
        """The equation itself, and its slope by ln T."""
        c1, c2, c3, c4 = (*self.coefficients, 0.0)[:4]
        return c1 + c2 * np.log(T) + c3 / T + c4 / T**2, c2 - c3 / T - 2.0 * c4 / T**2

    def value(self, T: Array) -> Array:
        edge = np.clip(T, self.T_min, self.T_max)
        ln, rise = self._logarithm(edge)
        return np.asarray(np.exp(ln + rise * np.log(T / edge)))

    def slope(self, T: Array) -> Array:
        return np.asarray(self.value(T) * self._logarithm(np.clip(T, self.T_min, self.T_max))[1] / T)
