"""Which species a solution has, what precipitates from it and what it takes up from gases, by element potentials.

    ln mᵢ + ln γᵢ(m) + μᵢ/RT = Σ aᵢₑ πₑ                     solutes
    μ_w/RT + ln a_w = Σ a_wₑ πₑ                             water
    μₖ/RT (+ ln fₖ) = Σ aₖₑ πₑ                              solids that are there, gases whose fugacity is given
    μₖ/RT + ln(φₖ nₖ P/Σ n) = Σ aₖₑ πₑ                       gases of a vapor
    Σ aᵢₑ nᵢ = bₑ,   Σ zᵢ mᵢ = 0                            elements; charge in place of hydrogen, which it follows from

(Smith and Missen, Chemical Reaction Equilibrium Analysis, Wiley (1982), ch. 6.) Everything at once by Newton's method. Elements keep their oxidation states, so that charge is balanced where the
elements are.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Index
from .contract import M_WATER, IonModel

_STEPS = 200
_CONVERGED = 1e-11
_LONGEST = 2.0
"""Of a step of a logarithm."""
_TRACE = 1e-25
"""Mol of an element that is absent."""
_OVER = 1e-9
_FIRST, _BUBBLE = 1e-3, 1e-9
"""Mol of a vapor that forms, and of one that is gone."""
_MOST = 600.0
_PULL = 1e-3
"""Logarithm of water's activity that counts as none above that of pure water."""
_LAGGING, _STILL = 30, 1e-13
"""How often fugacity coefficients follow the mole fractions that they are of, until these hardly change."""
_SOLVED = 1e-8
_HARDLY = 1e-3
"""The share of gases that dissolve, of what was fed, that a vapor is begun with where all of it leads nowhere."""
_NOWHERE = 1e-10
"""A step that leads nowhere, where there is no answer."""
_LITTLE, _PARTS = 1e-5, 16
"""The smallest share of a feed that is begun with, and in how many steps it becomes all."""
_BENT = 0.02
"""A step of logarithms from which on derivatives of activities are taken anew."""
_DIFFERENCE = 1e-5
_WATER = 1.0 / M_WATER
"""Mol in a kilogram."""

Flags = NDArray[np.bool_]


class Chemistry(NamedTuple):
    """What there can be: atoms of ``E`` elements, hydrogen first and oxygen second, in ``S`` solutes ``(S, E)``, in ``K`` solids and gases ``(K, E)``; charges of the solutes ``(S,)``; standard potentials over
    RT of solutes, others and water; and the model of the solutes.
    """

    solutes: Array
    others: Array
    z: Array
    mu_solutes: Array
    mu_others: Array
    mu_water: float
    ions: IonModel


class Vapor(NamedTuple):
    """What a vapor is made of where there is one: which of the others ``(K,)`` are in it, how much of each there is to begin with ``(N, K)``, and what gives ln φP/P° of these by their mole fractions ``(N, K)``."""

    which: Flags
    start: Array
    ln_phi_P: Callable[[Array], Array]


class Solution(NamedTuple):
    """Molalities and logarithms of activity coefficients ``(N, S)``; mol of water and the logarithm of its activity ``(N,)``; mol of solids and gases, and logarithms of their activities and fugacities over the
    solution ``(N, K)``; the largest error ``(N,)``.
    """

    m: Array
    ln_gamma: Array
    water: Array
    ln_water: Array
    amounts: Array
    ln_activity: Array
    residual: Array


