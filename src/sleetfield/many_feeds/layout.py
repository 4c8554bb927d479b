"""What the columns of a file of feeds are: two quantities with their units, components by fraction or by flow, and others."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from ..calculations.flashing import QUANTITIES, two_of
from ..data_sets.headings import PERCENT, PLAIN, names_and_units
from ..errors import InputError, SleetfieldError
from ..mixture import Mixture
from ..specified import DIMENSIONS
from ..units import dimension_of, one_in_si


class Heading(NamedTuple):
    """A column of the file that says something: which quantity or component, and the straight line from its numbers to SI."""

    place: int
    name: str
    is_flow: bool
    by_mass: bool
    scale: float
    offset: float


@dataclass(frozen=True)
class Layout:
    """What the columns of a file are.

    Attributes
    ----------
    headings : tuple of str
        As the file has them.
    quantities, components : tuple of Heading
    """

    headings: tuple[str, ...]
    quantities: tuple[Heading, ...]
    components: tuple[Heading, ...]

    @classmethod
    def of(cls, headings: Sequence[str], system: Mixture, where: str) -> Layout:
        """From the headings: ``T [degC]``, two quantities with their units; ``methane``, mole fractions or, with a unit, flows by component.

        Raises
        ------
        InputError
            If there are not two quantities, no component is among them, or a unit is missing or of something else.
        """
        quantities, components = [], []
        for place, heading in enumerate(headings):
            for name, unit in names_and_units(heading):
                if name in QUANTITIES:
                    quantities.append(_quantity(place, name, unit, where))
                    break
                if (found := _component(name, system)) is not None:
                    components.append(_amount(place, found, unit, where))
                    break
        two_of(where, {h.name: 0.0 for h in quantities})
        if not components:
            raise InputError(
                f"{where} has no column of a component; the system has {', '.join(system.names)}. Write the name alone, or with a unit: 'methane [kmol/h]'."
            )
        if len({h.is_flow for h in components}) > 1 or len({h.by_mass for h in components if not h.is_flow}) > 1:
            raise InputError(f"{where}: components are given by fraction or by flow, by mole or by mass, not both.")
        lacking = [h.name for h in components if h.by_mass and np.isnan(system.molar_mass[system.names.index(h.name)])]
        if lacking:
            raise InputError(f"{where}: there is no molar mass of {', '.join(lacking)}, so its mass can't be converted.")
        twice = [name for name, n in Counter(h.name for h in (*quantities, *components)).items() if n > 1]
        if twice:
            raise InputError(f"{where} has two columns of {twice[0]}.")
        return cls(tuple(headings), tuple(quantities), tuple(components))


def _component(name: str, system: Mixture) -> str | None:
    plain = name[2:] if name[:2] in ("z ", "x ") else name
    try:
        return system.names[system.position(plain)]
    except SleetfieldError:
        return None


def _quantity(place: int, name: str, unit: str, where: str) -> Heading:
    if not unit and DIMENSIONS[name] != "fraction":
        raise InputError(
            f"{where}: the column {name} has no unit. Write it in the heading, such as '{name} [{'K' if name == 'T' else 'bar'}]'."
        )
    return Heading(place, name, False, False, *_line(unit, DIMENSIONS[name], name))


def _amount(place: int, name: str, unit: str, where: str) -> Heading:
    if unit in PLAIN or unit.lower() in PERCENT:
        by = PLAIN.get(unit) or PERCENT[unit.lower()]
        return Heading(place, name, False, by == "mass", 1.0 if unit in PLAIN else 0.01, 0.0)
    if unit == "ppm":
        return Heading(place, name, False, False, 1e-6, 0.0)
    dimension = dimension_of(f"1 {unit}", "molar_flow", "mass_flow")
    return Heading(place, name, True, dimension == "mass_flow", *_line(unit, dimension, f"{where}: {name}"))


def _line(unit: str, dimension: str, name: str) -> tuple[float, float]:
    """Scale and offset from a unit's numbers to SI."""
    zero, one = (one_in_si(f"{n} {unit}", dimension, name) for n in (0, 1))
    return one - zero, zero
