"""UNIQUAC: the combinatorial term of Staverman and Guggenheim, and a residual one of local compositions on surfaces q'.

Abrams and Prausnitz, AIChE J. 21 (1975) 116-128; with q' for water and alcohols other than q, Anderson and Prausnitz, Ind. Eng. Chem.
Process Des. Dev. 17 (1978) 552-561. τᵢⱼ = exp(tᵢⱼ), tᵢⱼ = -(uᵢⱼ - uⱼⱼ)/RT.
"""

from __future__ import annotations

from ...arrays import Array
from .combinatorial import StavermanGuggenheim
from .contract import Sum
from .pair_function import PairFunction
from .weighted_logarithm import WeightedLogarithm


class UNIQUAC(Sum):
    """The equation.

    Parameters
    ----------
    r, q, q_residual : (C,)
        Sizes, surfaces, and the surfaces of the residual term.
    t : PairFunction
        tᵢⱼ, zero on the diagonal.
    """

    def __init__(self, r: Array, q: Array, q_residual: Array, t: PairFunction) -> None:
        super().__init__([StavermanGuggenheim(r, q), WeightedLogarithm(q_residual, t)])
