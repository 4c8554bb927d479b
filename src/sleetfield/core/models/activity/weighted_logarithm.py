"""The term that Wilson's equation and the residual part of UNIQUAC share.

    Gᴱ/RT = -Σ xᵢwᵢ ln(Sᵢ/Q),   Sᵢ = Σⱼ xⱼwⱼLⱼᵢ,   Q = Σ xⱼwⱼ
    ln γᵢ = wᵢ [1 + ln(Q/Sᵢ) - Σₖ xₖwₖLᵢₖ/Sₖ]

with Lᵢᵢ = 1. All its parts are logarithms and quotients of sums of positive terms, so traces and absent components need no care.
Of several compositions at each temperature, ``x (C, ..., N)``, it gives everything but derivatives by mole numbers.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

import numpy as np

from ...arrays import Array
from ...compiled.pair_loops import WEIGHTED_LOGARITHM, Equations, OfTemperature, Term
from .contract import ActivityEvaluation, ActivityModel, Bound


class PairQuantity(Protocol):
    """A quantity of ordered pairs with two derivatives by temperature, ``(C, C, N)`` each."""

    @property
    def plain(self) -> OfTemperature | None:
        """The quantity as the compiled engine takes it, where it has its like; what follows from densities of liquids apart."""

    @property
    def densities(self) -> Equations | None:
        """Densities of liquids whose ratios of volumes are in it, as the compiled engine takes them."""

    def value(self, T: Array) -> Array:
        """The quantity."""

    def slope(self, T: Array) -> Array:
        """Its first derivative."""

    def curvature(self, T: Array) -> Array:
        """Its second derivative."""

    def select(self, components: Sequence[int]) -> PairQuantity:
        """The same for those components."""


class WeightedLogarithm(ActivityModel):
    """The term for weights ``w (C,)`` and ln L, which has ``value``, ``slope`` and ``curvature`` ``(C, C, N)`` by temperature."""

    n_bound = 1

    def __init__(self, weights: Array, ln_L: PairQuantity) -> None:
        self.weights, self.ln_L = np.asarray(weights, dtype=float), ln_L
        self.n_components = len(self.weights)

    def bind(self, T: Array) -> Bound:
        return (np.exp(self.ln_L.value(T)),)

    def plain_terms(self) -> list[Term] | None:
        ln_L = self.ln_L.plain
        return None if ln_L is None else [Term(WEIGHTED_LOGARITHM, ln_L, own=self.weights, densities=self.ln_L.densities)]

    def _sums(self, x: Array, L: Array) -> tuple[Array, Array, Array, Array]:
        """w in the shape of ``x``, xw, S ``(C, ..., N)`` and Q ``(..., N)``."""
        w = self.weights.reshape(-1, *(1,) * (x.ndim - 1))
        xw = x * w
        return w, xw, np.einsum("jin,j...n->i...n", L, xw), xw.sum(axis=0)

    def ln_gamma(self, x: Array, bound: Bound) -> Array:
        L = bound[0]
        w, xw, S, Q = self._sums(x, L)
        return np.asarray(w * (1.0 + np.log(Q / S) - np.einsum("ikn,k...n->i...n", L, xw / S)))

    def evaluate(self, x: Array, T: Array, bound: Bound) -> ActivityEvaluation:
        L = bound[0]
        slope = self.ln_L.slope(T)
        L1 = L * slope
        L2 = L1 * slope + L * self.ln_L.curvature(T)
        w, xw, S, Q = self._sums(x, L)
        S1, S2 = np.einsum("jin,j...n->i...n", L1, xw), np.einsum("jin,j...n->i...n", L2, xw)
        share, rise = xw / S, S1 / S
        ln_gamma = w * (1.0 + np.log(Q / S) - np.einsum("ikn,k...n->i...n", L, share))
        dT = -w * (rise + np.einsum("ikn,k...n->i...n", L1, share) - np.einsum("ikn,k...n->i...n", L, share * rise))
        g_TT = -(xw * (S2 / S - rise**2)).sum(axis=0)

        def by_mole_numbers() -> Array:
            own = L / S[None, :]
            both = np.einsum("ikn,jkn->ijn", own, own * xw[None, :])
            return np.asarray((1.0 / Q - own - own.swapaxes(0, 1) + both) * (w * self.weights)[:, :, None])

        return ActivityEvaluation(ln_gamma, dT, g_TT, by_mole_numbers)

    def select(self, components: Sequence[int]) -> WeightedLogarithm:
        return WeightedLogarithm(self.weights[list(components)], self.ln_L.select(components))
