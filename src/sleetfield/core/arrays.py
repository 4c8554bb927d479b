"""Batches of states: the memory layout that the kernels are fast with, and how rows are taken.

A batch of ``N`` compositions is an array ``(N, C)``. The engine keeps it *component-major* (the transpose is contiguous), so
that a sum over a handful of components runs along long contiguous columns. Every function accepts either layout.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Numbers = NDArray[np.inexact]
"""Real or complex ones, where complex steps give derivatives."""
Index = NDArray[np.intp]
Kinds = NDArray[np.int8]

ABSENT = 1e-100
"""Mole fraction that stands for an absent component inside the engine, so that its logarithm is finite."""


def component_major(a: NDArray[np.float64]) -> Array:
    """The same values ``(N, C)``, laid out component by component."""
    return np.ascontiguousarray(a.T).T


def rows(a: Array, index: Index) -> Array:
    """Rows ``index`` of ``a`` (``(N,)`` or ``(N, C)``), component-major."""
    return a[index] if a.ndim == 1 else np.take(a.T, index, axis=1).T


def normalized(w: Array) -> Array:
    """Each row of ``w`` divided by its sum."""
    total: Array = w.sum(axis=-1)
    return w / total[:, None]
