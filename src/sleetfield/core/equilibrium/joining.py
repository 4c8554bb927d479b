"""Further phases: joining where the stability test shows that one would form, and leaving where one is not wanted."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..arrays import ABSENT, Array, Index, Kinds, rows
from ..models.contract import STABLE, BoundModel
from .multiphase import CONVERGED, SAME, Phases, alike, balanced, descend, downhill, gibbs_energy, solve_phases
from .stability import UNSTABLE, further_phase

MAX_PHASES = 5
"""How many fluid phases a state can have; where a further one would form, the result's ``tm`` says so."""

_FAILURES = 2
"""How often a further phase that would form is tried before it is given up."""
_NEARLY = 0.02
"""How little ln x may differ between two phases that do not come to rest."""
_GONE = 1e-60
_LEAVING = 1e-10
"""The amount of a phase that is on its way out."""


@dataclass
class Found:
    """Phases in the order in which they came; NaN beyond those that are there. ``asked`` is the kind each was asked for as."""

    amount: Array
    x: Array
    asked: Kinds
    residual: Array
    tm: Array

    @property
    def n_phases(self) -> Index:
        return np.asarray(np.isfinite(self.amount).sum(axis=1))

    def put(self, index: Index, amount: Array, x: Array) -> None:
        """Take phases ``(M, F)``, ``(M, F, C)`` for the states ``index``, and no others."""
        f = amount.shape[1]
        self.amount[index], self.x[index] = np.nan, np.nan
        self.amount[index, :f], self.x[index, :f] = amount, x


def most_phases(solids: Sequence[int]) -> int:
    """How many phases a state can have beside these solids."""
    return MAX_PHASES + len(solids)


def empty(feed: Array, residual: Array, tm: Array, most: int) -> Found:
    """Room for ``most`` phases of feeds ``(N, C)``."""
    n, c = feed.shape
    nothing = np.full((n, most), np.nan)
    asked = np.full((n, most), STABLE, dtype=np.int8)
    return Found(nothing, np.full((n, most, c), np.nan), asked, residual, tm)


def add_phases(bound: BoundModel, z: Array, found: Found, trial: Array) -> None:
    """Let a further phase join where one would form, and leave where it is not wanted, until the answer is stable."""
    failures = np.zeros(len(z), dtype=int)
    most = found.amount.shape[1]
    for _ in range(most):
        joining = np.where((found.tm < UNSTABLE) & (failures < _FAILURES), found.n_phases, 1)
        if not (joining > 1).any():
            return
        for f in range(2, most + 1):
            index = np.flatnonzero(joining == f)
            if index.size:
                failures[index] += ~_join(bound, z, found, trial, index, f)


def _join(bound: BoundModel, z: Array, found: Found, trial: Array, index: Index, f: int) -> NDArray[np.bool_]:
    """The states ``index``, which have ``f`` phases, with a further one; kept where the Gibbs energy falls, which is returned."""
    part, feed = bound.rows(index), np.ascontiguousarray(z[index])
    amount, x, w = found.amount[index, :f], found.x[index, :f], np.ascontiguousarray(trial[index])
    before = gibbs_energy(part, _moles(amount, x))
    solved = solve_phases(part, feed, np.concatenate([x, w[:, None]], axis=1))
    better = _settle(part, feed, found, trial, index, solved, before)
    worse = np.flatnonzero(~better)
    if worse.size:
        slowly, rest = part.rows(worse), feed[worse]
        solved = descend(slowly, rest, amount[worse], x[worse], w[worse])
        better[worse] = _settle(slowly, rest, found, trial, index[worse], solved, before[worse])
    return better


def _moles(amount: Array, x: Array) -> Array:
    return np.maximum(amount[:, :, None] * x, ABSENT)


