"""Mixtures of molecules as mixtures of their groups (Derr and Deal, Ind. Eng. Chem. Fundam. 8 (1969) Symp. Ser. 32, 3:40; Fredenslund, Jones and Prausnitz, AIChE J. 21 (1975) 1086-1099).

    Nₖ = Σ νₖᵢnᵢ,      ln γᵢ = Σₖ νₖᵢ [ln Γₖ(N) - ln Γₖ(νᵢ)]

where ln Γ is any model of activity coefficients for the groups; in a pure component, whose groups are νᵢ, every coefficient is one.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ...arrays import Array
from ...compiled.pair_loops import MOST_GROUPS, OF_GROUPS, WEIGHTED_LOGARITHM, Term
from .contract import ActivityEvaluation, ActivityModel, Bound


class OfGroups(ActivityModel):
    """Components as groups.

    Parameters
    ----------
    counts : (G, C)
        How many of each group a molecule of each component has.
    groups : ActivityModel
        Of ``G`` groups.
    """

    def __init__(self, counts: Array, groups: ActivityModel) -> None:
        self.counts, self.groups = np.asarray(counts, dtype=float), groups
        self.n_components, self.n_bound = self.counts.shape[1], groups.n_bound + 1
        self._sizes = self.counts.sum(axis=0)

    def bind(self, T: Array) -> Bound:
        bound = self.groups.bind(T)
        pure = [self.counts[:, i] @ self.groups.ln_gamma(x, bound) for i, x in enumerate(self._alone(T))]
        return (*bound, np.stack(pure))

    def _alone(self, T: Array) -> list[Array]:
        """The fractions of groups in each pure component ``(G, N)``, those that it has none of as traces."""
        x = np.maximum(self.counts / self._sizes, 1e-100)
        return [np.broadcast_to(own[:, None], (len(own), len(T))) for own in x.T]

    def _mixed(self, x: Array) -> tuple[Array, Array]:
        """Fractions of groups in a mixture ``(G, N)``, and moles of groups for one of molecules ``(N,)``."""
        amounts = np.maximum(self.counts @ x, 1e-100)
        total = self._sizes @ x
        return amounts / total, total

    def ln_gamma(self, x: Array, bound: Bound) -> Array:
        *own, pure = bound
        return np.asarray(self.counts.T @ self.groups.ln_gamma(self._mixed(x)[0], tuple(own)) - pure)

    def evaluate(self, x: Array, T: Array, bound: Bound) -> ActivityEvaluation:
        *rest, pure = bound
        own, (fractions, total) = tuple(rest), self._mixed(x)
        mixed = self.groups.evaluate(fractions, T, own)
        alone = [self.groups.evaluate(each, T, own) for each in self._alone(T)]
        pure_dT = np.stack([self.counts[:, i] @ e.dT for i, e in enumerate(alone)])
        pure_TT = np.stack([size * e.g_TT for size, e in zip(self._sizes, alone, strict=True)])
        return ActivityEvaluation(
            self.counts.T @ mixed.ln_gamma - pure,
            self.counts.T @ mixed.dT - pure_dT,
            total * mixed.g_TT - (x * pure_TT).sum(axis=0),
            lambda: np.asarray(np.einsum("ki,kln,lj->ijn", self.counts, mixed.dn, self.counts, optimize=True) / total),
        )

    def loop_terms(self, bound: Bound) -> list[Term] | None:
        *own, pure = bound
        found = self.groups.loop_terms(tuple(own))
        if found is None or len(found) > 1 or found[0].kind != WEIGHTED_LOGARITHM or len(self.counts) > MOST_GROUPS:
            return None
        (term,) = found
        assert term.second is not None
        return [Term(OF_GROUPS, term.first, pure, (self.counts, term.second))]

    def select(self, components: Sequence[int]) -> OfGroups:
        counts = self.counts[:, list(components)]
        present = np.flatnonzero(counts.any(axis=1))
        return OfGroups(counts[present], self.groups.select(present.tolist()))
