"""Which components have a polar term in their second virial coefficient, and which should but cannot."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..core.estimates.polar_virial import METHANOL, WATER, alkanol, oxygen_or_nitrile, reduced_dipole
from .component import Component
from .from_groups import groups_of_the_bank

_CARBON = {"CH3", "CH2", "CH", "C"}
_STRAIGHT = {"CH3", "CH2"}
_OXYGEN_OR_NITRILE = {"C=O", "CHO", "CN", "O", "COO"}
_LIKE_NITRILES = {"ammonia", "hydrogen sulfide", "hydrogen cyanide"}
_BARELY_POLAR = 0.5
"""A dipole moment, debye, below which there is no polar term to miss."""


class PolarTerms(NamedTuple):
    """Constants of the term ``(C,)`` each, zero where there is none, and the names of polar components without one."""

    a: NDArray[np.float64]
    b: NDArray[np.float64]
    without: list[str]


def polar_terms(components: Sequence[Component]) -> PolarTerms:
    """The polar terms of components, by their groups and dipole moments."""
    found = [_of(c) for c in components]
    a, b = np.array([(0.0, 0.0) if one is None else one for one in found]).T
    without = [c.name for c, one in zip(components, found, strict=True) if one is None and _polar(c)]
    return PolarTerms(a, b, without)


def _polar(c: Component) -> bool:
    return c.dipole_moment is not None and c.dipole_moment > _BARELY_POLAR


def _of(c: Component) -> tuple[float, float] | None:
    if c.name == "water":
        return WATER
    if c.name == "methanol":
        return METHANOL
    if c.name in _LIKE_NITRILES and None not in (c.dipole_moment, c.Tc, c.Pc):
        return oxygen_or_nitrile(reduced_dipole(c.dipole_moment, c.Tc, c.Pc))  # type: ignore[arg-type]
    own = groups_of_the_bank().get(c.name, {})
    other = set(own) - _CARBON
    if not other or c.dipole_moment is None or c.Tc is None or c.Pc is None:
        return None
    mu_r = reduced_dipole(c.dipole_moment, c.Tc, c.Pc)
    if other == {"OH"} and own["OH"] == 1 and set(own) - {"OH"} <= _STRAIGHT:
        return alkanol(mu_r)
    if other <= _OXYGEN_OR_NITRILE and sum(own[g] for g in other) == 1:
        return oxygen_or_nitrile(mu_r)
    return None
