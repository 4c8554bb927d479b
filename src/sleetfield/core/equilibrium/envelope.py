"""Phase envelopes and quality lines by continuation, through every critical point.

Unknowns X = (ln K, ln T, ln P) at a constant fraction β of the first phase, by mole or, with all amounts in mass, by mass; equations of equal
fugacity, Σ(y - x) = 0, and a specified value S of one of the unknowns: the one that changes fastest along the line, with steps from the number of iterations
that the last point took and a cubic predictor (Michelsen, Fluid Phase Equilib. 4 (1980) 1-10).

The first phase (composition y) is the feed itself at β = 1. A line starts as a dew line and, past a critical point where all
ln K change sign, goes on as a bubble line.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array
from ..constants import R
from ..models.contract import LIQUID, VAPOR, PhaseModel, VolumeModel
from .critical import CriticalPoint, refine

MAX_POINTS = 600
_ITERATIONS = 12
_TOLERANCE = 1e-12
_ACCEPT = 1e-10
_TRIVIAL = 1e-8
_MAX_STEP_LN_K = 0.9
_MAX_STEP_LN_T = 0.035
_MAX_STEP_LN_P = 0.45
_FIRST_STEP = 0.15
_AZEOTROPIC = 5e-3
"""All ln K below this beside a critical point say too little to lead across it."""
_FLAT = 0.05
"""How far in ln T a ln K may be from zero, by its slope, to lead there; twice the distance from a critical point."""


class Point(NamedTuple):
    """One converged point of a line."""

    X: Array
    tangent: Array
    S: int
    Z: Array
    iterations: int
    crossed: bool


@dataclass(frozen=True)
class Line:
    """A traced line, in the order of tracing.

    Attributes
    ----------
    T, P : (M,)
    ln_k : (M, C)
        ln(y/x); y is the phase whose fraction is ``fraction``.
    Z : (M, 2)
        Compressibility factors of y and x.
    beta : (M,)
        Mole fraction of phase y.
    critical : list of int
        Positions of points that are critical points.
    closed : bool
        Whether the line came back to the pressure it started from; else it is open: it left the range of pressure or temperature.
    broken : bool
        Whether the tracing stopped because no further point converged.

    """

    T: Array
    P: Array
    ln_k: Array
    Z: Array
    beta: Array
    critical: tuple[int, ...]
    closed: bool
    broken: bool

    @property
    def first_is_lighter(self) -> NDArray[np.bool_]:
        """Where phase y has the larger molar volume (on a critical point: as just before it)."""
        lighter = self.Z[:, 0] > self.Z[:, 1]
        for i in self.critical:
            lighter[i] = lighter[i - 1] if i else lighter[i + 1]
        return lighter

    def smooth(self, columns: Array, per_step: int = 8) -> Array:
        """Columns ``(M, K)`` that go with the points, along a cubic spline against the length of the line; for drawing."""
        from scipy.interpolate import CubicSpline

        steps = np.hypot(10.0 * np.diff(np.log(self.T)), np.diff(np.log(self.P)))
        # where the steps shrink to nothing, the line has ended
        apart = np.concatenate([[True], steps > 1e-9])
        if apart.sum() < 4:
            return columns
        knots, length = columns[apart], np.concatenate([[0.0], np.cumsum(steps[apart[1:]])])
        fine = np.interp(np.arange((len(length) - 1) * per_step + 1) / per_step, np.arange(len(length)), length)
        return np.asarray(CubicSpline(length, knots)(fine))

    def between(self, a: int, b: int) -> Line:
        """The stretch from point ``a`` to point ``b``."""
        part = slice(a, b + 1)
        critical = tuple(i - a for i in self.critical if a <= i <= b)
        return Line(self.T[part], self.P[part], self.ln_k[part], self.Z[part], self.beta[part], critical, False, False)


@dataclass
class Tracer:
    """The equations of one mixture ``z (C,)``, all fractions positive, at one fraction ``beta`` of phase y.

    ``z``, ``beta`` and K are by mole; where ``weights (C,)`` are given, moles per unit of another amount such as mass, they are by that.
    """

    model: PhaseModel
    z: Array
    beta: float
    weights: Array | None = None
    roots: NDArray[np.int8] = field(default_factory=lambda: np.array([VAPOR, LIQUID], dtype=np.int8))

    @property
    def size(self) -> int:
        return len(self.z) + 2

    def system(self, X: Array) -> tuple[Array, Array, Array]:
        """Residuals and Jacobian without the specification's row, and both compressibility factors."""
        c = len(self.z)
        k, T, P = np.exp(X[:c]), np.exp(X[c]), np.exp(X[c + 1])
        x = self.z / (1.0 - self.beta + self.beta * k)
        y = k * x
        slope = x * y / self.z
        moles_y, moles_x, moles_slope = (y, x, slope) if self.weights is None else (a * self.weights for a in (y, x, slope))
        total_y, total_x = moles_y.sum(), moles_x.sum()
        phases = np.stack([moles_y / total_y, moles_x / total_x])
        e = self.model.at(np.array([T, T]), np.array([P, P])).evaluate(phases, self.roots)
        residual = np.empty(c + 1)
        residual[:c] = X[:c] + e.ln_phi[0] - e.ln_phi[1]
        residual[c] = (y - x).sum()
        jacobian = np.zeros((c + 2, c + 2))
        by_y, by_x = (1.0 - self.beta) * moles_slope / total_y, self.beta * moles_slope / total_x
        jacobian[:c, :c] = e.dn[0] * by_y + e.dn[1] * by_x
        if self.weights is not None:
            residual[:c] += np.log(total_x / total_y)
            jacobian[:c, :c] -= by_x + by_y
        jacobian[np.arange(c), np.arange(c)] += 1.0
        jacobian[:c, c] = T * (e.dT[0] - e.dT[1])
        jacobian[:c, c + 1] = P * (e.dP[0] - e.dP[1])
        jacobian[c, :c] = slope
        return residual, jacobian, e.Z

    def solve(self, X: Array, S: int, value: float, crossed: bool = False) -> Point | None:
        """The point with ``X[S] = value``, by Newton's method from ``X``; None where it does not converge."""
        X = X.copy()
        X[S] = value
        c = len(self.z)
        right = np.zeros(c + 2)
        last = np.inf
        for iteration in range(1, _ITERATIONS + 1):
            residual, jacobian, Z = self.system(X)
            jacobian[c + 1, S] = 1.0
            right[: c + 1], right[c + 1] = residual, X[S] - value
            size = float(np.abs(right).max())
            if not np.isfinite(size) or not np.isfinite(jacobian).all() or size > 50.0:
                return None
            try:
                step = _newton_step(jacobian, right, X[:c], Z)
            except np.linalg.LinAlgError:
                return None
            if size < _TOLERANCE or (size < _ACCEPT and size >= last):
                unit = np.zeros(c + 2)
                unit[c + 1] = 1.0
                tangent = _newton_step(jacobian, unit, X[:c], Z)
                if np.abs(X[:c]).max() < _TRIVIAL and abs(Z[0] / Z[1] - 1.0) < 1e-6:
                    return None
                return Point(X, tangent, S, Z, iteration, crossed)
            last = size
            biggest = float(np.abs(step).max())
            X -= step * min(1.0, 1.5 / biggest if biggest > 0.0 else 1.0)
        return None

    def in_moles(self, X: Array) -> tuple[Array, float]:
        """ln K and β by mole."""
        c = len(self.z)
        if self.weights is None:
            return X[:c], self.beta
        x = self.z / (1.0 - self.beta + self.beta * np.exp(X[:c]))
        moles_y, moles_x = float((np.exp(X[:c]) * x) @ self.weights), float(x @ self.weights)
        return X[:c] + np.log(moles_x / moles_y), self.beta * moles_y / (self.beta * moles_y + (1.0 - self.beta) * moles_x)

    def swap(self) -> None:
        """Past a critical point each phase is on the other root."""
        self.roots = self.roots[::-1].copy()


