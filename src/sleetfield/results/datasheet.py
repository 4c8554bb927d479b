"""A datasheet: everything that is known of one state or of several, on one formatted sheet, with its sources at the foot."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np

from ..arguments import guarded
from ..errors import InputError
from ..text import Block, Layout, shown
from ..units import from_si, unit_of
from .base import MADE_WITH, Shown
from .heating_value import HeatingValue
from .phase import Phase
from .provenance import Provenance
from .state import State, StateBatch, labels_of
from .state_properties import BOUNDARIES, OVERALL, PARTIAL, PER_COMPONENT, PER_PHASE, TRANSPORT

if TYPE_CHECKING:
    import pandas as pd


class Column(NamedTuple):
    """One column of numbers: of a state as a whole, of one of its phases, or of both where it has one alone."""

    label: str
    state: State
    phase: Phase | None
    whole: bool

    def value(self, name: str) -> float:
        """A property of `PER_PHASE`, `TRANSPORT` or `OVERALL`; NaN where it has none."""
        if self.phase is not None and name in _OF_PHASES:
            return np.nan if name in TRANSPORT and self.phase.kind == "solid" else float(getattr(self.phase, name))
        return self.state.whole(name) if self.whole else np.nan

    @property
    def molar_mass(self) -> float:
        """kg/mol."""
        return self.value("molar_mass")

    def flow(self) -> float:
        """mol/s; NaN where none was given."""
        found = self.state.flow if self.phase is None else self.phase.flow
        return np.nan if found is None else float(found)


class Row(NamedTuple):
    """A line of the sheet: what, of which dimension, and what gives it of a column, in SI."""

    words: str
    dimension: str
    of: Callable[[Column], float]


_OF_PHASES = {**PER_PHASE, **TRANSPORT}


def _row(name: str, words: str = "") -> Row:
    p = {**_OF_PHASES, **OVERALL}[name]
    return Row(words or p.words, p.dimension, lambda c: c.value(name))


def _by_mass(name: str, words: str) -> Row:
    dimension = {"molar_energy": "specific_energy", "molar_entropy": "specific_entropy"}[PER_PHASE[name].dimension]
    return Row(words, dimension, lambda c: c.value(name) / c.molar_mass)


def _boundary(name: str) -> Row:
    """Of the feed alone."""
    p = BOUNDARIES[name]
    return Row(p.words, p.dimension, lambda c: float(getattr(c.state, name)) if c.whole else np.nan)


_CONDITION = (
    Row("temperature", "temperature", lambda c: c.state.T),
    Row("pressure", "pressure", lambda c: c.state.P),
    *(_boundary(name) for name in BOUNDARIES),
)
_AMOUNTS = (
    Row("share by mole", "fraction", lambda c: 1.0 if c.phase is None else c.phase.fraction),
    _row("mass_fraction", "share by mass"),
    _row("volume_fraction", "share by volume"),
    Row("molar flow", "molar_flow", Column.flow),
    Row("mass flow", "mass_flow", lambda c: c.flow() * c.molar_mass),
    Row("volume flow", "volume_flow", lambda c: c.flow() * c.value("molar_volume")),
    Row(
        "heat taken up before",
        "power",
        lambda c: c.state.duty if c.whole and c.state.origin is not None and c.state.flow is not None else np.nan,
    ),
)
_THERMAL = (
    *(_row(name) for name in ("molar_mass", "density", "molar_volume", "Z", "H")),
    _by_mass("H", "enthalpy by mass"),
    _row("S"),
    _by_mass("S", "entropy by mass"),
    _row("Cp"),
    _by_mass("Cp", "heat capacity at constant pressure, by mass"),
    _row("Cv", "heat capacity at constant volume"),
    _row("heat_capacity_ratio"),
    _row("heat_of_vaporization", "heat of vaporization: vapor less liquid"),
    *(_row(name) for name in ("speed_of_sound", "throttling_coefficient")),
    *(_row(name) for name in ("thermal_expansion", "isothermal_compressibility")),
)
_TRANSPORT = tuple(_row(name) for name in TRANSPORT if name != "heat_capacity_ratio")
_SECTIONS = (
    ("Condition", _CONDITION),
    ("Amounts", _AMOUNTS),
    ("Thermal properties", _THERMAL),
    ("Transport properties", _TRANSPORT),
)
_BY_COMPONENT = {
    "composition": "Mole fractions",
    "mass_composition": "Mass fractions",
    "K": "K-values, vapor over liquid",
    "fugacity": "Fugacities",
    "activity_coefficient": "Activity coefficients, against the pure liquids",
    "diffusion_coefficient": "Diffusion coefficients, in the others of the phase",
}
"""Each a section with a line for each component."""
_FUEL: tuple[tuple[str, str, Callable[[HeatingValue], float]], ...] = (
    ("gross heating value, burnt at 25 °C", "specific_energy", lambda f: float(f.by_mass[0])),
    ("net heating value, burnt at 25 °C", "specific_energy", lambda f: float(f.by_mass[1])),
    ("gross heating value of the gas at 15 °C and 1 atm", "volume_energy", lambda f: float(f.by_volume[0])),
    ("net heating value of the gas at 15 °C and 1 atm", "volume_energy", lambda f: float(f.by_volume[1])),
    ("Wobbe index, gross", "volume_energy", lambda f: float(f.wobbe[0])),
)


@dataclass(frozen=True, eq=False, repr=False)
class Datasheet(Shown):
    """Everything of some states; print it, or save it as .xlsx, .html, .md, .csv or .json.

    Attributes
    ----------
    states : mapping of names to State
    heading : str
        What stands above it.
    fuels : mapping of names to HeatingValue
        Of those states that can be burnt.
    """

    states: Mapping[str, State]
    heading: str
    fuels: Mapping[str, HeatingValue]

    def title(self, units: str | None = None) -> str:
        """Its heading."""
        return self.heading

    def unit_set(self, units: str | None) -> str:
        """The set of units asked for, or that of the first state's system."""
        return self.first.unit_set(units)

    def in_short(self, units: str | None = None) -> str:
        """Each state in a sentence."""
        named = len(self.states) > 1
        return " ".join(f"{name}: {s.in_short(units)}" if named else s.in_short(units) for name, s in self.states.items())

    @property
    def first(self) -> State:
        """The first of the states."""
        return next(iter(self.states.values()))

    @cached_property
    def columns(self) -> tuple[Column, ...]:
        """Each state as a whole, and its phases where there are several, or of the only one its kind."""
        found = []
        for name, state in self.states.items():
            before, labels = f"{name}: " if len(self.states) > 1 else "", labels_of(state.phases)
            if len(labels) == 1:
                found.append(Column(before + labels[0], state, state.phases[0], True))
                continue
            found.append(Column(f"{before}overall", state, None, True))
            found += [Column(before + label, state, p, False) for label, p in zip(labels, state.phases, strict=True)]
        return tuple(found)

    def blocks(self, units: str | None = None) -> tuple[Block, ...]:
        """The sheet by sections, in a set of units; lines that nothing is known of are left out."""
        return tuple(block for block in self._every_block(self.unit_set(units)) if block.rows)

    def _every_block(self, unit_set: str) -> Iterator[Block]:
        for words, section in _SECTIONS:
            yield _block(words, [(r.words, r.dimension, [r.of(c) for c in self.columns]) for r in section], unit_set)
        for name, words in _BY_COMPONENT.items():
            p = {**PER_COMPONENT, **PARTIAL}[name]
            components = dict.fromkeys(n for state in self.states.values() for n in state.system.names)
            rows = [(n, p.dimension, [_of_component(c, name, n) for c in self.columns]) for n in components]
            yield _block(words, rows, unit_set)
        burnt = {id(self.states[name]): fuel for name, fuel in self.fuels.items()}
        rows = [
            (words, dimension, [of(burnt[id(c.state)]) if c.whole and id(c.state) in burnt else np.nan for c in self.columns])
            for words, dimension, of in _FUEL
        ]
        yield _block("As a fuel", rows, unit_set)

    def layout(self, units: str | None = None) -> Layout:
        """The sheet as it is formatted."""
        unit_set = self.unit_set(units)
        systems = list({s.system: None for s in self.states.values()})
        about = [(f"components{n}", " + ".join(s.names)) for n, s in _numbered(systems)]
        about += [(f"model{n}", s.model_title) for n, s in _numbered(systems)]
        about += [("units", unit_set), ("made with", MADE_WITH)]
        foot = [("Notes", self.notes), ("Sources", list(self.sources))]
        return Layout(self.heading, about, [c.label for c in self.columns], list(self.blocks(units)), foot)

    @property
    def sources(self) -> tuple[str, ...]:
        """What the numbers rest on, each once."""
        return tuple(dict.fromkeys(source for s in self.states.values() for source in Provenance.of(s.system).sources if source))

    @property
    def notes(self) -> list[str]:
        """About every state, and the methods of transport properties with their usual errors."""
        notes = {name: [*s.notes, *s.transport.notes] for name, s in self.states.items()}
        first = next(iter(notes.values()))
        shared = [n for n in first if all(n in own for own in notes.values())]
        return shared + [f"{name}: {n}" for name, own in notes.items() for n in own if n not in shared]

    @guarded
    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """Every line of every section."""
        import pandas as pd

        rows = [[block.heading, words, unit, *values] for block in self.blocks(units) for words, unit, values in block.rows]
        return pd.DataFrame(rows, columns=["section", "property", "unit", *(c.label for c in self.columns)])

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """The first section; the others stand below."""
        return self._frame_of(self.blocks(units)[0])

    def sections(self, units: str | None = None) -> list[tuple[str, pd.DataFrame]]:
        """The other sections."""
        return [(block.heading, self._frame_of(block)) for block in self.blocks(units)[1:]]

    def sheets(self, units: str | None = None) -> list[tuple[str, pd.DataFrame]]:
        """The constants and parameters behind it."""
        systems = list({s.system: None for s in self.states.values()})
        return [(f"numbers{n}", Provenance.of(s).to_frame(self.unit_set(units))) for n, s in _numbered(systems)]

    def _frame_of(self, block: Block) -> pd.DataFrame:
        import pandas as pd

        names = [f"{words} [{unit}]" if unit else words for words, unit, _ in block.rows]
        return pd.DataFrame([values for _, _, values in block.rows], index=names, columns=[c.label for c in self.columns])

    def to_dict(self) -> dict[str, Any]:
        """Everything in SI, as plain values."""
        return {
            "result": "datasheet",
            "states": {name: state.to_dict() for name, state in self.states.items()},
            "lines": self.to_frame("SI").to_dict(orient="records"),
            "sources": list(self.sources),
            "notes": self.notes,
        }


