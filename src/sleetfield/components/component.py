"""A pure component: identity, constants, correlations, and the source of each."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType

import numpy as np

from ..core.correlations import HeatCapacity, LnVaporPressure
from ..errors import InputError, UnknownComponentError
from .formula import molar_mass as molar_mass_of

CONSTANTS = {
    "molar_mass": ("kg/mol", "molar mass"),
    "Tc": ("K", "critical temperature"),
    "Pc": ("Pa", "critical pressure"),
    "omega": ("1", "acentric factor"),
    "Tb": ("K", "normal boiling point"),
    "Vc": ("m3/mol", "critical volume"),
    "Tm": ("K", "melting point"),
    "heat_of_fusion": ("J/mol", "heat of fusion at the melting point"),
    "heat_of_vaporization": ("J/mol", "heat of vaporization at the normal boiling point"),
    "H_formation": ("J/mol", "standard enthalpy of formation of the ideal gas"),
    "G_formation": ("J/mol", "standard Gibbs energy of formation of the ideal gas"),
}
"""Every constant: its SI unit and its name."""

SIGNED = ("omega", "H_formation", "G_formation")
"""Constants that may be negative."""

_YOURS = "given in code"


@dataclass(frozen=True)
class Component:
    """A pure component, from the databank or of one's own.

    Parameters
    ----------
    name : str
    molar_mass : float, optional
        kg/mol; follows from ``formula`` where that is given.
    Tc, Pc, omega, Tb : float, optional
        Critical temperature, K; critical pressure, Pa; acentric factor; normal boiling point, K.
    Vc, Tm : float, optional
        Critical volume, m3/mol; melting point, K.
    heat_of_fusion, heat_of_vaporization : float, optional
        J/mol, at the melting and at the normal boiling point.
    H_formation, G_formation : float, optional
        Of the ideal gas at 298.15 K, J/mol.
    formula, cas : str, optional
    aliases : tuple of str, optional
    vapor_pressure : LnVaporPressure, optional
        For an ideal liquid.
    heat_capacity : HeatCapacity, optional
        Of the ideal gas; for enthalpies and entropies.
    sources : mapping of str to str, optional
        Where each constant and correlation came from.
    layer : str
        Which databank layer it came from.

    Raises
    ------
    InputError
        If a constant is not positive or not finite (omega and formation values may be negative).

    Examples
    --------
    >>> import sleetfield as sl
    >>> heavy = sl.Component(name="pentyl sleetate", Tc=612.0, Pc=29.5e5, omega=0.45, molar_mass=0.1302)
    >>> heavy.sources["Tc"]
    'given in code'

    """

    name: str
    molar_mass: float | None = None
    Tc: float | None = None
    Pc: float | None = None
    omega: float | None = None
    Tb: float | None = None
    Vc: float | None = None
    Tm: float | None = None
    heat_of_fusion: float | None = None
    heat_of_vaporization: float | None = None
    H_formation: float | None = None
    G_formation: float | None = None
    formula: str = ""
    cas: str = ""
    aliases: tuple[str, ...] = ()
    vapor_pressure: LnVaporPressure | None = None
    heat_capacity: HeatCapacity | None = None
    sources: Mapping[str, str] = field(default_factory=dict)
    layer: str = _YOURS

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise InputError("A component needs a name.")
        if self.molar_mass is None and self.formula:
            object.__setattr__(self, "molar_mass", molar_mass_of(self.formula))
        for key, (unit, words) in CONSTANTS.items():
            value = getattr(self, key)
            if value is not None and not (np.isfinite(value) and (value > 0.0 or key in SIGNED)):
                raise InputError(f"The {words} of {self.name} is {value!r} {unit}; it must be a positive number.")
        given = {key: _YOURS for key in (*CONSTANTS, "vapor_pressure", "heat_capacity") if getattr(self, key) is not None}
        object.__setattr__(self, "sources", MappingProxyType({**given, **self.sources}))

    def constant(self, key: str, needed_for: str) -> float:
        """A constant that a calculation needs.

        Raises
        ------
        UnknownComponentError
            If this component lacks it.

        """
        value = getattr(self, key)
        if value is None:
            words = CONSTANTS[key][1]
            raise UnknownComponentError(
                f"{self.name} has no {words} ({key}), which {needed_for} needs. Give it with sl.Component(name={self.name!r}, {key}=..., ...)."
            )
        return float(value)

    def __str__(self) -> str:
        lines = [f"{self.name}  {self.formula}  CAS {self.cas or 'unknown'}  ({self.layer})"]
        if self.aliases:
            lines.append(f"also: {', '.join(self.aliases)}")
        for row in self.rows():
            lines.append("  ".join(str(cell) for cell in row if cell != ""))
        return "\n".join(lines)

    def rows(self) -> list[tuple[str, str, str, str]]:
        """What is known of it, for display: quantity, value, unit or range, source."""
        rows = []
        for key, (unit, words) in CONSTANTS.items():
            value = getattr(self, key)
            if value is not None:
                rows.append((f"{words} ({key})", f"{value:.7g}", "" if unit == "1" else unit, self.sources[key]))
        for key, words in (("vapor_pressure", "vapor pressure"), ("heat_capacity", "ideal-gas heat capacity")):
            correlation = getattr(self, key)
            if correlation is not None:
                kind = type(correlation).__name__
                numbers = ", ".join(f"{c:.7g}" for c in correlation.coefficients)
                rows.append((words, f"{kind}({numbers})", f"{correlation.T_min:g} to {correlation.T_max:g} K", self.sources[key]))
        return rows
