"""The groups that liquids are predicted from: what they are, which a component has, and how main groups act on each other."""

from __future__ import annotations

import functools
from collections.abc import Mapping
from typing import NamedTuple

from ..errors import InputError, UnknownComponentError
from .component import Component
from .databank import SHIPPED, read_table, source_text
from .from_groups import parse_groups

_MOST = 100


class Group(NamedTuple):
    """A group: the main group whose interactions it has, its size and its surface."""

    main: str
    R: float
    Q: float


class Interaction(NamedTuple):
    """How one main group acts on another, K, where that is published, and by what it was confirmed here."""

    value: float
    source: str
    confirmed_by: str


@functools.cache
def local_groups() -> dict[str, Group]:
    """All of them, by name."""
    return {
        row["group"]: Group(row["main"], float(row["R_local"] or row["R"]), float(row["Q_local"] or row["Q"]))
        for row in read_table("surface_groups.csv")
    }


@functools.cache
def interactions() -> dict[tuple[str, str], Interaction]:
    """The interactions of main groups that are known, of both orders of a pair."""
    found = {}
    for row in read_table("group_interactions.csv"):
        one, other = row["first"], row["second"]
        for order, key in (((one, other), "a12_K"), ((other, one), "a21_K")):
            found[order] = Interaction(float(row[key]), source_text(row["source"]), row["confirmed_by"])
    return found


@functools.cache
def _structures() -> dict[str, dict[str, int]]:
    return {row["name"]: parse_groups(row["groups"]) for row in read_table("surface_structures.csv")}


def groups_of(component: Component, written: str | Mapping[str, int] | None = None) -> dict[str, int]:
    """How many of which groups a component has: as ``written``, from the databank, or from its SMILES string.

    Raises
    ------
    UnknownComponentError
        If that is not known, or a part of it is no group.
    """
    if written is not None:
        if not isinstance(written, (str, Mapping)):
            raise InputError(
                f"The groups of {component.name} are {written!r}; they are text, such as 'CH3 + 2 CH2 + OH', or a mapping of groups to counts."
            )
        return _checked(component, parse_groups(written) if isinstance(written, str) else dict(written))
    known = _structures().get(component.name)
    if known is not None:
        return known
    if not component.smiles:
        raise UnknownComponentError(
            f"The groups of {component.name} are not known. Write them: groups={{{component.name!r}: 'CH3 + 2 CH2 + OH'}}. "
            f"Groups are {', '.join(local_groups())}."
        )
    found = None if component.layer == SHIPPED else _of_smiles(component.smiles)
    if found is None:
        raise UnknownComponentError(
            f"{component.name} ({component.smiles}) has a part that no group stands for. Groups are {', '.join(local_groups())}."
        )
    return found


def _of_smiles(smiles: str) -> dict[str, int] | None:
    from .structure import structure

    return structure(smiles).surface


def are_listed(component: Component) -> bool:
    """Whether a component's groups are in the databank, so that no structure has to be read."""
    return component.name in _structures()


def _checked(component: Component, counts: dict[str, int]) -> dict[str, int]:
    known = local_groups()
    for group, count in counts.items():
        if group not in known:
            raise UnknownComponentError(f"There is no group {group!r}, as {component.name} has it. Groups are {', '.join(known)}.")
        if isinstance(count, bool) or not isinstance(count, (int, float)) or not 1 <= count <= _MOST or count != int(count):
            raise InputError(f"{component.name} has {count!r} of the group {group}; it must be a whole number from 1 to {_MOST}.")
    return counts
