"""Bubble and dew points of batches: a phase of composition z with a first trace of another.

The incipient phase has amounts Wᵢ (ΣW = 1 at saturation) and the unknown temperature or pressure q; the equations are

    ln Wᵢ + ln φᵢ(W) - ln zᵢ - ln φᵢ(z) = 0,      ΣW - 1 = 0

started from rough saturation pressures, by successive substitution and then Newton's method (Michelsen, Fluid Phase Equilib. 23
(1985) 181-192).
"""

from __future__ import annotations

import functools
from dataclasses import dataclass, fields

import numpy as np
from numpy.typing import NDArray

from ..arrays import ABSENT, Array, Index, component_major, normalized, rows
from ..blocks import in_blocks, in_threads, put_rows
from ..compiled.equation_loops import EquationLoops
from ..models.contract import LIQUID, VAPOR, BoundModel, Evaluation, Kind, PhaseModel, VolumeModel
from ..newton import Batch, solve_many
from .stability import UNSTABLE, further_phase

_SUBSTITUTIONS = 12
_NEAR = 0.02
_NEWTON_STEPS, _PATIENCE = 40, 8
_BLOCK = 512
_SOLVENT_HALVINGS = 30
_COLDER = (0.97, 0.85, 0.7)
"""Where a boiling temperature is sought a second time, below that of the most abundant component."""
_ALIKE, _OF_A_DIFFERENCE = 1e-3, 1e-3
"""Phases that differ by less in every ln K and in volume are one: true ones do so within a millionth of their critical temperature alone."""

CONVERGED = 1e-10


@dataclass(frozen=True)
class SaturationResult:
    """Saturation points of ``N`` states.

    Attributes
    ----------
    T, P : (N,)
        What is sought of both is NaN where no point was found.
    incipient : (N, C)
        Mole fractions of the phase that is about to form.
    residual : (N,)
        Largest |ln f difference|.
    tm : (N,)
        Tangent-plane distance to the most favored further phase; below ``stability.UNSTABLE`` the point is not the boundary.

    """

    T: Array
    P: Array
    incipient: Array
    residual: Array
    tm: Array

    @property
    def found(self) -> NDArray[np.bool_]:
        """Where a converged point with two distinct phases was found."""
        return np.asarray(np.isfinite(self.T) & np.isfinite(self.P))


Near = tuple[Array, Array]
"""Points that others are sought from: the unknown T or P ``(N,)`` and the composition ``(N, C)`` of the phase that is about to form, NaN where there is none."""


def bubble_at_T(model: PhaseModel, T: Array, z: Array, near: Near | None = None) -> SaturationResult:
    """Bubble pressures of liquids ``z (N, C)`` at ``T (N,)``."""
    return _in_blocks(model, T, z, LIQUID, "P", near)


def dew_at_T(model: PhaseModel, T: Array, z: Array, near: Near | None = None) -> SaturationResult:
    """Dew pressures of vapors ``z (N, C)`` at ``T (N,)``; the lower one where there are two."""
    return _in_blocks(model, T, z, VAPOR, "P", near)


def bubble_at_P(model: PhaseModel, P: Array, z: Array, near: Near | None = None) -> SaturationResult:
    """Bubble temperatures of liquids ``z (N, C)`` at ``P (N,)``."""
    return _in_blocks(model, P, z, LIQUID, "T", near)


def dew_at_P(model: PhaseModel, P: Array, z: Array, near: Near | None = None) -> SaturationResult:
    """Dew temperatures of vapors ``z (N, C)`` at ``P (N,)``; the higher one where there are two."""
    return _in_blocks(model, P, z, VAPOR, "T", near)


def _in_blocks(model: PhaseModel, given: Array, z: Array, feed_kind: np.int8, unknown: str, near: Near | None) -> SaturationResult:
    arrays = (given, z) if near is None else (given, z, *near)
    loops = model.free_loops()
    if loops is None:
        return in_blocks(functools.partial(_block, model, feed_kind, unknown), arrays, _BLOCK)
    return in_threads(functools.partial(_by_loops, model, loops, feed_kind, unknown), arrays)


