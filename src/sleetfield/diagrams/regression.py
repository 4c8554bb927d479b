"""Residuals of a regression: every measured quantity over its uncertainty, point by point."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from .style import SERIES, finish, new_axes

if TYPE_CHECKING:
    from matplotlib.axes import Axes

_LIMIT = 3.0


def draw_residuals(ax: Axes | None, quantities: Sequence[tuple[str, NDArray[np.intp], NDArray[np.float64]]], title: str) -> Axes:
    """Scaled residuals against the number of the point, with lines at three standard deviations; stray points are numbered."""
    ax = ax if ax is not None else new_axes()
    ax.axhline(0.0, color="#8a8f98", linewidth=0.8)
    for sign in (-1.0, 1.0):
        ax.axhline(sign * _LIMIT, color="#8a8f98", linestyle=":", linewidth=1.0)
    for k, (words, points, scaled) in enumerate(quantities):
        color = SERIES[k % len(SERIES)]["color"]
        ax.plot(points, scaled, linestyle="", marker="osD^v<>"[k % 7], color=color, markerfacecolor="none", label=words)
        for i in np.flatnonzero(np.abs(scaled) > _LIMIT):
            ax.annotate(str(points[i]), (points[i], scaled[i]), xytext=(6, 0), textcoords="offset points", fontsize=9, color=color)
    ax.set_xlabel("point")
    ax.set_ylabel("measured less fitted, over its standard deviation")
    if len(quantities) > 1:
        ax.legend(frameon=False, fontsize=9)
    finish(ax, title)
    return ax
