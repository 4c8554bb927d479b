"""Tables as one XLSX file, as an engineer would hand it on: headings that stay, filters, widths, readable numbers; the same tables give the same bytes."""

from __future__ import annotations

import csv
import datetime
import io
import itertools
import math
import re
import zipfile
from collections.abc import Callable, Iterator, Mapping, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from .errors import InputError
from .files import writing
from .tabular import as_it_was, kept_as_text
from .text import Layout, has_names, number
from .units import pretty_unit

if TYPE_CHECKING:
    import pandas as pd

_LONGEST_NAME = 31
"""Of a sheet."""
_WIDEST = 90
_MOST_ROWS = 1_048_576
_BLOCK = 50_000
_LONG_AGO = (1980, 1, 1, 0, 0, 0)
_FILL = "E7EEF0"
_CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f]")
"""What no workbook can hold."""


def workbook(sheets: Mapping[str, pd.DataFrame], titles: Mapping[str, str] | None = None) -> bytes:
    """A workbook with a sheet for each table; a title stands above its table.

    Text is text, whatever it begins with.
    """
    from openpyxl import Workbook

    book: Any = Workbook()
    book.remove(book.active)
    book.properties.created = book.properties.modified = datetime.datetime(*_LONG_AGO[:3])
    names: set[str] = set()
    for heading, frame in sheets.items():
        name = _sheet_name(heading, names)
        names.add(name.lower())
        _fill(book.create_sheet(name), frame, (titles or {}).get(heading, ""))
    buffer = io.BytesIO()
    book.save(buffer)
    return _undated(buffer.getvalue())


def sheet(layout: Layout, others: Mapping[str, pd.DataFrame]) -> bytes:
    """A workbook whose first sheet is formatted for paper, with a sheet for each other table."""
    from openpyxl import Workbook

    book: Any = Workbook()
    book.properties.created = book.properties.modified = datetime.datetime(*_LONG_AGO[:3])
    _lay_out(book.active, layout)
    for name, frame in others.items():
        _fill(book.create_sheet(_sheet_name(name, {"datasheet"})), frame, "")
    buffer = io.BytesIO()
    book.save(buffer)
    return _undated(buffer.getvalue())


_WORDS, _UNIT, _NUMBER = 52, 15, 16
"""Widths of a formatted sheet's columns."""


def _lay_out(sheet: Any, layout: Layout) -> None:
    from openpyxl.styles import Alignment, Border, Font, PatternFill, Side
    from openpyxl.utils import get_column_letter

    wide, bold, fill = len(layout.columns) + 2, Font(bold=True), PatternFill("solid", fgColor=_FILL)
    line = Border(bottom=Side("hair", color="9AA3AD"))
    sheet.title = "datasheet"

    def write(row: int, values: Sequence[Any]) -> None:
        for j, value in enumerate(values, start=1):
            _write(sheet.cell(row, j), value)

    write(1, [layout.title])
    sheet.cell(1, 1).font = Font(bold=True, size=14)
    for k, (key, value) in enumerate(layout.about, start=2):
        write(k, [key, value])
        sheet.cell(k, 1).font = Font(color="6B7280")
    head = len(layout.about) + 3
    write(head, ["property", "unit", *layout.columns])
    for j in range(1, wide + 1):
        cell = sheet.cell(head, j)
        cell.font, cell.border = bold, Border(bottom=Side("thin"))
        cell.alignment = Alignment(wrap_text=True, vertical="bottom", horizontal="right" if j > 2 else "left")
    row = head
    for block in layout.blocks:
        row += 1
        write(row, [block.heading])
        for j in range(1, wide + 1):
            sheet.cell(row, j).font, sheet.cell(row, j).fill = bold, fill
        for words, unit, values in block.rows:
            row += 1
            write(row, [words, pretty_unit(unit), *values])
            for j in range(1, wide + 1):
                sheet.cell(row, j).border = line
    for heading, entries in layout.foot:
        if not entries:
            continue
        row += 2
        write(row, [heading])
        sheet.cell(row, 1).font = bold
        for number_of, entry in enumerate(entries, start=1):
            row += 1
            write(row, [f"{number_of}. {entry}"])
            sheet.merge_cells(start_row=row, start_column=1, end_row=row, end_column=wide)
            sheet.cell(row, 1).alignment = Alignment(wrap_text=True, vertical="top")
            room = _WORDS + _UNIT + _NUMBER * len(layout.columns)
            sheet.row_dimensions[row].height = 15.0 * math.ceil((len(entry) + 4) / room)
    for j in range(1, wide + 1):
        sheet.column_dimensions[get_column_letter(j)].width = (_WORDS, _UNIT)[j - 1] if j < 3 else _NUMBER
    sheet.freeze_panes = sheet.cell(head + 1, 3)
    sheet.sheet_view.showGridLines = False
    sheet.page_setup.orientation, sheet.page_setup.paperSize = "portrait" if len(layout.columns) <= 4 else "landscape", 9
    sheet.page_setup.fitToWidth, sheet.page_setup.fitToHeight = 1, 0
    sheet.sheet_properties.pageSetUpPr.fitToPage = True
    sheet.print_title_rows = f"{head}:{head}"