def _by_loops(
    model: PhaseModel,
    loops: EquationLoops,
    feed_kind: np.int8,
    unknown: str,
    given: Array,
    feed: Array,
    q: Array | None = None,
    y: Array | None = None,
) -> SaturationResult:
    """In the compiled engine, state by state; what that does not settle is solved by arrays."""
    near = None if q is None or y is None else (q, y)
    found, incipient, residual, tm, settled = loops.saturation(given, np.maximum(feed, ABSENT), feed_kind, unknown == "T", near)
    incipient = np.where(np.isfinite(found)[:, None] & (feed <= ABSENT), 0.0, incipient)
    known = given.copy()
    result = SaturationResult(*((known, found) if unknown == "P" else (found, known)), incipient, residual, tm)
    open_ = np.flatnonzero(settled == 0)
    if open_.size:
        rest = (None, None) if near is None else (near[0][open_], near[1][open_])
        put_rows(result, open_, _block(model, feed_kind, unknown, given[open_], feed[open_], *rest))
    return result


def _block(
    model: PhaseModel, feed_kind: np.int8, unknown: str, given: Array, z: Array, q: Array | None = None, y: Array | None = None
) -> SaturationResult:
    with np.errstate(all="ignore"):
        problem = _Problem(model, given, component_major(np.maximum(z, ABSENT)), feed_kind, unknown)
        return (
            problem.solve()
            if q is None or y is None
            else problem.solve_near(np.log(q), component_major(np.log(np.maximum(y, ABSENT))))
        )


_RANGE = np.log(2.0), np.log(5000.0)
"""Of ln T, in which a point is begun from."""
_PARTS, _CHORDS = 64, 2
"""Into how many parts it is cut, and how often a chord is drawn in the part that has the point: to some 1e-4, which is far nearer than rough K-values are."""


