"""Flash at given temperature and pressure, with stability analysis.

Two-phase solutions by successive substitution with dominant-eigenvalue steps, then Newton's method on the Gibbs energy
(Michelsen, Fluid Phase Equilib. 9 (1982) 21-40), from K-values that a stability test (ibid. 1-19) supplies. A feed that splits
under the first crude K-values with a gain in Gibbs energy needs no test to prove it unstable. Every answer is tested against a
further phase, which joins where it would form, up to `most_phases`.
"""

from __future__ import annotations

import functools
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..arrays import ABSENT, Array, Index, Kinds, component_major, rows
from ..blocks import THREADED, in_blocks, in_threads, put_rows
from ..compiled.loops import ModelLoops
from ..models.contract import LIQUID, LOOSE, SETTLED, SOLID, UNNAMED, UNSETTLED, VAPOR, BoundModel, PhaseModel
from .joining import Found, add_phases, empty, most_phases, test_phases
from .multiphase import CONVERGED, descend
from .rachford_rice import Split, brackets, k_values, split
from .stability import UNSTABLE, descent_step, feed_stability

if TYPE_CHECKING:
    from concurrent.futures import Executor

_BLOCK = 4096
_SUBSTITUTIONS = 40
_BY_KIND = 80
_NEWTON_STEPS = 60
_TRACE = 1e-12
"""√(xᵢyᵢ/zᵢ) below which component i is only a trace in one of two phases."""
_SAME = 1e-7
_GONE = 1e-60
"""An amount of a phase that is none: what an absent component alone would form."""
_SOLID_DENSITY = 1e12
"""Where solids stand in the order of liquids."""
_ROUGH = 1e-2
"""What the step of phase amounts may still be while K-values change: the two converge together."""


_SCANNED = 10
"""States of one scan that a thread takes."""


@dataclass(frozen=True)
class FlashResult:
    """Phases at equilibrium for ``N`` states, at most `most_phases` each: the vapor, if there is one, then liquids by rising mass density, then solids.

    Attributes
    ----------
    n_phases : (N,)
        1 to `most_phases`. Columns beyond it are NaN.
    amount : (N, F)
        Mole fraction of the feed in each phase.
    x : (N, F, C)
        Mole fractions.
    Z : (N, F)
        Compressibility factors.
    kinds : (N, F)
        `VAPOR` or `LIQUID`, or from `SOLID` on a pure solid of the model's list.
    residual : (N,)
        Largest |ln f difference| between the phases; 0 for one phase.
    tm : (N,)
        Lowest tangent-plane distance found from the answer; below `UNSTABLE` another phase would form.

    """

    n_phases: Index
    amount: Array
    x: Array
    Z: Array
    kinds: Kinds
    residual: Array
    tm: Array

    @property
    def columns(self) -> tuple[NDArray[Any], ...]:
        """All of them in this order."""
        return self.n_phases, self.amount, self.x, self.Z, self.kinds, self.residual, self.tm

    @property
    def converged(self) -> NDArray[np.bool_]:
        """Whether the phases have equal fugacities to `CONVERGED`."""
        return self.residual <= CONVERGED

    @property
    def stable(self) -> NDArray[np.bool_]:
        """Whether no further phase was found that would form."""
        return self.tm >= UNSTABLE


Watch = Callable[[str, Index, Array, Array], None]
"""Told after every step of a two-phase solution: the method, which states, the amount of the lighter phase, and the largest |ln f difference|."""


def flash(
    model: PhaseModel, T: Array, P: Array, z: Array, executor: Executor | None = None, watch: Watch | None = None
) -> FlashResult:
    """Equilibrium of feeds ``z (N, C)`` at ``T (N,)``, ``P (N,)``; in blocks that stay in the cache, in the compiled engine on all cores."""
    work = functools.partial(_flash_block, model, watch)
    if executor is None and len(T) > THREADED and model.at(T[:1], P[:1]).loops() is not None:
        return in_threads(work, (T, P, z))
    return in_blocks(work, (T, P, z), _BLOCK, executor)


