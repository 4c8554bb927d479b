"""Flash where one of T and P is given, and beside it an enthalpy, entropy, internal energy, volume or share of vapor.

The state is first located along the unknown, T or P, by a bracketing search over flashes at given T and P; there the number of phases
settles. A state of several phases is then solved at once, see `simultaneous`. Where the property jumps on the way, as that of a
pure component or of a binary mixture of three phases does, the phases of both sides of the jump are there together.
"""

from __future__ import annotations

import functools
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from .arrays import ABSENT, Array, Index, Kinds
from .blocks import in_blocks, in_threads, put_rows, take_rows
from .brackets import narrowed
from .coldest import LEAST_T, coldest
from .compiled.equation_loops import Sought
from .equilibrium.flash import FlashResult, blank, easily
from .equilibrium.joining import most_phases
from .equilibrium.saturation import bubble_at_P, bubble_at_T
from .equilibrium.stability import UNSTABLE
from .models.contract import LIQUID, NOWHERE, SETTLED, SOLID, STABLE, VAPOR, PhaseModel
from .properties import value_of
from .simultaneous import Located, solve_together
from .specification import CALORIC, FRACTIONS, Specification, Thermodynamics

if TYPE_CHECKING:
    from concurrent.futures import Executor

_LIMITS = {"T": (LEAST_T, 20_000.0), "P": (1e-3, 1e11)}
"""How far the unknown is sought at most; the colder limit is `coldest`."""
_STARTS = {"T": 300.0, "P": 1e5}
_SHORTEST = 0.02
_EXPANSIONS = 40
_SCAN, _FEWER = 240, 80
"""Places at which a quantity is looked at: a share of vapor, which goes to its limits within little, and the others, enthalpies along pressure."""
_SCANNED = {"T": (50.0, 3000.0), "P": (1.0, 1e9)}
_STEADY = {("P", "H"), ("P", "S"), ("P", "U"), ("P", "V"), ("T", "S"), ("T", "V")}
"""Quantities that rise or fall steadily with the unknown beside what is known."""
_LOCATED = 1e-3
_BLOCK = 1024
_SAME = 1e-3
_NOISE = 1e-12
_JUMP = 1e-3
"""A difference of the property, over its scale, that is left within `_ASIDE` only where it jumps."""
_ASIDE = 1e-6
"""How far from a jump, in the logarithm of T or P, its sides are looked at: nearer, the phases of either could pass for both."""


@dataclass(frozen=True)
class SpecifiedFlash:
    """Answers for ``N`` states: temperature, pressure, and the phases there; T and P are NaN where none was found."""

    T: Array
    P: Array
    result: FlashResult

    @property
    def found(self) -> NDArray[np.bool_]:
        """Where there is an answer."""
        return np.asarray(np.isfinite(self.T) & np.isfinite(self.P))


FlashAt = Callable[[Thermodynamics, Array, Array, Array], FlashResult]
"""What gives the phases of feeds at T and P."""


def _every_phase(mixture: Thermodynamics, T: Array, P: Array, z: Array) -> FlashResult:
    return easily(mixture.model, T, P, z)


