"""The same calculation with several models: every number beside the others, with deviations from one of them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..mixture import Mixture
from .base import Table
from .columns import Column

if TYPE_CHECKING:
    from matplotlib.axes import Axes

Array = NDArray[np.float64]

_LISTED = 8


@dataclass(frozen=True, eq=False)
class Comparison(Table):
    """Numbers of several models, in SI.

    Attributes
    ----------
    systems : mapping of str to System
    labels : tuple of str
        What each number is.
    values : mapping of str to (N,)
    base : str
        Whose numbers the others are compared with.
    limit : float
        Relative difference from which models are said to disagree.
    off_data : mapping of str to mapping of str to float
        Root mean square of each measured quantity's deviation, by model; empty without data.
    """

    systems: Mapping[str, Mixture]
    labels: tuple[str, ...]
    values: Mapping[str, Array]
    base: str
    limit: float
    off_data: Mapping[str, Mapping[str, float]]

    word = "comparison"
    rows = "numbers"

    def title(self, units: str | None = None) -> str:
        """Which models."""
        return f"{', '.join(self.systems)}: compared with {self.base}"

    @property
    def deviations(self) -> dict[str, Array]:
        """Relative differences from the base ``(N,)``, by model; absolute ones where the base has zero."""
        own = self.values[self.base]
        size = np.where(own == 0.0, 1.0, np.abs(own))
        return {name: (v - own) / size for name, v in self.values.items() if name != self.base}

    @property
    def disagreements(self) -> tuple[tuple[str, str, float], ...]:
        """What differs by more than the limit: number, model, relative difference; the largest first."""
        found = [
            (label, name, float(d)) for name, off in self.deviations.items() for label, d in zip(self.labels, off, strict=True)
        ]
        return tuple(
            sorted((f for f in found if not abs(f[2]) <= self.limit), key=lambda f: -np.inf if np.isnan(f[2]) else -abs(f[2]))
        )

    def columns(self) -> list[Column]:
        """Each number by every model, and relative differences from the base."""
        columns = [Column("number", list(self.labels)), *(Column(name, v) for name, v in self.values.items())]
        return columns + [Column(f"{name}, off", off) for name, off in self.deviations.items()]

    def facts(self) -> dict[str, Any]:
        """The base, and deviations from data."""
        return {"base": self.base, "limit": self.limit, "off_data": {k: dict(v) for k, v in self.off_data.items()}}

    @property
    def notes(self) -> list[str]:
        """Where models disagree, and how far each is from data."""
        found = self.disagreements
        notes = [self._told(*one) for one in found[:_LISTED]]
        if len(found) > _LISTED:
            notes.append(f"{len(found) - _LISTED} more numbers differ by more than {self.limit:.3g}.")
        if not found:
            notes.append(f"No number differs by more than {self.limit:.3g} of itself.")
        for name, off in self.off_data.items():
            notes.append(f"{name} against data, root mean square: {', '.join(f'{q} {v:.3g}' for q, v in off.items())} (SI).")
        return notes

    def _told(self, label: str, name: str, off: float) -> str:
        if np.isnan(off):
            return f"{label}: {name} or {self.base} has none."
        return f"{label}: {name} is {off:+.1%} off {self.base}."

    def plot(self, ax: Axes | None = None, *, units: str | None = None) -> Axes:
        """Draw the relative differences of every number."""
        from ..diagrams.comparison import draw_comparison

        return draw_comparison(ax, self)
