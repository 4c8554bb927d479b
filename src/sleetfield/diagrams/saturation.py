"""Bubble and dew points at many temperatures or pressures."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ..errors import InputError
from ..units import from_si
from .style import AXES, LINES, Drawn, axis_label, finish, full_title, new_axes

if TYPE_CHECKING:
    from matplotlib.axes import Axes


def draw_points(found: Drawn, ax: Axes | None, units: str, beside: Drawn | None) -> Axes:
    """What was given along one axis, temperature or pressure, and what was found along the other; a feed that changes at one condition by its number.

    Raises
    ------
    InputError
        If the points beside are at given temperatures and these at given pressures, or the reverse.
    """
    if beside is not None and beside.given != found.given:
        raise InputError(f"The points beside are at given {beside.given}, and these at given {found.given}; draw them apart.")
    ax = ax if ax is not None else new_axes()
    other = "P" if found.given == "T" else "T"
    along = found.given if len(np.unique(getattr(found, found.given))) > 1 or len(found) == 1 else None
    for points in (found, beside) if beside is not None else (found,):
        values = from_si(getattr(points, other), AXES[other][2], units)
        at = np.arange(1, len(points) + 1) if along is None else from_si(getattr(points, along), AXES[along][2], units)
        order = np.argsort(at)
        ax.plot(at[order], values[order], **{**LINES[points.kind], "marker": "o", "markersize": 4}, label=f"{points.kind} points")
    ax.set_xlabel("number of the feed" if along is None else axis_label(along, units))
    ax.set_ylabel(axis_label(other, units))
    ax.legend(frameon=False, loc="best")
    title = full_title(found, units)
    finish(ax, title if beside is None else f"Bubble and dew points of{title.partition(' of')[2]}")
    return ax
