"""Molecules that bind to each other at sites: Wertheim's theory of the first order, as every equation of state with an association term has it.

    Aᴿ/VRT = Σₖ dₖ (ln Xₖ - Xₖ/2 + 1/2),     Xₖ = 1/(1 + Σₗ dₗ Xₗ Δₖₗ),     Δₖₗ = gᵢⱼ Fₖₗ(T)

over kinds of sites k on components i: dₖ is their density, Xₖ the fraction that is not bound, gᵢⱼ the contact value of the equation's radial distribution function, and

    Fₖₗ = vₖₗ √[(exp(εₖₗ/T) - 1)(exp(ε'ₖₗ/T) - 1)]

with ε = ε' by the combining rules CR-1 and with those of both components by Elliott's. Since the X make Q = Σ dₖ(ln Xₖ - Xₖ + 1) - ½ ΣΣ dₖdₗXₖXₗΔₖₗ stationary, and Q there is Aᴿ/VRT,
its first derivatives are those at fixed X.

References: Chapman, Gubbins, Jackson and Radosz, Ind. Eng. Chem. Res. 29 (1990) 1709-1721; Michelsen and Hendriks, Fluid Phase Equilib. 180 (2001) 165-174; Michelsen, Ind. Eng. Chem.
Res. 45 (2006) 8449-8453.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Numbers
from ..compiled.association_loops import MOST_SITES, PlainSites, plain_sites

_STEPS = 60
_THERE = 1e-9
"""Of a step: what is left of the error is its square."""
_LEAST = 0.2
"""Of a fraction, what is left of it at least after a step."""


_BIND = np.array([[0.0, 1.0, 1.0], [1.0, 0.0, 1.0], [1.0, 1.0, 1.0]])
"""Which of donors, acceptors and pairing sites bind."""


class Bonds(NamedTuple):
    """What bonds add: Aᴿ/VRT ``(N,)``, its derivatives by densities at fixed contact values ``(N, C)``, and by temperature so ``(N,)``; by the contact values of pairs of sites ``(N, K, K)``; X ``(N, K)``."""

    f: Numbers
    f_rho: Numbers
    f_T: Numbers
    by_contact: Numbers
    free: Numbers


class Bent(NamedTuple):
    """Contact values of pairs of sites ``(N, K, K)`` or ``(N, 1, 1)`` with their first and second derivatives by moments, which are linear in densities, with slopes ``(N, C)`` by these."""

    value: Array
    by: Sequence[Array]
    bent: Sequence[Sequence[Array]]
    slopes: Sequence[Array]


class Sites(ABC):
    """Kinds of sites of ``C`` components; a subclass says how strongly they bind.

    Parameters
    ----------
    n_components : int
    owner : (K,)
        Which component each kind of sites is on.
    count : (K,)
        How many of a kind a molecule has.

    """

    def __init__(self, n_components: int, owner: NDArray[np.intp], count: Array) -> None:
        self.n_components, self.owner, self.count = n_components, owner, count
        self._of_components = np.zeros((len(owner), n_components))
        self._of_components[np.arange(len(owner)), owner] = count

    @abstractmethod
    def strength(self, T: Numbers) -> tuple[Numbers, Numbers]:
        """F and its derivative by temperature ``(N, K, K)``."""

    @abstractmethod
    def select(self, components: Sequence[int]) -> Sites:
        """The same for those components."""

    def real_strength(self, T: Array) -> Array:
        """F at real temperatures."""
        return np.asarray(self.strength(T)[0], dtype=float)

    def bonds(self, T: Numbers, rho: Numbers, contact: Numbers) -> Bonds:
        """At densities ``rho (N, C)``, mol/m3, with the contact value of each pair of sites ``(N, K, K)`` or ``(N, 1, 1)``."""
        F, F_T = self.strength(T)
        d = rho @ self._of_components.T
        delta = contact * F
        free = self._free(d, delta)
        bound = d * free
        by_contact = -0.5 * bound[:, :, None] * bound[:, None, :] * F
        logarithm = np.log(free)
        return Bonds(
            (d * (logarithm - 0.5 * free + 0.5)).sum(axis=-1),
            logarithm @ self._of_components,
            -0.5 * (bound[:, :, None] * bound[:, None, :] * contact * F_T).sum(axis=(1, 2)),
            by_contact,
            free,
        )

    def pressure(self, F: Array, x: Array, rho: Array, contact: tuple[Array, Array, Array]) -> tuple[Array, Array]:
        """What bonds add to P/RT and its slope at densities ``rho (N,)`` of mole fractions ``x (N, C)``, from contact values and their first two derivatives by density."""
        g, g1, g2 = contact
        d = rho[:, None] * (x @ self._of_components.T)
        delta = g * F
        X = _solved(d, delta)
        bound = d * X
        t = np.einsum("nkl,nl->nk", F * g1, bound)
        S = -0.5 * (bound * t).sum(axis=-1)
        met = np.einsum("nkl,nl->nk", F * (g1 + g / rho[:, None, None]), bound)
        X_rho = _linear(_response(d, delta, X), -met[:, :, None])[:, :, 0]
        bend = -0.5 * np.einsum("nk,nkl,nl->n", bound, F * g2, bound) - ((X / rho[:, None] + X_rho) * d * t).sum(axis=-1)
        p = rho * S - 0.5 * (d * (1.0 - X)).sum(axis=-1)
        slope = S + rho * bend - 0.5 * (d * ((1.0 - X) / rho[:, None] - X_rho)).sum(axis=-1)
        return p, slope

    def hessian(self, T: Array, rho: Array, contact: Bent) -> Array:
        """What they add to the second derivatives of Aᴿ/VRT by densities ``(N, C, C)``."""
        F = self.real_strength(T)
        d = rho @ self._of_components.T
        delta = contact.value * F
        X = _solved(d, delta)
        bound = d * X
        own = np.asarray(X[:, :, None] * self._of_components)
        t = [np.einsum("nkl,nl->nk", F * by, bound) for by in contact.by]
        met = delta @ own + sum(tq[:, :, None] * slope[:, None, :] for tq, slope in zip(t, contact.slopes, strict=True))
        X_rho = _linear(_response(d, delta, X), -met)
        result = np.einsum("kc,nkj->ncj", self._of_components, X_rho / X[:, :, None])
        for q, slope in enumerate(contact.slopes):
            S = -np.einsum("nk,nkj->nj", t[q], own + d[:, :, None] * X_rho)
            for r, other in enumerate(contact.slopes):
                S = S - 0.5 * np.einsum("nk,nkl,nl->n", bound, F * contact.bent[q][r], bound)[:, None] * other
            result = result + slope[:, :, None] * S[:, None, :]
        return np.asarray(result)

    def free_sites(self, T: Array, rho: Array, contact: Array) -> Array:
        """The fraction of each component's sites that is not bound ``(N, C)``; NaN where it has none."""
        free = np.asarray(self.bonds(T, rho, contact).free, dtype=float)
        with np.errstate(invalid="ignore"):
            return np.asarray(free @ self._of_components / self._of_components.sum(axis=0))

    def _free(self, d: Numbers, delta: Numbers) -> Numbers:
        """X ``(N, K)``; of complex numbers to the first order in the imaginary part, from the real ones by one step of Newton's method."""
        real_d, real_delta = np.real(d), np.real(delta)
        X = _solved(real_d, real_delta)
        if not (np.iscomplexobj(d) or np.iscomplexobj(delta)):
            return X
        off = 1.0 / X - 1.0 - np.einsum("nkl,nl->nk", delta, d * X)
        step = _linear(_response(real_d, real_delta, X), np.imag(off)[:, :, None])[:, :, 0]
        return X + 1j * step


