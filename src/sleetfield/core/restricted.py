"""Flashes restricted to certain phases, at given temperature and pressure, and how far they are from the stable answer.

"V" and "L" are one phase of that kind; "LL" are liquids alone, as many as form; "VL" is at most one vapor and one liquid, whatever else would
form. The result's ``tm`` is against every phase: below `UNSTABLE`, the restricted answer is not the stable one.
"""

from __future__ import annotations

import functools
from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from .arrays import ABSENT, Array, Index, Kinds, component_major, normalized, rows
from .blocks import in_blocks, put_rows
from .equilibrium.flash import FlashResult, Watch, flash, result_of_phases, vapor_and_liquid
from .equilibrium.multiphase import gibbs_energy
from .equilibrium.rachford_rice import Split, k_values, split
from .equilibrium.stability import UNSTABLE, feed_stability, further_phase
from .models.contract import LIQUID, STABLE, VAPOR, BoundModel, Description, Evaluation, Kind, PhaseModel
from .simultaneous import Located, solve_together
from .specification import Specification, Thermodynamics

if TYPE_CHECKING:
    from concurrent.futures import Executor

RESTRICTIONS = {"V": "one vapor", "L": "one liquid", "LL": "liquids", "VL": "at most one vapor and one liquid"}
"""What a flash can be restricted to."""

_NO_VAPOR = 100.0
"""What is added to ln φ of a vapor that is none."""


class OneKind(PhaseModel):
    """A model whose every phase is of one kind."""

    def __init__(self, model: PhaseModel, kind: np.int8) -> None:
        self.model, self.kind = model, kind
        self.n_components, self.P_limit, self.molar_mass = model.n_components, model.P_limit, model.molar_mass
        # none are formed, but the answer has their room
        self.solids = model.solids

    def at(self, T: Array, P: Array) -> BoundOneKind:
        return BoundOneKind(self.model.at(T, P), self.kind)

    def ln_saturation_guess(self, T: Array) -> Array:
        return self.model.ln_saturation_guess(T)

    def select(self, components: Sequence[int]) -> OneKind:
        return OneKind(self.model.select(components), self.kind)


class BoundOneKind(BoundModel):
    """It at given T and P."""

    def __init__(self, bound: BoundModel, kind: np.int8) -> None:
        self.bound, self.kind, self.T, self.P = bound, kind, bound.T, bound.P

    def rows(self, index: Index) -> BoundOneKind:
        return BoundOneKind(self.bound.rows(index), self.kind)

    def ln_phi(self, x: Array, kind: Kind = STABLE) -> Array:
        ln_phi = self.bound.ln_phi(x, self.kind)
        if self.kind != VAPOR:
            return ln_phi
        dense = _no_vapor(self.bound, x)
        return np.where(dense[:, None], ln_phi + _NO_VAPOR, ln_phi) if dense.any() else ln_phi

    def evaluate(self, x: Array, kind: Kind = STABLE) -> Evaluation:
        return self.bound.evaluate(x, self.kind)

    def describe(self, x: Array, kind: Kind = STABLE) -> Description:
        return self.bound.describe(x, self.kind)._replace(kinds=np.full(len(x), self.kind))


def _no_vapor(bound: BoundModel, x: Array) -> NDArray[np.bool_]:
    """Where what an equation gives as a vapor is a liquid, being its only root."""
    return ~bound.is_vapor(x, VAPOR)


_BLOCK = 4096


def restricted_flash(
    mixture: Thermodynamics,
    T: Array,
    P: Array,
    z: Array,
    phases: str,
    watch: Watch | None = None,
    executor: Executor | None = None,
) -> FlashResult:
    """Equilibrium of feeds ``z (N, C)`` among the phases of one of `RESTRICTIONS`; ``watch`` is told of the steps of liquids alone."""
    return in_blocks(functools.partial(_restricted_block, mixture, phases, watch), (T, P, z), _BLOCK, executor)


def _restricted_block(mixture: Thermodynamics, phases: str, watch: Watch | None, T: Array, P: Array, z: Array) -> FlashResult:
    model = mixture.model
    with np.errstate(all="ignore"):
        if phases == "LL":
            found = flash(model.liquids_alone() or OneKind(model, LIQUID), T, P, z, watch=watch)
            return _against_all(model, T, P, found)
        if phases == "VL":
            return _against_all(model, T, P, _vapor_and_liquid(mixture, T, P, z))
        kind = VAPOR if phases == "V" else LIQUID
        return _against_all(model, T, P, _single(model, T, P, z, np.full(len(z), kind)))


def _single(model: PhaseModel, T: Array, P: Array, z: Array, kinds: Kinds) -> FlashResult:
    n = len(z)
    return result_of_phases(model, T, P, z, np.ones((n, 1)), np.maximum(z, ABSENT)[:, None], kinds[:, None], np.zeros(n))


def _against_all(model: PhaseModel, T: Array, P: Array, found: FlashResult) -> FlashResult:
    """The same with ``tm`` against every phase of every kind, other kinds of the phases' own compositions among them."""
    bound = model.at(T, P)
    tm = further_phase(bound, np.maximum(found.x[:, 0], ABSENT), [found.x[:, 0]], found.kinds[:, 0]).tm
    for k in range(found.x.shape[1]):
        there = np.flatnonzero(np.isfinite(found.amount[:, k]))
        if there.size:
            x = component_major(np.maximum(found.x[there, k], ABSENT))
            part = bound.rows(there)
            other = (x * (part.ln_phi(x) - part.ln_phi(x, found.kinds[there, k]))).sum(axis=1)
            tm[there] = np.minimum(tm[there], other)
    return replace(found, tm=tm)


