"""A plus fraction by molar mass."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from numpy.typing import NDArray

from .style import LINES, finish, logarithmic, new_axes

if TYPE_CHECKING:
    import numpy as np
    from matplotlib.axes import Axes


def draw_plus_fraction(
    ax: Axes | None, molar_mass: NDArray[np.float64], fraction: NDArray[np.float64], names: Sequence[str], title: str
) -> Axes:
    """Mole fractions of cuts against molar mass in g/mol; the first, the last and some between are named."""
    ax = ax if ax is not None else new_axes()
    color = LINES["value"]["color"]
    ax.vlines(molar_mass, fraction.min() / 3.0, fraction, color=color, linewidth=1.2)
    ax.plot(molar_mass, fraction, linestyle="none", marker="o", markersize=5, color=color)
    every = max(1, len(names) // 6)
    for i in range(0, len(names), every):
        ax.annotate(names[i], (float(molar_mass[i]), float(fraction[i])), xytext=(5, 5), textcoords="offset points", fontsize=9)
    logarithmic(ax)
    ax.margins(x=0.1)
    ax.set_xlabel("$M$, molar mass [g/mol]")
    ax.set_ylabel("$z$, mole fraction in the mixture")
    finish(ax, title)
    return ax
