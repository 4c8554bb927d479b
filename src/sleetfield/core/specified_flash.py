"""Flash where one of T and P is not given, but an enthalpy, entropy, internal energy, volume or vapor fraction is.

The state is first located along the unknown, T or P, by a bracketing search over flashes at given T and P; there the number of phases
settles. A state of two phases is then solved at once, phases and unknown together, by Newton's method in (ln Kᵢ, β, ln T or ln P)
(Michelsen, Fluid Phase Equilib. 33 (1987) 13-27), with total properties from partial molar ones,

    M = Σ vᵢ M̄ᵢ(y) + Σ lᵢ M̄ᵢ(x),     H̄ᵢ = hᵢ - RT² ∂ln φᵢ/∂T,     V̄ᵢ = RT/P + RT ∂ln φᵢ/∂P,     S̄ᵢ = (H̄ᵢ - μᵢ)/T,

so that a pure component or an azeotrope, whose enthalpy jumps where T and P stay, is as good as any other mixture.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.optimize.elementwise import find_root

from .arrays import ABSENT, Array, Index, Kinds
from .constants import P_REFERENCE, T_REFERENCE, R
from .correlations import HeatCapacity
from .equilibrium.flash import FlashResult, flash, two_phase_result
from .equilibrium.rachford_rice import Split
from .models.contract import LIQUID, STABLE, VAPOR, Evaluation, PhaseModel

FRACTION = "vapor_fraction"
PROPERTIES = ("H", "S", "U", "V", FRACTION)
"""What can be specified beside T or P: molar properties, and the mole fraction of vapor."""

CONVERGED = 1e-10
"""Largest residual of a converged answer: differences of ln f, and of the property by its scale."""

_LIMITS = {"T": (5.0, 20_000.0), "P": (1e-3, 1e11)}
_STARTS = {"T": 300.0, "P": 1e5}
_EXPANSIONS = 40
_SCAN = 120
_SCANNED = {"T": (50.0, 3000.0), "P": (1.0, 1e9)}
_LOCATED = 1e-3
_NEWTON_STEPS = 30
_RISES = {("T", name): 1.0 for name in PROPERTIES} | {("P", name): -1.0 for name in PROPERTIES}
"""Whether a property rises or falls with the unknown."""


@dataclass(frozen=True)
class SpecifiedFlash:
    """Answers for ``N`` states: temperature, pressure, and the phases there; T and P are NaN where none was found."""

    T: Array
    P: Array
    result: FlashResult


@dataclass(frozen=True)
class _Problem:
    """What is given: ``known`` ("T" or "P") with its values, a property with its target values, and feeds."""

    model: PhaseModel
    heat_capacities: Sequence[HeatCapacity | None]
    known: str
    given: Array
    name: str
    target: Array
    z: Array

    @property
    def unknown(self) -> str:
        return "P" if self.known == "T" else "T"

    def rows(self, index: Index) -> _Problem:
        return _Problem(
            self.model, self.heat_capacities, self.known, self.given[index], self.name, self.target[index], self.z[index]
        )

    def states(self, ln_u: Array) -> tuple[Array, Array]:
        """T and P where the logarithm of the unknown is ``ln_u``."""
        return (self.given, np.exp(ln_u)) if self.known == "T" else (np.exp(ln_u), self.given)

    @property
    def scale(self) -> Array:
        """What a property's error is measured by."""
        if self.name == FRACTION:
            return np.ones_like(self.target)
        if self.name == "V":
            return np.abs(self.target)
        T = self.given if self.known == "T" else np.full_like(self.given, T_REFERENCE)
        return np.full_like(self.target, R) if self.name == "S" else R * T


