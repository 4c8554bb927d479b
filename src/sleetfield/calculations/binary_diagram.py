"""Diagrams of two components: the boiling curve with the liquid split in it, and the activity coefficients behind it."""

from __future__ import annotations

import itertools
from collections.abc import Mapping
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..core.arrays import ABSENT, component_major
from ..core.equilibrium import saturation as engine
from ..core.equilibrium.azeotrope import split_below
from ..core.equilibrium.boiling_curve import follow
from ..core.equilibrium.flash import flash
from ..core.equilibrium.invariant import invariant_point
from ..core.equilibrium.stability import UNSTABLE
from ..core.models.contract import LIQUID, VAPOR
from ..errors import CalculationError, InputError
from ..measurements import read_columns
from ..results.activity import excess
from ..results.binary_diagram import BinaryDiagram, LiquidCurves, Measured, ThreePhaseLine
from ..units import to_si
from . import azeotropes

if TYPE_CHECKING:
    from ..system import System

Array = NDArray[np.float64]

BOILING = ("Txy", "Pxy", "xy", "pressures")
LIQUID_ALONE = ("gamma", "Gmix", "excess")
KINDS = (*BOILING, *LIQUID_ALONE)
"""Diagrams there are."""

_DEPTH = 0.85
"""Down to which part of the boiling temperature two liquids are followed."""

_LEVELS = 25
_JOINED = 0.2
_STEEP = 0.1
_APART = 0.3
_FILLINGS = 6
_ONE = 1e-7
"""Liquids that are so near to the vapor are the vapor."""

_ABOVE = 1.0 + np.array([0.002, 0.005, 0.01, 0.02, 0.03, 0.05, 0.07, 0.1])
"""Levels at which two liquids are looked for next to a three-phase line, above it in pressure, below it in temperature."""
_FEEDS = np.array([0.001, 0.01, 0.05, 0.15, 0.3, 0.5, 0.7, 0.85, 0.95, 0.99, 0.999])
_COLUMNS = {"x": "fraction", "y": "fraction", "T": "temperature", "P": "pressure"}


def diagram(system: System, kind: str, given: str, value: float, points: int, data: Any) -> BinaryDiagram:
    """A diagram of a system of two components at a temperature (``given="T"``) or pressure (``"P"``).

    Raises
    ------
    InputError
        If there is no such diagram, or it is not at that kind of condition.
    CalculationError
        If the mixture does not boil anywhere at that condition.

    """
    if kind not in KINDS:
        raise InputError(f"There is no diagram {kind!r}. Diagrams of two components are {', '.join(KINDS)}.")
    fixed = {"Txy": "P", "Pxy": "T", "pressures": "T", "Gmix": "T", "excess": "T"}.get(kind, given)
    if fixed != given:
        raise InputError(f"A {kind} diagram is at given {fixed}, not {given}.")
    if points < 5:
        raise InputError(f"points is {points}; a curve takes at least 5.")
    measured = _measured(data)
    with np.errstate(all="ignore"):
        if kind in BOILING or given == "P":
            return _boiling(system, kind, given, value, points, measured)
        return _liquid(system, kind, value, points, measured)


def _measured(data: Any) -> Measured:
    """Measured points by column, from a file or a mapping."""
    if data is None:
        return {}
    if isinstance(data, (str, Path)):
        return dict(read_columns(data, {"x": "fraction"}, {k: v for k, v in _COLUMNS.items() if k != "x"}))
    if not isinstance(data, Mapping) or "x" not in data or set(data) - set(_COLUMNS):
        raise InputError(
            "Measured points are a CSV or XLSX file, or a mapping, with x (first component, by mole) beside y, T or P."
        )
    return {name: np.atleast_1d(to_si(values, _COLUMNS[name], name)) for name, values in data.items()}


