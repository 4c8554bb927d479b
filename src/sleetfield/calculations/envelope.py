"""The envelope of a system's mixture: lines over the components that are there, marked points, quality lines, regions of three phases."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

from ..composition import Composition
from ..core.arrays import ABSENT
from ..core.constants import R
from ..core.equilibrium import saturation as engine
from ..core.equilibrium.critical import CriticalPoint as Critical, critical_points
from ..core.equilibrium.envelope import Line
from ..core.equilibrium.line_equations import Limits, Tracer
from ..core.equilibrium.line_points import clipped, crossings
from ..core.equilibrium.phase_boundaries import (
    Boundaries,
    Meeting,
    forms_more,
    lines_from_ends,
    meeting_beside,
    phase_boundaries,
    stable_critical,
    three_phase_lines_by,
)
from ..core.equilibrium.quality_lines import quality_lines, same_ends
from ..core.equilibrium.three_phase_line import ThreePhaseLine
from ..core.models.contract import LIQUID, VAPOR, PhaseModel, VolumeModel
from ..errors import CalculationError, InputError
from ..mixture import Mixture
from ..results.critical import CriticalPoint
from ..results.envelope import Envelope, MarkedPoint
from ..units import one_in_si
from .critical import checked_critical
from .later import ANSWERS

Array = NDArray[np.float64]
Lines = TypeVar("Lines", Boundaries, tuple[Line, ...])

P_MAX = 5.0e7
"""Pressure, Pa, up to which an open envelope is followed unless told otherwise."""
T_MIN, T_MAX = 10.0, 5000.0
"""Temperatures, K, between which lines are followed unless told otherwise."""
P_TRACED = 2.0e8
"""Pressure, Pa, up to which lines are followed at least, since one that leaves the limits may come back."""
_PURE_POINTS = 60
_KEPT = 16
"""How many sets of lines and boundaries a system remembers."""


def asked(
    system: Mixture,
    z: Composition,
    quality: Sequence[float],
    quality_basis: str,
    pressures: tuple[Any, Any],
    temperatures: tuple[Any, Any],
    basis: str,
) -> Envelope:
    """The envelope that a user asks for, between ``pressures`` and ``temperatures``; `System.envelope` says it all.

    Raises
    ------
    InputError
        If there are several compositions, or a share of vapor or a limit is impossible.
    CalculationError
        If there is no point to start from.
    """
    system.need_vapor("envelope")
    _, batch, shape = system.conditions(z, basis)
    if shape:
        raise InputError("An envelope is of one composition; call it once for each, and sl.compare_envelopes for one figure.")
    for q in quality:
        if not 0.0 < q < 1.0:
            raise InputError(
                f"A quality line needs a vapor fraction between 0 and 1; got {q!r}. (0 is the bubble line, 1 the dew line.)"
            )
    if quality_basis not in ("mole", "mass"):
        raise InputError(f"quality_basis is {quality_basis!r}; it is 'mole' or 'mass'.")
    if quality_basis == "mass":
        system.mean_molar_mass(batch)
    P_default = min(P_MAX, system.phase_model.P_limit)
    limits = Limits(
        one_in_si(pressures[0], "pressure", "P_min"),
        P_default if pressures[1] is None else one_in_si(pressures[1], "pressure", "P_max"),
        T_MIN if temperatures[0] is None else one_in_si(temperatures[0], "temperature", "T_min"),
        T_MAX if temperatures[1] is None else one_in_si(temperatures[1], "temperature", "T_max"),
    )
    for name, unit, low, high in (("P", "Pa", limits.P_min, limits.P_max), ("T", "K", limits.T_min, limits.T_max)):
        if not 0.0 < low < high:
            raise InputError(f"{name}_min must be positive and below {name}_max; got {low:g} and {high:g} {unit}.")
    found = envelope(system, batch[0], quality, quality_basis, limits)
    if found is None:
        raise CalculationError("No bubble or dew point was found to start the envelope from. Try another P_min.")
    return found


def envelope(system: Mixture, z: Array, quality: Sequence[float], quality_basis: str, limits: Limits) -> Envelope | None:
    """The envelope of ``z (C,)`` within limits of pressure and temperature; None where there is no point to start from."""
    found = boundaries(system, z, limits.P_min, max(limits.P_max, P_TRACED))
    present, model = system.present(z)
    some, inner = z[present], _slightly_wider(limits)
    with np.errstate(all="ignore"):
        pairs = [
            (part, _carried(model, some, part, line, own))
            for line, own in zip(found.lines, found.unstable, strict=True)
            for part in clipped(Tracer(model, some, 1.0), line, inner)
        ]
    lines, flags = [part for part, _ in pairs], [own for _, own in pairs]
    if len(present) > 1:
        # what was nowhere the boundary is an artifact of tracing on
        kept = [i for i, unstable in enumerate(flags) if not unstable.all()]
        lines, flags = [lines[i] for i in kept], [flags[i] for i in kept]
    if not lines:
        return None
    meetings, marks = _transitions(system, z, lines, flags)
    three = list(found.three_phase)
    for meeting in meetings:
        three += three_phase_lines_by(model, some, meeting, _traced_limits(limits), three)
    points = list(dict.fromkeys(_point(line, i) for line in lines for i in line.critical))
    return Envelope(
        system=system,
        z=z,
        lines=tuple(_over_all(line, present, len(z)) for line in lines),
        quality_lines=_quality_lines(system, z, quality, quality_basis, found, limits),
        quality_basis=quality_basis,
        critical_points=tuple(checked_critical(system, points, z)),
        cricondentherm=_extremum(system, lines, flags, found, "T"),
        cricondenbar=_extremum(system, lines, flags, found, "P"),
        unstable_points=tuple(flags),
        of_liquids=tuple(_of_liquids(model, some, line) for line in lines),
        second_liquid=marks,
        later=ANSWERS,
        three_phase=tuple(part for line in three for part in _within(line, inner)),
        missing_critical=_missing(system, z, points, found, inner),
        surveyed_from=np.nan if found.survey is None else float(found.survey.T[0]),
    )


def boundaries(system: Mixture, z: Array, low: float, high: float) -> Boundaries:
    """Every boundary of a feed over the components present, at any temperature; remembered for the last few feeds."""
    present, model = system.present(z)

    def found() -> Boundaries:
        lines = lines_from_low_pressure(system, z, low, high)
        if len(present) == 1:
            flags = tuple(np.zeros(len(line.T), dtype=bool) for line in lines)
            return Boundaries(lines, flags, (), None)
        return phase_boundaries(model, z[present], _limits(model, low, high), lines)

    return _remembered(system, ("boundaries", z.tobytes(), low, high), found)


def lines_from_low_pressure(system: Mixture, z: Array, low: float, high: float) -> tuple[Line, ...]:
    """Saturation lines over the components present that begin at their ends at low pressure, or at critical points: all, but for what a survey may add."""
    present, model = system.present(z)

    def found() -> tuple[Line, ...]:
        with np.errstate(all="ignore"):
            if len(present) == 1:
                return tuple(_pure_lines(model, low, min(high, model.P_limit)))
            return lines_from_ends(model, z[present], _limits(model, low, high))

    return _remembered(system, ("lines", z.tobytes(), low, high), found)


def _carried(model: PhaseModel, z: Array, part: Line, line: Line, unstable: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Where a further phase would form along a part of a line of which that is known; looked for at the places that the line does not have."""
    known = dict(zip(zip(line.T.tolist(), line.P.tolist(), strict=True), unstable.tolist(), strict=True))
    flags = [known.get(place) for place in zip(part.T.tolist(), part.P.tolist(), strict=True)]
    new = np.array([i for i, flag in enumerate(flags) if flag is None], dtype=np.intp)
    found = np.array([bool(flag) for flag in flags])
    if new.size and len(z) > 1:
        found[new] = forms_more(model, z, part.T[new], part.P[new], part.roots[new, 0])
    return found


