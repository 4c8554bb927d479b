"""The banks of published activity-model parameters and of measured azeotropes."""

from __future__ import annotations

import functools
from typing import NamedTuple

from ..core.constants import ATMOSPHERE
from .databank import numbers, read_table, source_text
from .pair_parameters import PairParameters

_CM3 = 1e-6
_CELSIUS = 273.15


class MeasuredAzeotrope(NamedTuple):
    """A binary azeotrope as measured: mass fraction of the first component, T in K, P in Pa, and how many liquids boil, where that is known."""

    first: str
    second: str
    mass_fraction: float
    T: float
    P: float
    liquids: int | None
    source: str


@functools.cache
def published_parameters(model: str) -> dict[tuple[str, str], tuple[PairParameters, ...]]:
    """What the bank has for a model, by ordered pair of names; where there are several sets, the first is the one to take.

    Examples
    --------
    >>> published_parameters("van Laar")["ethanol", "water"][0].a12
    1.6798

    """
    found: dict[tuple[str, str], tuple[PairParameters, ...]] = {}
    for r in read_table("activity_parameters.csv"):
        if r["model"] != model:
            continue
        volumes = (float(r["v1_cm3"]) * _CM3, float(r["v2_cm3"]) * _CM3) if r["v1_cm3"] else None
        one = PairParameters(
            a12=numbers(r["a12"]),
            a21=numbers(r["a21"]),
            alpha=float(r["alpha"]) if r["alpha"] else None,
            form=r["form"],
            volumes=volumes,
            T_min=float(r["T_min"]),
            T_max=float(r["T_max"]),
            source=source_text(r["source"]),
        )
        pair = r["first"], r["second"]
        found[pair] = (*found.get(pair, ()), one)
    return found


@functools.cache
def measured_azeotropes() -> tuple[MeasuredAzeotrope, ...]:
    """The bank of measured binary azeotropes, all at 1 atm."""
    return tuple(
        MeasuredAzeotrope(
            r["first"],
            r["second"],
            float(r["mass_fraction_first"]),
            float(r["T_C"]) + _CELSIUS,
            ATMOSPHERE,
            int(r["liquids"]) if r["liquids"] else None,
            source_text(r["source"]),
        )
        for r in read_table("azeotropes.csv")
    )


class MeasuredSolubilities(NamedTuple):
    """Mutual solubilities as measured at T, K: mass fraction of the second component in the first liquid, and of the first in the second."""

    first: str
    second: str
    T: float
    second_in_first: float
    first_in_second: float
    source: str


@functools.cache
def measured_solubilities() -> tuple[MeasuredSolubilities, ...]:
    """The bank of measured mutual solubilities."""
    return tuple(
        MeasuredSolubilities(
            r["first"],
            r["second"],
            float(r["T_C"]) + _CELSIUS,
            float(r["mass_fraction_second_in_first"]),
            float(r["mass_fraction_first_in_second"]),
            source_text(r["source"]),
        )
        for r in read_table("solubilities.csv")
    )
