"""Equilibrium of two phases or more at given temperature and pressure, from compositions that a stability test supplies.

For given fugacity coefficients the amounts βₖ ≥ 0 of all phases minimise

    Q = Σ βₖ - Σ zᵢ ln Eᵢ,     Eᵢ = Σ βₖ/φᵢₖ,     xᵢₖ = zᵢ/(Eᵢ φᵢₖ)

which is convex, so that a phase that is not wanted leaves of itself (Michelsen, Comput. Chem. Eng. 18 (1994) 545-550). Successive substitution
with dominant-eigenvalue steps is followed by Newton's method in the logarithms of all mole numbers. Where that leads astray, `descend` goes down
the Gibbs energy from a small amount of the new phase, by the better of a substitution and a Newton step in the null space of the balances.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arrays import ABSENT, Array, Index, Kinds
from ..models.contract import STABLE, BoundModel, Evaluation, Kind
from ..newton import Batch, solve_many, solve_rows
from .stability import descent_step

CONVERGED = 1e-10
"""Largest difference of ln f between the phases of a converged result."""

SAME = 1e-4
"""Two phases whose ln x differ by less are one: their Gibbs energies are the same to the last digit."""

_AMOUNT_STEPS = 50
_LEFT = 0.1
_SORELY = -1e8
"""What is left of a phase by a step that would take all of it, and the slope of Q without it from which on it stays."""
_MANY_TIMES = -2.0
"""Slope of Q by the amount of a phase that is wanted three times over."""
_AMOUNT_ROUNDING = 2e-15
"""Slopes of Q that are rounding alone: two phases that are becoming one would share their amounts out for ever."""
_SUBSTITUTIONS = (8, 20, 40)
"""How many precede Newton's method, the first time and where that did not come to an answer."""

_NEWTON_STEPS, _PATIENCE = 25, 8
"""How many steps there are, and how many may pass that do not halve the error."""
_DESCENT_STEPS = 80
_TRACE = 1e-30
_LEAST = 1e-250


class Phases(NamedTuple):
    """``F`` phases at equilibrium, one row for each of ``N`` states; a phase that left has an amount of zero.

    ``residual`` is the largest difference of ln f, infinite where no equilibrium was reached.
    """

    amount: Array
    x: Array
    residual: Array


def solve_phases(bound: BoundModel, z: Array, x: Array) -> Phases:
    """Equilibrium of feeds ``z (N, C)`` among phases that begin with the compositions ``x (N, F, C)``."""
    amount = np.full(x.shape[:2], 1.0 / x.shape[1])
    found = Phases(amount, x, np.full(len(z), np.inf))
    for substitutions in _SUBSTITUTIONS:
        open_ = np.flatnonzero(found.residual > CONVERGED)
        # what has become fewer phases meanwhile is to be solved as those
        if substitutions == _SUBSTITUTIONS[-1] and open_.size:
            open_ = open_[(found.amount[open_] > 0.0).all(axis=1) & ~_becoming_one(found.x[open_])]
        if not open_.size:
            break
        part = bound.rows(open_)
        rough = _substitute(part, z[open_], found.amount[open_], found.x[open_], substitutions)
        complete = np.flatnonzero((rough.amount > 0.0).all(axis=1) & (rough.residual > 0.01 * CONVERGED) & ~_becoming_one(rough.x))
        if complete.size:
            fine = _newton(part.rows(complete), z[open_[complete]], Phases(*(a[complete] for a in rough)))
            for old, new in zip(rough, fine, strict=True):
                old[complete] = new
        for old, new in zip(found, rough, strict=True):
            old[open_] = new
    return found


def alike(one: Array, other: Array, within: float = SAME) -> NDArray[np.bool_]:
    """Whether the ln x of two phases ``(N, C)`` differ by less than this."""
    return np.asarray(np.abs(np.log(np.maximum(one, ABSENT) / np.maximum(other, ABSENT))).max(axis=1) < within)


def _becoming_one(x: Array) -> NDArray[np.bool_]:
    """Where any two of the phases ``(N, F, C)`` are the same."""
    return np.asarray(np.logical_or.reduce([alike(x[:, j], x[:, k]) for k in range(x.shape[1]) for j in range(k)]))


