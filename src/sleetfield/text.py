"""How results are written out: tables for people, in text and HTML."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from numbers import Integral
from typing import TYPE_CHECKING, Any, Literal, NamedTuple

from .core.constants import ATMOSPHERE
from .units import from_si, pretty_heading, pretty_unit, unit_of

if TYPE_CHECKING:
    import pandas as pd
    from rich.box import Box
    from rich.table import Table


DIGITS = 4
"""Significant digits of a number that is printed, where nothing else is asked for."""

FILE_DIGITS = 6
"""The same in tables that are written into a file to be read."""

WIDTH = 100
"""Columns of text that a printed table takes at most."""

MOST_ROWS = 60
"""A longer table is printed without its middle; one in several parts has as many rows in all."""

_NO_WIDTH = 100_000
"""Columns of text that no table fills: nothing is folded."""

_BESIDE = 3
"""Room beside a column."""

_FOLDED = 18
"""Columns of text that a column of words is not made narrower than."""

_SMALLEST, _LARGEST = -4, 7
"""Powers of ten between which numbers are written without one."""


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


def capital(words: str) -> str:
    """With a capital letter in front, the others as they are."""
    return words[:1].upper() + words[1:]


def first_few(names: Sequence[str], most: int = 4) -> str:
    """The first names of a list, and how many more there are: ``a, b, c, d and 2 more``."""
    return ", ".join(names[:most]) + (f" and {len(names) - most} more" if len(names) > most else "")


def numbered(sources: Sequence[str]) -> tuple[list[str], list[str]]:
    """A mark ``[1]`` for each of several sources, and the different ones, each with its mark."""
    different = list(dict.fromkeys(sources))
    return [f"[{different.index(s) + 1}]" for s in sources], [f"[{i}] {s}" for i, s in enumerate(different, start=1)]


def shown(value: float, dimension: str, unit_set: str, digits: int = 6) -> str:
    """One number with its unit, as a sentence would have it: ``20 bar``."""
    if dimension == "pressure" and math.isclose(value, ATMOSPHERE):
        return "1 atm"
    number = float(from_si(value, dimension, unit_set))
    unit = pretty_unit(unit_of(dimension, unit_set))
    return f"{number:.{digits}g} {unit}".strip()


def number(value: Any, digits: int = DIGITS) -> str:
    """A table cell: ``digits`` significant ones for numbers, whole numbers to the last, nothing for what is not there."""
    if isinstance(value, str):
        return value
    if value is None or (isinstance(value, float) and math.isnan(value)):
        return ""
    if isinstance(value, Integral):
        return str(value)
    exponent = int(f"{value:.{digits - 1}e}".partition("e")[2] or 0) if value and math.isfinite(value) else 0
    if not _SMALLEST <= exponent < _LARGEST:
        return f"{value:.{digits}g}"
    cell = f"{value:.{max(digits - 1 - exponent, 0)}f}"
    return cell.rstrip("0").rstrip(".") if "." in cell else cell


def aligned(cells: Sequence[str]) -> list[str]:
    """Numbers of a column with room behind them, so that their decimal points stand below each other."""
    room = max((len(cell.partition(".")[2]) for cell in cells), default=0)
    points = any("." in cell for cell in cells)
    return [cell + " " * (room - len(cell.partition(".")[2]) + (points and "." not in cell)) for cell in cells]


def cells_of(whole: pd.DataFrame | Grid, digits: int = DIGITS) -> dict[str, list[str]]:
    """Columns of text by heading; the names of rows, where there are any, have the empty heading. A column without a word is left out."""
    grid = Grid.of(whole)
    cells = {"": [pretty_heading(name) for name in grid.names]} if grid.names is not None else {}
    for j, heading in enumerate(grid.headings):
        column = [row[j] for row in grid.rows]
        if any(cell != "" for cell in column) or not column:
            cells[pretty_heading(heading)] = [number(cell, digits) for cell in column]
    return {h: aligned(column) if h and _numbers(column) else column for h, column in cells.items()}


def parts_of(cells: Mapping[str, list[str]], width: int = WIDTH) -> list[dict[str, list[str]]]:
    """A table in parts that are as wide as there is room for; each has the names of rows, temperatures and pressures."""
    keys = [h for h in cells if h == "" or h.startswith(("T [", "P ["))]
    wide = {h: _least(h, column) + _BESIDE for h, column in cells.items()}
    parts = [list(keys)]
    for heading in (h for h in cells if h not in keys):
        if sum(wide[h] for h in parts[-1]) + wide[heading] > width and len(parts[-1]) > len(keys):
            parts.append(list(keys))
        parts[-1].append(heading)
    return [{heading: cells[heading] for heading in part} for part in parts]


def _least(heading: str, column: Sequence[str]) -> int:
    """How narrow a column can be: headings are folded between words, but not in a unit; so is long text, but no number."""
    words, cells = [len(word) for word in _words(heading)], [len(cell) for cell in column]
    return max(*words, 0, *cells) if _numbers(column) else min(max(*words, 0, *cells), _FOLDED)


def _words(heading: str) -> list[str]:
    name, bracket, unit = heading.partition(" [")
    return [*name.replace(" / ", "\u00a0/ ").split(" "), *([f"[{unit}"] if bracket else [])]


def _folded(heading: str, least: int) -> str:
    """A heading over several lines, none longer than it must be."""
    lines = [""]
    for word in _words(heading):
        joined = f"{lines[-1]} {word}".strip()
        lines = [*lines[:-1], joined] if len(joined) <= least else [*lines, word]
    return "\n".join(line for line in lines if line)


def _numbers(column: Sequence[str]) -> bool:
    return all(is_number(cell.strip()) for cell in column)


def rich_table(cells: Mapping[str, list[str]], width: int = WIDTH) -> Table:
    """Columns of text as rich draws them; headings are folded where that is needed for the width."""
    from rich import box
    from rich.table import Table
    from rich.text import Text

    table = Table(box=box.SIMPLE_HEAD, pad_edge=False)
    fits = sum(max(len(h), *map(len, column), 0) + _BESIDE for h, column in cells.items()) <= width
    columns = []
    for heading, column in cells.items():
        numbers = _numbers(column)
        head = heading if fits else _folded(heading, _least(heading, column))
        # rich drops the room behind numbers that it moves to the right
        room = max(0, *map(len, (*head.split("\n"), *column))) if numbers else 0
        columns.append([cell.rjust(room) for cell in column])
        justify: Literal["right", "left"] = "right" if numbers else "left"
        table.add_column(Text(head, justify=justify), style="cyan" if heading == "" else "", overflow="fold", no_wrap=numbers)
    for row in zip(*columns, strict=True):
        table.add_row(*(Text(cell) for cell in row))
    return table


def table(whole: pd.DataFrame | Grid, digits: int = DIGITS, width: int = WIDTH) -> str:
    """A table as aligned text; what is too wide goes on below."""
    parts = parts_of(cells_of(whole, digits), width)
    if len(next(iter(parts[0].values()), ())) > MOST_ROWS:
        half = max(MOST_ROWS // 2 // len(parts), 5)
        parts = [{h: [*column[:half], "...", *column[-half:]] for h, column in part.items()} for part in parts]
    return "\n\n".join(_text_of(rich_table(part, width), width) for part in parts)


def is_number(cell: str) -> bool:
    """Whether a cell of a table is a number, or empty."""
    try:
        float(cell or "0")
    except ValueError:
        return cell == "..."
    return True


def plain_table(rows: Sequence[Sequence[str]], headers: Sequence[str], align: Sequence[str] = ()) -> str:
    """Rows of text under headers, as wide as they are; columns are aligned to the right but for those that ``align`` names from the left on."""
    from rich import box

    return _drawn(rows, headers, align, box.SIMPLE_HEAD, edge=False)


def markdown_table(frame: pd.DataFrame, digits: int = FILE_DIGITS) -> str:
    """A data frame as a table in Markdown."""
    from rich import box

    named = has_names(frame)
    rows = [
        [*([str(index)] if named else []), *(number(v, digits) for v in row)]
        for index, row in zip(frame.index, frame.to_numpy(dtype=object), strict=True)
    ]
    return _drawn(_safe(rows), [*([""] if named else []), *map(str, frame.columns)], ["left"] * named, box.MARKDOWN, edge=True)


def _safe(rows: Sequence[Sequence[str]]) -> list[list[str]]:
    """Cells that break no table of Markdown's."""
    return [[cell.replace("|", r"\|") for cell in row] for row in rows]


