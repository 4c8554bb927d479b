"""Is a phase stable? The tangent-plane distance and its minima.

A phase of composition z with dᵢ = ln zᵢ + ln φᵢ(z) is stable if, for every composition of a trial phase, in amounts W,

    tm(W) = 1 + Σ Wᵢ (ln Wᵢ + ln φᵢ(W) - dᵢ - 1) ≥ 0

(Michelsen, Fluid Phase Equilib. 9 (1982) 1-19). Minima are sought from several starts: successive substitution with
dominant-eigenvalue steps, then a second-order minimisation in α = 2√W with a positive-definite Hessian.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import combinations
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arrays import ABSENT, Array, Index, component_major, normalized, rows
from ..models.contract import LIQUID, STABLE, VAPOR, BoundModel, Kind, PhaseModel

UNSTABLE = -1e-10
"""tm below this says that another phase would form; rounding alone stays well above it."""

MARGINAL = -1e-7
"""On a phase boundary the feed is marginal: only a tangent-plane distance below this means a further phase."""

_TRIVIAL = 1e-5
_NEAR = 1e-2
_CLOSE, _FAST = 0.3, 0.4
_CHUNK = 4096
_FEW, _SHARES = 4, (0.5, 0.9, 0.1)
_SUBSTITUTIONS = 20
_TO_THE_END = 1000
_NEWTON_STEPS = 40
_TOLERANCE = 1e-10
_FLAT = 1e-12
_SWING = -0.5
_FLOOR = 1e-95
"""A mole fraction at which a phase may as well have less."""
_NOTHING = np.log(1e-30)
_NOWHERE = -600.0
"""Ln f of what is in no phase: with any ln φ next to nothing, and still a number."""
_PURE = 1e-12
"""What a phase may have of other components and still be a pure solid."""
_NEXT_TO = 0.05
"""Difference of Gibbs energy, in RT, between a feed as a liquid and as a vapor, below which both are looked at."""

_PROVEN = 1e-4
"""A tangent-plane distance this far below zero on the way is proof enough."""


class Stability(NamedTuple):
    """The lowest tangent-plane distance found for each state ``(N,)``, and the trial phase there, mole fractions ``(N, C)``."""

    tm: Array
    trial: Array


def wilson_starts(ln_k: Array, z: Array) -> list[Array]:
    """Ln W of trial phases that are like a vapor and a liquid, and of two that are a little like them.

    Next to a critical point the phases differ less than rough K-values say, whose cube roots lead there (Li and Firoozabadi, SPE J. 17 (2012) 1096-1107).
    """
    ln_z = np.log(z)
    return [ln_z + share * ln_k for share in (1.0, -1.0, 1.0 / 3.0, -1.0 / 3.0)]


def pure_starts(z: Array) -> list[Array]:
    """Ln W of trial phases that are each almost one component, for every component that is present anywhere.

    The others are there in proportion to the feed: next to a dew point of an almost pure feed, a little more of them and no liquid would form.
    Of few components mixtures of two are taken as well: liquids that split in a part of the composition space can lie there.
    """
    present = [int(i) for i in np.flatnonzero(z.max(axis=0) > np.exp(_NOTHING))]
    ln_trace = component_major(np.log(z) + np.log(1e-3))
    mixtures: list[dict[int, float]] = [{i: 1.0} for i in present]
    if len(present) <= _FEW:
        mixtures += [{i: share, j: 1.0 - share} for i, j in combinations(present, 2) for share in _SHARES]
    starts = []
    for mixture in mixtures:
        ln_w = ln_trace.copy(order="K")
        for i, share in mixture.items():
            ln_w[:, i] = np.log(0.999 * share)
        starts.append(ln_w)
    return starts


def feed_stability(bound: BoundModel, z: Array, d: Array, ln_k: Array) -> Stability:
    """Search for the lowest tangent-plane distance of feeds ``z (N, C)``, from rough K-values ``ln_k (N, C)`` and every other start."""
    loops = bound.loops()
    if loops is not None:
        return Stability(*loops.feed_stability(z, d, ln_k))
    found = stability(bound, z, d, [*wilson_starts(ln_k, z), d, *pure_starts(z)])
    _by_other_root(bound, z, d, found)
    return found


def of_feeds(model: PhaseModel, T: Array, P: Array, z: Array) -> Stability:
    """The lowest tangent-plane distance from feeds ``z (N, C)`` as single phases at ``T``, ``P (N,)``."""
    feed = component_major(np.maximum(z, ABSENT))
    bound = model.at(T, P)
    ln_k = (model.ln_saturation_guess(T).T - np.log(P)).T
    return feed_stability(bound, feed, np.log(feed) + bound.ln_phi(feed), ln_k)


def further_phase(bound: BoundModel, z: Array, phases: Sequence[Array], kind: Kind = STABLE) -> Stability:
    """Search for a phase that would form beside ``phases``, ``(N, C)`` each, at equilibrium among themselves; ``kind`` is that of the first.

    It is sought between each two of them as well: next to a critical point a liquid of the light components can lie there, and nowhere else.
    ``z (N, C)`` has all components that are present, in proportions such as those of the feed.
    """
    known = [component_major(np.maximum(x, ABSENT)) for x in phases]
    loops = bound.loops()
    if loops is not None and len(known) <= loops.most_known:
        return Stability(*loops.further_phase(z, known, kind))
    d = component_major(np.log(known[0]) + bound.ln_phi(known[0], kind))
    _by_richer_phases(bound, known, d)
    _without_absent(known, d)
    between = [0.5 * (np.log(one) + np.log(other)) for one, other in combinations(known, 2)]
    return stability(bound, known[0], d, [d, *pure_starts(z), *between], known[1:])


def _by_richer_phases(bound: BoundModel, known: Sequence[Array], d: Array) -> None:
    """Put right, in place, the ln f of components that the first phase has less of than any number holds, by a phase that has more.

    Water beside a heavy hydrocarbon has less than 10⁻¹⁰⁰ of it, and stands with 10⁻¹⁰⁰: by that, it would fall out of the water.
    """
    for other in known[1:]:
        index = np.flatnonzero(((known[0] <= _FLOOR) & (other > _FLOOR)).any(axis=1))
        if index.size:
            rich = rows(other, index)
            ln_f = np.log(rich) + bound.rows(index).ln_phi(rich)
            poor = (rows(known[0], index) <= _FLOOR) & (rich > _FLOOR)
            d.T[:, index] = np.where(poor, np.minimum(ln_f, rows(d, index)), rows(d, index)).T


def _without_absent(known: Sequence[Array], d: Array) -> None:
    """Take from the plane, in place, what no phase has any of.

    With 10⁻¹⁰⁰ of it a heavy component would fall out in the cold, where its saturated vapor has less than that.
    """
    absent = np.logical_and.reduce([x <= _FLOOR for x in known])
    if absent.any():
        d.T[:] = np.where(absent, np.minimum(d, _NOWHERE), d).T


def lowest(bound: BoundModel, d: Array, trial: Array) -> Stability:
    """The minima that substitution leads to from trial phases ``(N, C)`` below the plane, with their distance for a mole of them, -ln Σ W.

    A search stops as soon as an instability is proven; this goes on from there.
    """
    for _ in range(_TO_THE_END):
        ln_w = d - bound.ln_phi(trial)
        trial, before = normalized(np.exp(ln_w)), trial
        if np.abs(trial - before).max() < _TOLERANCE:
            break
    return Stability(-np.log(np.exp(ln_w).sum(axis=-1)), trial)


def _by_other_root(bound: BoundModel, z: Array, d: Array, found: Stability) -> None:
    """Search on, in place, where a feed found stable would as a vapor have nearly the Gibbs energy that it has as a liquid.

    The other of the two differs little from the feed in composition then, as next to an azeotrope, and not in the root that it is asked for.
    """
    open_ = np.flatnonzero(found.tm >= UNSTABLE)
    if not open_.size:
        return
    feed, part = rows(z, open_), bound.rows(open_)
    own = rows(d, open_) - np.log(feed)
    for kind in (VAPOR, LIQUID):
        above = (feed * (part.ln_phi(feed, kind) - own)).sum(axis=-1)
        index = np.flatnonzero((above > _FLAT) & (above < _NEXT_TO))
        if not index.size:
            continue
        point, target, ln_w = part.rows(index), rows(d, open_[index]), np.log(rows(feed, index))
        for _ in range(_SUBSTITUTIONS):
            ln_w, before = target - point.ln_phi(normalized(np.exp(ln_w)), kind), ln_w
            if np.abs(ln_w - before).max() < _TOLERANCE:
                break
        # by the phase that is stable there: what was asked for may be no phase at all, as a vapor as dense as a liquid beside a liquid model
        tm = distance(ln_w, point.ln_phi(normalized(np.exp(ln_w))), target)
        lower = np.flatnonzero(tm < np.minimum(found.tm[open_[index]], UNSTABLE))
        found.tm[open_[index[lower]]] = tm[lower]
        found.trial.T[:, open_[index[lower]]] = normalized(np.exp(rows(ln_w, lower))).T


def stability(bound: BoundModel, z: Array, d: Array, starts: list[Array], partners: Sequence[Array] = ()) -> Stability:
    """Search for the lowest tangent-plane distance of the phase ``z (N, C)`` with ``d (N, C)``.

    ``starts`` are ln W ``(N, C)`` each. ``partners``, ``(N, C)`` each, are phases already in equilibrium with ``z``; a search that comes
    close to one of them has found nothing new.
    """
    n, many = len(z), len(starts)
    ln_z = np.log(z)
    known = [(ln_z, _NEAR if partners else _TRIVIAL), *((np.log(partner), _NEAR) for partner in partners)]
    tm, reached = np.zeros((many, n)), np.empty((many, z.shape[1], n))
    together = max(1, _CHUNK // n)
    for i in range(0, many, together):
        part = slice(i, i + together)
        tm[part], reached[part] = _from_starts(bound, d, known, starts[part])
    # a search that was lost, as where numbers end, has found nothing
    tm = np.where(np.isnan(tm), np.inf, tm)
    best, state = tm.argmin(axis=0), np.arange(n)
    lost = np.isinf(tm[best, state])
    reached[best[lost], :, lost] = ln_z[lost]
    found = Stability(tm[best, state], normalized(np.exp(component_major(reached[best, :, state]))))
    _from_liquid(bound, z, d, known, found)
    _by_solids(bound, d, [z, *partners], found)
    return found


def _by_solids(bound: BoundModel, d: Array, phases: Sequence[Array], found: Stability) -> None:
    """Pure solids, in place, where they would form and are not among the ``phases`` that are there."""
    for i, ln_phi in bound.solids():
        tm = ln_phi - d[:, i]
        there = np.logical_or.reduce([x[:, i] > 1.0 - _PURE for x in phases])
        lower = np.flatnonzero((tm < found.tm) & (tm < UNSTABLE) & ~there)
        found.tm[lower] = tm[lower]
        found.trial.T[:, lower] = ABSENT
        found.trial.T[i, lower] = 1.0


def _from_liquid(bound: BoundModel, z: Array, d: Array, known: _Known, found: Stability) -> None:
    """Search on, in place, from what the phase ``z`` would be in equilibrium with if it were a liquid: a liquid of a vapor's components, say.

    The search is among liquids alone. Where deviations are strongly negative, a liquid is stable in the middle of the composition space and not towards
    its corners; whatever the other starts come to on their way there as a vapor leads them straight back to the feed.
    """
    start = d - bound.ln_phi(z, LIQUID)
    index = np.flatnonzero(_away(start, known[:1])[0] > _TRIVIAL)
    if not index.size:
        return
    near = [(rows(phase, index), distance) for phase, distance in known]
    tm, reached = _minimize_liquid(bound.rows(index), rows(d, index), near, rows(start, index))
    lower = np.flatnonzero(tm < found.tm[index])
    found.tm[index[lower]] = tm[lower]
    found.trial.T[:, index[lower]] = normalized(np.exp(rows(reached, lower))).T


def _minimize_liquid(bound: BoundModel, d: Array, known: _Known, ln_w: Array) -> tuple[Array, Array]:
    """Tm at the minimum among liquids that is reached from each start, and ln W there; zero where that is a known phase.

    Substitution overshoots at negative deviations; each step is shortened by what the one before overshot.
    """
    tm, ln_w = np.zeros(len(d)), ln_w.copy(order="K")
    active, point, target, phases, w = np.arange(len(d)), bound, d, known, ln_w
    before = np.ones_like(w)
    for _ in range(_SUBSTITUTIONS):
        new = target - point.ln_phi(normalized(np.exp(w)), LIQUID)
        step = new - w
        amounts = np.exp(w)
        error = np.abs(step * (amounts > 1e-12 * amounts.sum(axis=-1)[:, None])).max(axis=-1)
        known_one = _arrived(_away(new, phases), phases)
        done = (error < _TOLERANCE) | known_one | ~np.isfinite(error)
        inner = (before * step).sum(axis=-1) / (before * before).sum(axis=-1)
        w = w + np.clip(1.0 / (1.0 - np.minimum(inner, 0.0)), 0.1, 1.0)[:, None] * step
        if done.any():
            ended, keep = np.flatnonzero(done), np.flatnonzero(~done)
            fine = error[ended] < _TOLERANCE
            tm[active[ended]] = np.where(fine & ~known_one[ended], 1.0 - np.exp(new[ended]).sum(axis=-1), 0.0)
            ln_w.T[:, active[ended]] = np.where(fine[:, None], new[ended], rows(known[0][0], active[ended])).T
            if not keep.size:
                return tm, ln_w
            active, point = active[keep], point.rows(keep)
            phases = [(rows(phase, keep), near) for phase, near in phases]
            target, w, step = (rows(a, keep) for a in (target, w, step))
        before = step
    ln_w.T[:, active] = w.T
    _newton(bound, d, known, active, tm, ln_w, LIQUID)
    return tm, ln_w


def _from_starts(bound: BoundModel, d: Array, known: _Known, starts: list[Array]) -> tuple[Array, Array]:
    """Tm ``(S, N)`` at the minima reached from ``S`` starts, and ln W there ``(S, C, N)``."""
    n, many = len(d), len(starts)
    w = starts[0].T if many == 1 else np.concatenate([start.T for start in starts], axis=1)
    index = np.tile(np.arange(n), many)
    if many > 1:
        bound, d, known = bound.rows(index), rows(d, index), [(rows(phase, index), near) for phase, near in known]
    first = d - bound.ln_phi(normalized(np.exp(w.T)))
    second = d - bound.ln_phi(normalized(np.exp(first)))
    away = _away(second, known)
    tm, reached = np.zeros(n * many), second
    going_on = np.flatnonzero(~(_arrived(away, known) | _heading(away, _away(first, known))))
    if going_on.size:
        near = [(rows(phase, going_on), distance) for phase, distance in known]
        own, at = _minimize(bound.rows(going_on), rows(d, going_on), near, rows(second, going_on), rows(w.T, going_on))
        tm[going_on], reached.T[:, going_on] = own, at.T
    return tm.reshape(many, n), reached.T.reshape(-1, many, n).swapaxes(0, 1)


def distance(ln_w: Array, ln_phi: Array, d: Array) -> Array:
    """Tm of trial amounts."""
    w = np.exp(ln_w)
    result: Array = 1.0 + (w * (ln_w + ln_phi - d - 1.0)).sum(axis=-1)
    return result


_Known = list[tuple[Array, float]]


def _away(w: Array, known: _Known) -> list[Array]:
    """How far ln W is from each phase that is known already ``(N,)``, whatever it has of components of which there is next to nothing in both."""
    some = np.maximum(w, _NOTHING)
    return [np.abs(some - np.maximum(phase, _NOTHING)).max(axis=-1) for phase, _ in known]


def _arrived(away: list[Array], known: _Known) -> NDArray[np.bool_]:
    """Which rows have come to one of them."""
    return np.asarray(np.logical_or.reduce([distance < near for distance, (_, near) in zip(away, known, strict=True)]))


def _heading(away: list[Array], last: list[Array]) -> NDArray[np.bool_]:
    """Which rows come so close to a known phase and so fast that they can only end there: a minimum of their own beside it would slow them.

    They must have been close before: a liquid that swings past the composition of a vapor is not that vapor.
    """
    near = [(d < _CLOSE) & (d < _FAST * before) & (before < _CLOSE) for d, before in zip(away, last, strict=True)]
    return np.asarray(np.logical_or.reduce(near))


def _minimize(bound: BoundModel, d: Array, known: _Known, ln_w: Array, origin: Array) -> tuple[Array, Array]:
    """Tm at the minimum reached from each start, and ln W there; a start that falls back to a known phase gives tm = 0.

    ``origin`` is where the substitutions before ``ln_w`` began.
    """
    tm = np.zeros(len(d))
    ln_w = ln_w.copy(order="K")
    active = np.arange(len(d))
    point, target, phases, w = bound, d, known, ln_w
    before = np.ones_like(w)
    last = _away(w, phases)
    # where substitution overshoots from side to side, it may leave a minimum that the start was close to: Newton's method then begins from
    # the start, or from the lowest point passed where that proves an instability
    swinging = np.zeros(len(d), dtype=bool)
    lowest, deepest = origin.copy(order="K"), np.zeros(len(d))
    for iteration in range(_SUBSTITUTIONS):
        amounts = np.exp(w)
        total = amounts.sum(axis=-1)
        new = target - point.ln_phi(amounts / total[:, None])
        step = new - w
        error = np.abs(step * (amounts > 1e-12 * total[:, None])).max(axis=-1)
        below = (amounts * step).sum(axis=-1) / total + np.log(total)
        deeper = np.flatnonzero(below > deepest[active])
        if deeper.size:
            deepest[active[deeper]] = below[deeper]
            lowest.T[:, active[deeper]] = w.T[:, deeper]
        away = _away(new, phases)
        known_one = _arrived(away, phases) | (_heading(away, last) if iteration else False)
        found = (below > _PROVEN) & (error < 0.3)
        done = (error < _TOLERANCE) | found | known_one
        if done.any():
            ended, keep = np.flatnonzero(done), np.flatnonzero(~done)
            value = np.where(found, -below, 1.0 - np.exp(new).sum(axis=-1))
            tm[active[ended]] = np.where(known_one, 0.0, value)[ended]
            ln_w.T[:, active[ended]] = new.T[:, ended]
            if not keep.size:
                return tm, ln_w
            active, point = active[keep], point.rows(keep)
            phases = [(rows(phase, keep), near) for phase, near in phases]
            target, w, new, step, before = (rows(a, keep) for a in (target, w, new, step, before))
            away = [distance[keep] for distance in away]
        if iteration % 5 == 4:
            inner = (before * step).sum(axis=-1) / (before * before).sum(axis=-1)
            gain = np.where(np.abs(inner) < 0.95, 1.0 / (1.0 - inner), 1.0)
            swinging[active[inner < _SWING]] = True
            w = w + np.clip(gain, 1.0, 20.0)[:, None] * step
        else:
            w = new
        before, last = step, away
    ln_w.T[:, active] = w.T
    back = active[swinging[active] | (deepest[active] > _PROVEN)]
    ln_w.T[:, back] = lowest.T[:, back]
    _newton(bound, d, known, active, tm, ln_w)
    return tm, ln_w


def _newton(bound: BoundModel, d: Array, known: _Known, active: Index, tm: Array, ln_w: Array, kind: Kind = STABLE) -> None:
    """Second-order minimisation of tm among phases of a ``kind`` for the starts ``active``, in place."""
    point, target = bound.rows(active), rows(d, active)
    phases = [(rows(phase, active), near) for phase, near in known]
    w = rows(ln_w, active)
    value = distance(w, point.ln_phi(normalized(np.exp(w)), kind), target)
    for _ in range(_NEWTON_STEPS):
        amounts = np.exp(w)
        total = amounts.sum(axis=-1)
        evaluation = point.evaluate(amounts / total[:, None], kind)
        residual = w + evaluation.ln_phi - target
        root = np.sqrt(amounts)
        gradient = root * residual
        hessian = root[:, :, None] * root[:, None, :] * (evaluation.dn / total[:, None, None])
        diagonal = np.arange(w.shape[1])
        hessian[:, diagonal, diagonal] += 1.0 + 0.5 * residual
        alpha_step = descent_step(hessian, gradient)
        tm[active] = value
        ln_w.T[:, active] = w.T
        scale = np.ones(len(w))
        pending = np.arange(len(w))
        new_w, new_value = w.copy(), value.copy()
        for _ in range(12):
            some = rows(root, pending) + 0.5 * scale[pending][:, None] * alpha_step[pending]
            trial = 2.0 * np.log(np.maximum(some, 0.05 * rows(root, pending)))
            at_trial = distance(trial, point.rows(pending).ln_phi(normalized(np.exp(trial)), kind), rows(target, pending))
            good = at_trial <= value[pending] + 1e-14
            new_w[pending[good]], new_value[pending[good]] = trial[good], at_trial[good]
            pending = pending[~good]
            if not pending.size:
                break
            scale[pending] *= 0.3
        stuck = np.zeros(len(w), dtype=bool)
        stuck[pending] = True
        trivial = _arrived(_away(new_w, phases), phases)
        done = stuck | trivial | (np.abs(gradient).max(axis=-1) < _TOLERANCE) | (new_value < -1e-2)
        w, value = new_w, new_value
        tm[active] = np.where(trivial, 0.0, value)
        ln_w.T[:, active] = w.T
        keep = np.flatnonzero(~done)
        if not keep.size:
            return
        if keep.size < len(w):
            active, point = active[keep], point.rows(keep)
            target, w, value = (rows(a, keep) for a in (target, w, value))
            phases = [(rows(phase, keep), near) for phase, near in phases]


def descent_step(hessian: Array, gradient: Array) -> Array:
    """-H⁻¹g for a batch, with H made positive definite by the absolute values of its eigenvalues; -g where H is not finite."""
    usable = np.asarray(np.isfinite(hessian).all(axis=(-2, -1)))
    if not usable.all():
        hessian = np.where(usable[:, None, None], hessian, np.eye(hessian.shape[-1]))
        gradient = np.where(np.isfinite(gradient), gradient, 0.0)
    values, vectors = np.linalg.eigh(0.5 * (hessian + np.swapaxes(hessian, -1, -2)))
    along = np.einsum("...ij,...i->...j", vectors, gradient)
    step: Array = -np.einsum("...ij,...j->...i", vectors, along / np.maximum(np.abs(values), _FLAT))
    return step
