"""Peng-Robinson equation of state (1976).

    P = RT/(V - b) - a/(V² + 2bV - b²),   m = 0.37464 + 1.54226 ω - 0.26992 ω²

Reference: Peng and Robinson, Ind. Eng. Chem. Fundam. 15 (1976) 59-64. Ω_a and Ω_b are used to full precision.
"""

import math
from collections.abc import Mapping
from typing import ClassVar

from ..arrays import Array
from .cubic import CubicModel
from .mixing import Reference

_ETA = 1.0 / (1.0 + math.cbrt(4.0 - math.sqrt(8.0)) + math.cbrt(4.0 + math.sqrt(8.0)))


class PengRobinson(CubicModel):
    """The Peng-Robinson equation of state."""

    delta1 = 1.0 + math.sqrt(2.0)
    delta2 = 1.0 - math.sqrt(2.0)
    omega_a = (8.0 + 40.0 * _ETA) / (49.0 - 37.0 * _ETA)
    omega_b = _ETA / (3.0 + _ETA)
    critical_volume_ratio = 1.0 / _ETA
    excess_references: ClassVar[Mapping[str, Reference]] = {"MHV1": Reference(-0.53), "MHV2": Reference(-0.4347, -0.003654)}

    @staticmethod
    def m(omega: Array) -> Array:
        return 0.37464 + (1.54226 - 0.26992 * omega) * omega
