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

from ..arrays import Array
from .contract import VolumeModel
from .softest import smallest_eigenvalue, softest

_THIN = 0.125
"""A phase of less packing is a vapor without further question."""
_TRACE = 1e-12
"""Components of which there is less have no part in the softest direction."""
_SHIFT = 1e-6
_EXPANSIONS = np.geomspace(1.0, 8.0, 16)
_HALVINGS = 12


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
    stable, unstable = V.copy(), np.full(len(V), np.nan)
    for factor in _EXPANSIONS:
        going = np.flatnonzero(np.isnan(unstable))
        if not going.size:
            break
        there = factor * V[going]
        fine = ~(smallest_eigenvalue(model, T[going], there, n[going]) < 0.0)
        stable[going[fine]], unstable[going[~fine]] = there[fine], there[~fine]
    limited = np.flatnonzero(np.isfinite(unstable))
    low, high, T, n = stable[limited], unstable[limited], T[limited], n[limited]
    for _ in range(_HALVINGS):
        middle = 0.5 * (low + high)
        fine = ~(smallest_eigenvalue(model, T, middle, n) < 0.0)
        low, high = np.where(fine, middle, low), np.where(fine, high, middle)
    found = np.zeros(len(V), dtype=bool)
    if limited.size:
        found[limited] = _less_dense_beside(model, T, 0.5 * (low + high), n)
    return found


def _less_dense_beside(model: VolumeModel, T: Array, V: Array, n: Array) -> NDArray[np.bool_]:
    """Where the phase that is closest to splitting off is the less dense one."""
    _, form, direction = softest(model, T, V, n)
    along = np.sqrt(n) * direction
    towards = model.covolume(n + _SHIFT * along) - model.covolume(n - _SHIFT * along)
    return np.asarray(form * towards > 0.0)
