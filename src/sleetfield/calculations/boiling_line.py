"""The boiling line of two components over all compositions: liquids that split, parts that end at critical points, and turns."""

from __future__ import annotations

import itertools
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..core.arrays import ABSENT
from ..core.equilibrium import saturation as engine
from ..core.equilibrium.azeotrope import split_below
from ..core.equilibrium.boiling_curve import follow
from ..core.equilibrium.invariant import invariant_point
from ..core.equilibrium.stability import UNSTABLE
from ..core.models.contract import LIQUID, VAPOR
from ..errors import CalculationError
from ..mixture import Mixture
from ..results.binary_diagram import ThreePhaseLine

Array = NDArray[np.float64]

_FIRST = 41
_STEEP = 0.1
"""The share of the vapor from which on the first point beside a pure component is too far from it."""

_APART = 0.3
"""Neighbors further from each other than this are of two parts of the line; half of it asks for a point between."""

_FILLINGS = 6
_MEETING = 0.01, 0.2
"""How near the ends of two parts are that meet: in x; in the vapor's composition and as a share of the range of T or P."""

_ONE = 1e-7
"""Liquids that are so near to the vapor are the vapor."""


class BoilingLine(NamedTuple):
    """Stable points ``(N,)``: x, T, P, y, the connected part that each belongs to, and the lines of three phases."""

    x: Array
    T: Array
    P: Array
    y: Array
    branch: NDArray[np.intp]
    three_phase: list[ThreePhaseLine]


