"""Further points of a traced line: where it bends, next to its critical points, and at every extremum of temperature and pressure.

Tracing takes steps that are good for Newton's method; what is read off a line, drawn, or looked up between its points needs more of them where the line
turns. An extremum is a point of its own, where dT or dP along the line is zero, so that the highest point of a line is its
highest temperature or pressure and no crossing lies hidden between two points.
"""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from ..arrays import Array
from .line_equations import Point, Tracer

_BEND = 0.12
"""Angle, rad, that a line may turn by between neighboring points, in the plane of 10 ln T and ln P."""
_AWAY = 2e-3
"""Length times angle below which a bend is not seen."""
_ROUNDS = 5
_CLOSEST = 0.02
"""ln K up to which critical points are approached."""
_LEVEL = 1e-10
_SAME = 1e-7


def hermite(a: Array, da: Array, b: Array, db: Array, t: float) -> Array:
    """Cubic with values a, b and derivatives da, db at t = 0, 1."""
    s = t * t * (3.0 - 2.0 * t)
    return np.asarray((1.0 - s) * a + s * b + t * (1.0 - t) * ((1.0 - t) * da - t * db))


def resolved(tracer: Tracer, points: list[Point]) -> list[Point]:
    """The points of a line with others between them."""
    points = _beside_critical(tracer, points)
    for _ in range(_ROUNDS):
        more = _where_it_bends(tracer, points)
        if len(more) == len(points):
            break
        points = more
    for unknown in (-2, -1):
        points = _with_extrema(tracer, points, unknown)
    return points


def _where_it_bends(tracer: Tracer, points: list[Point]) -> list[Point]:
    """A point halfway between neighbors between which the line turns."""
    X, tangents = np.stack([p.X for p in points]), np.stack([p.tangent for p in points])
    way = X[1:] - X[:-1]
    chord = way[:, -2:] * _PLANE
    length = np.linalg.norm(chord, axis=1)
    ends = [_unit(tangents[part] * np.where((tangents[part] * way).sum(axis=1) >= 0.0, 1.0, -1.0)[:, None]) for part in _ENDS]
    straight = chord / np.maximum(length, 1e-300)[:, None]
    bend = np.max([_angles(ends[0], ends[1]), _angles(ends[0], straight), _angles(ends[1], straight)], axis=0)
    turns = (length > 0.0) & (bend > _BEND) & (bend * length > _AWAY)
    more = points[:1]
    for (a, b), there in zip(pairwise(points), turns, strict=True):
        if there and not b.crossed:
            middle = _between(tracer, a, b, 0.5)
            more += [] if middle is None else [middle]
        more.append(b)
    return more


_PLANE = np.array([10.0, 1.0])
"""Lines are looked at in the plane of 10 ln T and ln P."""
_ENDS = slice(None, -1), slice(1, None)


def _unit(along: Array) -> Array:
    """Directions ``(M, N)`` as unit vectors of the plane ``(M, 2)``."""
    d = along[:, -2:] * _PLANE
    return np.asarray(d / np.maximum(np.linalg.norm(d, axis=1), 1e-300)[:, None])


def _angles(a: Array, b: Array) -> Array:
    """Between unit vectors ``(M, 2)``."""
    return np.asarray(np.arccos(np.clip((a * b).sum(axis=1), -1.0, 1.0)))


def _between(tracer: Tracer, a: Point, b: Point, t: float) -> Point | None:
    """The point of the line at a share ``t`` of the way from ``a`` to ``b``, by the unknown that changes most."""
    way = b.X - a.X
    S = int(np.abs(way).argmax())
    return _at(tracer, a, b, S, t)


def _at(tracer: Tracer, a: Point, b: Point, S: int, t: float) -> Point | None:
    way = b.X - a.X
    straight = a.X + t * way
    guesses = [straight]
    if a.tangent[S] != 0.0 and b.tangent[S] != 0.0:
        guesses.insert(0, hermite(a.X, a.tangent * (way[S] / a.tangent[S]), b.X, b.tangent * (way[S] / b.tangent[S]), t))
    kept, tracer.roots = tracer.roots, a.roots
    try:
        for guess in guesses:
            found = tracer.solve(guess, S, float(straight[S]))
            if found is not None and np.abs(found.X - straight).max() < np.abs(way).max():
                return found
    finally:
        tracer.roots = kept
    return None


def _beside_critical(tracer: Tracer, points: list[Point]) -> list[Point]:
    """Points closer and closer to where all ln K vanish, from both sides."""
    c = len(tracer.z)
    more = points[:1]
    for a, b in pairwise(points):
        if b.crossed and float(a.X[:c] @ b.X[:c]) < 0.0:
            S = int(np.abs(b.X[:c] - a.X[:c]).argmax())
            before, after = _towards(tracer, a, b, S), _towards(tracer, b, a, S)
            more += before
            # the first beyond the critical point is the one that has crossed it
            more += [p._replace(crossed=i == 0) for i, p in enumerate([*reversed(after), b])]
            continue
        more.append(b)
    return more


def _towards(tracer: Tracer, a: Point, b: Point, S: int) -> list[Point]:
    """From ``a`` towards the critical point that lies between it and ``b``; each point with half the ln K of the one before."""
    found: list[Point] = []
    way = b.X[S] - a.X[S]
    value = 0.5 * a.X[S]
    while abs(value) > _CLOSEST and abs(way) > 0.0:
        point = _at(tracer, a, b, S, float((value - a.X[S]) / way))
        if point is None or np.sign(point.X[S]) != np.sign(a.X[S]):
            break
        found.append(point)
        value *= 0.5
    return found


def _with_extrema(tracer: Tracer, points: list[Point], unknown: int) -> list[Point]:
    """With the points at which the unknown is stationary along the line."""
    X, tangents = np.stack([p.X for p in points]), np.stack([p.tangent for p in points])
    way = X[1:] - X[:-1]
    before, after = (tangents[part, unknown] * np.sign((tangents[part] * way).sum(axis=1)) for part in _ENDS)
    more = points[:1]
    for (a, b), turns in zip(pairwise(points), (before * after < 0.0).tolist(), strict=True):
        if turns and not b.crossed:
            level = _level(tracer, a, b, unknown)
            if level is not None and all(float(np.abs(level.X - p.X).max()) > _SAME for p in (a, b)):
                more.append(level)
        more.append(b)
    return more


def _level(tracer: Tracer, a: Point, b: Point, unknown: int) -> Point | None:
    """Where the unknown is stationary between ``a`` and ``b``: the false-position method on its slope by the unknown that changes most."""
    way = np.abs(b.X - a.X)
    way[unknown] = 0.0
    S = int(way.argmax())
    low, high = a, b
    best: Point | None = None
    for _ in range(40):
        s_low, s_high = (p.tangent[unknown] / p.tangent[S] for p in (low, high))
        if not np.isfinite([s_low, s_high]).all() or s_low * s_high >= 0.0:
            return best
        t = float(np.clip(s_low / (s_low - s_high), 0.02, 0.98))
        point = _at(tracer, low, high, S, t)
        if point is None:
            return best
        best = point
        slope = point.tangent[unknown] / point.tangent[S]
        if abs(slope) < _LEVEL or abs(high.X[S] - low.X[S]) < 1e-9:
            return best
        low, high = (point, high) if slope * s_low > 0.0 else (low, point)
    return best
