"""Thermal conductivities of pure liquids, W/(m K)."""

from __future__ import annotations

import numpy as np

from ..arrays import Array
from .contract import LiquidConductivity


class RiedelConductivity(LiquidConductivity):
    """λ = c1 (3 + 20 (1 - T/c2)^(2/3)), c2 the critical temperature (Riedel, Chem. Ing. Tech. 21 (1949) 349; 23 (1951) 59, 321, 465)."""

    def value(self, T: Array) -> Array:
        c1, c2 = self.coefficients
        return np.asarray(c1 * (3.0 + 20.0 * np.maximum(1.0 - T / c2, 0.0) ** (2.0 / 3.0)))

    def slope(self, T: Array) -> Array:
        c1, c2 = self.coefficients
        depth = np.maximum(1.0 - T / c2, 1e-300)
        return np.where(T < c2, -40.0 / 3.0 * c1 / c2 * depth ** (-1.0 / 3.0), 0.0)


def riedel_through(T: float, conductivity: float, Tc: float, T_min: float, T_max: float) -> RiedelConductivity:
    """Through one known value, W/(m K), at ``T``."""
    return RiedelConductivity((conductivity / (3.0 + 20.0 * (1.0 - T / Tc) ** (2.0 / 3.0)), Tc), T_min, T_max)


def sato_riedel(M: float, Tb: float, Tc: float, T_min: float, T_max: float) -> RiedelConductivity:
    """From the molar mass, kg/mol, and the boiling point: λ(Tb) = 1.11/√M, M in g/mol (Sato, in Reid, Prausnitz and Sherwood, 3rd ed. (1977), ch. 10)."""
    return riedel_through(Tb, 1.11 / np.sqrt(1e3 * M), Tc, T_min, T_max)
