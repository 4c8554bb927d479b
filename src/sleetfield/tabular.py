"""Rows of tables in files: text (CSV, TSV) and XLSX, with the line that each stands in.

Lines that begin with # before the table say what holds for all of it, such as ``# source: bench still``.

Nothing that a file says is evaluated. An error names the file and the line.
"""

from __future__ import annotations

import csv
import itertools
import math
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from .errors import InputError
from .files import check_file

MOST_ROWS = 200_000
MOST_COLUMNS = 1_000
MOST_PARTS = 1_000
LARGEST_UNPACKED = 80_000_000
"""Bytes of everything in a workbook."""
TEXTS = (".csv", ".tsv", ".txt")
SEPARATORS = ("\t", ";", ",")
"""What may stand between cells of a text table; the first of them that the headings have is it."""
FORMULA_STARTS = ("=", "@")
_FORMULA_LIKE = (*FORMULA_STARTS, "+", "-", "\t", "\r")
"""What a spreadsheet may take for the beginning of a formula."""
Rows = list[tuple[int, list[Any]]]


def read_rows(path: Path) -> Rows:
    """All rows with their line numbers, the headings first; rows without any text, and lines that begin with #, are left out.

    Raises
    ------
    InputError
        If the file is no text table (UTF-8) nor ``.xlsx``, can't be read, is empty or too long.
    """
    return read_said_and_rows(path)[1]


def read_said_and_rows(path: Path) -> tuple[dict[str, str], Rows]:
    """What lines that begin with # say (``# key: value``), and all rows as `read_rows` gives them."""
    readers = {**dict.fromkeys(TEXTS, _text_rows), ".xlsx": _xlsx_rows}
    if path.suffix.lower() not in readers:
        raise InputError(f"{path} is neither {', '.join(TEXTS)} nor .xlsx.")
    check_file(path)
    try:
        rows = list(readers[path.suffix.lower()](path))
    except OSError as error:
        raise InputError(f"{path} can't be read: {error.strerror or error}.") from error
    except UnicodeDecodeError as error:
        raise InputError(f"{path} is not UTF-8 text (byte {error.start}). Save it as UTF-8.") from error
    filled = [(line, cells) for line, cells in rows if any(str(c).strip() for c in cells if c is not None)]
    table = [(line, cells) for line, cells in filled if not _is_remark(cells)]
    if not table:
        raise InputError(f"{path} is empty.")
    said = {}
    for _, cells in filled:
        if _is_remark(cells):
            key, colon, value = ", ".join(str(c).strip() for c in cells if c is not None).lstrip("# ").partition(":")
            if colon:
                said[key.strip().lower()] = value.strip().rstrip(", ")
    return said, table


def row_blocks(path: Path, size: int) -> tuple[list[str], Iterator[list[list[str]]]]:
    """The headings of a long table, and its rows, at most ``size`` at a time, as text; ``.parquet`` too.

    Raises
    ------
    InputError
        If the file is of another kind, can't be read, or has no rows.
    """
    readers = {**dict.fromkeys(TEXTS, _text_rows), ".xlsx": _xlsx_rows, ".parquet": _parquet_rows}
    if path.suffix.lower() not in readers:
        raise InputError(f"{path} is none of {', '.join(readers)}.")
    check_file(path)
    rows = _filled(path, readers[path.suffix.lower()](path, None))
    headings = next(rows, None)
    first = next(rows, None)
    if headings is None or first is None:
        raise InputError(f"{path} has no rows below its headings.")

    def blocks() -> Iterator[list[list[str]]]:
        whole = itertools.chain([first], rows)
        while block := list(itertools.islice(whole, size)):
            yield block

    return headings, blocks()


def _filled(path: Path, rows: Iterator[tuple[int, list[Any]]]) -> Iterator[list[str]]:
    """Rows with something in them, as text; remarks at the top are passed over."""
    begun = False
    try:
        for _, cells in rows:
            texts = ["" if c is None else c if isinstance(c, str) else repr(c) if isinstance(c, float) else str(c) for c in cells]
            if not any(t.strip() for t in texts) or (not begun and _is_remark(texts)):
                continue
            begun = True
            yield texts
    except OSError as error:
        raise InputError(f"{path} can't be read: {error.strerror or error}.") from error
    except UnicodeDecodeError as error:
        raise InputError(f"{path} is not UTF-8 text (byte {error.start}). Save it as UTF-8.") from error


