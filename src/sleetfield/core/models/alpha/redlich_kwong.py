"""The function of 1949: α = √(T_c/T).

Reference: Redlich and Kwong, Chem. Rev. 44 (1949) 233-244.
"""

from ...arrays import Array
from ...compiled.cubic_loops import REDLICH_KWONG
from .contract import AlphaFunction


class RedlichKwongAlpha(AlphaFunction):
    """No constants."""

    number = REDLICH_KWONG

    def root(self, T: Array) -> tuple[Array, Array, Array]:
        value = (self.Tc[:, None] / T) ** 0.25
        return value, -0.25 * value / T, 0.3125 * value / T**2