def _limits(model: PhaseModel, low: float, high: float) -> Limits:
    return Limits(low * (1.0 - 1e-9), min(high, model.P_limit), T_MIN, T_MAX)


def _remembered(system: Mixture, key: tuple[str, bytes, float, float], work: Callable[[], Lines]) -> Lines:
    """What ``work`` gives, kept with the system for the last few feeds."""
    known = system.known_boundaries
    if key not in known:
        made = work()
        while len(known) >= _KEPT:
            known.pop(next(iter(known)))
        known[key] = made
    found: Lines = known[key]
    return found


def _slightly_wider(limits: Limits) -> Limits:
    return limits._replace(P_min=limits.P_min * (1.0 - 2e-9))


def _traced_limits(limits: Limits) -> Limits:
    return Limits(limits.P_min, max(limits.P_max, P_TRACED), T_MIN, T_MAX)


def _within(line: ThreePhaseLine, limits: Limits) -> list[ThreePhaseLine]:
    """The stretches of a three-phase line within limits, cut where it passes them."""
    inside = (line.T >= limits.T_min) & (line.T <= limits.T_max) & (line.P >= limits.P_min) & (line.P <= limits.P_max)
    if inside.all():
        return [line]
    found = []
    for a, b in np.flatnonzero(np.diff(np.concatenate([[False], inside, [False]]).astype(int))).reshape(-1, 2):
        if b - a > 1:
            found.append(ThreePhaseLine(*(column[a:b] for column in line)))
    return found