@dataclass(frozen=True)
class _Problem:
    """What is given: ``known`` ("T" or "P") and the property ``name``, with their values, and feeds; and what gives the phases at T and P."""

    wanted: Specification
    known: str
    name: str
    at: FlashAt = _every_phase

    @property
    def unknown(self) -> str:
        return "P" if self.known == "T" else "T"

    @property
    def rises(self) -> float:
        """Whether the property rises or falls with the unknown."""
        return 1.0 if self.unknown == "T" else -1.0

    def rows(self, index: Index) -> _Problem:
        return _Problem(self.wanted.rows(index), self.known, self.name, self.at)

    def __len__(self) -> int:
        return len(self.wanted.z)

    def states(self, ln_u: Array) -> tuple[Array, Array]:
        """T and P where the logarithm of the unknown is ``ln_u``."""
        given = self.wanted.given[self.known]
        return (given, np.exp(ln_u)) if self.known == "T" else (np.exp(ln_u), given)

    def flash(self, ln_u: Array) -> SpecifiedFlash:
        T, P = self.states(ln_u)
        return SpecifiedFlash(T, P, self.at(self.wanted.mixture, T, P, self.wanted.z))

    def error(self, ln_u: Array) -> Array:
        """How far the property is above its target, by its scale, over flashes at the unknown's values."""
        at = self.flash(ln_u)
        return self.wanted.error(self.name, at.T, at.P, at.result)

    def single_error(self, ln_u: Array) -> Array:
        """The same of the feed as one phase, the one of lower Gibbs energy."""
        T, P = self.states(ln_u)
        x = np.maximum(self.wanted.z, ABSENT)
        mixture = self.wanted.mixture
        value = value_of(self.name, mixture.model.at(T, P).evaluate(x), mixture.ideal(T, self.wanted.z), T, P, self.wanted.z)
        return np.asarray((value - self.wanted.given[self.name]) / self.wanted.scale(self.name))


def flash_to(
    mixture: Thermodynamics, known: str, given: Array, name: str, target: Array, z: Array, executor: Executor | None = None
) -> SpecifiedFlash:
    """Equilibrium of feeds ``z (N, C)`` at given ``known`` ("T" or "P") where the quantity ``name`` is ``target (N,)``."""
    work = functools.partial(_flash_block, mixture, known, name)
    if executor is None and mixture.model.free_loops() is not None:
        return in_threads(work, (given, target, z))
    return in_blocks(work, (given, target, z), _BLOCK, executor)


SCANNED = 2
"""States of one scan that a thread takes."""


def easily_to(
    mixture: Thermodynamics, known: str, given: Array, name: str, target: Array, z: Array, executor: Executor | None = None
) -> SpecifiedFlash:
    """The same where many answers are wanted, and some may be missing: what the compiled engine does not settle has none."""
    if mixture.model.free_loops() is None or mixture.plain_gases is None:
        return flash_to(mixture, known, given, name, target, z, executor)
    return in_threads(functools.partial(_settled_block, mixture, known, name), (given, target, z), SCANNED)


def _flash_block(mixture: Thermodynamics, known: str, name: str, given: Array, target: Array, z: Array) -> SpecifiedFlash:
    """In the compiled engine where it has the model, state by state; what that does not settle is solved by arrays."""
    answer, open_ = by_loops(mixture, known, given, name, target, z)
    if open_.size:
        put_rows(answer, open_, _by_arrays(mixture, known, name, given[open_], target[open_], z[open_]))
    return answer


def _settled_block(mixture: Thermodynamics, known: str, name: str, given: Array, target: Array, z: Array) -> SpecifiedFlash:
    return by_loops(mixture, known, given, name, target, z)[0]


def by_loops(mixture: Thermodynamics, known: str, given: Array, name: str, target: Array, z: Array) -> tuple[SpecifiedFlash, Index]:
    """What the compiled engine answers, and which states are open then."""
    answer, loops, gases = nothing(z, mixture.model), mixture.model.free_loops(), mixture.plain_gases
    if loops is None or (name in CALORIC and gases is None):
        return answer, np.arange(len(z))
    sought = Sought(((known, given), (name, target)), z, gases, mixture.molar_mass)
    outcome = loops.specified(sought, answer.T, answer.P, answer.result.columns)
    return answer, np.flatnonzero((outcome != SETTLED) & (outcome != NOWHERE))


def _by_arrays(mixture: Thermodynamics, known: str, name: str, given: Array, target: Array, z: Array) -> SpecifiedFlash:
    """In the reference engine, all states at once."""
    problem = _Problem(Specification(mixture, {known: given, name: target}, z), known, name)
    with np.errstate(all="ignore"):
        answer = _checked(problem, _between_phases(problem))
        open_ = np.flatnonzero(~answer.found)
        if open_.size:
            put_rows(answer, open_, _first_found(problem.rows(open_), _solve))
        return answer


