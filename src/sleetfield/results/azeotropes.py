"""The azeotropes of a system."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..mixture import Mixture
from ..text import counted, shown
from .base import TableResult
from .columns import Column, unlike

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes


Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Azeotrope:
    """One azeotrope.

    Attributes
    ----------
    T, P : float
        K, Pa.
    x : (C,)
        Mole fractions of vapor and liquid (of both liquids together, where there are two).
    liquids : (L, C)
        Mole numbers of the liquids, for one mole of vapor.
    boils : str
        "minimum boiling", "maximum boiling" or "saddle", among mixtures of its own components.
    node : str
        "unstable node", "stable node" or "saddle" of the residue curves of the whole system.

    """

    system: Mixture
    given: str
    T: float
    P: float
    x: Array
    liquids: Array
    boils: str
    node: str

    @property
    def heterogeneous(self) -> bool:
        """Whether two liquids boil together."""
        return len(self.liquids) > 1

    @property
    def components(self) -> tuple[str, ...]:
        """Names of its components."""
        return tuple(n for n, x in zip(self.system.names, self.x, strict=True) if x > 0.0)

    @property
    def composition(self) -> dict[str, float]:
        """Mole fractions by name."""
        return {n: float(x) for n, x in zip(self.system.names, self.x, strict=True) if x > 0.0}

    def __str__(self) -> str:
        parts = " + ".join(f"{x:.4f} {name}" for name, x in self.composition.items())
        liquids = "heterogeneous" if self.heterogeneous else "homogeneous"
        T, P = shown(self.T, "temperature", self.system.units, 5), shown(self.P, "pressure", self.system.units, 5)
        return f"{parts}: {T}, {P}, {liquids}, {self.boils}"


_LISTED = 4


@dataclass(frozen=True, eq=False, repr=False)
class AzeotropeList(TableResult):
    """All azeotropes of a system at one or several temperatures or pressures.

    Attributes
    ----------
    given : str
        "T" or "P".
    values : (N,)
        The temperatures, K, or pressures, Pa.
    found : tuple of Azeotrope
        All of them, the lowest boiling first at each.
    """

    system: Mixture
    given: str
    values: Array
    found: tuple[Azeotrope, ...]

    def __len__(self) -> int:
        return len(self.found)

    def __iter__(self) -> Iterator[Azeotrope]:
        return iter(self.found)

    def __getitem__(self, index: int) -> Azeotrope:
        return self.found[index]

    def title(self, units: str | None = None) -> str:
        """Of which system, and at which condition."""
        dimension = "temperature" if self.given == "T" else "pressure"
        ends = [shown(float(v), dimension, self.unit_set(units)) for v in (self.values.min(), self.values.max())]
        where = f"at {ends[0]}" if len(self.values) == 1 else f"from {ends[0]} to {ends[1]}"
        return f"Azeotropes of {self.system.title} {where}"

    def in_short(self, units: str | None = None) -> str:
        """Which there are."""
        if not self.found:
            return "There is no azeotrope."
        listed = "; ".join(str(a) for a in self.found[:_LISTED])
        more = f"; and {len(self.found) - _LISTED} more" if len(self.found) > _LISTED else ""
        return f"{counted(len(self.found), 'azeotrope')}: {listed}{more}."

    word = "azeotropes"
    rows = "azeotropes"

    def columns(self) -> list[Column]:
        """T, P, mole fractions, kind."""
        return [
            Column("T", [a.T for a in self.found], "temperature"),
            Column("P", [a.P for a in self.found], "pressure"),
            Column("x", np.array([a.x for a in self.found]).reshape(-1, len(self.system)), of=self.system.names),
            Column(
                "heterogeneous", [a.heterogeneous for a in self.found], label="liquids", words=lambda two: "two" if two else "one"
            ),
            Column("boils", [a.boils for a in self.found], label="among its components"),
            Column("node", [a.node for a in self.found], label="of the system"),
        ]

    def compared_frame(self) -> pd.DataFrame:
        """T, P and composition of each, by its components and, along several values, by T or P."""
        names = [" + ".join(a.components) for a in self.found]
        if len(self.values) > 1:
            names = [f"{name} at {getattr(a, self.given):.6g}" for name, a in zip(names, self.found, strict=True)]
        return unlike(self.to_frame("SI").set_axis(names))

    @property
    def notes(self) -> list[str]:
        """What holds for the system, and whether there are none."""
        notes = [*self.system.notes, *self.system.range_notes(np.array([a.T for a in self.found]))]
        if not self.found:
            notes.append("There is no azeotrope.")
        lacking = [v for v in self.values if self.found and not any(getattr(a, self.given) == v for a in self.found)]
        if lacking:
            dimension = "temperature" if self.given == "T" else "pressure"
            listed = ", ".join(shown(float(v), dimension, self.system.units, 4) for v in lacking[:6])
            notes.append(f"There is none at {listed}{' and others' if len(lacking) > 6 else ''}.")
        return notes

    @guarded
    def plot(self, ax: Axes | None = None, *, units: str | None = None) -> Axes:
        """Composition of every azeotrope against pressure (or temperature)."""
        from ..diagrams.azeotropes import draw_azeotropes

        return draw_azeotropes(self, ax, self.unit_set(units))
