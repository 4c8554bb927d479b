"""Cubic equations of state with van der Waals' mixing rule in the compiled engine."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Kinds
from . import ENGINE


class CubicLoops(NamedTuple):
    """The arrays that the loops take: the equation's numbers δ₁, δ₂, V_c/b and a/bRT at the critical point, then states and components.

    ``root (C, N)`` are √aᵢ; ``pairs`` 1 - kᵢⱼ, ``(C, C)`` or ``(N, C, C)``; ``b (C,)``, or ``covolumes (C, C)`` where they are not linear.
    """

    numbers: tuple[float, float, float, float]
    RT: Array
    P: Array
    root: Array
    pairs: Array
    b: Array
    covolumes: Array | None
    translation: Array | None
    molar_mass: Array | None

    def flash(self, feed: Array, ln_k: Array, out: Sequence[NDArray[np.generic]]) -> Kinds:
        """Flashes of ``feed (N, C)`` from rough K-values into ``out``, in the order of the fields of `FlashResult`; what became of each state ``(N,)``."""
        assert ENGINE is not None
        n, c = feed.shape
        status = np.zeros(n, dtype=np.int8)
        n_phases, amount, x, Z, kinds, residual, tm = out
        ENGINE.flash_cubic(
            n, c, amount.shape[1], self.numbers, self.pairs.ndim == 3, *map(_whole, self[1:]), _whole(feed), _whole(ln_k),
            n_phases, amount, x, Z, kinds, residual, tm, status,
        )  # fmt: skip
        return status


def _whole(array: Array | None) -> Array | None:
    return None if array is None else np.ascontiguousarray(array)
