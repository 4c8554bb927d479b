"""No vapor at all, where liquids among themselves are meant: whatever is asked for as a vapor is out of the question."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..arrays import Array, Index
from .contract import LIQUID, STABLE, Description, Kind
from .ideal_gas import BoundIdealGas, IdealGas

OUT_OF_THE_QUESTION = 200.0
"""ln φ of a vapor that there is none of."""


class NoVapor(IdealGas):
    """What stands in the vapor's place; it says of itself that it is as dense as a liquid, so that no vapor is offered."""

    def at(self, T: Array, P: Array) -> BoundNoVapor:
        return BoundNoVapor(T, P)

    def select(self, components: Sequence[int]) -> NoVapor:
        return self


class BoundNoVapor(BoundIdealGas):
    """It at given T and P."""

    def rows(self, index: Index) -> BoundNoVapor:
        return BoundNoVapor(self.T[index], self.P[index])

    def ln_phi(self, x: Array, kind: Kind = STABLE) -> Array:
        return np.full_like(x, OUT_OF_THE_QUESTION)

    def describe(self, x: Array, kind: Kind = STABLE) -> Description:
        return Description(np.ones(len(x)), np.full(len(x), LIQUID), np.zeros(len(x)))