def solve(chemistry: Chemistry, totals: Array, may_form: Flags, ln_f: Array, vapor: Vapor | None = None) -> Solution:
    """Of feeds with ``totals (N, E)``, mol of each element with the water's; of solids and gases those form that ``may_form (K,)``, and those are there throughout whose ``ln_f (N, K)`` is no NaN; and a ``vapor``, where one may."""
    given = np.isfinite(ln_f)
    mu = chemistry.mu_others + np.where(given, ln_f, 0.0)
    start = np.zeros(mu.shape)
    task = _Task(chemistry, may_form, np.zeros(len(mu.T), dtype=bool), np.zeros_like)
    if vapor is not None:
        task, start = _Task(chemistry, may_form, vapor.which, vapor.ln_phi_P), vapor.start
    state = _beside(task, totals, given, mu, start)
    # then with hardly any of the gases that dissolve, and at last with none of them
    hardly = () if vapor is None else ((_HARDLY, _beside),)
    for share, again in (*hardly, (0.0, _step_by_step)):
        lost = np.flatnonzero(~_is_good(task, state, given, mu))
        if lost.size:
            little = start[lost] * np.where(_dissolves(chemistry), share, 1.0)
            _put(state, lost, again(task, totals[lost], given[lost], mu[lost], little))
    x, active, residual = state
    m = np.exp(x.u)
    found = chemistry.ions.activities(m)
    amounts = np.where(active, x.amounts, 0.0)
    over = _saturation(chemistry, x, chemistry.mu_others)
    residual = np.where(_is_good(task, state, given, mu), residual, np.inf)
    return Solution(m, found.ln_gamma, x.water, found.ln_water(m), amounts, over, residual)


class _Task(NamedTuple):
    """What there can be, which of the others may precipitate, which are a vapor together ``(K,)``, and its `Vapor.ln_phi_P`."""

    chemistry: Chemistry
    may_form: Flags
    gas: Flags
    ln_phi_P: Callable[[Array], Array]


class _State(NamedTuple):
    """Unknowns, which solids and gases there are ``(N, K)``, and the largest error ``(N,)``."""

    x: _Unknowns
    active: Flags
    residual: Array


def _beside(task: _Task, totals: Array, given: Flags, mu: Array, start: Array) -> _State:
    """From so much of each gas in a vapor ``(N, K)``, and the rest in the water."""
    c, gas = task.chemistry, task.gas
    there = given | (gas & (start.sum(axis=1) > 0.0)[:, None])
    begin = _start(c, np.maximum(totals - start @ c.others, 0.0))
    begin.amounts[:, gas] = np.maximum(start[:, gas], _TRACE)
    return _settled(task, totals, given, mu, there, begin)


def _dissolves(c: Chemistry) -> Flags:
    """Which of the others are made of what solutes are made of ``(K,)``."""
    return np.asarray((c.others[:, c.solutes.any(axis=0)] > 0.0).any(axis=1))


def _put(state: _State, rows: Index, other: _State) -> None:
    for mine, theirs in zip((*state.x, state.active, state.residual), (*other.x, other.active, other.residual), strict=True):
        mine[rows] = theirs


def _is_good(task: _Task, s: _State, given: Flags, mu: Array) -> Flags:
    """Whether everything is solved, no solid is supersaturated, no vapor wants to form, of no solid there is less than nothing, and water has no more activity than by itself."""
    over = np.where(task.may_form & ~s.active, _saturation(task.chemistry, s.x, mu), -np.inf).max(axis=1, initial=-np.inf)
    least = np.where(s.active & ~given & ~task.gas, s.x.amounts, 0.0).min(axis=1, initial=0.0)
    there = _has_vapor(task, s.active)
    wanted = ~there & (_vapor_pressure(task, s.x, mu, there).sum(axis=1) > 1.0 + _OVER)
    # beside more of a pull than pure water's, a solution would fall apart: there the model of ions is far beyond what it is for
    stable = s.x.pi @ _water_row(task.chemistry) - task.chemistry.mu_water < _PULL
    return np.asarray((s.residual < _SOLVED) & (over <= _OVER) & (least >= 0.0) & ~wanted & stable)


def _has_vapor(task: _Task, active: Flags) -> Flags:
    return np.asarray((active & task.gas).any(axis=1))


def _vapor_pressure(task: _Task, x: _Unknowns, mu: Array, there: Flags) -> Array:
    """Mole fractions that the gases of a vapor would have over the solution, of a sum above one where it forms ``(N, K)``; zero where it is ``there``."""
    fugacity = np.exp(np.where(task.gas & ~there[:, None], np.minimum(_saturation(task.chemistry, x, mu), _MOST), -np.inf))
    return would_be(fugacity, task.ln_phi_P) if fugacity.any() else fugacity


def would_be(fugacity: Array, ln_phi_P: Callable[[Array], Array]) -> Array:
    """Mole fractions ``(N, K)`` of a vapor with these fugacities over P°, whose fugacity coefficients follow them."""
    y = fugacity
    for _ in range(_LAGGING):
        before, y = y, fugacity * np.exp(-ln_phi_P(y / np.maximum(y.sum(axis=1, keepdims=True), _TRACE)))
        if not (np.abs(y - before) > _STILL * np.abs(y)).any():
            break
    return y


