"""Solid compounds of fixed composition, as users give them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..arguments import expect_fields
from ..components.component_list import ComponentList
from ..core.models.compound import Compound
from ..errors import InputError
from ..units import one_in_si


@dataclass(frozen=True)
class SolidCompound:
    """A compound that crystallizes: so many parts of each component.

    Parameters
    ----------
    parts : dict of name to number
        Of a formula unit: ``{"phenol": 1, "aniline": 1}``.
    melting_T
        K, or text with a unit: where it melts to a liquid of its composition, or would if it did not part before.
    heat_of_fusion
        J for each mole of formula units, or text with a unit.
    name : str, optional

    Examples
    --------
    >>> import sleetfield as sl
    >>> sl.SolidCompound({"phenol": 1, "aniline": 1}, melting_T="31 degC", heat_of_fusion="21 kJ/mol").title
    'phenol + aniline compound'

    """

    parts: Mapping[str, float]
    melting_T: Any
    heat_of_fusion: Any
    name: str = ""

    def __post_init__(self) -> None:
        expect_fields(self)

    @property
    def title(self) -> str:
        """What it is called in results."""
        units = " + ".join(name if n == 1 else f"{n} {name}" for name, n in self.parts.items())
        return self.name or f"{units} compound"

    def of(self, who: ComponentList) -> Compound:
        """The core's crystal.

        Raises
        ------
        InputError
            If the parts or numbers make no sense.
        UnknownComponentError
            If a part is none of the components.
        """
        numbers = np.zeros(len(who))
        for name, n in self.parts.items():
            numbers[who.position(name)] = one_in_si(n, "fraction", f"the parts of {name}")
        if len(self.parts) < 2 or not (numbers >= 0.0).all() or np.count_nonzero(numbers) < 2:
            raise InputError(f"A compound has at least two components, with positive parts of each; got {dict(self.parts)}.")
        T, heat = (
            one_in_si(self.melting_T, "temperature", "melting_T"),
            one_in_si(self.heat_of_fusion, "molar_energy", "heat_of_fusion"),
        )
        if not (T > 0.0 and heat > 0.0):
            raise InputError(
                f"{self.title} needs a positive melting temperature and heat of fusion; got {T:g} K and {heat:g} J/mol."
            )
        return Compound(numbers, T, heat)