class _Problem:
    """One block: fixed T (unknown P) or fixed P (unknown T)."""

    def __init__(self, model: PhaseModel, given: Array, z: Array, feed_kind: np.int8, unknown: str) -> None:
        self.model, self.given, self.z, self.ln_z = model, given, z, np.log(z)
        self.feed_kind: Kind = feed_kind
        self.trial_kind: Kind = VAPOR if feed_kind == LIQUID else LIQUID
        self.unknown = unknown

    def bind(self, ln_q: Array, index: Index) -> BoundModel:
        q, given = np.exp(ln_q), self.given[index]
        return self.model.at(given, q) if self.unknown == "P" else self.model.at(q, given)

    def by_ln_q(self, evaluation: Evaluation, ln_q: Array) -> Array:
        slope = evaluation.dP if self.unknown == "P" else evaluation.dT
        return slope * np.exp(ln_q)[:, None]

    def solve_near(self, ln_q: Array, ln_w: Array) -> SaturationResult:
        """From points that are near to those sought; where they lead nowhere, as if there were none."""
        there = np.flatnonzero(np.isfinite(ln_q) & np.isfinite(ln_w).all(axis=1))
        own = self._rows(there)
        new_w, new_q, residual, fine = own._polished(rows(ln_w, there), ln_q[there])
        found = own._told(new_w, new_q, residual, fine)
        won = there[found.found & (found.tm >= UNSTABLE)]
        lost = np.setdiff1d(np.arange(len(self.z)), won)
        if not lost.size:
            return found
        rest = self._rows(lost).solve()
        parts = {}
        for f in fields(SaturationResult):
            column = np.empty((len(self.z), *getattr(rest, f.name).shape[1:]))
            column[there], column[lost] = getattr(found, f.name), getattr(rest, f.name)
            parts[f.name] = column
        return SaturationResult(**parts)

    def _rows(self, index: Index) -> _Problem:
        return _Problem(self.model, self.given[index], rows(self.z, index), np.int8(self.feed_kind), self.unknown)

    def solve(self) -> SaturationResult:
        """From the rough K-values of the model."""
        ln_w, ln_q, residual, fine = self._from(self._ideal_start())
        if self.unknown == "T":
            # a gas that hardly dissolves says nothing of where its solvent boils
            for factor in _COLDER:
                lost = np.flatnonzero(~fine)
                if not lost.size:
                    break
                part = self._rows(lost)
                other_w, other_q, other_residual, found = part._from(part._solvent_start() + np.log(factor))
                won = lost[found]
                ln_w.T[:, won] = rows(other_w, np.flatnonzero(found)).T
                ln_q[won], residual[won], fine[won] = other_q[found], other_residual[found], True
        return self._told(ln_w, ln_q, residual, fine)

    def _told(self, ln_w: Array, ln_q: Array, residual: Array, fine: NDArray[np.bool_]) -> SaturationResult:
        n = len(self.z)
        bound = self.bind(ln_q, np.arange(n))
        incipient = normalized(np.exp(ln_w))
        tm = np.full(n, np.nan)
        ok = np.flatnonzero(fine)
        if ok.size:
            tm[ok] = self._further_phase(bound.rows(ok), rows(self.z, ok), rows(incipient, ok))
        q = np.where(fine, np.exp(ln_q), np.nan)
        given = self.given.copy()
        T, P = (given, q) if self.unknown == "P" else (q, given)
        incipient = np.where(fine[:, None], np.where(self.z > ABSENT, incipient, 0.0), np.nan)
        return SaturationResult(T, P, incipient, np.where(fine, residual, np.nan), tm)

    def _from(self, ln_q: Array) -> tuple[Array, Array, Array, NDArray[np.bool_]]:
        """Ln W, ln q and the residual reached from a start, and where that is a saturation point."""
        ln_w = self._start_composition(ln_q)
        return self._polished(*self._substitute(ln_w, ln_q))

    def _polished(self, ln_w: Array, ln_q: Array) -> tuple[Array, Array, Array, NDArray[np.bool_]]:
        ln_w, ln_q, residual = self._newton(ln_w, ln_q)
        unlike = self._unlike(self.bind(ln_q, np.arange(len(ln_q))), normalized(np.exp(ln_w)), ln_w)
        # what the equations leave of a difference goes with its third power beside a critical point, and a feed of its own composition leaves nothing
        fine = (unlike > _ALIKE) & (residual < np.minimum(CONVERGED, _OF_A_DIFFERENCE * unlike**3))
        return ln_w, ln_q, residual, np.asarray(fine & np.isfinite(ln_q))

    def _solvent_start(self) -> Array:
        """Ln T at which the most abundant component would boil."""
        most = self.z.argmax(axis=1)
        low, high = (np.full(len(most), end) for end in _RANGE)
        for _ in range(_SOLVENT_HALVINGS):
            middle = 0.5 * (low + high)
            boils = self.model.ln_saturation_guess(np.exp(middle))[np.arange(len(most)), most] > np.log(self.given)
            low, high = np.where(boils, low, middle), np.where(boils, middle, high)
        return np.asarray(0.5 * (low + high))

    def _unlike(self, bound: BoundModel, incipient: Array, ln_w: Array) -> Array:
        """How far both phases differ; not at all where by one equation for both the one asked for as vapor is not the less packed one."""
        feed, trial = bound.describe(self.z, self.feed_kind), bound.describe(incipient, self.trial_kind)
        apart = np.abs((ln_w - self.ln_z) * (self.ln_z > -30.0)).max(axis=-1)
        if isinstance(self.model, VolumeModel):
            named = (trial.packing < feed.packing) == (self.feed_kind == LIQUID)
        else:
            named = bound.is_vapor(incipient if self.feed_kind == LIQUID else self.z, VAPOR)
        return np.where(named, np.fmax(apart, np.abs(trial.Z / feed.Z - 1.0)), 0.0)

    def _further_phase(self, bound: BoundModel, z: Array, incipient: Array) -> Array:
        ln_z = np.log(z)
        d = ln_z + bound.ln_phi(z, self.feed_kind)
        # the feed may itself be the metastable root of its composition
        own = (z * (ln_z + bound.ln_phi(z) - d)).sum(axis=-1)
        return np.asarray(np.minimum(further_phase(bound, z, [z, incipient], self.feed_kind).tm, own))

    def _guess_sum(self, ln_T: Array, ln_P: Array) -> Array:
        """Ln ΣW by the rough K-values, with rising P for a dew point and rising T for a bubble point."""
        return self._sum_at(self.model.ln_saturation_guess(np.exp(ln_T)), ln_P)

    def _sum_at(self, ln_saturation: Array, ln_P: Array) -> Array:
        """The same by rough saturation pressures ``(N, C)``."""
        ln_k = (ln_saturation.T - ln_P).T
        ln_w = self.ln_z + (ln_k if self.feed_kind == LIQUID else -ln_k)
        top = ln_w.max(axis=-1)
        return np.asarray(np.log(np.exp(ln_w - top[:, None]).sum(axis=-1)) + top)

    def _ideal_start(self) -> Array:
        zero = np.zeros(len(self.z))
        if self.unknown == "P":
            at_one = self._guess_sum(np.log(self.given), zero)
            return at_one if self.feed_kind == LIQUID else -at_one
        grid, rising = np.linspace(*_RANGE, _PARTS + 1), 1.0 if self.feed_kind == LIQUID else -1.0
        ln_p = self.model.ln_saturation_guess(np.exp(grid))
        ln_P, part = np.log(self.given), np.zeros(len(zero), dtype=np.intp)
        # sums rise with temperature: the last part at whose beginning it is below
        for step in _PARTS // 2 ** np.arange(1, int(np.log2(_PARTS)) + 1):
            part += np.where(rising * self._sum_at(ln_p[part + step], ln_P) <= 0.0, step, 0)
        low, high = grid[part], grid[part + 1]
        at_low, at_high = (rising * self._sum_at(ln_p[part + k], ln_P) for k in (0, 1))
        for _ in range(_CHORDS):
            u = np.clip(low - at_low * (high - low) / (at_high - at_low), low, high)
            at = rising * self._guess_sum(u, ln_P)
            above = at > 0.0
            low, at_low = np.where(above, low, u), np.where(above, at_low, at)
            high, at_high = np.where(above, u, high), np.where(above, at, at_high)
        return u

    def _start_composition(self, ln_q: Array) -> Array:
        ln_T, ln_P = (np.log(self.given), ln_q) if self.unknown == "P" else (ln_q, np.log(self.given))
        ln_k = (self.model.ln_saturation_guess(np.exp(ln_T)).T - ln_P).T
        return self.ln_z + (ln_k if self.feed_kind == LIQUID else -ln_k)

    def _substitute(self, ln_w: Array, ln_q: Array) -> tuple[Array, Array]:
        ln_w, ln_q, active = ln_w.copy(order="K"), ln_q.copy(), np.arange(len(ln_q))
        limit = 0.5 if self.unknown == "P" else 0.05
        for _ in range(_SUBSTITUTIONS):
            own_w, own_q, z = rows(ln_w, active), ln_q[active], rows(self.z, active)
            bound = self.bind(own_q, active)
            feed = bound.evaluate(z, self.feed_kind)
            trial = bound.evaluate(normalized(np.exp(own_w)), self.trial_kind)
            new = rows(self.ln_z, active) + feed.ln_phi - trial.ln_phi
            amounts = np.exp(new)
            total = amounts.sum(axis=-1)
            slope = (amounts * (self.by_ln_q(feed, own_q) - self.by_ln_q(trial, own_q))).sum(axis=-1) / total
            step = -np.log(total) / slope
            step = np.clip(np.where(np.isfinite(step), step, 0.0), -limit, limit)
            good = np.asarray(np.isfinite(new).all(axis=-1))
            moved = np.maximum(np.abs(new - own_w).max(axis=-1), np.abs(step))
            ln_q[active] += step
            ln_w.T[:, active[good]] = new[good].T
            active = active[good & (moved >= _NEAR)]
            if not active.size:
                break
        return ln_w, ln_q

    def _newton(self, ln_w: Array, ln_q: Array) -> tuple[Array, Array, Array]:
        c = ln_w.shape[1]
        diagonal = np.arange(c)

        def problems(u: Array, index: Index) -> Batch:
            z, ln_z = rows(self.z, index), rows(self.ln_z, index)
            ln_w, ln_q = u[:, :c], u[:, c]
            bound, amounts = self.bind(ln_q, index), np.exp(ln_w)
            total = amounts.sum(axis=-1)
            w = amounts / total[:, None]
            feed, trial = bound.evaluate(z, self.feed_kind), bound.evaluate(component_major(w), self.trial_kind)
            f = np.empty((len(index), c + 1))
            f[:, :c] = ln_w + trial.ln_phi - ln_z - feed.ln_phi
            f[:, c] = total - 1.0
            error = np.abs(np.where(np.c_[ln_z, np.zeros(len(z))] > -60.0, f, 0.0)).max(axis=-1)
            jacobian = np.zeros((len(index), c + 1, c + 1))
            jacobian[:, :c, :c] = trial.dn * w[:, None, :]
            jacobian[:, diagonal, diagonal] += 1.0
            jacobian[:, :c, c] = self.by_ln_q(trial, ln_q) - self.by_ln_q(feed, ln_q)
            jacobian[:, c, :c] = amounts
            return Batch(f, jacobian, error, np.ones(f.shape, dtype=bool))

        longest = np.append(np.full(c, 2.0), 0.5 if self.unknown == "P" else 0.1)
        start = np.concatenate([ln_w, ln_q[:, None]], axis=1)
        u, error = solve_many(problems, start, longest=longest, enough=1e-13, steps=_NEWTON_STEPS, patience=_PATIENCE)
        return component_major(u[:, :c]), u[:, c], error