def flash_to(
    model: PhaseModel,
    heat_capacities: Sequence[HeatCapacity | None],
    known: str,
    given: Array,
    name: str,
    target: Array,
    z: Array,
) -> SpecifiedFlash:
    """Equilibrium of feeds ``z (N, C)`` at given ``known`` ("T" or "P") where the molar property ``name`` is ``target (N,)``."""
    problem = _Problem(model, heat_capacities, known, given, name, target, z)
    with np.errstate(all="ignore"):
        answer = _solve(problem, *_bracket(problem))
        lost = np.flatnonzero(~np.isfinite(answer.T + answer.P))
        if not lost.size:
            return answer
        # what neither rises nor falls throughout: try each passage of the target in turn
        for low, high in _passages(problem.rows(lost)):
            open_ = np.flatnonzero(np.isfinite(low) & ~np.isfinite(answer.T[lost] + answer.P[lost]))
            if open_.size:
                part = problem.rows(lost[open_])
                answer = _put(answer, lost[open_], _solve(part, low[open_], high[open_]))
        return answer


def _solve(problem: _Problem, low: Array, high: Array) -> SpecifiedFlash:
    """Locate every state roughly; solve as two phases or one, as it turned out; search on for those that this did not answer."""
    n = len(problem.z)
    answer = SpecifiedFlash(np.full(n, np.nan), np.full(n, np.nan), _nothing(problem.z))
    bracketed = np.flatnonzero(np.isfinite(low))
    if not bracketed.size:
        return answer
    some = problem.rows(bracketed)
    ln_u, left, right = _search(some, _error, low[bracketed], high[bracketed], _LOCATED)
    quick = _quickly(some, ln_u, left, right)
    answer = _put(answer, bracketed, quick)
    open_ = np.flatnonzero(~np.isfinite(quick.T + quick.P))
    if open_.size:
        answer = _put(answer, bracketed[open_], _thoroughly(some.rows(open_), left[open_], right[open_]))
    return answer


def _nothing(z: Array) -> FlashResult:
    n, c = z.shape
    two, one = np.full((n, 2), np.nan), np.full(n, np.nan)
    return FlashResult(
        np.ones(n, dtype=np.intp), two, np.full((n, 2, c), np.nan), two, np.full((n, 2), -1, dtype=np.int8), one, one
    )


def _put(answer: SpecifiedFlash, index: Index, part: SpecifiedFlash) -> SpecifiedFlash:
    """The answer with the rows ``index`` taken from ``part``."""

    def merged(whole: Array, some: Array) -> Array:
        result = whole.copy()
        result[index] = some
        return result

    fields = {f: merged(getattr(answer.result, f), getattr(part.result, f)) for f in FlashResult.__dataclass_fields__}
    return SpecifiedFlash(merged(answer.T, part.T), merged(answer.P, part.P), FlashResult(**fields))  # type: ignore[arg-type]


def _quickly(problem: _Problem, ln_u: Array, low: Array, high: Array) -> SpecifiedFlash:
    """Two phases where the flash at the rough place has two; elsewhere one, by its own root within what is left of the bracket."""
    T, P = problem.states(ln_u)
    result = flash(problem.model, T, P, problem.z)
    two = result.n_phases == 2
    answer = SpecifiedFlash(np.where(two, T, np.nan), np.where(two, P, np.nan), result)
    pairs, single = np.flatnonzero(two), np.flatnonzero(~two)
    if pairs.size:
        answer = _together(problem, answer, ln_u, pairs, np.zeros(len(T), dtype=bool))
    if single.size and problem.name != FRACTION:
        part = problem.rows(single)
        ends = _single_error(part, low[single]), _single_error(part, high[single])
        inside = np.flatnonzero(np.sign(ends[0]) == -np.sign(ends[1]))
        if inside.size:
            rows, part = single[inside], part.rows(inside)
            at = _search(part, _single_error, low[rows], high[rows], 1e-15)[0]
            T, P = part.states(at)
            answer = _put(answer, rows, SpecifiedFlash(T, P, flash(problem.model, T, P, part.z)))
    return _checked(problem, answer)


def _thoroughly(problem: _Problem, low: Array, high: Array) -> SpecifiedFlash:
    """By flashes at T and P to the end; and where the property jumps there, with both phases at the jump."""
    ln_u = _search(problem, _error, low, high, 1e-14)[0]
    jump = np.abs(_error(problem, ln_u)) > 1e-9
    T, P = problem.states(ln_u)
    result = flash(problem.model, T, P, problem.z)
    answer = SpecifiedFlash(T, P, result)
    two = np.flatnonzero((result.n_phases == 2) | jump)
    return _checked(problem, _together(problem, answer, ln_u, two, jump) if two.size else answer)