def _settle(
    bound: BoundModel, z: Array, found: Found, trial: Array, index: Index, solved: Phases, before: Array
) -> NDArray[np.bool_]:
    """Keep what was solved for the states ``index`` where its Gibbs energy is below ``before``, and test it; returns where it is."""
    better = np.zeros(len(index), dtype=bool)
    amount, there = _merged(solved.amount, solved.x, SAME)
    x, residual = solved.x.copy(), solved.residual.copy()
    for left in range(found.amount.shape[1], 1, -1):
        # a phase that is about to leave where the others have not come to rest is not there
        there &= ~((residual > CONVERGED)[:, None] & (amount < _LEAVING))
        some = np.flatnonzero(there.sum(axis=1) == left)
        if not some.size:
            continue
        part = bound.rows(some)
        # those that are there to the front
        order = np.argsort(~there[some], axis=1, kind="stable")[:, :left]
        own = Phases(
            np.take_along_axis(amount[some], order, 1),
            np.take_along_axis(x[some], order[:, :, None], 1),
            residual[some],
        )
        loose = np.flatnonzero(own.residual > CONVERGED)
        if loose.size:
            _tightened(part, z[some], own, loose)
            # on the way two may have become one; two that differ little and do not come to rest are one as well
            still = own.residual[loose] > CONVERGED
            for within, which in ((SAME, loose[~still]), (_NEARLY, loose[still])):
                own.amount[which] = _merged(own.amount[which], own.x[which], within)[0]
            residual[some] = own.residual
            amount[some[:, None], order], x[some[:, None], order] = own.amount, own.x
            there[some[:, None], order] = own.amount > _GONE
        own = balanced(z[some], own)
        energy = gibbs_energy(part, _moles(own.amount, own.x))
        lower = (energy < before[some] - 1e-13) & (own.residual < 1e-3)
        # of a phase that has hardly begun to form the gain is lost in rounding
        more = left > found.n_phases[index[some]]
        lower |= more & (own.residual <= CONVERGED) & (energy < before[some] + 1e-12)
        # what is only a trace in a phase adds nothing to the energy, and may have come to rest all the same
        same = left == found.n_phases[index[some]]
        lower |= same & (own.residual <= CONVERGED) & (found.residual[index[some]] > CONVERGED) & (energy < before[some] + 1e-12)
        lower &= (own.amount > _GONE).all(axis=1)
        if left > 2:  # it is looked at again without the phase that leaves
            lower &= ~((own.residual > CONVERGED) & (own.amount < _LEAVING).any(axis=1))
        at = index[some[lower]]
        if at.size:
            better[some[lower]] = True
            found.put(at, own.amount[lower], own.x[lower])
            found.residual[at] = own.residual[lower]
            test_phases(part.rows(np.flatnonzero(lower)), rows(z, some[lower]), found, trial, at, left)
    return better


def _tightened(bound: BoundModel, z: Array, own: Phases, loose: Index) -> None:
    """The rows ``loose`` solved again, from where they are and then downhill; what comes out better takes their place."""
    for again_from in ("substitution", "downhill"):
        rest = loose[(own.residual[loose] > CONVERGED) & (own.amount[loose] > _GONE).all(axis=1)]
        if not rest.size:
            return
        part, feed = bound.rows(rest), z[rest]
        if again_from == "substitution":
            again = solve_phases(part, feed, own.x[rest])
        else:
            again = downhill(part, feed, _moles(own.amount[rest], own.x[rest]))
        fine = again.residual < own.residual[rest]
        for values, new in zip(own, again, strict=True):
            values[rest[fine]] = new[fine]


def _merged(amount: Array, x: Array, within: float) -> tuple[Array, NDArray[np.bool_]]:
    """The amounts with second copies of a phase added to the first, and which phases are then there."""
    amount = amount.copy()
    for k in range(1, x.shape[1]):
        for j in range(k):
            same = alike(x[:, j], x[:, k], within) & (amount[:, j] > 0.0)
            amount[same, j] += amount[same, k]
            amount[same, k] = 0.0
    return amount, np.asarray(amount > _GONE)


def test_phases(bound: BoundModel, z: Array, found: Found, trial: Array, index: Index, f: int) -> None:
    """Test the phases of the states ``index`` against a further one; its composition goes to ``trial``."""
    again = further_phase(bound, z, [found.x[index, k] for k in range(f)], found.asked[index, 0])
    found.tm[index] = again.tm
    trial.T[:, index] = again.trial.T
