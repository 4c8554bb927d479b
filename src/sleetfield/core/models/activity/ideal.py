"""The ideal solution: every activity coefficient is one."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ...arrays import Array
from ...compiled.pair_loops import Term
from .contract import ActivityEvaluation, ActivityModel, Bound


class IdealSolution(ActivityModel):
    """No excess Gibbs energy."""

    def __init__(self, n_components: int) -> None:
        self.n_components = n_components

    def bind(self, T: Array) -> Bound:
        return ()

    def plain_terms(self) -> list[Term]:
        return []

    def ln_gamma(self, x: Array, bound: Bound) -> Array:
        return np.zeros_like(x)

    def evaluate(self, x: Array, T: Array, bound: Bound) -> ActivityEvaluation:
        nothing = np.zeros_like(x)
        return ActivityEvaluation(nothing, nothing, np.zeros(x.shape[1]), lambda: np.zeros((len(x), *x.shape)))

    def select(self, components: Sequence[int]) -> IdealSolution:
        return IdealSolution(len(components))