def _spaced(count: int) -> Array:
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

    def __init__(self, system: System, given: str, value: float) -> None:
        self.system, self.given, self.value = system, given, value
        self.failed = np.zeros(0)
        self.lines: list[ThreePhaseLine] = []
        self.x, self.T, self.P, self.y, self.tm = (np.zeros(0) for _ in range(5))

    def add(self, x: Array) -> None:
        solve = engine.bubble_at_P if self.given == "P" else engine.bubble_at_T
        z = np.stack([x, 1.0 - x], axis=1)
        r = solve(self.system.model, np.full(len(x), self.value), z)
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
        """Add points next to an end where the first component that comes in takes much of the vapor."""
        for x, y in ((self.x, self.y), (1.0 - self.x[::-1], 1.0 - self.y[::-1])):
            if len(x) > 1 and x[0] == 0.0 and y[1] > _STEEP:
                few = _spaced(41)[1] * np.geomspace(1e-7, 0.6, 16)
                self.add(few if x is self.x else 1.0 - few)

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


def _boiling(system: System, kind: str, given: str, value: float, points: int, measured: Measured) -> BinaryDiagram:
    curve = _Curve(system, given, value)
    first = max(5, min(points, 41))
    curve.add(_spaced(first))
    if not curve.x.size:
        raise CalculationError(f"{system.title} has no bubble point at this condition for any composition.")
    curve.add_dilute()
    left = points - first
    for count in (left // 3, left // 3, left - 2 * (left // 3)):
        curve.refine(count)
    curve.lines = lines = _three_phase_lines(curve)
    curve.fill()
    if not curve.x.size:
        raise CalculationError(f"{system.title} has no stable bubble point at this condition for any composition.")
    branches = _branches(curve)
    x, T, P, y = (np.concatenate(column) for column in zip(*branches, strict=True))
    branch = np.repeat(np.arange(len(branches)), [len(part[0]) for part in branches])
    gamma, phi, K = _coefficients(system, T, P, x, y)
    return BinaryDiagram(
        system,
        kind,
        given,
        value,
        x,
        T,
        P,
        y,
        gamma,
        phi,
        K,
        branch,
        tuple(lines),
        azeotropes.find(system, given, value),
        _liquid_curves(system, given, value, T, P, lines),
        None,
        measured,
    )


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
    whole = np.ptp(np.concatenate([branch[1 if given == "P" else 2] for branch in branches])) if branches else 0.0
    parts = sorted(branches, key=lambda branch: float(branch[0][0]))
    joined: list[list[Array]] = []
    for part in parts:
        last = joined[-1] if joined else None
        if last is not None and abs(last[0][-1] - part[0][0]) < 0.01:
            q, y = (abs(last[k][-1] - part[k][0]) for k in (1 if given == "P" else 2, 3))
            if q < 0.2 * whole and y < 0.2:
                joined[-1] = [np.concatenate(pair) for pair in zip(last, part, strict=True)]
                continue
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
    more = follow(curve.system.model, curve.given, curve.value, T, P, x, y, towards)
    return [more.x, more.T, more.P, more.y]


def _coefficients(system: System, T: Array, P: Array, x: Array, y: Array) -> tuple[Array, Array, Array]:
    """Activity coefficients (NaN where the model has none), the vapor's fugacity coefficients and K-values ``(N, 2)``, absent components
    at infinite dilution.
    """
    bound = system.model.at(T, P)
    liquid, vapor = (component_major(np.maximum(np.stack([part, 1.0 - part], axis=1), 1e-100)) for part in (x, y))
    ln_phi = bound.ln_phi(vapor, VAPOR)
    K = np.exp(bound.ln_phi(liquid, LIQUID) - ln_phi)
    if system.choice.activity is None:
        return np.full(K.shape, np.nan), np.exp(ln_phi), K
    return np.exp(system.choice.activity.model.at(T).ln_gamma(liquid.T)).T, np.exp(ln_phi), K


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
        model = curve.system.model
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


def _liquid_curves(
    system: System, given: str, value: float, T: Array, P: Array, lines: list[ThreePhaseLine]
) -> tuple[LiquidCurves, ...]:
    """Compositions of both liquids below the boiling curve: against T at given P, against P at given T; they end on three-phase lines."""
    if given == "P":
        low, high = _DEPTH * float(T.min()), float(T.max())
        near = np.array([line.T for line in lines])[:, None] / _ABOVE
        levels = np.unique(np.concatenate([np.linspace(low, high, _LEVELS), near.ravel()]))
        at_T, at_P = levels, np.full(len(levels), value)
    else:
        low, high = float(P.min()), 1.3 * float(P.max())
        near = np.array([line.P for line in lines])[:, None] * _ABOVE
        levels = np.unique(np.concatenate([np.linspace(low, high, _LEVELS), near.ravel()]))[::-1]
        at_T, at_P = np.full(len(levels), value), levels
    feeds = np.stack([_FEEDS, 1.0 - _FEEDS], axis=1)
    many = len(feeds)
    r = flash(system.model, np.repeat(at_T, many), np.repeat(at_P, many), np.tile(feeds, (len(levels), 1)))
    dense = (r.kinds[:, :2] == LIQUID).all(axis=1)
    if given == "T":  # above the highest boiling pressure both are, whatever the lighter is called
        dense |= np.repeat(at_P, many) > P.max()
    split = (r.n_phases == 2) & dense & (r.tm >= UNSTABLE)
    curves: dict[int, list[tuple[float, float, float]]] = {}
    for level in range(len(levels)):
        seen: list[tuple[float, float]] = []
        for k in np.flatnonzero(split[level * many : (level + 1) * many]):
            a, b = sorted(r.x[level * many + k, :2, 0])
            if not any(abs(a - c) + abs(b - d) < 1e-5 for c, d in seen):
                seen.append((float(a), float(b)))
        for n, (low_x, high_x) in enumerate(sorted(seen)):
            curves.setdefault(n, []).append((float(levels[level]), low_x, high_x))
    for line in lines:
        at = line.T if given == "P" else line.P
        close = [rows for rows in curves.values() if abs(rows[-1][1] - line.x[0]) + abs(rows[-1][2] - line.x[1]) < _JOINED]
        if close:
            close[0].append((at, *line.x))
    return tuple(LiquidCurves(*np.array(rows).T) for rows in curves.values())


def _liquid(system: System, kind: str, T: float, points: int, measured: Measured) -> BinaryDiagram:
    x = _spaced(points)
    z = np.stack([x, 1.0 - x], axis=1)
    at = np.full(points, T)
    found = excess(system, at, z)
    nothing = np.full(points, np.nan)
    tie = _tie_lines(system, T)
    return BinaryDiagram(
        system,
        kind,
        "T",
        T,
        x,
        at,
        nothing,
        nothing,
        found.gamma,
        np.full((points, 2), np.nan),
        np.full((points, 2), np.nan),
        np.zeros(points, dtype=int),
        (),
        (),
        tie,
        found,
        measured,
    )


def _tie_lines(system: System, T: float) -> tuple[LiquidCurves, ...]:
    """Both liquids at a temperature, under a pressure that keeps everything liquid."""
    feeds = np.stack([_FEEDS, 1.0 - _FEEDS], axis=1)
    bubble = engine.bubble_at_T(system.model, np.full(len(feeds), T), feeds).P
    P = 2.0 * float(np.nanmax(bubble)) if np.isfinite(bubble).any() else 1e6
    r = flash(system.model, np.full(len(feeds), T), np.full(len(feeds), P), feeds)
    split = (r.n_phases == 2) & (r.kinds[:, :2] == LIQUID).all(axis=1)
    seen = sorted({tuple(sorted(r.x[k, :2, 0].round(7).tolist())) for k in np.flatnonzero(split)})
    return tuple(LiquidCurves(np.array([T]), np.array([a]), np.array([b])) for a, b in seen)
