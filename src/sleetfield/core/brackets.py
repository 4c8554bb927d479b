"""Zeros between two values of an unknown, for functions that are evaluated in batches.

Many zeros are sought side by side, one value for each at a time (`scipy.optimize.elementwise.find_root`). A few are sought by many values at once, where
a batch of some twenty states takes hardly longer than one: a bracket is cut into equal parts, and closer and closer about where the chord has its zero, so that
a smooth function is solved in a few rounds and a jump is found as surely. Where every state costs the same, as in the compiled engine, one value at a time is less.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from .arrays import Array, Index

Error = Callable[[Array, Index], Array]
"""What has to become zero, at values of the unknown ``(M,)`` for the rows ``(M,)``; NaN where it is not known."""

Same = Callable[[Array, Index], NDArray[np.bool_]]
"""Whether places ``(M, ...)`` of the rows ``(M,)`` are still as their first ends are."""

FEW = 4
"""Zeros that are sought by many values at once."""
HALVINGS = 3
"""Halvings of brackets that are made at once."""
_PARTS = np.arange(1, 12) / 12.0
_ABOUT = np.array([-1e-2, -1e-4, -1e-6, 0.0, 1e-6, 1e-4, 1e-2])
_EXACT = 1e-12
_STEPS = 60
_ROUNDS = 16


def narrowed(error: Error, low: Array, high: Array, tolerance: float, few: int = FEW) -> tuple[Array, Array, Array]:
    """Where the error is zero between ``low (N,)`` and ``high (N,)``, to a ``tolerance`` of the unknown, and what is left of the brackets.

    Up to ``few`` zeros are sought by many values at once: none, where that costs as much as one value after the other.
    """
    if len(low) <= few:
        return _at_once(error, low, high, tolerance)
    at, left, right = _one_by_one(error, low, high, tolerance)
    # where a value on the way is not known, others may be
    lost = np.flatnonzero(np.isnan(at) & np.isfinite(low + high))
    if lost.size:
        at[lost], left[lost], right[lost] = _at_once(lambda u, which: error(u, lost[which]), low[lost], high[lost], tolerance)
    return at, left, right


def _one_by_one(error: Error, low: Array, high: Array, tolerance: float) -> tuple[Array, Array, Array]:
    from scipy.optimize.elementwise import find_root

    def of_rows(u: Array, which: Array) -> Array:
        return error(np.ravel(u), np.ravel(which).astype(np.intp)).reshape(u.shape)

    tolerances = {"xatol": tolerance, "xrtol": 0.0, "fatol": _EXACT, "frtol": 0.0}
    everything = np.arange(len(low), dtype=float)
    found = find_root(of_rows, (low, high), args=(everything,), tolerances=tolerances, maxiter=_STEPS)  # type: ignore[call-overload]
    left, right = (np.array(b) for b in found.bracket)
    return np.array(found.x), left, right


def _at_once(error: Error, low: Array, high: Array, tolerance: float) -> tuple[Array, Array, Array]:
    ends = np.stack([low, high])
    errors = error(ends.ravel(), np.tile(np.arange(len(low)), 2)).reshape(ends.shape)
    at = np.full(len(low), np.nan)
    open_ = np.flatnonzero(np.isfinite(errors).all(axis=0) & (np.sign(errors[0]) != np.sign(errors[1])))
    for _ in range(_ROUNDS):
        at[open_] = ends[np.abs(errors[:, open_]).argmin(axis=0), open_]
        open_ = open_[(ends[1] - ends[0] > tolerance)[open_] & (np.abs(errors[:, open_]).min(axis=0) > _EXACT)]
        if not open_.size:
            break
        inside = _places(ends[:, open_], errors[:, open_])
        found = error(inside.ravel(), np.tile(open_, len(inside))).reshape(inside.shape)
        for column, i in enumerate(open_):
            u = np.concatenate([ends[:1, i], inside[:, column], ends[1:, i]])
            e = np.concatenate([errors[:1, i], found[:, column], errors[1:, i]])
            u, e = u[np.isfinite(e)], e[np.isfinite(e)]
            k = int((np.sign(e[:-1]) != np.sign(e[1:])).argmax())
            ends[:, i], errors[:, i] = u[k : k + 2], e[k : k + 2]
    return at, ends[0], ends[1]


def _places(ends: Array, errors: Array) -> Array:
    """Values inside brackets ``(K, N)``, in rising order."""
    (low, high), (e_low, e_high) = ends, errors
    width = high - low
    chord = low + e_low / (e_low - e_high) * width
    return np.sort(np.clip(np.concatenate([low + np.outer(_PARTS, width), chord + np.outer(_ABOUT, width)]), low, high), axis=0)


def change_between(same: Same, low: Array, high: Array, halvings: int, at_once: int = HALVINGS) -> tuple[Array, Array]:
    """Ends around a change between ``low`` and ``high``, each ``(N, ...)``, halved so often.

    Some halvings are made ``at_once``, by all the places that they may lead to, of which the first change counts: one after the other, where that costs as much.
    """
    every, cuts = np.arange(len(low)), np.arange(1, 2**at_once) / 2.0**at_once
    for _ in range(0, halvings, at_once):
        inside = low + cuts.reshape(-1, *[1] * low.ndim) * (high - low)
        places = np.concatenate([low[None], inside, high[None]])
        other = ~same(inside.reshape(-1, *low.shape[1:]), np.tile(every, len(inside))).reshape(len(inside), -1)
        first = np.where(other.any(axis=0), other.argmax(axis=0), len(inside)) + 1
        low, high = places[first - 1, every], places[first, every]
    return low, high
