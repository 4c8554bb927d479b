"""What salts, acids, bases and gases become in water: ions and other solutes, solids and gases with their standard potentials, and what people call what they add."""

from __future__ import annotations

import difflib
import functools
import re
from typing import NamedTuple

from ..errors import UnknownComponentError
from .databank import read_table
from .formula import ATOMIC_WEIGHTS, elements

SOLUTE, SOLID, GAS = ("ion", "neutral"), "solid", "gas"
WATER_MU = -95.6635
"""Standard potential of water over RT at 25 °C, in the table of Harvie, Møller and Weare."""
_OXIDATION = {"H": 1, "O": -2, "Na": 1, "K": 1, "Mg": 2, "Ca": 2, "Cl": -1, "S": 6, "C": 4}
"""States of oxidation that elements keep in solution."""


class Species(NamedTuple):
    """One of them: its name, atoms, charge, what it is, and its standard potential over RT at 25 °C, on molality, or 1 bar of a gas."""

    name: str
    atoms: dict[str, int]
    charge: int
    kind: str
    mu: float
    source: str


class Reagent(NamedTuple):
    """What is added to water: its name and its atoms."""

    name: str
    atoms: dict[str, int]

    @property
    def molar_mass(self) -> float:
        """kg/mol."""
        return sum(ATOMIC_WEIGHTS[symbol] * count for symbol, count in self.atoms.items()) / 1000.0


def _atoms(formula: str) -> dict[str, int]:
    counted = elements(formula)
    assert counted is not None, formula
    return dict(counted)


@functools.cache
def all_species() -> tuple[Species, ...]:
    """Every one of the table."""
    return tuple(
        Species(r["name"], _atoms(r["formula"]), int(r["charge"]), r["kind"], float(r["mu"]), r["source"])
        for r in read_table("species.csv")
    )


@functools.cache
def _reagents() -> dict[str, Reagent]:
    found = {r["name"]: Reagent(r["name"], _atoms(r["formula"])) for r in read_table("reagents.csv")}
    return found | {s.name: Reagent(s.name, s.atoms) for s in all_species() if s.kind in (SOLID, GAS)}


def reagent(name: str) -> Reagent:
    """What is added by a name, a mineral's name or a formula.

    Raises
    ------
    UnknownComponentError
        If it is none, has an element that no species has, or one in another state of oxidation.

    Examples
    --------
    >>> reagent("calcium chloride").atoms, round(1e3 * reagent("NaCl").molar_mass, 2)
    ({'Ca': 1, 'Cl': 2}, 58.44)

    """
    known = _reagents()
    if name.strip() in known:
        return known[name.strip()]
    counted = elements(re.sub(r"\s", "", name))
    if counted is None:
        near = difflib.get_close_matches(name.strip().lower(), known, n=3, cutoff=0.6)
        hint = f" Did you mean {' or '.join(near)}?" if near else ""
        raise UnknownComponentError(f"There is no {name!r} to add to water.{hint} A formula such as Na2SO4 does too.")
    strange = [symbol for symbol in counted if symbol not in _OXIDATION]
    if strange:
        raise UnknownComponentError(f"{name} has {strange[0]}, which no species here has. Elements are {', '.join(_OXIDATION)}.")
    if charge := sum(_OXIDATION[symbol] * count for symbol, count in counted.items()):
        raise UnknownComponentError(
            f"{name} is no sum of the ions here: with {', '.join(f'{s}{_OXIDATION[s]:+d}' for s in counted)} its charge would be {charge:+d}."
        )
    return Reagent(name.strip(), dict(counted))


def species_of(symbols: set[str]) -> tuple[tuple[Species, ...], tuple[Species, ...]]:
    """Solutes, and solids and gases, of elements and those of water."""
    there = symbols | {"H", "O"}
    kept = [s for s in all_species() if set(s.atoms) <= there]
    return tuple(s for s in kept if s.kind in SOLUTE), tuple(s for s in kept if s.kind not in SOLUTE)
