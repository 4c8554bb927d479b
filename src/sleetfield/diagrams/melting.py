"""Melting diagrams: temperature against the composition of the liquid."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import cycle
from typing import TYPE_CHECKING

import numpy as np

from ..units import from_si, pretty_unit, unit_of
from .style import DATA, LINES, MARKS, SERIES, SOLIDS, Drawn, axis_label, finish, full_title, mole_fraction, new_axes

if TYPE_CHECKING:
    from matplotlib.axes import Axes


def draw_melting(found: Drawn, ax: Axes | None, units: str, data: Drawn | None, beside: Mapping[str, Drawn]) -> Axes:
    """Liquidus lines, each solid's its own, with eutectics and plateaus; of several models, a line for each."""
    ax = ax if ax is not None else new_axes()
    T = from_si(found.T, "temperature", units)
    if beside:
        for (name, one), style in zip({found.system.model_title: found, **beside}.items(), cycle(SERIES), strict=False):
            ax.plot(one.x, from_si(one.T, "temperature", units), **style, label=name)
    else:
        for k, solid in enumerate(s for s in dict.fromkeys(found.solids) if s):
            own = np.array([s == solid for s in found.solids])
            corner = {e.x for e in (*found.eutectics, *found.peritectics) if solid in e.solids}
            own |= np.isin(found.x, list(corner))
            ax.plot(found.x[own], T[own], **{**SOLIDS[k % len(SOLIDS)], "linestyle": ("-", "--")[k % 2]}, label=f"{solid} begins")
    unit = pretty_unit(unit_of("temperature", units))
    for word, e in [*(("eutectic", e) for e in found.eutectics), *(("peritectic", e) for e in found.peritectics)]:
        level = float(from_si(e.T, "temperature", units))
        ax.axhline(level, **LINES["limit"])
        ax.plot([e.x], [level], linestyle="none", zorder=5, **MARKS["azeotrope"])
        side = "left" if e.x < 0.75 else "right"
        ax.annotate(
            f"{word}\n{e.x:.4f}, {level:.2f} {unit}", (e.x, level), xytext=(8 if side == "left" else -8, -10), textcoords="offset points",
            ha=side, va="top", fontsize=9,
        )  # fmt: skip
    for m in found.monotectics:
        level = float(from_si(m.T, "temperature", units))
        ax.plot(m.x, [level, level], **LINES["three phases"], label="two liquids and a solid")
        ax.plot(m.x, [level, level], **{**MARKS["three phases"], "linestyle": "none"})
    if data is not None:
        ax.plot(
            data["x"][:, data.names.index(found.system.names[0])],
            from_si(data["T"], "temperature", units),
            **DATA,
            label="measured",
        )
    low, high = float(np.nanmin(T)), float(np.nanmax(T))
    ax.set_xlim(0.0, 1.0)
    ax.set_ylim(low - 0.18 * (high - low), high + 0.08 * (high - low))
    ax.set_xlabel(mole_fraction("x", found.system.names[0]))
    ax.set_ylabel(axis_label("T", units))
    ax.legend(frameon=False, loc="best")
    finish(ax, full_title(found, units))
    return ax
