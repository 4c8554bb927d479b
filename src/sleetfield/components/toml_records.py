"""Records in TOML files: one ``[[component]]`` table for each.

    [[component]]
    name = "pentyl sleetate"
    formula = "C7H14O2"
    source = "lab 2"                       # of every value that names none itself
    Tc = "612 K"
    Pc = { value = 29.5, unit = "bar", source = "supplier's sheet" }
    omega = 0.45                           # a number alone is in SI

    [component.vapor_pressure]             # log, T and P say how an Antoine equation was printed; without them it is ln, K and Pa
    equation = "antoine"
    log = "log10"
    T = "degC"
    P = "mmHg"
    coefficients = [7.21, 1596.0, 210.0]
    T_min = "20 degC"
    T_max = "140 degC"

Nothing that a file says is evaluated. An error names the file and the line.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

from ..errors import InputError, SleetfieldError
from ..files import parse_toml, read_text
from ..units import one_in_si, unit_of
from .component import IDENTITY, Component, checked
from .quantities import CONSTANTS, CORRELATIONS, antoine
from .record import Equation, Record, assemble, record_of

_PUBLISHED = ("log", "T", "P")
_EQUATION_KEYS = ("equation", "coefficients", "T_min", "T_max", "source", *_PUBLISHED)


def records_in(path: Path) -> list[Record]:
    """The records of a file.

    Raises
    ------
    InputError
        If it can't be read or says something impossible, with the line.
    """
    text = read_text(path)
    content = parse_toml(text, str(path))
    strange = [key for key in content if key != "component"]
    tables = content.get("component", [])
    if strange or not isinstance(tables, list) or not all(isinstance(t, dict) for t in tables):
        raise InputError(f"{path} must hold [[component]] tables alone{f', not {strange[0]!r}' if strange else ''}.")
    records = []
    names: set[str] = set()
    for i, table in enumerate(tables):
        record = _record(path, text, i, table)
        if record.name.lower() in names:
            raise InputError(f"{path}, line {_line(text, i, 'name')}: the component {record.name!r} is there twice.")
        names.add(record.name.lower())
        records.append(record)
    return records


def _line(text: str, number: int, key: str) -> int:
    """The line of a key in the ``number``-th component table; the table's own line where the key is not found."""
    count, header = -1, 1
    for i, line in enumerate(text.splitlines(), start=1):
        if re.match(r"\s*\[\[\s*component\s*\]\]", line):
            count, header = count + 1, i if count + 1 <= number else header
        elif count == number and re.match(rf"\s*\[?\"?(component\.)?{re.escape(key)}\b", line):
            return i
    return header


def _record(path: Path, text: str, number: int, table: dict[str, Any]) -> Record:
    name = table.get("name")
    if not isinstance(name, str) or not name.strip():
        raise InputError(f"{path}, line {_line(text, number, 'name')}: the component has no name.")
    record = Record(name.strip(), {}, {}, {})
    for key, entry in table.items():
        try:
            record = _with_entry(record, key, entry, str(table.get("source", f"given in {path.name}")))
        except SleetfieldError as error:
            raise InputError(f"{path}, line {_line(text, number, key)}: {error}") from error
    return record


def _with_entry(record: Record, key: str, entry: Any, fallback: str) -> Record:
    """A record with what one key of its table says."""
    if key in IDENTITY:
        return replace(record, identity={**record.identity, key: _identity(key, entry)})
    if key in ("name", "source"):
        return record
    if key not in CONSTANTS and key not in CORRELATIONS:
        known = ", ".join(("name", "source", *IDENTITY, *CONSTANTS, *CORRELATIONS))
        raise InputError(f"there is no quantity {key!r}; there are {known}")
    value = _constant(record.name, key, entry) if key in CONSTANTS else _equation(record.name, key, entry)
    own = entry.get("source") if isinstance(entry, dict) else None
    sources = {**record.sources, key: str(own if own is not None else fallback)}
    return replace(record, values={**record.values, key: value}, sources=sources)