def trace(tracer: Tracer, start: Point, limits: Limits, going: Array | None = None) -> Line:
    """Follow the line from ``start``, first along ``going`` (towards higher pressures), until it leaves ``limits``."""
    tracer.roots = _roots_of(start)
    c = len(tracer.z)
    points = [start]
    passed: list[int] = []
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
            passed.append(len(points))
            going[c:] = 0.0
        points.append(point)
        if limits.left(point.X, c):
            break
        if _stuck(points):
            broken = True
            break
        step_size *= 1.6 if point.iterations <= 3 else 1.2 if point.iterations == 4 else 0.6 if point.iterations > 5 else 1.0
    if broken:
        del points[_first_near_last(points) : -1]
    return _line(tracer, points, [i for i in passed if i < len(points)], limits, broken)


def _newton_step(jacobian: Array, right: Array, ln_k: Array, Z: Array) -> Array:
    """Solution of the linear system; next to a critical point the smallest one, for there the equations hardly tell T and P apart."""
    if float(np.abs(ln_k).max()) < 5e-3 and abs(np.log(Z[0] / Z[1])) < 0.05:
        return np.asarray(np.linalg.lstsq(jacobian, right, rcond=1e-9)[0], dtype=float)
    return np.asarray(np.linalg.solve(jacobian, right), dtype=float)


