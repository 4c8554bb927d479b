"""Flash where neither T nor P is given, but two of enthalpy, entropy, internal energy, volume and share of vapor.

One quantity is held by a flash at given T or P, and along that T or P the other one is brought to its target. The pairing is such that
the second rises by thermodynamic stability wherever there is a choice:

    (∂H/∂P)_S = V,   (∂U/∂P)_S = -P (∂V/∂P)_S,   (∂U/∂T)_V = Cv,   (∂S/∂T)_V = Cv/T   are all positive.

At the end both are solved at once with the phases (`simultaneous`). Before that, this is tried from a few likely places, which mostly does: from usual conditions, and from where a
coarse grid of flashes has values of both quantities on either side of their targets. Where it nowhere has, there is no such state.
"""

from __future__ import annotations

import functools
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .arrays import Array, Index, Kinds
from .blocks import in_threads, put_rows, take_rows
from .brackets import FEW, narrowed
from .coldest import coldest
from .compiled.equation_loops import Sought
from .equilibrium.flash import FlashResult, easily, roughly
from .equilibrium.joining import most_phases
from .equilibrium.stability import UNSTABLE
from .models.contract import SETTLED, UNSETTLED
from .pure_saturation import saturated
from .specification import CALORIC, FRACTIONS, Specification
from .specified_flash import SCANNED, SpecifiedFlash, accepted, locate, nothing, refined

Inner = Callable[[Array, Index], SpecifiedFlash]
"""States at given values of the outer unknown for some rows, with the inner quantity at its target."""

_PAIRS = {("S", "H"): "P", ("S", "U"): "P", ("V", "U"): "T", ("V", "S"): "T", ("V", "H"): "T", ("H", "U"): "P"}
_HOTTEST, _TEMPERATURES = 2500.0, 16
_PRESSURES = np.geomspace(0.1, 1e10, 18)
"""Of the coarse grid."""
_WINDOW, _PLACES, _MARGIN = 3, 4, 1.3
_BETWEEN = 12
"""Values that are gone through between the outermost of such places."""
_WEIGHT = {"H": 0.1, "U": 0.1, "S": 0.2, "vapor_fraction": 1.0, "vapor_mass_fraction": 1.0}
"""How much an error counts, by its scale, beside the logarithm of a ratio of volumes."""
_GRID = {"T": np.geomspace(60.0, 2500.0, 28), "P": np.geomspace(1e2, 1e9, 29)}
_PARTS = {"T": (slice(3, None), slice(0, 4)), "P": (slice(None),)}
"""What of the grid is gone through first, and what only where that has no answer: in the cold nearly everything is solid, and fluids are hard to find."""
_START = {"T": 300.0, "P": 1e5}
_ROUNDS, _NEARER = 4, 0.5
"""How often everything is solved at once from a place, as long as each time leaves less than that of the error."""
_OTHER_PRESSURE, _SAME = 1.5, 1e-9
_APART = 1e-5
_TOLERANCE = 1e-7
_JUMP = 1e-2
"""An error that is left where the unknown is narrowed down to a millionth: more is none of rounding."""


def pairing(names: set[str]) -> tuple[str, str, str]:
    """Which quantity is held inside, which is brought to its target, and along which of T and P."""
    for (inner, outer), unknown in _PAIRS.items():
        if names == {inner, outer}:
            return inner, outer, unknown
    inner = next(n for n in names if n.startswith("vapor"))
    (outer,) = names - {inner}
    return inner, outer, "T"


def flash_without(wanted: Specification, inner: Inner, outer: str, unknown: str) -> SpecifiedFlash:
    """States ``wanted`` where ``inner`` holds one quantity along ``unknown`` and ``outer`` has to reach its target."""
    with np.errstate(all="ignore"):
        answer = saturated(wanted)
        index = np.flatnonzero(~answer.found)
        if index.size:
            direct, where = _directly(wanted.rows(index), unknown)
            put_rows(answer, index, direct)
            left = np.flatnonzero(~direct.found & np.isfinite(where[0]))
            index = index[left]
            if index.size:
                between = np.geomspace(where[0, left], where[1, left], _BETWEEN)
                put_rows(answer, index, _scanned(wanted.rows(index), _some(inner, index), outer, [between]))
        loose = np.flatnonzero(_any_pressure(wanted, answer))
        if loose.size:
            put_rows(answer, loose, nothing(wanted.z[loose], wanted.mixture.model))
        return answer


