"""A vapor of molecules that pair: ideal but for dimers, by the chemical theory.

    2 i ⇌ i₂,     Kᵢ(T) = exp(ΔSᵢ/R - ΔHᵢ/RT)/P°,     i + j ⇌ ij,     Kᵢⱼ = 2 √(KᵢKⱼ)

with the statistical factor of unlike pairs. Such a gas is `association` without any other interaction, with one site a molecule, gᵢⱼ = 1 and Δᵢⱼ = 2RT √(KᵢKⱼ): the fraction of free sites is that of
monomers.

Reference: Prausnitz, Lichtenthaler and de Azevedo, Molecular Thermodynamics of Fluid-Phase Equilibria, 3rd ed. (1999), sections 5.8 and 5.9.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..arrays import Array, Index, Numbers, rows
from ..constants import P_REFERENCE, R
from .association import Association, Bent
from .contract import STABLE, Kind
from .density_roots import Isotherm
from .helmholtz import First, HelmholtzModel

_COVOLUME = 2e-6
"""m3/mol: densities are sought up to that of a mole in so little."""


class Dimerization(Association):
    """One site a molecule.

    Parameters
    ----------
    enthalpy : (C,)
        Of a dimer from two molecules, J/mol of dimers; NaN where there are none.
    entropy : (C,)
        The same, J/(mol K), at 1 bar.

    """

    def __init__(self, enthalpy: Array, entropy: Array) -> None:
        owner = np.flatnonzero(np.isfinite(enthalpy + entropy))
        count = len(owner)
        super().__init__(len(enthalpy), owner, np.ones(count), np.zeros((count, count)), np.zeros((2, count, count)))
        self.enthalpy, self.entropy = enthalpy, entropy

    def select(self, components: Sequence[int]) -> Dimerization:
        i = np.asarray(components)
        return Dimerization(self.enthalpy[i], self.entropy[i])

    def strength(self, T: Numbers) -> tuple[Numbers, Numbers]:
        enthalpy, entropy = self.enthalpy[self.owner] / R, self.entropy[self.owner] / R
        root = np.exp(0.5 * (entropy - enthalpy / T[:, None])) * np.sqrt(2.0 * R * T[:, None] / P_REFERENCE)
        rise = 0.5 * (enthalpy / T[:, None] + 1.0) / T[:, None]
        F = root[:, :, None] * root[:, None, :]
        return F, F * (rise[:, :, None] + rise[:, None, :])


class DimerizingGas(HelmholtzModel):
    """An ideal gas but for the dimers of some of its components."""

    # it has no liquid side
    critical_packing = 2.0

    def __init__(self, dimerization: Dimerization) -> None:
        self.dimerization, self.n_components = dimerization, dimerization.n_components

    def select(self, components: Sequence[int]) -> DimerizingGas:
        return DimerizingGas(self.dimerization.select(components))

    def first(self, T: Numbers, rho: Numbers) -> First:
        bonds = self.dimerization.bonds(T, rho, np.ones((len(T), 1, 1)))
        return First(bonds.f, bonds.f_T, bonds.f_rho)

    def hessian(self, T: Array, rho: Array) -> Array:
        return self.dimerization.hessian(T, rho, Bent(np.ones((len(T), 1, 1)), [], [], []))

    def isotherm(self, T: Array, x: Array) -> Isotherm:
        return _Isotherm(self.dimerization, self.dimerization.real_strength(T), x)

    def free_sites(self, T: Array, rho: Array, kind: Kind = STABLE) -> Array:
        return self.dimerization.free_sites(T, rho, np.ones((len(T), 1, 1)))

    def covolume(self, n: Array) -> Array:
        return np.asarray(n.sum(axis=-1) * _COVOLUME)

    def ln_saturation_guess(self, T: Array) -> Array:
        return np.zeros((len(T), self.n_components))

    def temperature_scale(self, x: Array) -> tuple[float, float]:
        return 1.0, 1.0


class _Isotherm(Isotherm):
    """P/RT rises and bends steadily."""

    packings = np.array([1e-4, 1e-2, 0.999])

    def __init__(self, dimerization: Dimerization, strength: Array, x: Array) -> None:
        self.dimerization, self.strength, self.x = dimerization, strength, x

    def rows(self, index: Index) -> _Isotherm:
        return _Isotherm(self.dimerization, self.strength[index], rows(self.x, index))

    def __call__(self, rho: Array) -> tuple[Array, Array]:
        count = rho.size // len(self.x) if len(self.x) else 0
        flat, none = rho.ravel(), np.zeros((rho.size, 1, 1))
        strength, x = np.tile(self.strength, (count, 1, 1)), np.tile(self.x, (count, 1))
        p, slope = self.dimerization.pressure(strength, x, flat, (none + 1.0, none, none))
        return (flat + p).reshape(rho.shape), (1.0 + slope).reshape(rho.shape)