def _drawn(rows: Sequence[Sequence[str]], headers: Sequence[str], align: Sequence[str], lines: Box, *, edge: bool) -> str:
    from rich.table import Table
    from rich.text import Text

    table = Table(box=lines, show_edge=edge, pad_edge=edge)
    for i, header in enumerate(headers):
        table.add_column(Text(header), justify=align[i] if i < len(align) else "right", no_wrap=True)  # type: ignore[arg-type]
    # all rows as the lines of one, which is a quarter of the work
    if rows:
        table.add_row(*(Text("\n".join(cell.replace("\n", " ") for cell in column)) for column in zip(*rows, strict=True)))
    return _text_of(table, _NO_WIDTH)


def _text_of(table: Table, width: int) -> str:
    import io

    from rich.console import Console

    console = Console(file=io.StringIO(), width=width, color_system=None, highlight=False, legacy_windows=False)
    console.print(table)
    return "\n".join(line.rstrip() for line in console.file.getvalue().splitlines() if line.strip())  # type: ignore[attr-defined]


def has_names(frame: pd.DataFrame) -> bool:
    """Whether a frame's index holds names, and not only numbers of rows."""
    return bool(frame.index.dtype.kind != "i")


Sections = Sequence[tuple[str, "pd.DataFrame"]]


def report(title: str, whole: pd.DataFrame | Grid, notes: Sequence[str], sections: Sections = (), digits: int = DIGITS) -> str:
    """Title, table, further tables and notes, as one would paste them into a report."""
    more = [line for heading, part in sections for line in ("", heading, table(part, digits))]
    return "\n".join([title, "=" * len(title), table(whole, digits), *more, *note_lines(notes)])


