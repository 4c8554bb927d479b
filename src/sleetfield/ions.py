"""Models of ions by name: what they are made of for the solutes of a solution, and what to think of them."""

from __future__ import annotations

import functools
import itertools
import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from .arguments import short
from .components.databank import read_table
from .components.species import Species
from .core.constants import T_REFERENCE
from .core.electrolyte.contract import M_WATER, IonModel
from .core.electrolyte.davies import Davies
from .core.electrolyte.enrtl import ElectrolyteNRTL, LocalTerms
from .core.electrolyte.pitzer import Pitzer, PitzerTerms
from .core.electrolyte.water import debye_hueckel
from .errors import InputError

Array = NDArray[np.float64]


_AVERAGE_SALT = 8.0, -4.0
"""τ of electrolyte-NRTL where nothing is known of a salt (Chen and Evans, 1986)."""


Own = Mapping[frozenset[str], Mapping[str, float]]
"""Parameters of pairs of ions that stand in place of the tables'."""


class Ions(NamedTuple):
    """A model by name: how it is made for solutes, a temperature, K, and parameters of one's own, to which ionic strength it holds, mol/kg, what to say of it, which tables its parameters are in, that of pairs first, what stands in for those that are not
    there, and what those of a pair are called.
    """

    make: Callable[[Sequence[Species], float, Own], IonModel]
    highest: float
    words: str
    tables: tuple[str, ...] = ()
    instead: str = ""
    names: tuple[str, ...] = ()


def _pitzer(solutes: Sequence[Species], T: float, own: Own) -> IonModel:
    place, size = {s.name: i for i, s in enumerate(solutes)}, len(solutes)
    z = np.array([float(s.charge) for s in solutes])
    tables = {key: np.zeros((size, size)) for key in ("beta0", "beta1", "beta2", "C", "theta")}
    psi = np.zeros((size, size, size))
    for row, i, j in _pairs_of("ion_pairs.csv", place, own):
        values = {key: _at(row, key, T) for key in ("beta0", "beta1", "beta2")}
        values["C"] = _at(row, "C_phi", T) / (2.0 * np.sqrt(abs(z[i] * z[j])))
        for key, value in values.items():
            tables[key][i, j] = tables[key][j, i] = value
    for row in _rows("ion_mixing.csv"):
        of = [place.get(row[key]) for key in ("first", "second", "third") if row[key]]
        if None not in of and row["kind"] != "lambda":
            for index in itertools.permutations(of):
                (psi if row["kind"] == "psi" else tables["theta"])[index] = _mixed_at(row, T)
    salting = _salting_out(solutes, T)
    gases = [place[s.name] for s in solutes if s.dissolving is not None]
    # Henry's constants are meant on mole fractions, where these are ideal
    salting[np.ix_(gases, gases)] = -0.5 * M_WATER
    t = tables
    return Pitzer(PitzerTerms(z, t["beta0"], t["beta1"], t["beta2"], t["C"], t["theta"], salting, psi), float(debye_hueckel(T)))


def _pairs_of(table: str, place: Mapping[str, int], own: Own | None = None) -> Iterator[tuple[Mapping[str, Any], int, int]]:
    """The rows of a table of pairs that are both there, with their places; of pairs with parameters of one's ``own`` with these, and without slopes."""
    given = own or {}
    for row in _rows(table):
        if row["first"] in place and row["second"] in place and frozenset((row["first"], row["second"])) not in given:
            yield row, place[row["first"]], place[row["second"]]
    for pair, values in given.items():
        first, second = sorted(pair, key=lambda name: place.get(name, -1))
        if first in place:
            yield values, place[first], place[second]


def _salting_out(solutes: Sequence[Species], T: float) -> Array:
    """λ of neutral solutes with ions ``(S, S)``, symmetric: published ones, or by the numbers of gas and ion; zero where neither is known."""
    found, place = np.zeros((len(solutes), len(solutes))), {s.name: i for i, s in enumerate(solutes)}
    out = {row["species"]: float(row["h"]) + float(row["h_T"] or 0.0) * (T - T_REFERENCE) for row in _rows("salting_out.csv")}
    for gas, ion in itertools.product(solutes, solutes):
        if gas.charge == 0 != ion.charge and gas.name in out and ion.name in out:
            i, j = place[gas.name], place[ion.name]
            # log10 of the activity coefficient is the sum of both numbers for each mol of ion in a liter, which is about a kilogram of water
            found[i, j] = found[j, i] = 0.5 * math.log(10.0) * (out[gas.name] + out[ion.name])
    for row, i, j in _pairs_of("ion_mixing.csv", place):
        if row["kind"] == "lambda":
            found[i, j] = found[j, i] = _mixed_at(row, T)
    return found


def salting_unknown(solutes: Sequence[Species], model: str) -> list[tuple[str, str]]:
    """Neutral solutes that are gases too, with ions by which it is not known how they are driven out; none of a model by charge alone."""
    if not ION_MODELS[model].tables:
        return []
    out = {row["species"] for row in _rows("salting_out.csv")}
    # those for which Harvie, Møller and Weare have none for carbon dioxide count as zero with them
    with_carbon_dioxide = {ion for row in _rows("ion_pairs.csv") if row["source"] == "hmw" for ion in (row["first"], row["second"])}
    known = {s.name: out if s.name in out else with_carbon_dioxide if s.name == "CO2(aq)" else set() for s in solutes}
    return [(g.name, i.name) for g in solutes for i in solutes if g.is_gas_too and i.charge and i.name not in known[g.name]]


