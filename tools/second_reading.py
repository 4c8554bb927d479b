"""The databank against tests/tables/second_reading.csv: what differs, how many do, by column, and what a third relation says of them.

    python tools/second_reading.py

The limits are what careful tables differ by; they were set before the comparison was made. The verdicts are in second_verdicts.csv beside the table.
"""

from __future__ import annotations

import csv
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import NamedTuple

import numpy as np

import sleetfield as sl
from sleetfield.components.formula import elements
from sleetfield.core.constants import ATMOSPHERE

TABLES = Path(__file__).parent.parent / "tests" / "tables"
AT = np.array([298.15])


ENTROPIES = {"C": 5.74, "H": 65.34, "O": 102.575, "N": 95.805, "F": 101.395, "Cl": 111.54, "Br": 76.105, "S": 32.05}
"""Of the elements, per atom, J/(mol K): Cox, Wagman and Medvedev, CODATA Key Values (1989)."""

Reading = dict[str, float]
Component = sl.Component


class Column(NamedTuple):
    """A column: what the bank says, what the table says or makes of it, both in the table's unit, and how far two careful tables may differ."""

    name: str
    bank: Callable[[Component], float | None]
    other: Callable[[Component, Reading], float]
    share: float
    least: float
    unit: str = ""


def _constant(quantity: str, unit: float) -> Callable[[Component], float | None]:
    def bank(c: Component) -> float | None:
        value = getattr(c, quantity)
        return None if value is None else value / unit

    return bank


def _at(quantity: str, unit: float = 1.0) -> Callable[[Component], float | None]:
    def bank(c: Component) -> float | None:
        correlation = getattr(c, quantity)
        if correlation is None or not correlation.T_min - 1.0 <= AT[0] <= correlation.T_max + 1.0:
            return None
        return float(correlation.value(AT)[0]) / unit

    return bank


def _density(c: Component) -> float | None:
    return None if c.liquid_density is None or c.molar_mass is None else float(c.liquid_density.value(AT)[0]) * c.molar_mass


def _heat_of_vaporization(c: Component) -> float | None:
    return (
        None if c.heat_of_vaporization is None or c.Tb is None else float(c.heat_of_vaporization.value(np.array([c.Tb]))[0]) / 1e3
    )


def _vapor_pressure(c: Component) -> float | None:
    return None if c.vapor_pressure is None else float(np.exp(c.vapor_pressure.value(AT)[0])) / 1e3


def _solubility_parameter(c: Component) -> float | None:
    parts = (c.delta_d, c.delta_p, c.delta_h)
    return None if None in parts else float(np.linalg.norm(np.array(parts, float))) / 1e3


def _acentric_factor(c: Component, r: Reading) -> float:
    """Lee and Kesler, AIChE J. 21 (1975) 510-527, from the table's Tb, Tc and Pc."""
    t = r["Tb [K]"] / r["Tc [K]"]
    above = np.log(ATMOSPHERE / (1e6 * r["Pc [MPa]"])) - 5.92714 + 6.09648 / t + 1.28862 * np.log(t) - 0.169347 * t**6
    return float(above / (15.2518 - 15.6875 / t - 13.4721 * np.log(t) + 0.43577 * t**6))


def _gibbs_energy(c: Component, r: Reading) -> float:
    """From the table's enthalpy of formation and entropy."""
    atoms = elements(c.formula) or {}
    return r["Hf [kJ/mol]"] - AT[0] * (r["S_gas [J/(mol K)]"] - sum(ENTROPIES[e] * n for e, n in atoms.items())) / 1e3


def _read(key: str) -> Callable[[Component, Reading], float]:
    return lambda _, reading: reading[key]


