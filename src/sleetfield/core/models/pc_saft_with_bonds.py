"""PC-SAFT with bonds between chains: `pc_saft`, and what `association` adds, with the contact value of hard spheres

    gᵢⱼ = 1/(1 - ζ₃) + 3 Dᵢⱼ ζ₂/(1 - ζ₃)² + 2 Dᵢⱼ² ζ₂²/(1 - ζ₃)³,     Dᵢⱼ = dᵢdⱼ/(dᵢ + dⱼ).

Reference: Gross and Sadowski, Ind. Eng. Chem. Res. 41 (2002) 5510-5515.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple, Self

import numpy as np

from ..arrays import Array, Numbers
from ..compiled.equation_loops import Plain
from .association import Association, Bonds
from .contract import STABLE, Kind
from .density_roots import Isotherm
from .helmholtz import First, HelmholtzModel
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

    def _contact(self, d: Numbers, rho: Numbers, spheres: list[Numbers]) -> _Contact:
        z2, z3 = ((rho * s).sum(axis=-1)[:, None, None] for s in spheres[2:])
        own = d[:, self.association.owner]
        D = own[:, :, None] * own[:, None, :] / (own[:, :, None] + own[:, None, :])
        w = 1.0 / (1.0 - z3)
        reach = D * z2 * w
        value = w * (1.0 + reach * (3.0 + 2.0 * reach))
        by_reach = w * (3.0 + 4.0 * reach)
        return _Contact(value, by_reach * D * w, w * (value + by_reach * reach), by_reach * z2 * w)

    def hessian(self, T: Array, rho: Array) -> Array:
        return HelmholtzModel.hessian(self, T, rho)

    def isotherm(self, T: Array, x: Array) -> Isotherm:
        return HelmholtzModel.isotherm(self, T, x)
