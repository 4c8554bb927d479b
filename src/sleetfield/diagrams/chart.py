"""P-H, T-S and H-S charts: many lines, each with its number, and a key of what they are below."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from .labels import Along, write_along
from .style import A4, BLUE, CRIMSON, GREEN, GREY, LINES, MARKS, PURPLE, finish, logarithmic

if TYPE_CHECKING:
    from matplotlib.axes import Axes

Array = NDArray[np.float64]

_CONSTANT: dict[str, dict[str, Any]] = {
    "T": {"color": CRIMSON, "linestyle": "-", "linewidth": 0.9},
    "P": {"color": BLUE, "linestyle": "-", "linewidth": 0.9},
    "S": {"color": PURPLE, "linestyle": (0, (6, 2)), "linewidth": 0.8},
    "H": {"color": PURPLE, "linestyle": (0, (6, 2)), "linewidth": 0.8},
    "density": {"color": GREEN, "linestyle": "-.", "linewidth": 0.8},
    "vapor_fraction": {"color": GREY, "linestyle": ":", "linewidth": 0.9},
}
"""How lines of constant quantities look."""
_WHERE = {"T": 0.75, "P": 0.85, "S": 0.7, "H": 0.7, "density": 0.25, "vapor_fraction": 0.25}
"""Where along their lines numbers best stand."""
_STEP = 0.05
"""How much further along than its neighbor's."""


class Curve(NamedTuple):
    """A line in the units of the page: what is constant along it or which boundary it is, its number, x and y."""

    of: str
    label: str
    x: Array
    y: Array


class Axis(NamedTuple):
    """Its label, its limits, and whether it is logarithmic."""

    label: str
    low: float
    high: float
    log: bool


def draw_chart(
    ax: Axes | None,
    curves: Sequence[Curve],
    axes: tuple[Axis, Axis],
    key: Mapping[str, str],
    marks: Sequence[tuple[str, str, float, float]],
    joined: bool,
    title: str,
) -> Axes:
    """Draw it; ``key`` says of each kind of line what its numbers are, ``marks`` are kind, name, x and y; those of the user may be ``joined``."""
    ax = ax if ax is not None else _sheet()
    across, up = axes
    if up.log:
        logarithmic(ax)
    ax.set_xlim(across.low, across.high)
    ax.set_ylim(up.low, up.high)
    along: list[Along] = []
    counted: dict[str, int] = {}
    for curve in curves:
        style = _CONSTANT.get(curve.of) or LINES[curve.of]
        ax.plot(curve.x, curve.y, label=key.get(curve.of), **style)
        if curve.of in _CONSTANT:
            k = counted[curve.of] = counted.get(curve.of, -1) + 1
            along += _numbered(ax, curve, axes, style["color"], _WHERE[curve.of] + _STEP * (k % 3 - 1))
    for kind, name, x, y in marks:
        ax.plot([x], [y], linestyle="none", zorder=5, **MARKS[kind])
        ax.annotate(
            name, (x, y), xytext=(9, 7), textcoords="offset points", fontsize=9, zorder=6,
            bbox={"boxstyle": "round,pad=0.15", "fc": "white", "ec": "none", "alpha": 0.75},
        )  # fmt: skip
    own = [(x, y) for kind, _, x, y in marks if kind == "operating"]
    if joined and len(own) > 1:
        ax.plot(*zip(*own, own[0], strict=True), color=MARKS["operating"]["color"], linewidth=1.8, zorder=4)
    ax.set_xlabel(across.label)
    ax.set_ylabel(up.label)
    _key(ax)
    finish(ax, title, along)
    return ax


def _sheet() -> Axes:
    """Axes on a sheet A4."""
    import matplotlib.pyplot as plt

    _, ax = plt.subplots(figsize=A4, layout="constrained")
    return ax


def _numbered(ax: Axes, curve: Curve, axes: tuple[Axis, Axis], color: str, where: float) -> list[Along]:
    """The number on the part of a line that is within the axes."""
    inside = np.ones(len(curve.x), dtype=bool)
    for values, axis in zip((curve.x, curve.y), axes, strict=True):
        inside &= (values >= axis.low) & (values <= axis.high)
    if inside.sum() < 2:
        return []
    label = write_along(ax, curve.x[inside], curve.y[inside], curve.label, color, where)
    label.label.set_fontsize(7.5)
    label.label.set_bbox({"boxstyle": "round,pad=0.1", "fc": "white", "ec": "none", "alpha": 0.85})
    return [label]


def _key(ax: Axes) -> None:
    """What lines of each kind are, once, below the axes."""
    handles = dict(zip(*reversed(ax.get_legend_handles_labels()), strict=True))
    ax.legend(
        handles.values(),
        handles.keys(),
        loc="upper center",
        bbox_to_anchor=(0.5, -0.08),
        ncols=len(handles),
        frameon=False,
        fontsize=9,
        handlelength=3.0,
    )
