"""Twu's function: α = T_r^(N(M - 1)) exp[L(1 - T_r^(NM))].

Reference: Twu, Bluck, Cunningham and Coon, Fluid Phase Equilib. 69 (1991) 33-50.
"""

import numpy as np

from ...arrays import Array
from ...compiled.cubic_loops import TWU
from .contract import AlphaFunction


class Twu(AlphaFunction):
    """Three constants for each component, L, M, N; used above the critical temperature as well."""

    number = TWU

    def root(self, T: Array) -> tuple[Array, Array, Array]:
        L, M, N = (c[:, None] for c in self.constants)
        Tr = T / self.Tc[:, None]
        power = Tr ** (N * M)
        half = 0.5 * (N * (M - 1.0) * np.log(Tr) + L * (1.0 - power))
        value = np.exp(half)
        slope = 0.5 * (N * (M - 1.0) - L * N * M * power) / T
        curvature = -0.5 * (N * (M - 1.0) + L * N * M * (N * M - 1.0) * power) / T**2
        return value, value * slope, value * (slope**2 + curvature)
