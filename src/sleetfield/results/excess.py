"""Excess properties of liquids."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..mixture import Mixture
from ..text import shown
from .base import TableResult
from .columns import Column

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False, repr=False)
class Excess(TableResult):
    """Activity coefficients and molar excess properties of liquids at ``N`` temperatures and compositions.

    Attributes
    ----------
    T : (N,)
        K.
    x : (N, C)
        Mole fractions.
    gamma : (N, C)
        Activity coefficients.
    G, H, S : (N,)
        Excess Gibbs energy and enthalpy, J/mol, and entropy, J/(mol K).
    Cp : (N,)
        Excess heat capacity, J/(mol K).
    G_mixing : (N,)
        Gibbs energy of mixing, J/mol.
    """

    system: Mixture
    T: Array
    x: Array
    gamma: Array
    G: Array
    H: Array
    S: Array
    Cp: Array
    G_mixing: Array

    def title(self, units: str | None = None) -> str:
        """Of which system."""
        if len(self.T) == 1:
            return f"Excess properties of {self.system.title} at {shown(float(self.T[0]), 'temperature', self.unit_set(units))}"
        return f"Excess properties of {self.system.title}"

    word = "excess properties"

    def columns(self) -> list[Column]:
        """Activity coefficients and excess properties of each state."""
        names = self.system.names
        dimensions = {"G": "molar_energy", "H": "molar_energy", "S": "molar_entropy", "Cp": "molar_entropy"}
        return [
            Column("T", self.T, "temperature"),
            Column("x", self.x, of=names),
            Column("gamma", self.gamma, of=names),
            *(Column(f"{n}_excess", getattr(self, n), dimension, label=f"{n} excess") for n, dimension in dimensions.items()),
            Column("G_mixing", self.G_mixing, "molar_energy"),
        ]

    @property
    def notes(self) -> list[str]:
        """About the model and its ranges."""
        notes = [*self.system.notes, *self.system.range_notes(self.T)]
        if np.any(self.H):
            notes.append(
                "Excess enthalpies and heat capacities follow from how the parameters depend on temperature: sets fitted to boiling points can miss them by their whole size, sign included."
            )
        return notes
