"""Points of a traced line between those that it has: where it passes a temperature or pressure, or leaves a range; each converged."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array
from ..models.contract import PhaseModel
from .envelope import COLUMNS, Line, columns_of, joined
from .line_equations import Limits, Point, Tracer

_HALVINGS = 20


def crossings(model: PhaseModel, z: Array, line: Line, of: str, value: float) -> Iterator[tuple[float, float, Array, bool]]:
    """Every point of a saturation line at the temperature (``of="T"``) or pressure (``"P"``) ``value``: T, P, ln K, y is the less packed phase."""
    c = len(z)
    S = c if of == "T" else c + 1
    position = np.log(line.T if of == "T" else line.P) - np.log(value)
    for i in np.flatnonzero(position[:-1] * position[1:] <= 0.0):
        if position[i + 1] == 0.0 and i + 2 < len(position):
            continue
        point = solved_between(Tracer(model, z, 1.0), line, int(i), S, float(np.log(value)))
        if point is not None:
            yield float(np.exp(point.X[c])), float(np.exp(point.X[c + 1])), point.X[:c], bool(point.packing[0] < point.packing[1])


def clipped(tracer: Tracer, line: Line, limits: Limits) -> list[Line]:
    """The stretches of a line within limits, each with its ends on them exactly."""
    c = len(tracer.z)
    inside = (line.T >= limits.T_min) & (line.T <= limits.T_max) & (line.P >= limits.P_min) & (line.P <= limits.P_max)
    if inside.all():
        return [line]
    bounds = [(c, line.T, limits.T_min), (c, line.T, limits.T_max), (c + 1, line.P, limits.P_min), (c + 1, line.P, limits.P_max)]

    def edge(i: int) -> Point | None:
        """The first limit between points ``i`` and ``i + 1``, seen from the one inside."""
        first = i if inside[i] else i + 1
        other = 2 * i + 1 - first
        passed = [
            (float(np.log(v / at[first]) / np.log(at[other] / at[first])), S, float(np.log(v)))
            for S, at, v in bounds
            if v > 0.0 and np.isfinite(v) and (at[first] - v) * (at[other] - v) < 0.0
        ]
        return solved_between(tracer, line, i, *min(passed)[1:]) if passed else None

    return _stretches(tracer, line, inside, edge)


def holding(tracer: Tracer, line: Line, holds: Callable[[Line], NDArray[np.bool_]]) -> list[Line]:
    """The stretches of a line on which something ``holds`` of its points, with ends where it ceases to."""
    fine = holds(line)
    if fine.all():
        return [line]

    def edge(i: int) -> Point | None:
        """Between points ``i`` and ``i + 1``, by halving."""
        X = _unknowns(tracer, line)
        S = int(np.abs(X[i + 1] - X[i]).argmax())
        low, high, found = X[i, S], X[i + 1, S], None
        for _ in range(_HALVINGS):
            middle = 0.5 * (low + high)
            point = solved_between(tracer, line, i, S, float(middle))
            if point is None:
                break
            own = bool(holds(_line_of(tracer, [point]))[0])
            low, high = (middle, high) if own == fine[i] else (low, middle)
            found = point if own else found
        return found

    return _stretches(tracer, line, fine, edge)


def _stretches(tracer: Tracer, line: Line, fine: NDArray[np.bool_], edge: Callable[[int], Point | None]) -> list[Line]:
    found = []
    ends = np.flatnonzero(np.diff(np.concatenate([[False], fine, [False]]).astype(int)))
    for a, b in ends.reshape(-1, 2):
        stretch = line.between(int(a), int(b) - 1)
        before = edge(int(a) - 1) if a > 0 else None
        after = edge(int(b) - 1) if b < len(fine) else None
        parts = [_line_of(tracer, [p]) if p is not None else None for p in (before, after)]
        columns = [
            np.concatenate([getattr(part, name) for part in (parts[0], stretch, parts[1]) if part is not None]) for name in COLUMNS
        ]
        shift = int(parts[0] is not None)
        if len(columns[0]) > 1:
            # of a line that closes, the last point lies beyond where it began
            closed = line.closed and a == 0 and b >= len(fine) - 1
            found.append(Line.of(columns, tuple(i + shift for i in stretch.critical), closed, line.broken and b == len(fine)))
    if line.loop and len(found) > 1 and fine[0] and fine[-1]:
        # a loop goes on where it began
        return [joined(found[-1], found[0]), *found[1:-1]]
    return found


def _line_of(tracer: Tracer, points: list[Point]) -> Line:
    columns = (np.array(column) for column in zip(*(columns_of(tracer, p) for p in points), strict=True))
    return Line.of(columns, (), False, False)


def _unknowns(tracer: Tracer, line: Line) -> Array:
    """What Newton's method solves for, at each point ``(M, C + 2)``."""
    ln_k = np.stack([tracer.from_moles(k, b) for k, b in zip(line.ln_k, line.beta, strict=True)])
    return np.concatenate([ln_k, np.log(line.T)[:, None], np.log(line.P)[:, None]], axis=1)


def solved_between(tracer: Tracer, line: Line, i: int, S: int, value: float) -> Point | None:
    """The point between points ``i`` and ``i + 1`` of a line where unknown ``S`` has the ``value``."""
    X = _unknowns(tracer, line)
    tracer.roots = line.roots[i if i not in line.critical else i + 1]
    reach = max(1.5 * float(np.abs(X[i + 1] - X[i]).max()), 1e-3)
    for guess in (_interpolated(X, i, S, value), X[i], X[i + 1]):
        point = tracer.solve(guess, S, value)
        if point is not None and np.abs(point.X - X[i]).max() < reach:
            return point
    return None


def _interpolated(X: Array, i: int, S: int, value: float) -> Array:
    """Where unknown ``S`` has the ``value`` between points ``i`` and ``i + 1``.

    Along a line every unknown is smooth in the one that moves most, through a critical point too, where T and P are not
    smooth in each other: so that one is the variable of a cubic through four points.
    """
    lead = int(np.abs(X[i + 1] - X[i]).argmax())
    first = min(max(i - 1, 0), len(X) - 4)
    knots = X[first : first + 4, lead] if first >= 0 else X[:, lead]
    straight = np.array_equal(knots, np.sort(knots)) or np.array_equal(knots, np.sort(knots)[::-1])
    if len(knots) < 4 or not straight or np.abs(np.diff(knots)).min() < 1e-9:
        t = (value - X[i, S]) / (X[i + 1, S] - X[i, S]) if X[i + 1, S] != X[i, S] else 0.0
        return np.asarray(X[i] + t * (X[i + 1] - X[i]))
    scaled = (knots - X[i, lead]) / (X[i + 1, lead] - X[i, lead])
    coefficients = np.linalg.solve(np.vander(scaled, 4), X[first : first + 4])
    low, high = 0.0, 1.0
    rising, (a, b, c, d) = bool(X[i + 1, S] > X[i, S]), coefficients[:, S].tolist()
    for _ in range(50):
        t = 0.5 * (low + high)
        above = (((a * t + b) * t + c) * t + d > value) == rising
        low, high = (low, t) if above else (t, high)
    return np.asarray(((coefficients[0] * t + coefficients[1]) * t + coefficients[2]) * t + coefficients[3])
