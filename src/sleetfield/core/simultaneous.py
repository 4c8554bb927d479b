"""States whose phases are known roughly: everything at once by Newton's method, for any two specified quantities.

The unknowns are the logarithms of all mole numbers, of T and of P; the equations are equal fugacities, the balances, and the two
specifications M(n, T, P) = M₀ (after Michelsen, Fluid Phase Equilib. 33 (1987) 13-27), with total properties and their derivatives from
partial molar ones. Since T and P are unknowns like the rest, a pure component between its phases, an azeotrope, or a binary mixture of
three phases is as good as any other state.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from .arrays import ABSENT, Array, Index, Kinds, normalized
from .equilibrium.flash import FlashResult, result_of_phases
from .equilibrium.multiphase import balance_equations, evaluate_all
from .models.contract import SOLID, VAPOR, Evaluation, VolumeModel
from .newton import Batch, solve_many
from .properties import PhaseProperties, properties_of
from .specification import FRACTIONS, MASS_FRACTION, Specification

CONVERGED = 1e-10
"""Largest residual of a converged answer: differences of ln f, and of a quantity by its scale."""

INCIPIENT = "incipient"
"""Specified instead of a quantity: that the first phase is about to form. It is in no balance, and the sum of its mole fractions is given."""

_STEPS, _PATIENCE = 40, 12
"""How many steps there are, and how many may pass that do not halve the residual."""
_TRACE = 1e-30
_LEAST = 1e-250


@dataclass(frozen=True)
class Located:
    """States of ``F`` phases each: T, P ``(N,)``, mole numbers ``n (N, F, C)``, the kinds asked for ``(N, F)``, and the residual ``(N,)``."""

    T: Array
    P: Array
    n: Array
    kinds: Kinds
    residual: Array

    @property
    def sound(self) -> NDArray[np.bool_]:
        """Where the equations are met."""
        return np.asarray(self.residual <= CONVERGED)

    def vapors_are_vapors(self, wanted: Specification) -> NDArray[np.bool_]:
        """Where a phase that was asked for as a vapor is one by its model."""
        fine = np.ones(len(self.T), dtype=bool)
        if isinstance(wanted.mixture.model, VolumeModel):
            return fine
        with np.errstate(all="ignore"):
            bound = wanted.mixture.model.at(self.T, self.P)
            for k in range(self.n.shape[1]):
                x = np.maximum(normalized(self.n[:, k]), ABSENT)
                fine &= (self.kinds[:, k] != VAPOR) | bound.is_vapor(x, VAPOR)
        return fine

    def result(self, wanted: Specification, index: NDArray[np.intp]) -> FlashResult:
        """The states ``index`` as a flash gives them, tested against a further phase."""
        n = self.n[index]
        amount = n.sum(axis=2)
        x = n / amount[:, :, None]
        T, P = self.T[index], self.P[index]
        share = amount / amount.sum(axis=1)[:, None]
        return result_of_phases(wanted.mixture.model, T, P, wanted.z[index], share, x, self.kinds[index], self.residual[index])


def solve_together(wanted: Specification, T: Array, P: Array, n: Array, kinds: Kinds) -> Located:
    """Newton's method from ``T``, ``P`` and mole numbers ``n (N, F, C)``; ``kinds (N, F)`` are what each phase is asked for as."""
    z = np.maximum(wanted.z, ABSENT)
    many, f, c = n.shape
    # an absent component begins with what its balance has, not with less, from where Newton's steps would be out of all measure
    least = np.where(wanted.z > ABSENT, _LEAST, ABSENT)[:, None, :]
    ends = np.log(np.stack([T, P], axis=1))
    u = np.concatenate([np.log(np.maximum(n, least)).reshape(many, -1), ends], axis=1)
    longest, room = np.ones(f * c + 2), np.array([0.4, 4.0])
    longest[-2:] = 0.05, 0.5
    low, high = np.full(u.shape, np.log(_LEAST)), np.ones(u.shape)
    low[:, -2:], high[:, -2:] = ends - room, ends + room
    rows, columns = _counted(z, kinds, wanted.mixture.model.solids)

    def problems(u: Array, index: Index) -> Batch:
        n = np.exp(u[:, :-2]).reshape(len(index), f, c)
        F, jacobian = _equations(wanted.rows(index), z[index], np.exp(u[:, -2]), np.exp(u[:, -1]), n, kinds[index])
        return Batch(F, jacobian, np.abs(np.where(rows[index], F, 0.0)).max(axis=1), columns[index])

    enough = 0.01 * CONVERGED
    best, error = solve_many(problems, u, longest=longest, enough=enough, steps=_STEPS, patience=_PATIENCE, low=low, high=high)
    met = np.isfinite(error)
    at_T, at_P = (np.where(met, np.exp(best[:, k]), start) for k, start in ((-2, T), (-1, P)))
    return Located(at_T, at_P, np.where(met[:, None, None], np.exp(best[:, :-2]).reshape(n.shape), n), kinds, error)


