"""Where fluids begin to form crystals: the highest temperature at given pressure, the lowest pressure at given temperature.

The fluids are flashed without any crystals along a path, from where none can be; the first place at which one of them is supersaturated,

    s(path) = max over crystals of ln (what the fluids' fugacities are / what the crystal needs) = 0,

is closed in on between two places. s is steady along the path, also where phases of the fluids come and go, since fugacities are. In a stable mixture no component's
fugacity is above that of its pure fluid, so that flashes are only made where these would do for a crystal.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

import numpy as np

from ..arrays import ABSENT, Array, Index, component_major
from ..brackets import narrowed
from ..models.contract import PhaseModel
from ..models.crystal import Crystal, ln_f_alone, supersaturations_at
from .flash import flash

_LOWEST = 0.12
"""Of the highest temperature of a crystal: what is fluid still there stays so."""
_COLDEST = 12.0
_TEMPERATURES = 80
_P_LOW, _P_HIGH = 1e2, 1e9
_PRESSURES = 90
_AT_ONCE = 8
"""Places of a path that are looked at before it is asked which paths are done."""
_NEWTON = 40
_LONGEST_T, _LONGEST_LN = 15.0, 1.5
"""Steps of T, K, and of logarithms of ratios of mole fractions that Newton's method takes at most."""
_SETTLED = 1e-9
_FLAT = 1e-12
_CLOSE = 1e-9
"""Of the temperature, or in ln P."""


class Onset(NamedTuple):
    """Where crystals begin to form, NaN where they don't: ``T``, ``P (N,)``, which of them ``(N,)``, -1 where none does, and ln f of the fluids ``(N, C)``."""

    T: Array
    P: Array
    crystal: Index
    ln_f: Array


def ln_fugacities(fluid: PhaseModel, T: Array, P: Array, z: Array) -> Array:
    """Ln(f/Pa) ``(N, C)`` of the fluids at equilibrium, NaN where there is no answer."""
    found = flash(fluid, T, P, z)
    first = component_major(np.maximum(found.x[:, 0], ABSENT))
    return np.asarray(np.log(first) + fluid.at(T, P).ln_phi(first, found.kinds[:, 0]) + np.log(P)[:, None])


def supersaturations(fluid: PhaseModel, crystals: Sequence[Crystal], T: Array, P: Array, z: Array) -> Array:
    """Ln of how many times over each crystal is saturated ``(N, crystals)``."""
    with np.errstate(all="ignore"):
        return supersaturations_at(fluid, crystals, T, P, ln_fugacities(fluid, T, P, z))


