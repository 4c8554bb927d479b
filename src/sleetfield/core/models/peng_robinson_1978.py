"""Peng-Robinson equation of state with the temperature function of 1978 for heavy components.

    m = 0.379642 + 1.48503 ω - 0.164423 ω² + 0.016666 ω³   where ω > 0.491; else as in 1976

Reference: Robinson and Peng, The Characterization of the Heptanes and Heavier Fractions for the GPA Peng-Robinson Programs, Gas Processors
Association, Research Report RR-28 (1978).
"""

import numpy as np

from ..arrays import Array
from .peng_robinson import PengRobinson

HEAVY = 0.491


class PengRobinson1978(PengRobinson):
    """The Peng-Robinson equation of state of 1978."""

    @staticmethod
    def m(omega: Array) -> Array:
        heavy = 0.379642 + (1.48503 + (-0.164423 + 0.016666 * omega) * omega) * omega
        return np.where(omega > HEAVY, heavy, PengRobinson.m(omega))
