"""Components to and from files: ``.toml`` (see `toml_records`), ``.csv`` and ``.xlsx`` with a row for each.

Headings are quantities with their unit: ``name, formula, Tc [K], Pc [bar], omega, source``. A source of one value stands under ``Tc source``.
A correlation takes several columns: ``vapor_pressure equation``, ``vapor_pressure c1`` and on, ``vapor_pressure T_min [degC]``, ``vapor_pressure T_max [degC]``.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Sequence
from pathlib import Path
from typing import Any, NamedTuple

from ..arguments import guarded
from ..errors import InputError, SleetfieldError
from ..files import write_whole
from ..tabular import cell_text, kept_as_text, read_rows
from ..units import one_in_si, unit_of
from .component import IDENTITY, Component, checked
from .quantities import CONSTANTS, CORRELATIONS
from .record import Equation, Record, assemble, record_of
from .toml_records import as_toml, records_in

_HEADING = re.compile(r"\s*([^\[]*?)\s*(?:\[(.*)\])?\s*")
_PART = re.compile(rf"({'|'.join(CORRELATIONS)}) (equation|T_min|T_max|c[1-9]\d?)")
_MOST_COEFFICIENTS = 24


class _Column(NamedTuple):
    place: int
    unit: str


@guarded
def read_components(path: str | Path) -> list[Component]:
    """The components of a ``.toml``, ``.csv`` or ``.xlsx`` file, each standing on its own.

    Raises
    ------
    InputError
        If the file can't be read or something in it is wrong, with file, line and column.
    """
    path = Path(path)
    records = records_in(path) if path.suffix.lower() == ".toml" else _table_records(path)
    return [assemble([(f"from {path.name}", record)]) for record in records]


@guarded
def write_components(components: Iterable[Component], path: str | Path, *, overwrite: bool = False) -> Path:
    """Components into a ``.toml`` or ``.csv`` file, full precision, in SI, with every source.

    Raises
    ------
    InputError
        If the suffix is another one, or the file exists or can't be written.
    """
    path = Path(path)
    records = [record_of(component) for component in components]
    if path.suffix.lower() == ".toml":
        text = as_toml(records)
    elif path.suffix.lower() == ".csv":
        text = _as_csv(records)
    else:
        raise InputError(f"{path} is neither .toml nor .csv, which components can be written to.")
    write_whole(path, text.encode(), overwrite)
    return path


def _table_records(path: Path) -> list[Record]:
    rows = read_rows(path)
    columns = _columns(path, rows[0][1])
    if "name" not in columns:
        raise InputError(f"{path} has no column 'name'.")
    records: dict[str, Record] = {}
    for line, cells in rows[1:]:
        texts = {
            heading: cell_text(cells, column.place, f"{path}, line {line}, column {column.place + 1} ({heading})")
            for heading, column in columns.items()
        }
        record = _row_record(path, line, texts, columns)
        if record.name.lower() in records:
            raise InputError(f"{path}, line {line}: the component {record.name!r} is there twice.")
        records[record.name.lower()] = record
    return list(records.values())


def _columns(path: Path, headings: Sequence[Any]) -> dict[str, _Column]:
    columns: dict[str, _Column] = {}
    for place, heading in enumerate(headings):
        if heading is None or not str(heading).strip():
            continue
        match = _HEADING.fullmatch(str(heading))
        text = match[1] if match else str(heading)
        if not (text in ("name", "source", *IDENTITY, *CONSTANTS) or _PART.fullmatch(text) or _is_source(text)):
            known = ", ".join(("name", "source", *IDENTITY, *CONSTANTS, "vapor_pressure equation"))
            raise InputError(f"{path}, line 1, column {place + 1}: there is no quantity {text!r}. Headings are {known}, ...")
        if text in columns:
            raise InputError(f"{path}, line 1, column {place + 1}: the column {text!r} stands twice.")
        columns[text] = _Column(place, (match[2] if match else "") or "")
    return columns


def _is_source(heading: str) -> bool:
    key, _, last = heading.rpartition(" ")
    return last == "source" and (key in CONSTANTS or key in CORRELATIONS)


def _row_record(path: Path, line: int, texts: dict[str, str], columns: dict[str, _Column]) -> Record:
    name = texts["name"].removeprefix("'")
    if not name:
        raise InputError(f"{path}, line {line}, column {columns['name'].place + 1} (name): the component has no name.")
    identity: dict[str, Any] = {k: texts[k].removeprefix("'") for k in IDENTITY if texts.get(k)}
    if "aliases" in identity:
        identity["aliases"] = tuple(a.strip() for a in identity["aliases"].split(";") if a.strip())

    def si(heading: str, dimension: str) -> float:
        unit = columns[heading].unit
        text = texts[heading]
        try:
            float(text)
        except ValueError:
            raise InputError(f"{text[:40]!r} is no number") from None
        return one_in_si(f"{text} {unit}" if unit else float(text), dimension, heading)

    values: dict[str, float | Equation] = {}
    heading = "name"
    try:
        for heading in (k for k in CONSTANTS if texts.get(k)):
            values[heading] = checked(si(heading, CONSTANTS[heading].dimension), heading, name)
        for key in CORRELATIONS:
            heading = f"{key} equation"
            if not texts.get(heading):
                continue
            numbers = []
            for heading in (f"{key} c{i}" for i in range(1, _MOST_COEFFICIENTS + 1)):
                if texts.get(heading):
                    numbers.append(si(heading, "fraction"))
            limits = []
            for heading in (f"{key} T_min", f"{key} T_max"):
                if not texts.get(heading):
                    raise InputError("a correlation needs its range")
                limits.append(si(heading, "temperature"))
            values[key] = Equation(texts[f"{key} equation"], tuple(numbers), limits[0], limits[1])
    except SleetfieldError as error:
        place = columns[heading].place + 1 if heading in columns else "missing"
        raise InputError(f"{path}, line {line}, column {place} ({heading}): {error}") from error
    fallback = texts.get("source") or f"given in {path.name}"
    return Record(name, identity, values, {key: texts.get(f"{key} source") or fallback for key in values})


def _as_csv(records: Sequence[Record]) -> str:
    rows = [_flat(record) for record in records]
    used = {heading for row in rows for heading in row}
    headings = [heading for heading in _headings() if heading in used]
    out = io.StringIO()
    writer = csv.DictWriter(out, headings, restval="", lineterminator="\n")
    writer.writeheader()
    for row in rows:
        writer.writerow({k: kept_as_text(v) for k, v in row.items()})
    return out.getvalue()


def _headings() -> list[str]:
    """Every heading that a file can have, in order."""
    order = ["name", *IDENTITY]
    for key, constant in CONSTANTS.items():
        unit = unit_of(constant.dimension)
        order += [f"{key} [{unit}]" if unit else key, f"{key} source"]
    for key in CORRELATIONS:
        order += [f"{key} equation", *(f"{key} c{i}" for i in range(1, _MOST_COEFFICIENTS + 1))]
        order += [f"{key} T_min [K]", f"{key} T_max [K]", f"{key} source"]
    return order


def _flat(record: Record) -> dict[str, Any]:
    row: dict[str, Any] = {"name": record.name}
    row |= {key: ";".join(v) if key == "aliases" else v for key, v in record.identity.items()}
    for key, value in record.values.items():
        row[f"{key} source"] = record.sources.get(key, "")
        if isinstance(value, Equation):
            row[f"{key} equation"] = value.name
            row |= {f"{key} c{i}": c for i, c in enumerate(value.coefficients, start=1)}
            row |= {f"{key} T_min [K]": value.T_min, f"{key} T_max [K]": value.T_max}
        else:
            unit = unit_of(CONSTANTS[key].dimension)
            row[f"{key} [{unit}]" if unit else key] = value
    return row
