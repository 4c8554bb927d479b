"""Saturated-liquid density correlations, mol/m3."""

from __future__ import annotations

import numpy as np

from ..arrays import Array
from ..compiled.pair_loops import POWER_SERIES, RACKETT
from ..constants import R
from .contract import LiquidDensity

_EXPONENT = 2.0 / 7.0


class RackettForm(LiquidDensity):
    """ρ/(mol/m3) = c1 / c2^(1 + (1 - T/c3)^c4), c3 the critical temperature.

    Rackett's equation, J. Chem. Eng. Data 15 (1970) 514-517, with every number free; `rackett` and `modified_rackett` are special cases.
    """

    number = RACKETT

    def _depth(self, T: Array) -> Array:
        return np.maximum(1.0 - T / self.coefficients[2], 0.0)

    def value(self, T: Array) -> Array:
        c1, c2, _, c4 = self.coefficients
        return np.asarray(c1 * c2 ** -(1.0 + self._depth(T) ** c4))

    def slope(self, T: Array) -> Array:
        _, c2, c3, c4 = self.coefficients
        depth = self._depth(T)
        with np.errstate(divide="ignore"):
            rise = np.where(depth > 0.0, c4 * depth ** (c4 - 1.0) / c3, 0.0)
        return np.asarray(self.value(T) * np.log(c2) * rise)

    def curvature(self, T: Array) -> Array:
        _, c2, c3, c4 = self.coefficients
        depth = np.maximum(self._depth(T), 1e-30)
        rise, bend = c4 * depth ** (c4 - 1.0) / c3, -c4 * (c4 - 1.0) * depth ** (c4 - 2.0) / c3**2
        inside = self.value(T) * np.log(c2) * (np.log(c2) * rise**2 + bend)
        return np.where(T < c3, inside, 0.0)


class PowerSeries(LiquidDensity):
    """ρ/(mol/m3) = c1 + c2 τ^0.35 + c3 τ^(2/3) + c4 τ + c5 τ^(4/3), τ = 1 - T/c6, c6 the critical temperature."""

    number = POWER_SERIES
    _POWERS = (0.0, 0.35, 2.0 / 3.0, 1.0, 4.0 / 3.0)

    def _tau(self, T: Array) -> Array:
        return np.maximum(1.0 - T / self.coefficients[5], 0.0)

    def value(self, T: Array) -> Array:
        tau = self._tau(T)
        return np.asarray(sum(c * tau**n for c, n in zip(self.coefficients, self._POWERS, strict=False)))

    def slope(self, T: Array) -> Array:
        tau = np.maximum(self._tau(T), 1e-300)
        rise = sum(n * c * tau ** (n - 1.0) for c, n in zip(self.coefficients, self._POWERS, strict=False))
        return np.where(T < self.coefficients[5], -np.asarray(rise) / self.coefficients[5], 0.0)

    def curvature(self, T: Array) -> Array:
        tau = np.maximum(self._tau(T), 1e-30)
        bend = sum(n * (n - 1.0) * c * tau ** (n - 2.0) for c, n in zip(self.coefficients, self._POWERS, strict=False))
        return np.where(T < self.coefficients[5], np.asarray(bend) / self.coefficients[5] ** 2, 0.0)


def modified_rackett(Tc: float, Pc: float, Z_RA: float, T_min: float, T_max: float) -> RackettForm:
    """1/ρ = (R Tc/Pc) Z_RA^(1 + (1 - Tr)^(2/7)): Spencer and Danner, J. Chem. Eng. Data 17 (1972) 236-241."""
    return RackettForm((Pc / (R * Tc), Z_RA, Tc, _EXPONENT), T_min, T_max)


def rackett(Tc: float, Pc: float, Vc: float, T_min: float, T_max: float) -> RackettForm:
    """1/ρ = Vc Zc^((1 - Tr)^(2/7)): Rackett's own equation, which needs the critical volume (m3/mol) and nothing measured."""
    return modified_rackett(Tc, Pc, Pc * Vc / (R * Tc), T_min, T_max)


def generalized_rackett(Tc: float, Pc: float, omega: float) -> RackettForm:
    """The modified Rackett equation with Z_RA = 0.29056 - 0.08775 ω: Yamada and Gunn, J. Chem. Eng. Data 18 (1973) 234-236."""
    return modified_rackett(Tc, Pc, max(0.29056 - 0.08775 * omega, 0.05), 0.3 * Tc, Tc)


def rackett_through(T: float, density: float, Tc: float, Pc: float, T_min: float, T_max: float) -> RackettForm:
    """The modified Rackett equation with the Z_RA that gives a known molar ``density`` (mol/m3) at ``T``."""
    power = 1.0 + (1.0 - T / Tc) ** _EXPONENT
    return modified_rackett(Tc, Pc, (Pc / (R * Tc) / density) ** (1.0 / power), T_min, T_max)
