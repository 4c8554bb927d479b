"""pH and species of a solution against what is added to it."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import cycle
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from .labels import write_along
from .style import LINES, SERIES, finish, logarithmic, new_axes

if TYPE_CHECKING:
    from matplotlib.axes import Axes

Array = NDArray[np.float64]

_LEAST = 1e-7
"""mol/kg, that is drawn."""


def draw_pH(ax: Axes | None, added: str, amounts: Array, pH: Array, title: str) -> Axes:
    """One line."""
    ax = ax if ax is not None else new_axes()
    ax.plot(amounts, pH, **LINES["value"])
    ax.set_xlabel(f"{added} added [mol for 1 kg of water]")
    ax.set_ylabel("pH")
    finish(ax, title)
    return ax


def draw_species(ax: Axes | None, added: str, amounts: Array, curves: Mapping[str, Array], title: str) -> Axes:
    """A line for each solute."""
    ax = ax if ax is not None else new_axes()
    logarithmic(ax)
    along = []
    for k, ((name, m), style) in enumerate(zip(curves.items(), cycle(SERIES), strict=False)):
        kept = np.where(m > _LEAST, m, np.nan)
        ax.plot(amounts, kept, **style)
        along.append(write_along(ax, amounts, kept, name, style["color"], 0.15 + 0.12 * (k % 6)))
    ax.set_ylim(bottom=_LEAST)
    ax.set_xlabel(f"{added} added [mol for 1 kg of water]")
    ax.set_ylabel("$m$, molality [mol/kg]")
    finish(ax, title, along)
    return ax
