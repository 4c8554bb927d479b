"""PC-SAFT: chains of attracting spheres, with bonds between them where a component has sites."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from ..components import Component
from ..components.chains import ORIGIN, estimated_chain
from ..components.component_list import ComponentList
from ..core.constants import N_AVOGADRO
from ..core.models.pc_saft import PCSAFT
from ..core.models.pc_saft_with_bonds import BondedPCSAFT
from ..pairs.of_temperature import constant
from ..text import first_few
from .bonds import EquationWithBonds, Keys, association, bond_parameters, liquid_volume, mean_energy, site_table
from .contract import Given
from .interactions import KIJ, interactions, kij_of_pairs
from .parameter import NO_LAYER, Parameter, Parameters, Symbol

_OF_CHAINS = {"m": "segments", "sigma": "segment_diameter", "epsilon": "segment_energy"}
"""Parameters of components, and what the databank calls them."""
_KEYS = Keys("segment_bond_energy", "segment_bond_volume", ("segment_donors", "segment_acceptors"))
_ENERGY = Symbol("bond_energy", "energy of a bond over k", "K", low=0.0, high=8000.0, of_temperature=False, size=1000.0)
_VOLUME = Symbol("bond_volume", "volume of a bond over that of a segment", low=0.0, high=1.0, of_temperature=False, size=0.01)
_PACKING = 0.42
"""Of the segments of a liquid."""


@dataclass(frozen=True)
class PCSAFTRecipe(EquationWithBonds, name="PC-SAFT"):
    """Gross and Sadowski's equation (2001), with their association term (2002)."""

    symbols = (
        KIJ,
        Symbol("m", "segments of a chain", low=0.5, high=100.0, of_temperature=False),
        Symbol("sigma", "diameter of a segment", "m", low=1e-10, high=1e-9, of_temperature=False, size=1e-10),
        Symbol("epsilon", "depth of a segment's potential over k", "K", low=5.0, high=1000.0, of_temperature=False, size=100.0),
        _ENERGY,
        _VOLUME,
    )
    needs = ("Tc", "Pc", "omega", *_OF_CHAINS.values())
    keys = _KEYS
    constants_of_components: ClassVar[Mapping[str, str]] = {
        **_OF_CHAINS,
        _ENERGY.symbol: _KEYS.energy,
        _VOLUME.symbol: _KEYS.volume,
    }

    def parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """Kij of every pair; segments, diameter and energy of every component, and its bonds."""
        yield from interactions(who, given.get("kij"), self.bank_name)
        guessed = {c.name: None if c.segments is not None else estimated_chain(c) for c in who}
        for symbol, key in _OF_CHAINS.items():
            for c in who:
                chain = guessed[c.name]
                if chain is not None:
                    yield Parameter(symbol, (c.name,), constant(chain[key]), ORIGIN, NO_LAYER)
                else:
                    yield Parameter(symbol, (c.name,), constant(c.constant(key, self.name)), c.sources[key], c.layers[key])
        yield from bond_parameters(who, _KEYS, _ENERGY, _VOLUME)

    def notes(self, who: ComponentList, values: Parameters) -> list[str]:
        """On chains that are estimated, besides."""
        guessed = [p.of[0] for p in values.of_symbol("m") if p.source == ORIGIN]
        told = [
            f"Chains are estimated from boiling point and liquid density, vapor pressures to some 5 %, of {first_few(guessed)}."
        ]
        return [*super().notes(who, values), *(told if guessed else [])]

    def rough_constants(self, c: Component, sites: Sequence[int]) -> dict[str, float]:
        """Of alkanes' chains by molar mass, less what bonds do; and a diameter from the liquid."""
        m = 1.0 + 20.0 * c.constant("molar_mass", self.name)
        diameter = (_PACKING * liquid_volume(c, 0.6) / (np.pi / 6.0 * N_AVOGADRO * m)) ** (1.0 / 3.0)
        own = {"segments": m, "segment_diameter": diameter}
        if not any(sites):
            return {**own, "segment_energy": 0.42 * c.constant("Tc", self.name) / m**0.25}
        return {**own, "segment_energy": 230.0, _KEYS.energy: 2500.0, _KEYS.volume: 0.01}

    def build(self, who: ComponentList, values: Parameters) -> PCSAFT:
        """The equation with its numbers."""
        m, sigma, epsilon = (values.column(symbol, who) for symbol in _OF_CHAINS)
        Tc, Pc, omega = (who.constants(k, self.name) for k in ("Tc", "Pc", "omega"))
        chains = m, sigma, epsilon, kij_of_pairs(who, values), Tc, Pc, omega, who.all_masses
        energy, volume = (values.column(s.symbol, who, 0.0) for s in (_ENERGY, _VOLUME))
        if not (volume > 0.0).any():
            return PCSAFT(*chains)
        # σᵢⱼ³ √(κᵢκⱼ) [√(σᵢσⱼ)/σᵢⱼ]³, as Gross and Sadowski (2002) combine them
        own = np.sqrt(N_AVOGADRO * volume * sigma**3)
        bonds = association(site_table(who, _KEYS), own[:, None] * own, mean_energy(energy))
        return BondedPCSAFT(*chains, association=bonds)
