"""Relative differences of several models' numbers from those of one of them."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from .style import LINES, SERIES, Drawn, finish, new_axes

if TYPE_CHECKING:
    from matplotlib.axes import Axes

_MOST_NAMED = 24
_MARKS = "osD^v<>"


def draw_comparison(ax: Axes | None, found: Drawn) -> Axes:
    """A mark for each number and model; dotted lines where differences begin to matter."""
    ax = ax if ax is not None else new_axes()
    at = np.arange(len(found.labels))
    ax.axhline(0.0, **LINES["diagonal"])
    for sign in (-1.0, 1.0):
        ax.axhline(sign * 100.0 * found.limit, **LINES["limit"])
    for k, (name, off) in enumerate(found.deviations.items()):
        color = SERIES[k % len(SERIES)]["color"]
        ax.plot(at, 100.0 * off, linestyle="", marker=_MARKS[k % 7], color=color, markerfacecolor="none", label=name)
    if len(at) <= _MOST_NAMED:
        ax.set_xticks(at, found.labels, rotation=45, ha="right", fontsize=8)
    else:
        ax.set_xlabel("number")
    ax.set_ylabel(f"relative difference from {found.base} [%]")
    ax.legend(frameon=False, fontsize=9)
    finish(ax, found.title())
    return ax
