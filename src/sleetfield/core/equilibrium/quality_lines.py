"""Lines of constant share of vapor, by mole or by mass: started wherever a survey of flashes passes the share, traced both ways.

Only stretches are kept that are the equilibrium: a vapor, by its name, beside a liquid, and no further phase that would form. A line ends at a critical
point, at the border of a region of three phases, or at a limit.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ..arrays import ABSENT, Array
from ..blocks import take_rows
from ..models.contract import LIQUID, VAPOR, PhaseModel
from .critical import CriticalPoint
from .envelope import Line, joined, trace
from .envelope_starts import beside_critical
from .flash import FlashResult, flash
from .line_equations import Limits, Point, Tracer
from .line_points import holding
from .phase_boundaries import Survey, crossed, lies_on, path
from .stability import MARGINAL, further_phase

_HALVINGS = 10
_TRIES = 32
_SAME_END = 1e-3
_GOLDEN = 0.6180339887
"""Multiples of it, less whole numbers, are spread evenly however many there are."""


def quality_lines(tracer: Tracer, z: Array, survey: Survey, limits: Limits, critical: Sequence[CriticalPoint] = ()) -> list[Line]:
    """The lines of ``tracer``'s share, of the feed ``z (C,)`` by mole; lines of every share meet at its ``critical`` points."""
    found: list[Line] = []
    paths: list[Array] = []

    def take(start: Point | None) -> None:
        """Trace the line through a point, if it is a new one."""
        if start is None or lies_on(start.X[-2:], paths):
            return
        whole = _both_ways(tracer, start, limits)
        for line in holding(tracer, whole, lambda line: _is_equilibrium(tracer.model, z, line)):
            # what is not the equilibrium explains nothing
            paths.append(path(line))
            if not any(same_ends(line, other) for other in found):
                found.append(line)

    for point in critical:
        take(beside_critical(tracer, z, point))
    T, P = survey.states
    places, share = np.log(np.stack([T, P], axis=1)), _share(tracer, survey.result)
    apart = share - tracer.beta
    edges = survey.edges
    edges = edges[apart[edges[:, 0]] * apart[edges[:, 1]] < 0.0]
    two = (survey.result.n_phases == 2) & (survey.result.kinds[:, 0] == VAPOR)
    edges = edges[_order(places[edges].mean(axis=1), two[edges].any(axis=1))]
    for _ in range(_TRIES):
        edges = edges[~crossed(places[edges], paths)] if len(edges) else edges
        if not len(edges):
            break
        edge, edges = edges[0], edges[1:]
        if paths and not two[edge].any():
            # a fluid above its critical point that changes its name, mostly
            break
        ends = sorted(edge, key=lambda i: abs(apart[i]))
        starts = (_solved(tracer, take_rows(survey.result, np.array([i])), places[i], places[edge]) for i in ends if two[i])
        take(next((s for s in starts if s is not None), None) or _located(tracer, z, places[edge]))
    return found


def _order(places: Array, good: NDArray[np.bool_]) -> NDArray[np.intp]:
    """Edges in the order in which they are tried: the ``good`` ones first, and one after the other far apart, since neighbors come to the same line or to none."""
    rank = np.argsort(np.lexsort((places[:, 0], places[:, 1])))
    return np.lexsort((rank * _GOLDEN % 1.0, ~good))


def same_ends(one: Line, other: Line) -> bool:
    """Whether two lines have the same ends."""
    ends = [np.log([[line.T[k], line.P[k]] for k in (0, -1)]) for line in (one, other)]
    return bool(min(np.abs(ends[0] - ends[1]).max(), np.abs(ends[0] - ends[1][::-1]).max()) < _SAME_END)


def _share(tracer: Tracer, result: FlashResult) -> Array:
    """The vapor's share in the line's own amounts ``(N,)``."""
    amount = np.where(result.kinds == VAPOR, result.amount, 0.0)
    if tracer.weights is None:
        return np.asarray(amount.sum(axis=1))
    own = np.nan_to_num(result.amount) * np.nan_to_num(result.x @ (1.0 / tracer.weights))
    return np.asarray(np.where(result.kinds == VAPOR, own, 0.0).sum(axis=1) / own.sum(axis=1))


def _solved(tracer: Tracer, state: FlashResult, place: Array, ends: Array) -> Point | None:
    """The point of the line next to a vapor and a liquid, at its temperature or pressure; None where it is not between ``ends (2, 2)`` or nearly so."""
    c = len(tracer.z)
    y, x = (np.maximum(state.x[0, k], ABSENT) for k in (0, 1))
    X = np.concatenate([tracer.from_moles(np.log(y / x), float(state.amount[0, 0])), place])
    tracer.roots = np.array([VAPOR, LIQUID], dtype=np.int8)
    along = c + int(abs(ends[1, 1] - ends[0, 1]) > abs(ends[1, 0] - ends[0, 0]))
    room = 0.6 * np.abs(ends[1] - ends[0]) + 1e-3
    for S in (2 * c + 1 - along, along):
        point = tracer.solve(X, S, float(X[S]))
        if point is not None and (np.abs(point.X[c:] - ends.mean(axis=0)) < room).all():
            return point
    return None


def _located(tracer: Tracer, z: Array, ends: Array) -> Point | None:
    """A point of the line between two states ``(2, 2)`` in ln T and ln P, on whose sides the share lies, by flashes."""
    low, high = ends

    def at(u: Array) -> FlashResult:
        return flash(tracer.model, np.exp(u[:1]), np.exp(u[1:]), z[None])

    left = bool(_share(tracer, at(low))[0] > tracer.beta)
    for _ in range(_HALVINGS):
        middle = 0.5 * (low + high)
        result = at(middle)
        if result.n_phases[0] == 2 and result.kinds[0, 0] == VAPOR:
            point = _solved(tracer, result, middle, np.stack([low, high]))
            if point is not None:
                return point
        above = bool(_share(tracer, result)[0] > tracer.beta)
        low, high = (middle, high) if above == left else (low, middle)
    return None


def _both_ways(tracer: Tracer, start: Point, limits: Limits) -> Line:
    """Up to a critical point on either side, beyond which the line is that of the other share."""
    halves = []
    for sense in (1.0, -1.0):
        line = trace(tracer, start, limits, sense * start.tangent)
        halves.append(line.between(0, line.critical[0]) if line.critical else line)
    return joined(halves[1].reversed(), halves[0])


def _is_equilibrium(model: PhaseModel, z: Array, line: Line) -> NDArray[np.bool_]:
    """Where a vapor and a liquid are there and no further phase would form."""
    k, beta = np.exp(line.ln_k), line.beta[:, None]
    x = z / (1.0 - beta + beta * k)
    y = np.maximum(k * x / (k * x).sum(axis=1)[:, None], ABSENT)
    x = np.maximum(x / x.sum(axis=1)[:, None], ABSENT)
    bound = model.at(line.T, line.P)
    kinds = line.roots[:, 0]
    tm = further_phase(bound, np.broadcast_to(z, y.shape), [y, x], kinds).tm
    fine = (tm > MARGINAL) & bound.is_vapor(y, kinds)
    fine[list(line.critical)] = True
    return np.asarray(fine)
