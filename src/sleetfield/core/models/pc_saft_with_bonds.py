"""PC-SAFT with bonds between chains: `pc_saft`, and what `association` adds, with the contact value of hard spheres

    gᵢⱼ = 1/(1 - ζ₃) + 3 Dᵢⱼ ζ₂/(1 - ζ₃)² + 2 Dᵢⱼ² ζ₂²/(1 - ζ₃)³,     Dᵢⱼ = dᵢdⱼ/(dᵢ + dⱼ).

Reference: Gross and Sadowski, Ind. Eng. Chem. Res. 41 (2002) 5510-5515.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple, Self

import numpy as np

from ..arrays import Array, Index, Numbers, rows
from ..compiled.loops import Plain
from .association import Association, Bent, Bonds
from .contract import STABLE, Kind
from .density_roots import Isotherm
from .helmholtz import First
from .pc_saft import PCSAFT


class _Contact(NamedTuple):
    """Contact values of pairs of sites ``(N, K, K)``, and their derivatives by ζ₂, ζ₃ and D."""

    value: Numbers
    by_2: Numbers
    by_3: Numbers
    by_D: Numbers


class BondedPCSAFT(PCSAFT):
    """PC-SAFT of chains some of which have sites; the parameters before ``association`` are those of `PCSAFT`."""

    def __init__(self, *chains: Any, association: Association) -> None:
        super().__init__(*chains)
        self.association = association

    def select(self, components: Sequence[int]) -> Self:
        i = np.asarray(components)
        mass = None if self.molar_mass is None else self.molar_mass[i]
        own = self.m[i], self.sigma[i], self.epsilon[i], self.kij[..., i[:, None], i], self.Tc[i], self.Pc[i], self.omega[i], mass
        return type(self)(*own, association=self.association.select(components))

    def compiled(self) -> Plain | None:
        sites = self.association.compiled()
        return None if sites is None else self._plain(sites)

    def gradient(self, T: Numbers, rho: Numbers) -> tuple[Numbers, Numbers]:
        d = self.first(T, rho)
        return d.f, d.f_rho

    def first(self, T: Numbers, rho: Numbers) -> First:
        plain = super().first(T, rho)
        d = self._diameters(T)
        spheres = self._spheres(d)
        c = self._contact(d, rho, spheres)
        bonds: Bonds = self.association.bonds(T, rho, c.value)
        f_2, f_3 = ((bonds.by_contact * by).sum(axis=(1, 2)) for by in (c.by_2, c.by_3))
        d_T = self._diameter_slopes(T)
        swelling = rho * d_T
        z2_T, z3_T = (k * (swelling * s).sum(axis=-1) for k, s in ((2.0, spheres[1]), (3.0, spheres[2])))
        own, own_T = d[:, self.association.owner], d_T[:, self.association.owner]
        D_T = (own_T[:, :, None] * own[:, None, :] ** 2 + own_T[:, None, :] * own[:, :, None] ** 2) / (
            own[:, :, None] + own[:, None, :]
        ) ** 2
        f_T = bonds.f_T + f_2 * z2_T + f_3 * z3_T + (bonds.by_contact * c.by_D * D_T).sum(axis=(1, 2))
        f_rho = bonds.f_rho + f_2[:, None] * spheres[2] + f_3[:, None] * spheres[3]
        return First(plain.f + bonds.f, plain.f_T + f_T, plain.f_rho + f_rho)

    def free_sites(self, T: Array, rho: Array, kind: Kind = STABLE) -> Array:
        d = self._diameters(T)
        contact = self._contact(d, rho, self._spheres(d)).value
        return self.association.free_sites(T, rho, np.asarray(contact, dtype=float))

    def _mean_diameters(self, d: Numbers) -> Numbers:
        """D of pairs of sites ``(N, K, K)``."""
        own = d[:, self.association.owner]
        return own[:, :, None] * own[:, None, :] / (own[:, :, None] + own[:, None, :])

    def _contact(self, d: Numbers, rho: Numbers, spheres: list[Numbers]) -> _Contact:
        z2, z3 = ((rho * s).sum(axis=-1)[:, None, None] for s in spheres[2:])
        D = self._mean_diameters(d)
        w = 1.0 / (1.0 - z3)
        reach = D * z2 * w
        value = w * (1.0 + reach * (3.0 + 2.0 * reach))
        by_reach = w * (3.0 + 4.0 * reach)
        return _Contact(value, by_reach * D * w, w * (value + by_reach * reach), by_reach * z2 * w)

    def hessian(self, T: Array, rho: Array) -> Array:
        d = np.asarray(self._diameters(T), dtype=float)
        spheres = [np.asarray(s, dtype=float) for s in self._spheres(d)]
        c = self._contact(d, rho, spheres)
        w = 1.0 / (1.0 - (rho * spheres[3]).sum(axis=-1)[:, None, None])
        D = self._mean_diameters(d)
        r = D * (rho * spheres[2]).sum(axis=-1)[:, None, None] * w
        cube = w * w * w
        across = D * cube * (6.0 + 12.0 * r)
        bent = [[4.0 * D * D * cube, across], [across, cube * (2.0 + r * (18.0 + 24.0 * r))]]
        value, by_2, by_3 = (np.asarray(v, dtype=float) for v in (c.value, c.by_2, c.by_3))
        own = self.association.hessian(T, rho, Bent(value, [by_2, by_3], bent, spheres[2:]))
        return np.asarray(super().hessian(T, rho) + own)

    def isotherm(self, T: Array, x: Array) -> Isotherm:
        d = np.asarray(self._diameters(T), dtype=float)
        spheres = self._spheres(d)
        z2, z3 = ((x * s).sum(axis=-1) for s in spheres[2:])
        reach = np.asarray(self._mean_diameters(d) * z2[:, None, None], dtype=float)
        return _Isotherm(
            super().isotherm(T, x), self.association, self.association.real_strength(T), x, reach, np.asarray(z3, dtype=float)
        )


class _Isotherm(Isotherm):
    """That of the chains alone, and what bonds add to it."""

    def __init__(self, chains: Isotherm, association: Association, strength: Array, x: Array, reach: Array, z3: Array) -> None:
        self.chains, self.association, self.strength, self.x, self.reach, self.z3 = chains, association, strength, x, reach, z3

    def rows(self, index: Index) -> _Isotherm:
        own = self.strength[index], rows(self.x, index), self.reach[index], self.z3[index]
        return _Isotherm(self.chains.rows(index), self.association, *own)

    def grid(self, densest: Array) -> tuple[Array, Array, Array]:
        rho, p, slope = self.chains.grid(densest)
        more = self._bonds(rho)
        return rho, p + more[0], slope + more[1]

    def __call__(self, rho: Array) -> tuple[Array, Array]:
        p, slope = self.chains(rho)
        more = self._bonds(rho)
        return p + more[0], slope + more[1]

    def _bonds(self, rho: Array) -> tuple[Array, Array]:
        count = rho.size // len(self.z3) if len(self.z3) else 0
        flat, z3, u = rho.ravel(), np.tile(self.z3, count), np.tile(self.reach, (count, 1, 1))
        w = (1.0 / (1.0 - flat * z3))[:, None, None]
        w1 = z3[:, None, None] * w
        r, r1 = u * flat[:, None, None] * w, u * w * w
        r2 = 2.0 * r1 * w1
        h, h_r = 1.0 + r * (3.0 + 2.0 * r), 3.0 + 4.0 * r
        h1, h2 = h_r * r1, 4.0 * r1 * r1 + h_r * r2
        contact = w * h, w * (w1 * h + h1), w * (2.0 * w1 * w1 * h + 2.0 * w1 * h1 + h2)
        p, slope = self.association.pressure(np.tile(self.strength, (count, 1, 1)), np.tile(self.x, (count, 1)), flat, contact)
        return p.reshape(rho.shape), slope.reshape(rho.shape)
