"""Reference equations of pure fluids: the reduced residual Helmholtz energy as a sum of terms, fitted to all that was measured.

    Aᴿ/nRT = φ(δ, τ),  δ = ρ/ρ*,  τ = T*/T
    φ = Σ n δᵈ τᵗ + Σ n δᵈ τᵗ exp(-δᶜ) + Σ n δᵈ τᵗ exp(-α(δ - ε)² - β(τ - γ)²) + Σ n Δᵇ δ ψ
    Δ = θ² + B ((δ - 1)²)ᵃ,  θ = 1 - τ + A ((δ - 1)²)^(1/2β),  ψ = exp(-C(δ - 1)² - D(τ - 1)²)

(Wagner and Pruß, J. Phys. Chem. Ref. Data 31 (2002) 387-535, for water.) The equations have a gas constant of their own, by mass; pressures and mass densities are theirs, with the molar mass of the databank.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Self

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Index, Numbers
from ..compiled.equation_loops import common
from ..compiled.loops import Plain
from ..compiled.reference_loops import Branch, Fluid, plain
from ..constants import R
from .contract import LIQUID, STABLE, Kind
from .density_roots import Isotherm, Roots
from .from_critical_constants import FromCriticalConstants
from .helmholtz import BoundHelmholtz, First, HelmholtzModel


@dataclass(frozen=True, eq=False)
class ReferenceTerms:
    """One fluid's equation: ρ*, kg/m3, and T*, K; the gas constant, J/(kg K); the density beyond which nothing is, kg/m3; and its terms, one row each.

    ``powers`` are n, d, t; ``exponentials`` n, d, t, c; ``bells`` n, d, t, α, β, γ, ε; ``critical`` n, a, b, B, C, D, A, β.
    """

    density: float
    temperature: float
    gas_constant: float
    densest: float
    powers: Array
    exponentials: Array
    bells: Array
    critical: Array


_FROM_NOTHING = np.unique(
    np.concatenate([[1e-12], np.geomspace(1e-9, 0.5, 60), np.arange(0.5, 1.2, 0.01), np.arange(1.2, 5.0, 0.05)])
)
_FROM_DENSE = np.concatenate(
    [np.arange(6.0, 1.6, -0.05), np.arange(1.6, 0.8, -0.02), [0.65, 0.5, 0.3, 0.1, 1e-3, 1e-6, 1e-9, 1e-12]]
)
"""Densities over the critical one, between which the branches of an isotherm are followed."""
_NEWTON = 60
_CLOSE = 1e-14
_UNFELT = 50.0
"""Of the exponent in a critical term: beyond, it is less than rounding."""


class ReferenceFluid(FromCriticalConstants, HelmholtzModel):
    """The equation of one pure fluid.

    Parameters
    ----------
    terms : ReferenceTerms
    Tc, Pc, omega, molar_mass : (1,)
        K, Pa, acentric factor and kg/mol: where iterations start, and what moles are.
    """

    def __init__(self, terms: ReferenceTerms, Tc: Array, Pc: Array, omega: Array, molar_mass: Array) -> None:
        self.terms, self.Tc, self.Pc, self.omega, self.molar_mass = terms, Tc, Pc, omega, molar_mass
        self.n_components = 1
        self.critical_packing = terms.density / terms.densest  # type: ignore[misc]
        self.scale = float(molar_mass[0])
        self.own = terms.gas_constant * self.scale / R
        plain = np.column_stack([terms.powers, np.zeros(len(terms.powers))])
        self.smooth = np.concatenate([plain, terms.exponentials]).T[:, :, None]
        self.bells = terms.bells.T[:, :, None]

    def at(self, T: Array, P: Array) -> BoundReference:
        return BoundReference(self, T, P)

    def compiled(self) -> Plain | None:
        smooth = self.smooth[:, :, 0].T
        fluid = Fluid(self.critical_packing, self.terms.density, self.terms.temperature, self.own, self.scale)
        terms = smooth, self.terms.bells, self.terms.critical
        branches = self._branch(_FROM_NOTHING), self._branch(self.from_dense)
        return plain(common(R, self.Tc, self.Pc, self.omega), fluid, self.covolume(self.Tc, np.ones((1, 1))), terms, branches)

    @property
    def from_dense(self) -> Array:
        """Densities over the critical one, from the densest."""
        densest = self.terms.densest / self.terms.density
        return np.concatenate([[densest], _FROM_DENSE[_FROM_DENSE < densest]])

    def by_density(self, delta: Array) -> tuple[tuple[Array, Array], tuple[Array, Array]]:
        """What smooth terms and bells give to δφ_δ and its derivative by ln δ at ``delta (K, N)``, but for their weights: ``(M, K, N)`` each."""
        ln = np.log(delta)
        _, d, _, c = (column[:, :, None] for column in self.smooth)
        power = np.where(c > 0.0, delta**c, 0.0)
        term, g = np.exp(d * ln - power), d - c * power
        smooth = term * g, term * (g**2 - c**2 * power)
        _, d, _, alpha, _, _, epsilon = (column[:, :, None] for column in self.bells)
        u = delta - epsilon
        term, g = np.exp(d * ln - alpha * u**2), d - 2.0 * alpha * delta * u
        return smooth, (term * g, term * (g**2 - 2.0 * alpha * delta * (delta + u)))

    def _branch(self, delta: Array) -> Branch:
        """The same along a branch of isotherms, for the compiled engine."""
        (first, slope), (of_bells, slope_of_bells) = self.by_density(delta[:, None])
        both = [np.concatenate(parts)[:, :, 0].T for parts in ((first, of_bells), (slope, slope_of_bells))]
        return Branch(delta, *both)

    def select(self, components: Sequence[int]) -> Self:
        return self

    def isotherm(self, T: Array, x: Array) -> Isotherm:
        return _Isotherm(self, T)

    def has_branches(self, T: Array, x: Array) -> NDArray[np.bool_]:
        return np.asarray(T < self.Tc[0])

    def covolume(self, T: Array, n: Array) -> Array:
        return np.asarray(n[:, 0] * self.scale / self.terms.densest)

    def reduced(self, delta: Numbers, tau: Numbers) -> tuple[Numbers, Numbers, Numbers]:
        """φ and its derivatives by δ and τ ``(N,)``."""
        # all terms at once: rows are terms, columns states
        n, d, t, c = self.smooth
        power = np.where(c > 0.0, delta**c, 0.0)
        term = n * np.exp(d * np.log(delta) + t * np.log(tau) - power)
        phi, by_delta, by_tau = term.sum(axis=0), (term * (d - c * power)).sum(axis=0) / delta, (term * t).sum(axis=0) / tau
        n, d, t, alpha, beta, gamma, epsilon = self.bells
        u, v = delta - epsilon, tau - gamma
        term = n * np.exp(d * np.log(delta) + t * np.log(tau) - alpha * u**2 - beta * v**2)
        phi = phi + term.sum(axis=0)
        by_delta = by_delta + (term * (d / delta - 2.0 * alpha * u)).sum(axis=0)
        by_tau = by_tau + (term * (t / tau - 2.0 * beta * v)).sum(axis=0)
        for row in self.terms.critical:
            term, term_delta, term_tau = _critical_term(delta, tau, *row)
            phi, by_delta, by_tau = phi + term, by_delta + term_delta, by_tau + term_tau
        return phi, by_delta, by_tau

    def first(self, T: Numbers, rho: Numbers) -> First:
        total = rho[:, 0]
        delta, tau = total * self.scale / self.terms.density, self.terms.temperature / T
        phi, by_delta, by_tau = self.reduced(delta, tau)
        # the equation's own gas constant in the ideal part too: ρ ln ρ adds to the pressure what its gas constant has more than the universal one
        more = self.own - 1.0
        f = self.own * total * phi + more * total * np.log(delta)
        return First(
            f, -self.own * total * by_tau * tau / T, (self.own * (phi + delta * by_delta) + more * (np.log(delta) + 1.0))[:, None]
        )


class _Isotherm(Isotherm):
    """P/RT = ρ (1 + δ φ_δ) with its slope by density, in the equation's own gas constant; what depends on temperature alone is there beforehand."""

    def __init__(self, model: ReferenceFluid, T: Array) -> None:
        self.model, self.T = model, T
        self.tau = model.terms.temperature / T
        n, _, t, _ = model.smooth
        self.smooth = n * self.tau**t
        n, _, t, _, beta, gamma, _ = model.bells
        self.bells = n * self.tau**t * np.exp(-beta * (self.tau - gamma) ** 2)

    def __call__(self, rho: Array) -> tuple[Array, Array]:
        """At densities ``(K, N)``, those ``(1, N)`` or ``(K, 1)`` too, the latter at every temperature."""
        delta = rho * self.model.scale / self.model.terms.density
        first, slope = (
            _weighted(smooth, self.smooth) + _weighted(bells, self.bells)
            for smooth, bells in zip(*self.model.by_density(delta), strict=True)
        )
        delta, tau = np.broadcast_arrays(delta, self.tau)
        h = 1e-30
        for row in self.model.terms.critical:
            _, _, _, _, C, D, _, _ = row
            felt = C * (delta - 1.0) ** 2 + D * (tau - 1.0) ** 2 < _UNFELT
            near = delta[felt]
            by_delta = _critical_term(near + 1j * h, tau[felt], *row)[1]
            first[felt] += near * np.real(by_delta)
            slope[felt] += near * np.real(by_delta) + near**2 * np.imag(by_delta) / h
        own = self.model.own
        return own * rho * (1.0 + first), own * (1.0 + first + slope)

    def rows(self, index: Index) -> _Isotherm:
        return _Isotherm(self.model, self.T[index])


