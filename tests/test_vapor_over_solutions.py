"""Salts and gases in water under a pressure: what stays dissolved, what is vapor, and heat."""

import json
import math

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.components.databank import read_table
from sleetfield.components.species import all_species
from sleetfield.core.constants import R
from sleetfield.core.electrolyte.water import density

from .commands import call
from .test_water import CARBON_DIOXIDE, LN_KH_300

SPECIES = {s.name: s for s in all_species()}
MASS_OF_OXYGEN = 0.031998

# cm3 of gas at 0 °C and 1 atm, 22.26 L/mol, in a gram of water: Wiebe and Gaddy, J. Am. Chem. Soc. 61 (1939) 315-318
WIEBE_GADDY = {
    (50, 25): 9.71, (50, 50): 17.25, (50, 75): 22.53, (50, 100): 25.63,
    (75, 25): 6.82, (75, 50): 12.59, (75, 75): 17.04, (75, 100): 20.61,
    (100, 25): 5.37, (100, 50): 10.18, (100, 75): 14.29, (100, 100): 17.67,
}  # fmt: skip


@pytest.mark.parametrize(("celsius", "atmospheres"), list(WIEBE_GADDY))
def test_carbon_dioxide_dissolves_under_pressure_as_measured(celsius, atmospheres):
    water = sl.Electrolyte(["carbon dioxide"])
    found = water.speciation({"carbon dioxide": 3.0}, T=f"{celsius} degC", P=f"{atmospheres} atm")
    assert found.dissolved("carbon dioxide") == pytest.approx(WIEBE_GADDY[celsius, atmospheres] / 22.26, rel=0.03)


@pytest.mark.parametrize(("P", "x"), CARBON_DIOXIDE)
def test_and_as_others_measured_it(P, x):
    found = sl.Electrolyte(["carbon dioxide"]).speciation({"carbon dioxide": 3.0}, T=323.2, P=P)
    # the first of them lies 5 percent below the line through the others and through those above
    assert found.dissolved("carbon dioxide") == pytest.approx(x / (1.0 - x) / 0.01801528, rel=0.06)


def test_salt_drives_carbon_dioxide_out():
    """Setschenow's constant of 0.10 to 0.11 kg/mol of sodium chloride at 25 °C, and some 0.08 at 75 °C (Harned and Davis (1943); Weisenberger and Schumpe (1996)), under pressure too."""
    brine = sl.Electrolyte(["carbon dioxide", "sodium chloride"])
    for T, constant in (("25 degC", 0.10), ("75 degC", 0.08)):
        fresh, salt = (
            brine.speciation({"carbon dioxide": 3.0, "sodium chloride": m}, T=T, P="50 bar").dissolved("carbon dioxide")
            for m in (0.0, 1.0)
        )
        assert math.log10(fresh / salt) == pytest.approx(constant, abs=0.01)


@pytest.mark.parametrize("gas", ["carbon dioxide", "hydrogen sulfide", "methane", "nitrogen", "oxygen", "hydrogen"])
def test_henrys_constants_are_those_of_the_guideline(gas):
    """Its table at 300 K; carbon dioxide's is that of Weiss (1974) there, 0.5 % from it."""
    assert math.log(SPECIES[gas].dissolving.henrys_constant(300.0) / 1e9) == pytest.approx(
        LN_KH_300[gas], abs=6e-3 if gas == "carbon dioxide" else 1e-4
    )


@pytest.mark.parametrize(("celsius", "mg_per_liter"), [(0.0, 14.62), (10.0, 11.29), (25.0, 8.26), (35.0, 6.95)])
def test_oxygen_of_air_in_water(celsius, mg_per_liter):
    """Of air saturated with water at 1 atm: Standard Methods for the Examination of Water and Wastewater, 4500-O, after Benson and Krause (1984)."""
    water = sl.Electrolyte(["oxygen", "nitrogen"])
    air = water.speciation({"oxygen": 20.95, "nitrogen": 79.05}, T=f"{celsius} degC", P="1 atm")
    of_water = 1e-3 * float(density(273.15 + celsius))
    assert 1e6 * air.dissolved("oxygen") * MASS_OF_OXYGEN * of_water == pytest.approx(mg_per_liter, rel=0.015)


# ions of sea water of salinity 36.1, mol for a kilogram of water, and oxygen of air in it, mg/L: Standard Methods 4500-O, chlorinity 20, at 0 and 25 °C
SEA = {"NaCl": 0.434, "MgCl2": 0.0565, "CaCl2": 0.0110, "KCl": 0.0109, "Na2SO4": 0.0302}
IN_SEA = {0.0: (14.621, 11.355), 25.0: (8.263, 6.652)}