def _local_composition(solutes: Sequence[Species], T: float, own: Own) -> IonModel:
    place, size = {s.name: i for i, s in enumerate(solutes)}, len(solutes)
    z = np.array([float(s.charge) for s in solutes])
    of_water, of_salt = (np.full((size, size), value) for value in _AVERAGE_SALT)
    for row, i, j in _pairs_of("local_composition.csv", place, own):
        for table, key in ((of_water, "of_water"), (of_salt, "of_salt")):
            table[i, j] = table[j, i] = float(row.get(key, table[i, j]))
    return ElectrolyteNRTL(LocalTerms(z, of_water, of_salt, _salting_out(solutes, T)), float(debye_hueckel(T)))


def _at(row: Mapping[str, Any], key: str, T: float) -> float:
    """A parameter of a pair, linear in 1/T with its slope at 25 °C, as far as that is known."""
    slope = float(row.get(f"{key}_slope") or 0.0)
    return float(row.get(key) or 0.0) + slope * T_REFERENCE * (1.0 - T_REFERENCE / T)


def _mixed_at(row: Mapping[str, str], T: float) -> float:
    """A parameter of several ions, or of a gas with them, as far as it is known how that changes with temperature."""
    linear, inverse = (float(row[key] or 0.0) for key in ("linear", "inverse"))
    return float(row["value"]) + linear * (T - T_REFERENCE) + inverse * (1.0 / T - 1.0 / T_REFERENCE)


def _davies(solutes: Sequence[Species], T: float, own: Own) -> IonModel:
    return Davies(np.array([float(s.charge) for s in solutes]), float(debye_hueckel(T)))


@functools.cache
def _rows(table: str) -> tuple[dict[str, str], ...]:
    return tuple(read_table(table))


ION_MODELS: dict[str, Ions] = {
    "Pitzer": Ions(
        _pitzer,
        20.0,
        "Pitzer's equation with the parameters of Harvie, Møller and Weare (1984), to saturated solutions; of ammonium, nitrates, barium and strontium those of Pitzer and Mayorga (1973)",
        ("ion_pairs.csv", "ion_mixing.csv"),
        "charge alone acts between them",
        ("beta0", "beta1", "beta2", "C_phi"),
    ),
    "electrolyte-NRTL": Ions(
        _local_composition,
        10.0,
        "Electrolyte-NRTL (Chen and Evans, 1986) with two parameters for each salt that come nearest to Pitzer's equation, to 6 mol/kg of salts of single charges and 2.5 of others",
        ("local_composition.csv",),
        "those of an average salt stand in",
        ("of_water", "of_salt"),
    ),
    "Davies": Ions(_davies, 0.5, "Davies's equation (1962), by charge alone, to an ionic strength of some 0.1 mol/kg"),
}


def own_pairs(solutes: Sequence[Species], model: str, parameters: Mapping[tuple[str, str], Mapping[str, float]]) -> Own:
    """Parameters of one's own as the models take them.

    Raises
    ------
    InputError
        If a pair is none of a cation and an anion here, or a parameter none of the model's, or no number.
    """
    charges, found = {s.name: s.charge for s in solutes}, {}
    for pair, values in parameters.items():
        if not isinstance(pair, tuple) or len(pair) != 2 or charges.get(pair[0], 0) * charges.get(pair[1], 0) >= 0:
            raise InputError(
                f"{short(pair)} is no pair of a cation and an anion here: there are {', '.join(n for n, z in charges.items() if z)}."
            )
        for name, value in values.items():
            if name not in ION_MODELS[model].names:
                known = ", ".join(ION_MODELS[model].names) or "none"
                raise InputError(f"{model} has no parameter {short(name)} of a pair of ions; it has {known}.")
            if not isinstance(value, (int, float)) or not math.isfinite(value):
                raise InputError(f"{name} of {' and '.join(pair)} is {short(value)}, and no finite number.")
        found[frozenset(pair)] = {name: float(value) for name, value in values.items()}
    return found


def sources_of(solutes: Sequence[Species], model: str) -> list[str]:
    """Keys of the sources of a model's parameters for solutes."""
    names = {s.name for s in solutes}
    tables = ION_MODELS[model].tables
    rows = [row for table in tables for row in _rows(table)]
    own = [r for r in rows if {r["first"], r["second"], r.get("third") or r["first"]} <= names]
    salted = bool(tables) and any(row["species"] in names for row in _rows("salting_out.csv") if row["species"].endswith("(aq)"))
    return [key for r in own for key in (r["source"], r.get("slope_source"), r.get("elsewhere")) if key] + ["schumpe"] * salted


def pairs_without(solutes: Sequence[Species], model: str, own: Own, slope: bool = False) -> list[tuple[str, str]]:
    """Cations with anions of which a model lacks parameters, or how they change with temperature; none of those that it has by charge alone, or that are one's ``own``."""
    tables = ION_MODELS[model].tables
    if not tables:
        return []
    known = {frozenset((row["first"], row["second"])) for row in _rows(tables[0]) if not slope or row.get("beta0_slope")} | {*own}
    return [
        (c.name, a.name) for c in solutes for a in solutes if c.charge > 0 > a.charge and frozenset((c.name, a.name)) not in known
    ]