def _between_phases(problem: _Problem) -> SpecifiedFlash:
    """States of one component between its saturated phases, whose shares follow from what these have of the property; no answer for others, or where solids could form."""
    wanted, name, model = problem.wanted, problem.name, problem.wanted.mixture.model
    answer = nothing(wanted.z, model)
    alone = np.flatnonzero((wanted.z > 0.0).sum(axis=1) == 1)
    if not alone.size or model.solids:
        return answer
    boiling = bubble_at_P if problem.known == "P" else bubble_at_T
    some = wanted.rows(alone)
    at = boiling(model, some.given[problem.known], some.z)
    share = some.given[name]
    if name not in FRACTIONS:
        ((vapor, liquid),) = saturated_values(wanted.mixture, [name], at.T, at.P, some.z)
        share = (share - liquid) / (vapor - liquid)
    between = np.flatnonzero(at.found & (share >= 0.0) & (share <= 1.0))
    if between.size:
        put_rows(answer, alone[between], side_by_side(some.rows(between), at.T[between], at.P[between], share[between]))
    return answer


def side_by_side(wanted: Specification, T: Array, P: Array, share: Array) -> SpecifiedFlash:
    """States of a vapor and a liquid of the same composition, from about where they are and the vapor's ``share (N,)``."""
    share = np.clip(share, 1e-6, 1.0 - 1e-6)
    n = np.stack([share, 1.0 - share], axis=1)[:, :, None] * wanted.z[:, None]
    kinds = np.tile(np.array([VAPOR, LIQUID], dtype=np.int8), (len(share), 1))
    return accepted(wanted, solve_together(wanted, T, P, n, kinds))


def saturated_values(mixture: Thermodynamics, names: Sequence[str], T: Array, P: Array, x: Array) -> Iterator[tuple[Array, Array]]:
    """Molar quantities of the vapor and of the liquid of ``x (N, C)`` at ``T`` and ``P (N,)``, name by name."""
    phases = [mixture.model.at(T, P).evaluate(np.maximum(x, ABSENT), kind) for kind in (VAPOR, LIQUID)]
    ideal = mixture.ideal(T, x)
    for name in names:
        vapor, liquid = (value_of(name, e, ideal, T, P, x) for e in phases)
        yield vapor, liquid


def flash_among(
    mixture: Thermodynamics,
    known: str,
    given: Array,
    name: str,
    target: Array,
    z: Array,
    at: FlashAt,
    executor: Executor | None = None,
) -> SpecifiedFlash:
    """The same among the phases that ``at`` gives at T and P, whatever else would form."""
    return in_blocks(functools.partial(_block_among, mixture, known, name, at), (given, target, z), _BLOCK, executor)


def _block_among(
    mixture: Thermodynamics, known: str, name: str, at: FlashAt, given: Array, target: Array, z: Array
) -> SpecifiedFlash:
    problem = _Problem(Specification(mixture, {known: given, name: target}, z), known, name, at)
    with np.errstate(all="ignore"):
        return _first_found(problem, _as_given)


def _as_given(problem: _Problem, low: Array, high: Array) -> SpecifiedFlash:
    """States in brackets of the unknown's logarithm, with the phases as they are there."""
    answer = nothing(problem.wanted.z, problem.wanted.mixture.model)
    bracketed = np.flatnonzero(np.isfinite(low))
    if bracketed.size:
        some = problem.rows(bracketed)
        ln_u, _, _ = _search(some, _Problem.error, low[bracketed], high[bracketed], 1e-14)
        put_rows(answer, bracketed, _checked(some, some.flash(ln_u)))
    return answer


