"""The saturation curve of one component: vapor pressure, densities, and the fugacities that cross at the boiling point."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..units import from_si, pretty_unit, unit_of
from .labels import write_along
from .style import DATA, FAINT, LINES, MARKS, SERIES, axis_label, finish, logarithmic, new_axes

if TYPE_CHECKING:
    from matplotlib.axes import Axes

Array = NDArray[np.float64]


class Beside(NamedTuple):
    """Known values to hold the curve against: temperatures, values, what the model makes of them there, and what to call them."""

    T: Array
    values: Array
    model: Array
    label: str


def draw_pressure(
    ax: Axes | None, T: Array, P: Array, reference: Beside | None, data: Beside | None, title: str, units: str
) -> Axes:
    """log P against 1/T, so that the curve is nearly straight; the temperature scale stands above, deviations below."""
    ax = ax if ax is not None else new_axes()
    lowest = _deviations(ax, _reciprocal, reference, data)
    logarithmic(ax)
    ax.plot(_reciprocal(T), from_si(P, "pressure", units), **LINES["value"])
    if data is not None:
        ax.plot(_reciprocal(data.T), from_si(data.values, "pressure", units), **DATA)
    lowest.set_xlabel("$1000/T$, reciprocal temperature [1/K]")
    ax.set_ylabel(axis_label("P", units))
    ax.invert_xaxis()
    above = ax.secondary_xaxis("top", functions=(_reciprocal, _reciprocal))
    above.set_xlabel(axis_label("T", "SI"), fontsize=9)
    finish(ax, title)
    return ax


def _reciprocal(T: Any) -> Any:
    with np.errstate(divide="ignore"):
        return 1e3 / np.asarray(T, dtype=float)


def _deviations(ax: Axes, across: Callable[[Array], Array], reference: Beside | None, data: Beside | None) -> Axes:
    """Below the axes, where there is room, the model less what is known, in percent; the axes that stand lowest."""
    place = ax.get_subplotspec()
    if place is None or (reference is None and data is None):
        return ax
    rows = place.subgridspec(2, 1, height_ratios=(3, 1))
    ax.set_subplotspec(rows[0])
    below: Axes = ax.figure.add_subplot(rows[1], sharex=ax)
    below.axhline(0.0, **LINES["diagonal"])
    if reference is not None:
        below.plot(across(reference.T), _off(reference), **LINES["value"], label=reference.label)
    if data is not None:
        below.plot(across(data.T), _off(data), **DATA, label=data.label)
    below.set_ylabel("model less\nknown [%]")
    below.legend(frameon=False, loc="best", fontsize=9)
    below.grid(True, color=FAINT, linewidth=0.6)
    below.set_axisbelow(True)
    for side in ("top", "right"):
        below.spines[side].set_visible(False)
    ax.tick_params(labelbottom=False)
    return below


def _off(known: Beside) -> Array:
    with np.errstate(all="ignore"):
        return np.asarray(100.0 * (known.model / known.values - 1.0))


def draw_density(
    ax: Axes | None, T: Array, vapor: Array, liquid: Array, reference: Beside | None, data: Beside | None, title: str, units: str
) -> Axes:
    """Densities of both phases against temperature, to the critical point; the liquid's deviations below."""
    ax = ax if ax is not None else new_axes()

    def across(kelvin: Array) -> Array:
        return np.asarray(from_si(kelvin, "temperature", units))

    lowest, t = _deviations(ax, across, reference, data), across(T)
    along = []
    for kind, values, label in (("bubble", liquid, "saturated liquid"), ("dew", vapor, "saturated vapor")):
        rho = from_si(values, "density", units)
        ax.plot(t, rho, **LINES[kind])
        along.append(write_along(ax, t, rho, label, LINES[kind]["color"], 0.4))
    if data is not None:
        ax.plot(across(data.T), from_si(data.values, "density", units), **DATA)
    ax.set_ylim(bottom=0.0)
    lowest.set_xlabel(axis_label("T", units))
    ax.set_ylabel(axis_label("density", units))
    finish(ax, title, along)
    return ax


def draw_fugacity(
    ax: Axes | None, T: Array, vapor: Array, liquid: Array, crossing: tuple[float, float], title: str, units: str
) -> Axes:
    """ln f of both phases against temperature; they cross at the boiling point, below which the liquid is the lower."""
    ax = ax if ax is not None else new_axes()
    t = from_si(T, "temperature", units)
    along = []
    for (label, values), style in zip((("liquid", liquid), ("vapor", vapor)), SERIES, strict=False):
        ax.plot(t, values, **style)
        along.append(write_along(ax, t, values, label, style["color"], 0.2))
    at = float(from_si(crossing[0], "temperature", units))
    ax.plot([at], [crossing[1]], linestyle="none", zorder=5, **MARKS["critical"])
    unit = pretty_unit(unit_of("temperature", units))
    ax.annotate(f"boils at {at:.2f} {unit}", (at, crossing[1]), xytext=(10, -14), textcoords="offset points", fontsize=9)
    ax.set_xlabel(axis_label("T", units))
    ax.set_ylabel("$\\ln(f/\\mathrm{Pa})$, logarithm of the fugacity")
    finish(ax, title, along)
    return ax
