"""The P-T envelope."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ..units import from_si
from .style import LINES, MARKS, axis_label, finish, new_axes

if TYPE_CHECKING:
    from matplotlib.axes import Axes

Array = NDArray[np.float64]


def draw_envelope(
    ax: Axes | None,
    lines: Sequence[tuple[str, str, Array, Array]],
    marks: Sequence[tuple[str, str, float, float]],
    title: str,
    units: str,
    log: bool,
) -> Axes:
    """Draw lines (kind, label, T, P) and marks (kind, label, T, P), all in SI, in a set of units."""
    ax = ax if ax is not None else new_axes()
    named: set[str] = set()
    labelled = 0
    for kind, label, T, P in lines:
        t, p = from_si(T, "temperature", units), from_si(P, "pressure", units)
        ax.plot(t, p, **LINES[kind])
        if kind == "quality":
            # neighbors run close together: each label further along its line than the one before
            _on_line(ax, t, p, label, LINES[kind]["color"], 0.12 + 0.1 * (labelled % 4))
            labelled += 1
        elif kind not in named:
            named.add(kind)
            _on_line(ax, t, p, f"{kind} line", LINES[kind]["color"], 0.4)
    for kind, label, mark_T, mark_P in marks:
        at = float(from_si(mark_T, "temperature", units)), float(from_si(mark_P, "pressure", units))
        ax.plot([at[0]], [at[1]], linestyle="none", zorder=5, **MARKS[kind])
        dx, dy, align = {"cricondenbar": (0, 9, "center"), "critical": (-9, 7, "right"), "cricondentherm": (-9, -4, "right")}.get(
            kind, (10, -4, "left")
        )
        ax.annotate(
            label, at, xytext=(dx, dy), textcoords="offset points", ha=align, fontsize=9,
            bbox={"boxstyle": "round,pad=0.15", "fc": "white", "ec": "none", "alpha": 0.75}, zorder=6,
        )  # fmt: skip
    if log:
        ax.set_yscale("log")
    else:
        ax.set_ylim(bottom=0.0)
    ax.margins(x=0.08)
    ax.set_xlabel(axis_label("temperature", units))
    ax.set_ylabel(axis_label("pressure", units))
    finish(ax, title)
    return ax


def _on_line(ax: Axes, t: Array, p: Array, label: str, color: str, where: float) -> None:
    """Write a label on a line, at a share of its length on the page."""
    span_t, span_p = max(float(np.ptp(t)), 1e-9), max(float(np.ptp(p)), 1e-9)
    length = np.concatenate([[0.0], np.cumsum(np.hypot(np.diff(t) / span_t, np.diff(p) / span_p))])
    i = int(np.searchsorted(length, where * length[-1]))
    i = min(max(i, 0), len(t) - 1)
    ax.annotate(
        label, (float(t[i]), float(p[i])), ha="center", va="center", fontsize=9, color=color,
        bbox={"boxstyle": "round,pad=0.2", "fc": "white", "ec": "none", "alpha": 0.9}, zorder=4,
    )  # fmt: skip
