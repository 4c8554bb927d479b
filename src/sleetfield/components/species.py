"""What salts, acids, bases and gases become in water: ions and other solutes, solids and gases with their standard potentials and heats, and what people call what they add."""

from __future__ import annotations

import difflib
import functools
import itertools
import math
import re
from collections.abc import Mapping, Sequence
from typing import NamedTuple

import numpy as np

from ..arguments import short
from ..core.constants import T_REFERENCE, R
from ..core.correlations.together import together
from ..core.electrolyte.contract import M_WATER
from ..core.electrolyte.water import CRITICAL_TEMPERATURE, vapor_pressure
from ..errors import InputError, UnknownComponentError
from ..units import one_in_si
from .component import Component
from .databank import databank, read_table
from .formula import elements, molar_mass

SOLUTE, SOLID, GAS = ("ion", "neutral"), "solid", "gas"
BAR = 1e5
_STATES: dict[str, tuple[int, ...]] = {
    "H": (1,), "O": (-2,), "Na": (1,), "K": (1,), "Mg": (2,), "Ca": (2,), "Sr": (2,), "Ba": (2,), "Cl": (-1,), "C": (4,), "S": (6, 4, -2), "N": (-3, 5),
}  # fmt: skip
"""States of oxidation that elements keep in solution. One that can be in several counts as an element of its own in each, ``S(6)``: nothing is oxidized here."""
_WITHOUT_ALKALINITY = {
    "Na": 1,
    "K": 1,
    "Mg": 2,
    "Ca": 2,
    "Sr": 2,
    "Ba": 2,
    "N(-3)": 1,
    "N(5)": -1,
    "Cl": -1,
    "S(6)": -2,
    "S(4)": -1,
}
"""Charges of what elements are in where they count for no alkalinity."""


class Dissolving(NamedTuple):
    """How which gas dissolves: as which solute, by which Henry's constant, and the solute's volume, m3/mol.

    ln(kH/P_w) = A/Tr + B (1 - Tr)^0.355/Tr + C Tr^-0.41 exp(1 - Tr)      (Fernandez-Prini, Alvarez and Harvey, J. Phys. Chem. Ref. Data 32 (2003) 903-916)
    """

    gas: str
    solute: str
    A: float
    B: float
    C: float
    volume: float

    def henrys_constant(self, T: float) -> float:
        """Fugacity over mole fraction at infinite dilution, beside water at its vapor pressure, Pa."""
        Tr = T / CRITICAL_TEMPERATURE
        reduced = self.A / Tr + self.B * (1.0 - Tr) ** 0.355 / Tr + self.C * Tr**-0.41 * math.exp(1.0 - Tr)
        return float(vapor_pressure(T)) * math.exp(reduced)


class Species(NamedTuple):
    """One of them: its name, atoms, charge, what it is; and at 25 °C, on molality, or 1 bar of a gas, its standard potential over RT, its heat of formation, J/mol, its heat capacity, J/(mol K), and of
    a solute its volume, m3/mol; NaN where these are not known.
    """

    name: str
    atoms: dict[str, int]
    charge: int
    kind: str
    mu: float
    h: float
    cp: float
    sources: tuple[str, ...]
    dissolving: Dissolving | None = None
    volume: float = math.nan

    @property
    def is_gas_too(self) -> bool:
        """Whether a solute is what a gas dissolves as."""
        return self.kind == "neutral" and any(s.kind == GAS and s.atoms == self.atoms for s in all_species())

    @property
    def alkalinity(self) -> int:
        """How many hydrogen ions it takes to come to metals' ions, NH4+, Cl-, SO4-2, NO3-, HSO3-, CO2 and H2S."""
        return sum(_WITHOUT_ALKALINITY.get(symbol, 0) * count for symbol, count in self.atoms.items()) - self.charge

    def mu_at(self, T: float) -> float:
        """Standard potential over RT at another temperature, with the same heat capacity: NaN where heats are not known. Of a gas and its solute one may have it by the Henry's constant from the other."""
        if self.dissolving is not None and math.isnan(self.mu):
            ln_K = math.log(self.dissolving.henrys_constant(T) * M_WATER / BAR)
            gas = self.kind == GAS
            return _named(self.dissolving.solute if gas else self.dissolving.gas).mu_at(T) + (-ln_K if gas else ln_K)
        if T == T_REFERENCE:
            return self.mu
        of_cp = math.log(T / T_REFERENCE) + T_REFERENCE / T - 1.0
        return self.mu + self.h / R * (1.0 / T - 1.0 / T_REFERENCE) - self.cp / R * of_cp


WATER = Species("water", {"H": 2, "O": 1}, 0, "solvent", -95.6635, -285.83e3, 75.291, ("hmw", "codata-key"))