def _parquet_rows(path: Path, most: int | None) -> Iterator[tuple[int, list[Any]]]:
    from pyarrow import ArrowInvalid
    from pyarrow.parquet import ParquetFile

    try:
        file = ParquetFile(path)
    except ArrowInvalid as error:
        raise InputError(f"{path} is no readable Parquet file: {error}.") from error
    yield 1, list(file.schema_arrow.names)
    line = 1
    for batch in file.iter_batches():
        for row in zip(*(column.to_pylist() for column in batch.columns), strict=True):
            line += 1
            yield line, list(row)


def _is_remark(cells: list[Any]) -> bool:
    return bool(cells) and str(cells[0]).lstrip().startswith("#")


def kept_as_text(value: Any) -> Any:
    """Text that begins like a formula behind an apostrophe, so that spreadsheets take it for text; anything else as it is."""
    return f"'{value}" if isinstance(value, str) and value.startswith(_FORMULA_LIKE) else value


def as_it_was(text: str) -> str:
    """What `kept_as_text` was given."""
    return text[1:] if text.startswith("'") and text[1:].startswith(_FORMULA_LIKE) else text


def cell_text(cells: list[Any], place: int, where: str) -> str:
    """The text of a cell, empty where there is none.

    Raises
    ------
    InputError
        If it holds a formula.
    """
    cell = cells[place] if place < len(cells) else None
    text = "" if cell is None else str(cell).strip()
    if text.startswith(FORMULA_STARTS):
        raise InputError(f"{where}: {text[:40]!r} is a formula; formulas are not evaluated. Write its value.")
    return text


_DECIMAL_COMMA = re.compile(r"[+-]?\d+,\d+(?:[eE][+-]?\d+)?")


def as_number(text: str, where: str) -> float:
    """The number that a cell says, with a decimal point or comma.

    Raises
    ------
    InputError
        If it is none, or not finite.
    """
    try:
        number = float(text.replace(",", ".") if _DECIMAL_COMMA.fullmatch(text) else text)
    except ValueError:
        raise InputError(f"{where}: {text[:40]!r} is no number.") from None
    if not math.isfinite(number):
        raise InputError(f"{where}: {text!r} is not finite.")
    return number


def _text_rows(path: Path, most: int | None = MOST_ROWS) -> Iterator[tuple[int, list[Any]]]:
    with path.open(newline="", encoding="utf-8-sig") as file:
        first = next((line for line in file if line.strip() and not line.lstrip().startswith("#")), "")
        file.seek(0)
        reader = csv.reader(file, delimiter=next((mark for mark in SEPARATORS if mark in first), ","))
        try:
            for row in reader:
                _limit(path, reader.line_num, most)
                yield reader.line_num, row
        except csv.Error as error:
            raise InputError(f"{path}, line {reader.line_num}: {error}.") from error


def _xlsx_rows(path: Path, most: int | None = MOST_ROWS) -> Iterator[tuple[int, list[Any]]]:
    from openpyxl import load_workbook

    _check_archive(path)
    try:
        with path.open("rb") as file:
            sheet: Any = load_workbook(file, read_only=True, data_only=False).worksheets[0]
            # what it says of its own size need not be so
            sheet.reset_dimensions()
            for line, row in enumerate(sheet.iter_rows(values_only=True), start=1):
                _limit(path, line, most)
                if len(row) > MOST_COLUMNS:
                    raise InputError(f"{path}, line {line}: there are more than {MOST_COLUMNS} columns.")
                yield line, list(row)
    except (InputError, OSError):
        raise
    except Exception as error:  # of a damaged archive: whatever the reader of it came to
        raise InputError(f"{path} is no readable workbook: {error or type(error).__name__}.") from error


def _check_archive(path: Path) -> None:
    """Refuse a workbook that would fill the memory: what is packed into it says how large it is."""
    import zipfile

    try:
        with zipfile.ZipFile(path) as archive:
            parts = archive.infolist()
    except (zipfile.BadZipFile, ValueError, NotImplementedError) as error:
        raise InputError(f"{path} is no readable workbook: {error}.") from error
    if len(parts) > MOST_PARTS or sum(part.file_size for part in parts) > LARGEST_UNPACKED:
        raise InputError(f"{path} unpacks to more than {LARGEST_UNPACKED // 1_000_000} MB; split it, or save it as .csv.")


def _limit(path: Path, line: int, most: int | None) -> None:
    if most is not None and line > most:
        raise InputError(f"{path} has more than {most} rows; split it.")
