"""Cubic equations of state in the compiled engine."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ..arrays import Array, Kinds
from .layout import as_it_lies, whole
from .loops import CUBIC, ModelLoops, engine, kinds

Numbers = tuple[float, float, float, float, float]
"""δ₁, δ₂, V_c/b of a pure component, a/bRT of one at its critical temperature, and R."""


class Quadratic(NamedTuple):
    """What a mixing rule is to the loops: n²a = Σ nᵢnⱼ √(aᵢaⱼ)(1 - kᵢⱼ), nb = Σ nᵢbᵢ or Σ nᵢnⱼ bᵢⱼ/n, and what water adds to n²a.

    ``root (C, N)`` √aᵢ; ``pairs (C, C)`` or ``(N, C, C)`` 1 - kᵢⱼ; ``b (C,)``; ``covolumes (C, C)`` where nb is not linear; ``water`` and ``l (C, N)`` of
    `models.mixing.in_water`, -1 and None where there is none.
    """

    root: Array
    pairs: Array
    b: Array
    covolumes: Array | None = None
    water: int = -1
    l: Array | None = None  # noqa: E741


class CubicLoops(ModelLoops):
    """A cubic equation at ``N`` temperatures and pressures.

    Parameters
    ----------
    numbers : Numbers
    T, P : (N,)
    mixing : Quadratic
    translation, molar_mass : (C,), optional

    """

    def __init__(
        self, numbers: Numbers, T: Array, P: Array, mixing: Quadratic, translation: Array | None, molar_mass: Array | None
    ) -> None:
        root, pairs, b, covolumes, water, of_water = mixing
        arrays = T, P, root, pairs, b, covolumes, of_water, translation
        super().__init__(CUBIC, (numbers, pairs.ndim == 3, water, *map(whole, arrays)), (len(T), len(b)), molar_mass)

    def evaluate(self, x: Array, kind: np.int8 | Kinds, slopes: Array) -> tuple[Array, Array, Array, Array]:
        """Ln φ, its derivatives by T and P ``(N, C)``, and Z, ∂Z/∂T, ∂Z/∂P, Σ x ∂²ln φ/∂T² ``(4, N)``.

        ``slopes (2, C, N)`` are the first two derivatives by temperature of √aᵢ, ``(4, C, N)`` with those of water's lᵢ.
        """
        found = np.empty(self.shape), np.empty(self.shape), np.empty(self.shape), np.empty((4, self.shape[0]))
        engine().evaluate(self._model, *self.shape, *as_it_lies(x), *kinds(kind), whole(slopes), *found)
        return found

    def dense_vapors(self, x: Array, packing: Array, names: Kinds) -> None:
        """Settle, in place, as far as that can be done, which of the phases whose name is 2 are vapors."""
        engine().dense_vapors(self._model, *self.shape, *as_it_lies(x), packing, names)

    def locally_stable(self, V: Array, n: Array) -> Kinds:
        """Whether ``n (N, C)`` mol in volumes ``V (N,)`` are stable: 1, 0, or 2 where that can't be said."""
        found = np.empty(self.shape[0], dtype=np.int8)
        engine().stable(self._model, *self.shape, whole(V), *as_it_lies(n), found)
        return found
