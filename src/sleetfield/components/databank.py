"""The databank: what is shipped, overlaid by the user's folder and the case's folder. Each is read once, when first needed."""

from __future__ import annotations

import csv
import difflib
import functools
import os
import tomllib
import warnings
from collections import defaultdict
from collections.abc import Iterator, Mapping
from importlib import resources
from pathlib import Path
from typing import Any

from ..errors import InputError, SleetfieldWarning, UnknownComponentError
from ..files import each_readable
from .component import Component
from .formula import elements
from .quantities import CORRELATIONS
from .record import Equation, Record, assemble
from .toml_records import records_in

SHIPPED, USER, CASE = "shipped", "user", "case"
LAYERS = (SHIPPED, USER, CASE)
"""The layers; of two that give a value, the later one wins."""

FOLDER_VARIABLE = "SLEETFIELD_COMPONENTS"


def layer_folder(layer: str) -> Path:
    """The folder of the "user" layer (see `FOLDER_VARIABLE` to have it elsewhere) or the "case" layer (in the working folder)."""
    return folder_of(layer, "components", FOLDER_VARIABLE)


def folder_of(layer: str, kind: str, variable: str) -> Path:
    """The folder where a layer has records of a kind; ``variable`` of the environment has the user's elsewhere.

    Raises
    ------
    InputError
        If it is no layer that can be written to.
    """
    if layer == CASE:
        return Path.cwd() / f"sleetfield-{kind}"
    if layer != USER:
        raise InputError(f"{layer!r} is no layer that can be changed. There are {USER!r} and {CASE!r}.")
    chosen = os.environ.get(variable)
    if chosen:
        return Path(chosen)
    import platformdirs

    return Path(platformdirs.user_data_dir("sleetfield", appauthor=False)) / kind


def databank() -> Databank:
    """The databank as it is now: shipped, then the user's folder, then the case's."""
    folders = {layer: layer_folder(layer) for layer in (USER, CASE)}
    return _overlaid(tuple((layer, folder, folder_state(folder)) for layer, folder in folders.items()))


def folder_state(folder: Path) -> tuple[tuple[str, int, int], ...]:
    """What tells whether a folder has changed; empty where there is none."""
    try:
        with os.scandir(folder) as entries:
            found = [(e.name, e.stat().st_mtime_ns, e.stat().st_size) for e in entries if e.name.endswith(".toml")]
    except OSError:
        return ()
    return tuple(sorted(found))


@functools.lru_cache(maxsize=8)
def _overlaid(folders: tuple[tuple[str, Path, tuple[tuple[str, int, int], ...]], ...]) -> Databank:
    layers: dict[str, Mapping[str, Record]] = {SHIPPED: shipped()}
    for layer, folder, state in folders:
        if state:
            layers[layer] = folder_records(folder)
    return Databank(layers)


def folder_records(folder: Path) -> dict[str, Record]:
    """The records of a folder's TOML files, by name; a damaged file, and a component that an earlier file has too, are passed over with a warning."""
    found: dict[str, Record] = {}
    origin: dict[str, Path] = {}
    for path, records in each_readable(folder, ".toml", records_in):
        for record in records:
            key = name_key(record.name)
            if key in origin:
                also = f"{path} has the component {record.name!r}, which {origin[key]} has too and which is taken from there. Take it out of one of them."
                warnings.warn(also, SleetfieldWarning, stacklevel=2)
                continue
            origin[key] = path
            found[record.name] = record
    return found


