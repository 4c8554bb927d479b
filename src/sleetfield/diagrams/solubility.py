"""Solubilities against temperature, and as logarithms against reciprocal temperature."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import cycle
from typing import TYPE_CHECKING, Any

import numpy as np

from ..units import from_si
from .solid_line import straight_between
from .style import DATA, LINES, SERIES, Drawn, axis_label, finish, full_title, logarithmic, mole_fraction, new_axes

if TYPE_CHECKING:
    from matplotlib.axes import Axes


def draw_solubility(
    found: Drawn, ax: Axes | None, units: str, reciprocal: bool, data: Drawn | None, beside: Mapping[str, Drawn]
) -> Axes:
    """One or several, with the ideal solubility and measured points."""
    ax = ax if ax is not None else new_axes()

    def across(T: Any) -> Any:
        return 1e3 / np.asarray(T) if reciprocal else from_si(T, "temperature", units)

    whole = {found.system.model_title if beside else found.solvent: found, **beside}
    for (name, one), style in zip(whole.items(), cycle(SERIES), strict=False):
        order = np.argsort(one.T)
        T, x = straight_between(one.T[order], one.dissolved[order])
        ax.plot(across(T), x, **style, label=name)
    order = np.argsort(found.T)
    if np.abs(found.gamma - 1.0).max() > 1e-6:
        T, x = straight_between(found.T[order], found.ideal[order])
        ax.plot(across(T), x, **LINES["limit"], label="ideal liquid")
    if data is not None:
        ax.plot(across(data["T"]), data["x"][:, data.names.index(found.solid)], **DATA, label="measured")
    if reciprocal:
        logarithmic(ax)
        ax.invert_xaxis()
    else:
        ax.set_ylim(bottom=0.0)
    ax.set_xlabel("$1000/T$, reciprocal temperature [1/K]" if reciprocal else axis_label("T", units))
    ax.set_ylabel(mole_fraction("x", found.solid))
    ax.legend(frameon=False, loc="best")
    finish(ax, full_title(found, units))
    return ax
