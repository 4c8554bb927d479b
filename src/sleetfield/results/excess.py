"""Excess properties of liquids."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ..mixture import Mixture
from ..text import heading, shown
from ..units import from_si
from .base import Result

if TYPE_CHECKING:
    import pandas as pd

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Excess(Result):
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

    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """One row for each state."""
        import pandas as pd

        unit_set, names = self.unit_set(units), self.system.names
        columns: dict[str, Array] = {heading("T", "temperature", unit_set): from_si(self.T, "temperature", unit_set)}
        columns |= {f"x {n}": self.x[:, i] for i, n in enumerate(names)}
        columns |= {f"gamma {n}": self.gamma[:, i] for i, n in enumerate(names)}
        for name in ("G", "H", "S", "Cp", "G_mixing"):
            dimension = "molar_entropy" if name in ("S", "Cp") else "molar_energy"
            label = name if name == "G_mixing" else f"{name} excess"
            columns[heading(label, dimension, unit_set)] = from_si(getattr(self, name), dimension, unit_set)
        return pd.DataFrame(columns)

    @property
    def notes(self) -> list[str]:
        """About the model and its ranges."""
        notes = [*self.system.notes, *self.system.range_notes(self.T)]
        if np.any(self.H):
            notes.append(
                "Excess enthalpies and heat capacities follow from how the parameters depend on temperature: sets fitted to boiling points can miss them by their whole size, sign included."
            )
        return notes