def _error(problem: _Problem, ln_u: Array) -> Array:
    """How far the property is above its target, by its scale, over flashes at the unknown's values."""
    T, P = problem.states(ln_u)
    result = flash(problem.model, T, P, problem.z)
    return (total(problem, T, P, result) - problem.target) / problem.scale


def _single_error(problem: _Problem, ln_u: Array) -> Array:
    """The same of the feed as one phase, the one of lower Gibbs energy."""
    T, P = problem.states(ln_u)
    x = np.maximum(problem.z, ABSENT)
    value = (problem.z * _partial(problem, problem.model.at(T, P).evaluate(x), T, P, x)).sum(axis=-1)
    return np.asarray((value - problem.target) / problem.scale)


def _checked(problem: _Problem, answer: SpecifiedFlash) -> SpecifiedFlash:
    """The answer without what misses its target, or leaves the unknown open, as an incompressible liquid does the pressure."""
    there = np.flatnonzero(np.isfinite(answer.T) & np.isfinite(answer.P))
    error = np.full(len(answer.T), np.inf)
    if there.size:
        fields = {f: getattr(answer.result, f)[there] for f in FlashResult.__dataclass_fields__}
        some, ln_u = problem.rows(there), np.log((answer.T if problem.unknown == "T" else answer.P)[there])
        value = total(some, answer.T[there], answer.P[there], FlashResult(**fields))
        error[there] = np.abs(value - some.target) / some.scale
        single = np.flatnonzero(fields["n_phases"] == 1)
        if problem.name != FRACTION and single.size:
            alone = some.rows(single)
            flat = np.abs(_error(alone, ln_u[single] + 0.02) - _error(alone, ln_u[single] - 0.02)) < 1e-12
            error[there[single[flat]]] = np.inf
    missed = error > 1e-7
    T, P = np.where(missed, np.nan, answer.T), np.where(missed, np.nan, answer.P)
    fields = {f: getattr(answer.result, f) for f in FlashResult.__dataclass_fields__}
    fields["residual"] = np.where(missed, np.nan, fields["residual"])
    return SpecifiedFlash(T, P, FlashResult(**fields))


def total(problem: _Problem, T: Array, P: Array, result: FlashResult) -> Array:
    """The property of all phases together ``(N,)``."""
    if problem.name == FRACTION:
        return np.asarray(np.where(result.kinds == VAPOR, result.amount, 0.0).sum(axis=1))
    value = np.zeros(len(T))
    for k in (0, 1):
        there = np.flatnonzero(np.isfinite(result.amount[:, k]))
        x = np.maximum(result.x[there, k], ABSENT)
        e = problem.model.at(T[there], P[there]).evaluate(x, result.kinds[there, k])
        partial = _partial(problem, e, T[there], P[there], x)
        value[there] += result.amount[there, k] * (result.x[there, k] * partial).sum(axis=-1)
    return value


def _partial(problem: _Problem, e: Evaluation, T: Array, P: Array, x: Array) -> Array:
    """Partial molar values of the property ``(N, C)``; the volume of models that have none is that of their Z."""
    t, p = T[:, None], P[:, None]
    if problem.name == "V":
        return np.broadcast_to((e.Z * R * T / P)[:, None], x.shape)
    h, s = np.zeros_like(x), np.zeros_like(x)
    for i, correlation in enumerate(problem.heat_capacities):
        if correlation is None:
            present = x[:, i] > ABSENT
            h[:, i] = s[:, i] = np.where(present, np.nan, 0.0)
        else:
            h[:, i], s[:, i] = correlation.integrals(T, T_REFERENCE)
    H = h - R * t**2 * e.dT
    if problem.name == "S":
        return np.asarray(s - R * (np.log(p / P_REFERENCE) + np.log(x) + e.ln_phi + t * e.dT))
    return np.asarray(H if problem.name == "H" else H - (e.Z * R * T)[:, None])