COLUMNS = [
    Column("critical temperature", _constant("Tc", 1.0), _read("Tc [K]"), 0.006, 0.0),
    Column("critical pressure", _constant("Pc", 1e6), _read("Pc [MPa]"), 0.03, 0.0),
    Column("critical volume", _constant("Vc", 1e-6), _read("Vc [cm3/mol]"), 0.05, 0.0),
    Column("acentric factor", _constant("omega", 1.0), _acentric_factor, 0.0, 0.02),
    Column("boiling point", _constant("Tb", 1.0), _read("Tb [K]"), 0.0, 1.0, "K"),
    Column("melting point", _constant("Tm", 1.0), _read("Tm [K]"), 0.0, 2.0, "K"),
    Column("heat of fusion", _constant("heat_of_fusion", 1e3), _read("Hfus [kJ/mol]"), 0.05, 0.02, "kJ/mol"),
    Column("enthalpy of formation", _constant("H_formation", 1e3), _read("Hf [kJ/mol]"), 0.0, 4.0, "kJ/mol"),
    Column("Gibbs energy of formation", _constant("G_formation", 1e3), _gibbs_energy, 0.0, 4.0, "kJ/mol"),
    Column("dipole moment", _constant("dipole_moment", 1.0), _read("dipole [debye]"), 0.05, 0.1, "D"),
    Column("solubility parameter", _solubility_parameter, _read("solubility parameter [MPa^0.5]"), 0.0, 1.2, "MPa^0.5"),
    Column("vapor pressure at 25 °C", _vapor_pressure, _read("Psat [kPa]"), 0.04, 0.0),
    Column("ideal-gas heat capacity at 25 °C", _at("heat_capacity"), _read("Cp_gas [J/(mol K)]"), 0.04, 0.0),
    Column("liquid heat capacity at 25 °C", _at("liquid_heat_capacity"), _read("Cp_liquid [J/(mol K)]"), 0.04, 0.0),
    Column("liquid density at 25 °C", _density, _read("density [kg/m3]"), 0.01, 0.0),
    Column("heat of vaporization at Tb", _heat_of_vaporization, _read("Hvap [kJ/mol]"), 0.03, 0.0),
    Column("liquid viscosity at 25 °C", _at("liquid_viscosity", 1e-3), _read("viscosity [mPa s]"), 0.05, 0.0),
    Column("surface tension at 25 °C", _at("surface_tension", 1e-3), _read("surface tension [mN/m]"), 0.03, 0.0),
]


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


def comparisons() -> Iterator[Comparison]:
    """Every number that both have."""
    bank = {c.name: c for c in sl.databank()}
    for row in _rows("second_reading.csv"):
        component = bank[row.pop("name")]
        reading = {key: float(value) for key, value in row.items() if value}
        for column in COLUMNS:
            value = column.bank(component)
            try:
                other = column.other(component, reading)
            except KeyError:
                continue
            if value is not None:
                yield Comparison(component.name, column, value, other)


def verdicts() -> dict[tuple[str, str], str]:
    """What a third relation says of each difference: ``bank`` is right, or it is ``open``."""
    return {(r["component"], r["column"]): r["verdict"] for r in _rows("second_verdicts.csv")}


def _rows(name: str) -> Iterator[dict[str, str]]:
    with (TABLES / name).open(encoding="utf-8") as lines:
        yield from csv.DictReader(line for line in lines if not line.startswith("#"))


def report() -> str:
    """The table of docs/databank.md."""
    found, said = list(comparisons()), verdicts()
    lines = ["| quantity | limit | compared | beyond it | of these open |", "| --- | --- | --: | --: | --: |"]
    for column in COLUMNS:
        of = [c for c in found if c.column is column]
        beyond = [c for c in of if c.differs]
        still = sum(said.get((c.component, column.name)) != "bank" for c in beyond)
        limit = " + ".join(
            [
                *([f"{100.0 * column.share:g} %"] if column.share else []),
                *([f"{column.least:g} {column.unit}".strip()] if column.least else []),
            ]
        )
        lines.append(f"| {column.name} | {limit} | {len(of)} | {len(beyond)} | {still} |")
    return "\n".join(lines)


def main() -> None:
    """Print what differs, then the counts."""
    for c in comparisons():
        if c.differs:
            print(f"{c.column.name:34s}{c.component:28s}{c.bank:12.5g}{c.other:12.5g}")
    print(report())


if __name__ == "__main__":
    main()
