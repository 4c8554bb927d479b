"""Equations of state explicit in the Helmholtz energy: everything that the contract asks, from A(T, V, n) with its first derivatives.

The residual Helmholtz energy is extensive, so it is written for a unit of volume, as a function of temperature and of the densities ρᵢ = nᵢ/V:

    Aᴿ(T, V, n)/(V R T) = f(T, ρ₁ ... ρ_C)

and with the subscripts of f as its derivatives, p = P/RT and ρ = Σ ρᵢ,

    p = ρ + Σ ρᵢ fᵢ - f,    pᵢ = ∂p/∂ρᵢ = 1 + Σ ρⱼ fᵢⱼ,    ln φᵢ = fᵢ - ln Z,    Z = p/ρ,
    n ∂ln φᵢ/∂nⱼ = 1 + ρ fᵢⱼ - pᵢ pⱼ/p_ρ,    p_ρ = Σ xᵢ pᵢ,    V̄ᵢ = pᵢ/(ρ p_ρ)

(Michelsen and Mollerup, Thermodynamic Models: Fundamentals and Computational Aspects, 2nd ed. (2007), ch. 2, in densities).

Whoever writes such an equation gives `HelmholtzModel.first` in ordinary array arithmetic, so that it takes complex numbers too: second derivatives are its exact
complex-step derivatives. Where the matrix of second derivatives or the isotherm can be had for less, `hessian` and `isotherm` are overridden.
"""

from __future__ import annotations

from abc import abstractmethod
from typing import ClassVar, NamedTuple, Self

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Index, Numbers, rows
from ..constants import R
from .contract import LIQUID, STABLE, VAPOR, Description, Evaluation, Kind, VolumeModel
from .density_roots import Isotherm, Roots, rising_roots
from .equation_of_state import BoundEquation

_STEP = 1e-30
"""Of complex steps, relative: so small that nothing but the first derivative is left."""
_FORM_STEP = 1e-3
"""Of differences of the second derivatives along a direction, relative: their error is its fourth power."""
_BRANCHES = np.linspace(0.01, 0.7, 70)
"""Packings between which pressure is looked at for a falling branch."""
_FINER = np.linspace(-1.0, 1.0, 9)


class First(NamedTuple):
    """Aᴿ/VRT ``(N,)``, mol/m3, and its derivatives by temperature ``(N,)`` and by densities ``(N, C)``."""

    f: Numbers
    f_T: Numbers
    f_rho: Numbers


class HelmholtzModel(VolumeModel):
    """An equation of state explicit in the Helmholtz energy; see the module's docstring.

    `covolume` is the volume of closest packing: up to it pressure has to rise beyond `P_limit`.
    """

    critical_packing: ClassVar[float] = 0.2
    """Covolume over the critical volume of a typical pure fluid."""

    @abstractmethod
    def first(self, T: Numbers, rho: Numbers) -> First:
        """At temperatures ``T (N,)``, K, and densities ``rho (N, C)``, mol/m3, real or complex."""

    def gradient(self, T: Numbers, rho: Numbers) -> tuple[Numbers, Numbers]:
        """Aᴿ/VRT and its derivatives by densities alone."""
        d = self.first(T, rho)
        return d.f, d.f_rho

    def hessian(self, T: Array, rho: Array) -> Array:
        """∂²f/∂ρᵢ∂ρⱼ ``(N, C, C)``."""
        size = rho.sum(axis=-1)
        columns = []
        for j in range(rho.shape[1]):
            step = np.zeros(rho.shape[1])
            step[j] = 1.0
            columns.append(self._along(T, rho, size, step[None]))
        return np.stack(columns, axis=-1)

    def isotherm(self, T: Array, x: Array) -> Isotherm:
        """Pressure against density at ``T (N,)`` and mole fractions ``x (N, C)``."""
        return _PlainIsotherm(self, T, x)

    def _along(self, T: Array, rho: Array, size: Array, direction: Array) -> Array:
        """Σ fᵢⱼ dⱼ ``(N, C)`` along a direction ``(N, C)``."""
        h = (_STEP * size)[:, None]
        return np.asarray(np.imag(self.gradient(T, rho + 1j * h * direction)[1]) / h)

    # ---- the contract of volume models ----

    def at(self, T: Array, P: Array) -> BoundHelmholtz:
        return BoundHelmholtz(self, T, P)

    def pressure(self, T: Array, V: Array, n: Array) -> Array:
        rho = n / V[:, None]
        f, f_rho = self.gradient(T, rho)
        return np.asarray(R * T * (rho.sum(axis=-1) + (rho * f_rho).sum(axis=-1) - f))

    def helmholtz_hessian(self, T: Array, V: Array, n: Numbers) -> Numbers:
        """The plain one; along an imaginary part of ``n`` its derivative, by differences of the fourth order."""
        size = V[:, None]
        plain = self.hessian(T, np.real(n) / size)
        if not np.iscomplexobj(n):
            return plain / V[:, None, None]
        along = np.imag(n)
        h = _FORM_STEP * np.min(np.real(n) / np.maximum(np.abs(along), 1e-300), axis=-1)[:, None]
        values = [self.hessian(T, (np.real(n) + k * h * along) / size) for k in (-2, -1, 1, 2)]
        slope = (values[0] - 8.0 * values[1] + 8.0 * values[2] - values[3]) / (12.0 * h[:, :, None])
        return np.asarray((plain + 1j * slope) / V[:, None, None])

    def volume_shift(self, x: Array) -> Array:
        return np.zeros(len(x))

    def has_branches(self, T: Array, x: Array) -> NDArray[np.bool_]:
        """Where the slope of the isotherm is negative somewhere: looked for on a grid, and closely around the lowest slope."""
        if not len(T):
            return np.zeros(0, dtype=bool)
        isotherm, densest = self.isotherm(T, x), 1.0 / self.covolume(T, x)
        places, width = _BRANCHES[:, None] * densest, (_BRANCHES[1] - _BRANCHES[0]) * densest
        lowest = np.full(len(T), np.inf)
        for _ in range(4):
            slope = isotherm(places)[1]
            lowest = np.minimum(lowest, slope.min(axis=0))
            best = places[slope.argmin(axis=0), np.arange(len(T))]
            places, width = best + _FINER[:, None] * width, 0.25 * width
        return np.asarray(lowest < 0.0)


