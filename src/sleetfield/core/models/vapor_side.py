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
_EXPANSIONS = np.geomspace(1.0, 8.0, 17)
_TOGETHER = 4
"""How many expansions are looked at at once."""
_CLOSE = 0.05
"""A smallest eigenvalue below which there may be a negative one between two expansions."""
_FINER = np.linspace(0.0, 1.0, 9)
_FINER_ROUNDS = 5
_LIMIT_STEPS = 20
_AT_LIMIT = 1e-9
"""How close to zero the smallest eigenvalue is brought: next to a critical point the sign of the cubic form depends on it."""


def on_vapor_side(model: VolumeModel, T: Array, packing: Array, thin: NDArray[np.bool_], x: Array) -> NDArray[np.bool_]:
    """Where phases ``x (N, C)`` of given packing are vapors ``(N,)``; ``thin`` says which have less than the critical density of a pure fluid."""
    vapor = thin.copy()
    doubtful = np.flatnonzero(~(thin & (packing < _THIN)))
    doubtful = doubtful[~model.has_branches(T[doubtful], x[doubtful])]
    vapor[doubtful] = True
    dense = doubtful[packing[doubtful] >= _THIN]
    if dense.size:
        n = np.maximum(x[dense], _TRACE)
        vapor[dense] = ~_comes_to_a_limit_of_liquids(model, T[dense], model.covolume(T[dense], n) / packing[dense], n)
    return vapor


def _comes_to_a_limit_of_liquids(model: VolumeModel, T: Array, V: Array, n: Array) -> NDArray[np.bool_]:
    """Where expansion of ``n (N, C)`` mol from ``V (N,)`` leads to a limit of stability, and what splits off there is less dense."""
    stable, unstable = _around_limit(model, T, V, n)
    found = np.zeros(len(V), dtype=bool)
    limited = np.flatnonzero(np.isfinite(unstable[0]))
    if limited.size:
        T, n = T[limited], n[limited]
        found[limited] = _less_dense_beside(model, T, _limit(model, T, n, stable[:, limited], unstable[:, limited]), n)
    return found


def _around_limit(model: VolumeModel, T: Array, V: Array, n: Array) -> tuple[Array, Array]:
    """Volume and smallest eigenvalue at the last stable place of an expansion and at the first unstable one, each ``(2, N)``; NaN if none."""
    places = _EXPANSIONS[:, None] * V
    eigenvalues = np.full(places.shape, np.nan)
    going = np.arange(len(V))
    for k in range(0, len(places), _TOGETHER):
        now = slice(k, k + _TOGETHER)
        eigenvalues[now, going] = _smallest(model, T[going], places[now, going], n[going])
        going = going[~(eigenvalues[now, going] < 0.0).any(axis=0)]
        if not going.size:
            break
    stable, unstable = _first_below_zero(places, eigenvalues)
    narrow = going[np.nanmin(eigenvalues[:, going], axis=0, initial=np.inf) < _CLOSE]
    for _ in range(_FINER_ROUNDS):
        if not narrow.size:
            break
        low, high = _beside_lowest(places[:, narrow], eigenvalues[:, narrow])
        places = np.full((len(_FINER), len(V)), np.nan)
        eigenvalues = places.copy()
        places[:, narrow] = low + _FINER[:, None] * (high - low)
        eigenvalues[:, narrow] = _smallest(model, T[narrow], places[:, narrow], n[narrow])
        stable[:, narrow], unstable[:, narrow] = _first_below_zero(places[:, narrow], eigenvalues[:, narrow])
        narrow = narrow[np.isnan(unstable[0, narrow])]
    return stable, unstable


def _smallest(model: VolumeModel, T: Array, places: Array, n: Array) -> Array:
    """The smallest eigenvalues ``(K, N)`` at volumes ``places (K, N)``."""
    count = len(places)
    return smallest_eigenvalue(model, np.tile(T, count), places.ravel(), np.tile(n, (count, 1))).reshape(places.shape)


def _first_below_zero(places: Array, eigenvalues: Array) -> tuple[Array, Array]:
    """Volume and eigenvalue just before the first negative one, and there; NaN where none is negative."""
    negative = eigenvalues < 0.0
    at, column = negative.argmax(axis=0), np.arange(places.shape[1])
    both = np.stack([places, eigenvalues])
    none = ~negative.any(axis=0)
    return np.where(none, np.nan, both[:, np.maximum(at - 1, 0), column]), np.where(none, np.nan, both[:, at, column])


def _beside_lowest(places: Array, eigenvalues: Array) -> tuple[Array, Array]:
    """The places on both sides of the lowest eigenvalue ``(N,)``."""
    at, column = np.nanargmin(eigenvalues, axis=0), np.arange(places.shape[1])
    return places[np.maximum(at - 1, 0), column], places[np.minimum(at + 1, len(places) - 1), column]


def _limit(model: VolumeModel, T: Array, n: Array, stable: Array, unstable: Array) -> Array:
    """The volume at the limit of stability, between a stable and an unstable place: false position, the side that stays put halved (Illinois)."""
    (low, e_low), (high, e_high) = stable.copy(), unstable.copy()
    for _ in range(_LIMIT_STEPS):
        drop = e_low - e_high
        middle = low + np.divide(e_low, drop, out=np.full(len(T), 0.5), where=drop > 0.0) * (high - low)
        e = smallest_eigenvalue(model, T, middle, n)
        below = e < 0.0
        e_low, e_high = np.where(below, 0.5 * e_low, e), np.where(below, e, 0.5 * e_high)
        low, high = np.where(below, low, middle), np.where(below, middle, high)
        if not (np.abs(e) > _AT_LIMIT).any():
            break
    return np.asarray(middle)


def _less_dense_beside(model: VolumeModel, T: Array, V: Array, n: Array) -> NDArray[np.bool_]:
    """Where the phase that is closest to splitting off is the less dense one."""
    _, form, direction = softest(model, T, V, n)
    along = np.sqrt(n) * direction
    towards = model.covolume(T, n + _SHIFT * along) - model.covolume(T, n - _SHIFT * along)
    return np.asarray(form * towards > 0.0)
