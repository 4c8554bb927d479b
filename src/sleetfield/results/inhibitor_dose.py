"""How much of an inhibitor keeps hydrates away."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..mixture import Mixture
from ..text import capital, shown
from .base import TableResult
from .columns import Column

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False, repr=False)
class InhibitorDose(TableResult):
    """What has to be added to a feed at ``N`` states so that no hydrate forms there.

    Attributes
    ----------
    inhibitor : str
    T, P : (N,)
        K, Pa.
    z : (N, C)
        Mole fractions of the feeds before.
    moles : (N,)
        Moles of inhibitor for each mole of feed; 0 where none is needed, NaN where no amount is enough.
    phases : (N, C), (N, C)
        Mole fractions of the gas (or of the liquid that is no water) and of the liquid with the most water, at the limit; NaN where there is none.
    remarks : tuple of str
    """

    system: Mixture
    inhibitor: str
    T: Array
    P: Array
    z: Array
    moles: Array
    phases: tuple[Array, Array]
    remarks: tuple[str, ...]

    word = "inhibitor dose"
    rows = "states"

    def __len__(self) -> int:
        return len(self.T)

    @property
    def _place(self) -> int:
        return self.system.names.index(self.inhibitor)

    @property
    def mass_of_water(self) -> Array:
        """Kilograms of inhibitor for each of water in the feed ``(N,)``."""
        water = self.system.names.index("water")
        M = self.system.molar_mass
        with np.errstate(divide="ignore", invalid="ignore"):
            return np.asarray(self.moles * M[self._place] / (self.z[:, water] * M[water]))

    @property
    def in_water(self) -> Array:
        """Mass fractions of the inhibitor in the liquid with the most water ``(N,)``."""
        w = self.phases[1] * self.system.molar_mass
        return np.asarray(w[:, self._place] / w.sum(axis=1))

    @property
    def lost(self) -> Array:
        """Mole fractions of the inhibitor in the gas, or the other liquid ``(N,)``."""
        return np.asarray(self.phases[0][:, self._place])

    def title(self, units: str | None = None) -> str:
        """Of what, for which system."""
        return f"{capital(self.inhibitor)} against hydrates, {self.system.title}"

    def in_short(self, units: str | None = None) -> str:
        """How much at the first state."""
        unit_set = self.unit_set(units)
        at = f"{shown(float(self.T[0]), 'temperature', unit_set)} and {shown(float(self.P[0]), 'pressure', unit_set)}"
        if np.isnan(self.moles[0]):
            return f"No amount of {self.inhibitor} keeps hydrates away at {at}."
        if self.moles[0] == 0.0:
            return f"No hydrate forms at {at}: no {self.inhibitor} is needed."
        return f"{self.mass_of_water[0]:.3g} kg of {self.inhibitor} for each kg of water keep hydrates away at {at}; the water then has {100.0 * self.in_water[0]:.3g} mass % of it."

    def columns(self) -> list[Column]:
        """Condition, dose, and where it goes."""
        return [
            Column("T", self.T, "temperature"),
            Column("P", self.P, "pressure"),
            Column("mass_of_water", self.mass_of_water, label="kg per kg water"),
            Column("moles", self.moles, label="mol per mol feed"),
            Column("in_water", self.in_water, label="mass fraction in water"),
            Column("lost", self.lost, label="mole fraction in gas"),
        ]

    @property
    def notes(self) -> list[str]:
        """What holds for the system, and where no amount is enough."""
        notes = [*self.system.notes, *self.remarks, *self.system.range_notes(self.T)]
        if never := int(np.isnan(self.moles).sum()):
            notes.append(f"At {never} of {len(self)} states no amount of {self.inhibitor} is enough.")
        return notes
