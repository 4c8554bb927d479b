"""How arrays are handed to the compiled engine."""

from __future__ import annotations

import numpy as np

from ..arrays import Array


def whole(array: Array | None) -> Array | None:
    """An array in one piece, or None."""
    return None if array is None else np.ascontiguousarray(array, dtype=float)


def as_it_lies(x: Array) -> tuple[Array, bool]:
    """An array ``(N, C)`` in one piece, and whether that is component by component."""
    turned = x.T
    return (turned, True) if turned.flags.c_contiguous else (np.ascontiguousarray(x), False)
