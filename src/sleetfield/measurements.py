"""Measurements from files: CSV and XLSX tables whose headings name their units, such as ``T [degC]`` and ``P [kPa]``.

Nothing that a file says is evaluated; a cell that holds a formula is refused. An error names the file, the line and the column.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .arguments import is_list, short
from .errors import InputError
from .tabular import Rows, as_number, cell_text, read_rows
from .units import one_in_si, to_si, unit_of

Array = NDArray[np.float64]

_HEADING = re.compile(r"\s*(.+?)\s*(?:\[(.*)\])?\s*")


def read_columns(path: str | Path, columns: dict[str, str], optional: dict[str, str] | None = None) -> dict[str, Array]:
    """Columns of a table in SI.

    Parameters
    ----------
    path
        A ``.csv`` (UTF-8) or ``.xlsx`` file, its first row the headings. Columns not asked for are passed over, and so are empty rows.
    columns
        The dimension (`units.DIMENSIONS`) of each column wanted, by name.
    optional
        The same of columns that need not be there.

    Raises
    ------
    InputError
        If the file can't be read, a column is missing or twice there, a unit is wrong, or a cell is no number.
    """
    path = Path(path)
    rows = read_rows(path)
    known = {**columns, **(optional or {})}
    places = _places(path, rows[0][1], known)
    for name, dimension in columns.items():
        if name not in places:
            unit = unit_of(dimension)
            hint = f" Head it with its unit, such as '{name} [{unit}]'." if unit else ""
            raise InputError(f"{path} has no column {name!r}.{hint}")
    return {name: _column(path, rows[1:], name, known[name], *place) for name, place in places.items()}


def _places(path: Path, headings: Sequence[Any], columns: dict[str, str]) -> dict[str, tuple[int, str]]:
    places: dict[str, tuple[int, str]] = {}
    for i, heading in enumerate(headings):
        match = _HEADING.fullmatch("" if heading is None else str(heading))
        if match is None or match[1] not in columns:
            continue
        if match[1] in places:
            raise InputError(f"{path}, line 1: the column {match[1]!r} stands twice.")
        places[match[1]] = (i, match[2] or "")
    return places


def _column(path: Path, body: Rows, name: str, dimension: str, place: int, unit: str) -> Array:
    numbers = np.empty(len(body))
    for k, (line, cells) in enumerate(body):
        where = f"{path}, line {line}, column {place + 1} ({name})"
        numbers[k] = as_number(cell_text(cells, place, where), where)
    if not unit:
        return numbers
    scale = [one_in_si(f"{x} {unit}", dimension, f"{path}, line 1: the unit of {name}") for x in (0.0, 1.0)]
    return np.asarray(scale[0] + (scale[1] - scale[0]) * numbers)


def pure_measurements(data: str | Path | Mapping[str, tuple[Any, Any]]) -> dict[str, tuple[Array, Array]]:
    """Measured vapor pressures ``P`` and liquid densities ``density``, each with its temperatures, in SI.

    Raises
    ------
    InputError
        If a file can't be read or has neither, or a name in a mapping is another.
    """
    known = {"P": "pressure", "density": "density"}
    if isinstance(data, (str, Path)):
        columns = read_columns(data, {"T": "temperature"}, known)
        found = {name: (columns["T"], columns[name]) for name in known if name in columns}
        if not found:
            raise InputError(f"{data} has no column P or density beside T. Head one with its unit, such as 'P [Pa]'.")
        return found
    if not isinstance(data, Mapping) or not all(is_list(entry) and len(entry) == 2 for entry in data.values()):
        raise InputError(f"Measured values are a file, or a mapping such as {{'P': (T, P)}}; got {short(data)}.")
    if strange := set(data) - set(known):
        raise InputError(f"Measured values are of {' or '.join(known)}, not of {', '.join(sorted(map(str, strange)))}.")
    return {
        name: (np.atleast_1d(to_si(T, "temperature", "T")), np.atleast_1d(to_si(values, known[name], name)))
        for name, (T, values) in data.items()
    }