def _sheet_name(heading: str, taken: set[str]) -> str:
    """As spreadsheets take it, and not one that is there."""
    plain = re.sub(r"[\[\]:*?/\\]", " ", heading).strip("' ")[:_LONGEST_NAME] or "table"
    name, count = plain, 1
    while name.lower() in taken:
        count += 1
        name = f"{plain[: _LONGEST_NAME - len(str(count)) - 1]} {count}"
    return name


def _fill(sheet: Any, frame: pd.DataFrame, title: str) -> None:
    from openpyxl.styles import Alignment, Font, PatternFill
    from openpyxl.utils import get_column_letter

    named = has_names(frame)
    head = [*([""] if named else []), *map(str, frame.columns)]
    top = 1
    if title:
        _write(sheet.cell(1, 1), title).font = Font(bold=True, size=13)
        top = 3
    for j, text in enumerate(head, start=1):
        cell = _write(sheet.cell(top, j), text)
        cell.font, cell.fill = Font(bold=True), PatternFill("solid", fgColor=_FILL)
        cell.alignment = Alignment(wrap_text=True, vertical="top")
    widths = [len(text) for text in head]
    for i, (index, row) in enumerate(zip(frame.index, frame.to_numpy(dtype=object).tolist(), strict=True), start=top + 1):
        values = [*([str(index)] if named else []), *row]
        long = [isinstance(value, str) and len(value) > _WIDEST for value in values]
        for j, value in enumerate(values, start=1):
            cell = _write(sheet.cell(i, j), value)
            widths[j - 1] = max(widths[j - 1], len(number(value) if isinstance(value, float) else str(value or "")))
            if any(long):
                cell.alignment = Alignment(vertical="top", wrap_text=long[j - 1])
    for j, width in enumerate(widths, start=1):
        sheet.column_dimensions[get_column_letter(j)].width = min(width + 2, _WIDEST)
    sheet.freeze_panes = sheet.cell(top + 1, 2 if named else 1)
    if head:
        sheet.auto_filter.ref = f"A{top}:{get_column_letter(len(head))}{max(sheet.max_row, top)}"
    sheet.page_setup.orientation, sheet.page_setup.paperSize = "landscape", 9
    sheet.page_setup.fitToWidth, sheet.page_setup.fitToHeight = 1, 0
    sheet.sheet_properties.pageSetUpPr.fitToPage = True
    sheet.print_title_rows = f"{top}:{top}"


def _write(cell: Any, value: Any) -> Any:
    """A value in a cell; text is text, and what is not there is empty."""
    if hasattr(value, "item"):
        value = value.item()
    if isinstance(value, float) and math.isnan(value):
        value = None
    if isinstance(value, str):
        cell.value, cell.data_type = _CONTROL.sub(" ", value), "s"
        return cell
    cell.value = value
    if isinstance(value, bool):
        return cell
    if isinstance(value, float):
        cell.number_format = _format(value)
    return cell