def note_lines(notes: Sequence[str]) -> list[str]:
    """Notes as a list, with a heading; nothing where there are none."""
    return ["", "Notes", *(f"- {note}" for note in notes)] if notes else []


class Block(NamedTuple):
    """A section of a formatted sheet: its heading, and lines of what, unit and values."""

    heading: str
    rows: list[tuple[str, str, list[float]]]


class Layout(NamedTuple):
    """A formatted sheet: title, what it is of, what its columns are, its sections, and lists at its foot with their headings."""

    title: str
    about: list[tuple[str, str]]
    columns: list[str]
    blocks: list[Block]
    foot: list[tuple[str, list[str]]]


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
        return str(part.to_html(float_format=number, na_rep="", border=0, max_rows=MOST_ROWS))

    more = "".join(f"<h5>{escape(heading)}</h5>{shown_frame(part)}" for heading, part in sections)
    listed = "".join(f"<li>{escape(n)}</li>" for n in notes)
    return f"<h4>{escape(title)}</h4>{picture}{shown_frame(frame)}{more}" + (f"<ul>{listed}</ul>" if listed else "")


_STYLE = """body { font: 14px/1.45 system-ui, sans-serif; color: #1d2733; margin: 2rem auto; max-width: 72rem; padding: 0 1rem; }
h1 { font-size: 1.35rem; margin: 0 0 .4rem; } h4 { font-size: 1.2rem; } h5 { font-size: 1rem; margin: 1.2rem 0 .3rem; }
table { border-collapse: collapse; margin: .6rem 0 1rem; font-variant-numeric: tabular-nums; }
th, td { padding: .18rem .7rem; border-bottom: 1px solid #e4e6ea; text-align: right; } th { vertical-align: bottom; }
tbody th, td.words, th.words { text-align: left; font-weight: normal; }
tr.section th { text-align: left; font-weight: 600; background: #e7eef0; padding-top: .35rem; }
dl { display: grid; grid-template-columns: max-content auto; gap: .1rem 1rem; margin: 0 0 .8rem; } dt { color: #6b7280; } dd { margin: 0; }
li { margin: .1rem 0; } @media print { body { margin: 0; max-width: none; font-size: 11px; } tr { break-inside: avoid; } }"""


def page(title: str, body: str) -> str:
    """A whole page of HTML that needs nothing beside it."""
    from html import escape

    head = f'<meta charset="utf-8">\n<title>{escape(title)}</title>\n<style>\n{_STYLE}\n</style>'
    return f'<!doctype html>\n<html lang="en">\n<head>\n{head}\n</head>\n<body>\n{body}\n</body>\n</html>\n'


SHEET_DIGITS = 5
"""Significant digits on a formatted sheet."""


def laid_out_in_markdown(layout: Layout, digits: int = SHEET_DIGITS) -> str:
    """A formatted sheet in Markdown, each section a table."""
    from rich import box

    lines = [f"# {layout.title}", "", *(f"- {key}: {value}" for key, value in layout.about)]
    for block in layout.blocks:
        rows = [[words, pretty_unit(unit), *(number(v, digits) for v in values)] for words, unit, values in block.rows]
        head = ["", "unit", *layout.columns]
        lines += ["", f"## {block.heading}", "", _drawn(_safe(rows), head, ["left", "left"], box.MARKDOWN, edge=True)]
    for heading, entries in layout.foot:
        lines += ["", f"## {heading}", "", *(f"{k}. {entry}" for k, entry in enumerate(entries, start=1))] if entries else []
    return "\n".join([*lines, ""])


def laid_out(layout: Layout, digits: int = SHEET_DIGITS) -> str:
    """A formatted sheet as the body of a page."""
    from html import escape

    about = "".join(f"<dt>{escape(key)}</dt><dd>{escape(value)}</dd>" for key, value in layout.about)
    head = "".join(f"<th>{escape(pretty_heading(label))}</th>" for label in layout.columns)
    lines = []
    for block in layout.blocks:
        lines.append(f'<tr class="section"><th colspan="{len(layout.columns) + 2}">{escape(block.heading)}</th></tr>')
        for words, unit, values in block.rows:
            cells = "".join(f"<td>{number(v, digits)}</td>" for v in values)
            lines.append(f'<tr><th>{escape(words)}</th><td class="words">{escape(pretty_unit(unit))}</td>{cells}</tr>')
    table = f'<table>\n<thead><tr><th class="words">property</th><th class="words">unit</th>{head}</tr></thead>\n<tbody>\n'
    table += "\n".join(lines) + "\n</tbody>\n</table>"
    foot = "".join(f"<h5>{escape(heading)}</h5><ol>{_items(entries)}</ol>" for heading, entries in layout.foot if entries)
    return f"<h1>{escape(layout.title)}</h1>\n<dl>{about}</dl>\n{table}\n{foot}"


def _items(entries: Sequence[str]) -> str:
    from html import escape

    return "".join(f"<li>{escape(entry)}</li>" for entry in entries)
