"""How every figure looks: said once."""

from __future__ import annotations

import itertools
import re
import textwrap
from typing import TYPE_CHECKING, Any

import numpy as np

from ..units import pretty_unit, unit_of

Drawn = Any
"""A result that is drawn: what it has is read by name, so that results can import what draws them, and not the reverse."""

if TYPE_CHECKING:
    from matplotlib.axes import Axes

LINES: dict[str, dict[str, Any]] = {
    "bubble": {"color": "#0b7a75", "linestyle": "-", "linewidth": 1.8},
    "dew": {"color": "#d98200", "linestyle": "--", "linewidth": 1.8},
    "quality": {"color": "#8a8f98", "linestyle": "-", "linewidth": 0.8},
    "value": {"color": "#0b7a75", "linestyle": "-", "linewidth": 1.8},
}
LINES["liquid-liquid"] = {"color": "#5b3a8c", "linestyle": "-.", "linewidth": 1.5}
LINES |= {f"{kind}, not stable": {**LINES[kind], "linewidth": 0.8, "alpha": 0.55} for kind in ("bubble", "dew", "liquid-liquid")}
LINES["three phases"] = {"color": "#7b3f72", "linestyle": ":", "linewidth": 1.8}
LINES["liquids"] = LINES["liquid-liquid"]
LINES["diagonal"] = {"color": "#8a8f98", "linestyle": "-", "linewidth": 0.8}
LINES["reference"] = {"color": "#1d2733", "linestyle": "none", "marker": "+", "markersize": 8}
DATA: dict[str, Any] = {"linestyle": "none", "marker": "o", "markerfacecolor": "none", "color": "#1d2733", "markersize": 6}
"""Measured points."""

SERIES: tuple[dict[str, Any], ...] = tuple(
    {"color": color, "linestyle": line, "linewidth": 1.6}
    for color, line in zip(
        ("#0b7a75", "#d98200", "#5b3a8c", "#2f6fb0", "#8a8f98", "#a3195b", "#1d2733", "#7a5c00"),
        ("-", "--", "-.", ":", (0, (6, 2)), (0, (4, 1, 1, 1)), (0, (1, 3)), (0, (8, 1, 2, 1))),
        strict=True,
    )
)
"""Several lines in one figure: told apart by color and by dashes."""

MARKS: dict[str, dict[str, Any]] = {
    "critical": {"marker": "D", "color": "#1d2733", "markersize": 7},
    "cricondentherm": {"marker": ">", "color": "#1d2733", "markerfacecolor": "white", "markersize": 8},
    "cricondenbar": {"marker": "^", "color": "#1d2733", "markerfacecolor": "white", "markersize": 8},
    "operating": {"marker": "X", "color": "#a3195b", "markersize": 9},
}
MARKS["azeotrope"] = {"marker": "*", "color": "#a3195b", "markersize": 12}
MARKS["three phases"] = {"marker": "s", "color": "#7b3f72", "markerfacecolor": "white", "markersize": 7}
AXES = {
    "T": ("T", "temperature", "temperature"),
    "P": ("P", "pressure", "pressure"),
    "H": ("H", "enthalpy", "molar_energy"),
    "S": ("S", "entropy", "molar_entropy"),
    "density": ("\\rho", "density", "density"),
    "molar_volume": ("V", "molar volume", "molar_volume"),
}
"""Quantities that axes have: symbol, name and dimension."""


def new_axes() -> Axes:
    """Axes on a new figure, without touching whatever backend the user has chosen."""
    import matplotlib.pyplot as plt

    _, ax = plt.subplots(figsize=(9.6, 6.0), layout="constrained")
    return ax


def axis_label(quantity: str, unit_set: str) -> str:
    """Symbol, name and unit of one of `AXES`."""
    symbol, name, dimension = AXES[quantity]
    return f"${symbol}$, {name} [{pretty_unit(unit_of(dimension, unit_set))}]"


def finish(ax: Axes, title: str) -> None:
    """Title, grid and spines, the same everywhere; labels that would lie over each other are moved apart."""
    size, lines = _in_lines(title)
    ax.set_title("\n".join(lines), loc="left", fontsize=size)
    ax.grid(True, color="#e4e6ea", linewidth=0.6)
    ax.set_axisbelow(True)
    for side in ("top", "right"):
        ax.spines[side].set_visible(False)
    keep_apart(ax)


_SIZES = ((11.0, 92), (9.0, 115))
"""Sizes of a title's letters, and how many of them go into a line; the smaller where the larger takes more than two lines."""
_PASSES = 12
_GAP = 2.0
"""Points between labels."""


def _in_lines(title: str) -> tuple[float, list[str]]:
    """A title's size and lines, an amount beside its component."""
    whole = re.sub(r"(?<=\d) (?=[^\W\d])", "\xa0", title)
    ways = [(size, [line.replace("\xa0", " ") for line in textwrap.wrap(whole, width)]) for size, width in _SIZES]
    return next((way for way in ways if len(way[1]) <= 2), ways[-1])


def keep_apart(ax: Axes) -> None:
    """Move labels that stand beside their point up or down until none lies over another."""
    figure: Any = ax.figure
    labels: list[Any] = [t for t in ax.texts if getattr(t, "anncoords", "") == "offset points" and t.get_text()]
    if len(labels) < 2:
        return
    figure.draw_without_rendering()
    per_pixel = 72.0 / figure.dpi
    for _ in range(_PASSES):
        boxes = sorted(((label.get_window_extent(), label) for label in labels), key=lambda pair: pair[0].y0)
        moved = False
        for (lower, below), (upper, above) in itertools.combinations(boxes, 2):
            if lower.overlaps(upper):
                shift = 0.5 * ((lower.y1 - upper.y0) * per_pixel + _GAP)
                below.xyann = (below.xyann[0], below.xyann[1] - shift)
                above.xyann = (above.xyann[0], above.xyann[1] + shift)
                moved = True
                break
        if not moved:
            return


def full_title(found: Drawn, units: str | None, *axes: str) -> str:
    """A result's title with every component in it, and how much of each where it has one composition."""
    z = np.atleast_2d(getattr(found, "z", np.empty((2, 0))))
    one = z.shape[1] > 1 and bool((z == z[0]).all())
    return str(found.title(units, *axes)).replace(found.system.title, found.system.full_title(z[0] if one else None))