def _first_found(problem: _Problem, solve: Callable[[_Problem, Array, Array], SpecifiedFlash]) -> SpecifiedFlash:
    """Answers between the values of the unknown that bracket the target; where that leads to none, each passage of the target in turn."""
    low, high = _bracket(problem)
    answer = solve(problem, low, high)
    # what rises or falls throughout and never passes its target has no answer
    lost = np.flatnonzero(~answer.found & (np.isfinite(low) | ((problem.known, problem.name) not in _STEADY)))
    if not lost.size:
        return answer
    for low, high in _passages(problem.rows(lost)):
        open_ = np.flatnonzero(np.isfinite(low) & ~answer.found[lost])
        if open_.size:
            put_rows(answer, lost[open_], solve(problem.rows(lost[open_]), low[open_], high[open_]))
    return answer


def other_solutions(mixture: Thermodynamics, known: str, given: float, name: str, target: float, z: Array, here: float) -> Array:
    """Values of the unknown, beside the one that is known to be ``here``, at which a scan finds one feed ``z (C,)`` with this property."""
    named = {known: np.array([given]), name: np.array([target])}
    problem = _Problem(Specification(mixture, named, z[None]), known, name)
    found = [here]
    with np.errstate(all="ignore"):
        for low, high in _passages(problem):
            if low[0] <= np.log(here) <= high[0]:
                continue
            answer = _solve(problem, low, high)
            unknown = float((answer.T if problem.unknown == "T" else answer.P)[0])
            if answer.found[0] and all(abs(unknown / other - 1.0) > 1e-6 for other in found):
                found.append(unknown)
    return np.array(found[1:])


def _solve(problem: _Problem, low: Array, high: Array) -> SpecifiedFlash:
    """Locate every state roughly; solve as several phases or one, as it turned out; search on for those that this did not answer."""
    answer = nothing(problem.wanted.z, problem.wanted.mixture.model)
    bracketed = np.flatnonzero(np.isfinite(low))
    if not bracketed.size:
        return answer
    some = problem.rows(bracketed)
    ln_u, left, right = _search(some, _Problem.error, low[bracketed], high[bracketed], _LOCATED)
    quick = _quickly(some, ln_u, left, right)
    put_rows(answer, bracketed, quick)
    open_ = np.flatnonzero(~quick.found | ~(quick.result.tm >= UNSTABLE))
    if open_.size:
        put_rows(answer, bracketed[open_], _thoroughly(some.rows(open_), left[open_], right[open_]))
    return answer


def nothing(z: Array, model: PhaseModel) -> SpecifiedFlash:
    """No answers yet, for feeds ``z (N, C)`` by a model."""
    one = np.full(len(z), np.nan)
    return SpecifiedFlash(one, one.copy(), blank(z, model.solids))


def _quickly(problem: _Problem, ln_u: Array, low: Array, high: Array) -> SpecifiedFlash:
    """Several phases where the flash at the rough place has them; elsewhere one, by its own root within what is left of the bracket."""
    rough = problem.flash(ln_u)
    answer = nothing(problem.wanted.z, problem.wanted.mixture.model)
    several = np.flatnonzero(rough.result.n_phases > 1)
    put_rows(answer, several, refined(problem.wanted.rows(several), take_rows(rough, several)))
    single = np.flatnonzero(rough.result.n_phases == 1)
    if single.size and problem.name not in FRACTIONS:
        part = problem.rows(single)
        ends = part.single_error(low[single]), part.single_error(high[single])
        inside = np.flatnonzero(np.sign(ends[0]) == -np.sign(ends[1]))
        if inside.size:
            rows, part = single[inside], part.rows(inside)
            at = _search(part, _Problem.single_error, low[rows], high[rows], 1e-15)[0]
            put_rows(answer, rows, part.flash(at))
    return _checked(problem, answer)