def _step_by_step(task: _Task, totals: Array, given: Flags, mu: Array, start: Array) -> _State:
    """The same with little of everything first, so that what can't stay dissolved precipitates before there is much of it."""
    water = np.zeros(totals.shape[1])
    water[:2] = 2.0 * _WATER, _WATER
    # what does not dissolve is there from the beginning
    rest = (totals - water) * task.chemistry.solutes.any(axis=0)
    water = totals - rest
    shares = np.geomspace(_LITTLE, 1.0, _PARTS)
    state = _beside(task, water + shares[0] * rest, given, mu, start)
    for share in shares[1:]:
        state = _settled(task, water + share * rest, given, mu, state.active, state.x)
    return state


def _settled(task: _Task, totals: Array, given: Flags, mu: Array, active: Flags, x: _Unknowns) -> _State:
    """Solved with the solids, and the vapor, that are there, then with one more or less, until there is none to come or to go."""
    active = active.copy()
    residual = np.full(len(totals), np.inf)
    for _ in range(3 * active.shape[1] + 1):
        x, residual = _newton(task, totals, active, mu, x)
        change = _vapor_change(task, active, mu, x)
        over = np.where(task.may_form & ~active, _saturation(task.chemistry, x, mu), -np.inf)
        amounts = np.where(active & ~given & ~task.gas, x.amounts, np.inf)
        gone = amounts < 0.0
        first_gone = gone & (amounts == amounts.min(axis=1, keepdims=True, initial=np.inf))
        coming = (over > _OVER) & (over == over.max(axis=1, keepdims=True, initial=-np.inf)) & ~gone.any(axis=1, keepdims=True)
        # of what is not solved nothing can be told
        change |= (first_gone | coming) & (residual < _SOLVED)[:, None] & ~change.any(axis=1, keepdims=True)
        if not change.any():
            break
        active = active ^ change
    else:
        # solids that come and go without an end: what is known is not of those that are there now
        residual = np.where(change.any(axis=1), np.inf, residual)
    return _State(x, active, residual)


def _vapor_change(task: _Task, active: Flags, mu: Array, x: _Unknowns) -> Flags:
    """Where a vapor comes or goes, all its gases ``(N, K)``; of one that comes a little is put into ``x``."""
    if not task.gas.any():
        return np.zeros_like(active)
    there = _has_vapor(task, active)
    share = _vapor_pressure(task, x, mu, there)
    comes = ~there & (share.sum(axis=1) > 1.0 + _OVER)
    goes = there & (np.where(task.gas, x.amounts, 0.0).sum(axis=1) < _BUBBLE)
    some = np.flatnonzero(comes)
    little = _FIRST * share[some] / share[some].sum(axis=1, keepdims=True)
    x.amounts[some] = np.where(task.gas, np.maximum(little, _TRACE), x.amounts[some])
    return np.asarray((comes | goes)[:, None] & task.gas)


class _Unknowns(NamedTuple):
    """Logarithms of molalities ``(N, S)``, element potentials ``(N, E)``, mol of water ``(N,)`` and of solids and gases ``(N, K)``."""

    u: Array
    pi: Array
    water: Array
    amounts: Array


def _saturation(c: Chemistry, x: _Unknowns, mu: Array) -> Array:
    return np.asarray(x.pi @ c.others.T - mu)


def _start(c: Chemistry, totals: Array) -> _Unknowns:
    """Every element shared out evenly among the solutes that have most of it, at neutral pH."""
    n = len(totals)
    shares = c.solutes[:, 2:]
    count = np.maximum((shares > 0.0).sum(axis=0), 1.0)
    m = np.full((n, len(c.z)), 1e-7)
    for e in range(shares.shape[1]):
        own = np.flatnonzero(shares[:, e] > 0.0)
        m[:, own] = np.maximum(totals[:, e + 2, None], _TRACE) / count[e] / shares[own, e]
    u = np.log(m)
    # potentials that explain these best
    pi = np.linalg.lstsq(
        np.vstack([c.solutes, _water_row(c)]), np.vstack([(u + c.mu_solutes).T, np.full(n, c.mu_water)]), rcond=None
    )[0].T
    return _Unknowns(u, pi, np.full(n, _WATER), np.zeros((n, len(c.mu_others))))


