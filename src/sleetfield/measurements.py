"""Measurements from files: CSV and XLSX tables whose headings name their units, such as ``T [degC]`` and ``P [kPa]``.

Nothing that a file says is evaluated; a cell that holds a formula is refused. An error names the file, the line and the column.
"""

from __future__ import annotations

import csv
import re
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .errors import InputError
from .units import to_si, unit_of

Array = NDArray[np.float64]

MOST_ROWS = 200_000
_HEADING = re.compile(r"\s*(.+?)\s*(?:\[(.*)\])?\s*")


def read_columns(path: str | Path, columns: dict[str, str]) -> dict[str, Array]:
    """Columns of a table in SI.

    Parameters
    ----------
    path
        A ``.csv`` (UTF-8) or ``.xlsx`` file, its first row the headings. Columns not asked for are passed over, and so are empty rows.
    columns
        The dimension (`units.DIMENSIONS`) of each column wanted, by name.

    Raises
    ------
    InputError
        If the file can't be read, a column is missing or twice there, a unit is wrong, or a cell is no number.
    """
    path = Path(path)
    readers = {".csv": _csv_rows, ".xlsx": _xlsx_rows}
    if path.suffix.lower() not in readers:
        raise InputError(f"{path} is neither .csv nor .xlsx.")
    try:
        rows = list(readers[path.suffix.lower()](path))
    except OSError as error:
        raise InputError(f"{path} can't be read: {error.strerror or error}.") from error
    except UnicodeDecodeError as error:
        raise InputError(f"{path} is not UTF-8 text (byte {error.start}). Save it as UTF-8.") from error
    if not rows:
        raise InputError(f"{path} is empty.")
    places = _places(path, rows[0][1], columns)
    body = [(line, cells) for line, cells in rows[1:] if any(str(c).strip() for c in cells if c is not None)]
    return {name: _column(path, body, name, columns[name], *places[name]) for name in columns}


def _places(path: Path, headings: Sequence[Any], columns: dict[str, str]) -> dict[str, tuple[int, str]]:
    places: dict[str, tuple[int, str]] = {}
    for i, heading in enumerate(headings):
        match = _HEADING.fullmatch("" if heading is None else str(heading))
        if match is None or match[1] not in columns:
            continue
        if match[1] in places:
            raise InputError(f"{path}, line 1: the column {match[1]!r} stands twice.")
        places[match[1]] = (i, match[2] or "")
    for name, dimension in columns.items():
        if name not in places:
            unit = unit_of(dimension)
            raise InputError(
                f"{path} has no column {name!r}. Head it with its unit, such as '{name} [{unit}]'."
                if unit
                else f"{path} has no column {name!r}."
            )
    return places


def _column(path: Path, body: Sequence[tuple[int, Sequence[Any]]], name: str, dimension: str, place: int, unit: str) -> Array:
    numbers = np.empty(len(body))
    for k, (line, cells) in enumerate(body):
        cell = cells[place] if place < len(cells) else None
        where = f"{path}, line {line}, column {place + 1} ({name})"
        text = "" if cell is None else str(cell).strip()
        if text.startswith(("=", "@")):
            raise InputError(f"{where}: {text[:40]!r} is a formula; formulas are not evaluated. Write its value.")
        try:
            numbers[k] = float(text)
        except ValueError:
            raise InputError(f"{where}: {text[:40]!r} is no number.") from None
        if not np.isfinite(numbers[k]):
            raise InputError(f"{where}: {text!r} is not finite.")
    if not unit:
        return numbers
    scale = [float(to_si(f"{x} {unit}", dimension, f"{path}, line 1: the unit of {name}")) for x in (0.0, 1.0)]
    return np.asarray(scale[0] + (scale[1] - scale[0]) * numbers)


def _csv_rows(path: Path) -> Iterator[tuple[int, list[Any]]]:
    with path.open(newline="", encoding="utf-8-sig") as file:
        reader = csv.reader(file)
        try:
            for row in reader:
                _limit(path, reader.line_num)
                yield reader.line_num, row
        except csv.Error as error:
            raise InputError(f"{path}, line {reader.line_num}: {error}.") from error


def _xlsx_rows(path: Path) -> Iterator[tuple[int, list[Any]]]:
    import zipfile

    from openpyxl import load_workbook
    from openpyxl.utils.exceptions import InvalidFileException

    try:
        book = load_workbook(path, read_only=True, data_only=False)
    except (InvalidFileException, zipfile.BadZipFile, KeyError, ValueError) as error:
        raise InputError(f"{path} is no readable workbook: {error}.") from error
    for line, row in enumerate(book.worksheets[0].iter_rows(values_only=True), start=1):
        _limit(path, line)
        yield line, list(row)


def _limit(path: Path, line: int) -> None:
    if line > MOST_ROWS:
        raise InputError(f"{path} has more than {MOST_ROWS} rows; split it.")