def _counted(z: Array, kinds: Kinds, solids: Sequence[int]) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Which equations and which unknowns ``(N, F C + 2)`` tell whether the answer is there: not those of traces, nor of what a solid has of other components."""
    there = np.repeat((z > _TRACE)[:, None, :], kinds.shape[1], axis=1)
    for k, i in enumerate(solids):
        own = np.arange(z.shape[1]) == i
        there &= (kinds != SOLID + k)[:, :, None] | own
    ends = np.ones((len(z), 2), dtype=bool)
    balances = z > _TRACE
    flat = there.reshape(len(z), -1)
    return np.concatenate([flat[:, z.shape[1] :], balances, ends], axis=1), np.concatenate([flat, ends], axis=1)


def _equations(wanted: Specification, z: Array, T: Array, P: Array, n: Array, kinds: Kinds) -> tuple[Array, Array]:
    many, f, c = n.shape
    size = f * c
    at = evaluate_all(wanted.mixture.model.at(T, P), n, kinds)
    F, J = np.empty((many, size + 2)), np.zeros((many, size + 2, size + 2))
    counted = np.arange(f) > 0 if INCIPIENT in wanted.given else np.ones(f, dtype=bool)
    F[:, :size], J[:, :size, :size] = balance_equations(at, n, z, counted.astype(float))
    for k in range(1, f):
        rows = slice((k - 1) * c, k * c)
        J[:, rows, size] = T[:, None] * (at[k].dT - at[0].dT)
        J[:, rows, size + 1] = P[:, None] * (at[k].dP - at[0].dP)
    of_phases = _OfPhases(wanted, at, T, P, n)
    for row, name in enumerate(wanted.given, start=size):
        F[:, row], J[:, row] = _specified(wanted, name, of_phases, T, P, n, kinds)
    return F, J


class _OfPhases:
    """Totals of the phases' properties with their derivatives; what two quantities share is worked out once, and where it is asked for."""

    def __init__(self, wanted: Specification, at: list[Evaluation], T: Array, P: Array, n: Array) -> None:
        self._mixture, self._at, self._T, self._P, self._n = wanted.mixture, at, T, P, n
        self._ideal, self._amount = wanted.mixture.ideal(T, wanted.z), n.sum(axis=2)

    @cached_property
    def _properties(self) -> list[tuple[Array, PhaseProperties]]:
        x = self._n / self._amount[:, :, None]
        return [(x[:, k], properties_of(e, self._ideal, self._T, self._P, x[:, k])) for k, e in enumerate(self._at)]

    def total(self, name: str) -> tuple[Array, Array]:
        """One of them ``(N,)``, and its derivatives by all unknowns ``(N, F C + 2)``."""
        many, f, c = self._n.shape
        value, row = np.zeros(many), np.zeros((many, f * c + 2))
        for k, (x, p) in enumerate(self._properties):
            amount = self._amount[:, k]
            own, by_T, by_P = self._mixture.phase_value(name, p, self._T, self._P)
            value = value + amount * own
            row[:, k * c : (k + 1) * c] = self._n[:, k] * self._mixture.partial(name, self._at[k], self._T, self._P, x, self._ideal)
            row[:, f * c] += amount * by_T * self._T
            row[:, f * c + 1] += amount * by_P * self._P
        return value, row


def _specified(
    wanted: Specification, name: str, of_phases: _OfPhases, T: Array, P: Array, n: Array, kinds: Kinds
) -> tuple[Array, Array]:
    """How far one quantity is off by its scale ``(N,)``, and the derivatives by all unknowns."""
    many, f, c = n.shape
    row = np.zeros((many, f * c + 2))
    target = wanted.given[name]
    if name in ("T", "P"):
        row[:, f * c + ("T", "P").index(name)] = 1.0
        return np.log((T if name == "T" else P) / target), row
    if name == INCIPIENT:
        row[:, :c] = n[:, 0]
        return n[:, 0].sum(axis=1) - target, row
    if name in FRACTIONS:
        vapor = n * (kinds == VAPOR)[:, :, None]
        if name == MASS_FRACTION:
            weight = wanted.mixture.molar_mass / (wanted.z @ wanted.mixture.molar_mass)[:, None]
            vapor = vapor * np.nan_to_num(weight)[:, None, :]
        row[:, : f * c] = vapor.reshape(many, -1)
        return vapor.sum(axis=(1, 2)) - target, row
    scale = wanted.scale(name)
    value, row = of_phases.total(name)
    return (value - target) / scale, row / scale[:, None]
