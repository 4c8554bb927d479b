"""The densities at which an equation of state has a given pressure, whatever the shape of its isotherm.

Pressure is looked at on a grid of packings, one of which is moved to where it rises least. Between neighbors where it rises past the target there is a root; where it has a maximum
just above the target or a minimum just below it between two of them, that extremum is found first. Roots at which pressure falls are no phases and are left out.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from typing import ClassVar, NamedTuple, Self

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Index, Kinds

_FLAT, _SAFE = 0.35, 0.1
"""A least slope among the places (of P/RT, so 1 for an ideal gas) below which its own place is looked for, and one that is far enough from a fall."""
_FLATTER_STEPS = 3
_EXTREMUM_STEPS = 40
_FURTHER = 1.25
_ROOT_STEPS = 80
_LAST_NEWTON, _LAST = 1e-9, 3e-7
"""Relative steps, of Newton's method and along a cubic, after which there is nothing more to gain."""
_BLOCK = 2048
"""States that are looked at together: more of them, by all packings, leave the processor's cache."""


class Isotherm(ABC):
    """Pressure against density at ``N`` temperatures and compositions.

    `packings` are where it is looked at first, as covolume over volume: closely enough that two turns of one kind don't fall between neighbors. At closest packing
    itself pressure may be infinite.
    """

    packings: ClassVar[Array] = np.append(np.linspace(0.02, 0.96, 34), 0.999)

    @abstractmethod
    def __call__(self, rho: Array) -> tuple[Array, Array]:
        """P/RT, mol/m3, and its derivative by density, at densities ``rho (..., N)``, mol/m3."""

    def grid(self, densest: Array) -> tuple[Array, Array, Array]:
        """Rising densities ``(K, N)`` at which it is looked at first, and P/RT and its derivative there."""
        rho = self.packings[:, None] * densest
        return rho, *self(rho)

    @abstractmethod
    def rows(self, index: Index) -> Self:
        """The same for the states ``index`` (repeats allowed)."""


class Brackets(NamedTuple):
    """Densities between which pressure rises past the target, of which states, and where about."""

    row: Index
    low: Array
    high: Array
    start: Array


class _Side(NamedTuple):
    """Density, P/RT above the target, and slope at one end of an interval."""

    rho: Array
    above: Array
    slope: Array


class Roots(NamedTuple):
    """The lowest and the highest density at which pressure is the target and rises ``(N,)``; NaN where there is none."""

    lowest: Array
    highest: Array

    @property
    def several(self) -> NDArray[np.bool_]:
        """Where these are two."""
        return np.asarray(self.highest > self.lowest)


def rising_roots(isotherm: Isotherm, target: Array, densest: Array, wanted: Kinds) -> Roots:
    """Densities at which P/RT is ``target (N,)`` and rises, up to ``densest (N,)``.

    ``wanted (N,)`` is negative where both the lowest and the highest are, 0 where the lowest is, positive where the highest is; the other one is then that too.
    """
    parts = [Roots(np.zeros(0), np.zeros(0))] if not len(target) else []
    for first in range(0, len(target), _BLOCK):
        some = np.arange(first, min(first + _BLOCK, len(target)))
        whole = isotherm if len(target) <= _BLOCK else isotherm.rows(some)
        parts.append(_rising_roots(whole, target[some], densest[some], wanted[some]))
    return parts[0] if len(parts) == 1 else Roots(*(np.concatenate(each) for each in zip(*parts, strict=True)))


def _rising_roots(isotherm: Isotherm, target: Array, densest: Array, wanted: Kinds) -> Roots:
    row, low, high, start = _brackets(isotherm, target, densest)
    # sorted by density within each state, so that the last one written stays
    place = np.arange(len(row))
    ends = np.full((2, len(target)), -1)
    ends[0, row[::-1]], ends[1, row] = place[::-1], place
    ends = np.where(wanted == 0, ends[0], np.where(wanted > 0, ends[1], ends))
    asked = np.unique(ends[ends >= 0])
    found = np.full(len(row) + 1, np.nan)
    found[asked] = _solve(isotherm, target, Brackets(row[asked], low[asked], high[asked], start[asked]))
    lowest, highest = found[ends]
    return Roots(lowest, highest)


