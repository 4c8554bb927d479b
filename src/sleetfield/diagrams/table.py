"""Any column of a property table against any other."""

from __future__ import annotations

from itertools import cycle
from typing import TYPE_CHECKING, Any

from ..errors import InputError
from ..units import pretty_heading
from .style import SERIES, finish, new_axes

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


def draw_table(frame: pd.DataFrame, x: str, y: str, *, by: str | None = None, ax: Axes | None = None, log: bool = False) -> Axes:
    """Draw a column of a property table against another, one line for each value of a third.

    Parameters
    ----------
    frame : pandas.DataFrame
        From `System.table`.
    x, y : str
        Names of columns, with or without their units: ``"T"``, ``"liquid density"``.
    by : str, optional
        A column whose values each get a line of their own, labelled at its end.
    ax : matplotlib Axes, optional
        Where to draw; a new figure by default.
    log : bool
        Logarithmic y axis.

    Examples
    --------
    >>> import sleetfield as sl
    >>> gas = sl.System(["methane", "propane"], eos="PR", units="engineering")
    >>> frame = gas.table([0.7, 0.3], T=[250.0, 275.0, 300.0], P=["10 bar", "30 bar"], properties=["density"])
    >>> sl.draw_table(frame, "T", "density", by="P").get_ylabel()
    'density [kg/m³]'

    """
    at_x, at_y = column(frame, x), column(frame, y)
    ax = ax if ax is not None else new_axes()
    groups: list[tuple[Any, pd.DataFrame]] = [(None, frame)] if by is None else list(frame.groupby(column(frame, by)))
    for (value, group), line in zip(groups, cycle(SERIES), strict=False):
        rows = group[[at_x, at_y]].dropna()
        if rows.empty:
            continue
        ax.plot(rows[at_x], rows[at_y], marker="o" if len(rows) == 1 else None, **line)
        if value is not None:
            unit = pretty_heading(column(frame, str(by))).partition(" [")[2].rstrip("]")
            last = rows.iloc[-1]
            label = value if isinstance(value, str) else f"{value:.4g} {unit}".strip()
            ax.annotate(
                label,
                (last.iloc[0], last.iloc[1]),
                xytext=(5, 0),
                textcoords="offset points",
                va="center",
                fontsize=9,
                color=line["color"],
            )
    if log:
        ax.set_yscale("log")
    ax.set_xlabel(pretty_heading(at_x))
    ax.set_ylabel(pretty_heading(at_y))
    ax.margins(x=0.09 if by is not None else 0.03)
    finish(ax, str(frame.attrs.get("title", "")))
    return ax
