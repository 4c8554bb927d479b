"""Van der Waals' mixing rule with binary interaction parameters.

n²a = ΣΣ nᵢnⱼ √(aᵢaⱼ)(1 - kᵢⱼ(T)),     nb = ΣΣ nᵢnⱼ (bᵢ + bⱼ)(1 - lᵢⱼ)/2n,     aᵢ = a_c,i αᵢ(T)
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ...arrays import Array, Index, Numbers
from ...compiled.cubic_loops import Quadratic
from ..attraction import Attraction
from .contract import LinearCovolume, MixingRule

Roots = tuple[Array, Array, Array]


class VanDerWaals(MixingRule):
    """Quadratic in mole numbers.

    Parameters
    ----------
    root_a : callable
        √aᵢ ``(C, N)`` at temperatures ``(N,)``.
    roots_a : callable
        √aᵢ and its first two derivatives by temperature ``(N, C)``.
    kij : (C, C) or (K, C, C)
        Binary interaction parameters, or the coefficients of what they are by temperature (`temperature_terms`).
    b : (C,)
        Covolumes, m3/mol.
    lij : (C, C), optional
        Parameters of the covolume, zero by default, which makes it linear.
    """

    def __init__(
        self, root_a: Callable[[Array], Array], roots_a: Callable[[Array], Roots], kij: Array, b: Array, lij: Array | None = None
    ) -> None:
        self.root_a, self.roots_a, self.b = root_a, roots_a, b
        self.pairs = Attraction(kij)
        self.linear_covolume = lij is None
        self.covolumes = None if lij is None else 0.5 * (b[:, None] + b) * (1.0 - lij)

    def at(self, T: Array) -> BoundVanDerWaals:
        return BoundVanDerWaals(self, T, self.root_a(T))

    def plain(self) -> Quadratic:
        return Quadratic(*self.pairs.sum, self.covolumes)


class BoundVanDerWaals(LinearCovolume):
    """The rule at given temperatures."""

    def __init__(self, rule: VanDerWaals, T: Array, root: Array) -> None:
        self.rule, self.T, self.root = rule, T, root

    def rows(self, index: Index) -> BoundVanDerWaals:
        return BoundVanDerWaals(self.rule, self.T[index], np.take(self.root, index, axis=1))

    def attraction(self, n: Array) -> tuple[Array, Array]:
        u = n.T * self.root
        half = self.rule.pairs.applied(u, self.T)
        a: Array = np.einsum("cn,cn->n", u, half)
        half *= self.root
        return a, half

    def by_temperature(self, n: Array) -> tuple[Array, Array, Array]:
        root, root1, root2 = self.rule.roots_a(self.T)
        u, u1, pairs = n * root, n * root1, self.rule.pairs
        Ku, Ku1 = pairs.applied(u.T, self.T).T, pairs.applied(u1.T, self.T).T
        K1u, K2u = (part.T for part in pairs.applied_slopes(u.T, self.T))
        first = (2.0 * u1 * Ku + u * K1u).sum(axis=-1)
        second = (2.0 * u1 * Ku1 + 2.0 * n * root2 * Ku + 4.0 * u1 * K1u + u * K2u).sum(axis=-1)
        return first, second, 2.0 * (root1 * Ku + root * (Ku1 + K1u))

    def second(self, n: Numbers) -> tuple[Numbers, Numbers, Numbers]:
        root = self.root.T
        a_ij = root[:, :, None] * (2.0 * root)[:, None, :] * self.rule.pairs.matrix(self.T)
        a_i = np.einsum("...ij,...j->...i", a_ij, n)
        return 0.5 * (a_i * n).sum(axis=-1), a_i, a_ij

    def covolume(self, n: Array) -> tuple[Array, Array]:
        if self.rule.covolumes is None:
            return super().covolume(n)
        total = n.sum(axis=-1)
        b_n = self.rule.covolumes @ n.T
        nb = (n.T * b_n).sum(axis=0) / total
        return nb, (2.0 * b_n - nb) / total

    def covolume_second(self, n: Numbers) -> tuple[Numbers, Numbers, Numbers]:
        if self.rule.covolumes is None:
            return super().covolume_second(n)
        total = n.sum(axis=-1)
        nb = (n * (n @ self.rule.covolumes)).sum(axis=-1) / total
        first = (2.0 * (n @ self.rule.covolumes) - nb[:, None]) / total[:, None]
        return nb, first, (2.0 * self.rule.covolumes - first[:, :, None] - first[:, None, :]) / total[:, None, None]
