"""Soave's function: √α = |1 + m(1 - √T_r)|.

Reference: Soave, Chem. Eng. Sci. 27 (1972) 1197-1203.
"""

import numpy as np

from ...arrays import Array
from ...compiled.cubic_loops import SOAVE
from .contract import AlphaFunction


class Soave(AlphaFunction):
    """One constant for each component, m."""

    number = SOAVE

    def value(self, T: Array) -> Array:
        (m,) = self.constants
        return np.asarray(np.abs((1.0 + m)[:, None] - (m / np.sqrt(self.Tc))[:, None] * np.sqrt(T)))

    def root(self, T: Array) -> tuple[Array, Array, Array]:
        (m,) = self.constants
        slope = -(m / np.sqrt(self.Tc))[:, None] / (2.0 * np.sqrt(T))
        value = 1.0 + m[:, None] + 2.0 * T * slope
        sign = np.sign(value)
        return sign * value, sign * slope, -sign * slope / (2.0 * T)
