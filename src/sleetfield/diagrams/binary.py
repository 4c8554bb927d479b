"""Diagrams of two components: boiling curves, activity coefficients, pressures, Gibbs energy of mixing, excess properties."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

import numpy as np

from ..core.arrays import Array
from ..core.constants import R
from ..units import from_si, pretty_unit, unit_of
from .style import DATA, LINES, MARKS, PLUM, SERIES, Drawn, axis_label, finish, full_title, logarithmic, mole_fraction, new_axes

if TYPE_CHECKING:
    from matplotlib.axes import Axes


def draw_binary(d: Drawn, ax: Axes | None, units: str) -> Axes:
    """Any of them."""
    ax = ax if ax is not None else new_axes()
    _DRAWN[d.kind](d, ax, units)
    ax.set_xlim(0.0, 1.0)
    finish(ax, full_title(d, units))
    return ax


def _boiling(d: Drawn, ax: Axes, units: str) -> None:
    quantity, dimension = ("T", "temperature") if d.given == "P" else ("P", "pressure")
    values = from_si(d.T if quantity == "T" else d.P, dimension, units)
    for k in range(int(d.branch.max()) + 1):
        rows = d.branch == k
        ax.plot(*_broken(d, d.x[rows], values[rows]), **LINES["bubble"], label="bubble line" if k == 0 else None)
        ax.plot(d.y[rows], values[rows], **LINES["dew"], label="dew line" if k == 0 else None)
    for line in d.three_phase:
        level = float(from_si(getattr(line, quantity), dimension, units))
        ax.plot([min(line.x[0], line.y), max(line.x[1], line.y)], [level, level], **LINES["three phases"], label="three phases")
        ax.plot(line.x, [level, level], **{**MARKS["three phases"], "linestyle": "none"})
    for k, curve in enumerate(d.liquids):
        levels = from_si(curve.level, dimension, units)
        for branch in (curve.first, curve.second):
            ax.plot(branch, levels, **LINES["liquids"], label="two liquids" if k == 0 and branch is curve.first else None)
    low, high = float(np.nanmin(values)), float(np.nanmax(values))
    ax.set_ylim(*_limits(d, low, high, units, quantity, dimension))
    for a in d.azeotropes:
        level = float(from_si(getattr(a, quantity), dimension, units))
        ax.plot([a.x[0]], [level], **MARKS["azeotrope"], linestyle="none", zorder=5)
        word = "heterogeneous azeotrope" if a.heterogeneous else "azeotrope"
        above = level > 0.5 * (low + high)
        text = f"{word}\n{a.x[0]:.4f}, {level:.5g} {pretty_unit(unit_of(dimension, units))}"
        side = "left" if a.x[0] < 0.75 else "right"
        ax.annotate(
            text, (a.x[0], level), xytext=(8 if side == "left" else -8, 14 if above else -14), textcoords="offset points",
            ha=side, va="bottom" if above else "top", fontsize=9,
        )  # fmt: skip
    for k in d.critical_points:
        above = values[k] > 0.5 * (low + high)
        ax.plot(d.x[k], values[k], **MARKS["critical"], linestyle="none", zorder=5)
        ax.annotate(
            f"critical point\n{d.x[k]:.4f}, {values[k]:.5g} {pretty_unit(unit_of(dimension, units))}", (d.x[k], values[k]),
            xytext=(0, 9 if above else -9), textcoords="offset points", va="bottom" if above else "top",
            ha="left" if d.x[k] < 0.15 else "right" if d.x[k] > 0.85 else "center", fontsize=9,
        )  # fmt: skip
    for column, mark in (("x", "o"), ("y", "s")):
        if column in d.measured and quantity in d.measured:
            ax.plot(
                d.measured[column], from_si(d.measured[quantity], dimension, units), **{**DATA, "marker": mark}, label=f"measured {column}"
            )  # fmt: skip
    ax.legend(frameon=False, loc="best")
    ax.set_xlabel(mole_fraction("x y", d.system.names[0]))
    ax.set_ylabel(axis_label(quantity, units))


def _broken(d: Drawn, x: Array, values: Array) -> tuple[Array, Array]:
    """The bubble line, interrupted where two liquids boil together."""
    for line in d.three_phase:
        inside = np.flatnonzero((x[:-1] == line.x[0]) & (x[1:] == line.x[1])) + 1
        x, values = np.insert(x, inside, np.nan), np.insert(values, inside, np.nan)
    return x, values


def _limits(d: Drawn, low: float, high: float, units: str, quantity: str, dimension: str) -> tuple[float, float]:
    """Around the boiling curves, with some of the liquid split where there is one."""
    height = high - low
    if not d.liquids:
        return (low if quantity == "T" else max(low, 0.2 * height)) - 0.2 * height, high + 0.2 * height
    room = 0.6 * height
    return (low - room, high + 0.08 * height) if quantity == "T" else (max(0.0, low - 0.08 * height), high + 0.35 * height)


def _xy(d: Drawn, ax: Axes, units: str) -> None:
    ax.plot([0, 1], [0, 1], **LINES["diagonal"])
    for k in range(int(d.branch.max()) + 1):
        ax.plot(d.x[d.branch == k], d.y[d.branch == k], **LINES["value"])
    ax.plot(d.x[d.critical_points], d.y[d.critical_points], **MARKS["critical"], linestyle="none", zorder=5)
    for line in d.three_phase:
        ax.plot(line.x, [line.y, line.y], **LINES["three phases"])
        ax.annotate(
            "two liquids", (float(np.mean(line.x)), line.y), xytext=(0, 5), textcoords="offset points", ha="center", fontsize=9
        )
    for a in d.azeotropes:
        ax.plot([a.x[0]], [a.x[0]], **MARKS["azeotrope"], linestyle="none", zorder=5)
        ax.annotate(f"azeotrope {a.x[0]:.4f}", (a.x[0], a.x[0]), xytext=(10, -12), textcoords="offset points", fontsize=9)
    if {"x", "y"} <= set(d.measured):
        ax.plot(d.measured["x"], d.measured["y"], **DATA, label="measured")
        ax.legend(frameon=False, loc="upper left")
    ax.set_aspect("equal")
    ax.set_ylim(0.0, 1.0)
    ax.set_xlabel(mole_fraction("x", d.system.names[0], " in the liquid"))
    ax.set_ylabel(mole_fraction("y", d.system.names[0], " in the vapor"))


def _gamma(d: Drawn, ax: Axes, units: str) -> None:
    spread = float(np.nanmax(d.gamma) / max(np.nanmin(d.gamma), 1e-300))
    for i, name in enumerate(d.system.names):
        ax.plot(d.x, d.gamma[:, i], **SERIES[i])
        at = 0 if i == 0 else -1
        ax.annotate(
            f"{name}\n$\\gamma^\\infty$ = {d.gamma[at, i]:.3g}", (d.x[at], d.gamma[at, i]), xytext=(8 if i == 0 else -8, 0),
            textcoords="offset points", ha="left" if i == 0 else "right", va="center" if i == 0 else "bottom", fontsize=9,
        )  # fmt: skip
    if spread > 20.0:
        logarithmic(ax)
    ax.axhline(1.0, **LINES["diagonal"])
    _shade_split(d, ax)
    ax.set_xlabel(mole_fraction("x", d.system.names[0]))
    ax.set_ylabel("$\\gamma$, activity coefficient")


def _shade_split(d: Drawn, ax: Axes) -> None:
    """The compositions that split in two liquids, at the one temperature of the diagram."""
    for curve in d.liquids if d.excess is not None else ():
        ax.axvspan(float(curve.first[0]), float(curve.second[0]), color=PLUM, alpha=0.08, lw=0)
        ax.annotate(
            "two liquids", (0.5 * float(curve.first[0] + curve.second[0]), 0.02), xycoords=("data", "axes fraction"), ha="center",
            fontsize=9, color=PLUM,
        )  # fmt: skip


def _pressures(d: Drawn, ax: Axes, units: str) -> None:
    P = from_si(d.P, "pressure", units)
    for k in range(int(d.branch.max()) + 1):
        rows = d.branch == k
        ax.plot(d.x[rows], P[rows], **LINES["value"], label="total" if k == 0 else None)
        for i, name in enumerate(d.system.names):
            share = d.y[rows] if i == 0 else 1.0 - d.y[rows]
            ax.plot(d.x[rows], share * P[rows], **SERIES[i + 1], label=name if k == 0 else None)
    # a component above its critical temperature has no vapor pressure
    for pure, ends in ((d.x == 1.0, (0.0, 1.0)), (d.x == 0.0, (1.0, 0.0))):
        if pure.any():
            ax.plot([0, 1], [end * float(P[pure][0]) for end in ends], **LINES["diagonal"])
    for line in d.three_phase:
        ax.plot(line.x, [float(from_si(line.P, "pressure", units))] * 2, **LINES["three phases"])
    ax.legend(frameon=False, loc="best", title="thin grey: Raoult's law", title_fontsize=9)
    ax.set_ylim(bottom=0.0)
    ax.set_xlabel(mole_fraction("x", d.system.names[0]))
    ax.set_ylabel(axis_label("P", units))


def _mixing(d: Drawn, ax: Axes, units: str) -> None:
    assert d.excess is not None
    g = d.excess.G_mixing / (R * d.excess.T)
    ax.plot(d.x, g, **LINES["value"])
    for curve in d.liquids:
        ends = np.array([curve.first[0], curve.second[0]])
        at = np.interp(ends, d.x, g)
        ax.plot(ends, at, **{**LINES["three phases"]}, marker="s", markerfacecolor="white", zorder=4)
        ax.annotate(
            f"common tangent:\n$x$ = {ends[0]:.4f} and {ends[1]:.4f}", (float(ends.mean()), float(at.mean())), xytext=(-8, -8),
            textcoords="offset points", ha="right", va="top", fontsize=9, color=PLUM,
        )  # fmt: skip
    ax.set_xlabel(mole_fraction("x", d.system.names[0]))
    ax.set_ylabel("$\\Delta G_{mix}/RT$, Gibbs energy of mixing over RT")


def _excess(d: Drawn, ax: Axes, units: str) -> None:
    assert d.excess is not None
    lines = (("$G^E$", d.excess.G), ("$H^E$", d.excess.H), ("$TS^E$", d.excess.T * d.excess.S))
    for (label, values), style in zip(lines, SERIES, strict=False):
        ax.plot(d.x, from_si(values, "molar_energy", units), **style, label=label)
    ax.axhline(0.0, **LINES["diagonal"])
    _shade_split(d, ax)
    ax.legend(frameon=False, loc="best")
    ax.set_xlabel(mole_fraction("x", d.system.names[0]))
    ax.set_ylabel(f"$G^E$, $H^E$, $TS^E$, excess energies [{pretty_unit(unit_of('molar_energy', units))}]")


_DRAWN: dict[str, Callable[[Drawn, Axes, str], None]] = {
    "Txy": _boiling,
    "Pxy": _boiling,
    "xy": _xy,
    "gamma": _gamma,
    "pressures": _pressures,
    "Gmix": _mixing,
    "excess": _excess,
}