class Hydrocarbon:
    """One beside the water, of which nothing dissolves: it counts as an element, and its potential is that of an ideal gas at 1 bar, from zero enthalpy and entropy at 25 °C."""

    charge, kind, sources = 0, GAS, ()

    def __init__(self, component: Component) -> None:
        self.name, self.molar_mass = component.name, component.molar_mass or math.nan
        self.atoms = {component.name: 1}
        self._heat_capacity = component.heat_capacity

    def mu_at(self, T: float) -> float:
        """Standard potential over RT."""
        (h,), (s,) = (part[0].tolist() for part in together((self._heat_capacity,), T_REFERENCE).integrals(np.array([T])))
        return float(h / (R * T) - s / R)


def hydrocarbon(name: str) -> Hydrocarbon | None:
    """The one of the databank that has this name, which is no formula, with what an equation of state and an enthalpy need; None where there is none."""
    if elements(name) is not None:
        return None
    try:
        c = databank().find(name)
    except UnknownComponentError:
        return None
    known = None not in (c.Tc, c.Pc, c.omega, c.heat_capacity, c.molar_mass)
    return Hydrocarbon(c) if known and set(elements(c.formula) or ()) == {"C", "H"} else None


class Reagent(NamedTuple):
    """What is added to water: its name and its atoms."""

    name: str
    atoms: dict[str, int]

    @property
    def molar_mass(self) -> float:
        """kg/mol."""
        return sum(_mass(symbol.partition("(")[0]) * count for symbol, count in self.atoms.items())


def _mass(symbol: str) -> float:
    beside = hydrocarbon(symbol)
    return (molar_mass(symbol) or 0.0) if beside is None else beside.molar_mass


def _atoms(formula: str, charge: int = 0) -> dict[str, int]:
    """Of a formula of the tables, or of several with + between them; in brackets one that nothing happens to, which counts as an element."""
    if formula.startswith("["):
        return {formula.strip("[]"): 1}
    found: dict[str, int] = {}
    for part in formula.split("+"):
        counted = elements(part)
        assert counted is not None, formula
        for symbol, count in _in_states(dict(counted), charge).items():
            found[symbol] = found.get(symbol, 0) + count
    return found


def _in_states(atoms: dict[str, int], charge: int = 0) -> dict[str, int]:
    """Atoms with the states of oxidation that make the charge.

    Raises
    ------
    ValueError
        If there are none.
    """
    for states in itertools.product(*(_STATES[symbol] for symbol in atoms)):
        if sum(state * count for state, count in zip(states, atoms.values(), strict=True)) == charge:
            several = [len(_STATES[symbol]) > 1 for symbol in atoms]
            names = [f"{s}({state})" if more else s for s, state, more in zip(atoms, states, several, strict=True)]
            return dict(zip(names, atoms.values(), strict=True))
    raise ValueError(atoms)


@functools.cache
def all_species() -> tuple[Species, ...]:
    """Every one of the table."""
    dissolving = {}
    for r in read_table("gas_solubilities.csv"):
        how = Dissolving(r["gas"], r["solute"], float(r["A"]), float(r["B"]), float(r["C"]), 1e-6 * float(r["volume"]))
        dissolving[r["gas"]], dissolving[r["solute"]] = (how, r["source"]), (how, r["volume_source"])
    return tuple(_read(r, *dissolving.get(r["name"], (None, ""))) for r in read_table("species.csv"))


def _named(name: str) -> Species:
    return next(s for s in all_species() if s.name == name)


def _read(r: Mapping[str, str], dissolving: Dissolving | None, source: str) -> Species:
    charge = int(r["charge"])
    mu, h, cp = (float(r[key] or "nan") for key in ("mu", "h", "cp"))
    keys = tuple(key for key in (r["source"], source, r["h_source"], r["cp_source"], r["volume_source"]) if key)
    volume = 1e-6 * float(r["volume"] or "nan") if dissolving is None else dissolving.volume
    return Species(r["name"], _atoms(r["formula"], charge), charge, r["kind"], mu, 1e3 * h, cp, keys, dissolving, volume)


@functools.cache
def _reagents() -> dict[str, Reagent]:
    found = {r["name"]: Reagent(r["name"], _atoms(r["formula"])) for r in read_table("reagents.csv")}
    return found | {s.name: Reagent(s.name, s.atoms) for s in all_species() if s.kind in (SOLID, GAS)}


