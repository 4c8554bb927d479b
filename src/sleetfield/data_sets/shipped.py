"""Measurements that are shipped: azeotropes and mutual solubilities of pairs, as sets too, and activity coefficients at infinite dilution in water."""

from __future__ import annotations

import functools
from itertools import groupby
from typing import NamedTuple

import numpy as np

from ..components.databank import databank, read_table, source_text
from ..core.constants import ATMOSPHERE
from .data_set import DataSet

_CELSIUS = 273.15


class MeasuredAzeotrope(NamedTuple):
    """A binary azeotrope as measured: mass fraction of the first component, T in K, P in Pa, and how many liquids boil, or there are when it is cooled, where that is known."""

    first: str
    second: str
    mass_fraction: float
    T: float
    P: float
    liquids: int | None
    liquids_cooled: int | None
    source: str

    @property
    def parts(self) -> bool:
        """Whether its components are known to part into two liquids, boiling or cooled."""
        return 2 in (self.liquids, self.liquids_cooled)


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
            int(r["liquids_cooled"]) if r["liquids_cooled"] else None,
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


class MeasuredDilution(NamedTuple):
    """An activity coefficient at infinite dilution in water as measured at T, K; of what hardly dissolves the inverse of its solubility."""

    solute: str
    T: float
    gamma: float
    source: str


@functools.cache
def measured_dilutions() -> tuple[MeasuredDilution, ...]:
    """The bank of activity coefficients at infinite dilution in water."""
    return tuple(
        MeasuredDilution(
            r["solute"],
            float(r["T_C"]) + _CELSIUS,
            float(r["gamma"]) if r["gamma"] else 1.0 / _by_mole(1e-6 * float(r["mg_per_kg"]), r["solute"], "water"),
            source_text(r["source"]),
        )
        for r in read_table("dilute_in_water.csv")
    )


@functools.cache
def shipped_sets() -> tuple[DataSet, ...]:
    """All of them, a set for each pair, kind and source."""
    found = []
    by_pair = sorted(measured_azeotropes(), key=lambda a: (a.first, a.second, a.source))
    for (first, second, source), rows in groupby(by_pair, key=lambda a: (a.first, a.second, a.source)):
        own = list(rows)
        x = [_by_mole(a.mass_fraction, first, second) for a in own]
        T, P = [a.T for a in own], [a.P for a in own]
        found.append(DataSet.of([first, second], kind="azeotrope", source=source, T=T, P=P, x=x))
    splits = sorted(measured_solubilities(), key=lambda s: (s.first, s.second, s.source))
    for (first, second, source), points in groupby(splits, key=lambda s: (s.first, s.second, s.source)):
        both = list(points)
        rich = [_by_mole(1.0 - s.second_in_first, first, second) for s in both]
        poor = [_by_mole(s.first_in_second, first, second) for s in both]
        found.append(DataSet.of([first, second], T=[s.T for s in both], x_first=poor, x_second=rich, source=source))
    return tuple(found)


def _by_mole(mass_fraction: float, first: str, second: str) -> float:
    own, other = (float(databank().find(n).constant("molar_mass", "mass fractions")) for n in (first, second))
    moles = np.array([mass_fraction / own, (1.0 - mass_fraction) / other])
    return float(moles[0] / moles.sum())
