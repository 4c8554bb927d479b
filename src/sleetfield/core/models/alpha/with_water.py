"""Soave's function, and for water one that meets its vapor pressure: √α = |1 + m(1 - √T_r) + p(1 - T_r) + r(1/T_r³ - 1)|.

The form of the last two terms is that of Soreide and Whitson, Fluid Phase Equilib. 77 (1992) 217-240; water's constants, for Peng and Robinson's
equation, give its vapor pressure (Wagner and Pruss, J. Phys. Chem. Ref. Data 31 (2002) 387-535) within 0.4 % from 273 to 640 K. Others have p = r = 0.
"""

import numpy as np

from ...arrays import Array
from ...compiled.cubic_loops import WITH_WATER
from .contract import AlphaFunction

WATER = np.array([0.428219, 0.238207, 0.000597394])


class WithWater(AlphaFunction):
    """Three constants for each component: m, p, r."""

    number = WITH_WATER

    def root(self, T: Array) -> tuple[Array, Array, Array]:
        m, p, r = (constant[:, None] for constant in self.constants)
        Tc = self.Tc[:, None]
        t = T / Tc
        root_t = np.sqrt(t)
        value = 1.0 + m * (1.0 - root_t) + p * (1.0 - t) + r * (t**-3 - 1.0)
        slope = (-0.5 * m / root_t - p - 3.0 * r * t**-4) / Tc
        curvature = (0.25 * m / (root_t * t) + 12.0 * r * t**-5) / Tc**2
        sign = np.sign(value)
        return sign * value, sign * slope, sign * curvature
