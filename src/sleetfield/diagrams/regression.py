"""Figures of measurements and of what is fitted to them: data with models, residuals, parity, confidence ellipses."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import combinations
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..units import from_si, pretty_unit, unit_of
from .style import BLUE, CRIMSON, DATA, GREY, LINES, SERIES, Drawn, axis_label, finish, logarithmic, mole_fraction, new_axes

if TYPE_CHECKING:
    from matplotlib.axes import Axes

Array = NDArray[np.float64]

_LIMIT = 3.0
_MARKS = "osD^v<>"
_LOGARITHMIC = ("gamma_inf", "Henry", "P")
_WORDS = {
    "HE": ("$H^E$, excess enthalpy", "molar_energy"),
    "gamma_inf": ("$\\gamma^\\infty$, activity coefficient at infinite dilution", "fraction"),
    "Henry": ("$H$, Henry's constant", "pressure"),
    "density": ("$\\rho$, density", "density"),
}


def draw_data(ax: Axes | None, curves: Sequence[Drawn], data: Drawn, units: str, number: int = 0) -> Axes:
    """A set's points, the ``number``-th in the figure, with the lines of one model or more, and the bands that these have."""
    ax = ax if ax is not None else new_axes()
    models = list(dict.fromkeys(c.model for c in curves))
    sections = {"vapor-liquid": _boiling, "azeotrope": _azeotropes, "liquid-liquid": _two_liquids, "solid-liquid": _saturated}
    sections.get(data.kind, _plain)(ax, curves, models, data, units, number)
    if ax.get_legend_handles_labels()[0]:
        ax.legend(frameon=False, fontsize=9)
    title = f"{' + '.join(data.names)}, {data.kind}: {data.source}" + (f" ({models[0]})" if len(models) == 1 else "")
    finish(ax, f"{ax.get_title(loc='left')}; {data.source}" if number else title)
    return ax


def _points(ax: Axes, data: Drawn, x: Array, y: Array, mark: str, number: int, words: str | None = None) -> None:
    """Points, those left out in grey with a cross."""
    used = data.used
    style = {**DATA, "marker": mark, **({"color": SERIES[number % len(SERIES)]["color"]} if number else {})}
    ax.plot(x[used], y[used], **style, label=words if words and number == 0 else data.source if number and mark == "o" else None)
    if (~used).any():
        ax.plot(x[~used], y[~used], linestyle="none", marker="x", color=GREY, label="left out" if words and mark == "o" else None)


def _band(ax: Axes, at: Array, value: Array, half: Array, color: str, *, sideways: bool = False) -> None:
    if np.isfinite(half).any():
        fill = ax.fill_betweenx if sideways else ax.fill_between
        fill(at, value - half, value + half, color=color, alpha=0.18, linewidth=0)


def _style(models: Sequence[str], model: str) -> dict[str, Any]:
    return SERIES[models.index(model) % len(SERIES)]


def _scaled(half: Array, dimension: str, units: str) -> Array:
    """Half widths in the unit of a dimension."""
    return np.asarray(from_si(half, dimension, units) - from_si(np.zeros_like(half), dimension, units))


def _boiling(ax: Axes, curves: Sequence[Drawn], models: Sequence[str], data: Drawn, units: str, number: int) -> None:
    unknown, dimension = ("P", "pressure") if data.given == "T" else ("T", "temperature")
    for c in (c for c in curves if c.quantity == unknown):
        vapor = next((o for o in curves if o.quantity.startswith("y ") and (o.model, o.level) == (c.model, c.level)), None)
        value, half = from_si(c.value, dimension, units), _scaled(c.half_width, dimension, units)
        one = len(models) == 1
        first = c.level == curves[0].level
        bubble = LINES["bubble"] if one else _style(models, c.model)
        ax.plot(c.at, value, **bubble, label=("bubble line, 95 % band" if one else c.model) if first else None)
        _band(ax, c.at, value, half, bubble["color"])
        if vapor is not None:
            inside = np.isin(c.at, vapor.at)
            y = np.concatenate([[c.at[0]], vapor.value, [c.at[-1]]])
            levels = np.concatenate([value[:1], value[inside], value[-1:]])
            ax.plot(
                y, levels, **(LINES["dew"] if one else {**bubble, "linewidth": 1.0}), label="dew line" if one and first else None
            )
    shown = np.asarray(from_si(data[unknown], dimension, units))
    for q, mark, words in (("x", "o", "measured, liquid"), ("y", "s", "measured, vapor")):
        if len(data.names) > 1 and np.isfinite(data[q]).any():
            _points(ax, data, data[q][:, 0], shown, mark, number, words)
    ax.set_xlim(0.0, 1.0)
    ax.set_xlabel(mole_fraction("x y", data.names[0]))
    ax.set_ylabel(axis_label(unknown, units))