def boiling_line(system: Mixture, given: str, value: float, points: int) -> BoilingLine:
    """At a temperature (``given="T"``) or pressure (``"P"``), about ``points`` of them, closer together where it bends.

    Raises
    ------
    CalculationError
        If the mixture does not boil anywhere at that condition.

    """
    curve = _Curve(system, given, value)
    first = max(5, min(points, _FIRST))
    curve.add(spaced(first))
    if not curve.x.size:
        raise CalculationError(f"{system.title} has no bubble point at this condition for any composition.")
    curve.add_dilute()
    left = points - first
    for count in (left // 3, left // 3, left - 2 * (left // 3)):
        curve.refine(count)
    curve.lines = _three_phase_lines(curve)
    curve.fill()
    if not curve.x.size:
        raise CalculationError(f"{system.title} has no stable bubble point at this condition for any composition.")
    branches = _branches(curve)
    x, T, P, y = (np.concatenate(column) for column in zip(*branches, strict=True))
    branch = np.repeat(np.arange(len(branches)), [len(part[0]) for part in branches])
    return BoilingLine(x, T, P, y, branch, curve.lines)


def spaced(count: int) -> Array:
    """Compositions closer together at both ends."""
    return np.asarray(0.5 * (1.0 - np.cos(np.pi * np.linspace(0.0, 1.0, count))))


def _middle(low: Array, high: Array) -> Array:
    """Between two compositions; next to a pure component in logarithm."""
    near, far = np.minimum(low, 1.0 - high), np.minimum(high, 1.0 - low)
    inner = np.where(far > 4.0 * near, np.sqrt(np.maximum(near, 1e-3 * far) * far), 0.5 * (near + far))
    return np.asarray(np.where(low <= 1.0 - high, inner, 1.0 - inner))


def _failed_between(x: Array, failed: Array) -> NDArray[np.bool_]:
    """Between which neighbors there are compositions that have no bubble point."""
    before = np.searchsorted(failed, x)
    return np.asarray(before[1:] > before[:-1])


def _apart_by(y: Array, q: Array) -> Array:
    """How far neighbors are from each other, in the vapor's composition and the share of the whole range of T or P."""
    return np.asarray(np.abs(np.diff(y)) + np.abs(np.diff(q)) / max(float(np.ptp(q)), 1e-12))


def _with_ends(columns: list[Array], lines: list[ThreePhaseLine]) -> list[Array]:
    """Points x, T, P, y with the ends of three-phase lines among them, by rising x."""
    for line in lines:
        ends = [np.array(line.x), np.full(2, line.T), np.full(2, line.P), np.full(2, line.y)]
        columns = [np.concatenate([column, more]) for column, more in zip(columns, ends, strict=True)]
    order = np.argsort(columns[0], kind="stable")
    return [column[order] for column in columns]


class _Curve:
    """Bubble points along the composition, the metastable ones among them."""

    def __init__(self, system: Mixture, given: str, value: float) -> None:
        self.system, self.given, self.value = system, given, value
        self.failed = np.zeros(0)
        self.lines: list[ThreePhaseLine] = []
        self.x, self.T, self.P, self.y, self.tm = (np.zeros(0) for _ in range(5))

    def add(self, x: Array) -> None:
        solve = engine.bubble_at_P if self.given == "P" else engine.bubble_at_T
        z = np.stack([x, 1.0 - x], axis=1)
        r = solve(self.system.phase_model, np.full(len(x), self.value), z)
        known = np.isfinite(r.T + r.P)
        self.failed = np.sort(np.concatenate([self.failed, x[~known]]))
        columns = ((self.x, x), (self.T, r.T), (self.P, r.P), (self.y, r.incipient[:, 0]), (self.tm, r.tm))
        merged = [np.concatenate([old, new[known]]) for old, new in columns]
        order = np.argsort(merged[0], kind="stable")
        self.x, self.T, self.P, self.y, self.tm = (column[order] for column in merged)

    @property
    def unknown(self) -> Array:
        """The coordinate that follows from the composition: T or P."""
        return self.T if self.given == "P" else self.P

    def add_dilute(self) -> None:
        """Add points next to an end where the component that comes in takes much of the vapor at once."""
        few = np.geomspace(1e-7, 0.6, 16)
        if self.x[0] == 0.0 and len(self.x) > 1 and self.y[1] > _STEEP:
            self.add(self.x[1] * few)
        if self.x[-1] == 1.0 and len(self.x) > 1 and self.y[-2] < 1.0 - _STEEP:
            self.add(1.0 - (1.0 - self.x[-2]) * few)

    def leave_out(self, rows: NDArray[np.bool_]) -> None:
        """Take points for failed."""
        self.failed = np.sort(np.concatenate([self.failed, self.x[rows]]))
        self.x, self.T, self.P, self.y, self.tm = (column[~rows] for column in (self.x, self.T, self.P, self.y, self.tm))

    def settle(self) -> None:
        """Leave out what is not stable, and what lies within three-phase lines."""
        self.leave_out(~(self.tm >= UNSTABLE))
        for line in self.lines:
            self.leave_out((self.x > line.x[0]) & (self.x < line.x[1]))
            self.failed = self.failed[(self.failed < line.x[0]) | (self.failed > line.x[1])]

    def fill(self) -> None:
        """Add points where neighbors are far from each other, up to the ends of three-phase lines but not within them."""
        for _ in range(_FILLINGS):
            self.settle()
            if not self.x.size:
                return
            x, T, P, y = _with_ends([self.x, self.T, self.P, self.y], self.lines)
            q = T if self.given == "P" else P
            apart = _apart_by(y, q)
            for line in self.lines:
                apart[(x[:-1] == line.x[0]) & (x[1:] == line.x[1])] = 0.0
            wide = np.flatnonzero((apart > 0.5 * _APART) & (np.diff(x) > 1e-12))
            if not wide.size:
                return
            self.add(_middle(x[wide], x[wide + 1]))
        self.settle()

    def refine(self, count: int) -> None:
        """Add ``count`` points where the curves bend most."""
        if len(self.x) < 3:
            return
        gaps = np.diff(self.x)
        size = 0.05 * gaps
        for values in (self.unknown / max(np.ptp(self.unknown), 1e-12), self.y):
            bend = np.abs(np.diff(np.diff(values) / np.maximum(gaps, 1e-12)))
            whole = np.concatenate([bend[:1], np.maximum(bend[:-1], bend[1:]), bend[-1:]])
            size += whole * np.where(gaps > 1e-4, gaps, 0.0) + np.abs(np.diff(values))
        size = np.where((gaps > 1e-9) & ~_failed_between(self.x, self.failed), size, 0.0)
        where = np.sort(np.argsort(-size)[:count])
        self.add(self.x[where] + 0.5 * gaps[where])


def _branches(curve: _Curve) -> list[list[Array]]:
    """Points x, T, P, y of every connected part of the boiling curve, with the ends of three-phase lines and up to critical points."""
    points = _with_ends([curve.x, curve.T, curve.P, curve.y], curve.lines)
    x, T, P, y = points
    interrupted = _failed_between(x, curve.failed) | (_apart_by(y, T if curve.given == "P" else P) > _APART)
    for line in curve.lines:
        interrupted &= ~((x[:-1] == line.x[0]) & (x[1:] == line.x[1]))
    edges = [0, *(np.flatnonzero(interrupted) + 1).tolist(), len(x)]
    tried = np.concatenate([x, curve.failed])
    branches: list[list[Array]] = []
    # those that begin at a pure component first: they may come along others
    for start, end in sorted(itertools.pairwise(edges), key=lambda part: x[part[0]] > 0.0 and x[part[1] - 1] < 1.0):
        if any(_covers(branch, [column[start] for column in points], curve.given) for branch in branches):
            continue
        columns = [column[start:end] for column in points]
        if x[start] > tried.min():
            columns = [
                np.concatenate([more[::-1], column]) for column, more in zip(columns, _onward(curve, columns, -1.0), strict=True)
            ]
        if x[end - 1] < tried.max():
            columns = [np.concatenate([column, more]) for column, more in zip(columns, _onward(curve, columns, 1.0), strict=True)]
        branches.append(columns)
    return _joined(branches, curve.given)


def _joined(branches: list[list[Array]], given: str) -> list[list[Array]]:
    """Parts of which one ends where another begins, as one."""
    q = 1 if given == "P" else 2
    whole = float(np.ptp(np.concatenate([branch[q] for branch in branches])))
    joined: list[list[Array]] = []
    for part in sorted(branches, key=lambda branch: float(branch[0][0])):
        apart = [abs(float(a[-1] - b[0])) for a, b in zip(joined[-1], part, strict=True)] if joined else [np.inf] * 4
        if apart[0] < _MEETING[0] and max(apart[q] / max(whole, 1e-12), apart[3]) < _MEETING[1]:
            joined[-1] = [np.concatenate(pair) for pair in zip(joined[-1], part, strict=True)]
        else:
            joined.append(part)
    return joined


def _covers(branch: list[Array], point: list[Array], given: str) -> bool:
    """Whether a point x, T, P, y lies on a branch."""
    inside = np.ones(len(branch[0]) - 1, dtype=bool)
    for k in (0, 1 if given == "P" else 2):
        low, high = np.minimum(branch[k][1:], branch[k][:-1]), np.maximum(branch[k][1:], branch[k][:-1])
        room = 1e-4 * np.ptp(branch[k])
        inside &= (low - room <= point[k]) & (point[k] <= high + room)
    return bool(inside.any())


def _onward(curve: _Curve, points: list[Array], towards: float) -> list[Array]:
    """Points x, T, P, y of the curve beyond the first or last of ``points``, where the grid of compositions found no more."""
    x, T, P, y = (float(column[0 if towards < 0.0 else -1]) for column in points)
    more = follow(curve.system.phase_model, curve.given, curve.value, T, P, x, y, towards)
    return [more.x, more.T, more.P, more.y]


def _three_phase_lines(curve: _Curve) -> list[ThreePhaseLine]:
    """Where two liquids boil together: one for every stretch of the curve that is not stable."""
    tried = np.unique(np.concatenate([curve.x, curve.failed]))
    T, P, y = (np.interp(tried, curve.x, values) for values in (curve.T, curve.P, curve.y))
    good = np.isin(tried, curve.x[curve.tm >= UNSTABLE])
    edges = np.flatnonzero(np.diff(np.concatenate([[False], ~good, [False]]).astype(int)))
    found: list[ThreePhaseLine] = []
    for start, end in zip(edges[::2], edges[1::2], strict=True):
        inside = np.unique(np.linspace(start, end - 1, 5).round().astype(int))
        z = np.stack([tried[inside], 1.0 - tried[inside]], axis=1)
        model = curve.system.phase_model
        there, one, two = split_below(model, T[inside], P[inside], z)
        for k in range(len(there)):
            at = inside[there[k]]
            phases = np.stack([one[k], two[k], [y[at], 1.0 - y[at]]])
            kinds = np.array([LIQUID, LIQUID, VAPOR], dtype=np.int8)
            point = invariant_point(
                model, curve.given, curve.value, float((T if curve.given == "P" else P)[at]), np.maximum(phases, ABSENT), kinds
            )
            if point is None or abs(point.x[0, 0] - point.x[1, 0]) < 1e-4 or np.abs(point.x[:2, 0] - point.x[2, 0]).min() < _ONE:
                continue
            low, high = sorted((float(point.x[0, 0]), float(point.x[1, 0])))
            if not any(abs(low - line.x[0]) + abs(high - line.x[1]) < 1e-6 for line in found):
                found.append(ThreePhaseLine(point.T, point.P, (low, high), float(point.x[2, 0])))
            break
    return found