class Limits(NamedTuple):
    """Where tracing ends."""

    P_min: float
    P_max: float
    T_min: float
    T_max: float

    def left(self, X: Array, c: int) -> bool:
        """Whether a point is outside, or at an extreme that says nothing more."""
        T, P = np.exp(X[c]), np.exp(X[c + 1])
        return bool(not (self.P_min <= P <= self.P_max and self.T_min <= T <= self.T_max))


def _roots_of(start: Point) -> NDArray[np.int8]:
    order = (VAPOR, LIQUID) if start.Z[0] >= start.Z[1] else (LIQUID, VAPOR)
    return np.array(order, dtype=np.int8)


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
    other = before.tangent / before.tangent[S] if before.tangent[S] != 0.0 else None
    if other is None or abs(h) < 1e-3 or np.sign(h) != np.sign(tangent[S]) or reach > 2.0 * abs(h):
        return linear
    if (before.tangent @ (last.X - before.X)) * before.tangent[S] * h < 0.0:
        # the variable had an extremum on the way, and the others are no functions of it
        return linear
    own = tangent / tangent[S]
    t = 1.0 + np.sign(tangent[S]) * reach / h
    value = _hermite(before.X, other * h, last.X, own * h, t)
    return value if np.abs(value - linear).max() < 0.5 else linear


def _hermite(a: Array, da: Array, b: Array, db: Array, t: float) -> Array:
    """Cubic with values a, b and derivatives da, db at t = 0, 1."""
    d = b - a
    return a + t * (da + t * (3.0 * d - 2.0 * da - db + t * (da + db - 2.0 * d)))


def _line(tracer: Tracer, points: list[Point], crossings: list[int], limits: Limits, broken: bool) -> Line:
    c = len(tracer.z)
    z = tracer.z if tracer.weights is None else tracer.z * tracer.weights / (tracer.z @ tracer.weights)
    T, P = [float(np.exp(p.X[c])) for p in points], [float(np.exp(p.X[c + 1])) for p in points]
    by_mole = [tracer.in_moles(p.X) for p in points]
    ln_k, beta, Z = [k for k, _ in by_mole], [b for _, b in by_mole], [p.Z for p in points]
    critical = []
    for count, i in enumerate(crossings):
        at = i + count
        found = _critical_between(tracer.model, z, points[i - 1], points[i])
        if found is None:
            continue
        T.insert(at, found.T)
        P.insert(at, found.P)
        ln_k.insert(at, np.zeros(c))
        beta.insert(at, tracer.beta)
        Zc = found.P * found.V / (R * found.T)
        Z.insert(at, np.array([Zc, Zc]))
        critical.append(at)
    P_array = np.array(P)
    closed = not broken and len(P) > 3 and P_array[-1] <= limits.P_min
    return Line(np.array(T), P_array, np.array(ln_k), np.array(Z), np.array(beta), tuple(critical), closed, broken)


def _critical_between(model: PhaseModel, z: Array, a: Point, b: Point) -> CriticalPoint | None:
    """The critical point between two points of a line, by the direct method started from interpolation."""
    if not isinstance(model, VolumeModel):
        return None
    c = len(z)
    S = int(np.abs(b.X[:c] - a.X[:c]).argmax())
    h = b.X[S] - a.X[S]
    t = -a.X[S] / h
    hopped = c <= b.S
    X = 0.5 * (a.X + b.X) if hopped else _hermite(a.X, a.tangent / a.tangent[S] * h, b.X, b.tangent / b.tangent[S] * h, t)
    T, P = float(np.exp(X[c])), float(np.exp(X[c + 1]))
    V = R * T / P * float(a.Z.mean() * (1.0 - t) + b.Z.mean() * t)
    found = refine(model, z, T, V)
    if found is None or abs(found.T / T - 1.0) > 0.05 or abs(np.log(found.P / P)) > 0.3:
        return None
    return found
