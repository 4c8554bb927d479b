"""NRTL: Gᴱ/RT = Σ xᵢ Cᵢ/Sᵢ, Sᵢ = Σⱼ xⱼGⱼᵢ, Cᵢ = Σⱼ xⱼτⱼᵢGⱼᵢ, Gᵢⱼ = exp(-αᵢⱼτᵢⱼ).

    ln γᵢ = Cᵢ/Sᵢ + Σⱼ (xⱼGᵢⱼ/Sⱼ)(τᵢⱼ - Cⱼ/Sⱼ)

Renon and Prausnitz, AIChE J. 14 (1968) 135-144. αᵢⱼ is symmetric, and τᵢᵢ = 0.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ...arrays import Array
from ...compiled import pair_loops
from ...compiled.pair_loops import Term
from .contract import ActivityEvaluation, ActivityModel, Bound
from .pair_function import PairFunction


class NRTL(ActivityModel):
    """The equation.

    Parameters
    ----------
    tau, alpha : PairFunction
        τ, zero on the diagonal, and α, symmetric.
    """

    n_bound = 2

    def __init__(self, tau: PairFunction, alpha: PairFunction) -> None:
        self.tau, self.alpha = tau, alpha
        self.n_components = tau.coefficients.shape[1]

    def bind(self, T: Array) -> Bound:
        tau = self.tau.value(T)
        G = np.exp(-self.alpha.value(T) * tau)
        return G, tau * G

    def plain_terms(self) -> list[Term]:
        return [Term(pair_loops.NRTL, self.tau.plain, self.alpha.plain)]

    def ln_gamma(self, x: Array, bound: Bound) -> Array:
        G, D = bound
        S = np.einsum("jin,jn->in", G, x)
        mean = np.einsum("jin,jn->in", D, x) / S
        share = x / S
        return np.asarray(mean + np.einsum("ijn,jn->in", D, share) - np.einsum("ijn,jn->in", G, share * mean))

    def evaluate(self, x: Array, T: Array, bound: Bound) -> ActivityEvaluation:
        G, D = bound
        tau, tau1, tau2 = self.tau.value(T), self.tau.slope(T), self.tau.curvature(T)
        a, a1, a2 = self.alpha.value(T), self.alpha.slope(T), self.alpha.curvature(T)
        rise = -(a1 * tau + a * tau1)
        G1, G2 = rise * G, (rise**2 - (a2 * tau + 2.0 * a1 * tau1 + a * tau2)) * G
        D1, D2 = tau1 * G + tau * G1, tau2 * G + 2.0 * tau1 * G1 + tau * G2
        S, S1, S2 = (np.einsum("jin,jn->in", part, x) for part in (G, G1, G2))
        C, C1, C2 = (np.einsum("jin,jn->in", part, x) for part in (D, D1, D2))
        m, w = C / S, x / S
        m1, w1 = (C1 - m * S1) / S, -w * S1 / S
        m2 = (C2 - 2.0 * m1 * S1 - m * S2) / S

        def over(matrix: Array, columns: Array) -> Array:
            return np.asarray(np.einsum("ijn,jn->in", matrix, columns))

        ln_gamma = m + over(D, w) - over(G, w * m)
        dT = m1 + over(D1, w) + over(D, w1) - over(G1, w * m) - over(G, w1 * m + w * m1)

        def by_mole_numbers() -> Array:
            own = (D - G * m[None, :]) / S[None, :]
            weighted = np.einsum("ikn,jkn->ijn", own, G * w[None, :])
            return np.asarray(own + own.swapaxes(0, 1) - weighted - weighted.swapaxes(0, 1))

        return ActivityEvaluation(ln_gamma, dT, (x * m2).sum(axis=0), by_mole_numbers)

    def select(self, components: Sequence[int]) -> NRTL:
        return NRTL(self.tau.select(components), self.alpha.select(components))
