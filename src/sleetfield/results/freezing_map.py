"""How three components freeze: the temperature of the first solid over the triangle, valleys between solids, and the ternary eutectic."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..mixture import Mixture
from ..text import counted, shown
from .base import TableResult
from .columns import Column, frame

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes

Array = NDArray[np.float64]


class Valley(NamedTuple):
    """Liquids beside two solids, from the side of the triangle inwards: K ``(M,)``, mole fractions ``(M, 3)``, and the solids."""

    T: Array
    x: Array
    solids: tuple[str, str]


class EutecticPoint(NamedTuple):
    """A liquid beside as many solids as it has components: K, mole fractions ``(3,)``, and the solids."""

    T: float
    x: Array
    solids: tuple[str, ...]


@dataclass(frozen=True, eq=False, repr=False)
class FreezingMap(TableResult):
    """Where liquids of three components begin to freeze.

    Attributes
    ----------
    P : float
        Pa.
    x : (N, 3)
        Liquids over the triangle; ``T (N,)`` the temperatures at which the first solid forms, K.
    solids : tuple of str
        Which one that is.
    valleys : tuple of Valley
    eutectics : tuple of EutecticPoint
        Of two components on the sides, and of three inside.
    remarks : tuple of str
    """

    has_picture = True

    system: Mixture
    P: float
    x: Array
    T: Array
    solids: tuple[str, ...]
    valleys: tuple[Valley, ...]
    eutectics: tuple[EutecticPoint, ...]
    remarks: tuple[str, ...]

    word = "freezing map"

    def title(self, units: str | None = None) -> str:
        """Of which system, and at which pressure."""
        return f"First solids of {self.system.title} at {shown(self.P, 'pressure', self.unit_set(units))}"

    def in_short(self, units: str | None = None) -> str:
        """The ternary eutectic, or how many there are of two."""
        inside = [e for e in self.eutectics if len(e.solids) == 3]
        if not inside:
            return f"{counted(len(self.eutectics), 'eutectic')} of two components, none of three."
        e = min(inside, key=lambda e: e.T)
        parts = " + ".join(f"{v:.4f} {n}" for v, n in zip(e.x, self.system.names, strict=True))
        return f"All three freeze together at {shown(e.T, 'temperature', self.unit_set(units), 5)}, from {parts}."

    def columns(self) -> list[Column]:
        """Each liquid, its temperature and its solid."""
        return [Column("x", self.x, of=self.system.names), Column("T", self.T, "temperature"), Column("solid", list(self.solids))]

    def facts(self) -> dict[str, Any]:
        """The pressure, eutectics and valleys."""
        return {
            "P": self.P,
            "eutectics": [{"T": e.T, "x": e.x.tolist(), "solids": list(e.solids)} for e in self.eutectics],
            "valleys": [{"T": v.T.tolist(), "x": v.x.tolist(), "solids": list(v.solids)} for v in self.valleys],
        }

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """Eutectics."""
        some = self.eutectics
        return frame(
            [
                Column("x", np.array([e.x for e in some]).reshape(-1, 3), of=self.system.names),
                Column("T", [e.T for e in some], "temperature"),
                Column("solids", [", ".join(s.removeprefix("solid ") for s in e.solids) for e in some]),
            ],
            self.unit_set(units),
        )

    @property
    def notes(self) -> list[str]:
        """About the system."""
        notes = [*self.system.notes, *self.remarks, *self.system.pair_notes(self.T)]
        if lacking := int(np.isnan(self.T).sum()):
            notes.append(f"Of {lacking} of {len(self.T)} liquids no solid forms.")
        return notes

    @guarded
    def plot(self, ax: Axes | None = None, *, units: str | None = None) -> Axes:
        """Draw it as a triangle.

        Examples
        --------
        >>> import sleetfield as sl
        >>> xylenes = sl.System(["o-xylene", "m-xylene", "p-xylene"], liquid="ideal", units="metric")
        >>> drawn = xylenes.freezing_map().plot()

        """
        from ..diagrams.ternary import draw_freezing

        return draw_freezing(self, ax, self.unit_set(units))
