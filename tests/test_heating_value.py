"""Heating values against ISO 6976, and what cannot be burnt."""

import json

import pytest

import sleetfield as sl

from .commands import run

# kJ/mol gross at 25 °C: ISO 6976:2016, Table 3
GROSS = {"methane": 890.58, "ethane": 1560.69, "propane": 2219.17, "n-butane": 2877.40, "hydrogen": 285.83, "carbon monoxide": 282.95, "hydrogen sulfide": 562.01, "ethylene": 1411.18, "benzene": 3301.43}  # fmt: skip


@pytest.mark.parametrize("name", list(GROSS))
def test_gross_heating_values_of_pure_gases(name):
    found = sl.System([name], eos="PR").heating_value([1.0])
    assert found.molar[0] / 1e3 == pytest.approx(GROSS[name], rel=2e-4)
    hydrogens = sl.databank().find(name).formula
    assert found.molar[0] > found.molar[1] or "H" not in hydrogens


def test_a_natural_gas_and_its_wobbe_index():
    """By hand from the table's values; relative densities and volumes of real gas at 15 °C and 1 atm."""
    gas = sl.System(["methane", "ethane", "nitrogen"], eos="PR", units="metric")
    found = gas.heating_value([0.92, 0.05, 0.03])
    molar = 1e3 * (0.92 * GROSS["methane"] + 0.05 * GROSS["ethane"])
    assert found.molar[0] == pytest.approx(molar, rel=2e-4)
    mass = 0.92 * 16.043 + 0.05 * 30.07 + 0.03 * 28.014
    assert found.relative_density == pytest.approx(mass / 28.9626, rel=3e-3)
    assert found.by_volume[0] == pytest.approx(molar / (8.314462618 * 288.15 / 101325.0), rel=4e-3)
    assert found.wobbe[0] == pytest.approx(found.by_volume[0] / found.relative_density**0.5)
    assert found.by_mass[1] == pytest.approx(found.molar[1] / mass * 1e3, rel=1e-4)
    # methane: 37.78 MJ/m3 and a Wobbe index of 50.72 MJ/m3 at 15 °C, ISO 6976:1995, Table 5
    methane = sl.System(["methane"], eos="PR").heating_value([1.0])
    assert methane.by_volume[0] / 1e6 == pytest.approx(37.78, rel=1e-3)
    assert methane.wobbe[0] / 1e6 == pytest.approx(50.72, rel=1e-3)


def test_what_is_no_fuel_is_said():
    with pytest.raises(sl.InputError, match="chloroform: only what is made of"):
        sl.System(["methane", "chloroform"], eos="PR").heating_value([0.9, 0.1])
    own = sl.Component(name="sleet gas", Tc=300.0, Pc=4e6, omega=0.1, molar_mass=0.03)
    with pytest.raises(sl.UnknownComponentError, match="sleet gas"):
        sl.System([own], eos="PR").heating_value([1.0])
    with pytest.raises(sl.InputError, match="one fuel"):
        sl.System(["methane"], eos="PR").heating_value([1.0], T=[280.0, 300.0])
    heavy = sl.System(["n-hexane"], eos="PR").heating_value([1.0])
    assert any("not all gas" in note for note in heavy.notes)
    inert = sl.System(["nitrogen"], eos="PR").heating_value([1.0])
    assert inert.molar.tolist() == [0.0, 0.0]


def test_from_the_command_line():
    told = json.loads(run("heating-value", "0.95 methane + 0.05 nitrogen", "--eos", "PR", "--json"))
    assert told["values"]["gross"]["molar"] == pytest.approx(0.95 * 890650.0)
    assert "Wobbe" in run("heating-value", "0.95 methane + 0.05 nitrogen", "--eos", "PR")
