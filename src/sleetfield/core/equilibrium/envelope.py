"""Phase envelopes and quality lines by continuation, through every critical point.

Unknowns X = (ln K, ln T, ln P) at a constant fraction β of the first phase, by mole or, with all amounts in mass, by mass; equations of equal
fugacity, Σ(y - x) = 0, and a specified value S of one of the unknowns: the one that changes fastest along the line, with steps from the number of iterations
that the last point took and a cubic predictor (Michelsen, Fluid Phase Equilib. 4 (1980) 1-10).

The first phase (composition y) is the feed itself at β = 1. A line starts as a dew line and, past a critical point where all
ln K change sign, goes on as a bubble line.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Kinds
from ..constants import R
from ..models.contract import PhaseModel, VolumeModel
from .critical import CriticalPoint, refine
from .line_equations import Limits, Point, Tracer
from .line_resolution import hermite, resolved

MAX_POINTS = 600
_MAX_STEP_LN_K = 0.9
_MAX_STEP_LN_T = 0.035
_MAX_STEP_LN_P = 0.45
_FIRST_STEP = 0.15
_LOOP, _BESIDE = 10, 0.15
"""A line of more points than this has come round where it passes its first one at less than this share of a step."""
_AZEOTROPIC = 5e-3
"""All ln K below this beside a critical point say too little to lead across it."""
_FLAT = 0.05
"""How far in ln T a ln K may be from zero, by its slope, to lead there; twice the distance from a critical point."""


@dataclass(frozen=True)
class Line:
    """A traced line, in the order of tracing.

    Attributes
    ----------
    T, P : (M,)
    ln_k : (M, C)
        ln(y/x); y is the phase whose fraction is ``fraction``.
    Z, packing : (M, 2)
        Compressibility factors of y and x, and covolume over volume.
    beta : (M,)
        Mole fraction of phase y.
    roots : (M, 2)
        The kinds that y and x were asked for as: those of two liquids are both `LIQUID`.
    critical : list of int
        Positions of points that are critical points.
    closed : bool
        Whether the line came back to the pressure it started from, or to its first point; else it is open: it left the range of pressure or temperature.
    broken : bool
        Whether the tracing stopped because no further point converged.

    """

    T: Array
    P: Array
    ln_k: Array
    Z: Array
    packing: Array
    beta: Array
    roots: Kinds
    critical: tuple[int, ...]
    closed: bool
    broken: bool

    @classmethod
    def of(cls, columns: Iterable[Array], critical: tuple[int, ...], closed: bool, broken: bool) -> Line:
        """A line of `COLUMNS`."""
        T, P, ln_k, Z, packing, beta, roots = columns
        return cls(T, P, ln_k, Z, packing, beta, roots.astype(np.int8), critical, closed, broken)

    @property
    def loop(self) -> bool:
        """Whether the line ends at its first point."""
        return bool(len(self.T) > 1 and self.T[0] == self.T[-1] and self.P[0] == self.P[-1])

    @property
    def first_is_lighter(self) -> NDArray[np.bool_]:
        """Where phase y is the less packed one (on a critical point: as just before it)."""
        lighter = self.packing[:, 0] < self.packing[:, 1]
        for i in self.critical:
            lighter[i] = lighter[i - 1] if i else lighter[i + 1]
        return lighter

    def smooth(self, per_step: int = 8) -> Line:
        """The same with points between its own, along cubic splines against the length of the line; for drawing."""
        from scipy.interpolate import CubicSpline

        steps = np.hypot(10.0 * np.diff(np.log(self.T)), np.diff(np.log(self.P)))
        # where the steps shrink to nothing, the line has ended
        apart = np.concatenate([[True], steps > 1e-9])
        if apart.sum() < 4:
            return self
        length = np.concatenate([[0.0], np.cumsum(steps[apart[1:]])])
        fine = np.interp(np.arange((len(length) - 1) * per_step + 1) / per_step, np.arange(len(length)), length)
        columns = []
        for name in COLUMNS[:-1]:
            values = getattr(self, name)[apart]
            known = np.isfinite(values).all(axis=0)
            # an ideal vapor is packed nowhere
            logarithmic = known & (values != 0.0).all(axis=0) & (name not in ("ln_k", "beta"))
            with np.errstate(divide="ignore"):
                knots = np.where(known, np.where(logarithmic, np.log(np.abs(values)), values), 0.0)
            spline = np.asarray(CubicSpline(length, knots)(fine))
            columns.append(np.where(known, np.where(logarithmic, np.exp(np.where(logarithmic, spline, 0.0)), spline), np.nan))
        columns.append(self.roots[apart][np.minimum((np.arange(len(fine)) + per_step // 2) // per_step, len(length) - 1)])
        place = np.cumsum(apart) - 1
        critical = tuple(int(place[i]) * per_step for i in self.critical)
        return Line.of(columns, critical, self.closed, self.broken)

    def between(self, a: int, b: int) -> Line:
        """The stretch from point ``a`` to point ``b``."""
        part = slice(a, b + 1)
        critical = tuple(i - a for i in self.critical if a <= i <= b)
        columns = (getattr(self, name)[part] for name in COLUMNS)
        return Line.of(columns, critical, False, False)

    def reversed(self) -> Line:
        """The same, run through the other way."""
        last = len(self.T) - 1
        columns = (getattr(self, name)[::-1] for name in COLUMNS)
        return Line.of(columns, tuple(last - i for i in reversed(self.critical)), self.closed, self.broken)


def joined(first: Line, second: Line) -> Line:
    """Two lines as one, where the second begins at the point that the first ends with."""
    columns = (np.concatenate([getattr(first, name), getattr(second, name)[1:]]) for name in COLUMNS)
    critical = (*first.critical, *(i + len(first.T) - 1 for i in second.critical if i))
    return Line.of(columns, critical, False, first.broken or second.broken)


COLUMNS = ("T", "P", "ln_k", "Z", "packing", "beta", "roots")
"""What a line has at each of its points."""


def trace(tracer: Tracer, start: Point, limits: Limits, going: Array | None = None) -> Line:
    """Follow the line from ``start``, first along ``going`` (towards higher pressures), until it leaves ``limits``."""
    tracer.roots = start.roots
    c = len(tracer.z)
    points = [start]
    step_size = _FIRST_STEP
    going = np.eye(c + 2)[c + 1] if going is None else going
    broken = False
    while len(points) < MAX_POINTS:
        previous = points[-1]
        tangent = previous.tangent * np.sign(previous.tangent @ going + 1e-300)
        S, tangent = _specify(previous, tangent, c)
        if S >= c > previous.S:
            step_size = max(step_size, _FIRST_STEP)
        point, step_size = _advance(tracer, points, S, tangent, step_size)
        if point is None:
            broken = True
            break
        going = point.X - previous.X
        if point.crossed:
            going[c:] = 0.0
        if _came_round(points, point):
            points.append(points[0])
            break
        points.append(point)
        if limits.left(point.X, c):
            break
        if _stuck(points):
            broken = True
            break
        step_size *= 1.6 if point.iterations <= 3 else 1.2 if point.iterations == 4 else 0.6 if point.iterations > 5 else 1.0
    if broken:
        del points[_first_near_last(points) : -1]
    return _line(tracer, resolved(tracer, points), limits, broken)


def _specify(at: Point, tangent: Array, c: int) -> tuple[int, Array]:
    """The unknown that moves most, and the tangent scaled to unit movement of it, in the same direction.

    Where the phases become alike in composition and in volume a critical point is near: then it is a ln K, whose change of sign
    tells that the point was passed; unless the ln K have an extremum there, as those of a nearly azeotropic mixture can.
    """
    S = int(np.abs(tangent[:c]).argmax())
    alike = float(np.abs(at.X[:c]).max()) < 1.0 and _alike_in_volume(at.Z)
    if not alike or abs(at.X[S] * tangent[c]) > _FLAT * abs(tangent[S]):
        S = int(np.abs(tangent).argmax())
    return S, tangent / abs(tangent[S])


def _alike_in_volume(Z: Array) -> bool:
    return bool(abs(np.log(Z[0] / Z[1])) < 1.2)


def _advance(tracer: Tracer, points: list[Point], S: int, tangent: Array, step_size: float) -> tuple[Point | None, float]:
    """The next point, with the step reduced until it converges; close to a critical point the step goes across it."""
    previous = points[-1]
    c = len(tracer.z)
    limit = _MAX_STEP_LN_T if c == S else _MAX_STEP_LN_P if c + 1 == S else _MAX_STEP_LN_K
    reach = step_size
    for largest, bound in ((float(np.abs(tangent[:c]).max()), _MAX_STEP_LN_K), (abs(tangent[c]), _MAX_STEP_LN_T)):
        if largest > 0.0:
            reach = min(reach, bound / largest)
    reach = min(reach, limit, _MAX_STEP_LN_P / max(abs(tangent[c + 1]), 1e-12))
    if c > S and abs(previous.X[S]) < 0.6 and previous.X[S] * tangent[S] < 0.0:
        little = float(np.abs(previous.X[:c]).max()) < _AZEOTROPIC and abs(np.log(previous.Z[0] / previous.Z[1])) < 0.8
        mirrored = _hop(tracer, previous) if little else None
        if mirrored is not None:
            return mirrored, step_size
        reach = max(reach, 0.02)
        # the critical point lies where ln K is zero: keep clear of it on either side
        left_over = abs(previous.X[S]) - reach
        if abs(left_over) < 0.02:
            reach = abs(previous.X[S]) + 0.03 if abs(previous.X[S]) < 0.15 else abs(previous.X[S]) - 0.05
    for _ in range(14):
        X = _predict(points, S, tangent, reach)
        crossed = bool(c > S and X[S] * previous.X[S] < 0.0 and _alike_in_volume(previous.Z))
        if crossed:
            tracer.swap()
        point = tracer.solve(X, S, previous.X[S] + np.sign(tangent[S]) * reach, crossed)
        if point is not None and _close_by(point, X, previous):
            return point, reach
        if crossed:
            tracer.swap()
        reach *= 0.5
    return _hop(tracer, previous), step_size


def _hop(tracer: Tracer, previous: Point) -> Point | None:
    """The mirror image of a point beside a critical point, on its other side, at the same temperature or pressure.

    Where the mixture is nearly azeotropic, ln K says too little to lead across.
    """
    c = len(tracer.z)
    if float(np.abs(previous.X[:c]).max()) > 0.5 or not _alike_in_volume(previous.Z):
        return None
    tracer.swap()
    mirror = previous.X.copy()
    mirror[:c] *= -1.0
    for S in (c, c + 1):
        point = tracer.solve(mirror, S, float(mirror[S]), crossed=True)
        if point is not None and np.abs(point.X - mirror).max() < 0.3 and point.X[:c] @ mirror[:c] > 0.0:
            return point
    tracer.swap()
    return None


def _stuck(points: list[Point]) -> bool:
    """Whether the last points hardly moved: a branch that ends where its phase ceases to exist."""
    return len(points) > 25 and bool(np.abs(points[-1].X - points[-20].X).max() < 5e-3)


def _came_round(points: list[Point], point: Point) -> bool:
    """Whether the way to a further point leads by the first one: the line is a loop."""
    if len(points) <= _LOOP:
        return False
    first, way = points[0].X - points[-1].X, point.X - points[-1].X
    share = first @ way / (way @ way)
    return bool(0.0 < share <= 1.0 and np.linalg.norm(first - share * way) < _BESIDE * np.linalg.norm(way))


def _first_near_last(points: list[Point]) -> int:
    """The first of the points at the end that differ from the last by less than a figure shows."""
    near = [float(np.abs(p.X - points[-1].X)[-2:].max()) < 1e-6 for p in points]
    return near.index(True)


def _close_by(point: Point, predicted: Array, previous: Point) -> bool:
    """A jump to another branch is no continuation."""
    moved = np.abs(point.X - previous.X).max()
    missed = np.abs(point.X - predicted).max()
    cooled = abs(point.X[-2] - previous.X[-2])
    return bool(missed < max(0.35 * moved, 0.08) and cooled < 2.5 * _MAX_STEP_LN_T)


def _predict(points: list[Point], S: int, tangent: Array, reach: float) -> Array:
    """Along the cubic through the last two points and their tangents, or along the tangent at the first."""
    last = points[-1]
    linear = last.X + tangent * reach
    if len(points) < 2:
        return linear
    before = points[-2]
    h = last.X[S] - before.X[S]
    if before.tangent[S] == 0.0 or abs(h) < 1e-3 or np.sign(h) != np.sign(tangent[S]) or reach > 2.0 * abs(h):
        return linear
    if (before.tangent @ (last.X - before.X)) * before.tangent[S] * h < 0.0:
        # the variable had an extremum on the way, and the others are no functions of it
        return linear
    t = 1.0 + np.sign(tangent[S]) * reach / h
    value = hermite(before.X, before.tangent * (h / before.tangent[S]), last.X, tangent * (h / tangent[S]), t)
    return value if np.abs(value - linear).max() < 0.5 else linear


def columns_of(tracer: Tracer, p: Point) -> tuple[float, float, Array, Array, Array, float, Kinds]:
    """A point by `COLUMNS`."""
    c = len(tracer.z)
    ln_k, beta = tracer.in_moles(p.X)
    return float(np.exp(p.X[c])), float(np.exp(p.X[c + 1])), ln_k, p.Z, p.packing, beta, p.roots


def _line(tracer: Tracer, points: list[Point], limits: Limits, broken: bool) -> Line:
    c = len(tracer.z)
    z = tracer.z if tracer.weights is None else tracer.z * tracer.weights / (tracer.z @ tracer.weights)
    rows: list[tuple[float, float, Array, Array, Array, float, Kinds]] = []
    critical = []
    for i, p in enumerate(points):
        found = _critical_between(tracer.model, z, points[i - 1], p) if p.crossed and i else None
        if found is not None:
            critical.append(len(rows))
            both = np.full(2, found.P * found.V / (R * found.T))
            packing = 0.5 * (points[i - 1].packing + p.packing[::-1])
            rows.append((found.T, found.P, np.zeros(c), both, packing, tracer.beta, points[i - 1].roots))
        rows.append(columns_of(tracer, p))
    columns = [np.array(column) for column in zip(*rows, strict=True)]
    P = columns[1]
    closed = not broken and len(P) > 3 and (bool(P[-1] <= limits.P_min) or (points[-1] is points[0]))
    return Line.of(columns, tuple(critical), closed, broken)


def _critical_between(model: PhaseModel, z: Array, a: Point, b: Point) -> CriticalPoint | None:
    """The critical point between two points of a line, by the direct method started from interpolation."""
    if not isinstance(model, VolumeModel):
        return None
    c = len(z)
    S = int(np.abs(b.X[:c] - a.X[:c]).argmax())
    h = b.X[S] - a.X[S]
    t = -a.X[S] / h
    if c <= b.S:
        X = 0.5 * (a.X + b.X)
    else:
        X = hermite(a.X, a.tangent / a.tangent[S] * h, b.X, b.tangent / b.tangent[S] * h, t)
        straight = a.X + t * (b.X - a.X)
        # where the line turns, tangents lead astray
        X = X if np.abs(X - straight).max() <= np.abs(b.X - a.X).max() else straight
    T, P = float(np.exp(X[c])), float(np.exp(X[c + 1]))
    V = R * T / P * float(a.Z.mean() * (1.0 - t) + b.Z.mean() * t)
    found = refine(model, z, T, V)
    if found is None or abs(found.T / T - 1.0) > 0.05 or abs(np.log(found.P / P)) > 0.3:
        return None
    return found