def _flash_block(model: PhaseModel, watch: Watch | None, T: Array, P: Array, feed: Array) -> FlashResult:
    with np.errstate(all="ignore"):
        bound = model.at(T, P)
        ln_k = _rough_ln_k(model, T, P)
        loops = bound.loops() if watch is None else None
        if loops is None:
            return _by_arrays(model, bound, watch, feed, ln_k)
        return _by_loops(model, bound, loops, feed, ln_k)


def easily(model: PhaseModel, T: Array, P: Array, z: Array) -> FlashResult:
    """The same where many answers are wanted, and some may be missing: what the compiled engine does not settle has no phases, and one that it can't have none beside."""
    if model.solids or model.at(T[:1], P[:1]).loops() is None:
        return flash(model, T, P, z)
    return in_threads(functools.partial(_settled_flash, model), (T, P, z), _SCANNED)


def _settled_flash(model: PhaseModel, T: Array, P: Array, z: Array) -> FlashResult:
    with np.errstate(all="ignore"):
        bound = model.at(T, P)
        loops = bound.loops()
        assert loops is not None
        return _settled(model, bound, z, _rough_ln_k(model, T, P), loops.flash)


def roughly(model: PhaseModel, T: Array, P: Array, z: Array) -> FlashResult:
    """Where rough answers will do as well: the phases that rough K-values lead to."""
    if model.solids:
        return flash(model, T, P, z)
    return in_threads(functools.partial(_rough_flash, model), (T, P, z), _SCANNED)


def _rough_flash(model: PhaseModel, T: Array, P: Array, z: Array) -> FlashResult:
    with np.errstate(all="ignore"):
        bound = model.at(T, P)
        loops, ln_k = bound.loops(), _rough_ln_k(model, T, P)
        return _by_k_values(model, bound, z, ln_k) if loops is None else _settled(model, bound, z, ln_k, loops.by_k_values)


def _rough_ln_k(model: PhaseModel, T: Array, P: Array) -> Array:
    return np.asarray((model.ln_saturation_guess(T).T - np.log(P)).T)


def _settled(model: PhaseModel, bound: BoundModel, z: Array, ln_k: Array, solve: Callable[..., Kinds]) -> FlashResult:
    found = blank(z, model.solids)
    outcome = solve(z, ln_k, found.columns)
    found.amount[outcome == UNSETTLED] = np.nan
    found.amount[_name(bound, found, outcome)] = np.nan
    return found


def _name(bound: BoundModel, found: FlashResult, outcome: Kinds) -> Index:
    """Name the phases that the compiled engine left unnamed; returns the states of two liquids among these, which want another order than a vapor and a liquid."""
    unnamed = np.flatnonzero(outcome == UNNAMED)
    if not unnamed.size:
        return unnamed
    vapor = bound.rows(unnamed).is_vapor(component_major(np.maximum(found.x[unnamed, 0], ABSENT)))
    found.kinds[unnamed[vapor], 0] = VAPOR
    return unnamed[~vapor & (found.n_phases[unnamed] > 1)]


def _by_k_values(model: PhaseModel, bound: BoundModel, feed: Array, ln_k: Array) -> FlashResult:
    """Two phases where rough K-values lead to them, one elsewhere."""
    z = component_major(np.maximum(feed, ABSENT))
    pairs = _pairs_of(bound, z, np.log(z) + bound.ln_phi(z), ln_k, None)
    return _result(bound, feed, _gathered(z, pairs, most_phases(model.solids)), model.molar_mass, model.solids)


def _by_loops(model: PhaseModel, bound: BoundModel, loops: ModelLoops, feed: Array, ln_k: Array) -> FlashResult:
    """In the compiled engine, state by state; what that does not settle is solved by arrays."""
    found = blank(feed, model.solids)
    outcome = loops.flash(feed, ln_k, found.columns)
    if (outcome != SETTLED).any():
        open_ = np.union1d(np.flatnonzero((outcome == UNSETTLED) | (outcome == LOOSE)), _name(bound, found, outcome))
        if open_.size:
            put_rows(found, open_, _by_arrays(model, bound.rows(open_), None, feed[open_], ln_k[open_]))
    return found


