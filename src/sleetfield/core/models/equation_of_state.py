"""What equations of state have in common: where the compiled engine has an equation, it is asked; else arrays are."""

from __future__ import annotations

import functools
from abc import abstractmethod
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Index
from ..compiled.equation_loops import BoundEquationLoops
from .contract import STABLE, VAPOR, BoundModel, Description, Evaluation, Kind, VolumeModel
from .vapor_side import on_vapor_side


class EquationOfState(VolumeModel):
    """A volume model that the compiled engine may have."""


class BoundEquation(BoundModel):
    """Such a model at given T and P."""

    def __init__(self, model: EquationOfState, T: Array, P: Array) -> None:
        self._equation, self.T, self.P = model, T, P

    @abstractmethod
    def ln_phi_by_arrays(self, x: Array, kind: Kind) -> Array:
        """Ln φ ``(N, C)``."""

    @abstractmethod
    def describe_by_arrays(self, x: Array, kind: Kind) -> Description:
        """What phases are like."""

    @abstractmethod
    def evaluate_by_arrays(self, x: Array, kind: Kind) -> Evaluation:
        """Ln φ with its derivatives."""

    def loops(self) -> BoundEquationLoops | None:
        return self._loops

    @cached_property
    def _loops(self) -> BoundEquationLoops | None:
        plain = self._equation.plain
        return None if plain is None else BoundEquationLoops(plain, self.T, self.P, self._equation.molar_mass)

    def ln_phi(self, x: Array, kind: Kind = STABLE) -> Array:
        return self.ln_phi_by_arrays(x, kind) if self._loops is None else self._loops.ln_phi(x, kind)

    def describe(self, x: Array, kind: Kind = STABLE) -> Description:
        if self._loops is None:
            return self.describe_by_arrays(x, kind)
        Z, packing, (kinds, _) = self._loops.describe(x, kind)
        return Description(Z, kinds, packing)

    def is_vapor(self, x: Array, kind: Kind = STABLE) -> NDArray[np.bool_]:
        if self._loops is None:
            _, kinds, packing = self.describe(x, kind)
            return on_vapor_side(self._equation, self.T, packing, kinds == VAPOR, x)
        _, packing, (kinds, names) = self._loops.describe(x, kind)
        self._loops.dense_vapors(x, packing, names)
        vapor, open_ = np.asarray(names == 1), np.flatnonzero(names == 2)
        if open_.size:
            vapor[open_] = on_vapor_side(self._equation, self.T[open_], packing[open_], kinds[open_] == VAPOR, x[open_])
        return vapor

    def evaluate(self, x: Array, kind: Kind = STABLE) -> Evaluation:
        if self._loops is None:
            return self.evaluate_by_arrays(x, kind)
        ln_phi, dT, dP, (Z, Z_T, Z_P, g_TT) = self._loops.evaluate(x, kind)
        return Evaluation(ln_phi, dT, dP, g_TT, Z, Z_T, Z_P, functools.partial(self._loops.dn, x, kind))

    @abstractmethod
    def rows(self, index: Index) -> BoundEquation:
        """The same for the states ``index`` (repeats allowed)."""