def _bracket(problem: _Problem) -> tuple[Array, Array]:
    """Values of the unknown's logarithm between which the property passes its target; NaN where it does not."""
    n, rises = len(problem.z), _RISES[problem.unknown, problem.name]
    least, most = (np.log(v) for v in _LIMITS[problem.unknown])
    here = np.full(n, np.log(_STARTS[problem.unknown]))
    error = _error(problem, here)
    direction = -np.sign(error) * rises
    low, high = np.full(n, np.nan), np.full(n, np.nan)
    exact = error == 0.0
    low[exact], high[exact] = here[exact] - 1e-9, here[exact] + 1e-9
    active = np.flatnonzero(np.isfinite(error) & ~exact)
    step = 0.15 if problem.unknown == "T" else 1.0
    for _ in range(_EXPANSIONS):
        if not active.size:
            break
        there = np.clip(here[active] + step * direction[active], least, most)
        found = _error(problem.rows(active), there)
        passed = np.isfinite(found) & (np.sign(found) != np.sign(error[active]))
        won = active[passed]
        low[won], high[won] = np.minimum(here[won], there[passed]), np.maximum(here[won], there[passed])
        here[active], error[active] = there, np.where(np.isfinite(found), found, error[active])
        active = active[~passed & (there > least) & (there < most)]
        step *= 1.25
    return low, high


def _passages(problem: _Problem) -> Iterator[tuple[Array, Array]]:
    """The lowest values of the unknown's logarithm between which the property passes its target, then the next, and on; NaN where none."""
    grid = np.log(np.geomspace(*_SCANNED[problem.unknown], _SCAN))
    errors = np.stack([_error(problem, np.full(len(problem.z), ln_u)) for ln_u in grid])
    crossing = np.isfinite(errors[:-1]) & np.isfinite(errors[1:]) & (np.sign(errors[:-1]) != np.sign(errors[1:]))
    while crossing.any():
        some, first = crossing.any(axis=0), crossing.argmax(axis=0)
        yield np.where(some, grid[first], np.nan), np.where(some, grid[first + 1], np.nan)
        crossing[first[some], np.flatnonzero(some)] = False


def _search(
    problem: _Problem, error: Callable[[_Problem, Array], Array], low: Array, high: Array, tolerance: float
) -> tuple[Array, Array, Array]:
    """Where in the bracket the property has its target, to a relative ``tolerance`` of the unknown, and what is left of the bracket."""
    everything = np.arange(len(low), dtype=float)

    def of_rows(ln_u: Array, which: Array) -> Array:
        return error(problem.rows(np.ravel(which).astype(np.intp)), np.ravel(ln_u)).reshape(ln_u.shape)

    tolerances = {"xatol": tolerance, "xrtol": 0.0, "fatol": 1e-12, "frtol": 0.0}
    found = find_root(of_rows, (low, high), args=(everything,), tolerances=tolerances, maxiter=60)  # type: ignore[call-overload]
    left, right = (np.asarray(b) for b in found.bracket)
    return np.asarray(found.x), left, right


def _together(problem: _Problem, answer: SpecifiedFlash, ln_u: Array, index: Index, jump: NDArray[np.bool_]) -> SpecifiedFlash:
    """Two-phase states refined by Newton's method in everything at once, where it comes to an answer."""
    part = problem.rows(index)
    z = np.maximum(part.z, ABSENT)
    ln_k, beta, kinds = _starts(part, answer, ln_u[index], index, jump[index])
    found = _newton(part, z, ln_k, beta, ln_u[index], kinds)
    good = np.flatnonzero(found.sound)
    if not good.size:
        return answer
    rows = index[good]
    T, P = answer.T.copy(), answer.P.copy()
    T[rows], P[rows] = part.rows(good).states(found.ln_u[good])
    fields = {f: getattr(answer.result, f).copy() for f in FlashResult.__dataclass_fields__}
    solved = Split(found.beta[good], 1.0 - found.beta[good], found.x[good], found.y[good])
    pair = two_phase_result(problem.model, T[rows], P[rows], part.z[good], solved, kinds[good], found.residual[good])
    for f, values in fields.items():
        values[rows] = getattr(pair, f)
    return SpecifiedFlash(T, P, FlashResult(**fields))


