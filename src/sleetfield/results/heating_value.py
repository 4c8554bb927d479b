"""What a fuel gas gives when it is burnt."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..mixture import Mixture
from ..text import shown
from .base import TableResult
from .columns import Column

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False, repr=False)
class HeatingValue(TableResult):
    """Heating values of a fuel, burnt at 25 °C, gross (the water formed is liquid) and net (it is vapor).

    Attributes
    ----------
    T, P : float
        K, Pa: what volumes are at.
    z : (C,)
        Mole fractions.
    molar : (2,)
        J/mol, gross and net.
    molar_mass : float
        kg/mol.
    molar_volume : float
        m3/mol at T and P.
    relative_density : float
        Density over that of dry air at T and P.
    remarks : tuple of str
    """

    system: Mixture
    T: float
    P: float
    z: Array
    molar: Array
    molar_mass: float
    molar_volume: float
    relative_density: float
    remarks: tuple[str, ...]

    word = "heating value"
    named_by = "heat"
    rows = "values"

    @property
    def by_mass(self) -> Array:
        """J/kg, gross and net ``(2,)``."""
        return np.asarray(self.molar / self.molar_mass)

    @property
    def by_volume(self) -> Array:
        """J/m3, gross and net ``(2,)``."""
        return np.asarray(self.molar / self.molar_volume)

    @property
    def wobbe(self) -> Array:
        """The Wobbe index: heating value by volume over the root of the relative density, J/m3, gross and net ``(2,)``."""
        return np.asarray(self.by_volume / np.sqrt(self.relative_density))

    def title(self, units: str | None = None) -> str:
        """Of which fuel, and what volumes are at."""
        unit_set = self.unit_set(units)
        return f"Heating value of {self.system.title}, volumes at {shown(self.T, 'temperature', unit_set)}, {shown(self.P, 'pressure', unit_set)}"

    def in_short(self, units: str | None = None) -> str:
        """Both by mass, and the Wobbe index."""
        unit_set = self.unit_set(units)
        gross, net = (shown(v, "mass_energy", unit_set, 5) for v in self.by_mass)
        return f"{gross} gross, {net} net; Wobbe index {shown(self.wobbe[0], 'volume_energy', unit_set, 5)}; {self.relative_density:.4f} times as dense as air."

    def columns(self) -> list[Column]:
        """Gross and net, by mole, mass and volume, and the Wobbe index."""
        return [
            Column("heat", ["gross", "net"]),
            Column("molar", self.molar, "molar_energy"),
            Column("by_mass", self.by_mass, "mass_energy"),
            Column("by_volume", self.by_volume, "volume_energy"),
            Column("wobbe", self.wobbe, "volume_energy", label="Wobbe index"),
        ]

    def facts(self) -> dict[str, Any]:
        """What they are of."""
        return {
            "T": self.T,
            "P": self.P,
            "molar_mass": self.molar_mass,
            "molar_volume": self.molar_volume,
            "relative_density": self.relative_density,
        }

    @property
    def notes(self) -> list[str]:
        """What to think of it."""
        return list(self.remarks)