class Databank:
    """Components by name, alias, CAS number or formula.

    Parameters
    ----------
    layers : mapping of str to mapping of str to Record
        Records by name, by layer; the later layer wins value by value.

    Examples
    --------
    >>> from sleetfield import databank
    >>> databank().find("MEK").name
    'methyl ethyl ketone'
    >>> databank().find("7732-18-5").name
    'water'

    """

    def __init__(self, layers: Mapping[str, Mapping[str, Record]]) -> None:
        self._layers = layers
        self._names: dict[str, dict[str, str]] = {}
        """By key of the component: its name in each layer that has it."""
        for layer, records in layers.items():
            for name in records:
                self._names.setdefault(name_key(name), {})[layer] = name
        self._made: dict[str, Component] = {}
        self._index: dict[str, str] = {key: key for key in self._names}
        # the last layer's aliases first: of two that claim one, the later layer wins
        for records in reversed(list(layers.values())):
            identities = records.identities if isinstance(records, Shipped) else {n: r.identity for n, r in records.items()}
            for name, identity in identities.items():
                for text in (identity.get("cas", ""), *identity.get("aliases", ())):
                    if text:
                        self._index.setdefault(name_key(text), name_key(name))

    def _get(self, key: str) -> Component:
        if key not in self._made:
            self._made[key] = assemble([(layer, self._layers[layer][name]) for layer, name in self._names[key].items()])
        return self._made[key]

    @functools.cached_property
    def _formulas(self) -> dict[frozenset[tuple[str, int]], list[str]]:
        found: defaultdict[frozenset[tuple[str, int]], list[str]] = defaultdict(list)
        for component in self:
            atoms = elements(component.formula)
            if atoms:
                found[frozenset(atoms.items())].append(component.name)
        return found

    def below(self, layer: str, name: str) -> Component | None:
        """What the layers before ``layer`` make of a component; None where they don't have it."""
        earlier = LAYERS[: LAYERS.index(layer)]
        there = {k: n for k, n in self._names.get(name_key(name), {}).items() if k in earlier}
        return assemble([(k, self._layers[k][n]) for k, n in there.items()]) if there else None

    def __iter__(self) -> Iterator[Component]:
        return (self._get(key) for key in self._names)

    def __len__(self) -> int:
        return len(self._names)

    def find(self, text: str) -> Component:
        """The component that ``text`` names: a name, alias, CAS number, or a formula that only one component has.

        Raises
        ------
        UnknownComponentError
            If there is none, with the nearest names, or if a formula fits several.

        """
        found = self._index.get(name_key(text))
        if found is None:
            isomers = self._by_formula(text)
            if len(isomers) > 1:
                raise UnknownComponentError(
                    f"The formula {text!r} fits {len(isomers)} components: {', '.join(isomers)}. Give a name."
                )
            found = name_key(isomers[0]) if isomers else None
        if found is None:
            near = self.nearest(text)
            hint = f" Did you mean {' or '.join(near)}?" if near else ""
            raise UnknownComponentError(
                f"There is no component {text!r} in the databank.{hint} Search with `sleetfield components find {_first_word(text)}`, "
                "or make one with sl.Component(...)."
            )
        return self._get(found)

    def nearest(self, text: str, count: int = 3) -> list[str]:
        """Names of the components whose name or alias is spelled most nearly like ``text``."""
        keys = difflib.get_close_matches(name_key(text), self._index, n=3 * count, cutoff=0.6)
        return [self._get(k).name for k in dict.fromkeys(self._index[k] for k in keys)][:count]

    def search(self, text: str) -> list[Component]:
        """Every component that ``text`` could mean: exact first, then formula, part of a name or alias, then near spellings."""
        key = name_key(text)
        keys = [self._index[key]] if key in self._index else []
        keys += [name_key(name) for name in self._by_formula(text)]
        if key:
            keys += [found for other, found in self._index.items() if key in other]
        if not keys:
            keys = [name_key(name) for name in self.nearest(text, 8)]
        return [self._get(k) for k in dict.fromkeys(keys)]

    def _by_formula(self, text: str) -> list[str]:
        atoms = elements(text.strip())
        return self._formulas.get(frozenset(atoms.items()), []) if atoms else []


def _first_word(text: str) -> str:
    words = text.split()
    return words[0] if words else "water"


def name_key(text: str) -> str:
    """Text as it is compared: without case, and with white space and hyphens alike."""
    return "-".join(text.lower().replace("_", " ").replace("-", " ").split())


def _text(name: str) -> str:
    return resources.files("sleetfield.data").joinpath(name).read_text(encoding="utf-8")


def read_table(name: str) -> list[dict[str, str]]:
    """The records of one shipped CSV file."""
    return list(csv.DictReader(_text(name).splitlines()))


@functools.cache
def _sources() -> dict[str, dict[str, Any]]:
    return tomllib.loads(_text("sources.toml"))


def source_text(key: str) -> str:
    """What a key of the shipped files' sources stands for."""
    return str(_sources()[key]["text"])


@functools.cache
def shipped() -> Shipped:
    """The shipped records."""
    return Shipped()


class Shipped(Mapping[str, Record]):
    """The shipped records by name, each made when asked for."""

    def __init__(self) -> None:
        self.identities: dict[str, dict[str, Any]] = {
            r["name"]: {**r, "aliases": tuple(a for a in r["aliases"].split(";") if a)} for r in read_table("components.csv")
        }
        for identity in self.identities.values():
            del identity["name"]

    @functools.cached_property
    def _lines(self) -> dict[str, list[tuple[str, str]]]:
        """By component: every line of every file, with the quantity that the file is for; read as CSV when the component is asked for."""
        lines: dict[str, list[tuple[str, str]]] = {name: [] for name in self.identities}
        for file in ("constants", *CORRELATIONS):
            for line in _text(f"{file}.csv").splitlines()[1:]:
                name = line[1 : line.index('"', 1)] if line[0] == '"' else line[: line.index(",")]
                lines[name].append((file, line))
        return lines

    def __getitem__(self, name: str) -> Record:
        values: dict[str, float | Equation] = {}
        sources = {}
        files, lines = zip(*self._lines[name], strict=True)
        for file, (_, *cells, source) in zip(files, csv.reader(lines), strict=True):
            if file in CORRELATIONS:
                quantity = file
                equation, *numbers, low, high = cells
                values[quantity] = Equation(equation, tuple(float(n) for n in numbers if n), float(low), float(high))
            else:
                quantity = cells[0]
                values[quantity] = float(cells[1])
            sources[quantity] = source_text(source)
        return Record(name, self.identities[name], values, sources)

    def __iter__(self) -> Iterator[str]:
        return iter(self.identities)

    def __len__(self) -> int:
        return len(self.identities)


def numbers(text: str) -> float | tuple[float, ...]:
    """One number, or several with spaces between."""
    values = tuple(float(part) for part in text.split())
    return values[0] if len(values) == 1 else values