def _starts(
    problem: _Problem, answer: SpecifiedFlash, ln_u: Array, index: Index, jump: NDArray[np.bool_]
) -> tuple[Array, Array, Kinds]:
    """ln K and β to begin with, and `VAPOR` where the pair is a vapor and a liquid, else `STABLE`.

    They are those of the two-phase flash; at a jump, what the two roots of the feed itself give.
    """
    x = np.maximum(answer.result.x[index], ABSENT)
    first_is_vapor = answer.result.kinds[index, 0] == VAPOR
    ln_k = np.log(x[:, 0]) - np.log(x[:, 1])
    beta = answer.result.amount[index, 0]
    ln_k = np.where(first_is_vapor[:, None], ln_k, -ln_k)
    beta = np.where(first_is_vapor, beta, 1.0 - beta)
    single = jump & (answer.result.n_phases[index] == 1)
    mixed = answer.result.kinds[index, 0] != answer.result.kinds[index, 1]
    kinds = np.where(mixed | single, VAPOR, STABLE).astype(np.int8)
    if single.any():
        T, P = problem.states(ln_u)
        bound, z = problem.model.at(T, P), np.maximum(problem.z, ABSENT)
        at_root = bound.ln_phi(z, LIQUID) - bound.ln_phi(z, VAPOR)
        ln_k, beta = np.where(single[:, None], at_root, ln_k), np.where(single, 0.5, beta)
    return ln_k, beta, kinds


@dataclass(frozen=True)
class _Found:
    x: Array
    y: Array
    beta: Array
    ln_u: Array
    residual: Array

    @property
    def sound(self) -> NDArray[np.bool_]:
        return np.asarray((self.residual <= CONVERGED) & (self.beta > 0.0) & (self.beta < 1.0))


def _newton(problem: _Problem, z: Array, ln_k: Array, beta: Array, ln_u: Array, kinds: Kinds) -> _Found:
    n, c = z.shape
    best = _Found(z.copy(), z.copy(), beta.copy(), ln_u.copy(), np.full(n, np.inf))
    start = ln_u.copy()
    for _ in range(_NEWTON_STEPS):
        F, jacobian, x, y = _equations(problem, z, ln_k, beta, ln_u, kinds)
        residual = np.abs(F).max(axis=-1)
        better = residual < best.residual
        for name, value in (("x", x), ("y", y), ("beta", beta), ("ln_u", ln_u), ("residual", residual)):
            getattr(best, name)[better] = value[better]
        if not (best.residual > 0.01 * CONVERGED).any():
            break
        usable = np.isfinite(jacobian).all(axis=(1, 2)) & np.isfinite(F).all(axis=1)
        jacobian[~usable], F[~usable] = np.eye(c + 2), 0.0
        step = -np.linalg.lstsq(jacobian[0], F[0], rcond=None)[0][None] if n == 1 else -_solved(jacobian, F)
        limit = np.maximum.reduce([np.abs(step[:, :c]).max(axis=-1), np.abs(step[:, c]) / 0.5, np.abs(step[:, c + 1]) / 0.05])
        step /= np.maximum(1.0, limit)[:, None]
        ln_k, beta = ln_k + step[:, :c], np.clip(beta + step[:, c], -0.05, 1.05)
        ln_u = np.clip(ln_u + step[:, c + 1], start - 0.3, start + 0.3)
    return best


def _solved(jacobian: Array, F: Array) -> Array:
    try:
        return np.asarray(np.linalg.solve(jacobian, F[:, :, None])[:, :, 0])
    except np.linalg.LinAlgError:
        return np.stack([np.linalg.lstsq(j, f, rcond=None)[0] for j, f in zip(jacobian, F, strict=True)])