def descend(bound: BoundModel, z: Array, amount: Array, x: Array, trial: Array) -> Phases:
    """Equilibrium reached from phases ``amount (N, F)``, ``x (N, F, C)`` at equilibrium among themselves and a little of ``trial (N, C)``,
    without ever raising the Gibbs energy.
    """
    return downhill(bound, z, _introduced(bound, z, amount, x, trial))


def downhill(bound: BoundModel, z: Array, n: Array) -> Phases:
    """Equilibrium reached from mole numbers ``n (N, F, C)`` without ever raising the Gibbs energy."""
    g = gibbs_energy(bound, n)
    best = Phases(np.zeros(n.shape[:2]), normalized_phases(n), np.full(len(z), np.inf))
    for _ in range(_DESCENT_STEPS):
        amount = n.sum(axis=2)
        x = n / amount[:, :, None]
        ln_phi = _ln_phi(bound, x)
        error = _spread(z, amount, x, ln_phi)
        best.amount[:], best.x[:], best.residual[:] = amount, x, np.where(np.isfinite(error), error, np.inf)
        if not (error > 0.1 * CONVERGED).any():
            break
        beta, substituted = phase_amounts(z, ln_phi, amount)
        candidates = [beta[:, :, None] * substituted]
        traces = _level_traces(n, amount, x, ln_phi)
        step = np.where(_counted(z, x) & ~traces, _descent(bound, z, n), 0.0)
        room = np.where(step < 0.0, -0.9 * n / np.minimum(step, -1e-300), np.inf).min(axis=(1, 2))
        candidates += [n + (length * np.minimum(1.0, room))[:, None, None] * step for length in (1.0, 0.3, 0.05)]
        for candidate in candidates:
            safe = np.maximum(candidate, _LEAST)
            at = gibbs_energy(bound, safe)
            lower = at < g
            n[lower], g[lower] = safe[lower], at[lower]
    return _newton(bound, z, best)


def _level_traces(n: Array, amount: Array, x: Array, ln_phi: Array) -> NDArray[np.bool_]:
    """Give phases, in place, as much as is in equilibrium of what they have only traces of; returns what and where that is ``(N, F, C)``.

    It counts for nothing in the Gibbs energy, so that no descent finds it, and a step in it would shorten those of the others.
    """
    ln_f = np.log(x) + ln_phi
    richest = n.argmax(axis=1)[:, None, :]
    ln_f = np.take_along_axis(ln_f, richest, axis=1)
    traces = (x < _TRACE) & (np.arange(n.shape[1])[:, None] != richest)
    most = _TRACE * np.take_along_axis(n, richest, axis=1)
    level = np.clip(amount[:, :, None] * np.exp(ln_f - ln_phi), _LEAST, np.maximum(most, _LEAST))
    change = np.where(traces & np.isfinite(level), level - n, 0.0)
    n += change
    held = np.take_along_axis(n, richest, axis=1) - change.sum(axis=1, keepdims=True)
    np.put_along_axis(n, richest, np.maximum(held, _LEAST), axis=1)
    return np.asarray(traces)


def _introduced(bound: BoundModel, z: Array, amount: Array, x: Array, trial: Array) -> Array:
    """Mole numbers with as much of the trial phase as lowers the Gibbs energy, taken from the others in proportion."""
    old = amount[:, :, None] * x
    g = gibbs_energy(bound, np.maximum(old, _LEAST))
    size = np.minimum(0.5 * (z / trial).min(axis=1), 0.5)
    n = np.zeros((len(z), amount.shape[1] + 1, z.shape[1]))
    open_ = np.arange(len(z))
    for _ in range(12):
        some = open_
        new = size[some, None] * trial[some]
        n[some, :-1] = old[some] * (1.0 - new / z[some])[:, None, :]
        n[some, -1] = new
        n[some] = np.maximum(n[some], _LEAST)
        open_ = some[~(gibbs_energy(bound.rows(some), n[some]) < g[some])]
        if not open_.size:
            break
        size[open_] *= 0.2
    return n


def normalized_phases(n: Array) -> Array:
    """Mole fractions ``(N, F, C)`` of phases with mole numbers ``n``."""
    return np.asarray(n / n.sum(axis=2, keepdims=True))


def gibbs_energy(bound: BoundModel, n: Array, kinds: Kinds | None = None) -> Array:
    """Reduced Gibbs energy ``(N,)`` of phases with mole numbers ``n (N, F, C)``, all positive, of given ``kinds (N, F)``."""
    x = normalized_phases(n)
    g = (n * (np.log(x) + _ln_phi(bound, x, kinds))).sum(axis=(1, 2))
    return np.asarray(np.where(np.isfinite(g), g, np.inf))


