"""A pure component: identity, constants, correlations, and the source of each."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, fields, replace
from types import MappingProxyType
from typing import Any, NamedTuple

import numpy as np

from ..arguments import expect_fields
from ..core.correlations import (
    HeatCapacity,
    HeatOfVaporization,
    LiquidConductivity,
    LiquidDensity,
    LiquidViscosity,
    LnVaporPressure,
    OfThinGas,
    SurfaceTension,
)
from ..errors import InputError, UnknownComponentError
from ..text import html
from ..units import one_in_si, unit_of
from .formula import molar_mass as molar_mass_of
from .quantities import COLDEST, CONSTANTS, CORRELATIONS, EQUATION_OF, MOST

IDENTITY = ("formula", "cas", "aliases", "smiles", "inchi_key")
"""What names a component, besides its name."""

_YOURS = "given in code"
_AUTHORS = ("antoine", "riedel", "wagner", "rackett", "watson", "vogel", "guggenheim")


class Row(NamedTuple):
    """One line about a component, as people read it: what ``name`` is called, its value, the equation that it follows and where that holds."""

    quantity: str
    name: str
    value: str
    equation: str
    range: str
    layer: str
    source: str


@dataclass(frozen=True, repr=False)
class Component:
    """A pure component, from the databank or of one's own.

    Constants are SI numbers, or text with a unit. What is not known is None.

    Parameters
    ----------
    name : str
    molar_mass : float, optional
        kg/mol; follows from ``formula`` where that is given.
    Tc, Pc, omega, Tb, Vc, Tm : float, optional
        Critical temperature, K; critical pressure, Pa; acentric factor; normal boiling point, K; critical volume, m3/mol; melting point, K.
    heat_of_fusion : float, optional
        J/mol, at the melting point.
    fusion_heat_capacity : float, optional
        Heat capacity of the liquid less that of the solid, J/(mol K), at the melting point.
    solid_volume : float, optional
        m3/mol.
    transition_T, heat_of_transition : float, optional
        Where below the melting point the solid changes its form, K, and the heat of that, J/mol.
    H_formation, G_formation : float, optional
        Of the ideal gas at 298.15 K, J/mol.
    association_factor : float, optional
        Of Chung's viscosity, for vapors with hydrogen bonds.
    dipole_moment : float, optional
        Of the gas, debye.
    radius_of_gyration : float, optional
        m, as Hayden and O'Connell have it.
    vapor_association : float, optional
        Their association parameter of second virial coefficients.
    uniquac_r, uniquac_q : float, optional
        Volume and area parameters.
    segments, segment_diameter, segment_energy : float, optional
        Of a chain in PC-SAFT: number of segments, their diameter, m, and the depth of their potential over k, K.
    segment_bond_energy, segment_bond_volume, segment_donors, segment_acceptors : float, optional
        Of its bonds: energy over k, K, volume over that of a segment, and how many sites of both kinds it has.
    cpa_attraction, cpa_covolume, cpa_slope : float, optional
        In cubic plus association: attraction at the critical temperature, Pa m6/mol2, covolume, m3/mol, and how the root of the attraction falls with temperature.
    cpa_bond_energy, cpa_bond_volume, cpa_donors, cpa_acceptors, cpa_pairing : float, optional
        Of bonds there: energy, J/mol, volume over the covolume, and how many donors, acceptors, and sites that pair with any other.
    dimerization_enthalpy, dimerization_entropy : float, optional
        Of a dimer from two molecules of the ideal gas, J/mol and J/(mol K) at 1 bar.
    delta_d, delta_p, delta_h : float, optional
        Parts of the solubility parameter (dispersion, polar, hydrogen bonding) at 298 K, Pa^0.5.
    formula, cas, smiles, inchi_key : str, optional
    aliases : tuple of str, optional
    vapor_pressure : LnVaporPressure, optional
        For an ideal liquid.
    heat_capacity : HeatCapacity, optional
        Of the ideal gas; for enthalpies and entropies.
    liquid_density : LiquidDensity, optional
        Of the saturated liquid, mol/m3.
    heat_of_vaporization : HeatOfVaporization, optional
        J/mol.
    liquid_heat_capacity : HeatCapacity, optional
        Of the saturated liquid.
    liquid_viscosity : LiquidViscosity, optional
        Pa s.
    liquid_conductivity : LiquidConductivity, optional
        W/(m K).
    surface_tension : SurfaceTension, optional
        N/m.
    gas_viscosity, gas_conductivity : OfThinGas, optional
        Of the thin gas, Pa s and W/(m K).
    sources : mapping of str to str, optional
        Where each constant and correlation came from.
    layers : mapping of str to str, optional
        Which databank layer each came from, where not ``layer``.
    layer : str
        Which databank layer it came from, the last one where there are several.

    Raises
    ------
    InputError
        If a constant is not positive or not finite (omega, formation values, dipole moment and two solubility parameters need only be finite).

    Examples
    --------
    >>> import sleetfield as sl
    >>> heavy = sl.Component(name="pentyl sleetate", Tc=612.0, Pc="29.5 bar", omega=0.45, molar_mass="130.2 g/mol")
    >>> heavy.sources["Tc"], heavy.Pc
    ('given in code', 2950000.0)

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
    fusion_heat_capacity: float | None = None
    solid_volume: float | None = None
    transition_T: float | None = None
    heat_of_transition: float | None = None
    H_formation: float | None = None
    G_formation: float | None = None
    dipole_moment: float | None = None
    association_factor: float | None = None
    radius_of_gyration: float | None = None
    vapor_association: float | None = None
    uniquac_r: float | None = None
    uniquac_q: float | None = None
    segments: float | None = None
    segment_diameter: float | None = None
    segment_energy: float | None = None
    segment_bond_energy: float | None = None
    segment_bond_volume: float | None = None
    segment_donors: float | None = None
    segment_acceptors: float | None = None
    cpa_attraction: float | None = None
    cpa_covolume: float | None = None
    cpa_slope: float | None = None
    cpa_bond_energy: float | None = None
    cpa_bond_volume: float | None = None
    cpa_donors: float | None = None
    cpa_acceptors: float | None = None
    cpa_pairing: float | None = None
    dimerization_enthalpy: float | None = None
    dimerization_entropy: float | None = None
    delta_d: float | None = None
    delta_p: float | None = None
    delta_h: float | None = None
    formula: str = ""
    cas: str = ""
    smiles: str = ""
    inchi_key: str = ""
    aliases: tuple[str, ...] = ()
    vapor_pressure: LnVaporPressure | None = None
    heat_capacity: HeatCapacity | None = None
    liquid_density: LiquidDensity | None = None
    heat_of_vaporization: HeatOfVaporization | None = None
    liquid_heat_capacity: HeatCapacity | None = None
    liquid_viscosity: LiquidViscosity | None = None
    liquid_conductivity: LiquidConductivity | None = None
    surface_tension: SurfaceTension | None = None
    gas_viscosity: OfThinGas | None = None
    gas_conductivity: OfThinGas | None = None
    sources: Mapping[str, str] = field(default_factory=dict)
    layers: Mapping[str, str] = field(default_factory=dict)
    layer: str = _YOURS

    def __post_init__(self) -> None:
        expect_fields(self, besides=(*CONSTANTS, *CORRELATIONS))
        if not self.name.strip():
            raise InputError("A component needs a name.")
        if self.molar_mass is None and self.formula:
            object.__setattr__(self, "molar_mass", molar_mass_of(self.formula))
        for key in CONSTANTS:
            value = getattr(self, key)
            if value is not None:
                object.__setattr__(self, key, checked(value, key, self.name))
        for key, quantity in CORRELATIONS.items():
            if getattr(self, key) is not None and not hasattr(getattr(self, key), "T_min"):
                raise InputError(f"The {quantity.words} of {self.name} is {getattr(self, key)!r}; it must be a correlation.")
        known = [key for key in (*CONSTANTS, *CORRELATIONS) if getattr(self, key) is not None]
        object.__setattr__(self, "sources", MappingProxyType({k: self.sources.get(k, _YOURS) for k in known}))
        object.__setattr__(self, "layers", MappingProxyType({k: self.layers.get(k, self.layer) for k in known}))

    def __reduce__(self) -> tuple[Any, ...]:
        given = {f.name: getattr(self, f.name) for f in fields(self)}
        return _made, ({**given, "sources": dict(self.sources), "layers": dict(self.layers)},)

    def constant(self, key: str, needed_for: str) -> float:
        """A constant that a calculation needs.

        Raises
        ------
        UnknownComponentError
            If this component lacks it.

        """
        value = getattr(self, key)
        if value is None:
            raise UnknownComponentError(
                f"{self.name} has no {CONSTANTS[key].words} ({key}), which {needed_for} needs. "
                f"Give it with sl.Component(name={self.name!r}, {key}=..., ...)."
            )
        return float(value)

    def changed(self, *, source: str = _YOURS, **values: Any) -> Component:
        """The same component with other values, and ``source`` as where they came from.

        Raises
        ------
        InputError
            If there is no such quantity, or its value is impossible.

        Examples
        --------
        >>> import sleetfield as sl
        >>> acetone = sl.databank().find("acetone").changed(Tc="508.3 K", source="lab 2")
        >>> acetone.Tc, acetone.sources["Tc"]
        (508.3, 'lab 2')

        """
        known = (*IDENTITY, *CONSTANTS, *CORRELATIONS)
        for key in values:
            if key not in known:
                raise InputError(f"A component has no {key!r}. It has {', '.join(known)}.")
        new = [key for key in values if key not in IDENTITY]
        sources, layers = {**self.sources, **dict.fromkeys(new, source)}, {**self.layers, **dict.fromkeys(new, _YOURS)}
        return replace(self, **values, sources=sources, layers=layers)

    def __str__(self) -> str:
        lines = [f"{self.name}  {self.formula}  CAS {self.cas or 'unknown'}  ({self.layer})"]
        if self.aliases:
            lines.append(f"also: {', '.join(self.aliases)}")
        for row in self.rows():
            lines.append("  ".join(str(cell) for cell in row if cell != ""))
        return "\n".join(lines)

    def __repr__(self) -> str:
        return f"<Component {', '.join(filter(None, (self.name, self.formula, self.cas)))} ({self.layer})>"

    def _repr_html_(self) -> str:
        import pandas as pd

        return html(f"{self.name}  {self.formula}  CAS {self.cas or 'unknown'}", pd.DataFrame(self.rows()), [])

    def rows(self) -> list[Row]:
        """What is known of it, for display."""
        rows = []
        for key, constant in CONSTANTS.items():
            value = getattr(self, key)
            if value is not None:
                shown = f"{value:.7g} {unit_of(constant.dimension)}".strip()
                rows.append(Row(constant.words, key, shown, "", "", self.layers[key], self.sources[key]))
        for key, quantity in CORRELATIONS.items():
            correlation = getattr(self, key)
            if correlation is not None:
                T = min(max(298.15, correlation.T_min), correlation.T_max)
                raw = float(correlation.value(np.array([T]))[0])
                number = math.exp(raw) if key == "vapor_pressure" else raw
                words = [w.capitalize() if w in _AUTHORS else w for w in EQUATION_OF[type(correlation)].split("_")]
                shown = f"{number:.5g} {quantity.unit} at {T:g} K"
                holds = f"{correlation.T_min:.4g} to {correlation.T_max:.4g} K"
                rows.append(Row(quantity.words, key, shown, " ".join(words), holds, self.layers[key], self.sources[key]))
        return rows


def _made(given: dict[str, Any]) -> Component:
    return Component(**given)


def checked(value: Any, key: str, name: str) -> float:
    """A constant as an SI number.

    Raises
    ------
    InputError
        If it can't be one.
    """
    constant = CONSTANTS[key]
    number = one_in_si(value, constant.dimension, f"{key} of {name}")
    most = MOST[constant.dimension]
    least = COLDEST if constant.dimension == "temperature" else 0.0
    if not (abs(number) <= most and (number > least or constant.signed)):
        rule = f"{'a' if constant.signed else 'a positive'} number of at most {most:g} {unit_of(constant.dimension)}".rstrip()
        raise InputError(f"The {constant.words} of {name} is {value!r} {unit_of(constant.dimension)}; it must be {rule}.")
    return number
