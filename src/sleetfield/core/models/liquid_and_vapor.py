"""Two phase models side by side, one for the liquid and one for the vapor, answering as a single one.

The phase asked for decides which of them answers; `STABLE` is whichever has the lower Gibbs energy at that composition.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Protocol

import numpy as np

from ..arrays import Array, Index, Kinds
from .contract import LIQUID, STABLE, VAPOR, BoundModel, Evaluation, Kind, PhaseModel
from .ideal_liquid import IdealLiquid


class VaporModel(Protocol):
    """A model of vapors alone."""

    def at(self, T: Array, P: Array) -> BoundModel:
        """Bind to states."""

    def select(self, components: Sequence[int]) -> VaporModel:
        """The same for those components."""


class LiquidAndVapor(PhaseModel):
    """An ideal liquid beside a vapor; the liquid's saturation fugacities have to be those of that vapor."""

    P_limit = 5.0e6

    def __init__(self, liquid: IdealLiquid, vapor: VaporModel) -> None:
        self.liquid, self.vapor = liquid, vapor
        self.n_components = liquid.n_components

    def at(self, T: Array, P: Array) -> BoundLiquidAndVapor:
        return BoundLiquidAndVapor(self.liquid.at(T, P), self.vapor.at(T, P))

    def ln_saturation_guess(self, T: Array) -> Array:
        return self.liquid.ln_saturation(T)

    def select(self, components: Sequence[int]) -> LiquidAndVapor:
        return LiquidAndVapor(self.liquid.select(components), self.vapor.select(components))


class BoundLiquidAndVapor(BoundModel):
    """Both models at given T and P."""

    def __init__(self, liquid: BoundModel, vapor: BoundModel) -> None:
        self.liquid, self.vapor, self.T, self.P = liquid, vapor, liquid.T, liquid.P

    def rows(self, index: Index) -> BoundLiquidAndVapor:
        return BoundLiquidAndVapor(self.liquid.rows(index), self.vapor.rows(index))

    def _kinds(self, x: Array, kind: Kind) -> Kinds:
        """Each row's kind, the stable one found where it was left open."""
        kinds = np.broadcast_to(np.asarray(kind, dtype=np.int8), (len(x),)).copy()
        is_open = np.flatnonzero(kinds == STABLE)
        if is_open.size:
            some = x[is_open]
            difference = self.liquid.rows(is_open).ln_phi(some) - self.vapor.rows(is_open).ln_phi(some)
            kinds[is_open] = np.where((some * difference).sum(axis=-1) < 0.0, LIQUID, VAPOR)
        return kinds

    def _joined(self, x: Array, kind: Kind, ask: Callable[[BoundModel, Array], tuple[Array, ...]]) -> tuple[Array, ...]:
        """What ``ask`` gets from the model of each row's kind, put together again."""
        kinds = self._kinds(x, kind)
        index = [np.flatnonzero(kinds == k) for k in (VAPOR, LIQUID)]
        models = (self.vapor, self.liquid)
        parts = [ask(m.rows(i), x[i]) for m, i in zip(models, index, strict=True)]
        joined = []
        for vapor, liquid in zip(*parts, strict=True):
            both = np.empty((len(x), *vapor.shape[1:]), dtype=vapor.dtype)
            both[index[0]], both[index[1]] = vapor, liquid
            joined.append(both)
        return tuple(joined)

    def ln_phi(self, x: Array, kind: Kind = STABLE) -> Array:
        return self._joined(x, kind, lambda m, some: (m.ln_phi(some),))[0]

    def describe(self, x: Array, kind: Kind = STABLE) -> tuple[Array, Kinds]:
        Z, kinds = self._joined(x, kind, lambda m, some: m.describe(some))  # type: ignore[arg-type, return-value]
        return Z, kinds.astype(np.int8)

    def evaluate(self, x: Array, kind: Kind = STABLE) -> Evaluation:
        def ask(model: BoundModel, some: Array) -> tuple[Array, ...]:
            e = model.evaluate(some)
            return e.ln_phi, e.dT, e.dP, e.g_TT, e.Z, e.Z_T, e.Z_P

        def by_mole_numbers() -> Array:
            return self._joined(x, kind, lambda model, some: (model.evaluate(some).dn,))[0]

        ln_phi, dT, dP, g_TT, Z, Z_T, Z_P = self._joined(x, kind, ask)
        return Evaluation(ln_phi, dT, dP, g_TT, Z, Z_T, Z_P, by_mole_numbers)
