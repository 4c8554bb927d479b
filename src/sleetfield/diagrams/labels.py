"""Labels find their places: beside their points or along their lines, where nothing else stands."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

if TYPE_CHECKING:
    from matplotlib.axes import Axes

Array = NDArray[np.float64]

_DISTANCES = (8.0, 14.0, 22.0, 34.0, 50.0)
"""Points between a label and what it names."""
_SHARES = np.linspace(0.05, 0.95, 31)
"""Places along a line."""
_GAP = 2.0
"""Points around a label."""
_OUTSIDE, _TEXT, _MARK, _LINE, _FAR = 30.0, 10.0, 6.0, 1.0, 0.6
"""What it costs a label to lie outside of the axes, on other text, on marks, on lines, far from where it would stand."""
_THIN = 0.65
"""Points; thinner lines are the grid."""
_STEP = 6.0
"""Pixels between points of lines that are looked at."""


class Along(NamedTuple):
    """A label on a line: its text, the line's points, and at which share of its length it would best stand."""

    label: Any
    x: Array
    y: Array
    where: float


def write_along(ax: Axes, x: Array, y: Array, text: str, color: str, where: float) -> Along:
    """Write a label on a line; `place` puts it somewhere near the share ``where`` of its length on the page."""
    label = ax.annotate(
        text, (float(x[0]), float(y[0])), ha="center", va="center", fontsize=9, color=color,
        bbox={"boxstyle": "round,pad=0.2", "fc": "white", "ec": "none", "alpha": 0.9}, zorder=4,
    )  # fmt: skip
    return Along(label, x, y, where)


def place(ax: Axes, along: Sequence[Along] = ()) -> None:
    """Move labels that stand beside a point around it, and those of lines along them, to where they lie on nothing."""
    beside: list[Any] = [
        t
        for t in ax.texts
        if getattr(t, "anncoords", "") == "offset points" and getattr(t, "xycoords", "") == "data" and t.get_text()
    ]
    if not beside and not along:
        return
    figure: Any = ax.figure
    ax.get_xlim()  # which settles limits that are to follow what is drawn
    if figure.get_layout_engine() is not None:
        figure.get_layout_engine().execute(figure)
    ax.apply_aspect()
    scale = figure.dpi / 72.0
    movable = [*beside, *(one.label for one in along)]
    choices = [*(_beside(ax, label, scale) for label in beside), *(_along(ax, one) for one in along)]
    boxes = np.array([_box(label) for label in movable])
    fixed, marks, lines = _texts(ax, movable), _marks(ax, scale), _lines(ax)
    # the second time round each knows where the others went
    for _ in range(2):
        for k, candidates in enumerate(choices):
            size = 0.5 * (boxes[k, 2:] - boxes[k, :2]) + _GAP * scale
            at = np.array([c.middle for c in candidates])
            around = np.hstack([at - size, at + size])
            others = np.vstack([fixed, np.delete(boxes, k, axis=0)])
            cost = _TEXT * _covered(around, others) + _MARK * _covered(around, marks) + _LINE * _crossed(around, lines)
            cost += _OUTSIDE * (1.0 - _covered(around, np.array([ax.bbox.extents]))) + _FAR * np.array([c.far for c in candidates])
            best = candidates[int(np.argmin(cost))]
            best.take(movable[k])
            half = 0.5 * (boxes[k, 2:] - boxes[k, :2])
            boxes[k] = np.concatenate([best.middle - half, best.middle + half])


class _Choice(NamedTuple):
    """Where a label could stand: its middle, pixels; how far that is from the best; and how to put it there."""

    middle: Array
    far: float
    offset: tuple[float, float] | None = None
    sides: tuple[str, str] = ("center", "center")
    at: tuple[float, float] | None = None

    def take(self, label: Any) -> None:
        """Put the label there."""
        if self.offset is not None:
            label.xyann = self.offset
            label.set_ha(self.sides[0])
            label.set_va(self.sides[1])
        elif self.at is not None:
            label.xy = self.at
            label.set_position(self.at)


def _box(label: Any) -> Array:
    """Left, bottom, right, top in pixels."""
    return np.array(label.get_window_extent().extents)


def _beside(ax: Axes, label: Any, scale: float) -> list[_Choice]:
    """Its own place, then around its point."""
    box = _box(label)
    width, height = box[2:] - box[:2]
    found = [_Choice(0.5 * (box[:2] + box[2:]), 0.0, label.xyann, (label.get_ha(), label.get_va()))]
    point = ax.transData.transform(label.xy)
    for k, r in enumerate(_DISTANCES):
        for dx, dy in ((1, 0), (1, 1), (0, 1), (-1, 1), (-1, 0), (-1, -1), (0, -1), (1, -1)):
            short = 0.7 if dx and dy else 1.0
            offset = (short * r * dx, short * r * dy)
            middle = point + scale * np.array(offset) + 0.5 * np.array([dx * width, dy * height])
            sides = ({1: "left", 0: "center", -1: "right"}[dx], {1: "bottom", 0: "center", -1: "top"}[dy])
            found.append(_Choice(middle, 1.0 + k, offset, sides))
    return found