def _thoroughly(problem: _Problem, low: Array, high: Array) -> SpecifiedFlash:
    """Where the property jumps, with the phases of both sides; elsewhere by flashes at T and P to the end."""
    answer, wanted = nothing(problem.wanted.z, problem.wanted.mixture.model), problem.wanted
    _, low, high = _search(problem, _Problem.error, low, high, _ASIDE)
    sides = [problem.flash(side) for side in (low - _ASIDE, high + _ASIDE)]
    errors = [wanted.error(problem.name, side.T, side.P, side.result) for side in sides]
    renamed = np.zeros(len(problem), dtype=bool)
    for i in np.flatnonzero(np.abs(errors[1] - errors[0]) > _JUMP):
        row = np.array([i])
        left, right = (take_rows(side, row) for side in sides)
        put_rows(answer, row, _across(wanted.rows(row), problem.name, left, right))
        renamed[i] = _renamed(left.result, right.result)
    smooth = np.flatnonzero(~answer.found & ~renamed)
    if smooth.size:
        part = problem.rows(smooth)
        ln_u, _, _ = _search(part, _Problem.error, low[smooth], high[smooth], 1e-14)
        put_rows(answer, smooth, part.flash(ln_u))
    several = np.flatnonzero(answer.found & (answer.result.n_phases > 1))
    better = refined(wanted.rows(several), take_rows(answer, several))
    put_rows(answer, several[better.found], take_rows(better, np.flatnonzero(better.found)))
    return _checked(problem, answer)


def _renamed(left: FlashResult, right: FlashResult) -> bool:
    """Whether single states on both sides of a jump have the same phases by other names, so that only the share of vapor jumps."""
    Z = [np.sort(side.Z[0, : side.n_phases[0]]) for side in (left, right)]
    vapors = [int((side.kinds[0] == VAPOR).sum()) for side in (left, right)]
    return len(Z[0]) == len(Z[1]) and bool(np.abs(Z[0] / Z[1] - 1.0).max() < _SAME) and vapors[0] != vapors[1]


@dataclass
class _Candidate:
    """A phase found on one side of a jump."""

    x: Array
    Z: float
    kind: int
    amount: float


def _across(wanted: Specification, name: str, left: SpecifiedFlash, right: SpecifiedFlash) -> SpecifiedFlash:
    """One state at a jump: the phases of both sides together."""
    errors = [float(wanted.error(name, side.T, side.P, side.result)[0]) for side in (left, right)]
    apart = errors[0] - errors[1]
    share = float(np.clip(errors[0] / apart, 0.0, 1.0)) if np.isfinite(apart) and apart != 0.0 else 0.5
    phases: list[_Candidate] = []
    for side, part in ((left, 1.0 - share), (right, share)):
        for k in range(int(side.result.n_phases[0])):
            kind = int(side.result.kinds[0, k])
            new = _Candidate(side.result.x[0, k], float(side.result.Z[0, k]), kind, part * float(side.result.amount[0, k]))
            same = [p for p in phases if abs(p.Z / new.Z - 1.0) < _SAME and np.abs(p.x - new.x).max() < _SAME]
            if same:
                same[0].amount += new.amount
            else:
                phases.append(new)
    if not 2 <= len(phases) <= most_phases(wanted.mixture.model.solids):
        return nothing(wanted.z, wanted.mixture.model)
    phases.sort(key=lambda p: (min(p.kind, LIQUID), p.kind >= SOLID, -p.Z))
    n = np.stack([np.maximum(p.amount, 1e-6) * p.x for p in phases])[None]
    kinds = np.array([[p.kind for p in phases]], dtype=np.int8)
    fluids = np.flatnonzero(kinds[0] < SOLID)
    # at a jump of one composition the fluids are told apart by their volumes alone
    kinds[0, fluids] = [VAPOR, *[LIQUID] * (len(fluids) - 1)] if len(fluids) > 1 else kinds[0, fluids]
    return accepted(wanted, solve_together(wanted, left.T, left.P, n, kinds))


