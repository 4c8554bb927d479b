"""PC-SAFT without association: chains of attracting spheres, with kij."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..components.component_list import ComponentList
from ..core.models.pc_saft import PCSAFT
from ..pairs.of_temperature import constant
from ..pairs.pair_parameters import PairParameters
from .contract import EquationOfState, Given
from .interactions import KIJ, interaction_notes, interactions
from .parameter import Parameter, Parameters, Symbol

_OF_CHAINS = {"m": "segments", "sigma": "segment_diameter", "epsilon": "segment_energy"}
"""Parameters of components, and what the databank calls them."""


@dataclass(frozen=True)
class PCSAFTRecipe(EquationOfState, name="PC-SAFT"):
    """Gross and Sadowski's equation (2001)."""

    symbols = (
        KIJ,
        Symbol("m", "segments of a chain", low=0.5, high=100.0, of_temperature=False),
        Symbol("sigma", "diameter of a segment", "m", low=1e-10, high=1e-9, of_temperature=False, size=1e-10),
        Symbol("epsilon", "depth of a segment's potential over k", "K", low=5.0, high=1000.0, of_temperature=False, size=100.0),
    )
    needs = ("Tc", "Pc", "omega", *_OF_CHAINS.values())
    takes = ("kij",)

    @property
    def usual_fit(self) -> tuple[str, ...]:
        """The interaction parameter."""
        return ("kij",)

    def parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """Kij of every pair; segments, diameter and energy of every component."""
        yield from interactions(who, given.get("kij"), self.bank_name)
        for symbol, key in _OF_CHAINS.items():
            for c in who:
                yield Parameter(symbol, (c.name,), constant(c.constant(key, self.name)), c.sources[key], c.layers[key])

    def pair_parameters(self, pair: ComponentList, values: Parameters, about: Mapping[str, Any]) -> PairParameters:
        """Kij."""
        (kij,) = values.part(pair.names).of_symbol("kij")
        return PairParameters(kij=kij.function, **about)

    def build(self, who: ComponentList, values: Parameters) -> PCSAFT:
        """The equation with its numbers."""
        kij = values.pairs("kij", who, mirrored=1.0)
        m, sigma, epsilon = (values.column(symbol, who) for symbol in _OF_CHAINS)
        Tc, Pc, omega = (who.constants(k, self.name) for k in ("Tc", "Pc", "omega"))
        masses = None if np.isnan(who.molar_mass).any() else who.molar_mass
        return PCSAFT(m, sigma, epsilon, kij if kij[1:].any() else kij[0], Tc, Pc, omega, masses)

    def notes(self, who: ComponentList, values: Parameters) -> list[str]:
        """On interaction parameters."""
        return interaction_notes(values)
