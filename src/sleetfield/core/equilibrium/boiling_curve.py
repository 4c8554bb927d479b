"""The boiling curve of two components followed from one of its points, at given temperature or pressure.

    ln Kᵢ + ln φᵢ(vapor, Kx) - ln φᵢ(liquid, x) = 0,   Σ Kᵢxᵢ = 1,   one of the variables given

in ln K₁, ln K₂, ln T or ln P, and ln(x₁/x₂). As for whole envelopes (Michelsen, Fluid Phase Equilib. 4 (1980) 1-10) the variable that changes most
along the curve is given at each step, so that it passes where x, T or P turn back. A curve ends at a pure component or at a critical point, which is
where the directly calculated one (`critical.refine`) has the given temperature or pressure; or it is open.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ..arrays import ABSENT, Array
from ..constants import R
from ..continuation import Path, follow as follow_path
from ..models.contract import LIQUID, VAPOR, PhaseModel, VolumeModel
from ..newton import Solved, solve, unit
from .critical import CriticalPoint, refine
from .stability import UNSTABLE, further_phase

_CONVERGED = 1e-10
_NEWTON_STEPS = 8
_QUICK = 3
_POINTS = 400
_SHORTEST = 1e-3
_NEAR = 0.1
"""The logarithms of K-values and of the ratio of volumes at which the critical point is in sight."""

_LEAST_LEFT = 0.2
"""What a step has to leave of them."""

_PURE = 23.0
"""The ln(x₁/x₂) or ln(y₁/y₂) beyond which a phase is as good as pure."""

_LONGEST = {"T": np.array([0.25, 0.25, 0.12, 0.35]), "P": np.array([0.25, 0.25, 0.015, 0.35])}
"""Steps in the variables at given T or P."""

_HIGHEST = 3e8
"""Pa; where a curve has gone so far, it is open."""


class BoilingCurve(NamedTuple):
    """Points ``(N,)`` in the order in which they come: T, P, mole fractions x and y of the first component; a last point with x = y is critical."""

    T: Array
    P: Array
    x: Array
    y: Array


def follow(model: PhaseModel, given: str, value: float, T: float, P: float, x: float, y: float, towards: float) -> BoilingCurve:
    """The stable part of the curve from the point ``T, P, x, y`` on it, with x rising at first (``towards`` 1) or falling (-1).

    ``given`` is "T" or "P", ``value`` what it is. Nothing for models without a volume equation: their curves have no such ends.
    """
    if not isinstance(model, VolumeModel) or not (0.0 < x < 1.0 and 0.0 < y < 1.0):
        return BoilingCurve(*np.zeros((4, 0)))
    curve = _Curve(model, given, value)
    start = np.array([np.log(y / x), np.log((1.0 - y) / (1.0 - x)), np.log(P if given == "T" else T), np.log(x / (1.0 - x))])
    points, end = curve.trace(start, towards)
    if not points:
        return BoilingCurve(*np.zeros((4, 0)))
    columns = curve.columns(points)
    if end is not None:
        columns = [np.append(column, last) for column, last in zip(columns, end, strict=True)]
    stable = curve.stable(*columns)
    until = len(stable) if stable.all() else int(np.argmin(stable))
    return BoilingCurve(*(column[:until] for column in columns))


class _Curve(Path):
    """At given T or P; ``end`` is the critical point T, P, x, y that it comes to."""

    def __init__(self, model: VolumeModel, given: str, value: float) -> None:
        self.model, self.given, self.value = model, given, value
        self.size = _LONGEST[given]
        self.end: tuple[float, float, float, float] | None = None

    first, longest, shortest, most = 0.5, 1.0, _SHORTEST, _POINTS

    def trace(self, start: Array, towards: float) -> tuple[list[Array], tuple[float, float, float, float] | None]:
        """Points after ``start``, and the critical point T, P, x, y where they come to one."""
        at = self._newton(start, 3)
        if at is None or self._left(at.u):
            return [], None
        return follow_path(self, at, towards * at.tangent), self.end

    # ---- as a path ----

    def measured(self, way: Array) -> Array:
        return np.asarray(way / float((np.abs(way) / self.size).max()))

    def corrected(self, here: Solved, jump: Array) -> Solved | None:
        at = self._newton(here.u + jump, int(np.argmax(np.abs(jump) / self.size)))
        if at is None:
            return None
        apart, further = self._apart(here.u), self._apart(at.u)
        size, before = (float(np.abs(d).max()) for d in (further, apart))
        # one beyond the critical point, or one where both phases have become the same without it
        return None if (further * apart <= 0.0).all() or size < _LEAST_LEFT * before else at

    def ended(self, here: Solved, found: Solved) -> list[Array] | None:
        size, before = (float(np.abs(self._apart(point.u)).max()) for point in (found, here))
        if size < _NEAR:
            self.end = self._critical(found.u + (found.u - here.u) * size / (before - size))
            return [found.u]
        return [found.u] if self._left(found.u) else None

    def onward(self, found: Solved, way: Array) -> Array:
        ahead = self.measured(found.tangent)
        return np.asarray(ahead * np.sign(float(ahead @ (way / self.size**2))))

    def rate(self, steps: int) -> float:
        return 1.5 if steps <= _QUICK else 0.8

    def _apart(self, v: Array) -> Array:
        """Logarithms of both K-values and of the ratio of packings: all are zero, and change sign, at a critical point alone."""
        T, P, x, y = (float(column[0]) for column in self.columns([v]))
        both, kinds = np.array([[x, 1.0 - x], [y, 1.0 - y]]), np.array([LIQUID, VAPOR], dtype=np.int8)
        packing = self.model.at(np.full(2, T), np.full(2, P)).describe(np.maximum(both, ABSENT), kinds).packing
        return np.array([v[0], v[1], np.log(packing[0] / max(float(packing[1]), 1e-6))])

    def _left(self, v: Array) -> bool:
        """Whether the curve has come to a pure component, or to no end."""
        high = self.given == "T" and v[2] > np.log(_HIGHEST)
        return bool(high or abs(v[3]) > _PURE or abs(v[3] + v[0] - v[1]) > _PURE)

    def columns(self, points: list[Array]) -> list[Array]:
        """T, P, x, y."""
        v = np.array(points).reshape(-1, 4)
        x = 1.0 / (1.0 + np.exp(-v[:, 3]))
        y = 1.0 / (1.0 + np.exp(-v[:, 3] - v[:, 0] + v[:, 1]))
        known = np.full(len(v), self.value)
        return [known, np.exp(v[:, 2]), x, y] if self.given == "T" else [np.exp(v[:, 2]), known, x, y]

    def stable(self, T: Array, P: Array, x: Array, y: Array) -> Array:
        """Where no further phase forms."""
        liquid, vapor = (np.stack([part, 1.0 - part], axis=1) for part in (x, y))
        return np.asarray(further_phase(self.model.at(T, P), np.maximum(liquid, ABSENT), [liquid, vapor], LIQUID).tm >= UNSTABLE)

    def _newton(self, v: Array, s: int) -> Solved | None:
        """The point with the given ``v[s]`` near ``v``; none where a first step would lead far from there."""
        held = unit(4, s, float(v[s]))
        return solve(self._equations, v, specified=held, longest=3.0, steps=_NEWTON_STEPS, converged=_CONVERGED)

    def _equations(self, v: Array) -> tuple[Array, Array]:
        """Residuals ``(3,)`` and their derivatives ``(3, 4)``."""
        x1 = 1.0 / (1.0 + np.exp(-v[3]))
        x = np.maximum(np.array([x1, 1.0 / (1.0 + np.exp(v[3]))]), ABSENT)
        along = x1 * x[1] * np.array([1.0, -1.0])
        y = np.exp(v[:2]) * x
        q = float(np.exp(v[2]))
        T, P = (self.value, q) if self.given == "T" else (q, self.value)
        both = np.stack([x, y / y.sum()])
        e = self.model.at(np.full(2, T), np.full(2, P)).evaluate(both, np.array([LIQUID, VAPOR], dtype=np.int8))
        slope = (e.dP if self.given == "T" else e.dT) * q
        dn_vapor = e.dn[1] / y.sum()
        change = np.exp(v[:2]) * along
        f, jacobian = np.zeros(3), np.zeros((3, 4))
        f[:2] = v[:2] + e.ln_phi[1] - e.ln_phi[0]
        f[2] = y.sum() - 1.0
        jacobian[:2, :2] = np.eye(2) + dn_vapor * y
        jacobian[:2, 2] = slope[1] - slope[0]
        jacobian[:2, 3] = dn_vapor @ change - e.dn[0] @ along
        jacobian[2, :2], jacobian[2, 3] = y, change.sum()
        return f, jacobian

    def _critical(self, v: Array) -> tuple[float, float, float, float] | None:
        """The critical point at the given temperature or pressure, by secants in its composition from the extrapolated one."""
        q, x = float(np.exp(v[2])), float(1.0 / (1.0 + np.exp(-v[3])))
        T, P = (self.value, q) if self.given == "T" else (q, self.value)
        V = float(self.model.at(np.array([T]), np.array([P])).describe(np.array([[x, 1.0 - x]]))[0][0]) * R * T / P
        before: tuple[float, float] | None = None
        for _ in range(12):
            point = refine(self.model, np.array([x, 1.0 - x]), T, V) if 0.0 < x < 1.0 else None
            if point is None:
                return None
            error = self._miss(point)
            T, V = point.T, point.V
            step = 1e-4 * min(x, 1.0 - x)
            if before is not None and error != before[1]:
                step = -error * (x - before[0]) / (error - before[1])
            if abs(error) < 1e-11 or abs(step) < 1e-13:
                return point.T, point.P, x, x
            before = x, error
            x += float(np.clip(step, -0.02, 0.02))
        return None

    def _miss(self, point: CriticalPoint) -> float:
        return float(np.log((point.T if self.given == "T" else point.P) / self.value))
