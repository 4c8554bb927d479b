"""A matrix of interaction parameters as a map."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from .style import BLUE, CRIMSON, GREY, INK, new_axes, set_title

if TYPE_CHECKING:
    from matplotlib.axes import Axes


def draw_interactions(
    ax: Axes | None, kij: NDArray[np.float64], names: Sequence[str], unknown: set[tuple[int, int]], title: str
) -> Axes:
    """Colors by value, blue below zero and red above; the number in each field; unknown pairs hatched."""
    from matplotlib.colors import LinearSegmentedColormap
    from matplotlib.patches import Rectangle

    ax = ax if ax is not None else new_axes()
    count = len(names)
    colors = LinearSegmentedColormap.from_list("kij", [BLUE, "#ffffff", CRIMSON])
    limit = max(0.05, float(np.abs(kij).max()))
    ax.imshow(kij, cmap=colors, vmin=-limit, vmax=limit, aspect="auto")
    for i in range(count):
        for j in range(count):
            if i == j:
                continue
            if (min(i, j), max(i, j)) in unknown:
                ax.add_patch(Rectangle((j - 0.5, i - 0.5), 1.0, 1.0, fill=False, hatch="///", edgecolor="#c9cdd3", linewidth=0.0))
            elif count <= 16:
                ax.text(
                    j,
                    i,
                    f"{kij[i, j]:.3g}",
                    ha="center",
                    va="center",
                    fontsize=8 if count > 8 else 10,
                    color="white" if abs(kij[i, j]) > 0.55 * limit else INK,
                )
    ax.set_xticks(range(count), names, rotation=45, ha="right", fontsize=9)
    ax.set_yticks(range(count), names, fontsize=9)
    ax.tick_params(length=0)
    for side in ax.spines.values():
        side.set_visible(False)
    set_title(ax, title)
    if unknown:
        ax.set_xlabel("hatched: no number known, taken as zero", fontsize=9, color=GREY)
    return ax
