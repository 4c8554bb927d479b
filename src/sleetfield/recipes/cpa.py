"""Cubic plus association: Soave's equation with bonds, for water, alcohols, glycols and acids beside everything else."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from ..components import Component
from ..components.component_list import ComponentList
from ..core.constants import R
from ..core.models.cpa import CPA
from ..core.models.soave_redlich_kwong import SoaveRedlichKwong
from ..pairs.of_temperature import constant
from .bonds import (
    CROSS_VOLUME,
    Array,
    EquationWithBonds,
    Keys,
    association,
    bond_parameters,
    crossed,
    liquid_volume,
    mean_energy,
    site_table,
    solvation_parameters,
)
from .contract import Given
from .interactions import KIJ, interactions, kij_of_pairs
from .parameter import NO_LAYER, Parameter, Parameters, Symbol

_KEYS = Keys("cpa_bond_energy", "cpa_bond_volume", ("cpa_donors", "cpa_acceptors", "cpa_pairing"))
_PHYSICAL = {"a0": "cpa_attraction", "b": "cpa_covolume", "c1": "cpa_slope"}
_BY_SOAVE = "from Tc, Pc and omega, as Soave's equation has it"
_ENERGY = Symbol("bond_energy", "energy of a bond", "J/mol", low=0.0, high=6e4, of_temperature=False, size=1e4)
_VOLUME = Symbol("bond_volume", "volume of a bond over the covolume", low=0.0, high=1.0, of_temperature=False, size=0.01)
_CROSS_ENERGY = Symbol(
    "cross_energy", "energy of a bond between unlike molecules", "J/mol", low=0.0, high=6e4, of_temperature=False, size=1e4
)


@dataclass(frozen=True)
class CPARecipe(EquationWithBonds, name="CPA"):
    """Bonds between unlike molecules by the rule CR-1: mean energies, geometric means of volumes."""

    symbols = (
        KIJ,
        Symbol("a0", "attraction at the critical temperature", "Pa m6/mol2", low=0.01, high=50.0, of_temperature=False),
        Symbol("b", "covolume", "m3/mol", low=1e-5, high=1e-3, of_temperature=False, size=1e-4),
        Symbol("c1", "slope of the root of the attraction", low=0.0, high=3.0, of_temperature=False),
        _ENERGY,
        _VOLUME,
        CROSS_VOLUME,
        _CROSS_ENERGY,
    )
    needs = ("Tc", "Pc", "omega")
    keys = _KEYS
    constants_of_components: ClassVar[Mapping[str, str]] = {**_PHYSICAL, _ENERGY.symbol: _KEYS.energy, _VOLUME.symbol: _KEYS.volume}

    def parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """Kij of every pair; the physical part and the bonds of every component; bonds of pairs of which one does not bind itself."""
        yield from interactions(who, given.get("kij"), self.bank_name)
        for c in who:
            yield from _physical(c)
        yield from bond_parameters(who, _KEYS, _ENERGY, _VOLUME)
        yield from solvation_parameters(who, _KEYS, self.bank_name, _CROSS_ENERGY)

    def rough_constants(self, c: Component, sites: Sequence[int]) -> dict[str, float]:
        """Of Soave's equation, less what bonds do, which in pairs are strong; and a covolume from the liquid."""
        _, _, pairing = sites
        a0, _, c1 = _of_soave(c)
        own = {"cpa_attraction": a0, "cpa_covolume": 0.8 * liquid_volume(c, 0.6), "cpa_slope": c1}
        if not any(sites):
            return own
        bonds = {_KEYS.energy: 40e3 if pairing else 21e3, _KEYS.volume: 0.008}
        return {**own, "cpa_attraction": 0.6 * a0, "cpa_slope": 0.75 * c1, **bonds}

    def cross_bonds(self, b: Array, energy: Array, volume: Array) -> tuple[Array, Array]:
        """V ``(C, C)``, m3/mol, and both energies ``(2, C, C)`` of pairs of components."""
        return 0.5 * (b[:, None] + b) * np.sqrt(volume[:, None] * volume), mean_energy(energy)

    def build(self, who: ComponentList, values: Parameters) -> CPA:
        """The equation with its numbers."""
        a0, b, c1 = (values.column(symbol, who) for symbol in _PHYSICAL)
        energy, volume = (values.column(s.symbol, who, 0.0) for s in (_ENERGY, _VOLUME))
        v, e = self.cross_bonds(b, energy / R, volume)
        solvated, warmer = (crossed(values, who, s.symbol) for s in (CROSS_VOLUME, _CROSS_ENERGY))
        v = np.where(solvated > 0.0, 0.5 * (b[:, None] + b) * solvated, v)
        e = np.where(solvated > 0.0, np.where(warmer > 0.0, warmer / R, mean_energy(energy / R)), e)
        Tc, Pc, omega = (who.constants(k, self.name) for k in self.needs)
        bonds = association(site_table(who, _KEYS), v, e)
        return CPA(a0, b, c1, bonds, kij_of_pairs(who, values), Tc, Pc, omega, who.all_masses)


@dataclass(frozen=True)
class ElliottCPARecipe(CPARecipe, name="CPA-ECR"):
    """Bonds between unlike molecules by Elliott's rule: the geometric mean of both strengths."""

    def cross_bonds(self, b: Array, energy: Array, volume: Array) -> tuple[Array, Array]:
        """As strong as the geometric mean of those of both."""
        v = b * volume
        return np.sqrt(v[:, None] * v), np.stack([np.broadcast_to(e, (len(b), len(b))) for e in (energy[:, None], energy)])


def _physical(c: Component) -> Iterator[Parameter]:
    """Published ones, or those of Soave's equation."""
    if all(getattr(c, key) is not None for key in _PHYSICAL.values()):
        for symbol, key in _PHYSICAL.items():
            yield Parameter(symbol, (c.name,), constant(getattr(c, key)), c.sources[key], c.layers[key])
        return
    for symbol, value in zip(_PHYSICAL, _of_soave(c), strict=True):
        yield Parameter(symbol, (c.name,), constant(value), _BY_SOAVE, NO_LAYER)


def _of_soave(c: Component) -> tuple[float, float, float]:
    """a₀, b and c₁ of Soave's equation."""
    Tc, Pc, omega = (np.array([c.constant(key, "CPA")]) for key in ("Tc", "Pc", "omega"))
    soave = SoaveRedlichKwong(Tc, Pc, omega, np.zeros((1, 1)))
    return float(soave.root_ac[0]) ** 2, float(soave.b[0]), float(SoaveRedlichKwong.m(omega)[0])