def _azeotropes(ax: Axes, curves: Sequence[Drawn], models: Sequence[str], data: Drawn, units: str, number: int) -> None:
    for c in (c for c in curves if c.quantity.startswith("y ")):
        ax.plot(c.at, c.value - c.at, **_style(models, c.model), label=c.model)
    ax.axhline(0.0, **LINES["diagonal"])
    _points(ax, data, data["x"][:, 0], np.zeros(len(data)), "o", number)
    ax.set_xlim(0.0, 1.0)
    ax.set_xlabel(mole_fraction("x", data.names[0]))
    ax.set_ylabel("$y - x$ of the model; points: measured azeotropes")


def _two_liquids(ax: Axes, curves: Sequence[Drawn], models: Sequence[str], data: Drawn, units: str, number: int) -> None:
    for c in curves:
        style = LINES["liquids"] if len(models) == 1 else _style(models, c.model)
        T = from_si(c.at, "temperature", units)
        ax.plot(c.value, T, **style, label=c.model if len(models) > 1 and c.quantity.startswith("x' ") else None)
        _band(ax, T, c.value, c.half_width, style["color"], sideways=True)
    T = from_si(data["T"], "temperature", units)
    for q, mark in (("x'", "o"), ("x''", "s")):
        _points(ax, data, data[q][:, 0], T, mark, number)
    ax.set_xlim(0.0, 1.0)
    ax.set_xlabel(mole_fraction("x' x''", data.names[0], " in the liquids"))
    ax.set_ylabel(axis_label("T", units))


def _saturated(ax: Axes, curves: Sequence[Drawn], models: Sequence[str], data: Drawn, units: str, number: int) -> None:
    """Ln x against 1/T, where solubilities are nearly straight."""
    i = data.names.index(data.solid)
    with np.errstate(all="ignore"):
        for c in curves:
            style = LINES["value"] if len(models) == 1 else _style(models, c.model)
            if c.quantity == "T":
                continue
            inverse = 1e3 / c.at
            ax.plot(inverse, np.log(c.value), **style, label=c.model if len(models) > 1 else None)
            _band(ax, inverse, np.log(c.value), c.half_width / c.value, style["color"])
        _points(ax, data, 1e3 / data["T"], np.log(data["x"][:, i]), "o", number)
    ax.set_xlabel("$1000/T$, reciprocal temperature [1/K]")
    ax.set_ylabel(f"$\\ln x$, logarithm of the mole fraction of {data.solid}")


