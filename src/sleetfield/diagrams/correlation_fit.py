"""A fitted correlation: the data with the curve, and the deviations at their temperatures."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ..units import from_si, pretty_unit, unit_of
from .style import DATA, GREY, LINES, axis_label, finish, logarithmic, new_axes

if TYPE_CHECKING:
    from matplotlib.axes import Axes

Array = NDArray[np.float64]


_MEASURED = {
    "pressure": "$P$, pressure",
    "density": "$\\rho$, density",
    "molar_entropy": "$C_p$, heat capacity",
    "viscosity": "$\\mu$, viscosity",
    "surface_tension": "$\\sigma$, surface tension",
    "thermal_conductivity": "$\\lambda$, thermal conductivity",
}
"""What is measured, by its dimension."""


def draw_fit(
    ax: Axes | None, data: tuple[Array, Array], curve: tuple[Array, Array], dimension: str, title: str, units: str
) -> Axes:
    """Measured points as circles, the correlation as a line; pressures and viscosities on a logarithmic axis."""
    ax = ax if ax is not None else new_axes()
    ax.plot(from_si(curve[0], "temperature", units), from_si(curve[1], dimension, units), **LINES["value"])
    ax.plot(from_si(data[0], "temperature", units), from_si(data[1], dimension, units), **DATA)
    ax.set_xlabel(axis_label("T", units))
    if dimension in ("pressure", "viscosity"):
        logarithmic(ax)
    ax.set_ylabel(f"{_MEASURED[dimension]} [{pretty_unit(unit_of(dimension, units))}]")
    finish(ax, title)
    return ax


def draw_residuals(ax: Axes | None, T: Array, percent: Array, limit: float, title: str, units: str) -> Axes:
    """Measured against fitted in percent, with lines at three standard deviations."""
    ax = ax if ax is not None else new_axes()
    t = from_si(T, "temperature", units)
    ax.axhline(0.0, **LINES["quality"])
    for sign in (-1.0, 1.0):
        ax.axhline(sign * limit, **LINES["limit"])
    ax.annotate(
        "three standard deviations", (float(t.min()), limit), xytext=(0, 4), textcoords="offset points", fontsize=9, color=GREY
    )
    ax.plot(t, percent, **DATA)
    ax.set_xlabel(axis_label("T", units))
    ax.set_ylabel("measured over fitted, less 1 [%]")
    finish(ax, title)
    return ax
