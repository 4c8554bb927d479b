"""Models at given T and P that the compiled engine answers for where it has them; elsewhere arrays do."""

from __future__ import annotations

import functools
from abc import abstractmethod
from functools import cached_property
from typing import Generic, TypeVar

from ..arrays import Array
from ..compiled.loops import ModelLoops
from .contract import STABLE, BoundModel, Description, Evaluation, Kind, PhaseModel

Model = TypeVar("Model", bound=PhaseModel)


class ByLoops(BoundModel, Generic[Model]):
    """A model bound to ``T`` and ``P``."""

    def __init__(self, model: Model, T: Array, P: Array) -> None:
        self.model, self.T, self.P = model, T, P

    @abstractmethod
    def ln_phi_by_arrays(self, x: Array, kind: Kind) -> Array:
        """Ln φ ``(N, C)``."""

    @abstractmethod
    def describe_by_arrays(self, x: Array, kind: Kind) -> Description:
        """What phases are like."""

    @abstractmethod
    def evaluate_by_arrays(self, x: Array, kind: Kind) -> Evaluation:
        """Ln φ with its derivatives."""

    def loops(self) -> ModelLoops | None:
        return self._loops

    @cached_property
    def _loops(self) -> ModelLoops | None:
        plain = self.model.plain
        return None if plain is None else ModelLoops(plain, self.T, self.P, self.model.molar_mass)

    def ln_phi(self, x: Array, kind: Kind = STABLE) -> Array:
        return self.ln_phi_by_arrays(x, kind) if self._loops is None else self._loops.ln_phi(x, kind)

    def describe(self, x: Array, kind: Kind = STABLE) -> Description:
        if self._loops is None:
            return self.describe_by_arrays(x, kind)
        Z, packing, (kinds, _) = self._loops.describe(x, kind)
        return Description(Z, kinds, packing)

    def evaluate(self, x: Array, kind: Kind = STABLE) -> Evaluation:
        if self._loops is None:
            return self.evaluate_by_arrays(x, kind)
        ln_phi, dT, dP, (Z, Z_T, Z_P, g_TT) = self._loops.evaluate(x, kind)
        return Evaluation(ln_phi, dT, dP, g_TT, Z, Z_T, Z_P, functools.partial(self._loops.dn, x, kind))