def _plain(ax: Axes, curves: Sequence[Drawn], models: Sequence[str], data: Drawn, units: str, number: int) -> None:
    """One quantity against T, or against x of the first component."""
    names = list(dict.fromkeys(c.quantity for c in curves)) or _measured(data)
    symbol = names[0].split(" ")[0]
    words, dimension = _WORDS.get(symbol, (None, "pressure"))
    across_T = curves[0].across == "T" if curves else data.kind != "excess enthalpy"
    for c in curves:
        style = _style(names, c.quantity) if len(models) == 1 else _style(models, c.model)
        at = from_si(c.at, "temperature", units) if across_T else c.at
        value = from_si(c.value, dimension, units)
        label = c.model if len(models) > 1 and c.quantity == names[0] else c.quantity.partition(" ")[2]
        ax.plot(at, value, **style, label=label or None)
        _band(ax, at, value, _scaled(c.half_width, dimension, units), style["color"])
    at = from_si(data["T"], "temperature", units) if across_T else data["x"][:, 0]
    for k, name in enumerate(names):
        values = data[symbol]
        column = values if values.ndim == 1 else values[:, data.names.index(name.partition(" ")[2])]
        _points(ax, data, at, np.asarray(from_si(column, dimension, units)), _MARKS[k], number)
    if symbol in _LOGARITHMIC:
        logarithmic(ax)
    ax.set_xlabel(axis_label("T", units) if across_T else mole_fraction("x", data.names[0]))
    unit = pretty_unit(unit_of(dimension, units))
    ax.set_ylabel(axis_label("P", units) if words is None else f"{words} [{unit}]" if unit else words)


def _measured(data: Drawn) -> list[str]:
    """The quantities of a set that are drawn by themselves."""
    symbol = {"infinite dilution": "gamma_inf", "excess enthalpy": "HE", "Henry's constant": "Henry", "density": "density"}.get(
        data.kind, "P"
    )
    values = data[symbol]
    return [symbol] if values.ndim == 1 else [f"{symbol} {n}" for i, n in enumerate(data.names) if np.isfinite(values[:, i]).any()]


def draw_residuals(ax: Axes | None, fit: Drawn, against: str, units: str) -> Axes:
    """Scaled residuals, set by set, with lines at three standard deviations; stray points are numbered."""
    if against not in ("point", "x", "T", "P"):
        from ..errors import InputError

        raise InputError(f"Residuals are drawn against point, x, T or P, not {against!r}.")
    ax = ax if ax is not None else new_axes()
    ax.axhline(0.0, **LINES["diagonal"])
    for sign in (-1.0, 1.0):
        ax.axhline(sign * _LIMIT, **LINES["limit"])
    several = len({q.source for q in fit.quantities}) > 1
    for k, q in enumerate(fit.quantities):
        color = SERIES[k % len(SERIES)]["color"]
        label = f"{q.quantity}, {q.source}" if several else q.quantity
        at = _places(fit.data[q.number], against, units)[q.points]
        ax.plot(at, q.scaled, linestyle="", marker=_MARKS[k % 7], color=color, markerfacecolor="none", label=label)
        for i in np.flatnonzero(np.abs(q.scaled) > _LIMIT):
            ax.annotate(str(q.points[i]), (at[i], q.scaled[i]), xytext=(6, 0), textcoords="offset points", fontsize=9, color=color)
    words = {"point": "point", "x": mole_fraction("x", fit.data[0].names[0])}
    if against == "point":
        from matplotlib.ticker import MaxNLocator

        ax.xaxis.set_major_locator(MaxNLocator(integer=True))
    ax.set_xlabel(words.get(against) or axis_label(against, units))
    ax.set_ylabel("measured less fitted, over its standard deviation")
    if len(fit.quantities) > 1:
        ax.legend(frameon=False, fontsize=9)
    finish(ax, fit.title())
    return ax


def _places(data: Drawn, against: str, units: str) -> Array:
    """Where each point of a set stands along the axis."""
    if against == "point":
        return np.arange(len(data), dtype=float)
    if against != "x":
        return np.asarray(from_si(data[against], "temperature" if against == "T" else "pressure", units))
    liquid = next((q for q in ("x", "x'", "y") if np.isfinite(data[q]).any()), "x")
    return np.asarray(data[liquid][:, 0])


