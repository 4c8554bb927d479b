"""Phases of a feed whose K-values are given numbers, one phase beyond the bubble or the dew point included."""

from __future__ import annotations

import numpy as np

from ..arrays import Array
from .rachford_rice import Split, brackets, split


def split_by_k(z: Array, K: Array) -> Split:
    """Vapor and liquid of feeds ``z (N, C)`` with K-values ``(N, C)``; of one phase, the other's composition is the one that would form first."""
    possible, inside = brackets(z, K)
    amount = np.where((z * (K - 1.0)).sum(axis=-1) > 0.0, 1.0, 0.0)
    x, y = z / K, z * K
    # above the dew point the feed is the vapor, below the bubble point the liquid
    found = Split(
        amount,
        1.0 - amount,
        np.where(amount[:, None] > 0.5, x / x.sum(axis=-1)[:, None], z),
        np.where(amount[:, None] > 0.5, z, y / y.sum(axis=-1)[:, None]),
    )
    rows = np.flatnonzero(np.logical_and(possible, inside))
    if rows.size:
        there = z[rows] > 0.0
        for whole, part in zip(found, split(z[rows], np.where(there, K[rows], 1.0)), strict=True):
            whole[rows] = part
        found.y[rows] = np.where(there, found.y[rows], 0.0)
    return found
