"""Is a fluid phase a vapor or a liquid?

1. Where the equation, at the phase's composition and temperature, has a vapor and a liquid branch apart, the phase is what its branch is.
2. Elsewhere it is expanded, at its temperature and composition. If it comes to no limit of stability on the way, it is a vapor: it is one
   already, or is above its critical temperature.
3. Else it is a vapor or a liquid as that limit is one of vapors or of liquids: the two kinds meet at the mixture's own critical point, where the
   cubic form of the Helmholtz energy along the softest direction, taken towards the denser side, changes its sign: it is negative where the phase that
   splits off is denser, positive where it is less dense.

So a dense phase beside an upper dew point is still a vapor, a thin one beside a bubble point is a liquid, and along an isotherm no dense phase
changes its name. No rule can keep every name along every path: two liquids of which one is rich in a light component become a
vapor and a liquid on the way around the critical point of that component. Here they do so where the phase passes the critical temperature of its composition.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Index
from .contract import VolumeModel
from .softest import smallest_eigenvalue, softest

_THIN = 0.125
"""A phase of less packing is a vapor without further question."""
_TRACE = 1e-12
"""Components of which there is less have no part in the softest direction."""
_SHIFT = 1e-6
_EXPANSIONS = np.geomspace(1.0, 8.0, 17).reshape(-1, 1)
_TOGETHER = 4
"""How many expansions are looked at at once."""
_SECANTS = 3


def on_vapor_side(model: VolumeModel, T: Array, packing: Array, thin: NDArray[np.bool_], x: Array) -> NDArray[np.bool_]:
    """Where phases ``x (N, C)`` of given packing are vapors ``(N,)``; ``thin`` says which have less than the critical density of a pure fluid."""
    vapor = thin.copy()
    doubtful = np.flatnonzero(~(thin & (packing < _THIN)))
    doubtful = doubtful[~model.has_branches(T[doubtful], x[doubtful])]
    vapor[doubtful] = True
    dense = doubtful[packing[doubtful] >= _THIN]
    if dense.size:
        n = np.maximum(x[dense], _TRACE)
        vapor[dense] = ~_comes_to_a_limit_of_liquids(model, T[dense], model.covolume(n) / packing[dense], n)
    return vapor


def _comes_to_a_limit_of_liquids(model: VolumeModel, T: Array, V: Array, n: Array) -> NDArray[np.bool_]:
    """Where expansion of ``n (N, C)`` mol from ``V (N,)`` leads to a limit of stability, and what splits off there is less dense."""
    # volume and smallest eigenvalue at the last stable place and at the first unstable one
    last = np.stack([V, np.full(len(V), 1.0)])
    first = np.full((2, len(V)), np.nan)
    going = np.arange(len(V))
    for k in range(0, len(_EXPANSIONS), _TOGETHER):
        there = _EXPANSIONS[k : k + _TOGETHER] * V[going]
        rows = np.tile(going, len(there))
        eigenvalue = smallest_eigenvalue(model, T[rows], there.ravel(), n[rows]).reshape(there.shape)
        bad = eigenvalue < 0.0
        some, at = bad.any(axis=0), bad.argmax(axis=0)
        column = np.arange(len(going))
        before = np.where(some, at - 1, len(there) - 1)
        known = before >= 0
        last[:, going[known]] = there[before, column][known], eigenvalue[before, column][known]
        first[:, going[some]] = there[at, column][some], eigenvalue[at, column][some]
        going = going[~some]
        if not going.size:
            break
    found = np.zeros(len(V), dtype=bool)
    limited = np.flatnonzero(np.isfinite(first[0]))
    if limited.size:
        found[limited] = _less_dense_beside(model, T[limited], _limit(model, T, n, last, first, limited), n[limited])
    return found


def _limit(model: VolumeModel, T: Array, n: Array, last: Array, first: Array, index: Index) -> Array:
    """The volume at the limit of stability, by secants between a stable and an unstable one."""
    (low, e_low), (high, e_high) = last[:, index], first[:, index]
    for _ in range(_SECANTS):
        share = np.clip(np.nan_to_num(e_low / (e_low - e_high), nan=0.5), 0.0, 1.0)
        middle = low + share * (high - low)
        e = smallest_eigenvalue(model, T[index], middle, n[index])
        fine = ~(e < 0.0)
        low, e_low = np.where(fine, middle, low), np.where(fine, e, e_low)
        high, e_high = np.where(fine, high, middle), np.where(fine, e_high, e)
    return np.asarray(middle)


def _less_dense_beside(model: VolumeModel, T: Array, V: Array, n: Array) -> NDArray[np.bool_]:
    """Where the phase that is closest to splitting off is the less dense one."""
    _, form, direction = softest(model, T, V, n)
    along = np.sqrt(n) * direction
    towards = model.covolume(n + _SHIFT * along) - model.covolume(n - _SHIFT * along)
    return np.asarray(form * towards > 0.0)
