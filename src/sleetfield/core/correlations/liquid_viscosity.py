"""Viscosities of pure liquids, Pa s."""

from __future__ import annotations

import numpy as np

from ..arrays import Array
from .contract import LiquidViscosity


class VogelForm(LiquidViscosity):
    """ln(μ/(Pa s)) = c1 + c2/(T + c3) (Vogel, Phys. Z. 22 (1921) 645); Andrade's equation where c3 is zero."""

    def value(self, T: Array) -> Array:
        c1, c2, c3 = self.coefficients
        return np.asarray(np.exp(c1 + c2 / (self._within(T) + c3) + self._beyond(T)))

    def slope(self, T: Array) -> Array:
        _, c2, c3 = self.coefficients
        edge = self._within(T)
        return np.asarray(-self.value(T) * c2 / (edge + c3) ** 2 * (edge / T) ** 2)

    def _within(self, T: Array) -> Array:
        return np.clip(T, self.T_min, self.T_max)

    def _beyond(self, T: Array) -> Array:
        """What a straight line in 1/T from the end of the range adds outside of it."""
        _, c2, c3 = self.coefficients
        edge = self._within(T)
        return np.asarray(c2 * edge**2 / (edge + c3) ** 2 * (1.0 / T - 1.0 / edge))
