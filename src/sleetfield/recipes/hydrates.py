"""Gas hydrates of a system's components: lattices and Langmuir constants of the databank."""

from __future__ import annotations

import functools

import numpy as np

from ..components.component_list import ComponentList
from ..components.databank import read_table, source_text
from ..core.constants import ATMOSPHERE
from ..core.models.hydrate import Hydrate
from ..errors import InputError
from ..text import first_few
from .model import Model

CAGES = "small", "large"
"""Kinds of cages, in the order that the core's hydrates have them in."""

_HIGHEST_BOILING = 330.0
"""K: what boils higher fits into no cage of the structures here, or holds hydrates back as an inhibitor, and is not missed."""


@functools.cache
def _langmuir() -> dict[tuple[str, str, str], tuple[float, float]]:
    """Guest, structure and cage to A, K/Pa, and B, K."""
    return {
        (r["guest"], r["structure"], r["cage"]): (1e-3 * float(r["A"]) / ATMOSPHERE, float(r["B"]))
        for r in read_table("hydrate_guests.csv")
    }


def guests(who: ComponentList) -> list[str]:
    """Components that hydrates of the databank take in."""
    known = {name for name, _, _ in _langmuir()}
    return [name for name in who.names if name in known]


def hydrates(who: ComponentList, model: Model) -> tuple[list[str], list[Hydrate]]:
    """Names and the core's hydrates of both structures.

    Raises
    ------
    InputError
        If there is no water among the components, or nothing that hydrates take in.
    """
    if "water" not in who.names:
        raise InputError(f"A hydrate is made of water, and the components are {first_few(list(who.names))}. Put water among them.")
    if not guests(who):
        known = sorted({name for name, _, _ in _langmuir()})
        raise InputError(f"None of {first_few(list(who.names))} is known to form hydrates. Guests are {', '.join(known)}.")
    water = who.names.index("water")
    (ice,) = model.with_solids(who, ["water"]).pure_solids(who)
    found = []
    for r in read_table("hydrate_lattices.csv"):
        A, B = np.zeros((2, len(CAGES), len(who)))
        for k, cage in enumerate(CAGES):
            for i, name in enumerate(who.names):
                A[k, i], B[k, i] = _langmuir().get((name, r["structure"], cage), (0.0, 0.0))
        cages = np.array([float(r[cage]) for cage in CAGES]) / float(r["water"])
        potential, enthalpy, heat_capacity, volume = (float(r[key]) for key in ("potential", "enthalpy", "heat_capacity", "volume"))
        found.append(Hydrate(water, cages, potential, enthalpy, heat_capacity, volume, A, B, ice))
    return [f"hydrate {r['structure']}" for r in read_table("hydrate_lattices.csv")], found


def hydrate_notes(who: ComponentList) -> list[str]:
    """Where the numbers are from, and which light components are taken as staying outside."""
    sources = sorted({source_text(r["source"]) for r in read_table("hydrate_guests.csv")})
    light = [c.name for c in who if c.Tb is not None and c.Tb < _HIGHEST_BOILING]
    outside = [name for name in light if name not in guests(who)]
    notes = [f"Lattices and Langmuir constants of hydrates: {'; '.join(sources)}."]
    if outside:
        notes.append(f"No Langmuir constants are known of {first_few(outside)}: taken as staying out of the hydrate.")
    return notes
