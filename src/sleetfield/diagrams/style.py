"""How every figure looks: said once."""

from __future__ import annotations

import re
import textwrap
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

import numpy as np

from ..units import pretty_unit, unit_of
from .labels import Along, place

Drawn = Any
"""A result that is drawn: what it has is read by name, so that results can import what draws them, and not the reverse."""

if TYPE_CHECKING:
    from matplotlib.axes import Axes

TEAL, AMBER = "#0b7a75", "#a86000"
"""Bubble lines and dew lines, and nothing else."""
BLUE, CRIMSON, PURPLE, PLUM, GREEN, OLIVE = "#2f6fb0", "#a3195b", "#5b3a8c", "#7b3f72", "#3d7a1f", "#7a5c00"
INK, GREY, FAINT = "#1d2733", "#6b7280", "#e4e6ea"
"""All but the last can be read as text on white (4.5 : 1)."""

LINES: dict[str, dict[str, Any]] = {
    "bubble": {"color": TEAL, "linestyle": "-", "linewidth": 1.8},
    "dew": {"color": AMBER, "linestyle": "--", "linewidth": 1.8},
    "quality": {"color": GREY, "linestyle": "-", "linewidth": 0.8},
    "value": {"color": BLUE, "linestyle": "-", "linewidth": 1.8},
    "liquid-liquid": {"color": PURPLE, "linestyle": "-.", "linewidth": 1.5},
    "liquids": {"color": PURPLE, "linestyle": "-", "linewidth": 1.8},
    "three phases": {"color": PLUM, "linestyle": ":", "linewidth": 1.8},
    "diagonal": {"color": GREY, "linestyle": "-", "linewidth": 0.8},
    "limit": {"color": GREY, "linestyle": ":", "linewidth": 1.0},
    "boundary": {"color": CRIMSON, "linestyle": "-.", "linewidth": 1.8},
    "isotherm": {"color": GREY, "linestyle": "--", "linewidth": 0.7},
}
LINES |= {f"{kind}, not stable": {**LINES[kind], "linewidth": 0.8, "alpha": 0.55} for kind in ("bubble", "dew", "liquid-liquid")}
A4 = (11.69, 8.27)
"""Inches."""
DATA: dict[str, Any] = {"linestyle": "none", "marker": "o", "markerfacecolor": "none", "color": INK, "markersize": 6}
"""Measured points."""

SERIES: tuple[dict[str, Any], ...] = tuple(
    {"color": color, "linestyle": line, "linewidth": 1.6}
    for color, line in zip(
        (BLUE, CRIMSON, PURPLE, GREEN, INK, OLIVE, GREY, PLUM),
        ("-", "--", "-.", ":", (0, (6, 2)), (0, (4, 1, 1, 1)), (0, (1, 3)), (0, (8, 1, 2, 1))),
        strict=True,
    )
)
"""Several lines in one figure: told apart by color and by dashes."""

SOLIDS: tuple[dict[str, Any], ...] = tuple(
    {"color": color, "linestyle": line, "linewidth": 1.8}
    for color, line in ((BLUE, (0, (8, 2))), (CRIMSON, (0, (8, 2, 1, 2))), (GREEN, (0, (3, 1.5))), (INK, (0, (8, 2, 1, 2, 1, 2))))
)
"""Lines on which solids form, one for each."""

MARKS: dict[str, dict[str, Any]] = {
    "critical": {"marker": "D", "color": INK, "markersize": 7},
    "cricondentherm": {"marker": ">", "color": INK, "markerfacecolor": "white", "markersize": 8},
    "cricondenbar": {"marker": "^", "color": INK, "markerfacecolor": "white", "markersize": 8},
    "operating": {"marker": "X", "color": CRIMSON, "markersize": 9},
    "azeotrope": {"marker": "*", "color": CRIMSON, "markersize": 12},
    "three phases": {"marker": "s", "color": PLUM, "markerfacecolor": "white", "markersize": 7},
}
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


def mole_fraction(symbols: str, name: str, where: str = "") -> str:
    """The label of an axis of mole fractions: ``$x$, mole fraction of acetone``."""
    return f"{', '.join(f'${s}$' for s in symbols.split())}, mole fraction of {name}{where}"


def finish(ax: Axes, title: str, along: Sequence[Along] = ()) -> None:
    """Title, grid and spines, the same everywhere; labels find their places."""
    set_title(ax, title)
    ax.grid(True, color=FAINT, linewidth=0.6)
    ax.set_axisbelow(True)
    for side in ("top", "right"):
        ax.spines[side].set_visible(False)
    place(ax, along)


_SIZES = ((11.0, 92), (9.0, 115))
"""Sizes of a title's letters, and how many of them go into a line; the smaller where the larger takes more than two lines."""


def logarithmic(ax: Axes) -> None:
    """A logarithmic y axis with plain numbers on it, between powers of ten too where there are few of these."""

    def between(value: float, _: Any) -> str:
        decades = float(np.ptp(np.log10(ax.get_ylim())))
        return f"{value:g}" if f"{value:e}"[0] in ("25" if decades > 0.7 else "2345678") and decades < 2.5 else ""

    ax.set_yscale("log")
    ax.yaxis.set_major_formatter("{x:g}")
    ax.yaxis.set_minor_formatter(between)


def set_title(ax: Axes, title: str, below: str = "") -> None:
    """A title over as many lines as it needs, with a line of its own ``below`` it."""
    size, lines = _in_lines(title)
    ax.set_title("\n".join([*lines, *([below] if below else [])]), loc="left", fontsize=size)


def _in_lines(title: str) -> tuple[float, list[str]]:
    """A title's size and lines, an amount beside its component."""
    whole = re.sub(r"(?<=\d) (?=[^\W\d])", "\xa0", title)
    ways = [(size, [line.replace("\xa0", " ") for line in textwrap.wrap(whole, width)]) for size, width in _SIZES]
    return next((way for way in ways if len(way[1]) <= 2), ways[-1])


def full_title(found: Drawn, units: str | None, *axes: str) -> str:
    """A result's title with every component in it, and how much of each where it has one composition."""
    z = np.atleast_2d(getattr(found, "z", np.empty((2, 0))))
    one = z.shape[1] > 1 and bool((z == z[0]).all())
    return str(found.title(units, *axes)).replace(found.system.title, found.system.full_title(z[0] if one else None))