class _PlainIsotherm(Isotherm):
    """From the model's own first derivatives."""

    def __init__(self, model: HelmholtzModel, T: Array, x: Array) -> None:
        self.model, self.T, self.x = model, T, x

    def __call__(self, rho: Array) -> tuple[Array, Array]:
        flat = rho.reshape(-1, len(self.T))
        count = len(flat)
        T, x, total = np.tile(self.T, count), np.tile(self.x, (count, 1)), flat.ravel()
        h = _STEP * total
        along = (total + 1j * h)[:, None] * x
        f, f_rho = self.model.gradient(T, along)
        p = along.sum(axis=-1) + (along * f_rho).sum(axis=-1) - f
        return np.real(p).reshape(rho.shape), (np.imag(p) / h).reshape(rho.shape)

    def rows(self, index: Index) -> _PlainIsotherm:
        return _PlainIsotherm(self.model, self.T[index], rows(self.x, index))


class BoundHelmholtz(BoundEquation[HelmholtzModel]):
    """Such an equation at given T and P."""

    def rows(self, index: Index) -> Self:
        return type(self)(self.model, self.T[index], self.P[index])

    def _density(self, x: Array, kind: Kind) -> Array:
        """The density ``(N,)`` of the phase that ``kind`` asks for."""
        choice = np.broadcast_to(np.asarray(kind, dtype=np.int8), (len(x),))
        roots = rising_roots(self.model.isotherm(self.T, x), self.P / (R * self.T), 1.0 / self.model.covolume(self.T, x), choice)
        rho = np.where(choice == LIQUID, roots.highest, roots.lowest)
        contest = np.flatnonzero(roots.several & (choice == STABLE))
        if contest.size:
            rho[contest] = self._of_lower_energy(x, roots, contest)
        return np.asarray(rho)

    def _of_lower_energy(self, x: Array, roots: Roots, some: Index) -> Array:
        T, p, x = self.T[some], self.P[some] / (R * self.T[some]), rows(x, some)
        places = roots.lowest[some], roots.highest[some]
        g = [self.model.gradient(T, rho[:, None] * x)[0] / rho + p / rho - np.log(p / rho) for rho in places]
        return np.where(g[1] < g[0], places[1], places[0])

    def ln_phi_by_arrays(self, x: Array, kind: Kind) -> Array:
        rho = self._density(x, kind)
        Z = self.P / (rho * R * self.T)
        return np.asarray(self.model.gradient(self.T, rho[:, None] * x)[1] - np.log(Z)[:, None])

    def describe_by_arrays(self, x: Array, kind: Kind) -> Description:
        rho = self._density(x, kind)
        packing = rho * self.model.covolume(self.T, x)
        kinds = np.where(packing < self.model.critical_packing, VAPOR, LIQUID).astype(np.int8)
        return Description(self.P / (rho * R * self.T), kinds, packing)

    def evaluate_by_arrays(self, x: Array, kind: Kind) -> Evaluation:
        model, T, P = self.model, self.T, self.P
        rho = self._density(x, kind)
        total, rho_i = rho, rho[:, None] * x
        p = P / (R * T)
        Z = p / total
        h = _STEP * T
        warm = model.first(T + 1j * h, rho_i)
        f_T, f_i = np.real(warm.f_T), np.real(warm.f_rho)
        f_TT, f_iT = np.imag(warm.f_T) / h, np.imag(warm.f_rho) / h[:, None]
        p_i = 1.0 + total[:, None] * model._along(T, rho_i, total, x)
        p_rho = (x * p_i).sum(axis=-1)
        p_T = (rho_i * f_iT).sum(axis=-1) - f_T
        rho_T, rho_P = -(p / T + p_T) / p_rho, 1.0 / (R * T * p_rho)
        Z_T, Z_P = -Z / T - Z * rho_T / total, Z / P - Z * rho_P / total
        a_T_rho = ((x * f_iT).sum(axis=-1) - f_T / total) / total

        def by_mole_numbers() -> Array:
            outer = p_i[:, :, None] * (p_i / p_rho[:, None])[:, None, :]
            return np.asarray(1.0 + total[:, None, None] * model.hessian(T, rho_i) - outer)

        return Evaluation(
            ln_phi=f_i - np.log(Z)[:, None],
            dT=f_iT + (1.0 / T)[:, None] + p_i * (rho_T / total)[:, None],
            dP=p_i * (rho_P / total)[:, None] - (1.0 / P)[:, None],
            g_TT=f_TT / total + a_T_rho * rho_T - Z_T / T + (Z - 1.0) / T**2,
            Z=Z,
            Z_T=Z_T,
            Z_P=Z_P,
            compute_dn=by_mole_numbers,
        )
