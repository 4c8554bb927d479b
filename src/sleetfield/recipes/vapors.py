"""Vapors beside a liquid model: the ideal gas and the virial equation. (Equations of state serve too.)"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..components.component_list import ComponentList
from ..components.polar_terms import polar_terms
from ..core.models.ideal_gas import IdealGas
from ..core.models.virial import Virial
from .contract import Given, VaporModel
from .interactions import KIJ, critical_volumes, interaction_notes, interactions
from .parameter import Parameter, Parameters


@dataclass(frozen=True)
class IdealVapor(VaporModel, name="ideal"):
    """An ideal gas."""

    non_ideal = False

    def parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """None."""
        yield from ()

    def build(self, who: ComponentList, values: Parameters) -> IdealGas:
        """The ideal gas."""
        return IdealGas()


@dataclass(frozen=True)
class VirialVapor(VaporModel, name="virial"):
    """The virial equation, cut off after the second coefficient."""

    symbols = (KIJ,)
    needs = ("Tc", "Pc", "omega")
    takes = ("kij",)

    def parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """Kij of every pair: none are published for it."""
        yield from interactions(who, given.get("kij"), "")

    def build(self, who: ComponentList, values: Parameters) -> Virial:
        """The equation with its numbers."""
        Tc, Pc, omega = (who.constants(k, "the virial equation") for k in self.needs)
        kij = values.pairs("kij", who, mirrored=1.0)
        polar = polar_terms(who.components)
        return Virial(Tc, Pc, omega, critical_volumes(who), kij if kij[1:].any() else kij[0], np.stack([polar.a, polar.b]))

    def notes(self, who: ComponentList, values: Parameters) -> list[str]:
        """On interaction parameters, and on polar components without a polar term."""
        notes = interaction_notes(values)
        plain = polar_terms(who.components).without
        if plain:
            notes.append(f"Polar, but without a polar term in the second virial coefficient: {', '.join(plain)}.")
        return notes
