"""Mathias and Copeman's function: √α = 1 + c₁t + c₂t² + c₃t³ with t = 1 - √T_r; above the critical temperature 1 + c₁t.

Reference: Mathias and Copeman, Fluid Phase Equilib. 13 (1983) 91-108. Value and slope are continuous at T_c, the second derivative is not
unless c₂ = 0.
"""

import numpy as np

from ...arrays import Array
from ...compiled.cubic_loops import MATHIAS_COPEMAN
from .contract import AlphaFunction


class MathiasCopeman(AlphaFunction):
    """Three constants for each component, c₁, c₂, c₃."""

    number = MATHIAS_COPEMAN

    def root(self, T: Array) -> tuple[Array, Array, Array]:
        root_T = np.sqrt(T / self.Tc[:, None])
        t = 1.0 - root_T
        below = t > 0.0
        c1, c2, c3 = (np.where(below | (k == 0), c[:, None], 0.0) for k, c in enumerate(self.constants))
        value = 1.0 + (c1 + (c2 + c3 * t) * t) * t
        by_t, by_tt = c1 + (2.0 * c2 + 3.0 * c3 * t) * t, 2.0 * c2 + 6.0 * c3 * t
        t1 = -root_T / (2.0 * T)
        sign = np.sign(value)
        return sign * value, sign * by_t * t1, sign * (by_tt * t1**2 - by_t * t1 / (2.0 * T))
