"""What equations of state have in common at given T and P."""

from __future__ import annotations

from abc import abstractmethod
from typing import Self, TypeVar

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Index
from .by_loops import ByLoops
from .contract import STABLE, VAPOR, Kind, VolumeModel
from .vapor_side import on_vapor_side

Equation = TypeVar("Equation", bound=VolumeModel)


class BoundEquation(ByLoops[Equation]):
    """An equation of state at given T and P."""

    def is_vapor(self, x: Array, kind: Kind = STABLE) -> NDArray[np.bool_]:
        if self._loops is None:
            _, kinds, packing = self.describe(x, kind)
            return on_vapor_side(self.model, self.T, packing, kinds == VAPOR, x)
        _, packing, (kinds, names) = self._loops.describe(x, kind)
        self._loops.dense_vapors(x, packing, names)
        vapor, open_ = np.asarray(names == 1), np.flatnonzero(names == 2)
        if open_.size:
            vapor[open_] = on_vapor_side(self.model, self.T[open_], packing[open_], kinds[open_] == VAPOR, x[open_])
        return vapor

    @abstractmethod
    def rows(self, index: Index) -> Self:
        """The same for the states ``index`` (repeats allowed)."""