def others_without(wanted: Specification, inner: Inner, outer: str, unknown: str, known: float) -> list[SpecifiedFlash]:
    """Every further state that a scan finds for the one that is ``wanted``, of which an answer is ``known`` by its ``unknown``."""
    found: list[SpecifiedFlash] = []
    with np.errstate(all="ignore"):
        for low, high in _passages(wanted, inner, outer, _GRID[unknown][:, None]):
            if low[0] <= np.log(known) <= high[0]:
                continue
            answer = _between(wanted, inner, outer, low, high)
            if answer.found[0] and all(abs(answer.T[0] / a.T[0] - 1.0) + abs(np.log(answer.P[0] / a.P[0])) > _APART for a in found):
                found.append(answer)
    return found


def _any_pressure(wanted: Specification, answer: SpecifiedFlash) -> NDArray[np.bool_]:
    """Where a single phase has what is wanted at any pressure, as a liquid does on whose fugacities the pressure has no effect."""
    free = np.zeros(len(wanted.z), dtype=bool)
    there = np.flatnonzero(answer.found & (answer.result.n_phases == 1))
    if there.size and not any(name in FRACTIONS for name in wanted.given):
        some, at = wanted.rows(there), take_rows(answer, there)
        elsewhere = [some.error(name, at.T, _OTHER_PRESSURE * at.P, at.result) for name in some.given]
        free[there] = np.abs(elsewhere).max(axis=0) < _SAME
    return free


def flash_along(wanted: Specification, inner: Inner, outer: str, unknown: str) -> SpecifiedFlash:
    """The same by searching along ``unknown`` alone, so that the states are such as ``inner`` gives."""
    with np.errstate(all="ignore"):
        grid = np.broadcast_to(_GRID[unknown][:, None], (len(_GRID[unknown]), len(wanted.z)))
        return _scanned(wanted, inner, outer, [grid[part] for part in _PARTS[unknown]])


def _directly(wanted: Specification, unknown: str) -> tuple[SpecifiedFlash, Array]:
    """States reached from usual conditions, else from likely places of a coarse grid of flashes; and between which values of ``unknown`` there may be one ``(2, N)``, NaN where none."""
    n = len(wanted.z)
    answer, where = _rounds(wanted, *(np.full(n, _START[name]) for name in ("T", "P"))), np.full((2, n), np.nan)
    index = np.flatnonzero(~answer.found)
    # rough K-values know of no second liquid, whose energy of mixing may be all that tells where the targets are
    for phases in (roughly, easily):
        if not index.size:
            break
        likely = _likely(wanted.rows(index), phases)
        where[:, index] = likely.T_range if unknown == "T" else likely.P_range
        place, row = np.nonzero(np.isfinite(likely.T))
        found = _rounds(wanted.rows(index[row]), likely.T[place, row], likely.P[place, row])
        # of the places that lead to an answer the first one counts: the last that is put
        for k in reversed(range(_PLACES)):
            led = np.flatnonzero(found.found & (place == k))
            put_rows(answer, index[row[led]], take_rows(found, led))
        index = index[~np.isfinite(likely.T).any(axis=0)]
    return answer, where


class _Likely(NamedTuple):
    """T and P ``(K, N)`` of places of a grid next to which both quantities pass their targets, that which comes nearest first; between which values ``(2, N)`` all of these lie; NaN where there are none."""

    T: Array
    P: Array
    T_range: Array
    P_range: Array


