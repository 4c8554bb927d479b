"""Soave-Redlich-Kwong equation of state (1972).

    P = RT/(V - b) - a/(V(V + b)),   m = 0.480 + 1.574 ω - 0.176 ω²

Reference: Soave, Chem. Eng. Sci. 27 (1972) 1197-1203. Ω_a and Ω_b are used to full precision.
"""

import math
from collections.abc import Mapping
from typing import ClassVar

from ..arrays import Array
from .cubic import CubicModel
from .mixing import Reference

_ROOT = math.cbrt(2.0) - 1.0


class SoaveRedlichKwong(CubicModel):
    """The Soave-Redlich-Kwong equation of state."""

    delta1 = 1.0
    delta2 = 0.0
    omega_a = 1.0 / (9.0 * _ROOT)
    omega_b = _ROOT / 3.0
    critical_volume_ratio = 1.0 / _ROOT
    excess_references: ClassVar[Mapping[str, Reference]] = {
        "MHV1": Reference(-0.593),
        "MHV2": Reference(-0.478, -0.0047),
        "PSRK": Reference(-0.64663),
    }

    @staticmethod
    def m(omega: Array) -> Array:
        return 0.480 + (1.574 - 0.176 * omega) * omega