def _descent(bound: BoundModel, z: Array, n: Array) -> Array:
    """A direction of falling Gibbs energy for the mole numbers ``n (N, F, C)`` that keeps the balances.

    In s = Δn/√n the Hessian of an ideal mixture is the unit matrix less projections; for each component the balance is orthogonality to
    √(n/z), and a reflection gives the F - 1 directions that keep it.
    """
    many, f, c = n.shape
    root = np.sqrt(n)
    at = evaluate_all(bound, n)
    x = normalized_phases(n)
    gradient = root * (np.log(x) + np.stack([e.ln_phi for e in at], axis=1))
    hessian = np.zeros((many, f, c, f, c))
    for k in range(f):
        share = np.sqrt(x[:, k])
        hessian[:, k, :, k, :] = np.eye(c) + share[:, :, None] * share[:, None, :] * (at[k].dn - 1.0)
    v = root / np.sqrt(n.sum(axis=1))[:, None, :]
    # Householder: H v = ±e₁, so the other columns of H are orthogonal to v
    w = v.copy()
    w[:, 0] += np.where(v[:, 0] >= 0.0, 1.0, -1.0)
    w /= np.sqrt((w**2).sum(axis=1))[:, None, :]
    basis = np.eye(f)[None, :, :, None] - 2.0 * w[:, :, None, :] * w[:, None, :, :]
    basis = basis[:, :, 1:, :]  # (N, F, F - 1, C)
    size = (f - 1) * c
    reduced = np.einsum("nfic,nfcgd,ngjd->nicjd", basis, hessian, basis, optimize=True).reshape(many, size, size)
    along = np.einsum("nfic,nfc->nic", basis, gradient).reshape(many, size)
    step = descent_step(reduced, along).reshape(many, f - 1, c)
    return np.asarray(root * np.einsum("nfic,nic->nfc", basis, step))


def phase_amounts(z: Array, ln_phi: Array, start: Array) -> tuple[Array, Array]:
    """Amounts ``(N, F)`` and normalized compositions ``(N, F, C)`` for given ln φ ``(N, F, C)``."""
    w = np.exp(ln_phi.min(axis=1)[:, None, :] - ln_phi)
    beta = start / start.sum(axis=1)[:, None]
    open_, now, feed, weights = np.arange(len(z)), beta, z, w
    q = _q(z, w, beta)
    for _ in range(_AMOUNT_STEPS):
        step = _amount_step(feed, weights, now)
        new, new_q = _lower(feed, weights, now, q, step)
        moved = np.asarray(((np.abs(new - now) > 1e-14) | ((new > 0.0) != (now > 0.0))).any(axis=1))
        beta[open_] = new
        if not np.any(moved):
            break
        if not np.all(moved):
            open_, new, new_q, feed, weights = open_[moved], new[moved], new_q[moved], feed[moved], weights[moved]
        now, q = new, new_q
    x = (z / _sums(w, beta))[:, None, :] * w
    return beta / beta.sum(axis=1)[:, None], x / x.sum(axis=2)[:, :, None]


def _amount_step(z: Array, w: Array, beta: Array) -> Array:
    """Newton's step ``(N, F)`` in the amounts; of phases that are absent and not wanted it is zero."""
    e = _sums(w, beta)
    t = z / e
    g = _slopes(z, w, beta)
    free = (beta > 0.0) | (g < -1e-14)
    g = np.where(free & (np.abs(g) > _AMOUNT_ROUNDING), g, 0.0)
    if not g.any():
        return g
    hessian = ((w * (t / e)[:, None, :]) @ w.swapaxes(1, 2)) * (free[:, :, None] & free[:, None, :])
    phases = np.arange(w.shape[1])
    hessian[:, phases, phases] += np.where(free, 1e-13, 1.0)
    step = -solve_rows(hessian, g)
    # a phase that should come in but that Newton's method would push below nothing: all by their own slopes instead
    refused = ((beta <= 0.0) & free & (step < 0.0)).any(axis=1)
    if refused.any():
        step[refused] = (-g / hessian[:, phases, phases])[refused]
    # where one that is there is wanted many times over, Newton's method would no more than double it: each amount by its own factor, which never raises Q
    # (Dempster, Laird and Rubin, J. R. Stat. Soc. B 39 (1977) 1-38)
    scarce = ((beta > 0.0) & (g < _MANY_TIMES)).any(axis=1)
    if scarce.any():
        step[scarce] = np.where(beta > 0.0, -g * beta, np.maximum(step, 0.0))[scarce]
    # of what is absent and not wanted there is no rounding either: a step below nothing would stop all the others
    return np.where(free & np.asarray(g.any(axis=1))[:, None], step, 0.0)