def blank(feed: Array, solids: Sequence[int]) -> FlashResult:
    """A result for feeds ``(N, C)`` in which nothing is known yet."""
    (n, c), most = feed.shape, most_phases(solids)
    one, each = np.full(n, np.nan), np.full((n, most), np.nan)
    kinds = np.full((n, most), -1, dtype=np.int8)
    return FlashResult(np.ones(n, dtype=np.intp), each, np.full((n, most, c), np.nan), each.copy(), kinds, one, one.copy())


def _by_arrays(model: PhaseModel, bound: BoundModel, watch: Watch | None, feed: Array, ln_k: Array) -> FlashResult:
    """In the reference engine, all states at once."""
    z = component_major(np.maximum(feed, ABSENT))
    with np.errstate(all="ignore"):
        d = np.log(z) + bound.ln_phi(z)
        pairs = _find_pairs(bound, z, d, ln_k, watch)
        found = _gathered(z, pairs, most_phases(model.solids))
        trial = z.copy(order="K")
        two = np.flatnonzero(pairs.two)
        if two.size:
            test_phases(bound.rows(two), rows(z, two), found, trial, two, 2)
        add_phases(bound, z, found, trial)
        # what has no fugacities is no phase
        found.residual[(found.n_phases == 1) & np.isnan(d).any(axis=1)] = np.nan
        return _result(bound, feed, found, model.molar_mass, model.solids)


@dataclass
class _Pairs:
    """The work in progress: which states have two phases, their K-values, and how well they agree."""

    two: NDArray[np.bool_]
    ln_k: Array
    vapor: Array
    residual: Array
    tm: Array
    watch: Watch | None

    def put(self, index: Index, ln_k: Array, vapor: Array, residual: Array) -> None:
        self.ln_k.T[:, index] = ln_k.T
        self.vapor[index], self.residual[index], self.two[index] = vapor, residual, True


def _find_pairs(bound: BoundModel, z: Array, d: Array, ln_k: Array, watch: Watch | None) -> _Pairs:
    pairs = _pairs_of(bound, z, d, ln_k, watch)
    _search(bound, z, d, ln_k, np.flatnonzero(~pairs.two), pairs)
    _resolve_by_kind(bound, z, pairs)
    _resolve_downhill(bound, z, d, ln_k, pairs)
    return pairs


def _pairs_of(bound: BoundModel, z: Array, d: Array, ln_k: Array, watch: Watch | None) -> _Pairs:
    """Where rough K-values lead to two phases at once."""
    n = len(z)
    pairs = _Pairs(np.zeros(n, dtype=bool), ln_k.copy(order="K"), np.zeros(n), np.zeros(n), np.zeros(n), watch)
    inside = np.flatnonzero(brackets(z, k_values(z, ln_k))[1])
    if inside.size:
        tried, gain = _try_split(bound.rows(inside), rows(z, inside), rows(d, inside), rows(ln_k, inside))
        proven = np.flatnonzero(gain < UNSTABLE)
        if proven.size:
            _solve(bound, z, inside[proven], rows(tried, proven), pairs)
    return pairs


def _resolve_by_kind(bound: BoundModel, z: Array, pairs: _Pairs) -> None:
    """Pairs that did not converge, solved as a vapor and a liquid: the kind of lower Gibbs energy may change from step to step on the way."""
    loose = np.flatnonzero(pairs.two & (pairs.residual > CONVERGED))
    if not loose.size:
        return
    ln_k, vapor, error = vapor_and_liquid(bound.rows(loose), rows(z, loose), rows(pairs.ln_k, loose))
    better = (error < pairs.residual[loose]) & (vapor > 0.0) & (vapor < 1.0)
    pairs.put(loose[better], rows(ln_k, np.flatnonzero(better)), vapor[better], error[better])


def _resolve_downhill(bound: BoundModel, z: Array, d: Array, ln_k: Array, pairs: _Pairs) -> None:
    """Pairs that still did not converge, from a little of the trial phase that shows the feed unstable and down the Gibbs energy."""
    loose = np.flatnonzero(pairs.two & (pairs.residual > CONVERGED))
    if not loose.size:
        return
    part, feed = bound.rows(loose), np.ascontiguousarray(rows(z, loose))
    found = feed_stability(part, rows(z, loose), rows(d, loose), rows(ln_k, loose))
    one = np.ones((loose.size, 1))
    solved = descend(part, feed, one, feed[:, None, :], np.ascontiguousarray(found.trial))
    better = (solved.residual < pairs.residual[loose]) & (solved.amount > ABSENT).all(axis=1)
    new_k = np.log(np.maximum(solved.x[:, 1], ABSENT) / np.maximum(solved.x[:, 0], ABSENT))
    pairs.put(loose[better], new_k[better], solved.amount[better, 1], solved.residual[better])


