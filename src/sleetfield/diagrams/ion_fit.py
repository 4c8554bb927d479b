"""Osmotic and mean activity coefficients of a salt, measured and fitted."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from .labels import write_along
from .style import SERIES, finish, new_axes

if TYPE_CHECKING:
    from matplotlib.axes import Axes

Array = NDArray[np.float64]


def draw(ax: Axes | None, molality: Array, measured: Array, line: Array, drawn: Array, title: str) -> Axes:
    """A line and its circles for each of both that there is."""
    ax = ax if ax is not None else new_axes()
    along = []
    for name, points, curve, style, place in zip(
        ("osmotic coefficient", "mean activity coefficient"), measured, drawn, SERIES, (0.35, 0.65), strict=False
    ):
        if not np.isfinite(points).any():
            continue
        ax.plot(line, curve, **style)
        ax.plot(molality, points, linestyle="none", marker="o", markerfacecolor="none", color=style["color"])
        along.append(write_along(ax, line, curve, name, style["color"], place))
    ax.set_xlabel("$m$, molality [mol/kg]")
    ax.set_ylabel("coefficient")
    finish(ax, title, along)
    return ax
