"""How much hydrate a feed forms."""

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
class HydrateAmounts(TableResult):
    """Gas hydrates in equilibrium with fluids at ``N`` states.

    Attributes
    ----------
    T, P : (N,)
        K, Pa.
    z : (N, C)
        Mole fractions of the feeds.
    solids, beside : tuple of str
        Which hydrate, nothing where there is none, and what is beside it.
    moles : (N, C)
        Moles in the hydrate for each mole of feed; NaN where its equilibrium was not found.
    another : (N,)
        Where the other structure would form as well from what is left.
    remarks : tuple of str
    """

    system: Mixture
    T: Array
    P: Array
    z: Array
    solids: tuple[str, ...]
    beside: tuple[str, ...]
    moles: Array
    another: NDArray[np.bool_]
    remarks: tuple[str, ...]

    word = "hydrate amount"
    rows = "states"

    def __len__(self) -> int:
        return len(self.T)

    @property
    def fraction(self) -> Array:
        """Moles of the feed that are in the hydrate ``(N,)``, as a share."""
        return np.asarray(self.moles.sum(axis=1))

    @property
    def mass_fraction(self) -> Array:
        """The same by mass ``(N,)``."""
        M = self.system.molar_mass
        return np.asarray((self.moles * M).sum(axis=1) / (self.z * M).sum(axis=1))

    @property
    def shares(self) -> Array:
        """How much of each component of the feed is in the hydrate ``(N, C)``, NaN of what the feed has none of."""
        with np.errstate(all="ignore"):
            return np.asarray(np.where(self.z > 0.0, self.moles / self.z, np.nan))

    def title(self, units: str | None = None) -> str:
        """Of which system."""
        return f"Hydrate from {self.system.title}"

    def in_short(self, units: str | None = None) -> str:
        """How much at the first state."""
        unit_set = self.unit_set(units)
        at = f"{shown(float(self.T[0]), 'temperature', unit_set)} and {shown(float(self.P[0]), 'pressure', unit_set)}"
        if not self.solids[0]:
            return f"No hydrate at {at}."
        water = float(self.shares[0, self.system.names.index("water")])
        return f"{capital(self.solids[0])} at {at} takes {100.0 * self.mass_fraction[0]:.3g} % of the feed's mass and {100.0 * water:.3g} % of its water, beside {self.beside[0]}."

    def columns(self) -> list[Column]:
        """Condition, hydrate, how much of it, and where the components are."""
        held = np.flatnonzero(np.nan_to_num(self.moles).any(axis=0)).tolist()
        return [
            Column("T", self.T, "temperature"),
            Column("P", self.P, "pressure"),
            Column("solid", list(self.solids)),
            Column("beside", list(self.beside)),
            Column("fraction", self.fraction),
            Column("mass_fraction", self.mass_fraction, label="mass fraction"),
            Column("shares", self.shares[:, held], of=tuple(self.system.names[i] for i in held), label="share of"),
        ]

    @property
    def notes(self) -> list[str]:
        """What holds for the system, other structures, and what was not found."""
        notes = [*self.system.notes, *self.remarks, *self.system.range_notes(self.T)]
        if self.another.any():
            notes.append(
                f"At {int(self.another.sum())} of {len(self)} states the other structure forms as well; the amounts are those of one alone."
            )
        if lost := int(np.isnan(self.moles).any(axis=1).sum()):
            notes.append(f"At {lost} of {len(self)} states a hydrate forms, and how much was not found; the numbers are left out.")
        return notes
