"""Triangles of three components: the first at the top, the second at the lower left, the third at the lower right."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..units import from_si, pretty_unit, unit_of
from .labels import place
from .style import BLUE, FAINT, INK, LINES, MARKS, PLUM, Drawn, new_axes, set_title

if TYPE_CHECKING:
    from matplotlib.axes import Axes

Array = NDArray[np.float64]

_CLEAR = {"facecolor": "white", "edgecolor": "none", "alpha": 0.85, "pad": 1.0}
"""Behind a label, so that it can be read over lines and scales."""

_CORNERS = np.array([[0.5, np.sqrt(0.75)], [0.0, 0.0], [1.0, 0.0]])


def _flat(x: Array) -> Any:
    """Compositions ``(..., 3)`` as points of the plane ``(..., 2)``."""
    return np.asarray(x @ _CORNERS)


def _triangle(ax: Axes | None, names: Sequence[str], title: str) -> Axes:
    ax = ax if ax is not None else new_axes()
    ax.fill(*_CORNERS.T, facecolor="white", edgecolor=INK, linewidth=1.2, zorder=1)
    for level in np.arange(0.1, 0.95, 0.1):
        for i in range(3):
            ends = np.zeros((2, 3))
            ends[:, i] = level
            ends[0, (i + 1) % 3] = ends[1, (i + 2) % 3] = 1.0 - level
            ax.plot(*_flat(ends).T, color=FAINT, linewidth=0.6, zorder=1)
    for i, (offset, ha) in enumerate((((0.02, 0.0), "left"), ((-0.02, 0.0), "right"), ((0.0, -0.035), "center"))):
        for level in np.arange(0.2, 0.9, 0.2):
            # the scale of each component stands on the side that begins at its corner
            point = np.zeros(3)
            point[i], point[(i + 2) % 3] = level, 1.0 - level
            at = _flat(point) + offset
            ax.text(at[0], at[1], f"{level:.1f}", fontsize=8, color="#4a5361", ha=ha, va="center")
    for name, corner, offset in zip(names, _CORNERS, ((0.0, 0.03), (-0.01, -0.06), (0.01, -0.06)), strict=True):
        ax.text(corner[0] + offset[0], corner[1] + offset[1], name, ha="center", va="center", fontsize=11)
    ax.set_aspect("equal")
    ax.set_xlim(-0.12, 1.12)
    ax.set_ylim(-0.1, 0.95)
    ax.axis("off")
    set_title(ax, title, "mole fractions")
    return ax


def draw_liquids(m: Drawn, ax: Axes | None, units: str) -> Axes:
    """Binodal curve, tie lines, plait points and three-liquid triangles."""
    ax = _triangle(ax, m.system.names, m.title(units))
    for b in m.branches:
        for side in range(2):
            ax.plot(*_flat(b.ties[:, side]).T, **LINES["liquids"], zorder=3)
        for plait in b.plaits:
            for end in (0, -1):
                if np.abs(b.ties[end].mean(axis=0) - plait).max() < 0.1:
                    ax.plot(*_flat(np.array([b.ties[end, 0], plait, b.ties[end, 1]])).T, **LINES["liquids"], zorder=3)
    for tie in m.tie_lines():
        ax.plot(*_flat(tie).T, **LINES["quality"], zorder=2)
    for t in m.triangles:
        ax.fill(*_flat(t).T, facecolor=PLUM, alpha=0.12, zorder=2)
        ax.plot(*_flat(np.vstack([t, t[:1]])).T, **LINES["three phases"], zorder=4)
    for x in m.plait_points:
        ax.plot(*_flat(x), **MARKS["critical"], linestyle="none", zorder=5)
        ax.annotate("plait point", _flat(x), xytext=(10, 10), textcoords="offset points", fontsize=9, bbox=_CLEAR, zorder=7)
    place(ax)
    return ax


_NODE_MARKS: dict[str, dict[str, Any]] = {
    "unstable node": {"marker": "o", "markerfacecolor": "white"},
    "stable node": {"marker": "o", "markerfacecolor": INK},
    "saddle": {"marker": "^", "markerfacecolor": "white"},
}


def draw_boiling(m: Drawn, ax: Axes | None, units: str) -> Axes:
    """Residue curves from the lowest boiling to the highest, over lines of equal bubble temperature."""
    ax = _triangle(ax, m.system.names, m.title(units))
    known = np.isfinite(m.T)
    flat, T = _flat(m.x[known]), from_si(m.T[known], "temperature", units)
    if known.sum() > 3:
        lines = ax.tricontour(
            flat[:, 0], flat[:, 1], T, levels=8, colors=LINES["isotherm"]["color"], linewidths=0.7, linestyles="--", zorder=2
        )
        ax.clabel(lines, fontsize=7, fmt="%g")
    for curve in m.residue_curves:
        path = _flat(curve)
        ax.plot(*path.T, color=BLUE, linewidth=1.0, zorder=3)
        middle = len(path) // 2
        lengths = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(path, axis=0).T))])
        middle = int(np.searchsorted(lengths, 0.5 * lengths[-1]))
        if 0 < middle < len(path) - 1:
            ax.annotate(
                "", path[middle + 1], path[middle - 1], arrowprops={"arrowstyle": "-|>", "color": BLUE, "lw": 0.8}, zorder=3
            )
    for line in m.boundaries:
        ax.plot(*_flat(line).T, **LINES["boundary"], zorder=4)
    unit = pretty_unit(unit_of("temperature", units))
    for i, node in enumerate(m.pure):
        ax.plot(*_CORNERS[i], **_NODE_MARKS[node], color=INK, markersize=8, linestyle="none", zorder=6, clip_on=False)
    for a in m.azeotropes:
        ax.plot(*_flat(a.x), **_NODE_MARKS[a.node], color=INK, markersize=8, linestyle="none", zorder=6, clip_on=False)
        t = float(from_si(a.T, "temperature", units))
        ax.annotate(f"{t:.4g} {unit}", _flat(a.x), xytext=(10, 6), textcoords="offset points", fontsize=9, bbox=_CLEAR, zorder=7)
    handles = [
        ax.plot([], [], **style, color=INK, markersize=8, linestyle="none", label=label)[0] for label, style in _NODE_MARKS.items()
    ]
    handles += ax.plot([], [], **LINES["boundary"], label="boundary")
    handles += ax.plot([], [], **LINES["isotherm"], label=f"bubble temperature [{unit}]")
    ax.legend(handles=handles, frameon=False, loc="upper right", fontsize=9)
    place(ax)
    return ax


def draw_freezing(m: Drawn, ax: Axes | None, units: str) -> Axes:
    """Valleys between solids, down to the eutectics, over lines of equal temperature of the first solid."""
    ax = _triangle(ax, m.system.names, m.title(units))
    x, T = (np.concatenate([whole, *(getattr(v, name) for v in m.valleys)]) for whole, name in ((m.x, "x"), (m.T, "T")))
    known = np.isfinite(T)
    flat, T = _flat(x[known]), from_si(T[known], "temperature", units)
    lines = ax.tricontour(flat[:, 0], flat[:, 1], T, levels=12, colors=BLUE, linewidths=0.8, linestyles="-", zorder=2)
    ax.clabel(lines, fontsize=7, fmt="%g")
    for v in m.valleys:
        ax.plot(*_flat(v.x).T, **LINES["boundary"], zorder=4)
    unit = pretty_unit(unit_of("temperature", units))
    for e in m.eutectics:
        ax.plot(*_flat(e.x), **MARKS["azeotrope"], linestyle="none", zorder=6, clip_on=False)
        level = float(from_si(e.T, "temperature", units))
        ax.annotate(
            f"{level:.4g} {unit}", _flat(e.x), xytext=(10, 6), textcoords="offset points", fontsize=9, bbox=_CLEAR, zorder=7
        )
    for solid in dict.fromkeys(s for s in m.solids if s):
        own = np.array([s == solid for s in m.solids])
        at = _flat(m.x[own].mean(axis=0))
        ax.text(at[0], at[1], solid, ha="center", va="center", fontsize=9, color=INK, bbox=_CLEAR, zorder=5)
    handles = [
        *ax.plot([], [], **LINES["boundary"], label="two solids"),
        *ax.plot([], [], **MARKS["azeotrope"], linestyle="none", label="eutectic"),
        *ax.plot([], [], color=BLUE, linewidth=0.8, label=f"first solid at [{unit}]"),
    ]
    ax.legend(handles=handles, frameon=False, loc="upper right", fontsize=9)
    place(ax)
    return ax
