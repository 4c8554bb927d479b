"""Cubic plus association: Soave's equation with bonds between molecules.

    Aᴿ/VRT = -ρ ln(1 - B) - Σ ρᵢρⱼ √(aᵢaⱼ)(1 - kᵢⱼ) ln(1 + B)/(B RT) + bonds,     B = Σ ρᵢbᵢ,     √aᵢ = √a₀ᵢ |1 + c₁ᵢ(1 - √(T/T_c,i))|
    g = 1/(1 - 0.475 B)

with the bonds of `association`. A component whose a₀, b and c₁ are those of its critical constants, and which has no sites, is one of Soave's equation.

References: Kontogeorgis, Voutsas, Yakoumis and Tassios, Ind. Eng. Chem. Res. 35 (1996) 4310-4318; with this g, Kontogeorgis, Yakoumis, Meijer, Hendriks and Moorwood, Fluid Phase
Equilib. 158-160 (1999) 201-209.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..arrays import Array, Index, Numbers, rows
from ..compiled.cpa_loops import Soave, plain
from ..compiled.equation_loops import common
from ..compiled.loops import Plain
from ..constants import R
from .association import Association, Bent
from .attraction import Attraction
from .contract import STABLE, Kind
from .density_roots import Isotherm
from .from_critical_constants import FromCriticalConstants
from .helmholtz import First, HelmholtzModel
from .soave_redlich_kwong import SoaveRedlichKwong

_CONTACT = 0.475
_PACKINGS = np.array([0.02, 0.07, 0.14, 0.23, 0.33, 0.45, 0.58, 0.72, 0.85, 0.95, 0.9999])
"""Where the compiled engine looks at isotherms first."""


class CPA(FromCriticalConstants, HelmholtzModel):
    """Soave's equation with bonds.

    Parameters
    ----------
    a0 : (C,)
        Attraction at the critical temperature, Pa m6/mol2.
    b : (C,)
        Covolume, m3/mol.
    c1 : (C,)
        Slope of √a.
    association : Association
    kij : (C, C) or (K, C, C)
        Symmetric binary interaction parameters, zero on the diagonal, or the coefficients of what they are by temperature (`temperature_terms`).
    Tc, Pc, omega : (C,)
        Critical temperature, K, on which √a rests; critical pressure, Pa, and acentric factor: where iterations start.
    molar_mass : (C,), optional
        kg/mol, for the order of liquids.

    """

    critical_packing = 1.0 / SoaveRedlichKwong.critical_volume_ratio

    def __init__(
        self,
        a0: Array,
        b: Array,
        c1: Array,
        association: Association,
        kij: Array,
        Tc: Array,
        Pc: Array,
        omega: Array,
        molar_mass: Array | None = None,
    ) -> None:
        self.a0, self.b, self.c1, self.association, self.kij = a0, b, c1, association, kij
        self.Tc, self.Pc, self.omega = Tc, Pc, omega
        self.n_components, self.molar_mass = len(b), molar_mass
        self.attraction = Attraction(kij)
        self._root = np.sqrt(a0)

    def select(self, components: Sequence[int]) -> CPA:
        i = np.asarray(components)
        mass = None if self.molar_mass is None else self.molar_mass[i]
        own = self.a0[i], self.b[i], self.c1[i], self.association.select(components), self.kij[..., i[:, None], i]
        return CPA(*own, self.Tc[i], self.Pc[i], self.omega[i], mass)

    def compiled(self) -> Plain | None:
        sites = self.association.compiled()
        if sites is None:
            return None
        soave = Soave(self._root, self.b, self.c1, *self.attraction.sum)
        return plain(common(R, self.Tc, self.Pc, self.omega), self.critical_packing, _CONTACT, soave, sites, _PACKINGS)

    def covolume(self, T: Array, n: Array) -> Array:
        return np.asarray(n @ self.b)

    def first(self, T: Numbers, rho: Numbers) -> First:
        RT = R * T
        total, B = rho.sum(axis=-1), rho @ self.b
        q, q_T, q_i = self._attractions(T, rho)
        free, log = 1.0 / (1.0 - B), np.log1p(B)
        per_B = log / B
        slope = (1.0 / (1.0 + B) - per_B) / B
        g = 1.0 / (1.0 - _CONTACT * B)
        bonds = self.association.bonds(T, rho, g[:, None, None])
        by_g = bonds.by_contact.sum(axis=(1, 2))
        by_B = total * free - q / RT * slope + by_g * _CONTACT * g * g
        f = total * np.log(free) - q / RT * per_B + bonds.f
        f_T = (q / T - q_T) / RT * per_B + bonds.f_T
        f_rho = np.log(free)[:, None] - (per_B / RT)[:, None] * q_i + by_B[:, None] * self.b + bonds.f_rho
        return First(f, f_T, f_rho)

    def hessian(self, T: Array, rho: Array) -> Array:
        RT, total, B = R * T, rho.sum(axis=-1), rho @ self.b
        q, _, q_i = self._attractions(T, rho)
        root = self._root * np.abs(1.0 + self.c1 * (1.0 - np.sqrt(T[:, None] / self.Tc)))
        q_ij = 2.0 * root[:, :, None] * root[:, None, :] * self.attraction.matrix(T)
        free, wide, per_B = 1.0 / (1.0 - B), 1.0 / (1.0 + B), np.log1p(B) / B
        slope = (wide - per_B) / B
        bent = -(wide * wide + 2.0 * slope) / B
        g = 1.0 / (1.0 - _CONTACT * B)
        g_B = _CONTACT * g * g
        result = (self.b[:, None] + self.b) * free[:, None, None]
        result = result + (total * free * free - q * bent / RT)[:, None, None] * (self.b[:, None] * self.b)
        result -= (per_B / RT)[:, None, None] * q_ij
        across = (slope / RT)[:, None, None] * q_i[:, :, None] * self.b
        result -= across + across.transpose(0, 2, 1)
        by, twice = g_B[:, None, None], (2.0 * _CONTACT * g * g_B)[:, None, None]
        slopes = np.broadcast_to(self.b, rho.shape)
        return np.asarray(result + self.association.hessian(T, rho, Bent(g[:, None, None], [by], [[twice]], [slopes])), dtype=float)

    def isotherm(self, T: Array, x: Array) -> Isotherm:
        q = np.asarray(self._attractions(T, x)[0] / (R * T), dtype=float)
        return _Isotherm(self.association, self.association.real_strength(T), x, x @ self.b, q)

    def free_sites(self, T: Array, rho: Array, kind: Kind = STABLE) -> Array:
        g = 1.0 / (1.0 - _CONTACT * (rho @ self.b))
        return self.association.free_sites(T, rho, g[:, None, None])

    def _attractions(self, T: Numbers, rho: Numbers) -> tuple[Numbers, Numbers, Numbers]:
        """Σ ρᵢρⱼaᵢⱼ, its derivative by temperature ``(N,)``, and those by densities ``(N, C)``."""
        root_T = np.sqrt(T[:, None] / self.Tc)
        root, root_slope = self._root * (1.0 + self.c1 * (1.0 - root_T)), -0.5 * self._root * self.c1 * root_T / T[:, None]
        sign = np.where(np.real(root) < 0.0, -1.0, 1.0)
        root, root_slope = sign * root, sign * root_slope
        pairs = self.attraction.matrix(T)
        u = rho * root
        met = u @ pairs if pairs.ndim == 2 else np.einsum("nij,nj->ni", pairs, u)
        q_T = 2.0 * (rho * root_slope * met).sum(axis=-1)
        if pairs.ndim > 2:
            q_T = q_T + np.einsum("ni,nij,nj->n", u, self.attraction.slopes(T)[0], u)
        return (u * met).sum(axis=-1), q_T, 2.0 * root * met


class _Isotherm(Isotherm):
    """P/RT and its slope in closed form, from what does not depend on density: strengths of bonds, covolume and attraction of a mole."""

    packings = _PACKINGS

    def __init__(self, association: Association, strength: Array, x: Array, b: Array, q: Array) -> None:
        self.association, self.strength, self.x, self.b, self.q = association, strength, x, b, q

    def rows(self, index: Index) -> _Isotherm:
        return _Isotherm(self.association, self.strength[index], rows(self.x, index), self.b[index], self.q[index])

    def __call__(self, rho: Array) -> tuple[Array, Array]:
        count = rho.size // len(self.b) if len(self.b) else 0
        flat, b, q = rho.ravel(), np.tile(self.b, count), np.tile(self.q, count)
        B = flat * b
        free, wide = 1.0 / (1.0 - B), 1.0 / (1.0 + B)
        p, slope = flat * (free - flat * q * wide), free * free - flat * q * wide * (2.0 - B * wide)
        g = 1.0 / (1.0 - _CONTACT * B)
        per = _CONTACT * b * g
        contact = (g[:, None, None], (per * g)[:, None, None], (2.0 * per * per * g)[:, None, None])
        more = self.association.pressure(np.tile(self.strength, (count, 1, 1)), np.tile(self.x, (count, 1)), flat, contact)
        return (p + more[0]).reshape(rho.shape), (slope + more[1]).reshape(rho.shape)
