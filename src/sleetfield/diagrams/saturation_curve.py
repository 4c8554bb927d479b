"""The saturation curve of one component: vapor pressure, densities, and the fugacities that cross at the boiling point."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..units import from_si, pretty_unit, unit_of
from .style import DATA, LINES, MARKS, axis_label, finish, new_axes

if TYPE_CHECKING:
    from matplotlib.axes import Axes

Array = NDArray[np.float64]
Beside = tuple[Array, Array, str] | None
"""Temperatures, values and what to call them."""


def draw_pressure(ax: Axes | None, T: Array, P: Array, reference: Beside, data: Beside, title: str, units: str) -> Axes:
    """log P against 1/T, so that the curve is nearly straight; the temperature scale stands above."""
    ax = ax if ax is not None else new_axes()
    ax.semilogy(1e3 / T, from_si(P, "pressure", units), **LINES["value"])
    if reference is not None:
        known = np.flatnonzero(np.isfinite(reference[1]))[::4]
        ax.semilogy(
            1e3 / reference[0][known],
            from_si(reference[1][known], "pressure", units),
            **LINES["reference"],
            label=reference[2],
        )
    if data is not None:
        ax.semilogy(1e3 / np.asarray(data[0]), from_si(data[1], "pressure", units), **DATA, label=data[2])
    if reference is not None or data is not None:
        ax.legend(frameon=False, loc="upper left")
    ax.set_xlabel("$1000/T$, reciprocal temperature [1/K]")
    ax.set_ylabel(axis_label("P", units))
    ax.invert_xaxis()
    ax.yaxis.set_major_formatter("{x:g}")
    above = ax.secondary_xaxis("top", functions=(_turned, _turned))
    above.set_xlabel("$T$, temperature [K]", fontsize=9)
    finish(ax, title)
    return ax


def _turned(x: Any) -> Any:
    with np.errstate(divide="ignore"):
        return 1e3 / np.asarray(x, dtype=float)


def draw_density(
    ax: Axes | None, T: Array, vapor: Array, liquid: Array, reference: Beside, data: Beside, title: str, units: str
) -> Axes:
    """Densities of both phases against temperature, to the critical point."""
    ax = ax if ax is not None else new_axes()
    t = from_si(T, "temperature", units)
    for kind, values, label, rise in (("bubble", liquid, "saturated liquid", -16), ("dew", vapor, "saturated vapor", 9)):
        rho = from_si(values, "density", units)
        ax.plot(t, rho, **LINES[kind])
        i = len(t) // 3
        ax.annotate(
            label,
            (float(t[i]), float(rho[i])),
            xytext=(-60, rise),
            textcoords="offset points",
            fontsize=9,
            color=LINES[kind]["color"],
        )
    if reference is not None:
        known = np.flatnonzero(np.isfinite(reference[1]))[::4]
        points = from_si(reference[0][known], "temperature", units), from_si(reference[1][known], "density", units)
        ax.plot(*points, **LINES["reference"], label=reference[2])
    if data is not None:
        points = from_si(data[0], "temperature", units), from_si(data[1], "density", units)
        ax.plot(*points, **DATA, label=data[2])
    if reference is not None or data is not None:
        ax.legend(frameon=False, loc="center left")
    ax.set_ylim(bottom=0.0)
    ax.set_xlabel(axis_label("T", units))
    ax.set_ylabel(axis_label("density", units))
    finish(ax, title)
    return ax


def draw_fugacity(
    ax: Axes | None, T: Array, vapor: Array, liquid: Array, crossing: tuple[float, float], title: str, units: str
) -> Axes:
    """ln f of both phases against temperature; they cross at the boiling point, below which the liquid is the lower."""
    ax = ax if ax is not None else new_axes()
    t = from_si(T, "temperature", units)
    for kind, values, label in (("bubble", liquid, "liquid"), ("dew", vapor, "vapor")):
        ax.plot(t, values, **LINES[kind])
        known = np.flatnonzero(np.isfinite(values))
        i = known[len(known) // 6]
        ax.annotate(
            label,
            (float(t[i]), float(values[i])),
            xytext=(-16, 7),
            textcoords="offset points",
            fontsize=9,
            color=LINES[kind]["color"],
        )
    at = float(from_si(crossing[0], "temperature", units))
    ax.plot([at], [crossing[1]], linestyle="none", zorder=5, **MARKS["critical"])
    unit = pretty_unit(unit_of("temperature", units))
    ax.annotate(f"boils at {at:.2f} {unit}", (at, crossing[1]), xytext=(10, -14), textcoords="offset points", fontsize=9)
    ax.set_xlabel(axis_label("T", units))
    ax.set_ylabel("$\\ln(f/\\mathrm{Pa})$, logarithm of the fugacity")
    finish(ax, title)
    return ax
