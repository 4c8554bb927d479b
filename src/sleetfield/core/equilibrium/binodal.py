"""The binodal curve of three liquids-forming components at given temperature and pressure: tie line after tie line, through its plait points.

    ln xᵢ + ln φᵢ the same in both liquids,   Σ xᵢ = 1 in both

are five equations in six logarithms of mole fractions. Their solutions are followed by pseudo-arclength continuation, as envelopes are
(Michelsen, Fluid Phase Equilib. 4 (1980) 1-10), so that a plait point, where both liquids become the same, is passed like any other.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ..arrays import ABSENT, Array, component_major, normalized
from ..continuation import Path, follow as follow_path, norm
from ..models.contract import LIQUID, PhaseModel
from ..newton import Solved, Specified, solve
from .stability import MARGINAL, further_phase

_STEPS = 400
_NEWTON_STEPS = 12
_CONVERGED = 1e-10
_FIRST, _SHORTEST = 0.05, 1e-5
_EDGE = 1e-6
_SAME = 1e-3
_LONGEST_MOVE = 0.025


class Branch(NamedTuple):
    """Tie lines in order ``(M, 2, C)``, and the plait points at its ends ``(K, C)``."""

    ties: Array
    plaits: Array


class _Ties:
    """The equations at one temperature and pressure."""

    def __init__(self, model: PhaseModel, T: float, P: float) -> None:
        self.model, self.T, self.P = model, np.full(2, T), np.full(2, P)

    def equations(self, u: Array) -> tuple[Array, Array]:
        """Residuals ``(C + 2,)`` and their derivatives ``(C + 2, 2 C)`` at ln x of both liquids ``(2, C)``."""
        x = np.exp(u)
        c = x.shape[1]
        total = x.sum(axis=1)
        share = x / total[:, None]
        e = self.model.at(self.T, self.P).evaluate(component_major(share), LIQUID)
        ln_f = u - np.log(total)[:, None] + e.ln_phi
        own = np.eye(c) + (e.dn - 1.0) * share[:, None, :]
        jacobian = np.zeros((c + 2, 2 * c))
        jacobian[:c, :c], jacobian[:c, c:] = own[0], -own[1]
        jacobian[c, :c], jacobian[c + 1, c:] = x[0], x[1]
        return np.concatenate([ln_f[0] - ln_f[1], total - 1.0]), jacobian


class _OneWay(Path):
    """Tie lines in one sense; ``plait`` is where both liquids become one, if they do."""

    first, longest, shortest, most = _FIRST, 8.0, _SHORTEST, _STEPS

    def __init__(self, ties: _Ties, shape: tuple[int, ...]) -> None:
        self.ties, self.shape = ties, shape
        self.plait: Array | None = None

    def equations(self, flat: Array) -> tuple[Array, Array]:
        return self.ties.equations(flat.reshape(self.shape))

    def tangent(self, flat: Array) -> Array:
        """The direction in which the residuals stay."""
        return np.asarray(np.linalg.svd(self.equations(flat)[1])[2][-1])

    def measured(self, way: Array) -> Array:
        return norm(way)

    def held(self, here: Solved, way: Array, length: float) -> float:
        move = float(np.abs(np.exp(here.u) * way).max())
        return min(length, _LONGEST_MOVE / max(move, 1e-12), self.longest)

    def corrected(self, here: Solved, jump: Array) -> Solved | None:
        guess, row = here.u + jump, norm(jump)
        specified = Specified(row, float(row @ guess))
        found = solve(self.equations, guess, specified=specified, longest=0.5, steps=_NEWTON_STEPS, converged=_CONVERGED)
        if found is None or np.abs(np.exp(found.u) - np.exp(here.u)).max() > 4.0 * _LONGEST_MOVE:
            return None
        return found._replace(tangent=self.tangent(found.u))

    def ended(self, here: Solved, found: Solved) -> list[Array] | None:
        before, now = (point.u.reshape(self.shape) for point in (here, found))
        d_before, d_now = before[0] - before[1], now[0] - now[1]
        # both liquids exchange places where their difference, seen along the first one, changes its sign
        if float(d_before @ d_now) <= 0.0:
            share = float(np.linalg.norm(d_before) / (np.linalg.norm(d_before) + np.linalg.norm(d_now)))
            self.plait = normalized(np.exp((1.0 - share) * before.mean(axis=0) + share * now.mean(axis=0))[None])[0]
            return []
        if np.abs(np.exp(now[0]) - np.exp(now[1])).max() < _SAME:
            self.plait = normalized(np.exp(now.mean(axis=0))[None])[0]
            return []
        return [found.u] if np.exp(now).max(axis=0).min() < _EDGE else None

    def given_up(self, here: Solved) -> None:
        """A branch that ends by itself ends in a plait point if both liquids are nearly the same there."""
        u = here.u.reshape(self.shape)
        if np.abs(np.exp(u[0]) - np.exp(u[1])).max() <= 0.05:
            self.plait = normalized(np.exp(u.mean(axis=0))[None])[0]


def follow(model: PhaseModel, T: float, P: float, tie: Array) -> Branch:
    """The whole branch through one tie line ``(2, C)``, both ways from it."""
    start = np.log(np.maximum(tie, 1e-12))
    halves, plaits = [], []
    for sense in (1.0, -1.0):
        path = _OneWay(_Ties(model, T, P), start.shape)
        way = sense * path.tangent(start.ravel())
        halves.append([np.exp(u).reshape(start.shape) for u in follow_path(path, Solved(start.ravel(), way, 0), way)])
        if path.plait is not None:
            plaits.append(path.plait)
    whole = [*halves[1][::-1], tie, *halves[0]]
    return Branch(np.array(whole), np.array(plaits).reshape(-1, tie.shape[1]))


def stable_parts(model: PhaseModel, T: float, P: float, branch: Branch) -> tuple[list[Branch], Array]:
    """The stretches of a branch on which no third liquid would form, with the plait points at their ends; and the mean compositions ``(K, C)``
    of tie lines next to them that are not stable: there a region of three liquids begins.
    """
    ties = branch.ties
    bound = model.at(np.full(len(ties), T), np.full(len(ties), P))
    liquids = [np.maximum(ties[:, k], ABSENT) for k in (0, 1)]
    fine = further_phase(bound, component_major(ties.mean(axis=1)), liquids).tm > MARGINAL
    ends = np.flatnonzero(np.diff(np.concatenate([[False], fine, [False]]).astype(int))).reshape(-1, 2)
    parts, beyond = [], []
    for a, b in ends:
        at = [k for k, reached in ((0, a == 0), (len(ties) - 1, b == len(ties))) if reached]
        plaits = [x for x in branch.plaits if any(_next_to(x, ties, k) for k in at)]
        parts.append(Branch(ties[a:b], np.array(plaits).reshape(-1, ties.shape[2])))
        beyond += [ties[k].mean(axis=0) for k, inside in ((a - 1, a > 0), (b, b < len(ties))) if inside]
    return parts, np.array(beyond).reshape(-1, ties.shape[2])


def _next_to(plait: Array, ties: Array, end: int) -> bool:
    """Whether a plait point belongs to this end of a branch."""
    here, there = (float(np.abs(ties[k].mean(axis=0) - plait).max()) for k in (end, -1 if end == 0 else 0))
    return here < there
