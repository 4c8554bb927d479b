"""What kinds of molecules components are, as far as the choice of a model goes: by name, formula, groups and dipole moment."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from .component import Component
from .formula import elements
from .from_groups import groups_of_the_bank

_QUANTUM = {"hydrogen", "helium", "neon", "deuterium"}
_LIKE_ALCOHOLS = {
    "hydrogen peroxide",
    "hydrogen fluoride",
    "hydrazine",
    "formamide",
    "hydrogen cyanide",
    "sulfuric acid",
    "nitric acid",
}
_METALS = {"Li", "Na", "K"}
_HALOGENS = {"F", "Cl", "Br", "I"}
_HYDROXYL, _AMINE, _ACID = {"OH", "phenol OH"}, {"NH2", "NH"}, {"COOH"}
_POLAR = 1.0
"""Dipole moment, debye, from which a molecule is polar."""
_TRACE = 1e3
"""Pa."""


def classes_of(c: Component) -> frozenset[str]:
    """Those that hold of: water, hydrocarbon, alcohol, glycol, acid, amine, halogenated, quantum gas, fraction, salt; associating, polar.

    Examples
    --------
    >>> from sleetfield import databank
    >>> sorted(classes_of(databank().find("ethanol"))), sorted(classes_of(databank().find("propane")))
    (['alcohol', 'associating', 'polar'], ['hydrocarbon'])

    """
    atoms, own = elements(c.formula), groups_of_the_bank().get(c.name, {})
    hydroxyls = sum(own.get(g, 0) for g in _HYDROXYL)
    holds = {
        "water": c.name == "water",
        "quantum gas": c.name in _QUANTUM,
        "fraction": atoms is None,
        "salt": atoms is not None and bool(set(atoms) & _METALS),
        "hydrocarbon": atoms is not None and set(atoms) == {"C", "H"},
        "acid": bool(set(own) & _ACID) or c.name == "formic acid",
        "alcohol": hydroxyls == 1 and "O" not in own,
        "glycol": hydroxyls > 1 or (hydroxyls == 1 and "O" in own),
        "amine": bool(set(own) & _AMINE) or c.name == "ammonia",
        "halogenated": atoms is not None and "C" in atoms and bool(set(atoms) & _HALOGENS),
    }
    holds["associating"] = any(holds[k] for k in ("water", "acid", "alcohol", "glycol", "amine")) or c.name in _LIKE_ALCOHOLS
    hetero = atoms is not None and {"C", "H"} <= set(atoms) and bool(set(atoms) & {"O", "N", "S", *_HALOGENS})
    holds["polar"] = holds["associating"] or hetero or (c.dipole_moment or 0.0) > _POLAR
    return frozenset(k for k, v in holds.items() if v)


def makes_dimers(c: Component) -> bool:
    """Whether most molecules of its vapor are in pairs near the boiling point: carboxylic acids, and what constants say it of."""
    return c.dimerization_enthalpy is not None or "acid" in classes_of(c)


def dimers_in_vapor(components: Iterable[Component], T: NDArray[np.float64]) -> list[str]:
    """Names of what makes dimers, and has more than a trace of vapor (1 kPa) at some of the temperatures ``T``, K."""
    known = T[np.isfinite(T)]
    if not known.size:
        return []
    hottest = np.array([known.max()])
    pairing = [c for c in components if makes_dimers(c)]
    return [c.name for c in pairing if c.vapor_pressure is None or np.exp(c.vapor_pressure.value(hottest)[0]) > _TRACE]
