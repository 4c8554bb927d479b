"""Diagrams of two components: the boiling curve with the liquid split in it, and the activity coefficients behind it."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..core.arrays import component_major
from ..core.equilibrium import saturation as engine
from ..core.equilibrium.azeotrope import split_below
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


class _Curve:
    """Bubble points along the composition, the metastable ones among them."""

    def __init__(self, system: System, given: str, value: float) -> None:
        self.system, self.given, self.value = system, given, value
        self.x, self.T, self.P, self.y, self.tm = (np.zeros(0) for _ in range(5))

    def add(self, x: Array) -> None:
        solve = engine.bubble_at_P if self.given == "P" else engine.bubble_at_T
        z = np.stack([x, 1.0 - x], axis=1)
        r = solve(self.system.model, np.full(len(x), self.value), z)
        known = np.isfinite(r.T + r.P)
        columns = ((self.x, x), (self.T, r.T), (self.P, r.P), (self.y, r.incipient[:, 0]), (self.tm, r.tm))
        merged = [np.concatenate([old, new[known]]) for old, new in columns]
        order = np.argsort(merged[0], kind="stable")
        self.x, self.T, self.P, self.y, self.tm = (column[order] for column in merged)

    @property
    def unknown(self) -> Array:
        """The coordinate that follows from the composition: T or P."""
        return self.T if self.given == "P" else self.P

    def refine(self, count: int) -> None:
        """Add ``count`` points where the curves bend most."""
        if len(self.x) < 3:
            return
        gaps = np.diff(self.x)
        size = np.zeros(len(gaps))
        for values in (self.unknown / max(np.ptp(self.unknown), 1e-12), self.y):
            bend = np.abs(np.diff(np.diff(values) / np.maximum(gaps, 1e-12)))
            whole = np.concatenate([bend[:1], np.maximum(bend[:-1], bend[1:]), bend[-1:]])
            size += whole * gaps
        size = np.where(gaps > 1e-4, size + 0.05 * gaps, 0.0)
        where = np.sort(np.argsort(-size)[:count])
        self.add(self.x[where] + 0.5 * gaps[where])


def _boiling(system: System, kind: str, given: str, value: float, points: int, measured: Measured) -> BinaryDiagram:
    curve = _Curve(system, given, value)
    first = max(5, min(points, 41))
    curve.add(_spaced(first))
    if not curve.x.size:
        raise CalculationError(f"{system.title} has no bubble point at this condition for any composition.")
    half = (points - first) // 2
    for count in (half, points - first - half):
        curve.refine(count)
    lines = _three_phase_lines(curve)
    stable = curve.tm >= UNSTABLE
    for line in lines:
        stable &= ~((curve.x > line.x[0]) & (curve.x < line.x[1]))
    columns = [column[stable] for column in (curve.x, curve.T, curve.P, curve.y)]
    for line in lines:
        ends = [np.array(line.x), np.full(2, line.T), np.full(2, line.P), np.full(2, line.y)]
        columns = [np.concatenate([column, end]) for column, end in zip(columns, ends, strict=True)]
    order = np.argsort(columns[0], kind="stable")
    x, T, P, y = (column[order] for column in columns)
    gamma, phi = _coefficients(system, T, P, x, y)
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
        tuple(lines),
        azeotropes.find(system, given, value),
        _liquid_curves(system, given, value, T, P, lines),
        None,
        measured,
    )


def _coefficients(system: System, T: Array, P: Array, x: Array, y: Array) -> tuple[Array, Array]:
    """Activity coefficients (NaN where the model has none) and the vapor's fugacity coefficients ``(N, 2)``."""
    bound = system.model.at(T, P)
    vapor = component_major(np.maximum(np.stack([y, 1.0 - y], axis=1), 1e-100))
    phi = np.exp(bound.ln_phi(vapor, VAPOR))
    if system.choice.activity is None:
        return np.full(phi.shape, np.nan), phi
    liquid = np.maximum(np.stack([x, 1.0 - x]), 1e-100)
    return np.exp(system.choice.activity.model.at(T).ln_gamma(liquid)).T, phi


def _three_phase_lines(curve: _Curve) -> list[ThreePhaseLine]:
    """Where two liquids boil together: one for every stretch of the curve that is not stable."""
    bad = ~(curve.tm >= UNSTABLE)
    edges = np.flatnonzero(np.diff(np.concatenate([[False], bad, [False]]).astype(int)))
    found: list[ThreePhaseLine] = []
    for start, end in zip(edges[::2], edges[1::2], strict=True):
        inside = np.unique(np.linspace(start, end - 1, 5).round().astype(int))
        z = np.stack([curve.x[inside], 1.0 - curve.x[inside]], axis=1)
        model = curve.system.model
        there, one, two = split_below(model, curve.T[inside], curve.P[inside], z)
        for k in range(len(there)):
            at = inside[there[k]]
            phases = np.stack([one[k], two[k], [curve.y[at], 1.0 - curve.y[at]]])
            kinds = np.array([LIQUID, LIQUID, VAPOR], dtype=np.int8)
            point = invariant_point(model, curve.given, curve.value, float(curve.unknown[at]), np.maximum(phases, 1e-12), kinds)
            if point is None or abs(point.x[0, 0] - point.x[1, 0]) < 1e-4:
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
        levels, other = np.linspace(low, high, _LEVELS), np.full(_LEVELS, value)
        at_T, at_P = levels, other
    else:
        low, high = float(P.min()), 1.3 * float(P.max())
        levels = np.linspace(high, low, _LEVELS)
        at_T, at_P = np.full(_LEVELS, value), levels
    feeds = np.stack([_FEEDS, 1.0 - _FEEDS], axis=1)
    many = len(feeds)
    r = flash(system.model, np.repeat(at_T, many), np.repeat(at_P, many), np.tile(feeds, (_LEVELS, 1)))
    split = (r.n_phases == 2) & (r.kinds[:, :2] == LIQUID).all(axis=1) & (r.tm >= UNSTABLE)
    curves: dict[int, list[tuple[float, float, float]]] = {}
    for level in range(_LEVELS):
        seen: list[tuple[float, float]] = []
        for k in np.flatnonzero(split[level * many : (level + 1) * many]):
            a, b = sorted(r.x[level * many + k, :2, 0])
            if not any(abs(a - c) + abs(b - d) < 1e-5 for c, d in seen):
                seen.append((float(a), float(b)))
        for n, (low_x, high_x) in enumerate(sorted(seen)):
            curves.setdefault(n, []).append((float(levels[level]), low_x, high_x))
    for line in lines:
        at = line.T if given == "P" else line.P
        near = [rows for rows in curves.values() if abs(rows[-1][1] - line.x[0]) + abs(rows[-1][2] - line.x[1]) < _JOINED]
        if near:
            near[0].append((at, *line.x))
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