def _weighted(terms: Array, weights: Array) -> Array:
    """Sums ``(K, N)`` of terms ``(M, K, N)`` or ``(M, K, 1)``, each by its weight ``(M, N)``."""
    if terms.shape[2] == 1:
        return np.asarray(terms[:, :, 0].T @ weights)
    return np.asarray((weights[:, None, :] * terms).sum(axis=0))


class BoundReference(BoundHelmholtz):
    """Such an equation at given T and P.

    Below the critical temperature it has loops of no meaning between vapor and liquid: a vapor is only where pressure rises all the way from zero density, a liquid where it
    falls all the way from the densest.
    """

    model: ReferenceFluid

    def rows(self, index: Index) -> Self:
        some = type(self)(self.model, self.T[index], self.P[index])
        if "_branches" in vars(self):
            some.__dict__["_branches"] = tuple(rho[index] for rho in self._branches)
        return some

    @cached_property
    def _branches(self) -> tuple[Array, Array, Array]:
        """Densities of the vapor, of the liquid, and of the stable one of both ``(N,)``; a branch that is not there has the other's."""
        x = np.ones((len(self.T), 1))
        isotherm, p = self.model.isotherm(self.T, x), self.P / (R * self.T)
        critical = self.model.terms.density / self.model.scale
        with np.errstate(all="ignore"):
            vapor = self._root(isotherm, p, _FROM_NOTHING * critical)
            liquid = self._root(isotherm, p, self.model.from_dense * critical)
        vapor, liquid = np.where(np.isnan(vapor), liquid, vapor), np.where(np.isnan(liquid), vapor, liquid)
        stable = vapor.copy()
        contest = np.flatnonzero(vapor != liquid)
        if contest.size:
            stable[contest] = self._of_lower_energy(x, Roots(vapor, liquid), contest)
        return vapor, liquid, stable

    def _density(self, x: Array, kind: Kind) -> Array:
        vapor, liquid, stable = self._branches
        choice = np.broadcast_to(np.asarray(kind, dtype=np.int8), (len(x),))
        return np.asarray(np.where(choice == LIQUID, liquid, np.where(choice == STABLE, stable, vapor)))

    def _root(self, isotherm: Isotherm, p: Array, places: Array) -> Array:
        """The density at which the pressure over RT is ``p (N,)`` on the branch that begins at the first of ``places (K,)``; NaN where there is none."""
        along, slope = isotherm(places[:, None])
        open_ = np.minimum.accumulate((slope > 0.0).astype(int), axis=0) > 0
        crossed = ((along[:-1] - p) * (along[1:] - p) <= 0.0) & open_[:-1]
        # the end of the branch lies behind its last rising place
        first = crossed.argmax(axis=0)
        low, high = np.minimum(places[first], places[first + 1]), np.maximum(places[first], places[first + 1])
        there = crossed.any(axis=0)
        rho = np.where(there, 0.5 * (low + high), places[0])
        for _ in range(_NEWTON):
            value, rise = isotherm(rho[None])
            off = value[0] - p
            low, high = np.where(off < 0.0, rho, low), np.where(off < 0.0, high, rho)
            step = rho - off / rise[0]
            done = (np.abs(step - rho) <= _CLOSE * rho) & (rise[0] > 0.0)
            rho = np.where((step > low) & (step < high) & (rise[0] > 0.0) | done, step, 0.5 * (low + high))
            if (done | ~there).all():
                break
        good = there & (isotherm(rho[None])[1][0] > 0.0)
        return np.where(good, rho, np.nan)


def _critical_term(
    delta: Numbers, tau: Numbers, n: float, a: float, b: float, B: float, C: float, D: float, A: float, beta: float
) -> tuple[Numbers, Numbers, Numbers]:
    """A term that makes the critical region what it is, and its derivatives by δ and τ; at the critical density itself by its limit."""
    x = delta - 1.0
    x = np.where(x == 0.0, 1e-30, x)
    square = x**2
    theta = 1.0 - tau + A * square ** (0.5 / beta)
    Delta = theta**2 + B * square**a
    psi = np.exp(-C * square - D * (tau - 1.0) ** 2)
    Delta = np.where(Delta == 0.0, 1e-300, Delta)
    power = Delta**b
    Delta_delta = x * (2.0 * theta * A / beta * square ** (0.5 / beta - 1.0) + 2.0 * B * a * square ** (a - 1.0))
    power_delta, power_tau = b * power / Delta * Delta_delta, -2.0 * b * theta * power / Delta
    psi_delta, psi_tau = -2.0 * C * x * psi, -2.0 * D * (tau - 1.0) * psi
    return (
        n * power * delta * psi,
        n * (power * (psi + delta * psi_delta) + power_delta * delta * psi),
        n * delta * (power_tau * psi + power * psi_tau),
    )