def _brackets(isotherm: Isotherm, target: Array, densest: Array) -> Brackets:
    rho, p, slope = isotherm.grid(densest)
    _with_flattest(isotherm, target, rho, p, slope)
    nothing = np.zeros((1, len(target)))
    rho, above, slope = (
        np.concatenate([nothing, rho]),
        np.concatenate([-target[None], p - target]),
        np.concatenate([nothing + 1.0, slope]),
    )
    below, left, right = above < 0.0, slope[:-1], slope[1:]
    k, row = np.nonzero(below[:-1] & ~below[1:])
    ends = rho[k, row], rho[k + 1, row]
    found = [Brackets(row, *ends, _between(*ends, above[k, row], above[k + 1, row], left[k, row], right[k, row]))]
    # a maximum between two places below the target, or a minimum between two above it, as far as tangents allow it to pass the target
    step = np.diff(rho, axis=0)
    one, other = above[:-1] + left * step, above[1:] - right * step
    maximum = below[:-1] & below[1:] & (left > 0.0) & (right < 0.0) & (np.minimum(one, other) >= 0.0)
    minimum = ~below[:-1] & ~below[1:] & (left < 0.0) & (right > 0.0) & (np.maximum(one, other) < 0.0)
    k, row = np.nonzero(maximum | minimum)
    if row.size:
        peak = maximum[k, row]
        first, last = (_Side(rho[i, row], above[i, row], slope[i, row]) for i in (k, k + 1))
        place = _passing(isotherm.rows(row), target[row], first, last, peak)
        passes = np.isfinite(place)
        low, high = np.where(peak, rho[k, row], place)[passes], np.where(peak, place, rho[k + 1, row])[passes]
        start = np.where(peak[passes], high - 0.2 * (high - low), low + 0.2 * (high - low))
        found.append(Brackets(row[passes], low, high, start))
    whole = Brackets(*(np.concatenate(parts) for parts in zip(*found, strict=True)))
    order = np.argsort(whole.low, kind="stable")
    return Brackets(whole.row[order], whole.low[order], whole.high[order], whole.start[order])


def _with_flattest(isotherm: Isotherm, target: Array, rho: Array, p: Array, slope: Array) -> None:
    """Move a place to where pressure rises least, if it rises at every one of ``rho (K, N)`` but may fall between two of them, and pass the target there."""
    row = np.arange(rho.shape[1])
    j = slope.argmin(axis=0).clip(1, len(rho) - 2)
    beside = [(rho[j + k, row], slope[j + k, row]) for k in (-1, 0, 1)]
    doubtful = (beside[1][1] > 0.0) & (beside[1][1] < _FLAT) & (p[j - 1, row] < target) & (p[j + 1, row] > target)
    row = np.flatnonzero(doubtful)
    if not row.size:
        return
    some, j = isotherm.rows(row), j[row]
    (a, fa), (b, fb), (c, fc) = ((place[row], value[row]) for place, value in beside)
    for _ in range(_FLATTER_STEPS):
        place = _vertex(a, fa, b, fb, c, fc)
        value, least = some(place)
        # the flattest place stays in the middle, and the one that it was better than, or that is better, comes in from its side
        better, left = least < fb, place < b
        a, fa = np.where(better == left, a, np.where(better, b, place)), np.where(better == left, fa, np.where(better, fb, least))
        c, fc = np.where(better == left, np.where(better, b, place), c), np.where(better == left, np.where(better, fb, least), fc)
        rho[j, row], p[j, row], slope[j, row] = (
            np.where(better, new, old) for new, old in ((place, rho[j, row]), (value, p[j, row]), (least, slope[j, row]))
        )
        b, fb = rho[j, row], slope[j, row]
        if (fb > _SAFE).all():
            return


def _vertex(a: Array, fa: Array, b: Array, fb: Array, c: Array, fc: Array) -> Array:
    """Where the parabola through three places is least, within a margin of the outer ones."""
    with np.errstate(all="ignore"):
        left, right = (fb - fa) / (b - a), (fc - fb) / (c - b)
        vertex = 0.5 * (a + b) - 0.5 * left * (c - a) / (right - left)
    margin = 0.05 * (c - a)
    return np.where(np.isfinite(vertex), np.clip(vertex, a + margin, c - margin), b)


