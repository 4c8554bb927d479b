"""Mixtures of molecules as mixtures of their groups (Derr and Deal, Ind. Eng. Chem. Fundam. 8 (1969) Symp. Ser. 32, 3:40; Fredenslund, Jones and Prausnitz, AIChE J. 21 (1975) 1086-1099).

    Nₖ = Σ νₖᵢnᵢ,      ln γᵢ = Σₖ νₖᵢ [ln Γₖ(N) - ln Γₖ(νᵢ)]

where ln Γ are activity coefficients of the groups; in a pure component, whose groups are νᵢ, every coefficient is one.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ...arrays import Array
from ...compiled.pair_loops import MOST_GROUPS, OF_GROUPS, Term
from .contract import ActivityEvaluation, ActivityModel, Bound
from .weighted_logarithm import WeightedLogarithm


class OfGroups(ActivityModel):
    """Components as groups.

    Parameters
    ----------
    counts : (G, C)
        How many of each group a molecule of each component has.
    groups : WeightedLogarithm
        Of ``G`` groups.
    """

    def __init__(self, counts: Array, groups: WeightedLogarithm) -> None:
        self.counts, self.groups = np.asarray(counts, dtype=float), groups
        self.n_components, self.n_bound = self.counts.shape[1], groups.n_bound + 1
        self._sizes = self.counts.sum(axis=0)

    def bind(self, T: Array) -> Bound:
        bound = self.groups.bind(T)
        return (*bound, self._of_molecules(self.groups.ln_gamma(self._alone(T), bound)))

    def _alone(self, T: Array) -> Array:
        """The fractions of groups in each pure component ``(G, C, N)``, those that it has none of as traces."""
        x = np.maximum(self.counts / self._sizes, 1e-100)
        return np.broadcast_to(x[:, :, None], (*x.shape, len(T)))

    def _of_molecules(self, of_groups: Array) -> Array:
        """What quantities of the groups in each pure component ``(G, C, N)`` come to for the component ``(C, N)``."""
        return np.asarray(np.einsum("kc,kcn->cn", self.counts, of_groups))

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
        alone = self.groups.evaluate(self._alone(T), T, own)
        return ActivityEvaluation(
            self.counts.T @ mixed.ln_gamma - pure,
            self.counts.T @ mixed.dT - self._of_molecules(alone.dT),
            total * mixed.g_TT - self._sizes @ (x * alone.g_TT),
            lambda: np.asarray(np.einsum("ki,kln,lj->ijn", self.counts, mixed.dn, self.counts, optimize=True) / total),
        )

    def plain_terms(self) -> list[Term] | None:
        own = self.groups.plain_terms()
        if own is None or len(self.counts) > MOST_GROUPS:
            return None
        return [own[0]._replace(kind=OF_GROUPS, counts=self.counts)]

    def select(self, components: Sequence[int]) -> OfGroups:
        counts = self.counts[:, list(components)]
        present = np.flatnonzero(counts.any(axis=1))
        return OfGroups(counts[present], self.groups.select(present.tolist()))
