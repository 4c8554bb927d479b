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
from .text import has_names, number

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
        for j, value in enumerate([*([str(index)] if named else []), *row], start=1):
            cell = _write(sheet.cell(i, j), value)
            widths[j - 1] = max(widths[j - 1], len(number(value) if isinstance(value, float) else str(value or "")))
            cell.alignment = Alignment(vertical="top", wrap_text=isinstance(value, str) and len(value) > _WIDEST)
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
