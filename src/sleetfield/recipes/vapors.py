"""Vapors beside a liquid model: the ideal gas, the same with dimers, and the virial equation. (Equations of state serve too.)"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..components.classes import classes_of
from ..components.component_list import ComponentList
from ..components.polar_terms import polar_terms
from ..core.models.dimers import Dimerization, DimerizingGas
from ..core.models.hayden_oconnell import HaydenOConnell
from ..core.models.ideal_gas import IdealGas
from ..core.models.no_vapor import NoVapor
from ..core.models.virial import Given as GivenCoefficients, Virial
from ..text import first_few
from ..units import one_in_si
from .contract import Given, VaporModel
from .interactions import KIJ, critical_volumes, interaction_notes, interactions, kij_of_pairs
from .parameter import NO_LAYER, OfTemperature, Parameter, Parameters, Symbol, constant

_NOT_VIRIAL = "second virial coefficients don't describe"
_B = Symbol("B", "second virial coefficient of a pair, or of a component with itself", "m3/mol", low=-0.05, high=0.05, size=1e-4)


def _coefficient(value: Any, what: str) -> OfTemperature:
    """A volume, as a number in m3/mol or text with a unit; or value, slope and bend at 298.15 K, or terms of a published equation, in m3/mol."""
    if isinstance(value, str):
        return constant(one_in_si(value, "molar_volume", what))
    return OfTemperature.read(value, what)


@dataclass(frozen=True)
class IdealVapor(VaporModel, name="ideal"):
    """An ideal gas."""

    non_ideal = False
    without_dimers = "an ideal gas is without"

    def parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """None."""
        yield from ()

    def build(self, who: ComponentList, values: Parameters) -> IdealGas:
        """The ideal gas."""
        return IdealGas()


_H = Symbol("dimer_H", "enthalpy of a dimer from two molecules", "J/mol", low=-1e5, high=0.0, of_temperature=False, size=1e4)
_S = Symbol(
    "dimer_S", "entropy of a dimer from two molecules, at 1 bar", "J/(mol K)", low=-300.0, high=0.0, of_temperature=False, size=10.0
)
_OF_DIMERS = {_H.symbol: "dimerization_enthalpy", _S.symbol: "dimerization_entropy"}


@dataclass(frozen=True)
class DimerVapor(VaporModel, name="dimers"):
    """An ideal gas in which carboxylic acids, and what else has constants for it, pair."""

    symbols = (_H, _S)

    @property
    def title(self) -> str:
        """For headings."""
        return "dimerizing"

    def parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """Enthalpy and entropy of dimers, of the components that have them."""
        for c in who:
            if all(getattr(c, key) is not None for key in _OF_DIMERS.values()):
                for symbol, key in _OF_DIMERS.items():
                    yield Parameter(symbol, (c.name,), constant(getattr(c, key)), c.sources[key], c.layers[key])

    def build(self, who: ComponentList, values: Parameters) -> DimerizingGas:
        """The gas with its dimers."""
        return DimerizingGas(Dimerization(*(values.column(symbol, who) for symbol in _OF_DIMERS)))

    def notes(self, who: ComponentList, values: Parameters) -> list[str]:
        """On acids that pair but have no constants."""
        plain = [c.name for c in who if "acid" in classes_of(c) and not any(p.of == (c.name,) for p in values.of_symbol(_H.symbol))]
        return [f"Taken as without dimers, for want of constants: {first_few(plain)}."] if plain else []


@dataclass(frozen=True)
class NoVaporRecipe(VaporModel, name="none"):
    """No vapor: liquids among themselves, of components that need no vapor pressures."""

    non_ideal = False
    is_none = True

    def parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """None."""
        yield from ()

    def build(self, who: ComponentList, values: Parameters) -> NoVapor:
        """What offers no vapor."""
        return NoVapor()

    def notes(self, who: ComponentList, values: Parameters) -> list[str]:
        """What there is none of."""
        return ["There is no vapor in this model: liquids among themselves, without enthalpies."]


def _given_coefficients(who: ComponentList, given: Given) -> Iterator[Parameter]:
    """Second virial coefficients that the user knows."""
    for (first, second), value in (given.get("virial") or {}).items():
        names = (who.names[who.position(first)], who.names[who.position(second)])
        function = _coefficient(value, f"the second virial coefficient of {first} and {second}")
        yield Parameter(_B.symbol, names, function, written=str(value))


def _known_coefficients(who: ComponentList, values: Parameters) -> GivenCoefficients | None:
    """The same as the core's models take them."""
    own = values.pairs(_B.symbol, who, mirrored=1.0)
    return (np.asarray(own.any(axis=0)), own) if own.any() else None


