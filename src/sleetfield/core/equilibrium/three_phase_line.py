"""Lines on which a third phase begins to form beside two: the border of a region of three phases, by continuation.

Unknowns are ln K of the first phase and of the incipient one, both against the second, the amount β of the first phase, ln T and ln P; equations are
equal fugacities, Σ(y - x) = 0 with x = z/(1 - β + βK), and Σw = 1 of the incipient phase. Where β leaves [0, 1] the line has come to the feed's own
saturation line, and ends. Where the incipient phase becomes one with another, a critical end point, both exchange places and the line goes on.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from ..arrays import ABSENT, Array
from ..continuation import Path, follow as follow_path
from ..models.contract import PhaseModel
from ..newton import Solved, Specified, solve
from .flash import FlashResult
from .line_equations import Limits
from .stability import MARGINAL, further_phase

_NEWTON_STEPS = 12
_CONVERGED = 1e-9
_POINTS = 200
_FIRST, _LEAST = 0.05, 1e-5
_ALIKE = 0.05
"""Two phases of which every ln K is below this have nearly become one."""
_BESIDE = 0.5
"""The same below this: the line is led across to where they have exchanged places."""
_MOST = {"ln_k": 0.6, "beta": 0.1, "ln_T": 0.015, "ln_P": 0.15}
"""Largest change from point to point."""


class ThreePhaseLine(NamedTuple):
    """Points ``(M,)`` of a line, with the phases ``(M, 3, C)``: the two that are there, then the incipient one; ``beta (M,)`` is the amount of the first."""

    T: Array
    P: Array
    beta: Array
    x: Array


@dataclass
class _Problem:
    model: PhaseModel
    z: Array

    def phases(self, u: Array) -> Array:
        c = len(self.z)
        k = np.exp(u[:c])
        x = self.z / (1.0 - u[2 * c] + u[2 * c] * k)
        return np.stack([k * x, x, np.exp(u[c : 2 * c]) * x])

    def equations(self, u: Array) -> tuple[Array, Array]:
        """Residuals ``(2C + 2,)`` and their derivatives ``(2C + 2, 2C + 3)``."""
        c, (T, P), beta = len(self.z), np.exp(u[-2:]), u[-3]
        n = self.phases(u)
        y, x, w = n
        total = n.sum(axis=1)
        e = self.model.at(np.full(3, T), np.full(3, P)).evaluate(np.maximum(n / total[:, None], ABSENT))
        dn = e.dn / total[:, None, None]
        k = y / x
        # derivatives of x by ln K and by β; those of y and w follow
        x_k, x_beta = -beta * y * x / self.z, -x * x * (k - 1.0) / self.z
        y_k, w_k = y + k * x_k, w / x * x_k
        f, J = np.empty(2 * c + 2), np.zeros((2 * c + 2, 2 * c + 3))
        f[:c] = u[:c] + e.ln_phi[0] - e.ln_phi[1]
        f[c : 2 * c] = u[c : 2 * c] + e.ln_phi[2] - e.ln_phi[1]
        f[2 * c], f[2 * c + 1] = (y - x).sum(), w.sum() - 1.0
        J[:c, :c] = dn[0] * y_k - dn[1] * x_k
        J[c : 2 * c, :c] = dn[2] * w_k - dn[1] * x_k
        J[c : 2 * c, c : 2 * c] = dn[2] * w
        J[np.arange(2 * c), np.arange(2 * c)] += 1.0
        J[:c, 2 * c] = (dn[0] @ (k * x_beta)) - dn[1] @ x_beta
        J[c : 2 * c, 2 * c] = (dn[2] @ (w / x * x_beta)) - dn[1] @ x_beta
        for row, phase in ((0, 0), (c, 2)):
            J[row : row + c, 2 * c + 1] = T * (e.dT[phase] - e.dT[1])
            J[row : row + c, 2 * c + 2] = P * (e.dP[phase] - e.dP[1])
        J[2 * c, :c], J[2 * c, 2 * c] = y_k - x_k, ((k - 1.0) * x_beta).sum()
        J[2 * c + 1, :c], J[2 * c + 1, c : 2 * c] = w_k, w
        J[2 * c + 1, 2 * c] = (w / x * x_beta).sum()
        return f, J

    def solve(self, u: Array, row: Array, target: float) -> Solved | None:
        """The point near ``u`` where ``row @ u`` is ``target``."""
        return solve(self.equations, u, specified=Specified(row, target), longest=1.0, steps=_NEWTON_STEPS, converged=_CONVERGED)


def start_beside(model: PhaseModel, z: Array, T: float, P: float, state: FlashResult) -> Solved | None:
    """The point of a line next to a state of three phases, of which there is little of one; ``state`` has one row."""
    amount, x = state.amount[0, :3], np.maximum(state.x[0, :3], ABSENT)
    order = np.argsort(-amount)
    first, second, third = (x[i] for i in order)
    c = len(z)
    problem = _Problem(model, z)
    beta = float(amount[order[0]] / (amount[order[0]] + amount[order[1]]))
    u = np.concatenate([np.log(first / second), np.log(third / second), [beta], np.log([T, P])])
    starts = (problem.solve(u, row, float(row @ u)) for row in np.eye(2 * c + 3)[[-2, -1, -3]])
    start = next((s for s in starts if s is not None and np.abs(s.u[-2:] - u[-2:]).max() < 0.2), None)
    return None if start is None or _alike(start.u, c) else start


def start_at(model: PhaseModel, z: Array, T: float, P: float, second: Array, third: Array) -> Solved | None:
    """The point of a line at which the feed is the first phase and has just begun to form a second and a third one."""
    c = len(z)
    first, second, third = (np.maximum(x, ABSENT) for x in (z, second, third))
    u = np.concatenate([np.log(first / second), np.log(third / second), [1.0], np.log([T, P])])
    start = _Problem(model, z).solve(u, np.eye(2 * c + 3)[2 * c], 1.0)
    fine = start is not None and np.abs(start.u[-2:] - u[-2:]).max() < 0.8 and not _alike(start.u, c)
    return start if fine else None


def follow(model: PhaseModel, z: Array, start: Solved, limits: Limits) -> ThreePhaseLine | None:
    """The line that a point is of, both ways from it."""
    problem = _Problem(model, z)
    halves = [follow_path(_OneWay(problem, start, limits), start, sense * start.tangent) for sense in (-1.0, 1.0)]
    points = np.array([*halves[0][::-1], start.u, *halves[1]])
    line = _stable(model, problem, points, len(halves[0]))
    return line if len(line.T) > 1 else None


class _OneWay(Path):
    """A border in one sense."""

    first, longest, shortest, most = _FIRST, 1.0, _LEAST, _POINTS

    def __init__(self, problem: _Problem, start: Solved, limits: Limits) -> None:
        self.problem, self.start, c = problem, start, len(problem.z)
        self.size = np.concatenate([np.full(2 * c, _MOST["ln_k"]), [_MOST["beta"], _MOST["ln_T"], _MOST["ln_P"]]])
        self.ends = [(2 * c, 0.0), (2 * c, 1.0)]
        self.ends += [(2 * c + 1, float(np.log(v))) for v in (limits.T_min, limits.T_max)]
        self.ends += [(2 * c + 2, float(np.log(v))) for v in (limits.P_min, limits.P_max)]

    def measured(self, way: Array) -> Array:
        return np.asarray(way / float(np.abs(way / self.size).max()))

    def corrected(self, here: Solved, jump: Array) -> Solved | None:
        row = jump / self.size**2 / float(np.linalg.norm(jump / self.size))
        guess = here.u + jump
        found = self.problem.solve(guess, row, float(row @ guess))
        if found is None or float(np.abs((found.u - guess) / self.size).max()) > 0.5 or _alike(found.u, len(self.problem.z)):
            return None
        return found

    def ended(self, here: Solved, found: Solved) -> list[Array] | None:
        for unknown, value in self.ends:
            if _outside(found.u, unknown, value, self.ends):
                if here is self.start and abs(here.u[unknown] - value) < 1e-9:
                    return []
                last = _ended(self.problem, here, found, unknown, value)
                return [] if last is None else [last]
        return None

    def onward(self, found: Solved, way: Array) -> Array:
        ahead = self.measured(found.tangent)
        return ahead if float((ahead / self.size) @ (way / self.size)) > 0.0 else -ahead

    def across(self, here: Solved, way: Array) -> tuple[Solved, Array] | None:
        return _across(self.problem, here, way)


def _across(problem: _Problem, here: Solved, way: Array) -> tuple[Solved, Array] | None:
    """Where the incipient phase and one of the others are nearly alike and become more so: the point at which they have exchanged places, and the way on."""
    c = len(problem.z)
    for other in (here.u[:c], np.zeros(c)):
        apart = here.u[c : 2 * c] - other
        j = int(np.abs(apart).argmax())
        row = np.zeros(len(here.u))
        row[c + j] = 1.0
        row[j] = -1.0 if other is not None and other.any() else 0.0
        if abs(apart[j]) > _BESIDE or float(row @ way) * apart[j] >= 0.0:
            continue
        u = here.u.copy()
        u[:c] += apart if other.any() else 0.0
        u[c : 2 * c] = u[:c] - apart if other.any() else -apart
        if not other.any():
            # the reference phase itself takes the place of the incipient one
            u[:c] -= apart
        found = problem.solve(u, row, -float(apart[j]))
        if found is not None and np.abs(found.u[-2:] - here.u[-2:]).max() < 0.1:
            on = found.tangent * np.sign(float(row @ found.tangent) * -apart[j])
            return found, on
    return None


def _outside(u: Array, unknown: int, value: float, ends: list[tuple[int, float]]) -> bool:
    lower = min(v for k, v in ends if k == unknown) == value
    return bool(u[unknown] < value if lower else u[unknown] > value)


def _ended(problem: _Problem, a: Solved, b: Solved, unknown: int, value: float) -> Array | None:
    """The point between ``a`` and ``b`` at which an unknown has the value where the line ends."""
    step = b.u[unknown] - a.u[unknown]
    t = float(np.clip((value - a.u[unknown]) / step, 0.0, 1.0)) if step != 0.0 else 0.0
    found = problem.solve(a.u + t * (b.u - a.u), np.eye(len(a.u))[unknown], value)
    return None if found is None else found.u


def _alike(u: Array, c: int) -> bool:
    """Whether two of the three phases have nearly become one."""
    first, third = u[:c], u[c : 2 * c]
    return min(float(np.abs(d).max()) for d in (first, third, first - third)) < _ALIKE


def _stable(model: PhaseModel, problem: _Problem, points: Array, start: int) -> ThreePhaseLine:
    """The stretch around the point ``start`` on which no fourth phase would form."""
    c = len(problem.z)
    n = np.stack([problem.phases(u) for u in points])
    x = n / n.sum(axis=2)[:, :, None]
    T, P = np.exp(points[:, -2]), np.exp(points[:, -1])
    z = np.broadcast_to(problem.z, (len(T), c))
    tm = further_phase(model.at(T, P), z, [np.maximum(x[:, k], ABSENT) for k in range(3)]).tm
    bad = np.flatnonzero(tm < MARGINAL)
    keep = slice(int(max(bad[bad < start], default=-1)) + 1, int(min(bad[bad > start], default=len(T))))
    return ThreePhaseLine(T[keep], P[keep], points[keep, 2 * c], x[keep])
