"""Critical points and stability tests."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..mixture import Mixture
from ..text import shown
from .base import TableResult
from .columns import Column, yes_or_no

if TYPE_CHECKING:
    pass


@dataclass(frozen=True, eq=False, repr=False)
class CriticalPoint(TableResult):
    """A critical point of a mixture.

    Attributes
    ----------
    T, P, molar_volume : float
        K, Pa, m3/mol.
    stable : bool
        Whether the critical phase is stable; where it is not, another phase would form and the point is not seen.
    all : tuple of CriticalPoint
        Every critical point of the mixture, hottest first.

    """

    system: Mixture
    T: float
    P: float
    molar_volume: float
    stable: bool
    all: tuple[CriticalPoint, ...] = ()

    @property
    def notes(self) -> list[str]:
        """What a careful colleague would point out."""
        notes = list(self.system.notes)
        others = [p for p in self.all if p is not self and abs(p.T / self.T - 1.0) > 1e-9]
        for p in others:
            where = f"{shown(p.T, 'temperature', self.system.units, 4)}, {shown(p.P, 'pressure', self.system.units, 4)}"
            notes.append(f"There is another critical point at {where}{'' if p.stable else ', in an unstable phase'}.")
        if not self.stable:
            notes.append("The critical phase is not stable: another phase would form.")
        return notes

    def title(self, units: str | None = None) -> str:
        """What of which system."""
        return f"Critical point of {self.system.title}"

    def in_short(self, units: str | None = None) -> str:
        """Where it is."""
        T, P = shown(self.T, "temperature", self.unit_set(units), 5), shown(self.P, "pressure", self.unit_set(units), 5)
        return f"Critical at {T} and {P}{'' if self.stable else ', in a phase that is not stable'}."

    word = "critical points"
    rows = "critical_points"

    def columns(self) -> list[Column]:
        """Where each is, and whether it is seen."""
        return critical_columns(self.all or (self,))


def critical_columns(points: Sequence[CriticalPoint]) -> list[Column]:
    """Where critical points are, and whether they are seen."""
    dimensions = {"T": "temperature", "P": "pressure", "molar_volume": "molar_volume"}
    return [
        *(Column(name, [getattr(p, name) for p in points], dimension) for name, dimension in dimensions.items()),
        Column("stable", [p.stable for p in points], words=yes_or_no),
    ]


@dataclass(frozen=True, eq=False, repr=False)
class StabilityTest(TableResult):
    """Whether a mixture stays one phase.

    Attributes
    ----------
    stable : bool
    tangent_plane_distance : float
        The lowest found, for a mole of the trial phase in units of RT; negative where another phase would form.
    trial : dict
        Mole fractions of the phase that would form, or that comes nearest to forming.

    """

    system: Mixture
    T: float
    P: float
    z: NDArray[np.float64]
    stable: bool
    tangent_plane_distance: float
    trial: dict[str, float]

    @property
    def notes(self) -> list[str]:
        """What a careful colleague would point out."""
        return list(self.system.notes)

    def title(self, units: str | None = None) -> str:
        """The answer, and at which condition."""
        unit_set = self.unit_set(units)
        answer = "stable: stays one phase" if self.stable else "not stable: splits"
        condition = f"{shown(self.T, 'temperature', unit_set)}, {shown(self.P, 'pressure', unit_set)}"
        return f"{self.system.title} at {condition} is {answer} (tangent-plane distance {self.tangent_plane_distance:.4g})"

    word = "stability test"
    rows = "compositions"
    named_by = "component"

    def facts(self) -> dict[str, Any]:
        """Where, and the answer."""
        return {"T": self.T, "P": self.P, "stable": self.stable, "tangent_plane_distance": self.tangent_plane_distance}

    def columns(self) -> list[Column]:
        """The mixture and the trial phase."""
        names = Column("component", list(self.trial))
        return [names, Column("mixture", self.z), Column("trial", list(self.trial.values()), label="trial phase")]