def _equations(
    problem: _Problem, z: Array, ln_k: Array, beta: Array, ln_u: Array, kinds: Kinds
) -> tuple[Array, Array, Array, Array]:
    """Residuals ``(N, C + 2)``: equal fugacities, Σ(y - x), the property; and their derivatives by ln K, β and ln u."""
    n, c = z.shape
    k = np.exp(ln_k)
    t = 1.0 + beta[:, None] * (k - 1.0)
    x, y = z / t, k * z / t
    sum_x, sum_y = x.sum(axis=-1), y.sum(axis=-1)
    T, P = problem.states(ln_u)
    u = np.exp(ln_u)
    xn, yn = x / sum_x[:, None], y / sum_y[:, None]
    bound = problem.model.at(T, P)
    of_x = np.where(kinds == VAPOR, LIQUID, STABLE)
    at_x, at_y = bound.evaluate(xn, of_x), bound.evaluate(yn, kinds)
    slope = "dT" if problem.unknown == "T" else "dP"
    F = np.empty((n, c + 2))
    J = np.zeros((n, c + 2, c + 2))
    F[:, :c] = ln_k + at_y.ln_phi - at_x.ln_phi
    F[:, c] = (y - x).sum(axis=-1)
    dn_x, dn_y = at_x.dn / sum_x[:, None, None], at_y.dn / sum_y[:, None, None]
    dx_k, dy_k = -beta[:, None] * x * y / z, (1.0 - beta)[:, None] * x * y / z
    dx_b, dy_b = -x * (y - x) / z, -y * (y - x) / z
    J[:, :c, :c] = dn_y * dy_k[:, None, :] - dn_x * dx_k[:, None, :]
    J[:, np.arange(c), np.arange(c)] += 1.0
    J[:, :c, c] = np.einsum("nij,nj->ni", dn_y, dy_b) - np.einsum("nij,nj->ni", dn_x, dx_b)
    J[:, :c, c + 1] = u[:, None] * (getattr(at_y, slope) - getattr(at_x, slope))
    J[:, c, :c] = dy_k - dx_k
    J[:, c, c] = (dy_b - dx_b).sum(axis=-1)
    if problem.name == FRACTION:
        F[:, c + 1], J[:, c + 1, c] = beta - problem.target, 1.0
        return F, J, x, y
    vapor, liquid = beta[:, None] * y, (1.0 - beta)[:, None] * x

    def value(ln_v: Array) -> Array:
        """The property of these amounts, at another value of the unknown."""
        T, P = problem.states(ln_v)
        bound = problem.model.at(T, P)
        parts = ((xn, liquid, of_x), (yn, vapor, kinds))
        return sum(_sum_of(problem, bound.evaluate(f, kind), T, P, f, amounts) for f, amounts, kind in parts)  # type: ignore[return-value]

    scale, h = problem.scale, 1e-5
    F[:, c + 1] = (value(ln_u) - problem.target) / scale
    J[:, c + 1, c + 1] = (value(ln_u + h) - value(ln_u - h)) / (2.0 * h * scale)
    difference = _exact_partial(problem, at_y, T, P, yn) - _exact_partial(problem, at_x, T, P, xn)
    J[:, c + 1, :c] = difference * (beta * (1.0 - beta))[:, None] * x * y / z / scale[:, None]
    J[:, c + 1, c] = (difference * x * y / z).sum(axis=-1) / scale
    return F, J, x, y


def _sum_of(problem: _Problem, e: Evaluation, T: Array, P: Array, x: Array, amounts: Array) -> Array:
    return np.asarray((amounts * _partial(problem, e, T, P, x)).sum(axis=-1))


def _exact_partial(problem: _Problem, e: Evaluation, T: Array, P: Array, x: Array) -> Array:
    """Partial molar values as derivatives; volumes by the pressure derivative of ln φ."""
    if problem.name not in ("V", "U"):
        return _partial(problem, e, T, P, x)
    V = R * T[:, None] * (1.0 / P[:, None] + e.dP)
    if problem.name == "V":
        return np.asarray(V)
    return np.asarray(_partial(problem, e, T, P, x) + (e.Z * R * T)[:, None] - P[:, None] * V)