def _vapor_and_liquid(mixture: Thermodynamics, T: Array, P: Array, z: Array) -> FlashResult:
    """One phase of the kind of lower Gibbs energy where the other kind would not form; else both, everything solved at once."""
    model, feed = mixture.model, component_major(np.maximum(z, ABSENT))
    bound = model.at(T, P)
    as_liquid, as_vapor = bound.ln_phi(feed, LIQUID), bound.ln_phi(feed, VAPOR)
    wet = ((feed * (as_liquid - as_vapor)).sum(axis=1) < 0.0) | _no_vapor(bound, feed)
    kinds = np.where(wet, LIQUID, VAPOR).astype(np.int8)
    found = _single(model, T, P, z, kinds)
    ln_k = (model.ln_saturation_guess(T).T - np.log(P)).T
    for own, other, ln_phi in ((LIQUID, VAPOR, as_liquid), (VAPOR, LIQUID, as_vapor)):
        index = np.flatnonzero(kinds == own)
        if not index.size:
            continue
        part, some = bound.rows(index), rows(feed, index)
        d = np.log(some) + rows(ln_phi, index)
        trial = feed_stability(BoundOneKind(part, other), some, d, rows(ln_k, index))
        unstable = np.flatnonzero(trial.tm < UNSTABLE)
        if unstable.size:
            ratio = np.log(rows(trial.trial, unstable)) - np.log(rows(some, unstable))
            where = index[unstable]
            starts = [ratio if other == VAPOR else -ratio, rows(ln_k, where)]
            _put_pairs(mixture, T, P, z, where, starts, found)
    return found


def _put_pairs(
    mixture: Thermodynamics, T: Array, P: Array, z: Array, index: Index, starts: list[Array], found: FlashResult
) -> None:
    """Vapor and liquid of the lowest Gibbs energy that the K-values ``starts`` lead to, for the states ``index``, into ``found``."""
    wanted, lowest = Specification(mixture, {"T": T[index], "P": P[index]}, z[index]), np.full(len(index), np.inf)
    for solve in (_by_substitution, _by_newton):
        open_ = np.flatnonzero(np.isinf(lowest))
        for ln_k in starts if open_.size else ():
            located = solve(wanted.rows(open_), rows(ln_k, open_))
            energy = _gibbs(mixture, located)
            lower = np.flatnonzero(located.sound & (energy < lowest[open_] - 1e-10))
            if lower.size:
                lowest[open_[lower]] = energy[lower]
                pairs = located.result(wanted.rows(open_), lower)
                put_rows(found, index[open_[lower]], pairs)
    # a split that was shown to be there but not found is no answer
    found.residual[index[np.isinf(lowest)]] = np.inf


_BOTH = np.array([[VAPOR, LIQUID]], dtype=np.int8)


def _by_substitution(wanted: Specification, ln_k: Array) -> Located:
    """Vapor and liquid from K-values; no answer where that does not come to an end, or there would be less than nothing of one."""
    T, P = wanted.given["T"], wanted.given["P"]
    feed = component_major(np.maximum(wanted.z, ABSENT))
    ln_k, amount, change = vapor_and_liquid(wanted.mixture.model.at(T, P), feed, ln_k)
    s = split(feed, k_values(feed, ln_k), amount)
    inside = (s.vapor > 0.0) & (s.vapor < 1.0)
    return Located(T, P, _moles(s.vapor, s), np.repeat(_BOTH, len(T), axis=0), np.where(inside, change, np.inf))


def _by_newton(wanted: Specification, ln_k: Array) -> Located:
    """The same, everything at once from where substitution leads."""
    T, P = wanted.given["T"], wanted.given["P"]
    feed = component_major(np.maximum(wanted.z, ABSENT))
    ln_k, amount, _ = vapor_and_liquid(wanted.mixture.model.at(T, P), feed, ln_k)
    s = split(feed, k_values(feed, ln_k), amount)
    return solve_together(wanted, T, P, _moles(np.clip(amount, 1e-6, 1.0 - 1e-6), s), np.repeat(_BOTH, len(T), axis=0))


def _moles(vapor: Array, s: Split) -> Array:
    """Mole numbers of a vapor and a liquid ``(N, 2, C)``."""
    return np.stack([vapor[:, None] * normalized(s.y), (1.0 - vapor)[:, None] * normalized(s.x)], axis=1)


def _gibbs(mixture: Thermodynamics, located: Located) -> Array:
    """Reduced Gibbs energies ``(N,)`` of a vapor, the first, and a liquid, infinite where the vapor is none."""
    bound = mixture.model.at(located.T, located.P)
    energy = gibbs_energy(bound, np.maximum(located.n, ABSENT), located.kinds)
    vapor = component_major(np.maximum(normalized(located.n[:, 0]), ABSENT))
    return np.where(_no_vapor(bound, vapor), np.inf, energy)