def draw_parity(ax: Axes | None, fit: Drawn) -> Axes:
    """Fitted against measured values of every quantity, each as a share of its own range."""
    ax = ax if ax is not None else new_axes()
    ax.plot([0.0, 1.0], [0.0, 1.0], **LINES["diagonal"])
    for k, q in enumerate(fit.quantities):
        low, high = float(q.measured.min()), float(q.measured.max())
        span = (high - low) or 1.0
        ax.plot(
            (q.measured - low) / span, (q.value - low) / span, linestyle="none", marker=_MARKS[k % 7], markerfacecolor="none",
            color=SERIES[k % len(SERIES)]["color"], label=f"{q.quantity}, {q.source}: {low:.4g} to {high:.4g}",
        )  # fmt: skip
    ax.set_xlabel("measured, from the least to the greatest (SI)")
    ax.set_ylabel("fitted, on the same scale")
    ax.legend(frameon=False, fontsize=9)
    finish(ax, fit.title())
    return ax


def draw_ellipses(ax: Axes | None, fit: Drawn) -> Axes:
    """The 95 % confidence regions of pairs of parameters, about the fitted values and in standard errors where there are several pairs."""
    from scipy.stats import f as fisher

    ax = ax if ax is not None else new_axes()
    pairs = list(combinations(range(len(fit.names)), 2))
    if not pairs:
        from ..errors import InputError

        raise InputError("One parameter has an interval and no ellipse.")
    radius = np.sqrt(2.0 * fisher.ppf(0.95, 2, fit.freedom))
    angle = np.linspace(0.0, 2.0 * np.pi, 201)
    one = len(pairs) == 1
    for k, (i, j) in enumerate(pairs[: len(SERIES)]):
        scale = np.ones(2) if one else fit.standard_error[[i, j]]
        center = fit.values[[i, j]] if one else np.zeros(2)
        root = np.linalg.cholesky(fit.covariance[np.ix_([i, j], [i, j])] + 1e-300 * np.eye(2))
        line = center[:, None] + radius * (root @ np.stack([np.cos(angle), np.sin(angle)])) / scale[:, None]
        ax.plot(*line, **SERIES[k], label=f"{fit.names[i]}, {fit.names[j]}")
        ax.plot(*center, **{**DATA, "marker": "+"})
    ax.set_xlabel(fit.names[0] if one else "first parameter less its fitted value, over its standard error")
    ax.set_ylabel(fit.names[1] if one else "second parameter, the same")
    if not one:
        ax.legend(frameon=False, fontsize=9)
    finish(ax, f"95 % confidence regions, {fit.system.title}")
    return ax


def draw_consistency(ax: Axes | None, found: Drawn, figure: str) -> Axes:
    """Ln γ₁/γ₂ with the areas above and below zero, or measured less calculated y, against x."""
    from ..errors import InputError

    if figure not in ("area", "points"):
        raise InputError(f"There is no figure {figure!r} of a consistency test. Figures are area, points.")
    ax = ax if ax is not None else new_axes()
    first, second = found.data.names
    ax.axhline(0.0, **LINES["diagonal"])
    if figure == "area":
        x, ratio = found.smooth_x, found.smooth_ratio
        for sign, color, words in ((1.0, BLUE, "above"), (-1.0, CRIMSON, "below")):
            area = np.trapezoid(np.maximum(sign * ratio, 0.0), x)
            ax.fill_between(
                x, 0.0, ratio, where=sign * ratio > 0.0, color=color, alpha=0.25, linewidth=0, label=f"{words} zero: {area:.4g}"
            )
        ax.plot(x, ratio, **LINES["value"])
        ax.plot(found.x, found.ln_gamma[:, 0] - found.ln_gamma[:, 1], **DATA)
        ax.set_ylabel(f"$\\ln(\\gamma_1/\\gamma_2)$, activity coefficients of {first} over {second}")
        ax.legend(frameon=False, fontsize=9)
    else:
        for sign in (-1.0, 1.0):
            ax.axhline(sign * 0.01, **LINES["limit"])
        ax.plot(found.x, found.y_off, **DATA)
        ax.set_ylabel("$y$, measured less calculated from boiling points alone")
    ax.set_xlim(0.0, 1.0)
    ax.set_xlabel(mole_fraction("x", first))
    finish(ax, found.title())
    return ax