def _lower(z: Array, w: Array, beta: Array, q: Array, step: Array) -> tuple[Array, Array]:
    """The amounts after a step that is shortened until Q does not rise, and Q there."""
    # not below nothing: the phase that would get there first stops the step
    room = np.where(step < 0.0, beta / np.maximum(-step, 1e-300), np.inf)
    length = np.minimum(room.min(axis=1), 1.0)[:, None]
    new = np.where((room <= length) & (length < 1.0), 0.0, np.maximum(beta + length * step, 0.0))
    gone = (new == 0.0) & (beta > 0.0)
    if gone.any():
        # the only phase that can hold a trace does not leave: Newton's method would bring it back from nothing by doubling what there is
        new = np.where(gone & (_slopes(z, w, new) < _SORELY), _LEFT * beta, new)
    new_q = _q(z, w, new)
    for _ in range(30):
        worse = np.flatnonzero(~(new_q <= q + 1e-14 * np.maximum(1.0, np.abs(q))))
        if not worse.size:
            break
        new[worse] = 0.5 * (new[worse] + beta[worse])
        new_q[worse] = _q(z[worse], w[worse], new[worse])
    return new, new_q


def _sums(w: Array, beta: Array) -> Array:
    return np.asarray((beta[:, None, :] @ w)[:, 0])


def _slopes(z: Array, w: Array, beta: Array) -> Array:
    """∂Q/∂β ``(N, F)``."""
    return np.asarray(1.0 - (w @ (z / _sums(w, beta))[:, :, None])[:, :, 0])


def _q(z: Array, w: Array, beta: Array) -> Array:
    return np.asarray(beta.sum(axis=1) - (z * np.log(_sums(w, beta))).sum(axis=1))


def _ln_phi(bound: BoundModel, x: Array, kinds: Kinds | None = None) -> Array:
    many, f, c = x.shape
    return bound.rows(np.repeat(np.arange(many), f)).ln_phi(x.reshape(-1, c), _asked(kinds)).reshape(x.shape)


def _asked(kinds: Kinds | None) -> Kind:
    """What the phases are asked for as, one after another."""
    return STABLE if kinds is None else kinds.ravel()


def _counted(z: Array, x: Array) -> NDArray[np.bool_]:
    """Which components matter in which phases ``(N, F, C)``: of less than `ABSENT`, numbers do not reach to where fugacities would be equal."""
    return np.asarray((z > _TRACE)[:, None, :] & (x > ABSENT))


def _spread(z: Array, amount: Array, x: Array, ln_phi: Array) -> Array:
    """The largest difference of ln f ``(N,)`` between phases that are there, over components that are there in them."""
    there = (amount > 0.0)[:, :, None] & _counted(z, x)
    ln_f = np.log(np.maximum(x, ABSENT)) + ln_phi
    high = np.where(there, ln_f, -np.inf).max(axis=1)
    low = np.where(there, ln_f, np.inf).min(axis=1)
    return np.asarray(np.where(z > _TRACE, high - low, 0.0).max(axis=1))


def _substitute(bound: BoundModel, z: Array, amount: Array, x: Array, most: int) -> Phases:
    ln_phi = _ln_phi(bound, x)
    before = np.ones_like(ln_phi)
    error = np.full(len(z), np.inf)
    for iteration in range(most):
        amount, x = phase_amounts(z, ln_phi, np.maximum(amount, 1e-3))
        new = _ln_phi(bound, x)
        error = _spread(z, amount, x, new)
        if not (error > 0.1 * CONVERGED).any():
            break
        step = new - ln_phi
        inner = (before * step).sum(axis=(1, 2)) / (before * before).sum(axis=(1, 2))
        gain = np.where((iteration % 5 == 4) & (np.abs(inner) < 0.98), 1.0 / (1.0 - inner), 1.0)
        ln_phi, before = ln_phi + gain[:, None, None] * step, step
    return Phases(amount, x, np.where(np.isfinite(error), error, np.inf))