def _likely(wanted: Specification, phases: Callable[..., FlashResult]) -> _Likely:
    """Looked for on a coarse grid of flashes, those that are hard left out: deep in the cold, where many liquids would be solids."""
    model, n = wanted.mixture.model, len(wanted.z)
    shape = n, len(_PRESSURES), _TEMPERATURES
    T = np.broadcast_to(np.geomspace(coldest(model, wanted.z), _HOTTEST, _TEMPERATURES, axis=1)[:, None, :], shape).ravel()
    P = np.broadcast_to(_PRESSURES[:, None], shape).ravel()
    every = wanted.rows(np.repeat(np.arange(n), len(T) // n))
    errors = _errors(every, T, P, phases(model, T, P, every.z))
    near = _passes(errors.reshape(-1, *shape))
    away = np.where(near & np.isfinite(errors[0]).reshape(n, -1), np.abs(errors).sum(axis=0).reshape(n, -1), np.inf)
    order = np.argsort(away, axis=1)[:, :_PLACES]
    there = np.isfinite(np.take_along_axis(away, order, axis=1))
    at_T, at_P = (np.where(there, np.take_along_axis(of.reshape(n, -1), order, axis=1), np.nan) for of in (T, P))
    ranges = (_range(of.reshape(n, -1), near) for of in (T, P))
    return _Likely(at_T.T, at_P.T, *ranges)


def _range(values: Array, some: NDArray[np.bool_]) -> Array:
    """The least and the largest ``(2, N)`` of some ``values (N, K)``, and a little more; NaN where there are none."""
    ends = np.stack([np.where(some, values, np.inf).min(axis=1), np.where(some, values, 0.0).max(axis=1)])
    return np.where(some.any(axis=1), ends * np.array([[1.0 / _MARGIN], [_MARGIN]]), np.nan)


def _errors(wanted: Specification, T: Array, P: Array, result: FlashResult) -> Array:
    """How far both quantities are above their targets ``(2, N)``, in measures that can be added; NaN where there are no phases."""
    errors = []
    for name, target in wanted.given.items():
        value = wanted.mixture.total(name, T, P, result)
        errors.append(np.log(value / target) if name == "V" else (value - target) / wanted.scale(name) * _WEIGHT[name])
    return np.where(np.isfinite(result.amount[:, 0]), np.stack(errors), np.nan)


def _passes(errors: Array) -> NDArray[np.bool_]:
    """Which places of grids ``(2, N, I, J)`` are in windows in which both errors have both signs ``(N, I J)``; what is not known has none."""
    lost, beside = np.isnan(errors), _WINDOW // 2

    def windows(values: Array) -> Array:
        padded = np.pad(values, ((0, 0), (0, 0), (beside, beside), (beside, beside)), mode="edge")
        return np.lib.stride_tricks.sliding_window_view(padded, (_WINDOW, _WINDOW), axis=(2, 3))

    least = windows(np.where(lost, np.inf, errors)).min(axis=(-1, -2))
    most = windows(np.where(lost, -np.inf, errors)).max(axis=(-1, -2))
    return np.asarray(((least <= 0.0) & (most >= 0.0)).all(axis=0).reshape(errors.shape[1], -1))


@dataclass
class _Tried:
    """States that the compiled engine comes to ``(N,)``, and what became of each."""

    answer: SpecifiedFlash
    outcome: Kinds


def _rounds(wanted: Specification, T: Array, P: Array) -> SpecifiedFlash:
    """States reached from ``T``, ``P`` by solving everything at once, each time for the phases of a flash where that has led so far."""
    mixture, answer, open_ = wanted.mixture, nothing(wanted.z, wanted.mixture.model), np.arange(len(T))
    plain = mixture.plain_gases is not None or not any(name in CALORIC for name in wanted.given)
    if len(T) and plain and mixture.model.free_loops() is not None:
        tried = in_threads(functools.partial(_by_loops, wanted), (T, P, open_), SCANNED)
        done = np.flatnonzero(tried.outcome == SETTLED)
        put_rows(answer, done, take_rows(tried.answer, done))
        open_ = np.flatnonzero(tried.outcome == UNSETTLED)
    put_rows(answer, open_, _rounds_by_arrays(wanted.rows(open_), T[open_], P[open_]))
    return answer


def _by_loops(wanted: Specification, T: Array, P: Array, rows: Index) -> _Tried:
    """In the compiled engine."""
    some, loops = wanted.rows(rows), wanted.mixture.model.free_loops()
    assert loops is not None
    one, other = some.given.items()
    answer = nothing(some.z, wanted.mixture.model)
    answer.T[:], answer.P[:] = T, P
    sought = Sought((one, other), some.z, wanted.mixture.plain_gases, wanted.mixture.molar_mass)
    return _Tried(answer, loops.near(sought, answer.T, answer.P, answer.result.columns))


def _rounds_by_arrays(wanted: Specification, T: Array, P: Array) -> SpecifiedFlash:
    """In the reference engine."""
    answer = nothing(wanted.z, wanted.mixture.model)
    T, P = T.copy(), P.copy()
    open_, error = np.arange(len(T)), np.full(len(T), np.inf)
    for _ in range(_ROUNDS):
        if not open_.size:
            break
        row, before = wanted.rows(open_), error[open_]
        at = SpecifiedFlash(T[open_], P[open_], easily(wanted.mixture.model, T[open_], P[open_], row.z))
        for f in range(1, most_phases(wanted.mixture.model.solids) + 1):
            some = np.flatnonzero(at.result.n_phases == f)
            if not some.size:
                continue
            located = locate(row.rows(some), take_rows(at, some), f)
            T[open_[some]], P[open_[some]], error[open_[some]] = located.T, located.P, located.residual
            fine = accepted(row.rows(some), located)
            sound = np.flatnonzero(fine.found & (fine.result.tm >= UNSTABLE))
            put_rows(answer, open_[some[sound]], take_rows(fine, sound))
        open_ = open_[~answer.found[open_] & (error[open_] < _NEARER * before)]
    return answer


def _scanned(wanted: Specification, inner: Inner, outer: str, stretches: Sequence[Array]) -> SpecifiedFlash:
    """By trying each passage of the target between values ``(K, N)`` of the unknown, one stretch after the other."""
    answer = nothing(wanted.z, wanted.mixture.model)
    for values in stretches:
        for low, high in _passages(wanted, inner, outer, values):
            index = np.flatnonzero(np.isfinite(low) & ~answer.found)
            if index.size:
                put_rows(answer, index, _between(wanted.rows(index), _some(inner, index), outer, low[index], high[index]))
        if answer.found.all():
            break
    return answer


def _passages(wanted: Specification, inner: Inner, outer: str, values: Array) -> Iterator[tuple[Array, Array]]:
    """Logarithms of the unknown on grids ``values (K, N)`` between which the outer quantity passes its target, one pair for each state after the other; NaN where none."""
    n, every = len(wanted.z), np.arange(len(wanted.z))
    grid, which = np.log(values), np.tile(every, len(values))
    errors = _error(wanted.rows(which), _some(inner, which), outer, values.ravel()).reshape(len(values), n)
    crossing = np.sign(errors[:-1]) == -np.sign(errors[1:])
    while crossing.any():
        some, first = crossing.any(axis=0), crossing.argmax(axis=0)
        yield np.where(some, grid[first, every], np.nan), np.where(some, grid[first + 1, every], np.nan)
        crossing[first[some], np.flatnonzero(some)] = False


def _some(inner: Inner, index: Index) -> Inner:
    return lambda values, rows: inner(values, index[rows])


def _error(wanted: Specification, inner: Inner, outer: str, values: Array) -> Array:
    at = inner(values, np.arange(len(values)))
    error = wanted.error(outer, at.T, at.P, at.result)
    return np.where(at.found, error, np.nan)


def _between(wanted: Specification, inner: Inner, outer: str, low: Array, high: Array) -> SpecifiedFlash:
    """The answers in brackets of the unknown's logarithm: roughly first, then all at once; and slowly where that comes to none, unless what is left there is a jump."""
    answer, open_ = nothing(wanted.z, wanted.mixture.model), np.ones(len(wanted.z), dtype=bool)
    for tolerance, jump in ((1e-2, np.inf), (1e-6, _JUMP), (1e-13, 0.0)):
        index = np.flatnonzero(~answer.found & open_)
        if not index.size:
            break
        rough = _located(wanted.rows(index), _some(inner, index), outer, low[index], high[index], tolerance)
        fine = refined(wanted.rows(index), rough)
        sound = fine.found & (fine.result.tm >= UNSTABLE)
        put_rows(answer, index[sound], take_rows(fine, np.flatnonzero(sound)))
        left = np.flatnonzero(~sound & rough.found)
        if left.size:
            row, at = wanted.rows(index[left]), take_rows(rough, left)
            error = np.abs(row.error(outer, at.T, at.P, at.result))
            there = error <= _TOLERANCE
            put_rows(answer, index[left[there]], take_rows(at, np.flatnonzero(there)))
            open_[index[left]] = error <= jump
    return answer


def _located(wanted: Specification, inner: Inner, outer: str, low: Array, high: Array, tolerance: float) -> SpecifiedFlash:
    def error(ln_u: Array, rows: Index) -> Array:
        return _error(wanted.rows(rows), _some(inner, rows), outer, np.exp(ln_u))

    few = 0 if wanted.mixture.model.costs_by_state() else FEW
    at = narrowed(error, low, high, tolerance, few)[0]
    return inner(np.exp(at), np.arange(len(low)))
