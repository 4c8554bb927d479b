"""Diagrams of two components: the boiling curve with the liquid split in it, and the activity coefficients behind it."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..core.arrays import component_major
from ..core.equilibrium import saturation as engine
from ..core.equilibrium.flash import flash
from ..core.equilibrium.stability import UNSTABLE
from ..core.models.contract import LIQUID, VAPOR
from ..errors import InputError
from ..measurements import read_columns
from ..mixture import Mixture
from ..results.binary_diagram import BinaryDiagram, LiquidCurves, Measured, ThreePhaseLine
from ..specified import check_points
from ..units import to_si
from . import azeotropes
from .boiling_line import boiling_line, spaced
from .excess import excess
from .saturation import temperatures_or_pressures

Array = NDArray[np.float64]

BOILING = ("Txy", "Pxy", "xy", "pressures")
LIQUID_ALONE = ("gamma", "Gmix", "excess")
KINDS = (*BOILING, *LIQUID_ALONE)
"""Diagrams there are."""

_DEPTH = 0.85
"""Down to which part of the boiling temperature two liquids are followed."""

_LEVELS = 25
_JOINED = 0.2
_ABOVE = 1.0 + np.array([0.002, 0.005, 0.01, 0.02, 0.03, 0.05, 0.07, 0.1])
"""Levels at which two liquids are looked for next to a three-phase line, above it in pressure, below it in temperature."""
_FEEDS = np.array([0.001, 0.01, 0.05, 0.15, 0.3, 0.5, 0.7, 0.85, 0.95, 0.99, 0.999])
_COLUMNS = {"x": "fraction", "y": "fraction", "T": "temperature", "P": "pressure"}


def diagram(system: Mixture, kind: str, names: list[str], T: Any, P: Any, points: int, data: Any) -> BinaryDiagram:
    """A diagram of two components, those named or the only ones, at a temperature or a pressure.

    Raises
    ------
    InputError
        If there is no such diagram, or it is not at that kind of condition.
    CalculationError
        If the mixture does not boil anywhere at that condition.

    """
    names = names or list(system.names)
    if len(names) != 2:
        raise InputError(f"A diagram is of two components; name them: diagram({kind!r}, first, second, ...).")
    given, (value, *more) = temperatures_or_pressures("diagram", T, P)
    if more:
        raise InputError(f"A diagram is at one {given}; got {len(more) + 1}. Call it once for each.")
    system = system.part(names)
    if kind not in KINDS:
        raise InputError(f"There is no diagram {kind!r}. Diagrams of two components are {', '.join(KINDS)}.")
    fixed = {"Txy": "P", "Pxy": "T", "pressures": "T", "Gmix": "T", "excess": "T"}.get(kind, given)
    if fixed != given:
        raise InputError(f"A {kind} diagram is at given {fixed}, not {given}.")
    check_points(points)
    measured = _measured(data)
    with np.errstate(all="ignore"):
        if kind in BOILING or given == "P":
            system.need_vapor(f"diagram({kind!r})")
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


def _boiling(system: Mixture, kind: str, given: str, value: float, points: int, measured: Measured) -> BinaryDiagram:
    line = boiling_line(system, given, value, points)
    x, T, P, y = line.x, line.T, line.P, line.y
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
        line.branch,
        tuple(line.three_phase),
        azeotropes.find(system, given, value),
        _liquid_curves(system, given, value, T, P, line.three_phase),
        None,
        measured,
    )


def _coefficients(system: Mixture, T: Array, P: Array, x: Array, y: Array) -> tuple[Array, Array, Array]:
    """Activity coefficients (NaN where the model has none), the vapor's fugacity coefficients and K-values ``(N, 2)``, absent components
    at infinite dilution.
    """
    bound = system.phase_model.at(T, P)
    liquid, vapor = (component_major(np.maximum(np.stack([part, 1.0 - part], axis=1), 1e-100)) for part in (x, y))
    ln_phi = bound.ln_phi(vapor, VAPOR)
    K = np.exp(bound.ln_phi(liquid, LIQUID) - ln_phi)
    if system.activity is None:
        return np.full(K.shape, np.nan), np.exp(ln_phi), K
    return np.exp(system.activity.at(T).ln_gamma(liquid.T)).T, np.exp(ln_phi), K


def _liquid_curves(
    system: Mixture, given: str, value: float, T: Array, P: Array, lines: list[ThreePhaseLine]
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
    r = flash(system.phase_model, np.repeat(at_T, many), np.repeat(at_P, many), np.tile(feeds, (len(levels), 1)))
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


def _liquid(system: Mixture, kind: str, T: float, points: int, measured: Measured) -> BinaryDiagram:
    x = spaced(points)
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


def _tie_lines(system: Mixture, T: float) -> tuple[LiquidCurves, ...]:
    """Both liquids at a temperature, under a pressure that keeps everything liquid."""
    feeds = np.stack([_FEEDS, 1.0 - _FEEDS], axis=1)
    bubble = engine.bubble_at_T(system.phase_model, np.full(len(feeds), T), feeds).P
    P = 2.0 * float(np.nanmax(bubble)) if np.isfinite(bubble).any() else 1e6
    r = flash(system.phase_model, np.full(len(feeds), T), np.full(len(feeds), P), feeds)
    split = (r.n_phases == 2) & (r.kinds[:, :2] == LIQUID).all(axis=1)
    seen = sorted({tuple(sorted(r.x[k, :2, 0].round(7).tolist())) for k in np.flatnonzero(split)})
    return tuple(LiquidCurves(np.array([T]), np.array([a]), np.array([b])) for a, b in seen)
