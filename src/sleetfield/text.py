"""How results are written out: tables for people, in text and HTML."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Any, NamedTuple

from .units import from_si, pretty_heading, pretty_unit, unit_of

if TYPE_CHECKING:
    import pandas as pd
    from rich.box import Box


MOST_ROWS = 60
"""A longer table is printed without its middle."""

_NO_WIDTH = 100_000
"""Columns of text that no table fills: nothing is folded."""


class Grid(NamedTuple):
    """A table as it is printed: headings, rows of cells, and what the rows are called, where they have names.

    It does without pandas, which takes longer to load than a flash.
    """

    headings: list[str]
    rows: list[list[Any]]
    names: list[str] | None = None

    @classmethod
    def of(cls, table: pd.DataFrame | Grid) -> Grid:
        """Of a data frame."""
        if isinstance(table, Grid):
            return table
        names = [str(i) for i in table.index] if has_names(table) else None
        return cls([str(c) for c in table.columns], table.to_numpy(dtype=object).tolist(), names)

    def frame(self) -> pd.DataFrame:
        """As a data frame."""
        import pandas as pd

        return pd.DataFrame(self.rows, columns=self.headings, index=self.names)


def heading(name: str, dimension: str, unit_set: str) -> str:
    """A column heading with its unit: ``P [bar]``."""
    unit = unit_of(dimension, unit_set)
    return f"{name} [{unit}]" if unit else name


def counted(count: int, one: str, several: str = "") -> str:
    """A number of things: ``1 azeotrope``, ``2 azeotropes``."""
    return f"{count} {one if count == 1 else several or one + 's'}"


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


def table(whole: pd.DataFrame | Grid, digits: int = 6) -> str:
    """A table as aligned text."""
    grid = Grid.of(whole)
    named = grid.names is not None
    rows = [
        [*([pretty_heading(name)] if named else []), *(number(v, digits) for v in row)]
        for name, row in zip(grid.names or [""] * len(grid.rows), grid.rows, strict=True)
    ]
    if len(rows) > MOST_ROWS:
        half = MOST_ROWS // 2
        rows = [*rows[:half], ["..."] * len(rows[0]), *rows[-half:]]
    headers = [*([""] if named else []), *(pretty_heading(c) for c in grid.headings)]
    columns = list(zip(*rows, strict=True))
    sides = ["right" if all(is_number(cell) for cell in column) else "left" for column in columns[named:]]
    return plain_table(rows, headers, [*["left"] * named, *sides])


def is_number(cell: str) -> bool:
    """Whether a cell of a table is a number, or empty."""
    try:
        float(cell or "0")
    except ValueError:
        return cell == "..."
    return True


def plain_table(rows: Sequence[Sequence[str]], headers: Sequence[str], align: Sequence[str] = ()) -> str:
    """Rows of text under headers; columns are aligned to the right but for those that ``align`` names from the left on."""
    from rich import box

    return _drawn(rows, headers, align, box.SIMPLE_HEAD, edge=False)


def markdown_table(frame: pd.DataFrame) -> str:
    """A data frame as a table in Markdown."""
    from rich import box

    named = has_names(frame)
    rows = [
        [*([str(index)] if named else []), *(number(v) for v in row)]
        for index, row in zip(frame.index, frame.to_numpy(dtype=object), strict=True)
    ]
    safe = [[cell.replace("|", r"\|").replace("\n", " ") for cell in row] for row in rows]
    return _drawn(safe, [*([""] if named else []), *map(str, frame.columns)], ["left"] * named, box.MARKDOWN, edge=True)


def _drawn(rows: Sequence[Sequence[str]], headers: Sequence[str], align: Sequence[str], lines: Box, *, edge: bool) -> str:
    import io

    from rich.console import Console
    from rich.table import Table
    from rich.text import Text

    table = Table(box=lines, show_edge=edge, pad_edge=edge)
    for i, header in enumerate(headers):
        table.add_column(Text(header), justify=align[i] if i < len(align) else "right", no_wrap=True)  # type: ignore[arg-type]
    for row in rows:
        table.add_row(*(Text(cell) for cell in row))
    console = Console(file=io.StringIO(), width=_NO_WIDTH, color_system=None, highlight=False, legacy_windows=False)
    console.print(table)
    return "\n".join(line.rstrip() for line in console.file.getvalue().splitlines() if line.strip())  # type: ignore[attr-defined]


def has_names(frame: pd.DataFrame) -> bool:
    """Whether a frame's index holds names, and not only numbers of rows."""
    return bool(frame.index.dtype.kind != "i")


Sections = Sequence[tuple[str, "pd.DataFrame"]]


def report(title: str, whole: pd.DataFrame | Grid, notes: Sequence[str], sections: Sections = ()) -> str:
    """Title, table, further tables and notes, as one would paste them into a report."""
    more = [line for heading, part in sections for line in ("", heading, table(part))]
    return "\n".join([title, "=" * len(title), table(whole), *more, *note_lines(notes)])


def note_lines(notes: Sequence[str]) -> list[str]:
    """Notes as a list, with a heading; nothing where there are none."""
    return ["", "Notes", *(f"- {note}" for note in notes)] if notes else []


def picture(draw: Callable[[Any], Any]) -> str:
    """What ``draw`` draws on axes, as HTML with the figure in it."""
    import base64
    import io

    from matplotlib.figure import Figure

    figure = Figure(figsize=(9.6, 6.0), layout="constrained", dpi=75)
    draw(figure.add_subplot())
    buffer = io.BytesIO()
    figure.savefig(buffer, format="png")
    return f'<img src="data:image/png;base64,{base64.b64encode(buffer.getvalue()).decode()}">'


def html(title: str, frame: pd.DataFrame, notes: Sequence[str], sections: Sections = (), picture: str = "") -> str:
    """The same for a notebook, with a ``picture`` in HTML."""
    from html import escape

    def shown_frame(part: pd.DataFrame) -> str:
        return str(part.to_html(float_format=lambda v: f"{v:.6g}", na_rep="", border=0, max_rows=MOST_ROWS))

    more = "".join(f"<h5>{escape(heading)}</h5>{shown_frame(part)}" for heading, part in sections)
    listed = "".join(f"<li>{escape(n)}</li>" for n in notes)
    return f"<h4>{escape(title)}</h4>{picture}{shown_frame(frame)}{more}" + (f"<ul>{listed}</ul>" if listed else "")
