"""Vapor-pressure correlations, each as ln(P/Pa)."""

from __future__ import annotations

import math

import numpy as np

from ..arrays import Array
from ..compiled.pair_loops import ANTOINE, RIEDEL, WAGNER
from .contract import LnVaporPressure


class RiedelForm(LnVaporPressure):
    """ln(P/Pa) = c1 + c2/T + c3 ln T + c4 T^c5."""

    number = RIEDEL

    def inside(self, T: Array) -> tuple[Array, Array, Array]:
        c1, c2, c3, c4, c5 = self.coefficients
        power = c4 * T**c5
        return (
            c1 + c2 / T + c3 * np.log(T) + power,
            -c2 / T**2 + c3 / T + c5 * power / T,
            2.0 * c2 / T**3 - c3 / T**2 + c5 * (c5 - 1.0) * power / T**2,
        )


class Antoine(LnVaporPressure):
    """ln(P/Pa) = A - B/(T + C), T in K (Antoine, C. R. Acad. Sci. 107 (1888) 681); `antoine` converts other logarithms and units."""

    number = ANTOINE

    def inside(self, T: Array) -> tuple[Array, Array, Array]:
        A, B, C = self.coefficients
        shifted = T + C
        return A - B / shifted, B / shifted**2, -2.0 * B / shifted**3


class Wagner(LnVaporPressure):
    """ln(P/Pc) = (a τ + b τ^1.5 + c τ³ + d τ⁶)/Tr, τ = 1 - Tr; coefficients a, b, c, d, Tc (K), Pc (Pa).

    The "3, 6" form of Wagner, Cryogenics 13 (1973) 470-482.
    """

    number = WAGNER

    def inside(self, T: Array) -> tuple[Array, Array, Array]:
        a, b, c, d, Tc, Pc = self.coefficients
        Tr = T / Tc
        tau = np.maximum(1.0 - Tr, 0.0)
        root = np.sqrt(tau)
        f = a * tau + b * tau * root + c * tau**3 + d * tau**6
        f1 = a + 1.5 * b * root + 3.0 * c * tau**2 + 6.0 * d * tau**5
        with np.errstate(divide="ignore"):
            f2 = np.where(tau > 0.0, 0.75 * b / root, 0.0) + 6.0 * c * tau + 30.0 * d * tau**4
        # d/dTr = -d/dtau
        return (
            np.log(Pc) + f / Tr,
            (-f1 / Tr - f / Tr**2) / Tc,
            (f2 / Tr + 2.0 * f1 / Tr**2 + 2.0 * f / Tr**3) / Tc**2,
        )


def lee_kesler_vapor_pressure(Tc: float, Pc: float, omega: float) -> RiedelForm:
    """The corresponding-states vapor pressure of Lee and Kesler, AIChE J. 21 (1975) 510-527, which has the Riedel form."""
    c2, c3, c4 = -(6.09648 + 15.6875 * omega), -(1.28862 + 13.4721 * omega), 0.169347 + 0.43577 * omega
    c1 = 5.92714 + 15.2518 * omega + math.log(Pc) - c3 * math.log(Tc)
    return RiedelForm((c1, c2 * Tc, c3, c4 / Tc**6, 6.0), 0.5 * Tc, Tc)
