"""Models of ions by name: what they are made of for the solutes of a solution, and what to think of them."""

from __future__ import annotations

import functools
import itertools
from collections.abc import Callable, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .components.databank import read_table
from .components.species import Species
from .core.electrolyte.contract import IonModel
from .core.electrolyte.davies import Davies
from .core.electrolyte.pitzer import Pitzer, PitzerTerms

Array = NDArray[np.float64]

A_25 = 0.39145
"""Debye and Hückel's constant of osmotic coefficients at 25 °C: Pitzer, Peiper and Busey, J. Phys. Chem. Ref. Data 13 (1984) 1-102."""


class Ions(NamedTuple):
    """A model by name: how it is made, to which ionic strength it holds, mol/kg, and what to say of it."""

    make: Callable[[Sequence[Species]], IonModel]
    highest: float
    words: str


def _pitzer(solutes: Sequence[Species]) -> IonModel:
    names, size = [s.name for s in solutes], len(solutes)
    z = np.array([float(s.charge) for s in solutes])
    tables = {key: np.zeros((size, size)) for key in ("beta0", "beta1", "beta2", "C", "theta", "lambda")}
    psi = np.zeros((size, size, size))
    for row in _rows("ion_pairs.csv"):
        if {row["first"], row["second"]} <= set(names):
            i, j = names.index(row["first"]), names.index(row["second"])
            values = {key: float(row[key]) for key in ("beta0", "beta1", "beta2")}
            values["C"] = float(row["C_phi"]) / (2.0 * np.sqrt(abs(z[i] * z[j])))
            for key, value in values.items():
                tables[key][i, j] = tables[key][j, i] = value
    for row in _rows("ion_mixing.csv"):
        of = [row[key] for key in ("first", "second", "third") if row[key]]
        if not set(of) <= set(names):
            continue
        for place in itertools.permutations([names.index(name) for name in of]):
            (psi if row["kind"] == "psi" else tables[row["kind"]])[place] = float(row["value"])
    t = tables
    return Pitzer(PitzerTerms(z, t["beta0"], t["beta1"], t["beta2"], t["C"], t["theta"], t["lambda"], psi), A_25)


def _davies(solutes: Sequence[Species]) -> IonModel:
    return Davies(np.array([float(s.charge) for s in solutes]), A_25)


@functools.cache
def _rows(table: str) -> tuple[dict[str, str], ...]:
    return tuple(read_table(table))


ION_MODELS: dict[str, Ions] = {
    "Pitzer": Ions(
        _pitzer,
        20.0,
        "Pitzer's equation at 25 °C with the parameters of Harvie, Møller and Weare (1984), to saturated solutions; of ammonium, nitrates, barium and strontium those of Pitzer and Mayorga (1973)",
    ),
    "Davies": Ions(_davies, 0.5, "Davies's equation (1962), by charge alone, at 25 °C, to an ionic strength of some 0.1 mol/kg"),
}


def sources_of(solutes: Sequence[Species], model: str) -> list[str]:
    """Keys of the sources of a model's parameters for solutes."""
    if model != "Pitzer":
        return []
    names = {s.name for s in solutes}
    rows = [*_rows("ion_pairs.csv"), *_rows("ion_mixing.csv")]
    return [r["source"] for r in rows if {r["first"], r["second"], r.get("third") or r["first"]} <= names]


def unknown_pairs(solutes: Sequence[Species], model: str) -> list[tuple[str, str]]:
    """Cations with anions that a model has no parameters of; none of those that it has by charge alone."""
    if model != "Pitzer":
        return []
    known = {frozenset((row["first"], row["second"])) for row in _rows("ion_pairs.csv")}
    return [
        (c.name, a.name) for c in solutes for a in solutes if c.charge > 0 > a.charge and frozenset((c.name, a.name)) not in known
    ]
