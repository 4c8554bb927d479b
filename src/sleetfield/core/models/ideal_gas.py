"""Ideal gas: PV = RT, so ln φᵢ = 0 and every derivative is zero."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..arrays import Array, Index
from .contract import STABLE, VAPOR, BoundModel, Description, Evaluation, Kind


class IdealGas:
    """A vapor without interactions, of any components."""

    def at(self, T: Array, P: Array) -> BoundIdealGas:
        """Bind to states."""
        return BoundIdealGas(T, P)

    def select(self, components: Sequence[int]) -> IdealGas:
        """The same for those components."""
        return self


class BoundIdealGas(BoundModel):
    """An ideal gas at given T and P."""

    def __init__(self, T: Array, P: Array) -> None:
        self.T, self.P = T, P

    def rows(self, index: Index) -> BoundIdealGas:
        return BoundIdealGas(self.T[index], self.P[index])

    def ln_phi(self, x: Array, kind: Kind = STABLE) -> Array:
        return np.zeros_like(x)

    def describe(self, x: Array, kind: Kind = STABLE) -> Description:
        return Description(np.ones(len(x)), np.full(len(x), VAPOR), np.zeros(len(x)))

    def evaluate(self, x: Array, kind: Kind = STABLE) -> Evaluation:
        zero, none = np.zeros_like(x), np.zeros(len(x))
        return Evaluation(zero, zero, zero, none, none + 1.0, none, none, lambda: np.zeros((*x.shape, x.shape[1])))