def _format(value: float) -> str:
    """Some six significant digits."""
    size = abs(value)
    if size == 0.0 or 1e-3 <= size < 1e6:
        decimals = 0 if size == 0.0 else max(0, 5 - len(str(int(size)))) + (1 if size < 1.0 else 0)
        return f"0.{'#' * max(decimals, 1)}" if decimals else "0"
    return "0.0000E+00"


def write_rows(path: Path, headings: Sequence[str], rows: Callable[[], Iterator[list[str]]], overwrite: bool) -> None:
    """A long table of text, row by row, as ``.csv``, ``.xlsx`` or ``.parquet``; what is a number becomes one.

    Raises
    ------
    InputError
        If the suffix is another one, there are more rows than a sheet can have, or the file can't be written.
    """
    writers = {".csv": _write_csv, ".xlsx": _write_xlsx, ".parquet": _write_parquet}
    if path.suffix.lower() not in writers:
        raise InputError(f"{path} ends in none of {', '.join(writers)}.")
    with writing(path, overwrite) as temporary:
        writers[path.suffix.lower()](temporary, headings, rows)


def _write_csv(path: Path, headings: Sequence[str], rows: Callable[[], Iterator[list[str]]]) -> None:
    with path.open("w", newline="", encoding="utf-8") as file:
        writer = csv.writer(file, lineterminator="\n")
        writer.writerow([kept_as_text(h) for h in headings])
        writer.writerows(rows())


def _write_xlsx(path: Path, headings: Sequence[str], rows: Callable[[], Iterator[list[str]]]) -> None:
    from openpyxl import Workbook
    from openpyxl.cell import WriteOnlyCell

    book = Workbook(write_only=True)
    sheet: Any = book.create_sheet("result")
    sheet.freeze_panes = "A2"
    for count, row in enumerate(itertools.chain([list(headings)], rows()), start=1):
        if count > _MOST_ROWS:
            raise InputError(f"A sheet has at most {_MOST_ROWS} rows, and there are more. Write a .csv or .parquet file.")
        sheet.append([_write(WriteOnlyCell(sheet), as_number_or_text(cell)) for cell in row])
    book.save(path)


def _write_parquet(path: Path, headings: Sequence[str], rows: Callable[[], Iterator[list[str]]]) -> None:
    import pyarrow as pa
    from pyarrow.parquet import ParquetWriter

    numeric = [True] * len(headings)
    for row in rows():
        numeric = [n and not isinstance(as_number_or_text(cell), str) for n, cell in zip(numeric, row, strict=True)]
    schema = pa.schema([(h, pa.float64() if n else pa.string()) for h, n in zip(headings, numeric, strict=True)])
    with ParquetWriter(path, schema) as writer:
        left = rows()
        while block := list(itertools.islice(left, _BLOCK)):
            columns = [
                [as_number_or_text(c) if n else as_it_was(c) for c in column]
                for column, n in zip(zip(*block, strict=True), numeric, strict=True)
            ]
            writer.write_table(pa.table(columns, schema=schema))


def as_number_or_text(cell: str) -> float | str | None:
    """A cell of text as the number that it is, or as it is; None where it is empty."""
    if not cell:
        return None
    try:
        return float(cell)
    except ValueError:
        return as_it_was(cell)


def _undated(data: bytes) -> bytes:
    """The same archive with the times of its parts taken out."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as dated, zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as undated:
        for part in dated.infolist():
            content = dated.read(part.filename)
            if part.filename == "docProps/core.xml":
                content = re.sub(rb"(<dcterms:modified[^>]*>)[^<]*", rb"\g<1>1980-01-01T00:00:00Z", content)
            undated.writestr(zipfile.ZipInfo(part.filename, _LONG_AGO), content, zipfile.ZIP_DEFLATED)
    return buffer.getvalue()
