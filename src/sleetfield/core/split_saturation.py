"""Bubble points of feeds that are two liquids there: three phases, the vapor in no amount yet.

The vapor is left out of the balances and the sum of its mole fractions set to one, with everything solved at once (`simultaneous`): from the
boiling point that the feed would have as one liquid, or else from the state with a trace of vapor (`specified_flash`).
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from .arrays import Array, Index
from .blocks import take_rows
from .equilibrium.flash import flash, result_of_phases
from .equilibrium.saturation import SaturationResult, bubble_at_P, bubble_at_T
from .equilibrium.stability import UNSTABLE
from .models.contract import LIQUID, VAPOR
from .simultaneous import INCIPIENT, solve_together
from .specification import FRACTION, Mixture, Specification
from .specified_flash import flash_to

_WHERE_LIQUID = {"T": (3e7,), "P": (220.0, 280.0, 340.0)}
_TRACE = 1e-4
_PHASES = 3
_SHORT = {"P": (0.99, 1.03, 1.08, 0.95), "T": (1.2, 0.8, 0.5, 2.0)}
"""Factors on the unknown, T or P, to come to two liquids: their boiling point lies beyond that of the one, little or far."""


_SAME = 1e-6


def split_bubble(mixture: Mixture, known: str, given: Array, z: Array) -> SaturationResult:
    """Bubble points at given ``known`` ("T" or "P") ``(N,)`` of feeds ``z (N, C)`` that boil as two liquids; NaN for others."""
    found = split_bubble_nearby(mixture, known, given, z)
    left = np.flatnonzero(~found.found)
    split = left[_two_liquids(mixture, known, given[left], z[left])] if left.size else left
    if split.size:
        near = flash_to(mixture, known, given[split], FRACTION, np.full(split.size, _TRACE), z[split])
        boiling = near.found & (near.result.n_phases == _PHASES) & (near.result.kinds[:, 0] == VAPOR)
        three, at = split[boiling], take_rows(near, np.flatnonzero(boiling))
        if three.size:
            liquids = at.result.amount[:, 1:_PHASES, None] * at.result.x[:, 1:_PHASES] / (1.0 - _TRACE)
            moles = np.concatenate([at.result.x[:, :1], liquids], axis=1)
            _solve(mixture, known, given, z, three, at.T, at.P, moles, found)
    return found


def split_bubble_nearby(mixture: Mixture, known: str, given: Array, z: Array) -> SaturationResult:
    """The same the quick way alone: from the boiling point that a feed would have as one liquid, and the two that it is somewhat short of that."""
    n, c = z.shape
    nothing = np.full((4, n), np.nan)
    found = SaturationResult(nothing[0], nothing[1], np.full((n, c), np.nan), nothing[2], nothing[3])
    point = (bubble_at_T if known == "T" else bubble_at_P)(mixture.model, given, z)
    for short in _SHORT[known]:
        rows = np.flatnonzero(point.found & (point.tm < UNSTABLE) & ~found.found)
        if not rows.size:
            break
        T, P = point.T[rows], point.P[rows]
        below = flash(mixture.model, T * (1.0 if known == "T" else short), P * (short if known == "T" else 1.0), z[rows])
        two = np.flatnonzero((below.n_phases == _PHASES - 1) & (below.kinds[:, : _PHASES - 1] == LIQUID).all(axis=1))
        if two.size:
            liquids = below.amount[two, : _PHASES - 1, None] * below.x[two, : _PHASES - 1]
            moles = np.concatenate([point.incipient[rows[two], None], liquids], axis=1)
            _solve(mixture, known, given, z, rows[two], T[two], P[two], moles, found)
    return found


def _solve(
    mixture: Mixture, known: str, given: Array, z: Array, index: Index, T: Array, P: Array, moles: Array, found: SaturationResult
) -> None:
    """Everything at once, for the states ``index``, into ``found`` where no further phase would form."""
    named: Mapping[str, Array] = {known: given[index], INCIPIENT: np.ones(index.size)}
    kinds = np.tile(np.array([VAPOR, LIQUID, LIQUID], dtype=np.int8), (index.size, 1))
    with np.errstate(all="ignore"):
        solved = solve_together(Specification(mixture, named, z[index]), T, P, moles, kinds)
        apart = np.abs(np.log(solved.n[:, 1] / solved.n[:, 2] * (solved.n[:, 2].sum(axis=1) / solved.n[:, 1].sum(axis=1))[:, None]))
        good = np.flatnonzero(solved.sound & (np.where(z[index] > 0.0, apart, 0.0).max(axis=1) > _SAME))
    if not good.size:
        return
    n = solved.n[good]
    amount = n.sum(axis=2)
    share = np.concatenate([np.zeros((good.size, 1)), amount[:, 1:]], axis=1)
    rows = index[good]
    tested = result_of_phases(
        mixture.model, solved.T[good], solved.P[good], z[rows], share, n / amount[:, :, None], kinds[good], solved.residual[good]
    )
    fine = np.flatnonzero(tested.tm >= UNSTABLE)
    rows, good = rows[fine], good[fine]
    found.T[rows], found.P[rows], found.tm[rows], found.residual[rows] = solved.T[good], solved.P[good], 0.0, solved.residual[good]
    vapor = solved.n[good, 0]
    found.incipient[rows] = np.where(z[rows] > 0.0, vapor / vapor.sum(axis=1)[:, None], 0.0)


def _two_liquids(mixture: Mixture, known: str, given: Array, z: Array) -> NDArray[np.bool_]:
    """Which feeds are two liquids under high pressure at their temperature, or in the cold at their pressure; only those can boil as two."""
    found = np.zeros(len(z), dtype=bool)
    for other in _WHERE_LIQUID[known]:
        there = np.full(len(z), other)
        T, P = (given, there) if known == "T" else (there, given)
        found |= (flash(mixture.model, T, P, z).kinds[:, : _PHASES - 1] == LIQUID).all(axis=1)
    return found
