"""Lines on which the first solid forms: pressure against temperature, over an envelope or alone."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

import numpy as np

from ..core.arrays import Array
from ..units import from_si
from .labels import place, write_along
from .style import INK, MARKS, SOLIDS, Drawn, axis_label, finish, full_title, logarithmic, mole_fraction, new_axes

if TYPE_CHECKING:
    from matplotlib.axes import Axes

_BETWEEN = 20


def draw_solid_line(line: Drawn, ax: Axes | None, units: str, log: bool, marks: Mapping[str, tuple[float, float]]) -> Axes:
    """Pressure against temperature; where feeds differ, temperature or pressure against the share of the first component."""
    ax = ax if ax is not None else new_axes()
    over_something = ax.has_data()
    of_feeds = len(line) > 1 and float(np.ptp(line.z, axis=0).max()) > 0.0
    other = "T" if line.given == "P" else "P"
    along = []
    for k, solid in enumerate(s for s in dict.fromkeys(line.solids) if s):
        # a piece begins where the one before ends
        own = np.array([s == solid for s in line.solids])
        own |= np.append(own[1:], False) & np.array([bool(s) for s in line.solids])
        T, P = (line.T[own], line.P[own]) if of_feeds else straight_between(line.T[own], line.P[own])
        T, P = from_si(T, "temperature", units), from_si(P, "pressure", units)
        x, y = (line.z[own, 0], T if other == "T" else P) if of_feeds else (T, P)
        style = SOLIDS[k % len(SOLIDS)]
        ax.plot(x, y, **style)
        along.append(write_along(ax, x, y, solid, style["color"], 0.5))
    for name, (at_T, at_P) in marks.items():
        at = [float(from_si(v, d, units)) for v, d in ((at_T, "temperature"), (at_P, "pressure"))]
        ax.plot(at[:1], at[1:], linestyle="none", zorder=5, **MARKS["operating"])
        ax.annotate(name, (at[0], at[1]), xytext=(10, -4), textcoords="offset points", fontsize=9, color=INK)
    if log and not of_feeds:
        logarithmic(ax)
    if over_something:
        place(ax, along)
        return ax
    ax.set_xlabel(mole_fraction("z", line.system.names[0]) if of_feeds else axis_label("T", units))
    ax.set_ylabel(axis_label(other, units) if of_feeds else axis_label("P", units))
    finish(ax, full_title(line, units), along)
    return ax


def straight_between(T: Array, values: Array) -> tuple[Array, Array]:
    """More points of a line, between those that there are: straight in ln of the values against 1/T, as equilibria nearly are."""
    if len(T) < 2:
        return T, values
    at = np.arange(len(T))
    fine = np.linspace(0.0, len(T) - 1.0, _BETWEEN * (len(T) - 1) + 1)
    return 1.0 / np.interp(fine, at, 1.0 / T), np.exp(np.interp(fine, at, np.log(values)))
