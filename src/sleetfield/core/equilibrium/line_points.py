"""Points of a traced line: its extremes, and where it passes a temperature or pressure, each converged."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..arrays import Array
from ..models.contract import LIQUID, VAPOR, PhaseModel
from .envelope import Line, Point, Tracer


def extremum(model: PhaseModel, z: Array, line: Line, of: str) -> tuple[float, float] | None:
    """(T, P) of the highest temperature (``of="T"``) or pressure (``"P"``) of a saturation line, refined to dT/dP = 0 or dP/dT = 0.

    None where the highest point is an end of the line.
    """
    values = line.T if of == "T" else line.P
    i = int(values.argmax())
    if i in (0, len(values) - 1):
        return None
    c = len(z)
    along, across = (c + 1, c) if of == "T" else (c, c + 1)
    near = next((k for k in (i - 1, i + 1, i - 2, i + 2) if 0 <= k < len(values) and k not in line.critical), None)
    if near is None:
        return None
    candidates = [k for k in (i, near) if k not in line.critical]
    for k in candidates:
        roots = (VAPOR, LIQUID) if line.Z[k, 0] >= line.Z[k, 1] else (LIQUID, VAPOR)
        tracer = Tracer(model, z, 1.0, roots=np.array(roots, dtype=np.int8))
        X = np.concatenate([line.ln_k[k], np.log([line.T[k], line.P[k]])])
        point = _level(tracer, X, along, across)
        if point is not None and np.exp(point.X[across]) >= values[i] * (1.0 - 1e-9):
            return float(np.exp(point.X[c])), float(np.exp(point.X[c + 1]))
    return float(line.T[i]), float(line.P[i])


def _level(tracer: Tracer, X: Array, along: int, across: int) -> Point | None:
    """The point near ``X`` at which unknown ``across`` is stationary as ``along`` changes: secant on its slope."""
    first = tracer.solve(X, along, float(X[along]))
    if first is None:
        return None
    second = tracer.solve(first.X + 1e-3 * first.tangent, along, float(first.X[along]) + 1e-3)
    if second is None:
        return None
    for _ in range(25):
        rise, run = second.tangent[across] - first.tangent[across], second.X[along] - first.X[along]
        if run == 0.0 or rise == 0.0:
            return second
        step = float(np.clip(-second.tangent[across] * run / rise, -0.1, 0.1))
        first, point = second, tracer.solve(second.X + step * second.tangent, along, float(second.X[along]) + step)
        if point is None:
            return None
        second = point
        if abs(step) < 1e-9 or abs(second.tangent[across]) < 1e-12:
            return second
    return None


def crossings(model: PhaseModel, z: Array, line: Line, of: str, value: float) -> Iterator[tuple[float, float, Array, bool]]:
    """Every point of a saturation line at the temperature (``of="T"``) or pressure (``"P"``) ``value``: T, P, ln K, y is lighter."""
    c = len(z)
    S = c if of == "T" else c + 1
    X = np.concatenate([line.ln_k, np.log(line.T)[:, None], np.log(line.P)[:, None]], axis=1)
    position = X[:, S] - np.log(value)
    for i in np.flatnonzero(position[:-1] * position[1:] <= 0.0):
        if position[i + 1] == 0.0 and i + 2 < len(position):
            continue
        k = i if i not in line.critical else i + 1
        roots = (VAPOR, LIQUID) if line.Z[k, 0] >= line.Z[k, 1] else (LIQUID, VAPOR)
        tracer = Tracer(model, z, 1.0, roots=np.array(roots, dtype=np.int8))
        tries = (tracer.solve(guess, S, float(np.log(value))) for guess in (_interpolated(X, int(i), S, value), X[i], X[i + 1]))
        point = next((p for p in tries if p is not None and np.abs(p.X - X[i]).max() < 1.5), None)
        if point is not None:
            yield float(np.exp(point.X[c])), float(np.exp(point.X[c + 1])), point.X[:c], bool(point.Z[0] > point.Z[1])


def _interpolated(X: Array, i: int, S: int, value: float) -> Array:
    """Where unknown ``S`` is ln ``value`` between points ``i`` and ``i + 1``.

    Along a line every unknown is smooth in the one that moves most, through a critical point too, where T and P are not
    smooth in each other: so that one is the variable of a cubic through four points.
    """
    lead = int(np.abs(X[i + 1] - X[i]).argmax())
    first = min(max(i - 1, 0), len(X) - 4)
    knots = X[first : first + 4, lead]
    straight = np.array_equal(knots, np.sort(knots)) or np.array_equal(knots, np.sort(knots)[::-1])
    if len(knots) < 4 or not straight or np.abs(np.diff(knots)).min() < 1e-9:
        t = (np.log(value) - X[i, S]) / (X[i + 1, S] - X[i, S]) if X[i + 1, S] != X[i, S] else 0.0
        return np.asarray(X[i] + t * (X[i + 1] - X[i]))
    scaled = (knots - X[i, lead]) / (X[i + 1, lead] - X[i, lead])
    coefficients = np.linalg.solve(np.vander(scaled, 4), X[first : first + 4])
    low, high = 0.0, 1.0
    rising = X[i + 1, S] > X[i, S]
    for _ in range(50):
        t = 0.5 * (low + high)
        above = (np.polyval(coefficients[:, S], t) > np.log(value)) == rising
        low, high = (low, t) if above else (t, high)
    return np.array([np.polyval(column, t) for column in coefficients.T])
