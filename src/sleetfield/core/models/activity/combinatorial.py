"""What molecules of different size do to the entropy of mixing, whatever the temperature.

Flory-Huggins, Vᵢ = rᵢ/Σxⱼrⱼ:                 ln γᵢ = 1 - Vᵢ + ln Vᵢ       (Flory, J. Chem. Phys. 10 (1942) 51-61)
Staverman-Guggenheim, with Fᵢ = qᵢ/Σxⱼqⱼ:     ... - 5qᵢ [1 - Vᵢ/Fᵢ + ln(Vᵢ/Fᵢ)]       (Guggenheim, Mixtures (1952); coordination number 10)
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ...arrays import Array
from ...compiled.pair_loops import FLORY_HUGGINS, STAVERMAN_GUGGENHEIM, Term
from .contract import ActivityEvaluation, ActivityModel, Bound


class FloryHuggins(ActivityModel):
    """Sizes ``r (C,)``, in any unit."""

    def __init__(self, r: Array) -> None:
        self.r = np.asarray(r, dtype=float)
        self.n_components = len(self.r)

    def bind(self, T: Array) -> Bound:
        return ()

    def plain_terms(self) -> list[Term]:
        return [Term(FLORY_HUGGINS, own=self.r)]

    def _ratio(self, x: Array, sizes: Array) -> Array:
        return np.asarray(sizes[:, None] / (sizes @ x))

    def ln_gamma(self, x: Array, bound: Bound) -> Array:
        V = self._ratio(x, self.r)
        return np.asarray(1.0 - V + np.log(V))

    def evaluate(self, x: Array, T: Array, bound: Bound) -> ActivityEvaluation:
        return ActivityEvaluation(self.ln_gamma(x, bound), np.zeros_like(x), np.zeros(x.shape[1]), lambda: self._dn(x))

    def _dn(self, x: Array) -> Array:
        away = 1.0 - self._ratio(x, self.r)
        return away[:, None] * away[None, :]

    def select(self, components: Sequence[int]) -> FloryHuggins:
        return FloryHuggins(self.r[list(components)])


class StavermanGuggenheim(FloryHuggins):
    """Sizes ``r`` and surfaces ``q``, ``(C,)`` each."""

    def __init__(self, r: Array, q: Array) -> None:
        super().__init__(r)
        self.q = np.asarray(q, dtype=float)

    def plain_terms(self) -> list[Term]:
        return [Term(STAVERMAN_GUGGENHEIM, own=self.r, other=self.q)]

    def ln_gamma(self, x: Array, bound: Bound) -> Array:
        ratio = self._ratio(x, self.r) / self._ratio(x, self.q)
        return super().ln_gamma(x, bound) - 5.0 * self.q[:, None] * (1.0 - ratio + np.log(ratio))

    def _dn(self, x: Array) -> Array:
        V, F = self._ratio(x, self.r), self._ratio(x, self.q)
        apart = F - V
        # qᵢ/Fᵢ is the mean surface of the mixture
        return super()._dn(x) - 5.0 * (self.q @ x) * apart[:, None] * apart[None, :]

    def select(self, components: Sequence[int]) -> StavermanGuggenheim:
        i = list(components)
        return StavermanGuggenheim(self.r[i], self.q[i])
