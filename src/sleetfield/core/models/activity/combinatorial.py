"""What molecules of different size do to the entropy of mixing, whatever the temperature.

Flory-Huggins, Vᵢ = rᵢ/Σxⱼrⱼ:                 ln γᵢ = 1 - Vᵢ + ln Vᵢ       (Flory, J. Chem. Phys. 10 (1942) 51-61)
Staverman-Guggenheim, with Fᵢ = qᵢ/Σxⱼqⱼ:     ... - 5qᵢ [1 - Vᵢ/Fᵢ + ln(Vᵢ/Fᵢ)]       (Guggenheim, Mixtures (1952); coordination number 10)

Weidlich and Gmehling, Ind. Eng. Chem. Res. 26 (1987) 1372-1381, have r^¾ for r in the first two terms.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ...arrays import Array
from ...compiled.pair_loops import FLORY_HUGGINS, GUGGENHEIM, Term
from .contract import ActivityEvaluation, ActivityModel, Bound, Sum


class FloryHuggins(ActivityModel):
    """Sizes ``r (C,)``, in any unit."""

    def __init__(self, r: Array) -> None:
        self.r = np.asarray(r, dtype=float)
        self.n_components = len(self.r)

    def bind(self, T: Array) -> Bound:
        return ()

    def plain_terms(self) -> list[Term]:
        return [Term(FLORY_HUGGINS, own=self.r)]

    def ln_gamma(self, x: Array, bound: Bound) -> Array:
        V = _share(x, self.r)
        return np.asarray(1.0 - V + np.log(V))

    def evaluate(self, x: Array, T: Array, bound: Bound) -> ActivityEvaluation:
        return ActivityEvaluation(self.ln_gamma(x, bound), np.zeros_like(x), np.zeros(x.shape[1]), lambda: self._dn(x))

    def _dn(self, x: Array) -> Array:
        away = 1.0 - _share(x, self.r)
        return away[:, None] * away[None, :]

    def select(self, components: Sequence[int]) -> FloryHuggins:
        return FloryHuggins(self.r[list(components)])


class Guggenheim(ActivityModel):
    """What surfaces ``q`` beside sizes ``r``, ``(C,)`` each, change of it."""

    def __init__(self, r: Array, q: Array) -> None:
        self.r, self.q = np.asarray(r, dtype=float), np.asarray(q, dtype=float)
        self.n_components = len(self.r)

    def bind(self, T: Array) -> Bound:
        return ()

    def plain_terms(self) -> list[Term]:
        return [Term(GUGGENHEIM, own=self.r, other=self.q)]

    def ln_gamma(self, x: Array, bound: Bound) -> Array:
        ratio = _share(x, self.r) / _share(x, self.q)
        return np.asarray(-5.0 * self.q[:, None] * (1.0 - ratio + np.log(ratio)))

    def evaluate(self, x: Array, T: Array, bound: Bound) -> ActivityEvaluation:
        return ActivityEvaluation(self.ln_gamma(x, bound), np.zeros_like(x), np.zeros(x.shape[1]), lambda: self._dn(x))

    def _dn(self, x: Array) -> Array:
        apart = _share(x, self.q) - _share(x, self.r)
        # qᵢ/Fᵢ is the mean surface of the mixture
        return np.asarray(-5.0 * (self.q @ x) * apart[:, None] * apart[None, :])

    def select(self, components: Sequence[int]) -> Guggenheim:
        i = list(components)
        return Guggenheim(self.r[i], self.q[i])


class StavermanGuggenheim(Sum):
    """Sizes ``r`` and surfaces ``q``, ``(C,)`` each; with ``power`` the first part has sizes to that power."""

    def __init__(self, r: Array, q: Array, power: float = 1.0) -> None:
        super().__init__([FloryHuggins(np.asarray(r, dtype=float) ** power), Guggenheim(r, q)])


def _share(x: Array, own: Array) -> Array:
    """Each component's over the mixture's, ``(C, N)``."""
    return np.asarray(own[:, None] / (own @ x))
