"""Critical points and stability tests."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..mixture import Mixture
from ..text import heading, shown
from .base import Result

if TYPE_CHECKING:
    import pandas as pd


@dataclass(frozen=True, eq=False)
class CriticalPoint(Result):
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
            where = f"{shown(p.T, 'temperature', self.system.units)}, {shown(p.P, 'pressure', self.system.units)}"
            notes.append(f"There is another critical point at {where}{'' if p.stable else ', in an unstable phase'}.")
        if not self.stable:
            notes.append("The critical phase is not stable: another phase would form.")
        return notes

    def title(self, units: str | None = None) -> str:
        """What of which system."""
        return f"Critical point of {self.system.title}"

    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """One row for each critical point."""
        import pandas as pd

        from ..units import from_si

        unit_set = self.unit_set(units)
        points = self.all or (self,)
        columns: dict[str, Any] = {
            heading(name, dimension, unit_set): from_si([getattr(p, name) for p in points], dimension, unit_set)
            for name, dimension in (("T", "temperature"), ("P", "pressure"), ("molar_volume", "molar_volume"))
        }
        columns["stable"] = ["yes" if p.stable else "no" for p in points]
        return pd.DataFrame(columns)

    def to_dict(self) -> dict[str, Any]:
        """Everything in SI, as plain values."""
        return {"T": self.T, "P": self.P, "molar_volume": self.molar_volume, "stable": self.stable}


@dataclass(frozen=True, eq=False)
class StabilityTest(Result):
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

    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """The mixture and the trial phase, component by component."""
        import pandas as pd

        return pd.DataFrame({"mixture": self.z, "trial phase": list(self.trial.values())}, index=list(self.trial))
