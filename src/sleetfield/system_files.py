"""Systems as plain values and files: everything that makes one, to the last digit.

sleetfield = 1                      # the version of this form
units = "SI"
transport = { "gas viscosity" = "Lucas" }   # where methods are not the usual ones

[model]
eos = "PR"

[[component]]                       # as in the databank's files, and the layer that each value came from
name = "methane"
...

[[parameter]]
symbol = "kij"
of = ["nitrogen", "methane"]
value = 0.0311                      # or coefficients by term: { "1" = 0.19, T = -1.6e-4 }
source = "..."
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from .components.component_list import ComponentList
from .components.toml_records import component_of, table_of
from .errors import InputError, SleetfieldError
from .files import parse_toml, read_text
from .mixture import Mixture
from .recipes import Model

VERSION = 1
"""Of the form; a file of another one is refused."""

_KEYS = {"sleetfield", "units", "transport", "model", "component", "parameter"}


def plain(system: Mixture) -> dict[str, Any]:
    """Everything that makes a system."""
    model = system.model.to_dict()
    return {
        "sleetfield": VERSION,
        "units": system.units,
        **({"transport": dict(system.transport_methods)} if system.transport_methods else {}),
        "model": model["model"],
        "component": [table_of(c) for c in system.components],
        "parameter": model["parameter"],
    }


Parts = tuple[ComponentList, Model, str, dict[str, str]]
"""Components, model, units and methods of transport properties."""


def parts(given: Mapping[str, Any], where: str = "This") -> Parts:
    """What makes a system from what `plain` gives.

    Raises
    ------
    InputError
        If it is of another version, or something is missing, strange or impossible.
    """
    version = given.get("sleetfield")
    if version != VERSION:
        raise InputError(f"{where} is no system of version {VERSION} of the form (sleetfield = {version!r}).")
    if strange := sorted(set(given) - _KEYS):
        raise InputError(f"{where} has {strange[0]!r}, which no system has; it has {', '.join(sorted(_KEYS))}.")
    tables = given.get("component")
    if not isinstance(tables, list) or not all(isinstance(t, Mapping) for t in tables):
        raise InputError(f"{where} has no list of components.")
    try:
        who = ComponentList([component_of(t) for t in tables])
        return who, Model.from_dict(given, who.names), str(given.get("units", "SI")), dict(given.get("transport", {}))
    except SleetfieldError as error:
        raise InputError(f"{where}: {error}") from error
    except (TypeError, ValueError, AttributeError, KeyError) as error:
        raise InputError(f"{where} is damaged: {error!r}.") from error


def as_toml(system: Mixture) -> bytes:
    """The text of a TOML file of a system."""
    import tomli_w

    return tomli_w.dumps(plain(system)).encode()


def as_json(system: Mixture) -> bytes:
    """The text of a JSON file of a system."""
    return json.dumps(plain(system), indent=2, ensure_ascii=False, allow_nan=False).encode()


def read(path: Path) -> Parts:
    """What makes a system from a .toml or .json file.

    Raises
    ------
    InputError
        If it can't be read or holds no system.
    """
    if path.suffix.lower() not in (".toml", ".json"):
        raise InputError(f"{path} is no file that a system is kept in; those end in .toml or .json.")
    parse = parse_toml if path.suffix.lower() == ".toml" else _parse_json
    content = parse(read_text(path), f"{path} is damaged")
    if not isinstance(content, Mapping):
        raise InputError(f"{path} holds no system.")
    return parts(content, str(path))


def _parse_json(text: str, where: str) -> Any:
    try:
        return json.loads(text, parse_constant=_no_number)
    except json.JSONDecodeError as error:
        raise InputError(f"{where}: {error}.") from error
    except RecursionError:
        raise InputError(f"{where}: it is nested too deeply to be read.") from None


def _no_number(text: str) -> float:
    raise InputError(f"A file of a system has {text}, which is no finite number.")
