"""Surface tensions of pure liquids, N/m."""

from __future__ import annotations

import numpy as np

from ..arrays import Array
from .contract import SurfaceTension


class GuggenheimForm(SurfaceTension):
    """σ = c1 τ^c3 (1 + c4 τ), τ = 1 - T/c2, c2 the critical temperature (Guggenheim, J. Chem. Phys. 13 (1945) 253-261, with c3 = 11/9); c3 and c4 may be left out."""

    def _parts(self, T: Array) -> tuple[float, float, float, float, Array]:
        c1, c2, power, further = (*self.coefficients, *(_POWER, 0.0)[len(self.coefficients) - 2 :])
        return c1, c2, power, further, np.maximum(1.0 - T / c2, 0.0)

    def value(self, T: Array) -> Array:
        c1, _, power, further, depth = self._parts(T)
        return np.asarray(c1 * depth**power * (1.0 + further * depth))

    def slope(self, T: Array) -> Array:
        c1, c2, power, further, depth = self._parts(T)
        return np.asarray(-c1 / c2 * depth ** (power - 1.0) * (power + further * (power + 1.0) * depth))


_POWER = 11.0 / 9.0


def guggenheim_through(T: float, sigma: float, Tc: float, T_min: float, T_max: float) -> GuggenheimForm:
    """Through one known value (N/m) at ``T``."""
    return GuggenheimForm((sigma / (1.0 - T / Tc) ** _POWER, Tc), T_min, T_max)
