"""Azeotropes: a liquid, or two liquids in equilibrium, that boil to a vapor of their own composition.

One liquid:     ln φᵢ(liquid, x) = ln φᵢ(vapor, x) for all i,  Σ xᵢ = 1
Two liquids:    ln fᵢ(n') = ln fᵢ(n'') = ln fᵢ(vapor, n' + n''),  Σ (n'ᵢ + n''ᵢ) = 1

at given P (unknown ln T) or given T (unknown ln P), by Newton's method from many starts at once, in the logarithms of mole numbers. Every
face of the composition space is searched by itself: components that a start does not have stay away, and their equations are left out.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arrays import ABSENT, Array, Index, component_major, normalized, rows
from ..models.contract import LIQUID, VAPOR, BoundModel, Evaluation, PhaseModel
from ..newton import Batch, Problems, solve_many
from .flash import flash
from .stability import further_phase

_HALVINGS = 20
"""From 20 to 3000 K to some 5e-6 of a temperature, which is near enough to start from."""
_NEWTON_STEPS = 30
_CONVERGED = 1e-10
_SAME = 1e-6
_LOWEST = 1e-8
"""Mole fractions below this are on a face of their own."""

_BELOW = (0.99, 0.96, 0.9)
_LONGEST, _LONGEST_Q = 1.0, {"T": 0.05, "P": 0.5}


class Azeotropes(NamedTuple):
    """Solutions: T, P ``(M,)``, overall mole fractions ``(M, C)``, both liquids ``(M, 2, C)`` (the same twice where there is one)."""

    T: Array
    P: Array
    x: Array
    liquids: Array
    tm: Array


def interior_points(count: int, per_edge: int) -> Array:
    """Compositions inside a simplex: all with parts (k + ½)/... of ``per_edge`` levels ``(M, count)``."""
    if count == 1:
        return np.ones((1, 1))
    grids = np.stack(np.meshgrid(*[np.arange(1, per_edge + 1)] * (count - 1), indexing="ij"), axis=-1).reshape(-1, count - 1)
    kept = grids[grids.sum(axis=1) <= per_edge]
    last = per_edge + 1 - kept.sum(axis=1)
    points = np.concatenate([kept, last[:, None]], axis=1) / (per_edge + 1)
    # corners are where azeotropes of nearly immiscible components hide
    sharp = points**3
    return np.asarray(np.unique(np.concatenate([points, sharp / sharp.sum(axis=1)[:, None]]).round(12), axis=0))


def boiling_guess(model: PhaseModel, given: str, value: float, x: Array) -> tuple[Array, Array]:
    """Rough T and P ``(M,)`` at which liquids ``x (M, C)`` boil."""
    ln_q, known = _Search(model, given, value).start(x), np.full(len(x), value)
    return (known, np.exp(ln_q)) if given == "T" else (np.exp(ln_q), known)


def homogeneous(model: PhaseModel, given: str, value: float, starts: Array) -> Azeotropes:
    """Azeotropes of one liquid from mole fractions ``starts (M, C)``, each with the components of its start; ``given`` is "T" or "P"."""
    return _distinct(_Search(model, given, value).one_liquid(starts))


def heterogeneous(model: PhaseModel, given: str, value: float, ln_q: Array, first: Array, second: Array) -> Azeotropes:
    """Azeotropes of two liquids, from liquids ``first``, ``second`` ``(M, C)`` and ln T or ln P ``(M,)``."""
    return _distinct(_Search(model, given, value).two_liquids(ln_q, first, second))


class _Search:
    """At given T or P."""

    def __init__(self, model: PhaseModel, given: str, value: float) -> None:
        self.model, self.given, self.value = model, given, value
        self.unknown = "P" if given == "T" else "T"

    def bind(self, ln_q: Array) -> BoundModel:
        known = np.full(len(ln_q), self.value)
        return self.model.at(known, np.exp(ln_q)) if self.given == "T" else self.model.at(np.exp(ln_q), known)

    def by_ln_q(self, e: Evaluation, ln_q: Array) -> Array:
        slope = e.dP if self.unknown == "P" else e.dT
        return np.asarray(slope * np.exp(ln_q)[:, None])

    def start(self, x: Array) -> Array:
        """Ln T or ln P at which rough K-values boil a liquid."""
        if self.unknown == "P":
            guess = self.model.ln_saturation_guess(np.full(len(x), self.value))
            return np.asarray(np.log((x * np.exp(guess)).sum(axis=1)))
        low, high = np.full(len(x), np.log(20.0)), np.full(len(x), np.log(3000.0))
        for _ in range(_HALVINGS):
            middle = 0.5 * (low + high)
            above = (x * np.exp(self.model.ln_saturation_guess(np.exp(middle)))).sum(axis=1) > self.value
            low, high = np.where(above, low, middle), np.where(above, middle, high)
        return np.asarray(0.5 * (low + high))

    def one_liquid(self, starts: Array) -> Azeotropes:
        """From every start; what does not converge is left out."""
        present = starts > 0.0
        ln_x, ln_q = np.log(np.maximum(normalized(starts), ABSENT)), self.start(normalized(starts))
        c = ln_x.shape[1]
        diagonal = np.arange(c)

        def problems(u: Array, index: Index) -> Batch:
            n, q = np.exp(u[:, :c]), u[:, c]
            total = n.sum(axis=1)
            x, bound = component_major(n / total[:, None]), self.bind(q)
            liquid, vapor = bound.evaluate(x, LIQUID), bound.evaluate(x, VAPOR)
            there = present[index]
            f = np.concatenate([np.where(there, liquid.ln_phi - vapor.ln_phi, 0.0), (total - 1.0)[:, None]], axis=1)
            jacobian = np.zeros((len(index), c + 1, c + 1))
            jacobian[:, :c, :c] = (liquid.dn - vapor.dn) * x[:, None, :] * there[:, :, None]
            jacobian[:, diagonal, diagonal] += ~there
            jacobian[:, :c, c] = (self.by_ln_q(liquid, q) - self.by_ln_q(vapor, q)) * there
            jacobian[:, c, :c] = n
            return Batch(f, jacobian, np.abs(f).max(axis=1), np.ones(f.shape, dtype=bool))

        def lost(u: Array, index: Index) -> NDArray[np.bool_]:
            return np.asarray(np.where(present[index], u[:, :c], 0.0).min(axis=1) < np.log(_LOWEST) - 3.0)

        u, error = self._solved(problems, np.concatenate([ln_x, ln_q[:, None]], axis=1), lost)
        ln_x, ln_q = u[:, :c], u[:, c]
        found = np.flatnonzero((error < _CONVERGED) & (np.where(present, ln_x, 0.0).min(axis=1) > np.log(_LOWEST)))
        found = found[self._two_roots(ln_q[found], normalized(np.exp(ln_x[found])))]
        x = normalized(np.exp(ln_x[found]))
        return self._tested(ln_q[found], x, np.stack([x, x], axis=1))

    def _solved(self, problems: Problems, u: Array, lost: Callable[[Array, Index], NDArray[np.bool_]]) -> tuple[Array, Array]:
        longest = np.append(np.full(u.shape[1] - 1, _LONGEST), _LONGEST_Q[self.unknown])
        return solve_many(problems, u, longest=longest, enough=1e-13, steps=_NEWTON_STEPS, patience=_NEWTON_STEPS, lost=lost)

    def _two_roots(self, ln_q: Array, x: Array) -> NDArray[np.bool_]:
        """Where liquid and vapor differ: above a critical point an equation of state has one root, which is in equilibrium with itself."""
        if not len(x):
            return np.zeros(0, dtype=bool)
        bound, major = self.bind(ln_q), component_major(np.maximum(x, ABSENT))
        liquid, vapor = (bound.describe(major, np.full(len(x), kind, dtype=np.int8))[0] for kind in (LIQUID, VAPOR))
        return np.asarray(vapor > (1.0 + _SAME) * liquid)

    def two_liquids(self, ln_q: Array, first: Array, second: Array) -> Azeotropes:
        """From every start, with both liquids at first in the amounts that make up the vapor over one of them."""
        c = first.shape[1]
        present = first > ABSENT
        share = self._shares(ln_q, first, second)[:, None]
        u = np.log(np.maximum(np.concatenate([share * first, (1.0 - share) * second], axis=1), ABSENT))
        diagonal = np.arange(2 * c)

        def problems(u: Array, index: Index) -> Batch:
            n, q = np.exp(u[:, : 2 * c]), u[:, 2 * c]
            a, b = n[:, :c], n[:, c:]
            totals = a.sum(axis=1)[:, None], b.sum(axis=1)[:, None]
            y = a + b
            whole = y.sum(axis=1)[:, None]
            bound = self.bind(q)
            parts = [component_major(v / t) for v, t in ((a, totals[0]), (b, totals[1]), (y, whole))]
            ea, eb, ev = (bound.evaluate(x, kind) for x, kind in zip(parts, (LIQUID, LIQUID, VAPOR), strict=True))
            fa, fb, fv = (np.log(x) + e.ln_phi for x, e in zip(parts, (ea, eb, ev), strict=True))
            there = np.tile(present[index], (1, 2))
            f = np.concatenate([np.where(there, np.concatenate([fa - fv, fb - fv], axis=1), 0.0), whole - 1.0], axis=1)
            eye = np.eye(c)
            own_a = eye + (ea.dn - 1.0) * parts[0][:, None, :]
            own_b = eye + (eb.dn - 1.0) * parts[1][:, None, :]
            by_y = (eye / np.maximum(parts[2], ABSENT)[:, None, :] + ev.dn - 1.0) / whole[:, :, None]
            va, vb = by_y * a[:, None, :], by_y * b[:, None, :]
            dq = [self.by_ln_q(e, q) for e in (ea, eb, ev)]
            jacobian = np.zeros((len(index), 2 * c + 1, 2 * c + 1))
            jacobian[:, :c, :c], jacobian[:, :c, c : 2 * c] = own_a - va, -vb
            jacobian[:, c : 2 * c, :c], jacobian[:, c : 2 * c, c : 2 * c] = -va, own_b - vb
            jacobian[:, : 2 * c, 2 * c] = np.concatenate([dq[0] - dq[2], dq[1] - dq[2]], axis=1)
            jacobian[:, : 2 * c] *= there[:, :, None]
            jacobian[:, diagonal, diagonal] += ~there
            jacobian[:, 2 * c, : 2 * c] = n
            return Batch(f, jacobian, np.abs(f).max(axis=1), np.ones(f.shape, dtype=bool))

        def lost(u: Array, index: Index) -> NDArray[np.bool_]:
            return np.asarray(np.where(np.tile(present[index], (1, 2)), u[:, : 2 * c], 0.0).min(axis=1) <= np.log(ABSENT))

        u, best = self._solved(problems, np.concatenate([u, ln_q[:, None]], axis=1), lost)
        n, ln_q = np.exp(u[:, : 2 * c]), u[:, 2 * c]
        liquids = np.stack([normalized(n[:, :c]), normalized(n[:, c:])], axis=1)
        apart = np.abs(liquids[:, 0] - liquids[:, 1]).max(axis=1)
        shares = np.minimum(n[:, :c].sum(axis=1), n[:, c:].sum(axis=1))
        found = np.flatnonzero((best < _CONVERGED) & (apart > 1e-4) & (shares > _LOWEST))
        overall = normalized(n[:, :c] + n[:, c:])[found]
        return self._tested(ln_q[found], overall, liquids[found])

    def _shares(self, ln_q: Array, first: Array, second: Array) -> Array:
        """How much of the first liquid is in the mixture of both that comes next to the vapor over the first."""
        bound, x = self.bind(ln_q), component_major(np.maximum(first, ABSENT))
        vapor = normalized(np.exp(np.log(x) + bound.ln_phi(x, LIQUID) - bound.ln_phi(x, VAPOR)))
        apart = first - second
        share = ((vapor - second) * apart).sum(axis=1) / np.maximum((apart * apart).sum(axis=1), ABSENT)
        return np.asarray(np.clip(np.where(np.isfinite(share), share, 0.5), _LOWEST, 1.0 - _LOWEST))

    def _tested(self, ln_q: Array, x: Array, liquids: Array) -> Azeotropes:
        """With the lowest tangent-plane distance from each, to tell the stable ones."""
        known = np.full(len(ln_q), self.value)
        T, P = (known, np.exp(ln_q)) if self.given == "T" else (np.exp(ln_q), known)
        tm = np.zeros(len(ln_q))
        if len(ln_q):
            tm = further_phase(self.model.at(T, P), np.maximum(liquids[:, 0], ABSENT), [liquids[:, 0], x, liquids[:, 1]], LIQUID).tm
        x, liquids = (np.where(part > _LOWEST * 1e-3, part, 0.0) for part in (x, liquids))
        return Azeotropes(T, P, x, liquids, tm)


def split_below(model: PhaseModel, T: Array, P: Array, x: Array) -> tuple[Index, Array, Array]:
    """Which of the liquids ``x (M, C)`` split somewhat below their boiling point, and their two liquids there, of the largest amounts."""
    liquids = np.full((len(T), 2, x.shape[1]), np.nan)
    for factor in _BELOW:
        open_rows = np.flatnonzero(np.isnan(liquids[:, 0, 0]))
        if not open_rows.size:
            break
        r = flash(model, T[open_rows] * factor, P[open_rows], x[open_rows])
        wet = np.where((r.kinds == LIQUID) & np.isfinite(r.amount), r.amount, -1.0)
        order = np.argsort(-wet, axis=1)[:, :2]
        two = (np.take_along_axis(wet, order, 1) > 0.0).all(axis=1)
        liquids[open_rows[two]] = np.take_along_axis(r.x, order[:, :, None], 1)[two]
    there = np.flatnonzero(np.isfinite(liquids[:, 0, 0]))
    return there, liquids[there, 0], liquids[there, 1]


def vapor_response(model: PhaseModel, T: float, P: float, given: str, liquids: Array, vapor: Array) -> Array:
    """∂yᵢ/∂zⱼ of the vapor over boiling liquids ``(C, C)``, at constant ``given``; ``liquids (L, C)`` are mole numbers, all components present."""
    many, c = liquids.shape
    x = np.concatenate([normalized(liquids), vapor[None]])
    kinds = np.array([LIQUID] * many + [VAPOR], dtype=np.int8)
    e = model.at(np.full(many + 1, T), np.full(many + 1, P)).evaluate(component_major(x), kinds)
    slope = e.dP if given == "T" else e.dT
    amounts = np.append(liquids.sum(axis=1), 1.0)
    own = [(np.diag(1.0 / x[k]) + e.dn[k] - 1.0) / amounts[k] for k in range(many + 1)]
    size = (many + 1) * c + 1
    matrix, right = np.zeros((size, size)), np.zeros((size, c))
    v = slice(many * c, (many + 1) * c)
    for k in range(many):
        part = slice(k * c, (k + 1) * c)
        matrix[part, part], matrix[part, v], matrix[part, -1] = own[k], -own[-1], slope[k] - slope[-1]
        matrix[v, part] = np.eye(c)
    right[v] = np.eye(c)
    matrix[-1, v] = 1.0
    solution: Array = np.linalg.lstsq(matrix, right, rcond=None)[0][v]
    return solution


def volatilities(model: PhaseModel, T: float, P: float, liquids: Array, vapor: Array) -> Array:
    """Kᵢ = yᵢ/zᵢ of every component against all the liquids together ``(C,)``, of absent ones too; ``liquids (L, C)`` are mole numbers."""
    x = component_major(np.maximum(np.concatenate([normalized(liquids), vapor[None]]), ABSENT))
    kinds = np.array([LIQUID] * len(liquids) + [VAPOR], dtype=np.int8)
    ln_phi = model.at(np.full(len(x), T), np.full(len(x), P)).ln_phi(x, kinds)
    share = liquids.sum(axis=1) / liquids.sum()
    return np.asarray(1.0 / (share[:, None] * np.exp(ln_phi[-1] - ln_phi[:-1])).sum(axis=0))


def _distinct(found: Azeotropes) -> Azeotropes:
    """Each solution once."""
    kept: list[int] = []
    for i in range(len(found.T)):
        same = [
            k
            for k in kept
            if np.abs(found.x[k] - found.x[i]).max() < _SAME
            and abs(found.T[k] / found.T[i] - 1.0) < _SAME
            and abs(found.P[k] / found.P[i] - 1.0) < _SAME
        ]
        if not same:
            kept.append(i)
    return Azeotropes(*(rows(column, np.array(kept, dtype=np.intp)) if column.ndim < 3 else column[kept] for column in found))
