"""The envelope of a system's mixture: lines over the components that are there, marked points, quality lines."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ..core.constants import R
from ..core.equilibrium import saturation as engine
from ..core.equilibrium.critical import critical_points
from ..core.equilibrium.envelope import Limits, Line, bubble_start, dew_start, extremum, quality_start, trace
from ..core.models.contract import LIQUID, VAPOR, PhaseModel, VolumeModel
from ..results.critical import CriticalPoint
from ..results.envelope import Envelope, MarkedPoint
from .stability import MARGINAL, feed_stability

if TYPE_CHECKING:
    from ..system import System

Array = NDArray[np.float64]

_T_MIN, _T_MAX = 10.0, 5000.0
_PURE_POINTS = 60


def envelope(system: System, z: Array, quality: Sequence[float], low: float, high: float) -> Envelope | None:
    """The envelope of ``z (C,)`` between two pressures; None where there is no point to start from."""
    lines = saturation_lines(system, z, low, high)
    if not lines:
        return None
    present, _ = system.present(z)
    found = [_point(line, i) for line in lines for i in line.critical]
    return Envelope(
        system=system,
        z=z,
        lines=tuple(_over_all(line, present, len(z)) for line in lines),
        quality_lines=_quality_lines(system, z, quality, float(lines[0].T[0]), low, high),
        critical_points=tuple(checked_critical(system, list(dict.fromkeys(found)), z)),
        cricondentherm=_extremum(system, z, lines, "T"),
        cricondenbar=_extremum(system, z, lines, "P"),
        unstable=_unstable_share(system, lines, z),
    )


def saturation_lines(system: System, z: Array, low: float, high: float) -> list[Line]:
    """Saturation lines over the components present: one that closes, or one from each side."""
    present, model = system.present(z)
    some = z[present]
    limits = Limits(low * (1.0 - 1e-9), high, _T_MIN, _T_MAX)
    with np.errstate(all="ignore"):
        if len(present) == 1:
            return _pure_lines(model, low, high)
        start = dew_start(model, some, low)
        lines = [trace(model, some, 1.0, start, limits)] if start is not None else []
        if not lines or not lines[0].closed:
            other = bubble_start(model, some, low)
            if other is not None:
                lines.append(trace(model, some, 1.0, other, limits))
    return lines


def checked_critical(system: System, found: Sequence[tuple[float, float, float]], z: Array) -> list[CriticalPoint]:
    """Critical points (T, P, V) with the word on whether their phase is stable."""
    points = []
    for T, P, V in found:
        tm = feed_stability(system, np.array([T]), np.array([P]), z[None]).tm[0]
        points.append(CriticalPoint(system, T, P, V, bool(tm > MARGINAL)))
    return points


def _point(line: Line, i: int) -> tuple[float, float, float]:
    T, P = float(line.T[i]), float(line.P[i])
    return T, P, float(line.Z[i, 0]) * R * T / P


def _extremum(system: System, z: Array, lines: Sequence[Line], of: str) -> MarkedPoint | None:
    present, model = system.present(z)
    if not isinstance(model, VolumeModel):
        return None
    if len(present) == 1:
        return MarkedPoint(*_point(lines[0], lines[0].critical[0])[:2]) if lines[0].critical else None
    which = 0 if of == "T" else 1
    with np.errstate(all="ignore"):
        found = [e for e in (extremum(model, z[present], line, of) for line in lines) if e is not None]
    best = max(found, key=lambda e: e[which], default=None)
    highest = max(float((line.T if of == "T" else line.P).max()) for line in lines)
    if best is None or best[which] < highest * (1.0 - 1e-6):
        return None
    return MarkedPoint(*best)


def _over_all(line: Line, present: NDArray[np.intp], count: int) -> Line:
    """A line over the components present as one over all; K of an absent component is not known."""
    ln_k = np.full((len(line.T), count), np.nan)
    ln_k[:, present] = line.ln_k
    return Line(line.T, line.P, ln_k, line.Z, line.fraction, line.critical, line.closed, line.broken)


def _quality_lines(system: System, z: Array, quality: Sequence[float], T_dew: float, low: float, high: float) -> dict[float, Line]:
    present, model = system.present(z)
    if len(present) == 1:
        return {}
    found = {}
    limits = Limits(low * (1.0 - 1e-9), high, _T_MIN, _T_MAX)
    with np.errstate(all="ignore"):
        for q in quality:
            start = quality_start(model, z[present], q, low, T_dew, _T_MIN)
            if start is not None:
                line = _up_to_critical(trace(model, z[present], q, start, limits))
                found[float(q)] = _over_all(line, present, len(z))
    return found


def _up_to_critical(line: Line) -> Line:
    """A quality line past the critical point is the line of the other quality: cut it there."""
    if not line.critical:
        return line
    return line.between(0, line.critical[0])


def _unstable_share(system: System, lines: Sequence[Line], z: Array) -> float:
    T, P = np.concatenate([line.T for line in lines]), np.concatenate([line.P for line in lines])
    tm = feed_stability(system, T, P, np.broadcast_to(z, (len(T), len(z)))).tm
    return float((tm < 10.0 * MARGINAL).mean())


def _pure_lines(model: PhaseModel, low: float, high: float) -> list[Line]:
    """The vapor-pressure curve of the only component, up to its critical point where it has one, as dew and as bubble line."""
    one = np.ones((1, 1))
    start = engine.bubble_at_P(model, np.array([low]), one)
    if not start.found[0]:
        return []
    end = critical_points(model, one[0])
    if end:
        T = np.geomspace(start.T[0], end[0].T, _PURE_POINTS)[:-1]
    else:
        T = np.geomspace(start.T[0], float(engine.bubble_at_P(model, np.array([high]), one).T[0]), _PURE_POINTS)
    points = engine.bubble_at_T(model, T, np.ones((len(T), 1)))
    T, P = T[points.found], points.P[points.found]
    bound, ones = model.at(T, P), np.ones((len(T), 1))
    Z = np.stack([bound.describe(ones, kind)[0] for kind in (VAPOR, LIQUID)], axis=1)
    if end:
        c = end[0]
        Zc = c.P * c.V / (R * c.T)
        T, P, Z = np.append(T, c.T), np.append(P, c.P), np.vstack([Z, [Zc, Zc]])
    critical = (len(T) - 1,) if end else ()
    ln_k = np.zeros((len(T), 1))
    return [Line(T, P, ln_k, ordered, 1.0, critical, bool(end), False) for ordered in (Z, Z[:, ::-1].copy())]
