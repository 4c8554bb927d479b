"""Phase envelopes, one or several."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import cycle
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ..units import from_si
from .labels import Along, write_along
from .style import AXES, LINES, MARKS, SERIES, axis_label, finish, logarithmic, new_axes

if TYPE_CHECKING:
    from matplotlib.axes import Axes

Array = NDArray[np.float64]


Curves = Sequence[tuple[str, str, Array, Array]]
"""Lines to draw: kind, label, x and y in SI."""
AxisNames = tuple[str, str]
"""What x and y are, of `AXES`."""

_BESIDE = {"cricondenbar": (0, 9, "center"), "critical": (-9, 7, "right"), "cricondentherm": (-9, -4, "right")}


def draw_envelope(
    ax: Axes | None,
    lines: Curves,
    marks: Sequence[tuple[str, str, float, float]],
    title: str,
    axes: AxisNames,
    units: str,
    log: bool,
) -> Axes:
    """Draw lines (kind, label, x, y) and marks (kind, label, x, y), all in SI, in a set of units."""
    ax = ax if ax is not None else new_axes()
    named: set[str] = set()
    labelled = 0
    along: list[Along] = []
    for kind, label, x, y in lines:
        at_x, at_y = (from_si(v, AXES[axis][2], units) for v, axis in zip((x, y), axes, strict=True))
        ax.plot(at_x, at_y, **LINES[kind])
        if kind == "quality" and not label:
            continue
        if kind == "quality":
            # neighbors run close together: each label further along its line than the one before
            along.append(write_along(ax, at_x, at_y, label, LINES[kind]["color"], 0.12 + 0.1 * (labelled % 4)))
            labelled += 1
        elif kind not in named and "not stable" not in kind:
            named.add(kind)
            along.append(write_along(ax, at_x, at_y, label or f"{kind} line", LINES[kind]["color"], 0.4))
    for kind, label, x_mark, y_mark in marks:
        _mark(ax, kind, label, (x_mark, y_mark), axes, units)
    _finish(ax, title, axes, units, log, along)
    return ax


def draw_envelopes(
    ax: Axes | None,
    envelopes: Mapping[str, tuple[Curves, Sequence[tuple[float, float]]]],
    marks: Sequence[tuple[str, str, float, float]],
    title: str,
    axes: AxisNames,
    units: str,
    log: bool,
) -> Axes:
    """Draw several envelopes, each its lines and its critical points: a color for each, dew lines dashed."""
    ax = ax if ax is not None else new_axes()
    along: list[Along] = []
    for k, ((name, (lines, critical)), series) in enumerate(zip(envelopes.items(), cycle(SERIES), strict=False)):
        # dew lines are where mixtures differ most
        longest = max(lines, key=lambda line: (line[0] == "dew", line[0] == "bubble", len(line[2])), default=None)
        for line in lines:
            kind, _, x, y = line
            at_x, at_y = (from_si(v, AXES[axis][2], units) for v, axis in zip((x, y), axes, strict=True))
            ax.plot(at_x, at_y, **{**LINES[kind], "color": series["color"]})
            if line is longest:
                # mixtures much alike run close together
                along.append(write_along(ax, at_x, at_y, name, series["color"], 0.3 + 0.15 * (k % 4)))
        for place in critical:
            at = [float(from_si(v, AXES[axis][2], units)) for v, axis in zip(place, axes, strict=True)]
            ax.plot(at[:1], at[1:], linestyle="none", zorder=5, **{**MARKS["critical"], "color": series["color"]})
    for kind, label, x_mark, y_mark in marks:
        _mark(ax, kind, label, (x_mark, y_mark), axes, units)
    _finish(ax, title, axes, units, log, along)
    return ax


def _mark(ax: Axes, kind: str, label: str, place: tuple[float, float], axes: AxisNames, units: str) -> None:
    at = [float(from_si(v, AXES[axis][2], units)) for v, axis in zip(place, axes, strict=True)]
    ax.plot(at[:1], at[1:], linestyle="none", zorder=5, **MARKS[kind])
    dx, dy, align = _BESIDE.get(kind, (10, -4, "left"))
    if kind == "critical" and axes != ("T", "P"):
        dx, dy, align = 9, -14, "left"
    ax.annotate(
        label, (at[0], at[1]), xytext=(dx, dy), textcoords="offset points", ha=align, fontsize=9,
        bbox={"boxstyle": "round,pad=0.15", "fc": "white", "ec": "none", "alpha": 0.75}, zorder=6,
    )  # fmt: skip


def _finish(ax: Axes, title: str, axes: AxisNames, units: str, log: bool, along: Sequence[Along]) -> None:
    if log:
        logarithmic(ax)
    elif axes[1] == "P":
        ax.set_ylim(bottom=0.0)
    ax.margins(x=0.08)
    ax.set_xlabel(axis_label(axes[0], units))
    ax.set_ylabel(axis_label(axes[1], units))
    finish(ax, title, along)