def vapor_and_liquid(bound: BoundModel, z: Array, ln_k: Array) -> tuple[Array, Array, Array]:
    """Ln K of a vapor and a liquid by substitution from ``ln_k``, the vapor's amount (any number), and the largest change of the last step.

    The change is infinite where the last K-values allow no split: the amount is then that of others.
    """
    loops = bound.loops()
    if loops is not None:
        return loops.vapor_and_liquid(z, ln_k)
    ln_k, amount, change = ln_k.copy(order="K"), np.full(len(z), np.nan), np.full(len(z), np.inf)
    before, active = np.ones_like(ln_k), np.arange(len(z))
    for iteration in range(_BY_KIND):
        part, feed, own = bound.rows(active), rows(z, active), rows(ln_k, active)
        k = k_values(feed, own)
        possible = brackets(feed, k)[0]
        k = np.where(possible[:, None], k, np.exp(own - (feed * own).sum(axis=1)[:, None]))
        s = split(feed, k, amount[active])
        step, last = part.ln_phi(s.x, LIQUID) - part.ln_phi(s.y, VAPOR) - own, rows(before, active)
        error = np.where(possible, np.abs(np.where(feed > 1e-30, step, 0.0)).max(axis=-1), np.inf)
        inner = np.where(possible, (last * step).sum(axis=-1) / (last * last).sum(axis=-1), 0.0) * float(iteration % 5 == 4)
        gain = np.where(np.abs(inner) < 0.98, 1.0 / (1.0 - inner), 1.0)
        ln_k.T[:, active], before.T[:, active] = (own + gain[:, None] * step).T, step.T
        amount[active], change[active] = s.vapor, error
        active = active[error > 0.1 * CONVERGED]
        if not active.size:
            break
    return ln_k, amount, change


def _search(bound: BoundModel, z: Array, d: Array, ln_k: Array, index: Index, pairs: _Pairs) -> None:
    """Test the feeds ``index`` for stability from every start, and solve those that split."""
    if not index.size:
        return
    part, some, target = bound.rows(index), rows(z, index), rows(d, index)
    found = feed_stability(part, some, target, rows(ln_k, index))
    pairs.tm[index] = found.tm
    unstable = np.flatnonzero(found.tm < UNSTABLE)
    _solve_from_trial(bound, z, index[unstable], rows(found.trial, unstable), pairs)


def _try_split(bound: BoundModel, z: Array, d: Array, ln_k: Array) -> tuple[Array, Array]:
    """A few substitutions; ln K reached, and the lowest tangent-plane distance that its phases have from the feed."""
    guess = None
    gain = np.zeros(len(z))
    for _ in range(3):
        k = k_values(z, ln_k)
        possible = brackets(z, k)[0]
        k = np.where(possible[:, None], k, np.exp(np.clip(ln_k - ln_k.mean(axis=-1)[:, None], -1.0, 1.0)))
        s = split(z, k, guess, _ROUGH)
        guess = s.vapor
        phi_x, phi_y = bound.ln_phi(s.x), bound.ln_phi(s.y)
        ln_k = phi_x - phi_y
        by_liquid = (s.x * (np.log(s.x) + phi_x - d)).sum(axis=-1)
        by_vapor = (s.y * (np.log(s.y) + phi_y - d)).sum(axis=-1)
        gain = np.minimum(by_liquid, by_vapor)
    return ln_k, np.where(brackets(z, k_values(z, ln_k))[0], gain, 0.0)


