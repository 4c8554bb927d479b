"""Where saturation lines begin: at a low pressure, or at a critical point."""

from __future__ import annotations

from itertools import product

import numpy as np

from ..arrays import Array
from ..constants import R
from ..models.contract import LIQUID, VAPOR, PhaseModel, VolumeModel
from .critical import CriticalPoint, parting
from .envelope import COLUMNS, Line, trace
from .line_equations import Limits, Point, Tracer
from .saturation import SaturationResult, bubble_at_P, dew_at_P
from .stability import UNSTABLE, pure_starts, stability

_T_HOTTEST, _T_COLDEST = 3000.0, 15.0
_DENSITIES = 8.0
"""The logarithm of the ratio of densities of two phases alike in composition, over the square root of the distance from their critical point."""


def from_critical(model: PhaseModel, z: Array, point: CriticalPoint, limits: Limits) -> list[Line]:
    """The saturation lines on both sides of a critical point, each of which begins there."""
    if not isinstance(model, VolumeModel):
        return []
    c, Zc = len(z), point.P * point.V / (R * point.T)
    found = []
    for sign in (1.0, -1.0):
        start = beside_critical(Tracer(model, z, 1.0), z, point, sign)
        if start is None:
            continue
        line = trace(Tracer(model, z, 1.0), start, limits, np.concatenate([start.X[:c], [0.0, 0.0]]))
        first = (point.T, point.P, np.zeros(c), np.full(2, Zc), np.full(2, line.packing[0].mean()), 1.0, line.roots[0])
        columns = [np.concatenate([np.asarray(own)[None], getattr(line, name)]) for own, name in zip(first, COLUMNS, strict=True)]
        found.append(Line.of(columns, (0, *(i + 1 for i in line.critical)), line.closed, line.broken))
    return found


def beside_critical(tracer: Tracer, z: Array, point: CriticalPoint, sign: float | None = None) -> Point | None:
    """A point of a line of ``z (C,)``, by mole, a little away from a critical point: on one of both sides, or on that of which phase y is the less dense one."""
    if not isinstance(tracer.model, VolumeModel):
        return None
    c = len(z)
    ln_k, denser, slope = parting(tracer.model, z, point)
    sign = (-1.0 if denser > 0.0 else 1.0) if sign is None else sign
    S, largest = int(np.abs(ln_k).argmax()), max(float(np.abs(ln_k).max()), abs(denser))
    tracer.roots = np.array([VAPOR, LIQUID] if sign * denser < 0.0 else [LIQUID, VAPOR], dtype=np.int8)
    for size, colder in product((0.05, 0.2, 0.5, 1.0), ((1.0 / _DENSITIES) ** 2, 0.0)):
        ln_T = -colder * size**2
        own = tracer.from_moles(sign * size / largest * ln_k, tracer.beta)
        X = np.concatenate([own, np.log([point.T, point.P]) + ln_T * np.array([1.0, slope])])
        found = tracer.solve(X, S, float(X[S]))
        if found is None or np.abs(found.X[c:] - X[c:]).max() > 0.1:
            continue
        if np.abs(found.X[:c] - X[:c]).max() < 0.3 * np.abs(X[:c]).max() and abs(np.log(found.Z[0] / found.Z[1])) < 2.0 * size:
            return found
    return None


def dew_start(model: PhaseModel, z: Array, P: float) -> Point | None:
    """The dew point at the low pressure ``P`` as the first point of a line with β = 1.

    It always exists; where the batched search comes to a dew point that another liquid forbids, stability tests lead to the right one.
    """
    start = _start(model, z, dew_at_P(model, np.array([P]), z[None]), VAPOR, LIQUID)
    return start if start is not None else _dew_by_stability(model, z, P)


def _dew_by_stability(model: PhaseModel, z: Array, P: float) -> Point | None:
    """The highest temperature at which a stability test of the vapor finds a liquid, by ever finer grids."""
    c = len(z)
    hot, cold = _T_HOTTEST, _T_COLDEST
    trial = z
    for _ in range(6):
        T = np.geomspace(hot, cold, 40)
        feed = np.broadcast_to(z, (len(T), c))
        bound = model.at(T, np.full(len(T), P))
        d = np.log(feed) + bound.ln_phi(feed, VAPOR)
        found = stability(bound, feed, d, [-d, *pure_starts(feed)])
        below = np.flatnonzero(found.tm < UNSTABLE)
        if not below.size or below[0] == 0:
            return None
        hot, cold, trial = float(T[below[0] - 1]), float(T[below[0]]), found.trial[below[0]]
    X = np.concatenate([np.log(z) - np.log(trial), np.log([cold, P])])
    return Tracer(model, z, 1.0).solve(X, c + 1, float(X[c + 1]))


def bubble_start(model: PhaseModel, z: Array, P: float) -> Point | None:
    """The bubble point at the low pressure ``P`` as the first point of a line with β = 1 (the feed is the liquid)."""
    return _start(model, z, bubble_at_P(model, np.array([P]), z[None]), LIQUID, VAPOR)


def _start(model: PhaseModel, z: Array, found: SaturationResult, feed: np.int8, incipient: np.int8) -> Point | None:
    if not found.found[0] or found.tm[0] < UNSTABLE:
        return None
    c = len(z)
    X = np.concatenate([np.log(z) - np.log(found.incipient[0]), np.log([found.T[0], found.P[0]])])
    return Tracer(model, z, 1.0, roots=np.array([feed, incipient], dtype=np.int8)).solve(X, c + 1, float(X[c + 1]))
