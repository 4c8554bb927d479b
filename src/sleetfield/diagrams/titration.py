"""pH, species, gases and solids of a solution against what is added to it, or temperature."""

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
"""mol/kg, or bar and the like, that is drawn."""


def draw_pH(ax: Axes | None, label: str, at: Array, pH: Array, title: str) -> Axes:
    """One line."""
    ax = ax if ax is not None else new_axes()
    ax.plot(at, pH, **LINES["value"])
    ax.set_xlabel(label)
    ax.set_ylabel("pH")
    finish(ax, title)
    return ax


def draw_decades(
    ax: Axes | None, label: str, at: Array, curves: Mapping[str, Array], title: str, quantity: str = "$m$, molality [mol/kg]"
) -> Axes:
    """A line for each solute, or gas, over decades."""
    ax = ax if ax is not None else new_axes()
    logarithmic(ax)
    # from the least that there is throughout, a little below it
    least = max(_LEAST, 0.3 * min((float(m.min()) for m in curves.values()), default=0.0))
    along = []
    for k, ((name, m), style) in enumerate(zip(curves.items(), cycle(SERIES), strict=False)):
        kept = np.where(m > least, m, np.nan)
        ax.plot(at, kept, **style)
        along.append(write_along(ax, at, kept, name, style["color"], 0.15 + 0.12 * (k % 6)))
    ax.set_ylim(bottom=least)
    ax.set_xlabel(label)
    ax.set_ylabel(quantity)
    finish(ax, title, along)
    return ax


def draw_solids(ax: Axes | None, label: str, at: Array, amounts: Mapping[str, Array], title: str) -> Axes:
    """A line for each solid."""
    ax = ax if ax is not None else new_axes()
    along = []
    for k, ((name, n), style) in enumerate(zip(amounts.items(), cycle(SERIES), strict=False)):
        kept = np.where(n > 0.0, n, np.nan)
        ax.plot(at, kept, **style)
        along.append(write_along(ax, at, kept, name, style["color"], 0.3 + 0.15 * (k % 4)))
    ax.set_ylim(bottom=0.0)
    ax.set_xlabel(label)
    ax.set_ylabel("precipitated [mol for 1 kg of water]")
    finish(ax, title, along)
    return ax
