"""Flash where neither T nor P is given, but two of enthalpy, entropy, internal energy, volume and share of vapor.

One quantity is held by a flash at given T or P, and along that T or P the other one is brought to its target. The pairing is such that
the second rises by thermodynamic stability wherever there is a choice:

    (∂H/∂P)_S = V,   (∂U/∂P)_S = -P (∂V/∂P)_S,   (∂U/∂T)_V = Cv,   (∂S/∂T)_V = Cv/T   are all positive.

At the end both are solved at once with the phases (`simultaneous`). Before that, this is tried from a few likely places, which mostly does.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np
from numpy.typing import NDArray

from .arrays import Array, Index
from .blocks import put_rows, take_rows
from .brackets import narrowed
from .equilibrium.flash import flash
from .equilibrium.joining import most_phases
from .equilibrium.stability import UNSTABLE
from .pure_saturation import saturated
from .specification import FRACTIONS, Specification
from .specified_flash import SpecifiedFlash, accepted, locate, nothing, refined

Inner = Callable[[Array, Index], SpecifiedFlash]
"""States at given values of the outer unknown for some rows, with the inner quantity at its target."""

_PAIRS = {("S", "H"): "P", ("S", "U"): "P", ("V", "U"): "T", ("V", "S"): "T", ("V", "H"): "T", ("H", "U"): "P"}
_COARSE = {"T": np.geomspace(80.0, 1600.0, 16), "P": np.geomspace(1e3, 1e8, 13)}
_PLACES = 4
_WEIGHT = {"H": 0.1, "U": 0.1, "S": 0.2, "vapor_fraction": 1.0, "vapor_mass_fraction": 1.0}
"""How much an error counts, by its scale, beside the logarithm of a ratio of volumes."""
_GRID = {"T": np.geomspace(60.0, 2500.0, 28), "P": np.geomspace(1e2, 1e9, 29)}
_PARTS = {"T": (slice(3, None), slice(0, 4)), "P": (slice(None),)}
"""What of the grid is gone through first, and what only where that has no answer: in the cold nearly everything is solid, and fluids are hard to find."""
_START = {"T": 300.0, "P": 1e5}
_ROUNDS = 4
_OTHER_PRESSURE, _SAME = 1.5, 1e-9
_APART = 1e-5
_TOLERANCE = 1e-7


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
            put_rows(answer, index, _directly(wanted.rows(index)))
        index = np.flatnonzero(~answer.found)
        if index.size:
            put_rows(answer, index, flash_along(wanted.rows(index), _some(inner, index), outer, unknown))
        loose = np.flatnonzero(_any_pressure(wanted, answer))
        if loose.size:
            put_rows(answer, loose, nothing(wanted.z[loose], wanted.mixture.model))
        return answer


def others_without(wanted: Specification, inner: Inner, outer: str, unknown: str, known: float) -> list[SpecifiedFlash]:
    """Every further state that a scan finds for the one that is ``wanted``, of which an answer is ``known`` by its ``unknown``."""
    found: list[SpecifiedFlash] = []
    with np.errstate(all="ignore"):
        for low, high in _passages(wanted, inner, outer, _GRID[unknown]):
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
    if there.size and not any(name in ("V", *FRACTIONS) for name in wanted.given):
        some, at = wanted.rows(there), take_rows(answer, there)
        elsewhere = [some.error(name, at.T, _OTHER_PRESSURE * at.P, at.result) for name in some.given]
        free[there] = np.abs(elsewhere).max(axis=0) < _SAME
    return free


def flash_along(wanted: Specification, inner: Inner, outer: str, unknown: str) -> SpecifiedFlash:
    """The same by searching along ``unknown`` alone, so that the states are such as ``inner`` gives."""
    with np.errstate(all="ignore"):
        return _scanned(wanted, inner, outer, unknown)


def _directly(wanted: Specification) -> SpecifiedFlash:
    """States reached from usual conditions, else from those places of a coarse grid of flashes that come nearest to both quantities."""
    n = len(wanted.z)
    answer = _rounds(wanted, *(np.full(n, _START[name]) for name in ("T", "P")))
    index = np.flatnonzero(~answer.found)
    if not index.size:
        return answer
    places = _nearest(wanted.rows(index))
    for T, P in places:
        open_ = np.flatnonzero(~answer.found[index])
        if not open_.size:
            break
        put_rows(answer, index[open_], _rounds(wanted.rows(index[open_]), T[open_], P[open_]))
    return answer


def _nearest(wanted: Specification) -> list[tuple[Array, Array]]:
    """T and P ``(N,)`` of the best places of a grid, the best first."""
    n, (T, P) = len(wanted.z), (axis.ravel() for axis in np.meshgrid(_COARSE["T"], _COARSE["P"]))
    count = len(T)
    every = wanted.rows(np.repeat(np.arange(n), count))
    at_T, at_P = np.tile(T, n), np.tile(P, n)
    result = flash(wanted.mixture.model, at_T, at_P, every.z)
    away = np.zeros(n * count)
    for name, target in every.given.items():
        value = wanted.mixture.total(name, at_T, at_P, result)
        away += np.abs(np.log(value / target)) if name == "V" else np.abs((value - target) / every.scale(name)) * _WEIGHT[name]
    order = np.argsort(np.where(np.isfinite(away), away, np.inf).reshape(n, count), axis=1)[:, :_PLACES]
    return [(T[order[:, k]], P[order[:, k]]) for k in range(_PLACES)]


def _rounds(wanted: Specification, T: Array, P: Array) -> SpecifiedFlash:
    """States reached from ``T``, ``P`` by solving everything at once, each time for the phases of a flash where that has led so far."""
    answer = nothing(wanted.z, wanted.mixture.model)
    T, P = T.copy(), P.copy()
    open_ = np.arange(len(T))
    for _ in range(_ROUNDS):
        row = wanted.rows(open_)
        at = SpecifiedFlash(T[open_], P[open_], flash(wanted.mixture.model, T[open_], P[open_], row.z))
        for f in range(1, most_phases(wanted.mixture.model.solids) + 1):
            some = np.flatnonzero(at.result.n_phases == f)
            if not some.size:
                continue
            located = locate(row.rows(some), take_rows(at, some), f)
            T[open_[some]], P[open_[some]] = located.T, located.P
            fine = accepted(row.rows(some), located)
            sound = np.flatnonzero(fine.found & (fine.result.tm >= UNSTABLE))
            put_rows(answer, open_[some[sound]], take_rows(fine, sound))
        open_ = np.flatnonzero(~answer.found)
        if not open_.size:
            break
    return answer


def _scanned(wanted: Specification, inner: Inner, outer: str, unknown: str) -> SpecifiedFlash:
    """By trying each passage of the target."""
    answer = nothing(wanted.z, wanted.mixture.model)
    for part in _PARTS[unknown]:
        for low, high in _passages(wanted, inner, outer, _GRID[unknown][part]):
            index = np.flatnonzero(np.isfinite(low) & ~answer.found)
            if index.size:
                put_rows(answer, index, _between(wanted.rows(index), _some(inner, index), outer, low[index], high[index]))
        if answer.found.all():
            break
    return answer


def _passages(wanted: Specification, inner: Inner, outer: str, values: Array) -> Iterator[tuple[Array, Array]]:
    """Logarithms of the unknown on a grid between which the outer quantity passes its target, one pair for each state after the other; NaN where none."""
    n = len(wanted.z)
    grid, which = np.log(values), np.tile(np.arange(n), len(values))
    errors = _error(wanted.rows(which), _some(inner, which), outer, np.repeat(values, n)).reshape(len(values), n)
    crossing = np.sign(errors[:-1]) == -np.sign(errors[1:])
    while crossing.any():
        some, first = crossing.any(axis=0), crossing.argmax(axis=0)
        yield np.where(some, grid[first], np.nan), np.where(some, grid[first + 1], np.nan)
        crossing[first[some], np.flatnonzero(some)] = False


def _some(inner: Inner, index: Index) -> Inner:
    return lambda values, rows: inner(values, index[rows])


def _error(wanted: Specification, inner: Inner, outer: str, values: Array) -> Array:
    at = inner(values, np.arange(len(values)))
    error = wanted.error(outer, at.T, at.P, at.result)
    return np.where(at.found, error, np.nan)


def _between(wanted: Specification, inner: Inner, outer: str, low: Array, high: Array) -> SpecifiedFlash:
    """The answers in brackets of the unknown's logarithm: roughly first, then all at once; and slowly where that comes to none."""
    answer = nothing(wanted.z, wanted.mixture.model)
    for tolerance in (1e-2, 1e-13):
        index = np.flatnonzero(~answer.found)
        if not index.size:
            break
        rough = _located(wanted.rows(index), _some(inner, index), outer, low[index], high[index], tolerance)
        fine = refined(wanted.rows(index), rough)
        sound = fine.found & (fine.result.tm >= UNSTABLE)
        put_rows(answer, index[sound], take_rows(fine, np.flatnonzero(sound)))
        left = np.flatnonzero(~sound & rough.found)
        if left.size:
            row, at = wanted.rows(index[left]), take_rows(rough, left)
            there = np.abs(row.error(outer, at.T, at.P, at.result)) <= _TOLERANCE
            put_rows(answer, index[left[there]], take_rows(at, np.flatnonzero(there)))
    return answer


def _located(wanted: Specification, inner: Inner, outer: str, low: Array, high: Array, tolerance: float) -> SpecifiedFlash:
    def error(ln_u: Array, rows: Index) -> Array:
        return _error(wanted.rows(rows), _some(inner, rows), outer, np.exp(ln_u))

    at = narrowed(error, low, high, tolerance)[0]
    return inner(np.exp(at), np.arange(len(low)))
