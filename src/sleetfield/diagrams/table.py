"""Any column of a property table against any other."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import cycle
from typing import TYPE_CHECKING, Any, NamedTuple

from ..arguments import guarded
from ..errors import InputError
from ..units import pretty_heading
from .style import AXES, SERIES, finish, logarithmic, new_axes

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes


def column(frame: pd.DataFrame, name: str) -> str:
    """The heading of a column, by its name with or without the unit.

    Raises
    ------
    InputError
        If there is no such column.
    """
    headings = [str(c) for c in frame.columns]
    for heading in headings:
        if name in (heading, heading.split(" [")[0]):
            return heading
    raise InputError(f"The table has no column {name!r}. Columns are {', '.join(h.split(' [')[0] for h in headings)}.")


_WIDTH = 0.011
"""Of a letter at the end of a line, as a share of the axis."""


class _Line(NamedTuple):
    """A line to draw: its points, and what stands at its end."""

    rows: pd.DataFrame
    label: str


def usual_columns(frame: pd.DataFrame) -> dict[str, str]:
    """What is drawn of a table where nothing is asked for: its first property against the quantity that runs fastest, a line for each value of the other.

    Raises
    ------
    InputError
        If it says nothing of quantities that run, or of more than one line each could be drawn for.
    """
    axes = list(frame.attrs.get("axes", []))
    if not axes:
        raise InputError(
            "A table of one row, or of somebody else's, as a figure needs the columns to draw: x and y, such as x='T', y='density'."
        )
    if len(axes) > 2:
        raise InputError(
            f"This table runs over {', '.join(axes)}: one figure shows two of them. Take one value of {axes[1]}, or draw a part of the rows."
        )
    headings = [str(c) for c in frame.columns]
    at_x = column(frame, axes[-1])
    rest = [h for h in headings if h.split(" [")[0] not in (*axes, "T", "P", "feed", "phases") and frame[h].notna().any()]
    found = {"x": at_x, "y": next(iter(rest), headings[-1])}
    return {**found, "by": column(frame, axes[0])} if len(axes) > 1 else found


@guarded
def draw_table(
    frame: pd.DataFrame, x: str, y: str | Sequence[str], *, by: str | None = None, ax: Axes | None = None, log: bool = False
) -> Axes:
    """Draw columns of a property table against another, one line for each, and for each value of a third.

    Parameters
    ----------
    frame : pandas.DataFrame
        From `System.table`.
    x : str
        Name of a column, with or without its unit: ``"T"``.
    y : str or sequence of str
        The same, ``"liquid density"``; several columns share the axis.
    by : str, optional
        A column whose values each get a line of their own, labelled at its end.
    ax : matplotlib Axes, optional
        Where to draw; a new figure by default.
    log : bool
        Logarithmic y axis.

    Examples
    --------
    >>> import sleetfield as sl
    >>> gas = sl.System(["methane", "propane"], eos="PR", units="metric")
    >>> frame = gas.table([0.7, 0.3], T=[250.0, 275.0, 300.0], P=["10 bar", "30 bar"], properties=["density"])
    >>> sl.draw_table(frame, "T", "density", by="P").get_ylabel()
    'density [kg/m³]'

    """
    at_x, columns = column(frame, x), [column(frame, name) for name in ([y] if isinstance(y, str) else y)]
    if not columns:
        raise InputError("There is no column to draw: name one or more as y.")
    ax = ax if ax is not None else new_axes()
    lines = list(_lines(frame, at_x, columns, by))
    for one, line in zip(lines, cycle(SERIES), strict=False):
        ax.plot(one.rows.iloc[:, 0], one.rows.iloc[:, 1], marker="o" if len(one.rows) == 1 else None, **line)
        if one.label:
            end = tuple(one.rows.iloc[-1])
            ax.annotate(one.label, end, xytext=(5, 0), textcoords="offset points", va="center", fontsize=9, color=line["color"])
    if log:
        logarithmic(ax)
    ax.set_xlabel(_read(at_x, words=True))
    ax.set_ylabel(_shared([_read(c) for c in columns]))
    longest = max((len(one.label) for one in lines), default=0)
    low, high = ax.get_xlim()
    ax.set_xlim(low, high + _WIDTH * longest * (high - low))
    finish(ax, str(frame.attrs.get("full title", frame.attrs.get("title", ""))))
    return ax


def _lines(frame: pd.DataFrame, at_x: str, columns: Sequence[str], by: str | None) -> Iterator[_Line]:
    groups: list[tuple[Any, pd.DataFrame]] = [(None, frame)] if by is None else list(frame.groupby(column(frame, by)))
    unit = "" if by is None else pretty_heading(column(frame, by)).partition(" [")[2].rstrip("]")
    for at_y in columns:
        for value, group in groups:
            rows = group[[at_x, at_y]].dropna()
            if not rows.empty:
                own = [_read(at_y.split(" [")[0])] if len(columns) > 1 else []
                own += [value if isinstance(value, str) else f"{value:.4g} {unit}".strip()] if value is not None else []
                yield _Line(rows, ", ".join(own))


def _read(heading: str, *, words: bool = False) -> str:
    """A heading as people read it; of temperature and pressure in words too."""
    name, _, unit = heading.partition(" [")
    if words and name in ("T", "P"):
        return f"${name}$, {AXES[name][1]} [{pretty_heading(f'[{unit}').strip('[]')}]"
    return pretty_heading(heading).replace("_", " ")


def _shared(headings: Sequence[str]) -> str:
    """What columns have in common at the end: ``liquid density [kg/m³]`` and ``vapor density [kg/m³]`` are densities."""
    words = [h.split(" ") for h in headings]
    count = next((k for k in range(min(map(len, words))) if len({w[-1 - k] for w in words}) > 1), min(map(len, words)))
    return " ".join(words[0][len(words[0]) - count :]) or ", ".join(headings)