def balance_equations(at: Sequence[Evaluation], n: Array, z: Array, counted: Array | None = None) -> tuple[Array, Array]:
    """Equal fugacities ``(F-1)·C`` and mole balances ``C`` of phases with mole numbers ``n (N, F, C)``, and the derivatives by ln n.

    The first phase is the one that the others are compared with. Rows of balances are divided by the feed; ``counted (F,)`` is zero for a phase
    that is left out of them.
    """
    many, f, c = n.shape
    part = n if counted is None else n * counted[:, None]
    x = n / n.sum(axis=2)[:, :, None]
    residual = np.empty((many, f * c))
    jacobian = np.zeros((many, f * c, f * c))
    ln_f = [np.log(x[:, k]) + at[k].ln_phi for k in range(f)]
    own = [np.eye(c) + x[:, k][:, None, :] * (at[k].dn - 1.0) for k in range(f)]
    for k in range(1, f):
        here = slice((k - 1) * c, k * c)
        residual[:, here] = ln_f[k] - ln_f[0]
        jacobian[:, here, k * c : (k + 1) * c] = own[k]
        jacobian[:, here, :c] = -own[0]
    last = slice((f - 1) * c, f * c)
    residual[:, last] = part.sum(axis=1) / z - 1.0
    rows = np.arange((f - 1) * c, f * c)
    for k in range(f):
        jacobian[:, rows, np.arange(k * c, (k + 1) * c)] = part[:, k] / z
    return residual, jacobian


def evaluate_all(bound: BoundModel, n: Array, kinds: Kinds | None = None) -> list[Evaluation]:
    """The model at each of the phases ``n (N, F, C)``, of given ``kinds (N, F)``."""
    many, f, c = n.shape
    e = bound.rows(np.repeat(np.arange(many), f)).evaluate(normalized_phases(n).reshape(-1, c), _asked(kinds))

    def of_phase(k: int) -> Evaluation:
        part = slice(k, None, f)
        return Evaluation(
            e.ln_phi[part], e.dT[part], e.dP[part], e.g_TT[part], e.Z[part], e.Z_T[part], e.Z_P[part], lambda: e.dn[part]
        )

    return [of_phase(k) for k in range(f)]


def _newton(bound: BoundModel, z: Array, start: Phases) -> Phases:
    """Newton's method from a point near the answer; what it does not better stays as it was."""
    shape = start.x.shape

    def problems(u: Array, index: Index) -> Batch:
        n, feed = np.exp(u).reshape(len(index), *shape[1:]), z[index]
        at = evaluate_all(bound.rows(index) if len(index) < len(z) else bound, n)
        f, jacobian = balance_equations(at, n, feed)
        amount = n.sum(axis=2)
        x = n / amount[:, :, None]
        apart = _spread(feed, amount, x, np.stack([e.ln_phi for e in at], axis=1))
        error = np.maximum(apart, np.abs(np.where(feed > _TRACE, f[:, -shape[2] :], 0.0)).max(axis=1))
        return Batch(f, jacobian, error, _counted(feed, x).reshape(len(index), -1))

    least = np.log(_LEAST)
    ln_n = np.log(np.maximum(start.amount[:, :, None] * start.x, _LEAST)).reshape(len(z), -1)
    u, error = solve_many(
        problems, ln_n, longest=1.0, enough=0.01 * CONVERGED, steps=_NEWTON_STEPS, patience=_PATIENCE, low=least, high=1.0
    )
    n = np.exp(u).reshape(shape)
    amount = n.sum(axis=2)
    better = error < start.residual
    rows = better[:, None]
    best = Phases(
        np.where(rows, amount, start.amount),
        np.where(rows[:, :, None], n / amount[:, :, None], start.x),
        np.where(better, error, start.residual),
    )
    return balanced(z, best)


def balanced(z: Array, phases: Phases) -> Phases:
    """The same with mole balances exact: what was left over of each component is shared out in proportion."""
    n = phases.amount[:, :, None] * phases.x
    n *= (z / np.maximum(n.sum(axis=1), ABSENT))[:, None, :]
    amount = n.sum(axis=2)
    x = np.where(amount[:, :, None] > 0.0, n / np.where(amount > 0.0, amount, 1.0)[:, :, None], phases.x)
    return Phases(amount, x, phases.residual)
