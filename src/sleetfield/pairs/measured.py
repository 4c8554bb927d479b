"""Measured azeotropes and mutual solubilities of pairs."""

from __future__ import annotations

import functools
from typing import NamedTuple

from ..components.databank import read_table, source_text
from ..core.constants import ATMOSPHERE

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