@pytest.mark.parametrize("celsius", list(IN_SEA))
def test_the_sea_holds_less_oxygen(celsius):
    water = sl.Electrolyte(["oxygen", *SEA])
    fresh, salt = (
        water.speciation(feed, T=f"{celsius} degC", gases={"oxygen": "0.2 bar"}).taken_up["oxygen"] for feed in ({}, SEA)
    )
    measured = IN_SEA[celsius]
    # 36 g of salt in a kilogram of sea water, of 1.026 kg/L
    per_liter = 1.026 * (1.0 - 0.0361)
    assert math.log10(fresh / (salt * per_liter)) == pytest.approx(math.log10(measured[0] / measured[1]), abs=0.012)


def test_numbers_of_ions_are_those_of_carbon_dioxide():
    """Harvie, Møller and Weare's λ of carbon dioxide, from other measurements, for salts of which they have both; potassium hydroxide drives oxygen out by 0.1746 L/mol (Davis, Horvath and Tobias, Electrochim. Acta 12 (1967) 287-297)."""
    h = {row["species"]: float(row["h"]) for row in read_table("salting_out.csv")}
    published = {
        (row["first"], row["second"]): float(row["value"]) for row in read_table("ion_mixing.csv") if row["kind"] == "lambda"
    }
    of_gas = -0.0172
    for cation, anion, counts in (
        ("Na+", "Cl-", (1, 1)),
        ("K+", "Cl-", (1, 1)),
        ("Mg+2", "Cl-", (1, 2)),
        ("Ca+2", "Cl-", (1, 2)),
        ("Na+", "SO4-2", (2, 1)),
        ("Mg+2", "SO4-2", (1, 1)),
    ):
        by_numbers = sum(n * (h[ion] + of_gas) for n, ion in zip(counts, (cation, anion), strict=True))
        by_others = (
            sum(n * published["CO2(aq)", ion] for n, ion in zip(counts, (cation, anion), strict=True)) * 2.0 / math.log(10.0)
        )
        assert by_numbers == pytest.approx(by_others, abs=0.055)
    assert h["K+"] + h["OH-"] + h["O2(aq)"] == pytest.approx(0.1746, abs=0.003)


@pytest.mark.parametrize("gas", ["carbon dioxide", "hydrogen sulfide", "methane", "nitrogen", "oxygen", "hydrogen"])
def test_volumes_of_dissolved_gases_are_credible(gas):
    """Within 4 cm3/mol of what Soave's equation makes of one molecule in water; 4 are 1.6 % in solubility at 100 bar."""
    x, T, P = np.array([[1e-8, 1.0 - 1e-8]]), np.array([298.15]), np.array([1e6])
    slope = sl.System([gas, "water"], eos="SRK").phase_model.at(T, P).evaluate(x, np.int8(1)).dP[0, 0]
    assert SPECIES[gas].dissolving.volume == pytest.approx(R * T[0] * (slope + 1.0 / P[0]), abs=4e-6)


@pytest.mark.parametrize(
    "gas",
    [
        "methane",
        "nitrogen",
        "oxygen",
        "hydrogen",
        "carbon dioxide",
        "hydrogen sulfide",
        "ammonia",
        "sulfur dioxide",
        "hydrogen chloride",
    ],
)
def test_heat_capacities_of_gases_are_the_databank_s(gas):
    known = float(sl.databank().find(gas).heat_capacity.value(np.array([298.15]))[0])
    assert SPECIES[gas].cp == pytest.approx(known, rel=0.015)


def test_what_is_not_known_of_salting_out_is_said():
    water = sl.Electrolyte(["ammonia", "oxygen", "sodium nitrate", "sodium chloride"])
    notes = water.speciation({"ammonia": 0.5, "sodium nitrate": 1.0}).notes
    assert any("drive out NH3(aq)" in note for note in notes)
    assert not any("drive out" in note for note in water.speciation({"oxygen": 0.002, "sodium chloride": 1.0}).notes)
    assert not any(
        "drive out" in note
        for note in sl.Electrolyte(["carbon dioxide", "NaCl"]).speciation({"carbon dioxide": 0.1, "NaCl": 1.0}).notes
    )


def test_pressure_makes_water_s_enthalpy_what_its_density_says():
    """V(1 - αT) ΔP with 1.0029 L/kg and α = 2.57e-4/K (IAPWS): 9.17 kJ/kg to 100 bar."""
    water = sl.Electrolyte(["sodium chloride"])
    assert water.speciation({}, P="100 bar").H - water.speciation({}, P="1 bar").H == pytest.approx(9168.0, rel=2e-3)


