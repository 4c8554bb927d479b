"""The databank against a second reading: numbers of other tables than its own, entered before looking at it.

`data/second_reading.csv` has them, of the substances met most. How far two careful tables may differ was set before they were compared.
"""

from __future__ import annotations

import functools
from collections import Counter
from collections.abc import Callable, Iterator
from typing import NamedTuple

import numpy as np

from ..core.constants import T_REFERENCE
from ..core.estimates.acentric_factor import lee_kesler
from .component import Component
from .databank import read_table
from .formula import elements

ENTROPIES = {"C": 5.74, "H": 65.34, "O": 102.575, "N": 95.805, "F": 101.395, "Cl": 111.54, "Br": 76.105, "S": 32.05}
"""Of the elements, per atom, J/(mol K): Cox, Wagman and Medvedev, CODATA Key Values (1989)."""
_AT = np.array([T_REFERENCE])
_CRITICAL = "IUPAC reviews of critical data (1995 to 2001) and reference equations of gases"
_HANDBOOK = "CRC Handbook of Chemistry and Physics, 95th ed. (2014)"
_ENTHALPIES = "Pedley (1994), and Ruscic and others, Active Thermochemical Tables"
_GAS = "Thermodynamics Research Center (1997); Frenkel and others (1994)"
_LIQUIDS = "Domalski and Hearing, J. Phys. Chem. Ref. Data 25 (1996) 1"
_SOLVENTS = "Riddick, Bunger and Sakano, Organic Solvents (1986)"

Reading = dict[str, float]


class Column(NamedTuple):
    """A column: what the bank says, what the table says or makes of it, both in the table's unit, and how far two careful tables may differ."""

    name: str
    bank: Callable[[Component], float | None]
    other: Callable[[Component, Reading], float]
    share: float
    least: float
    unit: str
    source: str

    @property
    def limit(self) -> str:
        """How far two tables may differ, in words."""
        shares = [f"{100.0 * self.share:g} %"] if self.share else []
        return " + ".join([*shares, *([f"{self.least:g} {self.unit}".strip()] if self.least else [])])


class Comparison(NamedTuple):
    """One number of the bank beside the other table's."""

    component: str
    column: Column
    bank: float
    other: float

    @property
    def differs(self) -> bool:
        """By more than two careful tables do."""
        return abs(self.bank - self.other) > self.column.share * abs(self.other) + self.column.least

    @property
    def shown(self) -> str:
        """The bank's number with its unit."""
        return f"{self.bank:.5g} {self.column.unit}".strip()


def _constant(quantity: str, unit: float) -> Callable[[Component], float | None]:
    def bank(c: Component) -> float | None:
        value = getattr(c, quantity)
        return None if value is None else value / unit

    return bank


def _at(quantity: str, unit: float = 1.0) -> Callable[[Component], float | None]:
    def bank(c: Component) -> float | None:
        correlation = getattr(c, quantity)
        if correlation is None or not correlation.T_min - 1.0 <= _AT[0] <= correlation.T_max + 1.0:
            return None
        return float(correlation.value(_AT)[0]) / unit

    return bank


def _density(c: Component) -> float | None:
    return None if c.liquid_density is None or c.molar_mass is None else float(c.liquid_density.value(_AT)[0]) * c.molar_mass


def _heat_of_vaporization(c: Component) -> float | None:
    return (
        None if c.heat_of_vaporization is None or c.Tb is None else float(c.heat_of_vaporization.value(np.array([c.Tb]))[0]) / 1e3
    )


def _vapor_pressure(c: Component) -> float | None:
    return None if c.vapor_pressure is None else float(np.exp(c.vapor_pressure.value(_AT)[0])) / 1e3


def _solubility_parameter(c: Component) -> float | None:
    parts = (c.delta_d, c.delta_p, c.delta_h)
    return None if None in parts else float(np.linalg.norm(np.array(parts, float))) / 1e3


def _acentric_factor(_: Component, r: Reading) -> float:
    return float(lee_kesler(np.array(r["Tb [K]"]), np.array(r["Tc [K]"]), np.array(1e6 * r["Pc [MPa]"])))


def _gibbs_energy(c: Component, r: Reading) -> float:
    """From the table's enthalpy of formation and entropy."""
    atoms = elements(c.formula) or Counter()
    return r["Hf [kJ/mol]"] - T_REFERENCE * (r["S_gas [J/(mol K)]"] - sum(ENTROPIES[e] * n for e, n in atoms.items())) / 1e3