def _solve_from_trial(bound: BoundModel, z: Array, index: Index, trial: Array, pairs: _Pairs) -> None:
    """Solve states whose instability a trial phase has shown; first by substitution, else by descent from a small amount of it."""
    if not index.size:
        return
    part, feed = bound.rows(index), rows(z, index)
    ratio = np.log(trial) - np.log(feed)
    lighter = part.describe(trial).packing < part.describe(feed).packing
    ln_k = np.where(lighter[:, None], ratio, -ratio)
    lost = _solve(bound, z, index, ln_k, pairs)
    if not lost.size:
        return
    again = np.searchsorted(index, lost)
    w, feed = rows(trial, again), rows(feed, again)
    epsilon = np.minimum(0.5 * (feed / w).min(axis=-1), 0.5)[:, None]
    start = np.log(w) - np.log((feed - epsilon * w) / (1.0 - epsilon))
    _newton(bound, z, lost, start, pairs)


def _solve(bound: BoundModel, z: Array, index: Index, ln_k: Array, pairs: _Pairs) -> Index:
    """Two-phase solution from ``ln_k`` for the states ``index``; returns the states that came to none."""
    slow = _substitute(bound, z, index, ln_k, pairs)
    if slow.size:
        _newton(bound, z, slow, rows(pairs.ln_k, slow), pairs)
    bad = _unsound(pairs, index)
    lost = index[bad]
    pairs.two[lost] = False
    pairs.residual[lost] = 0.0
    return lost


def _unsound(pairs: _Pairs, index: Index) -> NDArray[np.bool_]:
    v, ln_k = pairs.vapor[index], rows(pairs.ln_k, index)
    # NaN anywhere makes the first comparison false
    sound = (v > _GONE) & (v < 1.0) & (np.abs(ln_k).max(axis=-1) > _SAME) & (pairs.residual[index] < 1e-3)
    return np.asarray(np.logical_not(sound))


def _substitute(bound: BoundModel, z: Array, index: Index, ln_k: Array, pairs: _Pairs) -> Index:
    """Accelerated successive substitution; results go to ``pairs``. Returns the states that want Newton's method."""
    active, point, feed = index, bound.rows(index) if len(index) < len(z) else bound, rows(z, index)
    before = np.ones_like(ln_k)
    guess = None
    for iteration in range(_SUBSTITUTIONS):
        k = k_values(feed, ln_k)
        possible = brackets(feed, k)[0]
        if not possible.all():
            # no split is possible: hand over, and let the caller start again from a trial phase
            keep, drop = np.flatnonzero(possible), np.flatnonzero(np.logical_not(possible))
            pairs.put(active[drop], rows(ln_k, drop), np.full(drop.size, np.nan), np.full(drop.size, np.nan))
            active, point = active[keep], point.rows(keep)
            feed, ln_k, k, before = (rows(a, keep) for a in (feed, ln_k, k, before))
            guess = None if guess is None else guess[keep]
            if not keep.size:
                break
        s = split(feed, k, guess, _ROUGH)
        guess = s.vapor
        new = point.ln_phi(s.x) - point.ln_phi(s.y)
        step = new - ln_k
        error = np.abs(np.where(feed > 1e-30, step, 0.0)).max(axis=-1)
        done = np.asarray(error < CONVERGED)
        if pairs.watch is not None:
            pairs.watch("substitution", active, s.vapor, error)
        if iteration % 5 == 4:
            inner = (before * step).sum(axis=-1) / (before * before).sum(axis=-1)
            gain = np.where(np.abs(inner) < 0.98, 1.0 / (1.0 - inner), 1.0)
            next_k = ln_k + gain[:, None] * step
        else:
            next_k = new
        if done.any():
            ended, keep = np.flatnonzero(done), np.flatnonzero(~done)
            pairs.put(active[ended], rows(ln_k, ended), s.vapor[ended], error[ended])
            active, point = active[keep], point.rows(keep)
            feed, next_k, step = (rows(a, keep) for a in (feed, next_k, step))
            guess, error = guess[keep], error[keep]
            if not keep.size:
                break
        ln_k, before = next_k, step
    if active.size:
        last = guess if guess is not None else np.full(active.size, np.nan)
        inside = (last > 0.0) & (last < 1.0)
        pairs.put(active, ln_k, last, np.where(inside, error, np.nan))
        return active[inside]
    return active


