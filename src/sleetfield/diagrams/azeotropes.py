"""How azeotropes move with pressure or temperature."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ..units import from_si
from .style import SERIES, Drawn, axis_label, finish, full_title, mole_fraction, new_axes

if TYPE_CHECKING:
    from matplotlib.axes import Axes


def draw_azeotropes(found: Drawn, ax: Axes | None, units: str) -> Axes:
    """Mole fraction of the first component of each azeotrope against the pressure, or the temperature, that was given."""
    ax = ax if ax is not None else new_axes()
    dimension = "temperature" if found.given == "T" else "pressure"
    groups: dict[tuple[str, ...], list[tuple[float, float]]] = {}
    for a in found:
        level = float(from_si(getattr(a, found.given), dimension, units))
        groups.setdefault(a.components, []).append((level, a.composition[a.components[0]]))
    for k, (names, points) in enumerate(groups.items()):
        ax.plot(*zip(*points, strict=True), **{**SERIES[k % len(SERIES)], "marker": "o", "markersize": 4}, label=" + ".join(names))
    ax.set_xlabel(axis_label(found.given, units))
    ax.set_ylabel(mole_fraction("x", "the component named first"))
    ax.set_ylim(0.0, 1.0)
    if groups:
        ax.legend(frameon=False, loc="best")
    finish(ax, full_title(found, units))
    return ax