def _water_row(c: Chemistry) -> Array:
    row = np.zeros(c.solutes.shape[1])
    row[0], row[1] = 2.0, 1.0
    return row


def _newton(task: _Task, totals: Array, active: Flags, mu: Array, x: _Unknowns) -> tuple[_Unknowns, Array]:
    """The unknowns and the largest error ``(N,)``; the gases of a vapor by the logarithms of their amounts."""
    c = task.chemistry
    n, S, E, K = len(totals), len(c.z), c.solutes.shape[1], len(c.mu_others)
    b = np.maximum(totals, _TRACE)
    u, pi, water, amounts = (v.copy() for v in x)
    amounts = np.where(active, amounts, 0.0)
    residual = np.full(n, np.inf)
    of_gas = active & task.gas
    going, bend = np.arange(n), _bent(task, np.exp(u), np.where(of_gas, amounts, 0.0))
    to_pi, to_water, to_others = S, S + E, S + E + 1
    for _ in range(_STEPS):
        g = going
        m = np.exp(u[g])
        found = c.ions.activities(m)
        f = np.zeros((len(g), S + E + 1 + K))
        J = np.zeros((len(g), f.shape[1], f.shape[1]))
        kg = water[g] * M_WATER
        # solutes
        f[:, :S] = u[g] + found.ln_gamma + c.mu_solutes - pi[g] @ c.solutes.T
        J[:, :S, :S] = np.eye(S) + bend.ln_gamma
        J[:, :S, to_pi : to_pi + E] = -c.solutes
        # charge in hydrogen's row, then oxygen and the others, each over what there is of it
        size = (m * np.abs(c.z)).sum(axis=1)
        f[:, to_pi] = (m @ c.z) / size
        J[:, to_pi, :S] = m * c.z / size[:, None]
        atoms = c.solutes[:, 1:].T[None] * m[:, None, :] * kg[:, None, None]
        own = atoms.sum(axis=2) + amounts[g] @ c.others[:, 1:] + water[g, None] * _water_row(c)[1:]
        rows = slice(to_pi + 1, to_pi + E)
        # over what was fed, or what a gas has brought
        scale_of = np.maximum(b[g, 1:], atoms.sum(axis=2))
        f[:, rows] = (own - b[g, 1:]) / scale_of
        J[:, rows, :S] = atoms / scale_of[:, :, None]
        J[:, rows, to_water] = (atoms.sum(axis=2) + water[g, None] * _water_row(c)[1:]) / scale_of
        # of those that are there: beside an absent element the others' would be out of all proportion
        there = active[g]
        vapor = there & task.gas
        inside = np.where(vapor, amounts[g], 1.0)
        J[:, rows, to_others:] = np.where(
            there[:, None, :], c.others[:, 1:].T[None] * inside[:, None, :] / scale_of[:, :, None], 0.0
        )
        # water, by the logarithm of its amount
        f[:, to_water] = pi[g] @ _water_row(c) - c.mu_water - found.ln_water(m)
        J[:, to_water, to_pi : to_pi + E] = _water_row(c)
        J[:, to_water, :S] = -bend.osmotic
        # solids and gases that are there; no amount of the others
        share = np.where(vapor, amounts[g], 0.0)
        share = share / np.maximum(share.sum(axis=1, keepdims=True), _TRACE)
        diluted = np.log(np.where(vapor, np.maximum(share, 1e-300), 1.0))
        own_mu = mu[g] + task.ln_phi_P(share) if vapor.any() else mu[g]
        f[:, to_others:] = np.where(there, pi[g] @ c.others.T - own_mu - diluted, amounts[g])
        J[:, to_others:, to_pi : to_pi + E] = there[:, :, None] * c.others
        J[:, to_others:, to_others:] = vapor[:, :, None] * (share[:, None, :] - bend.ln_phi)
        J[:, np.arange(to_others, to_others + K), np.arange(to_others, to_others + K)] += np.where(
            there, np.where(vapor, -1.0, 0.0), 1.0
        )
        error = np.abs(f).max(axis=1)
        residual[g] = error
        step = _solved(J, f)
        of_vapor = np.where(vapor, step[:, to_others:], 0.0)
        longest = np.maximum(np.abs(step[:, :S]).max(axis=1), np.abs(step[:, to_water]))
        longest = np.maximum(longest, np.abs(of_vapor).max(axis=1, initial=0.0))
        scale = np.minimum(1.0, _LONGEST / np.maximum(longest, 1e-300))[:, None]
        step *= scale
        u[g] -= step[:, :S]
        pi[g] -= step[:, to_pi : to_pi + E]
        water[g] *= np.exp(-step[:, to_water])
        amounts[g] = np.where(vapor, amounts[g] * np.exp(-scale * of_vapor), amounts[g] - step[:, to_others:])
        left = vapor.any(axis=1) & (np.where(vapor, amounts[g], 0.0).sum(axis=1) < _BUBBLE)
        stuck = (np.abs(step).max(axis=1) < _NOWHERE) & (error > _SOLVED)
        keep = ~left & ~stuck & ~((error < _CONVERGED) & (scale[:, 0] == 1.0)) & np.isfinite(error)
        going, bend = g[keep], bend.rows(keep)
        if not going.size:
            break
        moved = np.flatnonzero((longest * scale[:, 0])[keep] > _BENT)
        if moved.size:
            rows = going[moved]
            fresh = _bent(task, np.exp(u[rows]), np.where(of_gas[rows], amounts[rows], 0.0))
            bend.ln_gamma[moved], bend.osmotic[moved], bend.ln_phi[moved] = fresh
    return _Unknowns(u, pi, water, amounts), residual