class Association(Sites):
    """Sites that bind by wells of a volume and an energy.

    Parameters
    ----------
    n_components, owner, count
        As `Sites` has them.
    volume : (K, K)
        v, m3/mol; zero where two kinds don't bind.
    energy : (2, K, K)
        ε and ε', K.

    """

    def __init__(self, n_components: int, owner: NDArray[np.intp], count: Array, volume: Array, energy: Array) -> None:
        super().__init__(n_components, owner, count)
        # where nothing binds any energy will do, but zero has no logarithm
        self.volume, self.energy = volume, np.where(volume > 0.0, energy, 1.0)

    @classmethod
    def of_components(cls, sites: Array, volume: Array, energy: Array) -> Association:
        """From how many donors, acceptors and sites that pair with any a molecule of each component has ``(C, 3)``, and v ``(C, C)``, ε and ε' ``(2, C, C)`` of pairs of components.

        Where every component has as many donors as acceptors, X is the same for both: then they are one kind, of which each binds half of the others.
        """
        alike = bool((sites[:, 0] == sites[:, 1]).all())
        binds = np.array([[0.5, 1.0], [1.0, 1.0]]) if alike else _BIND
        kinds = np.stack([2.0 * sites[:, 0], sites[:, 2]], axis=1) if alike else sites
        owner, kind = np.nonzero(kinds)
        pair = owner[:, None], owner
        return cls(len(sites), owner, kinds[owner, kind], volume[pair] * binds[kind[:, None], kind], energy[:, *pair])

    def select(self, components: Sequence[int]) -> Association:
        place = {c: i for i, c in enumerate(components)}
        kept = np.array([k for k, c in enumerate(self.owner) if c in place], dtype=np.intp)
        owner = np.array([place[self.owner[k]] for k in kept], dtype=np.intp)
        pair = np.ix_(kept, kept)
        return Association(len(components), owner, self.count[kept], self.volume[pair], self.energy[:, kept[:, None], kept])

    def compiled(self) -> PlainSites | None:
        """The sites as the compiled engine takes them; None where they are too many."""
        return (
            plain_sites(self.owner.astype(float), self.count, self.volume, self.energy) if len(self.owner) <= MOST_SITES else None
        )

    def strength(self, T: Numbers) -> tuple[Numbers, Numbers]:
        reduced = self.energy / T[:, None, None, None]
        grown = np.exp(reduced)
        own = grown - 1.0
        F = self.volume * np.sqrt(own[:, 0] * own[:, 1])
        slope = -(reduced * grown / own).sum(axis=1) * 0.5 / T[:, None, None]
        return F, F * slope


