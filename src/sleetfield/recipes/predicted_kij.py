"""Interaction parameters of Peng and Robinson's equation predicted from groups, as the functions of temperature that parameters are here."""

from __future__ import annotations

import functools
from collections import Counter
from collections.abc import Mapping

import numpy as np

from ..components import Component
from ..components.component_list import ComponentList
from ..components.databank import read_table, source_text
from ..components.local_groups import are_listed, groups_of
from ..core.estimates.group_interaction import from_groups
from ..core.models.peng_robinson_1978 import PengRobinson1978
from ..errors import UnknownComponentError
from ..pairs.of_temperature import OfTemperature

ORIGIN = "predicted from groups: "
"""What the source of such parameters begins with."""

EQUATION = "PR"
"""Whose parameters they are."""

_WHOLE = {"methane": "CH4", "ethane": "C2H6", "carbon dioxide": "CO2", "nitrogen": "N2", "hydrogen sulfide": "H2S"}
"""Molecules that are groups of their own."""
_PARTS = {"ACCH3": ("AC", "CH3"), "ACCH2": ("AC", "CH2"), "ACCH": ("AC", "CH")}
_GRID = np.geomspace(150.0, 750.0, 60)


def predicted(pair: ComponentList) -> tuple[OfTemperature, str] | None:
    """Kij of a pair between 150 and 750 K, and where from; None where a group, or the interaction of two, is not known."""
    both = [_shares(c) for c in pair]
    if any(not shares for shares in both):
        return None
    groups = sorted({*both[0], *both[1]})
    A, B = np.zeros((len(groups), len(groups))), np.zeros((len(groups), len(groups)))
    shares = np.array([[own.get(g, 0.0) for g in groups] for own in both])
    source = ""
    for i, one in enumerate(groups):
        for j in range(i):
            known = _table().get(frozenset((one, groups[j])))
            if known is None and (shares[0] != shares[1])[[i, j]].all():
                return None
            if known is not None:
                A[i, j] = A[j, i] = known[0]
                B[i, j] = B[j, i] = known[1]
                source = known[2]
    Tc, Pc, omega = (pair.constants(key, "predicted interaction parameters") for key in ("Tc", "Pc", "omega"))
    model = PengRobinson1978(Tc, Pc, omega, np.zeros((2, 2)))
    return OfTemperature.nearest(_GRID, from_groups(_GRID, shares, A, B, model.root_a(_GRID)[0] / model.b)), ORIGIN + (
        source or "of one kind of group"
    )


def is_at_hand(pair: ComponentList) -> bool:
    """Whether there is one of a pair, as far as the databank's groups tell."""
    return all(c.name in _WHOLE or are_listed(c) for c in pair) and predicted(pair) is not None


@functools.cache
def _table() -> Mapping[frozenset[str], tuple[float, float, str]]:
    """A and B of pairs of groups, Pa, with their source."""
    return {
        frozenset((row["first"], row["second"])): (1e6 * float(row["A_MPa"]), 1e6 * float(row["B_MPa"]), source_text(row["source"]))
        for row in read_table("group_kij.csv")
    }


def _shares(c: Component) -> dict[str, float]:
    """The share of each group; nothing where the component is not made of these. Rings that are not aromatic have groups of their own, which are not here."""
    if c.name in _WHOLE:
        return {_WHOLE[c.name]: 1.0}
    ring = any(mark.isdigit() for mark in c.smiles) and "c1" not in c.smiles
    try:
        own = {} if ring else groups_of(c)
    except UnknownComponentError:
        return {}
    counts: Counter[str] = Counter()
    for group, count in own.items():
        for part in _PARTS.get(group, (group,)):
            counts[part] += count
    total = sum(counts.values())
    known = {g for pair in _table() for g in pair} | {"AC"}
    return {g: n / total for g, n in counts.items()} if set(counts) <= known else {}
