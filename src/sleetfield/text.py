"""How results are written out: tables for people, in text and HTML."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from .units import from_si, pretty_heading, pretty_unit, unit_of

if TYPE_CHECKING:
    import pandas as pd


MOST_ROWS = 60
"""A longer table is printed without its middle."""


def heading(name: str, dimension: str, unit_set: str) -> str:
    """A column heading with its unit: ``P [bar]``."""
    unit = unit_of(dimension, unit_set)
    return f"{name} [{unit}]" if unit else name


def first_few(names: Sequence[str], most: int = 4) -> str:
    """The first names of a list, and how many more there are: ``a, b, c, d and 2 more``."""
    return ", ".join(names[:most]) + (f" and {len(names) - most} more" if len(names) > most else "")


def shown(value: float, dimension: str, unit_set: str, digits: int = 6) -> str:
    """One number with its unit, as a sentence would have it: ``20 bar``."""
    number = float(from_si(value, dimension, unit_set))
    unit = pretty_unit(unit_of(dimension, unit_set))
    return f"{number:.{digits}g} {unit}".strip()


def number(value: Any, digits: int = 6) -> str:
    """A table cell: significant digits for numbers, nothing for what is not there."""
    if isinstance(value, str):
        return value
    if value is None or (isinstance(value, float) and math.isnan(value)):
        return ""
    return f"{value:.{digits}g}"


def table(frame: pd.DataFrame, digits: int = 6) -> str:
    """A data frame as aligned text."""
    named = has_names(frame)
    rows = [
        [*([pretty_heading(str(index))] if named else []), *(number(v, digits) for v in row)]
        for index, row in zip(frame.index, frame.to_numpy(), strict=True)
    ]
    if len(rows) > MOST_ROWS:
        half = MOST_ROWS // 2
        rows = [*rows[:half], ["..."] * len(rows[0]), *rows[-half:]]
    headers = [*([""] if named else []), *(pretty_heading(str(c)) for c in frame.columns)]
    return plain_table(rows, headers, ["left"] * named)


def plain_table(rows: Sequence[Sequence[str]], headers: Sequence[str], align: Sequence[str] = ()) -> str:
    """Rows of text under headers; columns are aligned to the right but for those that ``align`` names from the left on."""
    from tabulate import tabulate

    aligned = [*align, *["right"] * (len(headers) - len(align))]
    return tabulate(rows, headers=headers, colalign=aligned if rows else None, disable_numparse=True, tablefmt="simple")


def has_names(frame: pd.DataFrame) -> bool:
    """Whether a frame's index holds names, and not only numbers of rows."""
    return bool(frame.index.dtype.kind != "i")


def report(title: str, frame: pd.DataFrame, notes: Sequence[str]) -> str:
    """Title, table and notes, as one would paste them into a report."""
    return "\n".join([title, "=" * len(title), table(frame), *note_lines(notes)])


def note_lines(notes: Sequence[str]) -> list[str]:
    """Notes as a list, with a heading; nothing where there are none."""
    return ["", "Notes", *(f"- {note}" for note in notes)] if notes else []


def html(title: str, frame: pd.DataFrame, notes: Sequence[str]) -> str:
    """The same for a notebook."""
    from html import escape

    body = frame.to_html(float_format=lambda v: f"{v:.6g}", na_rep="", border=0, max_rows=MOST_ROWS)
    listed = "".join(f"<li>{escape(n)}</li>" for n in notes)
    return f"<h4>{escape(title)}</h4>{body}" + (f"<ul>{listed}</ul>" if listed else "")