def _linear(matrix: Array, right: Array) -> Array:
    """Solutions ``(N, K, J)`` of linear systems; NaN where one is not finite, least squares where one is singular."""
    usable = np.asarray(np.isfinite(matrix).all(axis=(1, 2)) & np.isfinite(right).all(axis=(1, 2)))
    matrix = np.where(usable[:, None, None], matrix, np.eye(matrix.shape[1]))
    right = np.where(usable[:, None, None], right, np.nan)
    try:
        return np.asarray(np.linalg.solve(matrix, right))
    except np.linalg.LinAlgError:
        return np.asarray(np.linalg.pinv(matrix) @ right)


def _response(d: Array, delta: Array, X: Array) -> Array:
    """The matrix of changes in X ``(N, K, K)``."""
    matrix = delta * d[:, None, :]
    diagonal = np.arange(X.shape[1])
    matrix[:, diagonal, diagonal] += 1.0 / X**2
    return np.asarray(matrix)


def _solved(d: Array, delta: Array) -> Array:
    """The fractions of sites that are not bound ``(N, K)``: Newton's method with the matrix that Michelsen (2006) makes definite; NaN where it does not come to an end."""
    bound = delta * d[:, None, :]
    X = 2.0 / (1.0 + np.sqrt(1.0 + 4.0 * bound.sum(axis=-1)))
    diagonal = np.arange(X.shape[1])
    active = np.arange(len(X))
    for _ in range(_STEPS if X.size else 0):
        own, part = X[active], bound[active]
        met = 1.0 + np.einsum("nkl,nl->nk", part, own)
        matrix = part.copy()
        matrix[:, diagonal, diagonal] += met / own
        step = _linear(matrix, (1.0 / own - met)[:, :, None])[:, :, 0]
        new = np.maximum(own + step, _LEAST * own)
        X[active] = new
        active = active[(np.abs(new - own) > _THERE * own).any(axis=-1) & np.isfinite(new).all(axis=-1)]
        if not active.size:
            return np.asarray(X)
    X[active] = np.nan
    return np.asarray(X)