def _solved(J: Array, f: Array) -> Array:
    """Steps of Newton's method; the shortest where several would do, NaN where there is none."""
    try:
        return np.asarray(np.linalg.solve(J, f[:, :, None])[:, :, 0])
    except np.linalg.LinAlgError:
        steps = np.full(f.shape, np.nan)
        for i in np.flatnonzero(np.isfinite(f).all(axis=1) & np.isfinite(J).all(axis=(1, 2))):
            steps[i] = np.linalg.lstsq(J[i], f[i], rcond=None)[0]
        return steps


class _Bend(NamedTuple):
    """Derivatives by the logarithms of molalities: of ln γ ``(N, S, S)``, and of ln a_w ``(N, S)``; and by those of amounts in a vapor: of ln φ ``(N, K, K)``."""

    ln_gamma: Array
    osmotic: Array
    ln_phi: Array

    def rows(self, index: Flags) -> _Bend:
        """Of some of them."""
        return _Bend(*(part[index] for part in self))


def _bent(task: _Task, m: Array, vapor: Array) -> _Bend:
    """By central differences of every molality, and every amount in a vapor ``(N, K)``, at once."""
    c = task.chemistry
    n, S = m.shape
    moved = np.exp(_DIFFERENCE * np.concatenate([np.eye(S), -np.eye(S)]))
    many = (m[:, None, :] * moved[None]).reshape(-1, S)
    other = c.ions.activities(many)
    ln_gamma = other.ln_gamma.reshape(n, 2, S, S)
    ln_water = other.ln_water(many).reshape(n, 2, S)
    h = 2.0 * _DIFFERENCE
    return _Bend(
        ((ln_gamma[:, 0] - ln_gamma[:, 1]) / h).transpose(0, 2, 1), (ln_water[:, 0] - ln_water[:, 1]) / h, _bent_vapor(task, vapor)
    )


def _bent_vapor(task: _Task, amounts: Array) -> Array:
    n, K = amounts.shape
    found, there, gases = np.zeros((n, K, K)), np.flatnonzero(amounts.any(axis=1)), np.flatnonzero(task.gas)
    if not there.size:
        return found
    each = _DIFFERENCE * np.eye(K)[gases]
    moved = amounts[there, None, :] * np.exp(np.concatenate([each, -each]))[None]
    share = moved / moved.sum(axis=2, keepdims=True)
    ln_phi = task.ln_phi_P(share.reshape(-1, K)).reshape(len(there), 2, len(gases), K)
    found[np.ix_(there, np.arange(K), gases)] = ((ln_phi[:, 0] - ln_phi[:, 1]) / (2.0 * _DIFFERENCE)).transpose(0, 2, 1)
    return found