def _gibbs(point: BoundModel, s: Split) -> Array:
    """Reduced Gibbs energy of a split, infinite where it is none."""
    vapor = (s.y * (np.log(s.y) + point.ln_phi(s.y))).sum(axis=-1)
    liquid = (s.x * (np.log(s.x) + point.ln_phi(s.x))).sum(axis=-1)
    g = s.vapor * vapor + s.liquid * liquid
    return np.where((s.vapor > 0.0) & (s.liquid > 0.0) & np.isfinite(g), g, np.inf)


def _newton(bound: BoundModel, z: Array, index: Index, ln_k: Array, pairs: _Pairs) -> None:
    """Descent of the Gibbs energy in ln K from splits with 0 < β < 1; the phase amounts follow from Rachford-Rice."""
    active, point, feed = index, bound.rows(index), rows(z, index)
    diagonal = np.arange(z.shape[1])
    s = split(feed, k_values(feed, ln_k))
    g = _gibbs(point, s)
    for _ in range(_NEWTON_STEPS):
        at_x, at_y = point.evaluate(s.x), point.evaluate(s.y)
        difference = ln_k + at_y.ln_phi - at_x.ln_phi
        error = np.abs(np.where(feed > 1e-30, difference, 0.0)).max(axis=-1)
        pairs.put(active, ln_k, s.vapor, error)
        if pairs.watch is not None:
            pairs.watch("Newton", active, s.vapor, error)
        scale = np.sqrt(s.x * s.y / feed)
        hessian = scale[:, :, None] * scale[:, None, :]
        hessian *= s.liquid[:, None, None] * at_y.dn + s.vapor[:, None, None] * at_x.dn - 1.0
        hessian[:, diagonal, diagonal] += 1.0
        q = descent_step(hessian, scale * difference)
        step = q / scale - (scale * q).sum(axis=-1)[:, None]
        # what is only a trace in one of both phases has the other's part in no equation but its own, and a Newton step of rounding errors
        trace = (feed <= 1e-30) | (scale < _TRACE)
        step *= np.minimum(1.0, 4.0 / np.abs(np.where(trace, 0.0, step)).max(axis=-1))[:, None]
        step = np.where(trace, -difference, step)
        new_k, new_g, moved = _line_search(point, feed, ln_k, step, g)
        done = (error < 0.1 * CONVERGED) | ~moved
        keep = np.flatnonzero(~done)
        if not keep.size:
            break
        active, point = active[keep], point.rows(keep)
        feed, ln_k, g = rows(feed, keep), rows(new_k, keep), new_g[keep]
        s = split(feed, k_values(feed, ln_k), Split(*(rows(a, keep) for a in s)).vapor)


def _line_search(point: BoundModel, feed: Array, ln_k: Array, step: Array, g: Array) -> tuple[Array, Array, NDArray[np.bool_]]:
    """Ln K along ``step`` at which the Gibbs energy is not higher than ``g``, and where one was found."""
    new_k, new_g = ln_k.copy(order="K"), g.copy()
    pending = np.arange(len(g))
    length = 1.0
    for _ in range(14):
        some = rows(feed, pending)
        trial = rows(ln_k, pending) + length * rows(step, pending)
        k = k_values(some, trial)
        possible = brackets(some, k)[1]
        at_trial = np.full(len(pending), np.inf)
        ok = np.flatnonzero(possible)
        if ok.size:
            at_trial[ok] = _gibbs(point.rows(pending[ok]), split(rows(some, ok), rows(k, ok)))
        good = at_trial <= g[pending] + 1e-13 * np.maximum(1.0, np.abs(g[pending]))
        new_k.T[:, pending[good]] = trial.T[:, good]
        new_g[pending[good]] = at_trial[good]
        pending = pending[~good]
        if not pending.size:
            break
        length *= 0.35
    moved = np.ones(len(g), dtype=bool)
    moved[pending] = False
    return new_k, new_g, moved


