"""Redlich-Kister expansion, the pairs added: Gᴱ/RT = Σᵢ<ⱼ xᵢxⱼ Σₖ Aₖ,ᵢⱼ (xᵢ - xⱼ)ᵏ.

Redlich and Kister, Ind. Eng. Chem. 40 (1948) 345-348. Two terms are the three-suffix Margules equation, with A₀ = (A₁₂ + A₂₁)/2 and
A₁ = (A₂₁ - A₁₂)/2; one is the two-suffix equation.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ...arrays import Array
from .contract import ActivityEvaluation, ActivityModel, Bound
from .pair_function import PairFunction


class RedlichKister(ActivityModel):
    """The expansion with ``K`` terms.

    Parameters
    ----------
    terms : sequence of PairFunction
        Aₖ for k = 0, 1, ...: symmetric for even k, antisymmetric for odd k, zero on the diagonal.
    """

    n_bound = 1

    def __init__(self, terms: Sequence[PairFunction]) -> None:
        self.terms = tuple(terms)
        self.n_components = terms[0].coefficients.shape[1]

    def bind(self, T: Array) -> Bound:
        return (np.stack([term.value(T) for term in self.terms]),)

    @staticmethod
    def _series(x: Array, A: Array) -> tuple[Array, Array, Array]:
        """D = Σ Aₖ uᵏ with u = xᵢ - xⱼ, and its first two derivatives by u ``(C, C, N)``."""
        u = x[:, None] - x[None, :]
        D, first, second = np.zeros((3, *u.shape))
        for a in A[::-1]:
            second = second * u + 2.0 * first
            first = first * u + D
            D = D * u + a
        return D, first, second

    @staticmethod
    def _ln_gamma(x: Array, D: Array, first: Array) -> Array:
        """From ∂g/∂xᵢ = Σⱼ xⱼ(D + xᵢD') with mole fractions taken as independent."""
        gradient = ((D + x[:, None] * first) * x[None, :]).sum(axis=1)
        g = 0.5 * (x[:, None] * x[None, :] * D).sum(axis=(0, 1))
        return np.asarray(gradient + g - (x * gradient).sum(axis=0))

    def ln_gamma(self, x: Array, bound: Bound) -> Array:
        D, first, _ = self._series(x, bound[0])
        return self._ln_gamma(x, D, first)

    def evaluate(self, x: Array, T: Array, bound: Bound) -> ActivityEvaluation:
        D, first, second = self._series(x, bound[0])
        slope, slope_first, _ = self._series(x, np.stack([term.slope(T) for term in self.terms]))
        curvature = self._series(x, np.stack([term.curvature(T) for term in self.terms]))[0]

        def by_mole_numbers() -> Array:
            one, other = x[:, None], x[None, :]
            hessian = D + (one - other) * first - one * other * second
            own = (2.0 * other * first + one * other * second).sum(axis=1)
            i = np.arange(len(x))
            hessian[i, i] = own
            along = np.einsum("ijn,jn->in", hessian, x)
            return np.asarray(hessian - along[:, None] - along[None, :] + (x * along).sum(axis=0))

        g_TT = 0.5 * (x[:, None] * x[None, :] * curvature).sum(axis=(0, 1))
        return ActivityEvaluation(self._ln_gamma(x, D, first), self._ln_gamma(x, slope, slope_first), g_TT, by_mole_numbers)

    def select(self, components: Sequence[int]) -> RedlichKister:
        return RedlichKister([term.select(components) for term in self.terms])
