"""Melting diagrams of two components: liquidus lines, eutectics, liquids that part while one of them freezes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..mixture import Mixture
from ..text import shown
from .base import TableResult
from .columns import Column

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes

    from ..data_sets import DataSet

Array = NDArray[np.float64]


class TwoSolids(NamedTuple):
    """A liquid beside two solids: K, mole fraction of the first component in it, and the solids to its left and right in the diagram."""

    T: float
    x: float
    solids: tuple[str, str]


class Monotectic(NamedTuple):
    """Two liquids beside a solid: K, mole fractions of the first component in both, and the solid."""

    T: float
    x: tuple[float, float]
    solid: str


@dataclass(frozen=True, eq=False, repr=False)
class MeltingDiagram(TableResult):
    """Where liquids of two components begin to freeze.

    Attributes
    ----------
    P : float
        Pa.
    x : (N,)
        Mole fractions of the first component in the liquid.
    T : (N,)
        K, at which the first solid forms on cooling; NaN where none does.
    solids : tuple of str
        What forms there.
    eutectics : tuple of TwoSolids
        A liquid whose composition is between those of two solids: it freezes to both.
    peritectics : tuple of TwoSolids
        One whose composition is not: it and a solid turn into another solid.
    monotectics : tuple of Monotectic
    boiling : (N,)
        Where the liquid would boil before it freezes.
    remarks : tuple of str
    """

    has_picture = True

    system: Mixture
    P: float
    x: Array
    T: Array
    solids: tuple[str, ...]
    eutectics: tuple[TwoSolids, ...]
    peritectics: tuple[TwoSolids, ...]
    monotectics: tuple[Monotectic, ...]
    boiling: NDArray[np.bool_]
    remarks: tuple[str, ...]

    word = "melting diagram"
    rows = "curve"

    def __len__(self) -> int:
        return len(self.T)

    def title(self, units: str | None = None) -> str:
        """Of which system, at which pressure."""
        return f"Melting diagram of {self.system.title} at {shown(self.P, 'pressure', self.unit_set(units))}"

    def in_short(self, units: str | None = None) -> str:
        """Eutectics and monotectics."""
        return " ".join(self._invariants(self.unit_set(units))) or "No eutectic."

    def _invariants(self, units: str) -> list[str]:
        first = self.system.names[0]
        said = [
            f"Eutectic at {shown(e.T, 'temperature', units, 5)}, {100.0 * e.x:.3g} mol % {first}: {e.solids[0]} and {e.solids[1]} freeze together."
            for e in self.eutectics
        ]
        said += [
            f"Peritectic at {shown(e.T, 'temperature', units, 5)}, {100.0 * e.x:.3g} mol % {first} in the liquid, beside {e.solids[0]} and {e.solids[1]}."
            for e in self.peritectics
        ]
        return said + [
            f"Two liquids, {100.0 * m.x[0]:.3g} and {100.0 * m.x[1]:.3g} mol % {first}, stand beside {m.solid} at {shown(m.T, 'temperature', units, 5)}."
            for m in self.monotectics
        ]

    def columns(self) -> list[Column]:
        """Composition, temperature and solid of each point."""
        return [
            Column("x", self.x[:, None], of=self.system.names[:1]),
            Column("T", self.T, "temperature"),
            Column("solid", list(self.solids)),
        ]

    def facts(self) -> dict[str, Any]:
        """The pressure, and what was found along the curve."""
        return {
            "P": self.P,
            "eutectics": [e._asdict() for e in self.eutectics],
            "peritectics": [e._asdict() for e in self.peritectics],
            "monotectics": [m._asdict() for m in self.monotectics],
        }

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """Some twenty rows of it."""
        frame = self.to_frame(units)
        step = max(1, len(frame) // 20)
        return frame.iloc[sorted({*range(0, len(frame), step), len(frame) - 1})].reset_index(drop=True)

    @property
    def notes(self) -> list[str]:
        """What was found along the curve, and what holds for the system."""
        notes = [*self._invariants(self.system.units), *self.system.notes, *self.remarks, *self.system.pair_notes(self.T)]
        if self.boiling.any():
            notes.append(
                f"At {int(self.boiling.sum())} of {len(self)} points there is vapor where the first solid forms: this pressure is too low for the liquid."
            )
        return notes

    @guarded
    def plot(
        self,
        ax: Axes | None = None,
        *,
        units: str | None = None,
        data: DataSet | None = None,
        beside: Mapping[str, MeltingDiagram] | None = None,
    ) -> Axes:
        """Draw temperature against composition.

        Parameters
        ----------
        ax : optional
            Axes to draw on.
        units : {"SI", "metric", "US"}, optional
            Those of the system where it is left out.
        data : DataSet, optional
            Measured solubilities, or temperatures of saturated liquids.
        beside : dict of name to MeltingDiagram, optional
            The same by other models.

        Examples
        --------
        >>> import sleetfield as sl
        >>> sl.System(["naphthalene", "benzene"], liquid="ideal").melting_diagram().plot().get_xlabel()
        '$x$, mole fraction of naphthalene'

        """
        from ..diagrams.melting import draw_melting

        return draw_melting(self, ax, self.unit_set(units), data, beside or {})
