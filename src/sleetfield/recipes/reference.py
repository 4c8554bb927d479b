"""Reference equations of pure fluids: water and steam, carbon dioxide, nitrogen, methane."""

from __future__ import annotations

import functools
import tomllib
from collections.abc import Iterator
from dataclasses import dataclass
from importlib import resources
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..components.component_list import ComponentList
from ..core.models.reference_fluid import ReferenceFluid, ReferenceTerms
from ..errors import InputError
from .contract import EquationOfState, Given
from .parameter import Parameter, Parameters

_ROWS = {"powers": 3, "exponentials": 4, "bells": 7, "critical": 8}
"""Kinds of terms, and how many numbers each has."""


@functools.cache
def _fluids() -> dict[str, dict[str, Any]]:
    return tomllib.loads(resources.files("sleetfield.data").joinpath("reference_fluids.toml").read_text(encoding="utf-8"))


@dataclass(frozen=True)
class Reference(EquationOfState, name="reference"):
    """The equation that all that was measured of one fluid was fitted to."""

    symbols = ()
    needs = ("Tc", "Pc", "omega")
    takes = ()
    of_one_component = True

    def parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """None: the equation is what it is.

        Raises
        ------
        InputError
            If there is more than one component, or no such equation of it.
        """
        if len(who) != 1 or who.names[0] not in _fluids():
            raise InputError(
                f"A reference equation is of one component alone, of {', '.join(_fluids())}; the components are {', '.join(who.names)}."
            )
        return iter(())

    def build(self, who: ComponentList, values: Parameters) -> ReferenceFluid:
        """The equation with its terms."""
        own = _fluids()[who.names[0]]
        tables = (np.array(own[key], dtype=float).reshape(-1, width) for key, width in _ROWS.items())
        terms = ReferenceTerms(own["density"], own["temperature"], own["gas_constant"], own["densest"], *tables)
        critical = np.array([own["temperature"]]), np.array([own["critical_pressure"]])
        return ReferenceFluid(terms, *critical, who.constants("omega", self.name), who.molar_mass)

    def notes(self, who: ComponentList, values: Parameters) -> list[str]:
        """Where it is from."""
        return [f"By the reference equation of {who.names[0]}: {_fluids()[who.names[0]]['source']}."]

    def notes_at(self, who: ComponentList, values: Parameters, T: NDArray[np.float64]) -> list[str]:
        """Temperatures that it is not for."""
        own = _fluids()[who.names[0]]
        if ((own["T_min"] > T) | (own["T_max"] < T)).any():
            return [f"The reference equation of {who.names[0]} is for {own['T_min']:g} to {own['T_max']:g} K."]
        return []