def test_gases_are_salted_out():
    """Oxygen, methane and nitrogen beside sodium chloride: 0.13 to 0.15 kg/mol (Clever and Holland, J. Chem. Eng. Data 13 (1968) 411-414; IUPAC Solubility Data Series 7 and 27/28)."""
    for gas in ("oxygen", "methane", "nitrogen"):
        water = sl.Electrolyte([gas, "sodium chloride"])
        fresh, salt = (water.speciation({"sodium chloride": m}, gases={gas: "1 bar"}).taken_up[gas] for m in (0.0, 1.0))
        assert math.log10(fresh / salt) == pytest.approx(0.14, abs=0.012)


def test_a_caustic_scrubber_keeps_its_balances():
    scrubber = sl.Electrolyte(["hydrogen", "carbon dioxide", "sodium hydroxide"])
    feed = {"hydrogen": 20.0, "carbon dioxide": 1.0, "sodium hydroxide": 1.5}
    found = scrubber.speciation(feed, T="40 degC", P="1.2 bar")
    m = dict(zip(found.names, found.molality * found.water, strict=True))
    carbon = sum(m[name] for name in ("CO2(aq)", "HCO3-", "CO3-2")) + found.vapor["carbon dioxide"]
    assert carbon + sum(amount for name, amount in found.solids.items() if name != "natron") == pytest.approx(1.0, rel=1e-9)
    assert m["H2(aq)"] + found.vapor["hydrogen"] == pytest.approx(20.0, rel=1e-9)
    assert sum(found.y.values()) == pytest.approx(1.0, rel=1e-12)
    # fugacities are those over the solution; at this pressure the gas is all but ideal
    for gas in ("hydrogen", "carbon dioxide"):
        assert found.y[gas] * found.P == pytest.approx(found.pressures[gas], rel=0.01)
    assert found.y["water"] * found.P == pytest.approx(found.water_activity * found.P_water, rel=0.01)
    # the gas by formula is the same gas
    by_formula = sl.Electrolyte(["hydrogen", "CO2", "NaOH"]).speciation(
        {"hydrogen": 20.0, "CO2": 1.0, "NaOH": 1.5}, T="40 degC", P="1.2 bar"
    )
    assert by_formula.pH == pytest.approx(found.pH, abs=1e-9)
    assert "mol of vapor" in found.in_short()
    assert "and 1.2" in found.title("metric")
    curve = scrubber.titration(
        {"hydrogen": 20.0, "carbon dioxide": 1.0}, "sodium hydroxide", [0.0, 1.0, 2.2], T="40 degC", P="1.2 bar"
    )
    left = [step.y["carbon dioxide"] for step in curve.steps]
    assert left[0] > left[1] > 1e3 * left[2]
    assert "carbon dioxide in vapor [mol]" in curve.to_frame().columns


def test_a_vapor_comes_and_goes_at_the_bubble_pressure():
    drum = sl.Electrolyte(["carbon dioxide", "ammonia"])
    feed = {"carbon dioxide": 0.2, "ammonia": 0.3}
    at = drum.speciation(feed, T="60 degC").bubble_pressure
    above, below = (drum.speciation(feed, T="60 degC", P=factor * at) for factor in (1.05, 0.95))
    assert not above.vapor
    assert above.in_short().endswith("no vapor.")
    assert 0.0 < sum(below.vapor.values()) < 0.2
    assert below.P_water == pytest.approx(above.P_water)


@pytest.mark.parametrize(
    ("feed", "T"),
    [({"carbon dioxide": 1.0}, 323.15), ({"carbon dioxide": 0.2, "ammonia": 0.3}, 333.15), ({"sodium chloride": 4.0}, 373.15)],
)
def test_a_bubble_pressure_is_where_a_vapor_begins(feed, T):
    water = sl.Electrolyte(["carbon dioxide", "ammonia", "sodium chloride"])
    point = water.bubble_pressure(feed, T=T)
    assert sum(point.y.values()) == pytest.approx(1.0, abs=2e-9)
    assert point.in_short().endswith("a vapor begins to form.")
    above, below = (water.speciation(feed, T=T, P=factor * point.P) for factor in (1.0005, 0.9995))
    assert not above.vapor
    assert below.vapor
    assert sum(above.y.values()) < 1.0
    # what forms is what a little of it is made of
    assert [below.y[name] for name in ("carbon dioxide", "water")] == pytest.approx(
        [point.y[name] for name in ("carbon dioxide", "water")], rel=2e-3, abs=1e-12
    )


def test_bubble_pressures_of_pure_water_and_brine():
    """Steam tables; over brine as much less as water's activity says."""
    water = sl.Electrolyte(["sodium chloride"])
    assert water.bubble_pressure({}, T="25 degC").P == pytest.approx(3169.9, rel=1e-4)
    assert water.bubble_pressure({}, T="100 degC").P == pytest.approx(101418.0, rel=1e-4)
    brine = water.bubble_pressure({"sodium chloride": 4.0}, T="100 degC")
    assert brine.P == pytest.approx(brine.water_activity * 101418.0, rel=0.003)
    told = json.loads(call("bubble-pressure", "4 sodium chloride", "--T", "100degC", "--json").stdout)
    assert told["P"] == pytest.approx(brine.P, rel=1e-9)
    with pytest.raises(sl.CalculationError, match="No pressure up to 1000 bar"):
        sl.Electrolyte(["carbon dioxide"]).bubble_pressure({"carbon dioxide": 3.0})