def _gathered(z: Array, pairs: _Pairs, most: int) -> Found:
    found = empty(z, np.where(pairs.two, pairs.residual, 0.0), pairs.tm, most)
    one, two = np.flatnonzero(~pairs.two), np.flatnonzero(pairs.two)
    found.amount[one, 0], found.x[one, 0] = 1.0, z[one]
    if two.size:
        feed = rows(z, two)
        s = split(feed, k_values(feed, rows(pairs.ln_k, two)), pairs.vapor[two])
        found.amount[two, 0], found.amount[two, 1] = s.vapor, s.liquid
        found.x[two, 0], found.x[two, 1] = s.y, s.x
    return found


def result_of_phases(
    model: PhaseModel, T: Array, P: Array, feed: Array, amount: Array, x: Array, asked: Kinds, residual: Array
) -> FlashResult:
    """Two phases or more that were solved elsewhere, as a flash gives them, tested against a further phase.

    ``amount (N, F)``, ``x (N, F, C)``; ``asked (N, F)`` is the kind that each phase was asked for as, `STABLE` where it was left open.
    """
    with np.errstate(all="ignore"):
        bound, z = model.at(T, P), component_major(np.maximum(feed, ABSENT))
        found = empty(feed, residual, np.zeros(len(T)), most_phases(model.solids))
        everything = np.arange(len(T))
        found.put(everything, amount, x)
        found.asked[:, : asked.shape[1]] = asked
        test_phases(bound, z, found, z.copy(order="K"), everything, amount.shape[1])
        return _result(bound, feed, found, model.molar_mass, model.solids)


def _result(bound: BoundModel, feed: Array, found: Found, molar_mass: Array | None, solids: Sequence[int]) -> FlashResult:
    """The phases in order, each with its kind: the least packed one first, a vapor if it is one, then liquids by their mass densities, then solids."""
    Z, packing = np.full(found.amount.shape, np.nan), np.full(found.amount.shape, np.inf)
    own = np.full(found.amount.shape, -1, dtype=np.int8)
    for k in range(found.amount.shape[1]):
        there = np.flatnonzero(np.isfinite(found.amount[:, k]))
        if there.size:
            x = component_major(np.maximum(found.x[there, k], ABSENT))
            Z[there, k], own[there, k], packing[there, k] = bound.rows(there).describe(x, found.asked[there, k])
    n_phases, amount, asked = found.n_phases, found.amount, found.asked
    x = np.where(feed[:, None, :] > 0.0, found.x, 0.0 * found.x)
    x[n_phases == 1, 0] = feed[n_phases == 1]
    state, place = np.nonzero(own >= SOLID)
    x[state, place] = np.eye(x.shape[2])[np.asarray(solids, dtype=np.intp)[own[state, place] - SOLID]] if state.size else 0.0
    several = np.flatnonzero(n_phases > 1)
    _reorder(several, packing[several], (amount, Z, asked, own), x)
    first = component_major(np.maximum(x[:, 0], ABSENT))
    kinds = np.where(np.isfinite(amount), LIQUID, -1).astype(np.int8)
    vapor = bound.is_vapor(first, asked[:, 0])
    kinds[:, 0] = np.where(vapor, VAPOR, LIQUID)
    kinds = np.where(own >= SOLID, own, kinds).astype(np.int8)
    liquids = np.flatnonzero(n_phases > 1 + vapor)
    mass = x[liquids].sum(axis=2) if molar_mass is None else x[liquids] @ molar_mass
    density = np.where(np.isfinite(Z[liquids]), mass / Z[liquids], np.inf)
    density[:, 0] = np.where(vapor[liquids], 0.0, density[:, 0])
    solid = kinds[liquids] >= SOLID
    density[solid] = _SOLID_DENSITY + kinds[liquids][solid]
    _reorder(liquids, density, (amount, Z), x)
    return FlashResult(n_phases, amount, x, Z, kinds, found.residual, found.tm)


def _reorder(index: Index, by: Array, columns: Sequence[NDArray[Any]], x: Array) -> None:
    """Phases of the states ``index`` in rising order of ``by (M, F)``, in place."""
    turned = np.flatnonzero((by[:, 1:] < by[:, :-1]).any(axis=1))
    if not turned.size:
        return
    where, order = index[turned], np.argsort(by[turned], axis=1, kind="stable")
    for values in columns:
        values[where] = np.take_along_axis(values[where], order, 1)
    x[where] = np.take_along_axis(x[where], order[:, :, None], 1)
