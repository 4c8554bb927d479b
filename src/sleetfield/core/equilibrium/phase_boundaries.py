"""Every boundary at which the number of phases of a mixture changes over temperature and pressure.

Saturation lines are traced from their ends at low pressure and from critical points. A survey, flashes on a coarse grid, then tells whether that
is all: between neighbors with different numbers of phases a line has to pass. Where none does, the boundary is narrowed down by flashes, and
traced both ways from there: as a saturation line where one phase becomes two, as a three-phase line where two become three.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..arrays import ABSENT, Array, Kinds, component_major
from ..blocks import in_threads, take_rows
from ..brackets import HALVINGS, change_between
from ..models.contract import Kind, PhaseModel, VolumeModel
from .critical import CriticalPoint, critical_points
from .envelope import Line, joined, trace
from .envelope_starts import bubble_start, dew_start, from_critical
from .flash import FlashResult, flash
from .line_equations import Limits, Point, Tracer
from .stability import MARGINAL, UNSTABLE, further_phase, of_feeds
from .three_phase_line import ThreePhaseLine, follow, start_at, start_beside

_TEMPERATURES, _PRESSURES = 28, 20
_HALVINGS, _AT_ONCE = {1: 12, 2: 6}, {1: 4, 2: 1}
"""Of one phase and two, of two and three: states next to the latter border cost the most, and are near enough sooner."""
_ROUNDS = 6
_COLDER, _MUCH_COLDER = 0.95, 0.7
"""How far below the coldest point of the lines a survey looks, as a factor: what liquids do far below the bubble point is not asked, but where none
of the lines comes back to low pressure there is no telling where that is."""
_NEAR = 5e-3
"""A boundary this close to a line, in 10 ln T and ln P, is that line."""
_ON_BOUNDARY = 10.0 * MARGINAL
"""A feed on a boundary is marginal; below this a further phase would form there."""
_ALONG = 0.25
"""How far from a chord, over its length, its line may be."""
_MOST_PHASES = 3
_TESTED = 10
"""States that are tested for stability together, where there are more of them than one thread should do."""


@dataclass(frozen=True)
class Survey:
    """Flashes on a grid of temperatures ``(A,)`` and pressures ``(B,)``, temperature by temperature."""

    T: Array
    P: Array
    result: FlashResult

    @property
    def states(self) -> tuple[Array, Array]:
        """T and P of every node ``(A·B,)``."""
        T, P = np.meshgrid(self.T, self.P, indexing="ij")
        return T.ravel(), P.ravel()

    @property
    def edges(self) -> NDArray[np.intp]:
        """Pairs of neighboring nodes ``(E, 2)``."""
        node = np.arange(len(self.T) * len(self.P)).reshape(len(self.T), len(self.P))
        along_T, along_P = np.stack([node[:-1].ravel(), node[1:].ravel()]), np.stack([node[:, :-1].ravel(), node[:, 1:].ravel()])
        return np.concatenate([along_T, along_P], axis=1).T


@dataclass(frozen=True)
class Boundaries:
    """Saturation lines, where along each a further phase would form, lines of a third phase, and the survey that they were held against; None for one component."""

    lines: tuple[Line, ...]
    unstable: tuple[NDArray[np.bool_], ...]
    three_phase: tuple[ThreePhaseLine, ...]
    survey: Survey | None


def lines_from_ends(model: PhaseModel, z: Array, limits: Limits) -> tuple[Line, ...]:
    """Saturation lines from their ends at low pressure, and from critical points that those did not come to; mostly that is all."""
    with np.errstate(all="ignore"):
        lines = _from_low_pressure(model, z, limits)
        if not lines or any(not line.closed for line in lines):
            lines += _from_critical_points(model, z, lines, limits)
    return tuple(lines)


def phase_boundaries(model: PhaseModel, z: Array, limits: Limits, known: Sequence[Line] | None = None) -> Boundaries:
    """The boundaries of ``z (C,)``, of two components or more that are all present, within limits; ``known`` are its lines from their ends."""
    with np.errstate(all="ignore"):
        lines: list[Line] = []
        unstable: list[NDArray[np.bool_]] = []
        three: list[ThreePhaseLine] = []
        paths: list[Array] = []

        def take(new: Sequence[Line]) -> None:
            """The lines, and those that take over where they stop being the boundary."""
            for _ in range(_ROUNDS):
                lines.extend(new)
                flags = [unstable_along(model, z, line) for line in new]
                unstable.extend(flags)
                paths.extend(part for line, own in zip(new, flags, strict=True) for part in _stable_path(line, ~own))
                new = _from_meetings(model, z, new, flags, lines, limits)
                if not new:
                    break

        take(lines_from_ends(model, z, limits) if known is None else known)
        survey = _survey(model, z, lines, limits)
        for fewer in (1, 2):
            edges = _changes(survey, fewer)
            for _ in range(_ROUNDS):
                edges = edges[~crossed(edges, paths)]
                chosen = (
                    np.unique(np.linspace(0, len(edges) - 1, _AT_ONCE[fewer]).astype(int)) if len(edges) else np.zeros(0, dtype=int)
                )
                if not chosen.size:
                    break
                for border in _narrowed(model, z, edges[chosen], _HALVINGS[fewer]):
                    made = _traced(model, z, border, limits, paths)
                    if isinstance(made, ThreePhaseLine):
                        three.append(made)
                        paths.append(path(made))
                    elif made is not None:
                        take([made])
                edges = np.delete(edges, chosen, axis=0)
    return Boundaries(tuple(lines), tuple(unstable), tuple(three), survey)


def meeting_beside(model: PhaseModel, z: Array, line: Line, stable: int, unstable: int) -> Meeting | None:
    """Where between two neighboring points of a saturation line, of which one is stable and one not, a further phase begins to form."""
    with np.errstate(all="ignore"):
        k = unstable if unstable not in line.critical else stable
        place = model.at(line.T[[unstable]], line.P[[unstable]])
        incipient = np.maximum(z * np.exp(-line.ln_k[k]), ABSENT)[None]
        incipient = incipient / incipient.sum()
        trial = further_phase(place, z[None], [z[None], incipient], line.roots[[k], 0]).trial[0]
        start = start_at(model, z, float(line.T[stable]), float(line.P[stable]), incipient[0], trial)
        if start is None:
            return None
    T, P = np.exp(start.u[-2:])
    ends = np.log([[line.T[i], line.P[i]] for i in (stable, unstable)])
    room = 0.5 * np.abs(ends[1] - ends[0]) + 2e-3
    if not (np.abs(start.u[-2:] - ends.mean(axis=0)) < 0.5 * np.abs(ends[1] - ends[0]) + room).all():
        return None
    c = len(z)
    second = z * np.exp(-start.u[:c])
    return Meeting(float(T), float(P), np.stack([second, np.exp(start.u[c : 2 * c]) * second]))


def three_phase_lines_by(
    model: PhaseModel, z: Array, meeting: Meeting, limits: Limits, known: Sequence[ThreePhaseLine]
) -> list[ThreePhaseLine]:
    """Those that leave a place where three phases meet on a saturation line, besides the ones ``known``.

    Of two components there is one, on which the phases stay as they are while their amounts change; of more there are two, each with
    another of the phases that form as the incipient one.
    """
    found: list[ThreePhaseLine] = []
    with np.errstate(all="ignore"):
        for second, third in ((0, 1), (1, 0)):
            start = start_at(model, z, meeting.T, meeting.P, meeting.x[second], meeting.x[third])
            line = None if start is None else follow(model, z, start, limits)
            if line is None:
                continue
            middle = np.log([line.T[len(line.T) // 2], line.P[len(line.T) // 2]])
            if not lies_on(middle, [path(other) for other in (*known, *found)]):
                found.append(line)
    return found


def stable_critical(model: PhaseModel, z: Array, points: Sequence[CriticalPoint]) -> list[bool]:
    """Whether the phase is stable at each of its critical points."""
    if not points:
        return []
    tm = _feed_tm(model, z, np.array([p.T for p in points]), np.array([p.P for p in points]))
    return [bool(t > MARGINAL) for t in tm]


def unstable_along(model: PhaseModel, z: Array, line: Line) -> NDArray[np.bool_]:
    """Where on a saturation line a further phase would form ``(M,)``."""
    found = forms_more(model, z, line.T, line.P, line.roots[:, 0])
    # at a critical point both kinds are one
    for i in line.critical:
        found[i] = found[i - 1] if i else found[i + 1]
    return found


def forms_more(model: PhaseModel, z: Array, T: Array, P: Array, kind: Kind) -> NDArray[np.bool_]:
    """Where the feed ``z (C,)`` on a phase boundary, of given ``kind``, is not stable: a further phase would form, or it is of the other kind."""
    with np.errstate(all="ignore"):
        feed = component_major(np.broadcast_to(np.maximum(z, ABSENT), (len(T), len(z))))
        bound = model.at(T, P)
        above = (feed * (bound.ln_phi(feed, kind) - bound.ln_phi(feed))).sum(axis=-1)
        return np.asarray((above > -UNSTABLE) | (_feed_tm(model, z, T, P) < _ON_BOUNDARY))


def _feed_tm(model: PhaseModel, z: Array, T: Array, P: Array) -> Array:
    """The lowest tangent-plane distance of the feed at each of the conditions ``(M,)``."""

    def lowest(T: Array, P: Array) -> Array:
        # what is ignored is so by each thread
        with np.errstate(all="ignore"):
            return of_feeds(model, T, P, np.broadcast_to(z, (len(T), len(z)))).tm

    return in_threads(lowest, (T, P), _TESTED) if model.costs_by_state() else lowest(T, P)


def _from_low_pressure(model: PhaseModel, z: Array, limits: Limits) -> list[Line]:
    lines: list[Line] = []
    for begin in (dew_start, bubble_start):
        start = begin(model, z, limits.P_min)
        if start is not None and not limits.left(start.X, len(z)):
            lines.append(trace(Tracer(model, z, 1.0), start, limits))
        if lines and lines[0].closed:
            break
    return lines


def _from_critical_points(model: PhaseModel, z: Array, lines: Sequence[Line], limits: Limits) -> list[Line]:
    """Lines both ways from the stable critical points that the others, which end elsewhere, did not come to."""
    met = [float(line.T[i]) for line in lines for i in line.critical]
    points = critical_points(model, z)
    found = []
    for point, stable in zip(points, stable_critical(model, z, points), strict=True):
        inside = limits.P_min <= point.P <= limits.P_max and limits.T_min <= point.T <= limits.T_max
        if stable and inside and all(abs(point.T / T - 1.0) > 1e-6 for T in met):
            found += from_critical(model, z, point, limits)
    return found


def _survey(model: PhaseModel, z: Array, lines: Sequence[Line], limits: Limits) -> Survey:
    T = np.concatenate([line.T for line in lines]) if lines else np.array([200.0, 600.0])
    P = np.concatenate([line.P for line in lines]) if lines else np.array([1e5, 1e7])
    hottest = 1.05 * float(T.max())
    if isinstance(model, VolumeModel):
        # two of the model's own bounds are known: no critical temperature lies above three times the highest of a component
        hottest = max(hottest, model.temperature_scale(z[None])[1] / 2.8)
    highest = limits.P_max if any(not line.closed for line in lines) else max(1.5 * float(P.max()), 1e7)
    colder = _COLDER if any(line.closed for line in lines) else _MUCH_COLDER
    T_axis = np.geomspace(max(colder * float(T.min()), limits.T_min), min(hottest, limits.T_max), _TEMPERATURES)
    P_axis = np.geomspace(1.02 * limits.P_min, min(highest, limits.P_max), _PRESSURES)
    nodes = np.meshgrid(T_axis, P_axis, indexing="ij")
    result = flash(model, nodes[0].ravel(), nodes[1].ravel(), np.broadcast_to(z, (nodes[0].size, len(z))))
    return Survey(T_axis, P_axis, result)


@dataclass(frozen=True)
class Meeting:
    """A place on a saturation line where two phases would form at once: T, P, and both, mole fractions ``(2, C)``."""

    T: float
    P: float
    x: Array


@dataclass(frozen=True)
class Border:
    """A place between two states with different numbers of phases, narrowed down: T, P, and the state that has more of them."""

    T: float
    P: float
    fewer: int
    more: FlashResult


def path(line: Line | ThreePhaseLine) -> Array:
    """A line in ln T and ln P ``(M, 2)``."""
    return np.log(np.stack([line.T, line.P], axis=1))


def _stable_path(line: Line, stable: NDArray[np.bool_]) -> list[Array]:
    """The stretches of a saturation line that are the boundary of the stable feed; elsewhere another boundary runs beside it."""
    whole = path(line)
    ends = np.flatnonzero(np.diff(np.concatenate([[False], stable, [False]]).astype(int))).reshape(-1, 2)
    # up to the neighbors beyond, since the boundary ends somewhere between
    return [whole[max(a - 1, 0) : b + 1] for a, b in ends]


def _changes(survey: Survey, fewer: int) -> Array:
    """Pairs of neighbors of a survey, in ln T and ln P ``(E, 2, 2)``, of which one has ``fewer`` phases and the other more, up to `_MOST_PHASES`."""
    T, P = survey.states
    n, edges = survey.result.n_phases[survey.edges], survey.edges
    change = (n.min(axis=1) == fewer) & (n.max(axis=1) > fewer) & (n.max(axis=1) <= _MOST_PHASES)
    return np.asarray(np.log(np.stack([T, P], axis=1))[edges[change]])


def crossed(ends: Array, paths: Sequence[Array]) -> NDArray[np.bool_]:
    """Which of the segments ``ends (E, 2, 2)`` a path passes through."""
    found = np.zeros(len(ends), dtype=bool)
    a, b = ends[:, 0, None], ends[:, 1, None]
    for path in paths:
        p, q = path[None, :-1], path[None, 1:]
        found |= ((_side(a, b, p) * _side(a, b, q) <= 0.0) & (_side(p, q, a) * _side(p, q, b) <= 0.0)).any(axis=1)
    return found


def _side(a: Array, b: Array, p: Array) -> Array:
    return np.asarray((b[..., 0] - a[..., 0]) * (p[..., 1] - a[..., 1]) - (b[..., 1] - a[..., 1]) * (p[..., 0] - a[..., 0]))


def lies_on(place: Array, paths: Sequence[Array]) -> bool:
    """Whether a place ``(2,)`` is on one of the paths."""
    scale = np.array([10.0, 1.0])
    for path in paths:
        p, q, at = path[:-1] * scale, path[1:] * scale, place * scale
        way = q - p
        t = np.clip(((at - p) * way).sum(axis=1) / np.maximum((way * way).sum(axis=1), 1e-300), 0.0, 1.0)
        if len(t) and float(np.linalg.norm(p + t[:, None] * way - at, axis=1).min()) < _NEAR:
            return True
    return False


def _narrowed(model: PhaseModel, z: Array, ends: Array, halvings: int) -> list[Border]:
    """The borders between the states ``ends (E, 2, 2)``, in ln T and ln P."""
    low, high = ends[:, 0], ends[:, 1]

    def at(u: Array) -> FlashResult:
        return flash(model, np.exp(u[:, 0]), np.exp(u[:, 1]), np.broadcast_to(z, (len(u), len(z))))

    left = at(low).n_phases
    at_once = 1 if model.costs_by_state() else HALVINGS
    low, high = change_between(lambda u, rows: np.asarray(at(u).n_phases == left[rows]), low, high, halvings, at_once)
    sides = at(low), at(high)
    found = []
    for i in range(len(ends)):
        n = [int(side.n_phases[i]) for side in sides]
        k = int(n[1] > n[0])
        place = np.exp((low, high)[k][i])
        found.append(Border(float(place[0]), float(place[1]), min(n), take_rows(sides[k], np.array([i]))))
    return found


def _traced(model: PhaseModel, z: Array, border: Border, limits: Limits, paths: Sequence[Array]) -> Line | ThreePhaseLine | None:
    """The line that passes by a border, if none of the ``paths`` does."""
    more = int(border.more.n_phases[0])
    if more != border.fewer + 1 or lies_on(np.log([border.T, border.P]), paths):
        return None
    if more == _MOST_PHASES:
        start = start_beside(model, z, border.T, border.P, border.more)
        return None if start is None or lies_on(start.u[-2:], paths) else follow(model, z, start, limits)
    return _saturation_line(model, z, border, limits) if border.fewer == 1 else None


def _saturation_line(model: PhaseModel, z: Array, border: Border, limits: Limits) -> Line | None:
    """The saturation line beside a state of two phases of which one has hardly formed."""
    least = int(border.more.amount[0, :2].argmin())
    roots = border.more.kinds[0, [1 - least, least]]
    start = _line_start(model, z, border.T, border.P, border.more.x[0, least], roots)
    return None if start is None else _both_ways(model, z, start, limits)


def _line_start(model: PhaseModel, z: Array, T: float, P: float, incipient: Array, roots: Kinds) -> Point | None:
    """The point of a saturation line next to T and P at which a phase such as ``incipient (C,)`` begins to form."""
    c = len(z)
    X = np.concatenate([np.log(z) - np.log(np.maximum(incipient, ABSENT)), np.log([T, P])])
    tracer = Tracer(model, z, 1.0, roots=roots)
    starts = (tracer.solve(X, S, float(X[S])) for S in (c, c + 1, int(np.abs(X[:c]).argmax())))
    return next((s for s in starts if s is not None and np.abs(s.X[c:] - X[c:]).max() < 0.05), None)


def _both_ways(model: PhaseModel, z: Array, start: Point, limits: Limits) -> Line:
    """The saturation line through a point."""
    forth = trace(Tracer(model, z, 1.0), start, limits, start.tangent)
    if forth.loop:
        return forth
    return joined(trace(Tracer(model, z, 1.0), start, limits, -start.tangent).reversed(), forth)


def _from_meetings(
    model: PhaseModel, z: Array, lines: Sequence[Line], unstable: Sequence[NDArray[np.bool_]], known: Sequence[Line], limits: Limits
) -> list[Line]:
    """The saturation lines that take over where ``lines`` stop being the boundary, besides the ``known`` ones."""
    found: list[Line] = []
    for line, flags in zip(lines, unstable, strict=True):
        stable = ~flags
        for i in np.flatnonzero(stable[1:] != stable[:-1]):
            one, other = (int(i), int(i) + 1) if stable[i] else (int(i) + 1, int(i))
            meeting = meeting_beside(model, z, line, one, other)
            if meeting is None:
                continue
            place = model.at(np.array([meeting.T]), np.array([meeting.P]))
            for x in meeting.x:
                roots = np.concatenate([place.describe(w[None]).kinds for w in (z, x)])
                start = _line_start(model, z, meeting.T, meeting.P, x, roots)
                if start is not None and not any(_leads_by(other, start.X) for other in (*known, *found)):
                    found.append(_both_ways(model, z, start, limits))
    return found


def _leads_by(line: Line, X: Array) -> bool:
    """Whether a saturation line passes a point, ln K, ln T and ln P ``(C + 2,)``, with the same phase forming."""
    at = np.concatenate([line.ln_k, path(line)], axis=1)
    way = at[1:] - at[:-1]
    share = np.clip(((X - at[:-1]) * way).sum(axis=1) / np.maximum((way * way).sum(axis=1), 1e-300), 0.0, 1.0)
    off = np.abs(at[:-1] + share[:, None] * way - X).max(axis=1)
    return bool((off < _ALONG * np.maximum(np.abs(way).max(axis=1), 0.1)).any())
