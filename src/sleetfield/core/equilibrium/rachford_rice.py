"""Phase split of a feed for given K-values.

Solves Σ zᵢ(Kᵢ - 1)/(1 + β(Kᵢ - 1)) = 0 (Rachford and Rice, J. Petrol. Technol. 4 (1952) 10-19) between its two inner
asymptotes, so that compositions are positive whether or not β lies in (0, 1) (Leibovici and Nichita, Fluid Phase Equilib. 267
(2008) 127-132). The smaller of the two phase amounts is the unknown, so a trace of either phase keeps its precision.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ..arrays import Array
from ..compiled import ENGINE
from ..compiled.layout import as_it_lies, whole

_ITERATIONS = 60
_LARGEST = 667.0
_TRACE = 1e-60
"""Less of a component than this does not count, whatever its K-value."""
SMALL_STEP = 1e-10
"""Newton's method is quadratic: after a step this small, what is left is below rounding."""


class Split(NamedTuple):
    """Amounts and mole fractions of two phases: ``vapor + liquid = 1``, ``y = K x`` (x and y normalized)."""

    vapor: Array
    liquid: Array
    x: Array
    y: Array


def k_values(z: Array, ln_k: Array) -> Array:
    """K ``(N, C)`` that neither overflow nor vanish, and of components absent from ``z (N, C)`` none that would count."""
    K = np.exp(np.clip(ln_k, -_LARGEST, _LARGEST))
    if z.size and z.min() < _TRACE:
        K = np.where(z < _TRACE, np.clip(K, 1e-40, 1e40), K)
    return np.asarray(K)


def brackets(z: Array, K: Array) -> tuple[Array, Array]:
    """Where K-values can split a feed at all ``(N,)``, and where the split has 0 < β < 1."""
    possible = (K.max(axis=-1) > 1.0) & (K.min(axis=-1) < 1.0)
    inside = ((z * K).sum(axis=-1) > 1.0) & ((z / K).sum(axis=-1) > 1.0)
    return possible, inside


def split(z: Array, K: Array, guess: Array | None = None, small_step: float = SMALL_STEP) -> Split:
    """Split ``z (N, C)`` by ``K (N, C)``; each row must have K on both sides of 1. ``guess`` is a vapor amount to start from.

    The last step of the amounts is at most ``small_step`` of them; their error is about its square.
    """
    if ENGINE is not None and z.shape[1] <= ENGINE.MOST_COMPONENTS and z.shape == K.shape:
        n, c = z.shape
        amounts, x, y = np.empty((2, n)), np.empty((c, n)), np.empty((c, n))
        ENGINE.split(n, c, *as_it_lies(z), *as_it_lies(K), whole(guess), small_step, amounts, x, y)
        return Split(amounts[0], amounts[1], x.T, y.T)
    return _split_by_arrays(z, K, guess, small_step)


def _split_by_arrays(z: Array, K: Array, guess: Array | None, small_step: float) -> Split:
    flip = (z * (K - 1.0) / (K + 1.0)).sum(axis=-1) > 0.0
    any_flip = bool(flip.any())
    k = np.where(flip[:, None], 1.0 / K, K) if any_flip else K
    k1 = k - 1.0
    low = -1.0 / k1.max(axis=-1)
    high = np.minimum(-1.0 / k1.min(axis=-1), 0.5)
    b = 0.5 * (np.maximum(low, 0.0) + high) if guess is None else np.where(flip, 1.0 - guess, guess)
    b = np.where((b > low) & (b <= high), b, 0.5 * (low + high))
    for _ in range(_ITERATIONS):
        t = k1 / (1.0 + b[:, None] * k1)
        zt = z * t
        g = zt.sum(axis=-1)
        slope = (zt * t).sum(axis=-1)
        low = np.where(g > 0.0, b, low)
        high = np.where(g < 0.0, b, high)
        step = b + g / slope
        step = np.where((step >= low) & (step <= high), step, 0.5 * (low + high))
        moved = np.abs(step - b) > small_step * np.abs(step)
        b = step
        if not moved.any():
            break
    x = z / (1.0 + b[:, None] * k1)
    y = k * x
    x /= x.sum(axis=-1)[:, None]
    y /= y.sum(axis=-1)[:, None]
    if not any_flip:
        return Split(b, 1.0 - b, x, y)
    turned = flip[:, None]
    return Split(np.where(flip, 1.0 - b, b), np.where(flip, b, 1.0 - b), np.where(turned, y, x), np.where(turned, x, y))