def _missing(
    system: Mixture, z: Array, met: Sequence[tuple[float, float, float]], found: Boundaries, limits: Limits
) -> tuple[CriticalPoint, ...]:
    """Stable critical points that no line came to, looked for where the lines are not one that closes."""
    present, model = system.present(z)
    if len(present) == 1 or (len(found.lines) == 1 and found.lines[0].closed and not found.three_phase):
        return ()
    with np.errstate(all="ignore"):
        points = critical_points(model, z[present])
        stable = stable_critical(model, z[present], points)
    lost = [
        p
        for p, fine in zip(points, stable, strict=True)
        if fine
        and limits.P_min <= p.P <= limits.P_max
        and limits.T_min <= p.T <= limits.T_max
        and all(abs(p.T / T - 1.0) > 1e-5 or abs(p.P / P - 1.0) > 1e-4 for T, P, _ in met)
    ]
    return tuple(CriticalPoint(system, p.T, p.P, p.V, True) for p in lost)


def _point(line: Line, i: int) -> tuple[float, float, float]:
    T, P = float(line.T[i]), float(line.P[i])
    return T, P, float(line.Z[i, 0]) * R * T / P


def _extremum(
    system: Mixture, lines: Sequence[Line], flags: Sequence[NDArray[np.bool_]], found: Boundaries, of: str
) -> MarkedPoint | None:
    """The highest temperature or pressure of the stable boundary; None where that is an end of a line which would go on.

    Every extremum along a line is one of its points.
    """
    if not isinstance(system.phase_model, VolumeModel):
        return None
    places = []
    for line, unstable in zip(lines, flags, strict=True):
        values = line.T if of == "T" else line.P
        stable = np.flatnonzero(~unstable)
        if stable.size:
            i = int(stable[values[stable].argmax()])
            places.append((float(values[i]), MarkedPoint(float(line.T[i]), float(line.P[i])), _goes_on(line, i, found)))
    best = max(places, key=lambda place: place[0], default=None)
    return None if best is None or best[2] else best[1]


def _goes_on(line: Line, i: int, found: Boundaries) -> bool:
    """Whether point ``i`` is an end of a line that only a limit cut off: no critical point, and no other line begins there."""
    if 0 < i < len(line.T) - 1 or i in line.critical:
        return False
    place = np.array([line.T[i], line.P[i]])
    ends = [np.array([other.T[k], other.P[k]]) for other in found.lines for k in (0, -1)]
    return sum(bool(np.abs(end / place - 1.0).max() < 1e-6) for end in ends) < 2


def _over_all(line: Line, present: NDArray[np.intp], count: int) -> Line:
    """A line over the components present as one over all; K of an absent component is not known."""
    ln_k = np.full((len(line.T), count), np.nan)
    ln_k[:, present] = line.ln_k
    return replace(line, ln_k=ln_k)