def component_of(table: Mapping[str, Any]) -> Component:
    """The component that a table of `table_of` is.

    Raises
    ------
    InputError
        If something in it is strange or impossible.
    """
    layers = table.get("layers", {})
    record = Record(str(table["name"]), {}, {}, {})
    for key, entry in table.items():
        if key not in ("layers", "layer"):
            record = _with_entry(record, key, entry, "")
    return replace(assemble([("", record)]), layers=dict(layers), layer=str(table["layer"]))


def table_of(component: Component) -> dict[str, Any]:
    """Everything that a component is, as plain values, with the layers that it came from.

    Raises
    ------
    InputError
        If a correlation is of a class that files don't know.
    """
    try:
        record = record_of(component)
    except KeyError as error:
        raise InputError(f"{component.name} has a correlation of {error.args[0].__name__}, which no file can hold.") from None
    layers = {key: layer for key, layer in component.layers.items() if layer != component.layer}
    return {**_table(record), "layer": component.layer, **({"layers": layers} if layers else {})}


def _identity(key: str, entry: Any) -> Any:
    if key == "aliases":
        if not isinstance(entry, list) or not all(isinstance(a, str) for a in entry):
            raise InputError(f"aliases must be a list of texts; got {entry!r}.")
        return tuple(entry)
    if not isinstance(entry, str):
        raise InputError(f"{key} must be text; got {entry!r}.")
    return entry


def _constant(name: str, key: str, entry: Any) -> float:
    if isinstance(entry, dict):
        strange = set(entry) - {"value", "unit", "source"}
        if strange or "value" not in entry:
            raise InputError(f"{key} takes value, unit and source; got {', '.join(entry) or 'nothing'}.")
        unit = entry.get("unit")
        entry = entry["value"] if unit is None else f"{_number(key, entry['value'])!r} {unit}"
    return checked(entry if isinstance(entry, str) else _number(key, entry), key, name)


def _number(key: str, value: Any) -> float:
    if isinstance(value, bool) or not isinstance(value, (int, float)) or not -1e300 < value < 1e300:
        raise InputError(f"{key} is {value!r}, which is no finite number.")
    return float(value)


def _equation(name: str, key: str, entry: Any) -> Equation:
    if not isinstance(entry, dict) or not {"equation", "coefficients", "T_min", "T_max"} <= set(entry):
        raise InputError(f"{key} takes equation, coefficients, T_min and T_max; got {entry!r}.")
    if strange := set(entry) - set(_EQUATION_KEYS):
        raise InputError(f"{key} takes {', '.join(_EQUATION_KEYS)}; got {', '.join(sorted(strange))}.")
    numbers = entry["coefficients"]
    if not isinstance(numbers, list):
        raise InputError(f"The coefficients of {key} are {numbers!r}; they must be a list of numbers.")
    coefficients = tuple(_number(f"a coefficient of {key}", c) for c in numbers)
    low, high = (one_in_si(entry[k], "temperature", f"{k} of {key}") for k in ("T_min", "T_max"))
    published = {k: str(entry[k]) for k in _PUBLISHED if k in entry}
    if published:
        if entry["equation"] != "antoine" or len(coefficients) != 3:
            raise InputError("log, T and P belong to the antoine equation and its three coefficients.")
        coefficients = antoine(*coefficients, **published, T_min=low, T_max=high).coefficients  # type: ignore[arg-type]
    return Equation(str(entry["equation"]), coefficients, low, high)


def as_toml(records: Sequence[Record]) -> str:
    """Records as the text of a TOML file, full precision, in SI."""
    import tomli_w

    return tomli_w.dumps({"component": [_table(record) for record in records]})


def _table(record: Record) -> dict[str, Any]:
    table: dict[str, Any] = {"name": record.name}
    table |= {key: list(v) if key == "aliases" else v for key, v in record.identity.items()}
    for key, value in record.values.items():
        source = record.sources.get(key, "")
        if isinstance(value, Equation):
            table[key] = {
                "equation": value.name,
                "coefficients": list(value.coefficients),
                "T_min": value.T_min,
                "T_max": value.T_max,
                "source": source,
            }
        else:
            unit = unit_of(CONSTANTS[key].dimension)
            table[key] = {"value": value, **({"unit": unit} if unit else {}), "source": source}
    return table