def _between(low: Array, high: Array, below: Array, above: Array, left: Array, right: Array) -> Array:
    """Where about pressure passes the target between two places, by the cubic through both ends where it rises at both."""
    with np.errstate(all="ignore"):
        place = _along_cubic(low, below, left, high, above, right)
        plain = low - below / (above - below) * (high - low)
    place = np.where((left > 0.0) & (right > 0.0), place, plain)
    return np.where((place > low) & (place < high), place, 0.5 * (low + high))


def _passing(isotherm: Isotherm, target: Array, low: _Side, high: _Side, peak: NDArray[np.bool_]) -> Array:
    """A place between two where pressure has passed the target on its way to the extremum ``(N,)``, NaN where it doesn't, by the slopes on both sides."""
    low, high, place = _Side(*(v.copy() for v in low)), _Side(*(v.copy() for v in high)), np.full(len(peak), np.nan)
    going = np.arange(len(peak))
    # first a little further than where the tangent says that it passes
    with np.errstate(all="ignore"):
        trial = np.where(peak, low.rho - _FURTHER * low.above / low.slope, high.rho - _FURTHER * high.above / high.slope)
    for step in range(_EXTREMUM_STEPS):
        a, b, up = _Side(*(v[going] for v in low)), _Side(*(v[going] for v in high)), peak[going]
        width = b.rho - a.rho
        # the extremum by false position of the slope, every third time by halves
        share = a.slope / (a.slope - b.slope) if step % 3 else np.full(len(going), 0.5)
        here = a.rho + np.clip(share, 0.02, 0.98) * width
        if step == 0:
            here = np.where((trial > a.rho) & (trial < b.rho), trial, here)
        p, slope = isotherm.rows(going)(here)
        above = p - target[going]
        ahead = (slope > 0.0) == up
        for side, moved in ((low, ahead), (high, ~ahead)):
            for values, new in zip(side, (here, above, slope), strict=True):
                values[going[moved]] = new[moved]
        done = np.where(up, above >= 0.0, above < 0.0)
        place[going[done]] = here[done]
        a, b = _Side(*(v[going] for v in low)), _Side(*(v[going] for v in high))
        one, other = a.above + a.slope * (b.rho - a.rho), b.above - b.slope * (b.rho - a.rho)
        possible = np.where(up, np.minimum(one, other) >= 0.0, np.maximum(one, other) < 0.0)
        going = going[~done & possible & (b.rho - a.rho > _LAST * b.rho)]
        if not going.size:
            break
    return place


def _solve(isotherm: Isotherm, target: Array, brackets: Brackets) -> Array:
    """The density in each bracket: a step of Newton's method, then along cubics through the last two places; by halves where that would leave the bracket."""
    row, low, high, rho = brackets.row, brackets.low.copy(), brackets.high.copy(), brackets.start.copy()
    going = np.arange(len(row))
    some, goal, last = isotherm.rows(row), target[row], None
    for _ in range(_ROOT_STEPS):
        if not going.size:
            break
        here = rho[going]
        p, slope = some(here)
        above = p - goal[going]
        low[going] = np.where(above < 0.0, here, low[going])
        high[going] = np.where(above < 0.0, high[going], here)
        with np.errstate(all="ignore"):
            new, enough = here - above / slope, _LAST_NEWTON
            if last is not None:
                cubic = _along_cubic(*last, here, above, slope)
                new, enough = np.where(np.isfinite(cubic), cubic, new), _LAST
        inside = (new >= low[going]) & (new <= high[going])
        new = np.where(inside, new, 0.5 * (low[going] + high[going]))
        rho[going] = new
        keep = np.flatnonzero(np.abs(new - here) > enough * here)
        if len(keep) < len(going):
            going, some = going[keep], some.rows(keep)
            here, above, slope = here[keep], above[keep], slope[keep]
        last = here, above, slope
    return rho


def _along_cubic(x0: Array, f0: Array, s0: Array, x1: Array, f1: Array, s1: Array) -> Array:
    """Where a function is zero by the cubic through two places of its inverse, with slopes there."""
    span, apart = f1 - f0, x1 - x0
    t = -f0 / span
    bent = t * (1.0 - t) * ((1.0 - t) * (span / s0 - apart) - t * (span / s1 - apart))
    return np.asarray(x0 + t * apart + bent)
