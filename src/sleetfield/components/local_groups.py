"""The groups that liquids are predicted from: what they are, which a component has, and how main groups act on each other."""

from __future__ import annotations

import functools
import itertools
from collections.abc import Iterator, Mapping
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
    """How one main group acts on another, a + bT + cT² in K, where that is published, and by what it was confirmed here."""

    terms: tuple[float, ...]
    source: str
    confirmed_by: str


class GroupTable(NamedTuple):
    """Groups of one method: the files of the databank that they, their interactions and the substances made of them are in, those of structures read from SMILES strings first; and the columns of main groups and of structures."""

    groups: tuple[str, ...]
    interactions: tuple[str, ...]
    structures: tuple[str, ...]
    main: str = "main"
    made_of: str = "groups"


UNIFAC = GroupTable(("surface_groups.csv",), ("group_interactions.csv",), ("surface_structures.csv",))
LIQUIDS = UNIFAC._replace(interactions=("liquid_interactions.csv",), main="liquid_main", made_of="liquid_groups")
MODIFIED = GroupTable(("modified_groups.csv",), ("modified_interactions.csv",), ("modified_structures.csv",))
WITH_GASES = GroupTable(
    (*UNIFAC.groups, "gas_groups.csv"), (*UNIFAC.interactions, "gas_interactions.csv"), (*UNIFAC.structures, "gas_structures.csv")
)


def _rows(files: tuple[str, ...]) -> Iterator[dict[str, str]]:
    return itertools.chain.from_iterable(read_table(file) for file in files)


@functools.cache
def local_groups(table: GroupTable = UNIFAC) -> dict[str, Group]:
    """All of them, by name."""
    return {
        row["group"]: Group(row[table.main], float(row.get("R_local") or row["R"]), float(row.get("Q_local") or row["Q"]))
        for row in _rows(table.groups)
        if row[table.main]
    }


@functools.cache
def interactions(table: GroupTable = UNIFAC) -> dict[tuple[str, str], Interaction]:
    """The interactions of main groups that are known, of both orders of a pair."""
    found = {}
    for row in _rows(table.interactions):
        one, other = row["first"], row["second"]
        for order, n in (((one, other), "12"), ((other, one), "21")):
            terms = tuple(float(row[key]) for key in (f"a{n}_K", f"b{n}", f"c{n}_per_K") if key in row)
            found[order] = Interaction(terms, source_text(row["source"]), row["confirmed_by"])
    return found


@functools.cache
def _structures(table: GroupTable) -> dict[str, dict[str, int]]:
    return {row["name"]: parse_groups(row[table.made_of] or row["groups"]) for row in _rows(table.structures)}


def groups_of(component: Component, written: str | Mapping[str, int] | None = None, table: GroupTable = UNIFAC) -> dict[str, int]:
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
        return _checked(component, parse_groups(written) if isinstance(written, str) else dict(written), table)
    known = _structures(table).get(component.name)
    if known is not None:
        return known
    if not component.smiles:
        raise UnknownComponentError(
            f"The groups of {component.name} are not known. Write them: groups={{{component.name!r}: 'CH3 + 2 CH2 + OH'}}. "
            f"Groups are {', '.join(local_groups(table))}."
        )
    found = None if component.layer == SHIPPED else _of_smiles(component.smiles, table)
    if found is None:
        raise UnknownComponentError(
            f"{component.name} ({component.smiles}) has a part that no group stands for. Groups are {', '.join(local_groups(table))}."
        )
    return found


def _of_smiles(smiles: str, table: GroupTable) -> dict[str, int] | None:
    from .structure import groups_in

    return groups_in(smiles, table.groups[0], table.main)


def are_listed(component: Component) -> bool:
    """Whether a component's groups are in the databank, so that no structure has to be read."""
    return component.name in _structures(UNIFAC)


def _checked(component: Component, counts: dict[str, int], table: GroupTable) -> dict[str, int]:
    known = local_groups(table)
    for group, count in counts.items():
        if group not in known:
            raise UnknownComponentError(f"There is no group {group!r}, as {component.name} has it. Groups are {', '.join(known)}.")
        if isinstance(count, bool) or not isinstance(count, (int, float)) or not 1 <= count <= _MOST or count != int(count):
            raise InputError(f"{component.name} has {count!r} of the group {group}; it must be a whole number from 1 to {_MOST}.")
    return counts