def _block(words: str, rows: Sequence[tuple[str, str, Sequence[float]]], unit_set: str) -> Block:
    """A section in a set of units, without lines that nothing is known of."""
    kept = []
    for name, dimension, values in rows:
        if np.isfinite(values).any():
            kept.append((name, unit_of(dimension, unit_set), from_si(values, dimension, unit_set).tolist()))
    return Block(words, kept)


def _of_component(c: Column, name: str, component: str) -> float:
    """A property of a component in a phase; of the whole its share alone."""
    if component not in c.state.system.names:
        return np.nan
    if c.phase is not None:
        values: Mapping[str, float] = getattr(c.phase, name)
        return values[component]
    z = c.state.z * (c.state.system.molar_mass if name == "mass_composition" else 1.0)
    return float((z / z.sum())[c.state.system.names.index(component)]) if name in ("composition", "mass_composition") else np.nan


def _numbered(several: Sequence[Any]) -> Iterator[tuple[str, Any]]:
    """Each with its number, where there is more than one."""
    for k, one in enumerate(several, start=1):
        yield f" {k}" if len(several) > 1 else "", one


@guarded
def datasheet(states: Any, *, title: str | None = None) -> Datasheet:
    """One formatted sheet of a state, or of several beside each other: condition, amounts, thermal and transport properties, compositions, and what they rest on.

    Parameters
    ----------
    states : State, StateBatch, sequence of State or mapping of names to State
        Those of a batch or a sequence are called by their conditions.
    title : str, optional
        What stands above it.

    Returns
    -------
    Datasheet
        Print it; ``sl.save(sheet, "drum.xlsx")`` writes it, as .html and .md too.

    Raises
    ------
    InputError
        If there is no state, or something else in its place.

    Examples
    --------
    >>> import sleetfield as sl
    >>> drum = sl.System(["methane", "propane", "n-heptane"], eos="PR", units="metric").flash([0.7, 0.2, 0.1], T="-20 degC", P="20 bar", flow="120 kmol/h")
    >>> sheet = sl.datasheet(drum, title="Knock-out drum")
    >>> [block.heading for block in sheet.blocks()][:4], len(sheet.columns)
    (['Condition', 'Amounts', 'Thermal properties', 'Transport properties'], 3)

    """
    named = _named(states)
    if not named:
        raise InputError("There is no state for a datasheet: give one, several, or several by name.")
    for name, state in named.items():
        if not isinstance(state, State):
            raise InputError(f"{name} is no state: a datasheet is of what flash, state.to or a batch gives.")
    fuels = {name: fuel for name, state in named.items() if (fuel := state.batch.later.fuel(state)) is not None}
    alone = next(iter(named.values()))
    return Datasheet(named, title or (alone.title() if len(named) == 1 else alone.system.full_title()), fuels)


def _named(states: Any) -> dict[str, Any]:
    """States by name."""
    if isinstance(states, State):
        return {"state": states}
    if isinstance(states, Mapping):
        return {str(name): state for name, state in states.items()}
    if isinstance(states, StateBatch) and states.failed.any():
        raise InputError(f"{int(states.failed.sum())} of the batch's states have no answer: leave them out.")
    if not isinstance(states, (StateBatch, list, tuple)):
        raise InputError(f"A datasheet is of states, not of a {type(states).__name__}.")
    found: dict[str, Any] = {}
    for state in states:
        name = ", ".join(_where(state)) if isinstance(state, State) else "one of them"
        found[name if name not in found else f"{name} ({len(found) + 1})"] = state
    return found


def _where(state: State) -> tuple[str, str]:
    """Temperature and pressure in words."""
    units = state.system.units
    return shown(state.T, "temperature", units, 5), shown(state.P, "pressure", units, 5)
