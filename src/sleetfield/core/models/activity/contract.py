"""The contract of activity-coefficient models.

With the molar excess Gibbs energy g = Gᴱ/RT as a function of temperature and mole numbers n, every model answers

    ln γᵢ = ∂(n g)/∂nᵢ,   its derivatives by temperature and mole numbers, and Σ xᵢ ∂²ln γᵢ/∂T² = ∂²g/∂T²,

from which Hᴱ = -RT² ∂g/∂T and Cpᴱ follow (Gibbs-Helmholtz). Pressure does not enter.

Arrays are kept component by component: compositions are ``(C, N)``, pair quantities ``(C, C, N)``. Absent components may be there as
traces of any size.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ...arrays import Array, Index
from ...compiled.pair_loops import Term

Bound = tuple[Array, ...]
"""What a model has precomputed at ``N`` temperatures; the last axis of each array is ``N``."""


@dataclass(frozen=True, eq=False)
class ActivityEvaluation:
    """Activity coefficients and their derivatives at ``N`` states.

    Attributes
    ----------
    ln_gamma, dT : (C, N)
        ln γᵢ and ∂ln γᵢ/∂T, 1/K.
    g_TT : (N,)
        ∂²(Gᴱ/RT)/∂T², 1/K².
    compute_dn : callable
        What gives `dn`.

    """

    ln_gamma: Array
    dT: Array
    g_TT: Array
    compute_dn: Callable[[], Array]

    @cached_property
    def dn(self) -> Array:
        """n ∂ln γᵢ/∂nⱼ ``(C, C, N)``, symmetric."""
        return self.compute_dn()


class ActivityModel(ABC):
    """A model of the excess Gibbs energy, built once for ``C`` components."""

    n_components: int
    n_bound: int = 0
    """How many arrays `bind` gives."""

    @abstractmethod
    def bind(self, T: Array) -> Bound:
        """Precompute what ``T (N,)`` alone decides."""

    @abstractmethod
    def ln_gamma(self, x: Array, bound: Bound) -> Array:
        """Ln γ ``(C, N)`` of mole fractions ``x (C, N)``."""

    @abstractmethod
    def evaluate(self, x: Array, T: Array, bound: Bound) -> ActivityEvaluation:
        """Ln γ with its derivatives."""

    @abstractmethod
    def select(self, components: Sequence[int]) -> ActivityModel:
        """The same for those components."""

    def plain_terms(self) -> list[Term] | None:
        """Its terms as the compiled engine takes them, where it is made of those."""
        return None

    def at(self, T: Array) -> BoundActivity:
        """Bind to temperatures ``(N,)``."""
        return BoundActivity(self, T, self.bind(T))


class BoundActivity:
    """An activity model at ``N`` temperatures."""

    def __init__(self, model: ActivityModel, T: Array, bound: Bound) -> None:
        self.model, self.T, self._bound = model, T, bound

    def ln_gamma(self, x: Array) -> Array:
        """Ln γ ``(C, N)`` of mole fractions ``x (C, N)``."""
        return self.model.ln_gamma(x, self._bound)

    def evaluate(self, x: Array) -> ActivityEvaluation:
        """Ln γ with its derivatives."""
        return self.model.evaluate(x, self.T, self._bound)

    def rows(self, index: Index) -> BoundActivity:
        """The same for the states ``index``."""
        return BoundActivity(self.model, self.T[index], tuple(np.take(part, index, axis=-1) for part in self._bound))


class Sum(ActivityModel):
    """Contributions to the excess Gibbs energy, added."""

    def __init__(self, parts: Sequence[ActivityModel]) -> None:
        self.parts = tuple(parts)
        self.n_components = parts[0].n_components

    def bind(self, T: Array) -> Bound:
        return tuple(array for part in self.parts for array in part.bind(T))

    def _each(self, bound: Bound) -> list[tuple[ActivityModel, Bound]]:
        shares, first = [], 0
        for part in self.parts:
            shares.append((part, bound[first : first + part.n_bound]))
            first += part.n_bound
        return shares

    def plain_terms(self) -> list[Term] | None:
        return _joined([part.plain_terms() for part in self.parts])

    def ln_gamma(self, x: Array, bound: Bound) -> Array:
        return np.asarray(np.sum([part.ln_gamma(x, own) for part, own in self._each(bound)], axis=0))

    def evaluate(self, x: Array, T: Array, bound: Bound) -> ActivityEvaluation:
        each = [part.evaluate(x, T, own) for part, own in self._each(bound)]
        ln_gamma, dT, g_TT = (np.sum([getattr(e, name) for e in each], axis=0) for name in ("ln_gamma", "dT", "g_TT"))
        return ActivityEvaluation(ln_gamma, dT, g_TT, lambda: np.asarray(np.sum([e.dn for e in each], axis=0)))

    def select(self, components: Sequence[int]) -> Sum:
        return Sum([part.select(components) for part in self.parts])


def _joined(each: Sequence[list[Term] | None]) -> list[Term] | None:
    """Lists one after the other, unless one is missing."""
    known = [found for found in each if found is not None]
    return [term for found in known for term in found] if len(known) == len(each) else None
