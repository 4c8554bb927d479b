"""Bonds between molecules as parameters: what equations with an association term have in common."""

from __future__ import annotations

import functools
from collections.abc import Iterator, Mapping
from typing import Any, ClassVar, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..components import Component
from ..components.classes import classes_of
from ..components.component_list import ComponentList
from ..components.databank import read_table, source_text
from ..core.models.association import Association
from ..pairs.of_temperature import constant
from ..pairs.pair_parameters import PairParameters
from ..text import first_few
from .contract import EquationOfState
from .interactions import interaction_notes
from .liquid_vapor import liquid_density
from .parameter import NO_LAYER, Parameter, Parameters, Symbol

Array = NDArray[np.float64]

CROSS_VOLUME = Symbol(
    "cross_volume", "volume of a bond between unlike molecules", low=0.0, high=1.0, of_temperature=False, size=0.1
)
UNKNOWN = "none known: no bond"


class Keys(NamedTuple):
    """What the databank calls a component's bonds for an equation: energy and volume, and how many donors, acceptors and pairing sites (some have none of these)."""

    energy: str
    volume: str
    sites: tuple[str, ...]


def site_table(who: ComponentList, keys: Keys) -> Array:
    """How many donors, acceptors and pairing sites each component has ``(C, 3)``."""
    table = np.zeros((len(who), 3))
    for i, c in enumerate(who):
        for k, key in enumerate(keys.sites):
            table[i, k] = getattr(c, key) or 0.0
    return table


def binds_itself(c: Component, keys: Keys) -> bool:
    """Whether its molecules bind to each other."""
    return all(getattr(c, key) for key in (keys.energy, keys.volume)) and any(getattr(c, key) for key in keys.sites)


def bond_parameters(who: ComponentList, keys: Keys, energy: Symbol, volume: Symbol) -> Iterator[Parameter]:
    """Energy and volume of the bonds of every component that binds itself."""
    for c in who:
        if binds_itself(c, keys):
            for symbol, key in ((energy, keys.energy), (volume, keys.volume)):
                yield Parameter(symbol.symbol, (c.name,), constant(getattr(c, key)), c.sources[key], c.layers[key])


@functools.cache
def _published(equation: str) -> dict[frozenset[str], tuple[float, float | None, str]]:
    rows = (r for r in read_table("solvation.csv") if equation in r["equation"].split(" | "))
    return {
        frozenset((r["first"], r["second"])): (
            float(r["volume"]),
            float(r["energy"]) if r["energy"] else None,
            source_text(r["source"]),
        )
        for r in rows
    }


def solvation_parameters(who: ComponentList, keys: Keys, equation: str, cross_energy: Symbol) -> Iterator[Parameter]:
    """Bonds of components that have sites but don't bind themselves with those that do."""
    table = site_table(who, keys)
    for i, c in enumerate(who):
        if binds_itself(c, keys) or not table[i].any():
            continue
        for other in who:
            if not binds_itself(other, keys):
                continue
            pair = other.name, c.name
            known = _published(equation).get(frozenset(pair))
            if known is None:
                yield Parameter(CROSS_VOLUME.symbol, pair, constant(0.0), UNKNOWN, NO_LAYER, known=False)
                continue
            volume, energy, source = known
            yield Parameter(CROSS_VOLUME.symbol, pair, constant(volume), source, "shipped")
            if energy is not None:
                yield Parameter(cross_energy.symbol, pair, constant(energy), source, "shipped")


def association(table: Array, volume: Array, energy: Array) -> Association:
    """The sites of components ``(C, 3)`` that bind at all, from v ``(C, C)``, m3/mol, and both energies ``(2, C, C)``, K."""
    binds = np.asarray((volume > 0.0).any(axis=1))
    return Association.of_components(np.where(binds[:, None], table, 0.0), volume, energy)


def crossed(values: Parameters, who: ComponentList, symbol: str) -> Array:
    """A parameter of some pairs ``(C, C)``, symmetric, zero elsewhere."""
    return np.asarray(values.pairs(symbol, who, mirrored=1.0)[0])


def mean_energy(own: Array) -> Array:
    """Both energies ``(2, C, C)`` of bonds between components by the combining rule CR-1: the arithmetic mean."""
    return np.repeat(0.5 * (own[:, None] + own)[None], 2, axis=0)


def liquid_volume(c: Component, Tr: float) -> float:
    """The molar volume of a component's liquid, m3/mol, at a part of its critical temperature."""
    return 1.0 / float(liquid_density(c).value(np.array([Tr * c.constant("Tc", "a liquid volume")]))[0])


class EquationWithBonds(EquationOfState):
    """What equations have in common whose pairs have kij, and whose components have bonds."""

    keys: ClassVar[Keys]
    takes = ("kij",)

    @property
    def sites_of_components(self) -> tuple[str, ...]:  # type: ignore[override]
        """Those of its keys."""
        return self.keys.sites

    @property
    def usual_fit(self) -> tuple[str, ...]:
        """The interaction parameter."""
        return ("kij",)

    def pair_parameters(self, pair: ComponentList, values: Parameters, about: Mapping[str, Any]) -> PairParameters:
        """Kij."""
        (kij,) = values.part(pair.names).of_symbol("kij")
        return PairParameters(kij=kij.function, **about)

    def notes(self, who: ComponentList, values: Parameters) -> list[str]:
        """On interaction parameters, and on what would bind but has no parameters."""
        notes = interaction_notes(values)
        plain = [c.name for c in who if "associating" in classes_of(c) and not binds_itself(c, self.keys)]
        if plain:
            notes.append(f"Taken as without hydrogen bonds, for want of parameters: {first_few(plain)}.")
        return notes
