"""Bubble and dew points: one, or a batch."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..mixture import Mixture
from ..text import Grid, shown
from .base import Result, TableResult
from .columns import Column, records
from .later import Later

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes

    from .phase import Phase

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


@dataclass(frozen=True, eq=False, repr=False)
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
    def word(self) -> str:
        """Which point."""
        return f"{self.kind} point"

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
            values = ", ".join(shown(v, dimension, self.system.units, 4) for v in more)
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

    def in_short(self, units: str | None = None) -> str:
        """Where it is, and what the phase that forms is mostly made of."""
        T, P = (shown(v, d, self.unit_set(units), 5) for v, d in ((self.T, "temperature"), (self.P, "pressure")))
        order = np.argsort(-self.incipient)[:2]
        parts = " and ".join(f"{100.0 * self.incipient[i]:.3g} mol % {self.system.names[i]}" for i in order)
        forms = "vapor" if self.kind == "bubble" else "liquid"
        more = " There is another solution." if len(self._usual) > 1 else ""
        return f"The {self.kind} point is {T} at {P}; the first {forms} is {parts}.{more}"

    @guarded
    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """Conditions and both compositions as rows."""
        return self.printed(units).frame()

    def printed(self, units: str | None = None) -> Grid:
        """The same without pandas."""
        phases = {"vapor": self.y, "liquid": self.x}
        if len(self.liquids) > 1:
            liquids = (np.array(list(p.composition.values())) for p in self.liquids)
            phases = {"vapor": self.y, "both liquids": self.x, **dict(zip(("liquid", "second liquid"), liquids, strict=False))}
        whole = [*conditions([self] * len(phases)), Column("x", np.array(list(phases.values())), of=self.system.names)]
        headed = {k: v for column in whole for k, v in column.headed(self.unit_set(units)).items()}
        return Grid(list(phases), [[float(v) for v in row] for row in headed.values()], list(headed))

    def to_dict(self) -> dict[str, Any]:
        """Everything in SI, as plain values."""
        other = "P" if self.given == "T" else "T"
        found = sorted(self.all, key=lambda s: float(getattr(s, other)))
        (own,) = records([*conditions([self]), *(Column(name, getattr(self, name)[None], of=self.system.names) for name in "xy")])
        outline = self.system.outline()
        return {"result": self.word, "system": outline, **own, "all": records(conditions(found)), "notes": self.notes}


def conditions(points: Sequence[Saturation]) -> list[Column]:
    """Temperatures and pressures of points."""
    return [Column("T", [s.T for s in points], "temperature"), Column("P", [s.P for s in points], "pressure")]


def _given(name: str) -> str:
    return "temperature" if name == "T" else "pressure"


@dataclass(frozen=True, eq=False, repr=False)
class SaturationBatch(TableResult, _LiquidAndVapor):
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

    @property
    def word(self) -> str:
        """Which points."""
        return f"{self.kind} points"

    @guarded
    def plot(self, ax: Axes | None = None, *, units: str | None = None, beside: SaturationBatch | None = None) -> Axes:
        """Draw the points against what was given; ``beside`` puts others, such as the dew points, into the same figure.

        Examples
        --------
        >>> import sleetfield as sl
        >>> gas = sl.System(["propane", "n-butane"], eos="PR", units="metric")
        >>> bubbles, dews = (point([0.5, 0.5], T=[280.0, 300.0, 320.0]) for point in (gas.bubble, gas.dew))
        >>> bubbles.plot(beside=dews).get_ylabel()
        '$P$, pressure [bar]'

        """
        from ..diagrams.saturation import draw_points

        return draw_points(self, ax, self.unit_set(units), beside)

    def columns(self) -> list[Column]:
        """T, P and the incipient phase."""
        incipient = Column("y" if self.kind == "bubble" else "x", self.incipient, of=self.system.names)
        return [Column("T", self.T, "temperature"), Column("P", self.P, "pressure"), incipient]