def _quality_lines(
    system: Mixture, z: Array, quality: Sequence[float], basis: str, found: Boundaries, limits: Limits
) -> dict[float, tuple[Line, ...]]:
    present, model = system.present(z)
    if found.survey is None:
        return {}
    amounts, weights = z[present], None
    if basis == "mass":
        weights = 1.0 / system.molar_mass[present]
        amounts = amounts / weights / (amounts / weights).sum()
    lines = {}
    critical = [Critical(*_point(line, i)) for line in found.lines for i in line.critical]
    inner = _slightly_wider(limits)
    with np.errstate(all="ignore"):
        for q in quality:
            tracer = Tracer(model, amounts, q, weights)
            whole = quality_lines(tracer, z[present], found.survey, _traced_limits(inner), critical)
            parts: list[Line] = []
            for part in (part for line in whole for part in clipped(tracer, line, inner)):
                # lines that were two beyond the limits alone
                if not any(same_ends(part, other) for other in parts):
                    parts.append(part)
            lines[float(q)] = tuple(_over_all(line, present, len(z)) for line in parts)
    return lines


def _of_liquids(model: PhaseModel, z: Array, line: Line) -> NDArray[np.bool_]:
    """Where the lighter of both phases of a saturation line is a liquid as well."""
    if len(z) == 1:
        return np.zeros(len(line.T), dtype=bool)
    # at a critical point there is no lighter one: it is what its neighbor is
    some = np.delete(np.arange(len(line.T)), line.critical)
    incipient = z * np.exp(-line.ln_k[some])
    incipient /= incipient.sum(axis=1)[:, None]
    lighter, roots, found = line.first_is_lighter[some], line.roots[some], np.zeros(len(line.T), dtype=bool)
    x = np.where(lighter[:, None], z, np.maximum(incipient, ABSENT))
    with np.errstate(all="ignore"):
        found[some] = ~model.at(line.T[some], line.P[some]).is_vapor(x, np.where(lighter, roots[:, 0], roots[:, 1]))
    for i in line.critical:
        found[i] = found[i - 1] if i else found[i + 1]
    return np.asarray(found)


def _transitions(
    system: Mixture, z: Array, lines: Sequence[Line], unstable: Sequence[NDArray[np.bool_]]
) -> tuple[list[Meeting], tuple[MarkedPoint, ...]]:
    """Where along the lines a second liquid appears or leaves: three phases meet there. Those that were solved, and all of them, each once."""
    present, model = system.present(z)
    solved: list[Meeting] = []
    marks: list[MarkedPoint] = []
    for line, flags in zip(lines, unstable, strict=True):
        for i in np.flatnonzero(flags[1:] != flags[:-1]):
            stable, other = (int(i) + 1, int(i)) if flags[i] else (int(i), int(i) + 1)
            meeting = meeting_beside(model, z[present], line, stable, other)
            place = _transition(system, z, line, int(i), bool(flags[i])) if meeting is None else MarkedPoint(meeting.T, meeting.P)
            if meeting is not None and not any(_same(meeting, known) for known in solved):
                solved.append(meeting)
            if not any(_same(place, known) for known in marks):
                marks.append(place)
    return solved, tuple(marks)


def _same(one: Meeting | MarkedPoint, other: Meeting | MarkedPoint) -> bool:
    return bool(abs(np.log(one.T / other.T)) < 1e-4 and abs(np.log(one.P / other.P)) < 1e-3)


def _transition(system: Mixture, z: Array, line: Line, i: int, unstable: bool) -> MarkedPoint:
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
        T, P, _, _ = here
        place = MarkedPoint(T, P)
        beyond = forms_more(model, z[present], np.array([T]), np.array([P]), line.roots[[i], 0])
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
    both = [bound.describe(ones, kind) for kind in (VAPOR, LIQUID)]
    Z, packing = np.stack([d.Z for d in both], axis=1), np.stack([d.packing for d in both], axis=1)
    if end:
        c = end[0]
        Zc = c.P * c.V / (R * c.T)
        T, P, Z = np.append(T, c.T), np.append(P, c.P), np.vstack([Z, [Zc, Zc]])
        packing = np.vstack([packing, np.full(2, packing[-1].mean())])
    critical = (len(T) - 1,) if end else ()
    ln_k = np.zeros((len(T), 1))
    beta = np.ones(len(T))
    roots = np.tile(np.array([VAPOR, LIQUID], dtype=np.int8), (len(T), 1))
    dew = Line(T, P, ln_k, Z, packing, beta, roots, critical, bool(end), False)
    return [dew, replace(dew, Z=Z[:, ::-1].copy(), packing=packing[:, ::-1].copy(), roots=roots[:, ::-1].copy())]
