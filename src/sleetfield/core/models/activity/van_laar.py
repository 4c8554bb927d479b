"""Van Laar's equation, the pairs added: Gᴱ/RT = Σᵢ<ⱼ uw/(u + w) with w = Aᵢⱼxᵢ and u = Aⱼᵢxⱼ.

For two components ln γ₁ = A₁₂ [A₂₁x₂/(A₁₂x₁ + A₂₁x₂)]² (van Laar, Z. Phys. Chem. 72 (1910) 723-751, in the form of Carlson and Colburn, Ind. Eng.
Chem. 34 (1942) 581-589). Both parameters of a pair have the same sign, or are zero together.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ...arrays import Array
from .contract import ActivityEvaluation, ActivityModel, Bound
from .pair_function import PairFunction


class VanLaar(ActivityModel):
    """The equation with Aᵢⱼ = ln γᵢ at infinite dilution in j.

    Parameters
    ----------
    A : PairFunction
        Zero on the diagonal.
    """

    n_bound = 1

    def __init__(self, A: PairFunction) -> None:
        self.A = A
        self.n_components = A.coefficients.shape[1]

    def bind(self, T: Array) -> Bound:
        return (self.A.value(T),)

    @staticmethod
    def _shares(x: Array, A: Array) -> tuple[Array, Array, Array]:
        """W, u and 1/(u + w) ``(C, C, N)``; the last is zero for pairs without parameters."""
        w, u = A * x[:, None], A.swapaxes(0, 1) * x[None, :]
        whole = w + u
        return w, u, np.divide(1.0, whole, out=np.zeros_like(whole), where=whole != 0.0)

    def ln_gamma(self, x: Array, bound: Bound) -> Array:
        _, u, per = self._shares(x, bound[0])
        return np.asarray((bound[0] * (u * per) ** 2).sum(axis=1))

    def evaluate(self, x: Array, T: Array, bound: Bound) -> ActivityEvaluation:
        A = bound[0]
        A1, A2 = self.A.slope(T), self.A.curvature(T)
        w, u, per = self._shares(x, A)
        w1, u1 = A1 * x[:, None], A1.swapaxes(0, 1) * x[None, :]
        w2, u2 = A2 * x[:, None], A2.swapaxes(0, 1) * x[None, :]
        turn = (u1 * w - u * w1) * per
        dT = (A1 * (u * per) ** 2 + 2.0 * A * u * per * turn * per).sum(axis=1)
        g_TT = 0.5 * ((u2 * (w * per) ** 2 + w2 * (u * per) ** 2) - 2.0 * turn**2 * per).sum(axis=(0, 1))

        def by_mole_numbers() -> Array:
            # 2 Aᵢⱼ²Aⱼᵢ² xᵢxⱼ/(u + w)³, arranged so that traces neither overflow nor vanish too early
            common = 2.0 * A * A.swapaxes(0, 1) * per
            dn = common * (w * per) * (u * per)
            i = np.arange(len(x))
            dn[i, i] = -2.0 * (per * (A * u * per) ** 2).sum(axis=1)
            return np.asarray(dn)

        return ActivityEvaluation((A * (u * per) ** 2).sum(axis=1), dT, g_TT, by_mole_numbers)

    def select(self, components: Sequence[int]) -> VanLaar:
        return VanLaar(self.A.select(components))
