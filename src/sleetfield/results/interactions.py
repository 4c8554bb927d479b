"""The interaction parameters that a system uses, and where each came from."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..mixture import Mixture
from .base import TableResult
from .columns import Column

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False, repr=False)
class Interactions(TableResult):
    """Binary interaction parameters kᵢⱼ.

    Attributes
    ----------
    parts : (3, C, C)
        Value, slope and bend at 298.15 K; symmetric, zero on the diagonal.
    sources : dict
        Where each came from, by pair of positions ``(i, j)``, ``i < j``.
    """

    system: Mixture
    parts: Array
    sources: dict[tuple[int, int], str]

    @classmethod
    def of(cls, system: Mixture) -> Interactions:
        """Those of a system."""
        parts, sources = np.zeros((3, len(system), len(system))), {}
        for p in system.model.parameters.of_symbol("kij"):
            i, j = sorted(system.names.index(name) for name in p.of)
            parts[:, i, j] = parts[:, j, i] = p.function.parts()
            sources[i, j] = p.source
        return cls(system, parts, sources)

    @property
    def kij(self) -> Array:
        """The parameters ``(C, C)``, at 298.15 K where they depend on temperature."""
        return self.system.kij

    @property
    def varies(self) -> bool:
        """Whether any depends on temperature."""
        return bool(self.parts[1:].any())

    def title(self, units: str | None = None) -> str:
        """Of which system."""
        return f"Interaction parameters of {self.system.title}"

    word = "interactions"
    rows = "pairs"

    def columns(self) -> list[Column]:
        """The components of each pair, kij and the source."""
        names, pairs = self.system.names, sorted(self.sources)
        i, j = np.array(pairs, dtype=np.intp).reshape(-1, 2).T
        slopes = [Column(name, self.parts[k, i, j]) for k, name in ((1, "slope"), (2, "bend"))]
        return [
            Column("first", [names[k] for k in i]),
            Column("second", [names[k] for k in j]),
            Column("kij", self.kij[i, j]),
            *(slopes if self.varies else ()),
            Column("source", [self.sources[pair] for pair in pairs]),
        ]

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """The matrix."""
        import pandas as pd

        return pd.DataFrame(self.kij, index=list(self.system.names), columns=list(self.system.names))

    @property
    def notes(self) -> list[str]:
        """How many pairs come from where."""
        counts: dict[str, int] = {}
        for source in self.sources.values():
            counts[source] = counts.get(source, 0) + 1
        notes = [f"{n} pair{'s' if n > 1 else ''}: {source}." for source, n in counts.items()]
        return notes + (["Parameters that depend on temperature are shown at 298.15 K."] if self.varies else [])

    @guarded
    def plot(self, ax: Axes | None = None, *, units: str | None = None) -> Axes:
        """The matrix as a map, with the numbers in it; pairs taken as zero for want of a number are hatched."""
        from ..diagrams.interactions import draw_interactions

        unknown = {pair for pair, source in self.sources.items() if source.startswith("none")}
        return draw_interactions(ax, self.kij, self.system.names, unknown, f"Interaction parameters of {self.system.full_title()}")
