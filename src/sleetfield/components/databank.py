"""The shipped databank: plain CSV and TOML, read once, when first needed."""

from __future__ import annotations

import csv
import difflib
import functools
import re
import tomllib
from collections import defaultdict
from collections.abc import Iterator
from importlib import resources
from typing import Any

from ..core.correlations.contract import Correlation
from ..core.correlations.heat_capacity import Polynomial, ReducedPolynomial
from ..core.correlations.vapor_pressure import Antoine, ExtendedAntoine, Wagner
from ..errors import UnknownComponentError
from .component import Component
from .formula import elements

EQUATIONS: dict[str, type[Correlation]] = {
    "antoine": Antoine,
    "extended_antoine": ExtendedAntoine,
    "wagner": Wagner,
    "polynomial": Polynomial,
    "reduced_polynomial": ReducedPolynomial,
}
"""The names that correlations have in the data files."""

LAYER = "shipped"


@functools.cache
def databank() -> Databank:
    """The shipped databank."""
    return Databank()


class Databank:
    """Components by name, alias, CAS number or formula.

    Examples
    --------
    >>> from sleetfield import databank
    >>> databank().find("MEK").name
    'methyl ethyl ketone'
    >>> databank().find("7732-18-5").name
    'water'

    """

    def __init__(self) -> None:
        files = {name: read_table(f"{name}.csv") for name in ("components", "constants", "vapor_pressure", "heat_capacity")}
        self.sources: dict[str, dict[str, Any]] = tomllib.loads(_text("sources.toml"))
        records: dict[str, dict[str, Any]] = {
            r["name"]: {
                "formula": r["formula"],
                "cas": r["cas"],
                "aliases": tuple(a for a in r["aliases"].split(";") if a),
                "sources": {},
            }
            for r in files["components"]
        }
        for r in files["constants"]:
            records[r["name"]][r["quantity"]] = float(r["value"])
            records[r["name"]]["sources"][r["quantity"]] = self.sources[r["source"]]["text"]
        for key in ("vapor_pressure", "heat_capacity"):
            for r in files[key]:
                records[r["name"]][key] = _correlation(r)
                records[r["name"]]["sources"][key] = self.sources[r["source"]]["text"]
        self._components = {name: Component(name=name, layer=LAYER, **record) for name, record in records.items()}
        self._index: dict[str, str] = {}
        self._formulas: defaultdict[frozenset[tuple[str, int]], list[str]] = defaultdict(list)
        for name, component in self._components.items():
            for key in (name, component.cas, *component.aliases):
                self._index.setdefault(_key(key), name)
            atoms = elements(component.formula)
            if atoms:
                self._formulas[frozenset(atoms.items())].append(name)

    def __iter__(self) -> Iterator[Component]:
        return iter(self._components.values())

    def __len__(self) -> int:
        return len(self._components)

    def find(self, text: str) -> Component:
        """The component that ``text`` names: a name, alias, CAS number, or a formula that only one component has.

        Raises
        ------
        UnknownComponentError
            If there is none, with the nearest names, or if a formula fits several.

        """
        found = self._index.get(_key(text))
        if found is None:
            isomers = self._by_formula(text)
            if len(isomers) > 1:
                raise UnknownComponentError(
                    f"The formula {text!r} fits {len(isomers)} components: {', '.join(isomers)}. Give a name."
                )
            found = isomers[0] if isomers else None
        if found is None:
            near = self.nearest(text)
            hint = f" Did you mean {' or '.join(near)}?" if near else ""
            raise UnknownComponentError(
                f"There is no component {text!r} in the databank.{hint} Search with `sleetfield components find {_first_word(text)}`, "
                "or make one with sl.Component(...)."
            )
        return self._components[found]

    def nearest(self, text: str, count: int = 3) -> list[str]:
        """Names of the components whose name or alias is spelled most nearly like ``text``."""
        keys = difflib.get_close_matches(_key(text), self._index, n=3 * count, cutoff=0.6)
        return list(dict.fromkeys(self._index[k] for k in keys))[:count]

    def search(self, text: str) -> list[Component]:
        """Every component that ``text`` could mean: exact first, then formula, part of a name or alias, then near spellings."""
        key = _key(text)
        names = [self._index[key]] if key in self._index else []
        names += self._by_formula(text)
        if key:
            names += [name for other, name in self._index.items() if key in other]
        if not names:
            names = self.nearest(text, 8)
        return [self._components[n] for n in dict.fromkeys(names)]

    def _by_formula(self, text: str) -> list[str]:
        atoms = elements(text.strip())
        return self._formulas.get(frozenset(atoms.items()), []) if atoms else []


def _first_word(text: str) -> str:
    words = text.split()
    return words[0] if words else "water"


def _key(text: str) -> str:
    """Text as it is compared: without case, and with white space and hyphens alike."""
    return re.sub(r"[\s_-]+", "-", text.strip().lower())


def _text(name: str) -> str:
    return resources.files("sleetfield.data").joinpath(name).read_text(encoding="utf-8")


def read_table(name: str) -> list[dict[str, str]]:
    """The records of one shipped CSV file."""
    return list(csv.DictReader(_text(name).splitlines()))


def _correlation(record: dict[str, str]) -> Correlation:
    coefficients = tuple(float(v) for k, v in record.items() if re.fullmatch(r"c\d", k) and v)
    return EQUATIONS[record["equation"]](coefficients, float(record["T_min"]), float(record["T_max"]))