def _along(ax: Axes, one: Along) -> list[_Choice]:
    """Places along a line, by their shares of its length on the page."""
    there = np.isfinite(one.x) & np.isfinite(one.y)
    points = np.column_stack([one.x, one.y])[there]
    pixels = ax.transData.transform(points)
    length = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(pixels, axis=0).T))])
    found = []
    for share in (one.where, *_SHARES):
        if len(points) == 1 or not length[-1]:
            return [_Choice(pixels[0], 0.0, at=tuple(points[0]))]
        at = np.array([np.interp(share * length[-1], length, pixels[:, i]) for i in range(2)])
        data = ax.transData.inverted().transform(at)
        found.append(_Choice(at, 5.0 * abs(share - one.where), at=(float(data[0]), float(data[1]))))
    box = _box(one.label)
    if length[-1] < 2.0 * (box[2] - box[0]):
        # a label would hide so short a line
        found = [
            c._replace(middle=c.middle + d, at=tuple(ax.transData.inverted().transform(c.middle + d)))
            for c in found
            for d in _sides(box)
        ]
    return found


def _sides(box: Array) -> Array:
    """Steps from a short line to beside it."""
    width, height = box[2:] - box[:2]
    return np.array([[0.6 * width + height, 0.0], [-0.6 * width - height, 0.0], [0.0, 1.5 * height], [0.0, -1.5 * height]])


def _texts(ax: Axes, movable: Sequence[Any]) -> Array:
    """Boxes of what is written and does not move, the legend's among them."""
    fixed = [t for t in ax.texts if t.get_text() and not any(t is m for m in movable)]
    legend = ax.get_legend()
    boxes = [_box(t) for t in (*fixed, *([legend] if legend is not None else []))]
    return np.array(boxes).reshape(-1, 4)


def _marks(ax: Axes, scale: float) -> Array:
    """Boxes of marks."""
    boxes = [np.zeros((0, 4))]
    for line in ax.lines:
        if line.get_marker() not in ("", "None", " ", None):
            at = line.get_transform().transform(line.get_xydata())
            half = 0.5 * scale * line.get_markersize()
            boxes.append(np.hstack([at - half, at + half]))
    found = np.vstack(boxes)
    return found[np.isfinite(found).all(axis=1)]


def _lines(ax: Axes) -> Array:
    """Points of lines, close together, pixels ``(N, 2)``."""
    found = [np.zeros((0, 2))]
    for line in ax.lines:
        at = line.get_transform().transform(line.get_xydata())
        if line.get_linestyle() in ("None", "", " ") or len(at) < 2 or line.get_linewidth() < _THIN:
            continue
        with np.errstate(all="ignore"):
            start, step = at[:-1], np.diff(at, axis=0)
            count = np.hypot(*step.T) / _STEP
            seen = np.isfinite(count)
            n = np.minimum(count[seen], 398.0).astype(int) + 2
        k = np.repeat(np.arange(len(n)), n)
        share = (np.arange(len(k)) - np.repeat(np.cumsum(n) - n, n)) / (n[k] - 1)
        found.append(start[seen][k] + share[:, None] * step[seen][k])
    return np.vstack(found)


def _covered(boxes: Array, by: Array) -> Array:
    """How much of each box, or of what is smaller than it, is covered by others, as shares of the area, added up."""
    low = np.maximum(boxes[:, None, :2], by[None, :, :2])
    high = np.minimum(boxes[:, None, 2:], by[None, :, 2:])
    shared = np.prod(np.maximum(high - low, 0.0), axis=-1)
    own, others = (np.prod(b[:, 2:] - b[:, :2], axis=1) for b in (boxes, by))
    return np.asarray((shared / np.minimum(own[:, None], np.maximum(others, 1.0))).sum(axis=1))


def _crossed(boxes: Array, points: Array) -> Array:
    """How far lines run through each box, as a share of its width."""
    # what is near any of the boxes, axis by axis
    near = points[((points > boxes[:, :2].min(axis=0)) & (points < boxes[:, 2:].max(axis=0))).all(axis=1)]
    inside = np.ones((len(boxes), len(near)), dtype=bool)
    for axis in (0, 1):
        place = near[None, :, axis]
        inside &= (place > boxes[:, axis, None]) & (place < boxes[:, axis + 2, None])
    return np.asarray(_STEP * inside.sum(axis=1) / (boxes[:, 2] - boxes[:, 0]))