def reagent(name: str) -> Reagent:
    """What is added by a name, a mineral's name, that of a hydrocarbon, or a formula.

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
    beside = hydrocarbon(name)
    if beside is not None:
        return Reagent(beside.name, beside.atoms)
    counted = elements(re.sub(r"\s", "", name))
    if counted is None:
        near = difflib.get_close_matches(name.strip().lower(), known, n=3, cutoff=0.6)
        hint = f" Did you mean {' or '.join(near)}?" if near else ""
        raise UnknownComponentError(f"There is no {name!r} to add to water.{hint} A formula such as Na2SO4 does too.")
    strange = [symbol for symbol in counted if symbol not in _STATES]
    if strange:
        raise UnknownComponentError(f"{name} has {strange[0]}, which no species here has. Elements are {', '.join(_STATES)}.")
    try:
        return Reagent(name.strip(), _in_states(dict(counted)))
    except ValueError:
        states = ", ".join(f"{s} {' or '.join(f'{state:+d}' for state in _STATES[s])}" for s in counted)
        raise UnknownComponentError(
            f"{name} is no sum of the ions here: no charges of its atoms, {states}, add up to zero."
        ) from None


_SUM = re.compile(r"\s+\+\s+")
_PART = re.compile(r"(?:(\d+)\s+)?(\S.*)")


def read_species(text: str) -> Species:
    """One of one's own, ``name = what it falls apart into, log10 of that constant at 25 °C``, and behind another comma the heat of that reaction where it is known; a solid if it has neither charge nor ``(aq)``.

    Atoms, charge and potential follow from what it falls apart into.

    Raises
    ------
    InputError
        If it is not written so, or made of what is not there.

    Examples
    --------
    >>> pair = read_species("CaSO4(aq) = Ca+2 + SO4-2, -2.31, 6.9 kJ/mol")
    >>> pair.kind, pair.charge, round(pair.mu, 2)
    ('neutral', 0, -529.0)

    """
    name, equals, rest = text.partition(" = ")
    parts, *numbers = rest.split(",")
    if not equals or not name.strip() or not 1 <= len(numbers) <= 2:
        raise InputError(
            f"{short(text)} is no species. Write it like 'CaSO4(aq) = Ca+2 + SO4-2, -2.31', the last one log10 of the constant."
        )
    known = {s.name: s for s in (WATER, *all_species())}
    atoms: dict[str, int] = {}
    mu, h, cp, charge = one_in_si(numbers[0].strip(), "fraction", f"log10 K of {name.strip()}") * math.log(10.0), 0.0, 0.0, 0
    for part in _SUM.split(parts.strip()):
        match = _PART.fullmatch(part.strip())
        count, of = match.groups() if match else (None, part)
        if of not in known:
            near = difflib.get_close_matches(of, known, n=3, cutoff=0.5)
            raise InputError(
                f"{name.strip()} is made of {short(of)}, which there is not.{f' Did you mean {near[0]}?' if near else ''}"
            )
        n, s = int(count or 1), known[of]
        mu, h, cp, charge = mu + n * s.mu, h + n * s.h, cp + n * s.cp, charge + n * s.charge
        for symbol, number in s.atoms.items():
            atoms[symbol] = atoms.get(symbol, 0) + n * number
    heat = one_in_si(numbers[1].strip(), "molar_energy", f"the heat of {name}") if len(numbers) > 1 else math.nan
    kind = "ion" if charge else "neutral" if name.strip().endswith("(aq)") else SOLID
    return Species(name.strip(), atoms, charge, kind, mu, h - heat, cp, ())


def species_of(symbols: set[str]) -> tuple[tuple[Species, ...], tuple[Species, ...]]:
    """Solutes, and solids and gases, of elements and those of water."""
    there = symbols | {"H", "O"}
    kept = [s for s in all_species() if set(s.atoms) <= there]
    return tuple(s for s in kept if s.kind in SOLUTE), tuple(s for s in kept if s.kind not in SOLUTE)


def chosen_species(
    symbols: set[str], own: Sequence[str], without: Sequence[str]
) -> tuple[tuple[Species, ...], tuple[Species, ...]]:
    """The same with some of one's ``own``, as `read_species` has them, and ``without`` some of the table.

    Raises
    ------
    InputError
        If one of these is there already, or is not there, or water and its ions could not be.
    """
    solutes, others = species_of(symbols)
    there = {s.name: s for s in (*solutes, *others)}
    for name in without:
        if name in _ALWAYS or name not in there:
            raise InputError(
                f"{short(name)} can't be left out: there can be {', '.join(n for n in there if n not in _ALWAYS) or 'none'}."
            )
    more = [read_species(text) for text in own]
    for s in more:
        if s.name in there and s.name not in without:
            raise InputError(f"There is {s.name} already; leave that out, or call yours otherwise.")
        if strange := sorted(set(s.atoms) - symbols - {"H", "O"}):
            raise InputError(f"{s.name} has {strange[0]}, which nothing here has that can be added.")
    kept = [*(s for s in there.values() if s.name not in without), *more]
    return tuple(s for s in kept if s.kind in SOLUTE), tuple(s for s in kept if s.kind not in SOLUTE)


_ALWAYS = "H+", "OH-"
