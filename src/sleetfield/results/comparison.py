"""The same calculation with several models: every number beside the others, with deviations from one of them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..mixture import Mixture
from ..text import first_few
from ..units import pretty_heading
from .base import Table
from .columns import Column

if TYPE_CHECKING:
    from matplotlib.axes import Axes

Array = NDArray[np.float64]

_LISTED = 8


@dataclass(frozen=True, eq=False, repr=False)
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

    def in_short(self, units: str | None = None) -> str:
        """How many numbers differ, and which most."""
        found = self.disagreements
        some = " Some numbers only some models have." if self.lacking else ""
        if not found:
            return f"No number differs by more than {self.limit:.3g} of itself.{some}"
        count = sum(int(np.isfinite(off).sum()) for off in self.deviations.values())
        return f"{len(found)} of {count} numbers differ by more than {self.limit:.3g}. {self._told(*found[0])}{some}"

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
        return tuple(sorted((f for f in found if abs(f[2]) > self.limit), key=lambda f: -abs(f[2])))

    @property
    def lacking(self) -> dict[tuple[str, ...], list[str]]:
        """Numbers that some models alone have, of a phase that forms by these only, say: by the models that have them."""
        found: dict[tuple[str, ...], list[str]] = {}
        for k, label in enumerate(self.labels):
            have = tuple(name for name, v in self.values.items() if np.isfinite(v[k]))
            if 0 < len(have) < len(self.values):
                found.setdefault(have, []).append(label)
        return found

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
        notes = [f"{first_few(labels)}: only {', '.join(have)}." for have, labels in self.lacking.items()]
        notes += [self._told(*one) for one in found[:_LISTED]]
        if len(found) > _LISTED:
            notes.append(f"{len(found) - _LISTED} more numbers differ by more than {self.limit:.3g}.")
        if not found:
            notes.append(f"No number differs by more than {self.limit:.3g} of itself.")
        for name, off in self.off_data.items():
            notes.append(f"{name} against data, root mean square: {', '.join(f'{q} {v:.3g}' for q, v in off.items())} (SI).")
        return notes

    def _told(self, label: str, name: str, off: float) -> str:
        return f"{pretty_heading(label)}: {name} is {off:+.1%} off {self.base}."

    @guarded
    def plot(self, ax: Axes | None = None, *, units: str | None = None) -> Axes:
        """Draw the relative differences of every number."""
        from ..diagrams.comparison import draw_comparison

        return draw_comparison(ax, self)
