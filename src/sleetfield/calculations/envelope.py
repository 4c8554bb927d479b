"""The envelope of a system's mixture: lines over the components that are there, marked points, quality lines."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ..core.constants import R
from ..core.equilibrium import saturation as engine
from ..core.equilibrium.critical import critical_points
from ..core.equilibrium.envelope import Limits, Line, Tracer, trace
from ..core.equilibrium.envelope_starts import bubble_start, dew_start, from_critical, quality_start
from ..core.equilibrium.line_points import crossings, extremum
from ..core.models.contract import LIQUID, VAPOR, PhaseModel, VolumeModel
from ..results.critical import CriticalPoint
from ..results.envelope import Envelope, MarkedPoint
from .stability import MARGINAL, feed_stability, forms_more

if TYPE_CHECKING:
    from ..system import System

Array = NDArray[np.float64]

T_MIN, T_MAX = 10.0, 5000.0
"""Temperatures, K, between which lines are followed unless told otherwise."""
_PURE_POINTS = 60


def envelope(system: System, z: Array, quality: Sequence[float], quality_basis: str, limits: Limits) -> Envelope | None:
    """The envelope of ``z (C,)`` within limits of pressure and temperature; None where there is no point to start from."""
    lines = saturation_lines(system, z, limits.P_min, limits.P_max, limits)
    if not lines:
        return None
    present, _ = system.present(z)
    found = [_point(line, i) for line in lines for i in line.critical]
    unstable = [_unstable(system, line, z) for line in lines]
    return Envelope(
        system=system,
        z=z,
        lines=tuple(_over_all(line, present, len(z)) for line in lines),
        quality_lines=_quality_lines(system, z, quality, quality_basis, float(lines[0].T[0]), limits),
        quality_basis=quality_basis,
        critical_points=tuple(checked_critical(system, list(dict.fromkeys(found)), z)),
        cricondentherm=_extremum(system, z, lines, "T"),
        cricondenbar=_extremum(system, z, lines, "P"),
        unstable_points=tuple(unstable),
        second_liquid=_transitions(system, z, lines, unstable),
    )


def saturation_lines(system: System, z: Array, low: float, high: float, within: Limits | None = None) -> list[Line]:
    """Saturation lines over the components present: one that closes, or one from each side; at any temperature unless ``within`` limits it."""
    present, model = system.present(z)
    some = z[present]
    limits = Limits(low * (1.0 - 1e-9), high, within.T_min if within else T_MIN, within.T_max if within else T_MAX)
    with np.errstate(all="ignore"):
        if len(present) == 1:
            return _pure_lines(model, low, high)
        start = dew_start(model, some, low)
        inside = start is not None and not limits.left(start.X, len(some))
        lines = [trace(Tracer(model, some, 1.0), start, limits)] if start is not None and inside else []
        if not lines or not lines[0].closed:
            other = bubble_start(model, some, low)
            if other is not None and not limits.left(other.X, len(some)):
                lines.append(trace(Tracer(model, some, 1.0), other, limits))
        if any(not line.closed for line in lines):
            lines += _from_critical_points(system, model, z, lines, limits)
    return lines


def _from_critical_points(system: System, model: PhaseModel, z: Array, lines: Sequence[Line], limits: Limits) -> list[Line]:
    """Lines both ways from the stable critical points that the others, which end elsewhere, did not come to."""
    met = [float(line.T[i]) for line in lines for i in line.critical]
    some = z[system.present(z)[0]]
    points = critical_points(model, some)
    found = []
    for point, checked in zip(points, checked_critical(system, points, z), strict=True):
        inside = limits.P_min <= point.P <= limits.P_max and limits.T_min <= point.T <= limits.T_max
        if checked.stable and inside and all(abs(point.T / T - 1.0) > 1e-6 for T in met):
            found += from_critical(model, some, point, limits)
    return found


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
    return Line(line.T, line.P, ln_k, line.Z, line.beta, line.critical, line.closed, line.broken)


def _quality_lines(
    system: System, z: Array, quality: Sequence[float], basis: str, T_dew: float, limits: Limits
) -> dict[float, Line]:
    present, model = system.present(z)
    if len(present) == 1:
        return {}
    found = {}
    amounts, weights = z[present], None
    if basis == "mass":
        weights = 1.0 / system.molar_mass[present]
        amounts = amounts / weights / (amounts / weights).sum()
    within = limits._replace(P_min=limits.P_min * (1.0 - 1e-9))
    with np.errstate(all="ignore"):
        for q in quality:
            tracer = Tracer(model, amounts, q, weights)
            start = quality_start(tracer, limits.P_min, T_dew, T_MIN)
            if start is not None:
                line = _up_to_critical(trace(tracer, start, within))
                found[float(q)] = _over_all(line, present, len(z))
    return found


def _up_to_critical(line: Line) -> Line:
    """A quality line past the critical point is the line of the other quality: cut it there."""
    if not line.critical:
        return line
    return line.between(0, line.critical[0])


def _unstable(system: System, line: Line, z: Array) -> NDArray[np.bool_]:
    """Where on a saturation line a further phase would form."""
    kinds = np.where(line.first_is_lighter, VAPOR, LIQUID).astype(np.int8)
    found = forms_more(system, line.T, line.P, np.broadcast_to(z, (len(line.T), len(z))), kinds)
    # at a critical point both kinds are one
    for i in line.critical:
        found[i] = found[i - 1] if i else found[i + 1]
    return found


def _transitions(system: System, z: Array, lines: Sequence[Line], unstable: Sequence[NDArray[np.bool_]]) -> tuple[MarkedPoint, ...]:
    """Where along the lines a second liquid appears or leaves, each place once: three phases meet there."""
    found: list[MarkedPoint] = []
    for line, flags in zip(lines, unstable, strict=True):
        for i in np.flatnonzero(flags[1:] != flags[:-1]):
            place = _transition(system, z, line, int(i), bool(flags[i]))
            if all(abs(np.log(place.T / known.T)) > 1e-4 for known in found):
                found.append(place)
    return tuple(found)


def _transition(system: System, z: Array, line: Line, i: int, unstable: bool) -> MarkedPoint:
    """The place between points ``i`` and ``i + 1`` of a line, of which the first is ``unstable`` or not, by bisection along the line."""
    present, model = system.present(z)
    of = "T" if abs(np.log(line.T[i + 1] / line.T[i])) * 10.0 > abs(np.log(line.P[i + 1] / line.P[i])) else "P"
    ends = [float(v) for v in getattr(line, of)[i : i + 2]]
    place = MarkedPoint(float(line.T[i]), float(line.P[i]))
    stretch = line.between(max(i - 1, 0), min(i + 2, len(line.T) - 1))
    for _ in range(20):
        middle = float(np.sqrt(ends[0] * ends[1]))
        with np.errstate(all="ignore"):
            here = next(crossings(model, z[present], stretch, of, middle), None)
        if here is None:
            break
        T, P, _, lighter = here
        place = MarkedPoint(T, P)
        beyond = forms_more(system, np.array([T]), np.array([P]), z[None], VAPOR if lighter else LIQUID)
        ends[0 if bool(beyond[0]) == unstable else 1] = middle
    return place


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
    return [Line(T, P, ln_k, ordered, np.ones(len(T)), critical, bool(end), False) for ordered in (Z, Z[:, ::-1].copy())]