@dataclass(frozen=True)
class VirialVapor(VaporModel, name="virial"):
    """The virial equation, cut off after the second coefficient."""

    symbols = (KIJ, _B)
    without_dimers = _NOT_VIRIAL
    needs = ("Tc", "Pc", "omega")
    takes = ("kij", "virial")

    def parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """Kij of every pair: none are published for it."""
        yield from interactions(who, given.get("kij"), "")
        yield from _given_coefficients(who, given)

    def build(self, who: ComponentList, values: Parameters) -> Virial:
        """The equation with its numbers."""
        Tc, Pc, omega = (who.constants(k, "the virial equation") for k in self.needs)
        polar = polar_terms(who.components)
        known = _known_coefficients(who, values)
        return Virial(Tc, Pc, omega, critical_volumes(who), kij_of_pairs(who, values), np.stack([polar.a, polar.b]), known)

    def notes(self, who: ComponentList, values: Parameters) -> list[str]:
        """On interaction parameters, and on polar components without a polar term."""
        notes = interaction_notes(values)
        plain = polar_terms(who.components).without
        if plain:
            notes.append(f"Polar, but without a polar term in the second virial coefficient: {', '.join(plain)}.")
        return notes


_ETA = Symbol("eta", "association parameter of a pair, or of a component with itself", low=0.0, high=3.0, of_temperature=False)
_HYDROXYLS = {"alcohol", "glycol", "water"}
_UNLIKE = "zero: taken as not associating with each other"
_LIKE = "the mean of both, which have hydroxyl groups"


@dataclass(frozen=True)
class HaydenOConnellVapor(VaporModel, name="Hayden-O'Connell"):
    """The virial equation with second coefficients from the size, shape, dipole moment and association of molecules."""

    symbols = (_ETA, _B)
    without_dimers = _NOT_VIRIAL
    needs = ("Tc", "Pc", "radius_of_gyration")
    takes = ("virial",)

    def parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """Association parameters of every component and pair, and coefficients that the user knows."""
        hydroxyl = [bool(classes_of(c) & _HYDROXYLS) and bool(c.vapor_association) for c in who]
        for i, first in enumerate(who):
            for j in range(i, len(who)):
                second = who.components[j]
                pair, own = (first.name, second.name), first.vapor_association
                if i == j and own is not None:
                    yield Parameter(
                        _ETA.symbol, pair, constant(own), first.sources["vapor_association"], first.layers["vapor_association"]
                    )
                elif i == j:
                    yield Parameter(_ETA.symbol, pair, constant(0.0), "zero: none known", NO_LAYER)
                elif hydroxyl[i] and hydroxyl[j]:
                    mean = 0.5 * ((own or 0.0) + (second.vapor_association or 0.0))
                    yield Parameter(_ETA.symbol, pair, constant(mean), _LIKE, NO_LAYER)
                else:
                    yield Parameter(_ETA.symbol, pair, constant(0.0), _UNLIKE, NO_LAYER)
        yield from _given_coefficients(who, given)

    def build(self, who: ComponentList, values: Parameters) -> HaydenOConnell:
        """The equation with its numbers."""
        Tc, Pc, radius = (who.constants(k, "Hayden and O'Connell's virial coefficients") for k in self.needs)
        dipole = np.array([c.dipole_moment or 0.0 for c in who])
        eta = values.pairs(_ETA.symbol, who, mirrored=1.0)[0]
        return HaydenOConnell(Tc, Pc, radius, dipole, eta, _known_coefficients(who, values))

    def notes(self, who: ComponentList, values: Parameters) -> list[str]:
        """On what is not known of components."""
        unknown = [c.name for c in who if c.dipole_moment is None]
        plain = [c.name for c in who if classes_of(c) & _HYDROXYLS and c.vapor_association is None]
        notes = [f"Dipole moments taken as zero, for want of a number: {first_few(unknown)}."] if unknown else []
        if plain:
            notes.append(f"Association in the vapor left out, for want of a parameter: {first_few(plain)}.")
        return notes