def refined(wanted: Specification, rough: SpecifiedFlash) -> SpecifiedFlash:
    """States near where they were located, solved at once; no answer where that came to none."""
    answer = nothing(wanted.z, wanted.mixture.model)
    for f in range(1, most_phases(wanted.mixture.model.solids) + 1):
        index = np.flatnonzero(rough.result.n_phases == f)
        if index.size:
            row = wanted.rows(index)
            put_rows(answer, index, accepted(row, locate(row, take_rows(rough, index), f)))
    return answer


def locate(wanted: Specification, rough: SpecifiedFlash, f: int) -> Located:
    """States solved at once from ones that have ``f`` phases each."""
    kinds = rough.result.kinds[:, :f]
    mixed = (kinds == VAPOR).any(axis=1) & (kinds == LIQUID).any(axis=1) | (kinds >= SOLID).any(axis=1)
    asked: Kinds = np.where(mixed[:, None], kinds, STABLE).astype(np.int8)
    n = rough.result.amount[:, :f, None] * rough.result.x[:, :f]
    return solve_together(wanted, rough.T, rough.P, n, asked)


def accepted(wanted: Specification, located: Located) -> SpecifiedFlash:
    """What was solved, as answers; none where the equations were not met."""
    answer = nothing(wanted.z, wanted.mixture.model)
    good = np.flatnonzero(located.sound & located.vapors_are_vapors(wanted))
    if good.size:
        given = wanted.rows(good).given
        T, P = given.get("T", located.T[good]), given.get("P", located.P[good])
        put_rows(answer, good, SpecifiedFlash(T, P, located.result(wanted, good)))
    return answer


def _checked(problem: _Problem, answer: SpecifiedFlash) -> SpecifiedFlash:
    """The answer without what misses its target, or leaves the unknown open to one side or both, as an incompressible liquid and an ideal vapor do the pressure."""
    there = np.flatnonzero(answer.found)
    error = np.full(len(answer.T), np.inf)
    if there.size:
        some, at = problem.rows(there), take_rows(answer, there)
        error[there] = np.abs(some.wanted.error(problem.name, at.T, at.P, at.result))
        single = np.flatnonzero(at.result.n_phases == 1)
        if problem.name not in FRACTIONS and single.size:
            alone, ln_u = some.rows(single), np.log((at.T if problem.unknown == "T" else at.P)[single])
            apart = np.array([alone.error(ln_u + step) - alone.error(ln_u) for step in (-0.02, 0.02)])
            error[there[single[(np.abs(apart) < _NOISE).any(axis=0)]]] = np.inf
    missed = np.flatnonzero(~(error <= 1e-7))
    put_rows(answer, missed, nothing(problem.wanted.z[missed], problem.wanted.mixture.model))
    return answer


def _bracket(problem: _Problem) -> tuple[Array, Array]:
    """Values of the unknown's logarithm between which the property passes its target; NaN where it does not."""
    n = len(problem)
    least, most = (np.full(n, np.log(v)) for v in _LIMITS[problem.unknown])
    if problem.unknown == "T":
        least = np.log(coldest(problem.wanted.mixture.model, problem.wanted.z))
    here = np.full(n, np.log(_STARTS[problem.unknown]))
    error = problem.error(here)
    direction = -np.sign(error) * problem.rises
    low, high = np.full(n, np.nan), np.full(n, np.nan)
    exact = error == 0.0
    low[exact], high[exact] = here[exact] - 1e-9, here[exact] + 1e-9
    active = np.flatnonzero(np.isfinite(error) & ~exact)
    step = np.full(n, 0.15 if problem.unknown == "T" else 1.0)
    for _ in range(_EXPANSIONS):
        if not active.size:
            break
        there = np.clip(here[active] + step[active] * direction[active], least[active], most[active])
        found = problem.rows(active).error(there)
        known = np.isfinite(found)
        passed = known & (np.sign(found) != np.sign(error[active]))
        won = active[passed]
        low[won], high[won] = np.minimum(here[won], there[passed]), np.maximum(here[won], there[passed])
        here[active], error[active] = np.where(known, there, here[active]), np.where(known, found, error[active])
        # where there is no state, as beyond the densest of an equation, not so far
        step[active] *= np.where(known, 1.25, 0.5)
        ended = known & ((there <= least[active]) | (there >= most[active]))
        active = active[~passed & ~ended & (step[active] > _SHORTEST)]
    return low, high


