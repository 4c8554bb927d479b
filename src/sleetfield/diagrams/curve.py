"""One quantity against another."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from numpy.typing import NDArray

from .style import LINES, MARKS, finish, new_axes

if TYPE_CHECKING:
    import numpy as np
    from matplotlib.axes import Axes


def draw_curve(
    ax: Axes | None,
    x: NDArray[np.float64],
    y: NDArray[np.float64],
    labels: tuple[str, str],
    title: str,
    marks: Sequence[tuple[str, float, float]] = (),
) -> Axes:
    """Draw ``y`` against ``x``, both in the units that their labels state, with named points marked."""
    ax = ax if ax is not None else new_axes()
    ax.plot(x, y, **LINES["value"])
    for name, mark_x, mark_y in marks:
        ax.plot([mark_x], [mark_y], linestyle="none", zorder=5, **MARKS["operating"])
        ax.annotate(name, (mark_x, mark_y), xytext=(12, -12), textcoords="offset points", fontsize=9)
    ax.set_ylim(bottom=0.0)
    ax.set_xlabel(labels[0])
    ax.set_ylabel(labels[1])
    finish(ax, title)
    return ax