def test_what_is_asked_in_vain_is_said():
    brine = sl.Electrolyte(["sodium chloride", "carbon dioxide"])
    with pytest.raises(sl.InputError, match="not both"):
        brine.speciation({}, P="1 bar", gases={"carbon dioxide": "1 bar"})
    with pytest.raises(sl.CalculationError, match="boil away"):
        brine.speciation({"sodium chloride": 1.0}, P="1 kPa")
    with pytest.raises(sl.InputError, match="No 'carbon dioxide' was fed"):
        brine.speciation({"sodium chloride": 1.0}, P="1 bar").dissolved("carbon dioxide")
    dense = brine.speciation({"carbon dioxide": 5.0}, P="100 bar")
    assert any("as dense as a liquid" in note for note in dense.notes)
    assert any("left out" in note for note in dense.notes)


# heats of solution at infinite dilution, kJ/mol: Parker, NSRDS-NBS 2 (1965)
@pytest.mark.parametrize(("salt", "solid", "heat"), [("sodium chloride", "halite", 3.88), ("potassium chloride", "sylvite", 17.22)])
def test_heats_of_solution(salt, solid, heat):
    water = sl.Electrolyte([salt])
    with_it, without = (water.speciation({salt: m}).H for m in (0.001, 0.0))
    assert (with_it - without) / 0.001 - SPECIES[solid].h == pytest.approx(1e3 * heat, abs=250.0)
    # from a solid that is there it does not matter how it came to be
    crystals, diluted = (water.speciation({salt: 8.0}, precipitation=yes) for yes in (True, False))
    fewer = water.speciation({salt: 8.0 - crystals.solids[solid]})
    assert crystals.H == pytest.approx(fewer.H + crystals.solids[solid] * SPECIES[solid].h, abs=1.0)
    assert diluted.H != crystals.H


def test_heats_of_neutralization_and_of_evaporation():
    water = sl.Electrolyte(["hydrogen chloride", "sodium hydroxide", "nitrogen"])
    H = {
        acid + base: water.speciation({"hydrogen chloride": acid, "sodium hydroxide": base}).H
        for acid, base in ((0.0, 0.0), (0.01, 0.0), (0.0, 0.0101))
    }
    both = water.speciation({"hydrogen chloride": 0.01, "sodium hydroxide": 0.0101}).H
    # 55.8 kJ/mol at infinite dilution (CODATA)
    assert (both + H[0.0] - H[0.01] - H[0.0101]) / 0.01 == pytest.approx(-55.8e3, abs=800.0)
    cold, warm = (water.speciation({"nitrogen": 50.0}, T=T, P="1 bar") for T in ("20 degC", "30 degC"))
    evaporated = warm.vapor["water"] - cold.vapor["water"]
    sensible = 10.0 * (50.0 * 29.12 + 4180.0)
    assert warm.H - cold.H == pytest.approx(sensible + evaporated * 44.0e3, rel=0.01)


def test_the_enthalpy_is_one_function_of_state():
    """What warming takes is heat capacity all the way: its differences add up, and are those of a finer grid."""
    water = sl.Electrolyte(["sodium chloride", "carbon dioxide"])
    feed = {"sodium chloride": 1.0, "carbon dioxide": 0.5}
    H = np.array([water.speciation(feed, T=T, P="5 bar").H for T in np.linspace(290.0, 330.0, 9)])
    assert (np.diff(H) > 0.0).all()
    assert np.abs(np.diff(H, 3)).max() < 0.01 * np.diff(H).max()


def test_on_the_command_line(tmp_path):
    done = call("speciation", "15 carbon dioxide + 80 nitrogen + 3 sodium hydroxide", "--T", "40degC", "--P", "1.1bar", "--json")
    told = json.loads(done.stdout)
    assert told["P"] == pytest.approx(1.1e5)
    assert told["vapor"]["nitrogen"] == pytest.approx(80.0, rel=1e-3)
    assert call("warming", "0.05 carbon dioxide + 0.1 ammonia", "--T", "20 to 80 degC in 4", "--P", "1 bar").status == 0
    refused = call(
        "titration",
        "1 carbon dioxide",
        "--added",
        "sodium hydroxide",
        "--amounts",
        "1 to 2 mol/kg in 2",
        "--P",
        "1bar",
        "--gases",
        "carbon dioxide=1bar",
    )
    assert refused.status == 2
    assert "not both" in refused.stderr
