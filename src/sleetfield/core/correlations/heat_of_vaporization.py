"""Heat-of-vaporization correlations, J/mol."""

from __future__ import annotations

import numpy as np

from ..arrays import Array
from .contract import HeatOfVaporization


class WatsonForm(HeatOfVaporization):
    """ΔH/(J/mol) = c1 (1 - Tr)^(c3 + c4 Tr + c5 Tr²), Tr = T/c2, c2 the critical temperature; c4 and c5 may be left out."""

    def _parts(self, T: Array) -> tuple[Array, Array, Array, Array]:
        c1, c2, *power = self.coefficients
        Tr = T / c2
        depth = np.maximum(1.0 - Tr, 1e-300)
        exponent = np.polynomial.polynomial.polyval(Tr, power)
        return np.where(Tr < 1.0, c1 * depth**exponent, 0.0), Tr, depth, np.asarray(exponent)

    def value(self, T: Array) -> Array:
        return self._parts(T)[0]

    def slope(self, T: Array) -> Array:
        value, Tr, depth, exponent = self._parts(T)
        change = np.polynomial.polynomial.polyval(Tr, np.polynomial.polynomial.polyder(np.asarray(self.coefficients[2:])))
        return np.where(Tr < 1.0, value * (change * np.log(depth) - exponent / depth) / self.coefficients[1], 0.0)


def watson(T: float, heat: float, Tc: float, T_min: float, T_max: float, exponent: float = 0.38) -> WatsonForm:
    """Through one known ``heat`` (J/mol) at ``T``: ΔH/ΔH₁ = ((1 - Tr)/(1 - Tr1))^0.38: Watson, Ind. Eng. Chem. 35 (1943) 398-406."""
    return WatsonForm((heat / (1.0 - T / Tc) ** exponent, Tc, exponent), T_min, T_max)