def _read(key: str) -> Callable[[Component, Reading], float]:
    return lambda _, reading: reading[key]


COLUMNS = [
    Column("critical temperature", _constant("Tc", 1.0), _read("Tc [K]"), 0.006, 0.0, "K", _CRITICAL),
    Column("critical pressure", _constant("Pc", 1e6), _read("Pc [MPa]"), 0.03, 0.0, "MPa", _CRITICAL),
    Column("critical volume", _constant("Vc", 1e-6), _read("Vc [cm3/mol]"), 0.05, 0.0, "cm3/mol", _CRITICAL),
    Column("acentric factor", _constant("omega", 1.0), _acentric_factor, 0.0, 0.02, "", f"Lee and Kesler's equation (1975), from {_CRITICAL}"),
    Column("boiling point", _constant("Tb", 1.0), _read("Tb [K]"), 0.0, 1.0, "K", _HANDBOOK),
    Column("melting point", _constant("Tm", 1.0), _read("Tm [K]"), 0.0, 2.0, "K", _HANDBOOK),
    Column("heat of fusion", _constant("heat_of_fusion", 1e3), _read("Hfus [kJ/mol]"), 0.05, 0.02, "kJ/mol", _LIQUIDS),
    Column("enthalpy of formation", _constant("H_formation", 1e3), _read("Hf [kJ/mol]"), 0.0, 4.0, "kJ/mol", _ENTHALPIES),
    Column("Gibbs energy of formation", _constant("G_formation", 1e3), _gibbs_energy, 0.0, 4.0, "kJ/mol", f"{_ENTHALPIES}; entropies: {_GAS}"),
    Column("dipole moment", _constant("dipole_moment", 1.0), _read("dipole [debye]"), 0.05, 0.1, "D", _HANDBOOK),
    Column("solubility parameter", _solubility_parameter, _read("solubility parameter [MPa^0.5]"), 0.0, 1.2, "MPa^0.5", "Barton, Handbook of Solubility Parameters (1983)"),
    Column("vapor pressure at 25 °C", _vapor_pressure, _read("Psat [kPa]"), 0.04, 0.0, "kPa", _SOLVENTS),
    Column("ideal-gas heat capacity at 25 °C", _at("heat_capacity"), _read("Cp_gas [J/(mol K)]"), 0.04, 0.0, "J/(mol K)", _GAS),
    Column("liquid heat capacity at 25 °C", _at("liquid_heat_capacity"), _read("Cp_liquid [J/(mol K)]"), 0.04, 0.0, "J/(mol K)", _LIQUIDS),
    Column("liquid density at 25 °C", _density, _read("density [kg/m3]"), 0.01, 0.0, "kg/m3", _HANDBOOK),
    Column("heat of vaporization at Tb", _heat_of_vaporization, _read("Hvap [kJ/mol]"), 0.03, 0.0, "kJ/mol", "Majer and Svoboda (1985)"),
    Column("liquid viscosity at 25 °C", _at("liquid_viscosity", 1e-3), _read("viscosity [mPa s]"), 0.05, 0.0, "mPa s", _SOLVENTS),
    Column("surface tension at 25 °C", _at("surface_tension", 1e-3), _read("surface tension [mN/m]"), 0.03, 0.0, "mN/m", f"Jasper, J. Phys. Chem. Ref. Data 1 (1972) 841; {_SOLVENTS}"),
]  # fmt: skip


@functools.cache
def _readings() -> dict[str, Reading]:
    return {
        row.pop("name"): {key: float(value) for key, value in row.items() if value}
        for row in map(dict, read_table("second_reading.csv"))
    }


def comparisons(c: Component) -> Iterator[Comparison]:
    """Every number of a component that both have.

    Examples
    --------
    >>> from sleetfield import databank
    >>> [(one.bank, one.other) for one in comparisons(databank().find("methane")) if one.column.name == "boiling point"]
    [(111.6, 111.67)]

    """
    reading = _readings().get(c.name, {})
    for column in COLUMNS:
        value = column.bank(c)
        try:
            other = column.other(c, reading)
        except KeyError:
            continue
        if value is not None:
            yield Comparison(c.name, column, value, other)
