"""Substances that are alike, by two parts of their solubility parameters."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ..units import from_si, pretty_unit, unit_of
from .style import BLUE, CRIMSON, DATA, INK, Drawn, finish, new_axes

if TYPE_CHECKING:
    from matplotlib.axes import Axes

_NAMED = 12
"""Points that have names."""
_DIMENSION = "solubility_parameter"


def draw_likeness(found: Drawn, ax: Axes | None, units: str) -> Axes:
    """Polar part against hydrogen bonding, the nearest named; filled where dispersion differs by less than 1 MPa^0.5."""
    ax = ax if ax is not None else new_axes()
    unit = pretty_unit(unit_of(_DIMENSION, units))
    near = [abs(c.delta_d - found.parts[0]) < 1e3 for c in found.components]
    for like, fill in ((True, BLUE), (False, "none")):
        points = [(c.delta_p, c.delta_h) for c, n in zip(found.components, near, strict=True) if n is like]
        if points:
            words = "dispersion within 1 MPa$^{0.5}$" if like else "dispersion farther away"
            place = zip(*from_si(points, _DIMENSION, units), strict=True)
            ax.plot(*place, **{**DATA, "color": BLUE, "markerfacecolor": fill}, label=words)
    target = from_si(found.parts, _DIMENSION, units)
    ax.plot(
        target[1], target[2], linestyle="none", marker="X", markersize=10, color=CRIMSON, label=found.target or "what was given"
    )
    for c in found.components[:_NAMED]:
        x, y = from_si([c.delta_p, c.delta_h], _DIMENSION, units)
        ax.annotate(c.name, (x, y), xytext=(6, 4), textcoords="offset points", fontsize=9, color=INK)
    ax.set_xlabel(f"$\\delta_p$, polar part [{unit}]")
    ax.set_ylabel(f"$\\delta_h$, hydrogen bonding [{unit}]")
    ax.margins(0.12)
    ax.legend(frameon=False, loc="best")
    finish(ax, found.title(units))
    return ax