def on_cooling(fluid: PhaseModel, crystals: Sequence[Crystal], P: Array, z: Array) -> Onset:
    """The highest temperatures at which a crystal is there, at pressures ``P (N,)``."""
    highest, lowest = max(c.highest_T for c in crystals), _LOWEST * min(c.highest_T for c in crystals)
    # the colder, the closer: what matters there is 1/T
    T = 1.0 / np.linspace(1.0 / highest, 1.0 / max(lowest, _COLDEST), _TEMPERATURES)
    T = np.unique(np.concatenate([T, np.linspace(0.5 * highest, highest, _TEMPERATURES // 2)]))[::-1]
    path = _Path(fluid, crystals, z, lambda u, rows: (-u, P[rows]))
    return path.onset(-T, highest * _CLOSE)


def on_compression(fluid: PhaseModel, crystals: Sequence[Crystal], T: Array, z: Array) -> Onset:
    """The lowest pressures at which a crystal is there, at temperatures ``T (N,)``."""
    path = _Path(fluid, crystals, z, lambda u, rows: (T[rows], np.exp(u)))
    return path.onset(np.linspace(np.log(_P_LOW), np.log(_P_HIGH), _PRESSURES), _CLOSE)


class _Path:
    """States of feeds ``z (N, C)`` along an unknown that rises from where there are no crystals."""

    def __init__(
        self, fluid: PhaseModel, crystals: Sequence[Crystal], z: Array, at: Callable[[Array, Index], tuple[Array, Array]]
    ) -> None:
        self.fluid, self.crystals, self.z, self.at = fluid, crystals, z, at

    def error(self, u: Array, rows: Index) -> Array:
        """s ``(M,)``."""
        each = supersaturations(self.fluid, self.crystals, *self.at(u, rows), self.z[rows])
        return np.asarray(np.where(np.isnan(each), -np.inf, each).max(axis=1))

    def sign(self, u: Array, rows: Index) -> Array:
        """What has the sign of s ``(M,)``: s itself, or where that is negative for certain, what it is below."""
        T, P = self.at(u, rows)
        with np.errstate(all="ignore"):
            alone = np.stack([ln_f_alone(self.fluid, i, T, P) for i in range(self.fluid.n_components)], axis=1)
            most: Array = supersaturations_at(
                self.fluid, self.crystals, T, P, np.where(self.z[rows] > 0.0, alone, np.log(ABSENT))
            ).max(axis=1)
        found = np.minimum(most, -ABSENT)
        may = np.flatnonzero(~(most < 0.0))
        if may.size:
            found[may] = self.error(u[may], rows[may])
        return found

    def onset(self, places: Array, tolerance: float) -> Onset:
        """Where s first becomes positive, to a ``tolerance`` of the unknown."""
        n = len(self.z)
        before, after = np.full(n, np.nan), np.full(n, np.nan)
        open_ = np.arange(n)
        last = np.full(n, np.inf)
        for k in range(0, len(places), _AT_ONCE):
            some = places[k : k + _AT_ONCE]
            s = self.sign(np.tile(some, len(open_)), np.repeat(open_, len(some))).reshape(len(open_), -1)
            # the end of the piece before belongs to this one
            s, at = np.column_stack([last[open_], s]), np.concatenate([[places[max(k - 1, 0)]], some])
            rising = (s[:, :-1] < 0.0) & (s[:, 1:] >= 0.0)
            there, first = rising.any(axis=1), rising.argmax(axis=1)
            before[open_[there]], after[open_[there]] = at[first[there]], at[first[there] + 1]
            last[open_] = s[:, -1]
            open_ = open_[~there]
            if not open_.size:
                break
        return self._closed_in(before, after, tolerance)

    def _closed_in(self, before: Array, after: Array, tolerance: float) -> Onset:
        n = len(self.z)
        found = Onset(np.full(n, np.nan), np.full(n, np.nan), np.full(n, -1), np.full(self.z.shape, np.nan))
        rows = np.flatnonzero(np.isfinite(before))
        if not rows.size:
            return found
        u, _, _ = narrowed(lambda u, which: self.error(u, rows[which]), before[rows], after[rows], tolerance)
        found.T[rows], found.P[rows] = self.at(u, rows)
        with np.errstate(all="ignore"):
            found.ln_f[rows] = ln_fugacities(self.fluid, found.T[rows], found.P[rows], self.z[rows])
            over = supersaturations_at(self.fluid, self.crystals, found.T[rows], found.P[rows], found.ln_f[rows])
        known = np.isfinite(over).any(axis=1)
        found.crystal[rows[known]] = np.nanargmax(over[known], axis=1)
        found.T[rows[~known]] = found.P[rows[~known]] = np.nan
        return found


def together(
    fluid: PhaseModel, crystals: Sequence[Crystal], P: float, T: float, x: Array, fixed: Sequence[int] = ()
) -> tuple[float, Array]:
    """Where a liquid is saturated with all of several crystals: T and its composition ``(C,)``, by Newton's method from ``T`` and ``x``; NaN where that leads nowhere.

    Shares of the ``fixed`` components stay what they are; there are as many free ones as crystals.
    """
    free = np.array([i for i in range(len(x)) if i not in fixed])
    rest = 1.0 - float(x[list(fixed)].sum())
    u = np.concatenate([[T], np.log(x[free[:-1]] / x[free[-1]])])
    step = np.array([1e-4, *[1e-5] * (len(u) - 1)])
    longest = np.array([_LONGEST_T, *[_LONGEST_LN] * (len(u) - 1)])

    def composition(u: Array) -> Array:
        some = np.tile(x, (len(u), 1))
        shares = np.exp(np.column_stack([u[:, 1:], np.zeros(len(u))]))
        some[:, free] = rest * shares / shares.sum(axis=1, keepdims=True)
        return some

    def over(u: Array) -> Array:
        """Supersaturations ``(M, crystals)`` at unknowns ``(M, crystals)``."""
        return supersaturations(fluid, crystals, u[:, 0], np.full(len(u), P), composition(u))

    with np.errstate(all="ignore"):
        for _ in range(_NEWTON):
            at = over(np.concatenate([[u], u + np.diag(step), u - np.diag(step)]))
            slopes = ((at[1 : len(u) + 1] - at[len(u) + 1 :]) / (2.0 * step)[:, None]).T
            if not np.isfinite(at).all() or abs(np.linalg.det(slopes)) < _FLAT:
                break
            move = -np.linalg.solve(slopes, at[0])
            u = u + np.clip(move, -longest, longest)
            if u[0] <= _COLDEST:
                break
            if (np.abs(move) < _SETTLED * np.array([T, *[1.0] * (len(u) - 1)])).all():
                return float(u[0]), composition(u[None])[0]
    return np.nan, np.full(len(x), np.nan)
