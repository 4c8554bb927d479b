"""Bubble and dew points that are on no line from low pressure, or of feeds that boil as two liquids: by flashes beside them.

The phase that is about to form is left out of the balances and the sum of its mole fractions set to one, with everything solved at once
(`simultaneous`): from the boiling point that the feed would have as one liquid, or from where flashes along T or P see the phase come and go.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .arrays import ABSENT, Array, Index, Kinds
from .brackets import HALVINGS, change_between
from .coldest import LEAST_T, coldest
from .equilibrium.flash import FlashResult, easily, flash, result_of_phases
from .equilibrium.saturation import SaturationResult, bubble_at_P, bubble_at_T, dew_at_P, dew_at_T
from .equilibrium.stability import UNSTABLE, of_feeds
from .models.contract import LIQUID, VAPOR
from .simultaneous import INCIPIENT, solve_together
from .specification import Specification, Thermodynamics

_COLD, _HOTTEST = 300.0, 1500.0
"""K; up to the first, what is frozen is left out."""
_PRESSURES = 1e2, 5e8
_PLACES, _STRETCH, _STEPS = 160, 40, 60
_FAR_BELOW = 1e3
"""The pressure over the vapor pressure of whatever is the most volatile from which on there is no vapor for sure."""
_NARROWING = 9
_SHORT = {"P": (0.99, 1.03, 1.08, 0.95), "T": (1.2, 0.8, 0.5, 2.0)}
"""Factors on the unknown, T or P, to come to two liquids: their boiling point lies beyond that of the one, little or far."""
_SAME = 1e-6
_OUTSIDE, _INSIDE, _ELSEWHERE, _UNKNOWN = 0, 1, 5, 9


def nothing_found(z: Array) -> SaturationResult:
    """No points yet, for feeds ``z (N, C)``."""
    one = np.full(len(z), np.nan)
    return SaturationResult(one.copy(), one.copy(), np.full(z.shape, np.nan), one.copy(), one.copy())


def split_bubble(mixture: Thermodynamics, known: str, given: Array, z: Array) -> SaturationResult:
    """Bubble points at given ``known`` ("T" or "P") ``(N,)`` of feeds ``z (N, C)`` that boil as two liquids; NaN for others.

    They are sought from the boiling point that a feed would have as one liquid, and the two that it is somewhat short of that.
    """
    found = nothing_found(z)
    point = (bubble_at_T if known == "T" else bubble_at_P)(mixture.model, given, z)
    for short in _SHORT[known]:
        rows = np.flatnonzero(point.found & (point.tm < UNSTABLE) & ~found.found)
        if not rows.size:
            break
        T, P = point.T[rows], point.P[rows]
        below = easily(mixture.model, T * (1.0 if known == "T" else short), P * (short if known == "T" else 1.0), z[rows])
        two = np.flatnonzero((below.n_phases == 2) & (below.kinds[:, :2] == LIQUID).all(axis=1))
        if two.size:
            liquids = below.amount[two, :2, None] * below.x[two, :2]
            moles = np.concatenate([point.incipient[rows[two], None], liquids], axis=1)
            kinds = np.tile(np.array([VAPOR, LIQUID, LIQUID], dtype=np.int8), (two.size, 1))
            _solve(mixture, known, given, z, rows[two], T[two], P[two], moles, kinds, found)
    return found


def displaced_dew(mixture: Thermodynamics, known: str, given: Array, z: Array) -> SaturationResult:
    """Dew points at given ``known`` ("T" or "P") ``(N,)`` of feeds ``z (N, C)`` from which another liquid forms before the one that is usually found; NaN for others.

    They are sought from there with that liquid.
    """
    dew = dew_at_T if known == "T" else dew_at_P
    point = dew(mixture.model, given, z)
    first = of_feeds(mixture.model, point.T, point.P, z).trial
    found = dew(mixture.model, given, z, (point.P if known == "T" else point.T, first))
    before = found.P < point.P if known == "T" else found.T > point.T
    for column in (found.T, found.P):
        column[~(before & (found.tm >= UNSTABLE))] = np.nan
    return found


def scanned(mixture: Thermodynamics, kind: str, known: str, given: Array, z: Array) -> SaturationResult:
    """Points of a ``kind`` ("bubble" or "dew") at given ``known`` ("T" or "P") ``(N,)`` of feeds ``z (N, C)``, where flashes along the other
    see the phase that forms come or go. Of several it is the one that the usual search prefers.
    """
    with np.errstate(all="ignore"):
        return _Scan(mixture, kind, known, given, z).points()


@dataclass(frozen=True)
class _Scan:
    """Feeds at given T or P, looked at along the logarithm of the other, ``u``."""

    mixture: Thermodynamics
    kind: str
    known: str
    given: Array
    z: Array

    def conditions(self, u: Array, rows: Index) -> tuple[Array, Array]:
        given = self.given[rows]
        return (given, np.exp(u)) if self.known == "T" else (np.exp(u), given)

    def flash(self, u: Array, rows: Index) -> FlashResult:
        return flash(self.mixture.model, *self.conditions(u, rows), self.z[rows])

    def place(self, u: Array, rows: Index) -> NDArray[np.intp]:
        """Outside where the feed is liquid, or vapor, as before the point; inside where the phase that forms is there too; unknown where that is not settled at once."""
        found = easily(self.mixture.model, *self.conditions(u, rows), self.z[rows])
        there = np.isfinite(found.amount)
        vapor, liquid = (((found.kinds == kind) & there).any(axis=1) for kind in (VAPOR, LIQUID))
        alone = liquid & ~vapor if self.kind == "bubble" else vapor & ~liquid
        settled = found.tm >= UNSTABLE
        return np.select([settled & alone, settled & vapor & liquid, settled], [_OUTSIDE, _INSIDE, _ELSEWHERE], _UNKNOWN)

    def grid(self) -> Array:
        """Where each feed is looked at ``(K, N)``."""
        low, high = (np.log(np.broadcast_to(end, len(self.z))) for end in self._ends())
        return np.linspace(low, high, _PLACES)

    def _ends(self) -> tuple[float | Array, float | Array]:
        """Lowest and highest T or P at which there may be a vapor."""
        model, z = self.mixture.model, self.z
        if self.known == "T":
            lowest, highest = _PRESSURES
            return lowest, np.minimum(_FAR_BELOW * self._most_volatile(self.given), highest)
        T = np.geomspace(LEAST_T, _COLD, _STEPS)
        some = np.stack([self._most_volatile(np.full(len(z), t)) for t in T]) * _FAR_BELOW > self.given
        return np.maximum(coldest(model, z, _COLD), np.where(some.any(axis=0), T[some.argmax(axis=0)], _COLD)), _HOTTEST

    def _most_volatile(self, T: Array) -> Array:
        """Rough vapor pressures of what each feed has ``(N,)``, the highest one."""
        ln_P = np.where(self.z > ABSENT, self.mixture.model.ln_saturation_guess(T), -np.inf)
        return np.asarray(np.exp(np.minimum(ln_P.max(axis=1), 700.0)))

    def points(self) -> SaturationResult:
        """From the side that the usual search prefers, stretch by stretch, up to where a point is found."""
        found, grid = nothing_found(self.z), self.grid()
        # where the highest is below the lowest there is no vapor
        rows = np.flatnonzero(grid[-1] > grid[0])
        if (self.kind == "dew") != (self.known == "T"):
            grid = grid[::-1]
        before = np.zeros((0, len(self.z)), dtype=np.intp)
        for first in range(0, len(grid), _STRETCH):
            rows = rows[~found.found[rows]]
            if not rows.size:
                break
            u = grid[first : first + _STRETCH, rows]
            place = np.concatenate([before[:, rows], self.place(u.ravel(), np.tile(rows, len(u))).reshape(u.shape)])
            for k in range(1, len(place)):
                place[k] = np.where(place[k] == _UNKNOWN, place[k - 1], place[k])
            self._along(rows, grid[first + len(u) - len(place) : first + len(u), rows], place, found)
            before = np.full((1, len(self.z)), _ELSEWHERE)
            before[0, rows] = place[-1]
        return found

    def _along(self, rows: Index, u: Array, place: NDArray[np.intp], found: SaturationResult) -> None:
        """The first points of feeds on borders between values ``u (K, M)`` of which the ``place`` is known, into ``found``."""
        # what lies inside may be narrower than the grid
        border = (place[1:] == _OUTSIDE) != (place[:-1] == _OUTSIDE)
        while True:
            some = np.flatnonzero(border.any(axis=0) & ~found.found[rows])
            if not some.size:
                return
            k = border[:, some].argmax(axis=0)
            border[k, some] = False
            away = place[k, some] == _OUTSIDE
            self._beside(rows[some], u[np.where(away, k, k + 1), some], u[np.where(away, k + 1, k), some], found)

    def _beside(self, rows: Index, outside: Array, inside: Array, found: SaturationResult) -> None:
        """Points on borders between ``outside`` and ``inside``, into ``found``."""

        def still_outside(u: Array, which: Index) -> NDArray[np.bool_]:
            return np.asarray(self.place(u, rows[which]) == _OUTSIDE)

        at_once = 1 if self.mixture.model.costs_by_state() else HALVINGS
        outside, inside = change_between(still_outside, outside, inside, _NARROWING, at_once)
        there = np.flatnonzero(self.place(inside, rows) == _INSIDE)
        self._between(rows[there], outside[there], inside[there], found)

    def _between(self, rows: Index, outside: Array, inside: Array, found: SaturationResult) -> None:
        """Points between states on both sides, near each other, into ``found``."""
        before, after = self.flash(outside, rows), self.flash(inside, rows)
        # of the phases that form, the vapor comes first, and the liquid that there is most of
        forming = np.zeros(len(rows), dtype=np.intp)
        if self.kind == "dew":
            forming = np.where(after.kinds == LIQUID, after.amount, -1.0).argmax(axis=1)
        for f in (1, 2):
            some = np.flatnonzero(before.n_phases == f)
            if not some.size:
                continue
            x = np.concatenate([after.x[some, forming[some]][:, None], before.x[some, :f]], axis=1)
            amount = np.concatenate([np.ones((some.size, 1)), before.amount[some, :f]], axis=1)
            kinds = np.concatenate([after.kinds[some, forming[some]][:, None], before.kinds[some, :f]], axis=1)
            T, P = self.conditions(inside[some], rows[some])
            _solve(self.mixture, self.known, self.given, self.z, rows[some], T, P, amount[:, :, None] * x, kinds, found)


def _solve(
    mixture: Thermodynamics,
    known: str,
    given: Array,
    z: Array,
    index: Index,
    T: Array,
    P: Array,
    moles: Array,
    kinds: Kinds,
    found: SaturationResult,
) -> None:
    """Everything at once, for the states ``index`` from ``moles (M, F, C)`` of which the first phase is about to form; into ``found`` where
    no further phase would form.
    """
    named: Mapping[str, Array] = {known: given[index], INCIPIENT: np.ones(index.size)}
    with np.errstate(all="ignore"):
        solved = solve_together(Specification(mixture, named, z[index]), T, P, moles, kinds)
        x = solved.n / solved.n.sum(axis=2)[:, :, None]
        apart = np.full(index.size, np.inf)
        for k in range(x.shape[1]):
            for j in range(k):
                apart = np.minimum(apart, np.where(z[index] > 0.0, np.abs(np.log(x[:, k] / x[:, j])), 0.0).max(axis=1))
        good = np.flatnonzero(solved.sound & (apart > _SAME))
    if not good.size:
        return
    amount, rows = solved.n[good].sum(axis=2), index[good]
    share = np.concatenate([np.zeros((good.size, 1)), amount[:, 1:]], axis=1)
    tested = result_of_phases(
        mixture.model, solved.T[good], solved.P[good], z[rows], share, x[good], kinds[good], solved.residual[good]
    )
    fine = np.flatnonzero(tested.tm >= UNSTABLE)
    rows, good = rows[fine], good[fine]
    found.T[rows], found.P[rows], found.tm[rows], found.residual[rows] = solved.T[good], solved.P[good], 0.0, solved.residual[good]
    found.incipient[rows] = np.where(z[rows] > 0.0, x[good, 0], 0.0)
