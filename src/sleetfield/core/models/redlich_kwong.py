"""Redlich-Kwong equation of state (1949).

    P = RT/(V - b) - a/(√T V(V + b)),   that is α = √(T_c/T)

Reference: Redlich and Kwong, Chem. Rev. 44 (1949) 233-244. Ω_a and Ω_b are used to full precision.
"""

import numpy as np

from ..arrays import Array
from .alpha import AlphaFunction, RedlichKwongAlpha
from .soave_redlich_kwong import SoaveRedlichKwong


class RedlichKwong(SoaveRedlichKwong):
    """The Redlich-Kwong equation of state: the volume terms of Soave's, with its own temperature function."""

    @classmethod
    def own_alpha(cls, Tc: Array, omega: Array) -> AlphaFunction:
        return RedlichKwongAlpha(np.empty((0, len(Tc))), Tc)
