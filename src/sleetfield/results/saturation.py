"""Bubble and dew points: one, or a batch."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..mixture import Mixture
from ..text import heading, shown
from .base import Result
from .later import Later

if TYPE_CHECKING:
    import pandas as pd

    from .state import Phase

Array = NDArray[np.float64]


class _LiquidAndVapor(Result):
    """Which of the saturated mixture and the incipient phase is the liquid, and which the vapor."""

    kind: str
    z: Array
    incipient: Array

    @property
    def x(self) -> Array:
        """Mole fractions of the liquid."""
        return self.z if self.kind == "bubble" else self.incipient

    @property
    def y(self) -> Array:
        """Mole fractions of the vapor."""
        return self.incipient if self.kind == "bubble" else self.z


@dataclass(frozen=True, eq=False)
class Saturation(_LiquidAndVapor):
    """A bubble or dew point.

    Attributes
    ----------
    kind : str
        "bubble" or "dew".
    given : str
        Which of "T" and "P" was given.
    T, P : float
        K, Pa.
    z : (C,)
        Mole fractions of the saturated mixture.
    incipient : (C,)
        Mole fractions of the phase that is about to form.
    later : Later
        What is asked only now and then.
    stable : bool
        False where a further phase would form first, so that this is not the boundary.

    """

    system: Mixture
    kind: str
    given: str
    T: float
    P: float
    z: Array
    incipient: Array
    later: Later
    stable: bool = True

    @cached_property
    def all(self) -> tuple[Saturation, ...]:
        """Every point of the same kind at the given temperature or pressure, from the whole envelope, in rising order."""
        return self.later.solutions(self.system, self.kind, self.given, getattr(self, self.given), self.z)

    @cached_property
    def _usual(self) -> tuple[Saturation, ...]:
        """Those of `all` that are had quickly, for the notes."""
        return self.later.usual_solutions(self.system, self.kind, self.given, getattr(self, self.given), self.z)

    @cached_property
    def liquids(self) -> tuple[Phase, ...]:
        """The liquid phases that boil at a bubble point; two where the feed is split there, and three phases meet. None for a dew point."""
        return self.later.boiling_liquids(self) if self.kind == "bubble" and self.stable else ()

    @property
    def notes(self) -> list[str]:
        """What a careful colleague would point out."""
        notes = [*self.system.notes, *self.system.vapor_pressure_notes(np.array([self.T]))]
        if len(self.liquids) > 1:
            notes.append("The feed is two liquids at its bubble point: three phases meet there.")
        other = "P" if self.given == "T" else "T"
        dimension = "pressure" if other == "P" else "temperature"
        mine = getattr(self, other)
        more = [getattr(s, other) for s in self._usual if abs(getattr(s, other) / mine - 1.0) > 1e-6]
        if more:
            values = ", ".join(shown(v, dimension, self.system.units) for v in more)
            word = "second" if len(more) == 1 else "further"
            where = "is a second" if len(more) == 1 else "are further"
            notes.append(
                f"There {where} {self.kind} point{'s' if len(more) > 1 else ''} at this {_given(self.given)}: {values} ({word} solution, retrograde region)."
            )
        if not self.stable:
            notes.append(
                f"Another phase forms before this {self.kind} point is reached, so it is not the boundary of the stable mixture."
            )
        return notes

    def title(self, units: str | None = None) -> str:
        """Kind, system and condition."""
        value = shown(getattr(self, self.given), _given(self.given), self.unit_set(units))
        return f"{self.kind.capitalize()} point of {self.system.title} at {value}"

    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """Conditions and both compositions as rows."""
        import pandas as pd

        from ..units import from_si

        unit_set = self.unit_set(units)
        rows: dict[str, list[float]] = {
            heading("T", "temperature", unit_set): [float(from_si(self.T, "temperature", unit_set))] * 2,
            heading("P", "pressure", unit_set): [float(from_si(self.P, "pressure", unit_set))] * 2,
        }
        for i, name in enumerate(self.system.names):
            rows[f"x {name}"] = [float(self.y[i]), float(self.x[i])]
        frame = pd.DataFrame.from_dict(rows, orient="index", columns=["vapor", "liquid"])
        if len(self.liquids) > 1:
            frame = frame.rename(columns={"liquid": "both liquids"})
            conditions = frame["vapor"].iloc[:2].tolist()
            for label, phase in zip(("liquid", "second liquid"), self.liquids, strict=False):
                frame[label] = [*conditions, *phase.composition.values()]
        return frame

    def to_dict(self) -> dict[str, Any]:
        """Everything in SI, as plain values."""
        other = "P" if self.given == "T" else "T"
        return {
            "result": f"{self.kind} point",
            "system": self.system.outline(),
            "T": self.T,
            "P": self.P,
            "x": dict(zip(self.system.names, self.x.tolist(), strict=True)),
            "y": dict(zip(self.system.names, self.y.tolist(), strict=True)),
            "all": [{"T": s.T, "P": s.P} for s in sorted(self.all, key=lambda s: float(getattr(s, other)))],
            "notes": self.notes,
        }


def _given(name: str) -> str:
    return "temperature" if name == "T" else "pressure"


@dataclass(frozen=True, eq=False)
class SaturationBatch(_LiquidAndVapor):
    """Many bubble or dew points; ``batch[i]`` is one `Saturation`. A point that does not exist is NaN, and a note names it.

    Attributes
    ----------
    T, P : (N,)
    z, incipient : (N, C)
    stable : (N,)

    """

    system: Mixture
    kind: str
    given: str
    T: Array
    P: Array
    z: Array
    incipient: Array
    stable: NDArray[np.bool_]
    later: Later

    def __len__(self) -> int:
        return len(self.T)

    def __iter__(self) -> Iterator[Saturation]:
        return (self[i] for i in range(len(self)))

    def __getitem__(self, index: int) -> Saturation:
        i = range(len(self))[index]
        return Saturation(
            self.system,
            self.kind,
            self.given,
            float(self.T[i]),
            float(self.P[i]),
            self.z[i],
            self.incipient[i],
            self.later,
            bool(self.stable[i]),
        )

    @property
    def notes(self) -> list[str]:
        """What holds for all points, and which of them do not exist."""
        notes = [*self.system.notes, *self.system.vapor_pressure_notes(self.T)]
        missing = np.flatnonzero(np.isnan(self.T) | np.isnan(self.P))
        given = getattr(self, self.given)
        for i in missing[:10]:
            value = shown(given[i], _given(self.given), self.system.units)
            notes.append(f"Point {i} ({value}) has no {self.kind} point; its numbers are left out.")
        if missing.size > 10:
            notes.append(f"{missing.size} points in all do not exist.")
        if (unstable := int((~self.stable & np.isfinite(self.P)).sum())) > 0:
            notes.append(f"At {unstable} points another phase forms first, so they are not the boundary of the stable mixture.")
        return notes

    def title(self, units: str | None = None) -> str:
        """How many points of what."""
        return f"{len(self)} {self.kind} points of {self.system.title}"

    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """One row for each point."""
        import pandas as pd

        from ..units import from_si

        unit_set = self.unit_set(units)
        columns = {
            heading("T", "temperature", unit_set): from_si(self.T, "temperature", unit_set),
            heading("P", "pressure", unit_set): from_si(self.P, "pressure", unit_set),
        }
        letter = "y" if self.kind == "bubble" else "x"
        for i, name in enumerate(self.system.names):
            columns[f"{letter} {name}"] = self.incipient[:, i]
        return pd.DataFrame(columns)