def _passages(problem: _Problem) -> Iterator[tuple[Array, Array]]:
    """The lowest values of the unknown's logarithm between which the property passes its target, then the next, and on; NaN where none."""
    count, n = _SCAN if problem.name in FRACTIONS else _FEWER, len(problem)
    grid = np.log(np.geomspace(*_SCANNED[problem.unknown], count))
    errors = problem.rows(np.tile(np.arange(n), count)).error(np.repeat(grid, n)).reshape(count, n)
    # rounding has both signs where the property does not depend on the unknown
    crossing = (np.sign(errors[:-1]) != np.sign(errors[1:])) & (np.maximum(np.abs(errors[:-1]), np.abs(errors[1:])) > _NOISE)
    while crossing.any():
        some, first = crossing.any(axis=0), crossing.argmax(axis=0)
        yield np.where(some, grid[first], np.nan), np.where(some, grid[first + 1], np.nan)
        crossing[first[some], np.flatnonzero(some)] = False
    yield from _dips(problem, grid, errors)


def _dips(problem: _Problem, grid: Array, errors: Array) -> Iterator[tuple[Array, Array]]:
    """Passages in pairs on both sides of an extremum that reaches beyond the target between points of a grid that do not."""
    side, size = np.sign(errors), np.abs(errors)
    lower = np.minimum(size[:-2], size[2:]) - size[1:-1]
    dip = (side[1:-1] == side[:-2]) & (side[1:-1] == side[2:]) & (lower > _NOISE)
    while dip.any():
        some = np.flatnonzero(dip.any(axis=0))
        first = dip[:, some].argmax(axis=0)
        dip[first, some] = False
        part, sign = problem.rows(some), side[first + 1, some]
        lowest = _lowest(part, sign, grid[first], grid[first + 1], grid[first + 2])
        beyond = np.flatnonzero(sign * part.error(lowest) < 0.0)
        for low, high in ((grid[first], lowest), (lowest, grid[first + 2])):
            bracket = np.full((2, len(problem)), np.nan)
            bracket[:, some[beyond]] = low[beyond], high[beyond]
            if beyond.size:
                yield bracket[0], bracket[1]


def _lowest(problem: _Problem, sign: Array, low: Array, middle: Array, high: Array) -> Array:
    """Where in the brackets the error times ``sign`` is smallest."""
    from scipy.optimize.elementwise import find_minimum

    def of_rows(ln_u: Array, which: Array) -> Array:
        rows = np.ravel(which).astype(np.intp)
        return (sign[rows] * problem.rows(rows).error(np.ravel(ln_u))).reshape(ln_u.shape)

    tolerances = {"xatol": 1e-6, "xrtol": 0.0, "fatol": 0.0, "frtol": 0.0}
    everything = np.arange(len(low), dtype=float)
    found = find_minimum(of_rows, (low, middle, high), args=(everything,), tolerances=tolerances, maxiter=60)  # type: ignore[call-overload]
    return np.asarray(found.x)


def _search(
    problem: _Problem, error: Callable[[_Problem, Array], Array], low: Array, high: Array, tolerance: float
) -> tuple[Array, Array, Array]:
    """Where in the bracket the property has its target, to a relative ``tolerance`` of the unknown, and what is left of the bracket."""
    return narrowed(lambda ln_u, which: error(problem.rows(which), ln_u), low, high, tolerance)
