"""Viscosity, thermal conductivity and surface tension of the phases of a state."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..mixture import Mixture
from ..text import capital, shown
from .base import TableResult
from .columns import Column
from .state_properties import TRANSPORT

Array = NDArray[np.float64]


class Transport(NamedTuple):
    """Of ``F`` phases of ``N`` states: Pa s, W/(m K), N/m of liquids ``(N, F)``, NaN elsewhere; by which methods, and what to think of it."""

    viscosity: Array
    thermal_conductivity: Array
    surface_tension: Array
    methods: tuple[str, ...]
    remarks: tuple[str, ...]


@dataclass(frozen=True, eq=False, repr=False)
class TransportTable(TableResult):
    """What a datasheet asks for of the phases of one state.

    Attributes
    ----------
    T, P : float
        K, Pa.
    phases : tuple of str
    values : dict of (F,) arrays
        `TRANSPORT` by name, SI.
    methods, remarks : tuple of str
    """

    system: Mixture
    T: float
    P: float
    phases: tuple[str, ...]
    values: dict[str, Array]
    methods: tuple[str, ...]
    remarks: tuple[str, ...]

    word = "transport properties"
    named_by = "phase"
    rows = "phases"

    def title(self, units: str | None = None) -> str:
        """Of which system, and where."""
        unit_set = self.unit_set(units)
        return f"Transport properties of {self.system.title} at {shown(self.T, 'temperature', unit_set)}, {shown(self.P, 'pressure', unit_set)}"

    def columns(self) -> list[Column]:
        """A row for each phase."""
        values = [Column(name, self.values[name], p.dimension) for name, p in TRANSPORT.items()]
        return [Column("phase", list(self.phases)), *values]

    def facts(self) -> dict[str, Any]:
        """The condition and the methods."""
        return {"T": self.T, "P": self.P, "methods": list(self.methods)}

    @property
    def notes(self) -> list[str]:
        """The methods with their usual errors, and what is estimated."""
        return [*(f"{capital(m)}." for m in self.methods), *self.remarks]
