"""A vapor of molecules that pair: ideal but for dimers, by the chemical theory.

    2 i ⇌ i₂,     Kᵢ(T) = exp(ΔSᵢ/R - ΔHᵢ/RT)/P°,     i + j ⇌ ij,     Kᵢⱼ = 2 √(KᵢKⱼ)

with the statistical factor of unlike pairs. Such a gas is `association` without any other interaction, with one site a molecule, gᵢⱼ = 1 and Δᵢⱼ = 2RT √(KᵢKⱼ): the fraction of free sites is that of
monomers.

Reference: Prausnitz, Lichtenthaler and de Azevedo, Molecular Thermodynamics of Fluid-Phase Equilibria, 3rd ed. (1999), sections 5.8 and 5.9.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..arrays import Array, Numbers
from ..constants import P_REFERENCE, R
from .association import Bent, Sites
from .contract import STABLE, Kind
from .helmholtz import BoundHelmholtz, First, HelmholtzModel

_COVOLUME = 2e-6
"""m3/mol, a small one: a vapor has none."""
_STEPS, _THERE = 60, 1e-15


class Dimerization(Sites):
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
        super().__init__(len(enthalpy), owner, np.ones(len(owner)))
        self.enthalpy, self.entropy = enthalpy, entropy

    def select(self, components: Sequence[int]) -> Dimerization:
        i = np.asarray(components)
        return Dimerization(self.enthalpy[i], self.entropy[i])

    def root(self, T: Numbers) -> Numbers:
        """√K of each site ``(N, K)``, Pa^-0.5."""
        enthalpy, entropy = self.enthalpy[self.owner] / R, self.entropy[self.owner] / R
        return np.asarray(np.exp(0.5 * (entropy - enthalpy / T[:, None])) / np.sqrt(P_REFERENCE))

    def strength(self, T: Numbers) -> tuple[Numbers, Numbers]:
        root = self.root(T) * np.sqrt(2.0 * R * T[:, None])
        rise = 0.5 * (self.enthalpy[self.owner] / (R * T[:, None]) + 1.0) / T[:, None]
        F = root[:, :, None] * root[:, None, :]
        return F, F * (rise[:, :, None] + rise[:, None, :])


class DimerizingGas(HelmholtzModel):
    """An ideal gas but for the dimers of some of its components."""

    # it has no liquid side
    critical_packing = 2.0

    def __init__(self, dimerization: Dimerization) -> None:
        self.dimerization, self.n_components = dimerization, dimerization.n_components

    def at(self, T: Array, P: Array) -> BoundDimerizingGas:
        return BoundDimerizingGas(self, T, P)

    def select(self, components: Sequence[int]) -> DimerizingGas:
        return DimerizingGas(self.dimerization.select(components))

    def first(self, T: Numbers, rho: Numbers) -> First:
        bonds = self.dimerization.bonds(T, rho, np.ones((len(T), 1, 1)))
        return First(bonds.f, bonds.f_T, bonds.f_rho)

    def hessian(self, T: Array, rho: Array) -> Array:
        return self.dimerization.hessian(T, rho, Bent(np.ones((len(T), 1, 1)), [], [], []))

    def free_sites(self, T: Array, rho: Array, kind: Kind = STABLE) -> Array:
        return self.dimerization.free_sites(T, rho, np.ones((len(T), 1, 1)))

    def covolume(self, T: Array, n: Array) -> Array:
        return np.asarray(n.sum(axis=-1) * _COVOLUME)

    def ln_saturation_guess(self, T: Array) -> Array:
        return np.zeros((len(T), self.n_components))

    def temperature_scale(self, x: Array) -> tuple[float, float]:
        return 1.0, 1.0


class BoundDimerizingGas(BoundHelmholtz):
    """The gas at given T and P.

    With s = Σ √Kᵢ pᵢ over the partial pressures of monomers, pᵢ = yᵢ(P + s²)/(1 + 2 √Kᵢ s) and the moles before pairing are (P + s²)/RT: one equation for s.
    """

    model: DimerizingGas

    def _density(self, x: Array, kind: Kind) -> Array:
        owner, P = self.model.dimerization.owner, self.P
        root = self.model.dimerization.root(self.T)
        share = root * x[:, owner]
        low, high = np.zeros(len(P)), np.sqrt(P)
        s = 0.5 * high
        for _ in range(_STEPS):
            wide = 1.0 + 2.0 * root * s[:, None]
            met = (share / wide).sum(axis=-1)
            error = met * (P + s * s) - s
            slope = 2.0 * s * met - (P + s * s) * (2.0 * share * root / wide**2).sum(axis=-1) - 1.0
            low, high = np.where(error > 0.0, s, low), np.where(error > 0.0, high, s)
            new = s - error / slope
            new = np.where((new >= low) & (new <= high), new, 0.5 * (low + high))
            there, s = np.abs(new - s) <= _THERE * new, new
            if there.all():
                break
        return np.asarray((P + s * s) / (R * self.T))
