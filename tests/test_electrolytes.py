"""Salts and gases in water: solubilities, pH, species against the literature; balances; titrations; every way in and out."""

import json
import pickle

import matplotlib.pyplot as plt
import numpy as np
import pytest

import sleetfield as sl
from sleetfield.components.species import WATER, all_species, reagent
from sleetfield.core.constants import R

from .commands import run

MU = {s.name: s.mu_at(298.15) for s in all_species()}
LN10 = np.log(10.0)


# log10 of equilibrium constants at 25 °C from elsewhere: CODATA, IUPAC and Nordstrom and others, ACS Symp. Ser. 416 (1990) 398-413
CONSTANTS = [
    ("water", {"H+": 1, "OH-": 1, "water": -1}, -13.995, 0.01),
    ("hydrogen sulfate", {"H+": 1, "SO4-2": 1, "HSO4-": -1}, -1.988, 0.02),
    ("carbonic acid", {"H+": 1, "HCO3-": 1, "CO2(aq)": -1, "water": -1}, -6.352, 0.02),
    ("hydrogen carbonate", {"H+": 1, "CO3-2": 1, "HCO3-": -1}, -10.329, 0.02),
    ("carbon dioxide", {"CO2(aq)": 1, "carbon dioxide": -1}, -1.474, 0.01),
    ("calcite", {"Ca+2": 1, "CO3-2": 1, "calcite": -1}, -8.48, 0.08),
    ("gypsum", {"Ca+2": 1, "SO4-2": 1, "water": 2, "gypsum": -1}, -4.58, 0.01),
    ("anhydrite", {"Ca+2": 1, "SO4-2": 1, "anhydrite": -1}, -4.36, 0.02),
    ("halite", {"Na+": 1, "Cl-": 1, "halite": -1}, 1.582, 0.02),
    ("portlandite", {"Ca+2": 1, "OH-": 2, "portlandite": -1}, -5.19, 0.02),
    ("ammonium", {"NH3(aq)": 1, "H+": 1, "NH4+": -1}, -9.245, 0.01),
    ("ammonia", {"NH3(aq)": 1, "ammonia": -1}, 1.77, 0.02),
    ("hydrogen sulfide", {"HS-": 1, "H+": 1, "H2S(aq)": -1}, -6.99, 0.02),
    ("its gas", {"H2S(aq)": 1, "hydrogen sulfide": -1}, -0.99, 0.02),
    ("sulfurous acid", {"HSO3-": 1, "H+": 1, "SO2(aq)": -1, "water": -1}, -1.81, 0.06),
    ("hydrogen sulfite", {"SO3-2": 1, "H+": 1, "HSO3-": -1}, -7.2, 0.05),
    ("sulfur dioxide", {"SO2(aq)": 1, "sulfur dioxide": -1}, 0.09, 0.03),
    ("hydrogen chloride", {"H+": 1, "Cl-": 1, "hydrogen chloride": -1}, 6.3, 0.05),
    ("barite", {"Ba+2": 1, "SO4-2": 1, "barite": -1}, -9.97, 0.01),
    ("brucite", {"Mg+2": 1, "OH-": 2, "brucite": -1}, -10.88, 0.3),
]


@pytest.mark.parametrize(("name", "reaction", "log_K", "within"), CONSTANTS)
def test_standard_potentials_give_known_constants(name, reaction, log_K, within):
    potential = sum(count * (WATER.mu if species == "water" else MU[species]) for species, count in reaction.items())
    assert -potential / LN10 == pytest.approx(log_K, abs=within)
    # and the reaction balances
    atoms: dict[str, int] = {}
    charge = 0
    for species, count in reaction.items():
        own = {"H": 2, "O": 1} if species == "water" else next(s.atoms for s in all_species() if s.name == species)
        charge += 0 if species == "water" else count * next(s.charge for s in all_species() if s.name == species)
        for symbol, number in own.items():
            atoms[symbol] = atoms.get(symbol, 0) + count * number
    assert not any(atoms.values())
    assert charge == 0


def _plummer_busenberg(a, b, c, d, e=0.0):
    """log10 K by Plummer and Busenberg, Geochim. Cosmochim. Acta 46 (1982) 1011-1040."""
    return lambda T: a + b * T + c / T + d * np.log10(T) + e / T**2


def _edwards(a, b, c, d):
    """log10 K by Edwards, Maurer, Newman and Prausnitz, AIChE J. 24 (1978) 966-976."""
    return lambda T: (a / T + b * np.log(T) + c * T + d) / LN10


# changes of log10 K from 25 °C, by equations fitted to measurements over temperature
OVER_TEMPERATURE = {
    "carbonic acid": _plummer_busenberg(-356.3094, -0.06091964, 21834.37, 126.8339, -1684915.0),
    "hydrogen carbonate": _plummer_busenberg(-107.8871, -0.03252849, 5151.79, 38.92561, -563713.9),
    "carbon dioxide": _plummer_busenberg(108.3865, 0.01985076, -6919.53, -40.45154, 669365.0),
    "calcite": _plummer_busenberg(-171.9065, -0.077993, 2839.319, 71.595),
    "water": _edwards(-13445.9, -22.4773, 0.0, 140.932),
    "hydrogen sulfide": _edwards(-12995.4, -33.5471, 0.0, 218.599),
}


@pytest.mark.parametrize("name", list(OVER_TEMPERATURE))
def test_heats_carry_constants_to_other_temperatures(name):
    reaction = next(reaction for own, reaction, *_ in CONSTANTS if own == name)
    measured = OVER_TEMPERATURE[name]
    species = {s.name: s for s in all_species()} | {"water": WATER}

    def log_K(T):
        return -sum(count * species[one].mu_at(T) for one, count in reaction.items()) / LN10

    for T in (273.15, 283.15, 313.15, 333.15):
        assert log_K(T) - log_K(298.15) == pytest.approx(measured(T) - measured(298.15), abs=0.06)


# third-law entropies, J/(mol K), of ions on the usual scale: CODATA Key Values (1989); NBS Tables (1982); Robie and others, U.S. Geol. Survey Bull. 1452 (1978)
ENTROPY = {
    "water": 69.95, "H+": 0.0, "Na+": 58.45, "K+": 101.20, "Mg+2": -137.0, "Ca+2": -56.2, "Ba+2": 8.4, "Sr+2": -31.5, "NH4+": 111.17,
    "Cl-": 56.60, "OH-": -10.90, "SO4-2": 18.50, "HSO4-": 131.7, "HCO3-": 98.4, "CO3-2": -50.0, "HS-": 67.0, "HSO3-": 139.7, "SO3-2": -29.0,
    "CO2(aq)": 119.36, "NH3(aq)": 111.3, "H2S(aq)": 126.0, "SO2(aq)": 161.9,
    "carbon dioxide": 213.785, "ammonia": 192.77, "hydrogen sulfide": 205.81, "sulfur dioxide": 248.223, "hydrogen chloride": 186.902,
    "halite": 72.13, "sylvite": 82.59, "gypsum": 194.1, "anhydrite": 106.5, "thenardite": 149.58, "mirabilite": 592.0, "arcanite": 175.56,
    "epsomite": 372.0, "hexahydrite": 348.1, "bischofite": 366.1, "calcite": 91.7, "magnesite": 65.1, "nahcolite": 101.7, "natron": 562.7,
    "thermonatrite": 168.11, "brucite": 63.18, "portlandite": 83.39, "barite": 132.2, "witherite": 112.1, "strontianite": 97.1,
}  # fmt: skip
# what each becomes
BECOMES = {
    "OH-": {"water": 1, "H+": -1}, "HSO4-": {"H+": 1, "SO4-2": 1}, "HCO3-": {"CO2(aq)": 1, "water": 1, "H+": -1}, "CO3-2": {"HCO3-": 1, "H+": -1},
    "NH4+": {"NH3(aq)": 1, "H+": 1}, "HS-": {"H2S(aq)": 1, "H+": -1}, "HSO3-": {"SO2(aq)": 1, "water": 1, "H+": -1}, "SO3-2": {"HSO3-": 1, "H+": -1},
    "carbon dioxide": {"CO2(aq)": 1}, "ammonia": {"NH3(aq)": 1}, "hydrogen sulfide": {"H2S(aq)": 1}, "sulfur dioxide": {"SO2(aq)": 1},
    "hydrogen chloride": {"H+": 1, "Cl-": 1}, "halite": {"Na+": 1, "Cl-": 1}, "sylvite": {"K+": 1, "Cl-": 1}, "gypsum": {"Ca+2": 1, "SO4-2": 1, "water": 2},
    "anhydrite": {"Ca+2": 1, "SO4-2": 1}, "thenardite": {"Na+": 2, "SO4-2": 1}, "mirabilite": {"Na+": 2, "SO4-2": 1, "water": 10}, "arcanite": {"K+": 2, "SO4-2": 1},
    "epsomite": {"Mg+2": 1, "SO4-2": 1, "water": 7}, "hexahydrite": {"Mg+2": 1, "SO4-2": 1, "water": 6}, "bischofite": {"Mg+2": 1, "Cl-": 2, "water": 6},
    "calcite": {"Ca+2": 1, "CO3-2": 1}, "magnesite": {"Mg+2": 1, "CO3-2": 1}, "nahcolite": {"Na+": 1, "HCO3-": 1}, "natron": {"Na+": 2, "CO3-2": 1, "water": 10},
    "thermonatrite": {"Na+": 2, "CO3-2": 1, "water": 1}, "brucite": {"Mg+2": 1, "OH-": 2}, "portlandite": {"Ca+2": 1, "OH-": 2}, "barite": {"Ba+2": 1, "SO4-2": 1},
    "witherite": {"Ba+2": 1, "CO3-2": 1}, "strontianite": {"Sr+2": 1, "CO3-2": 1},
}  # fmt: skip


@pytest.mark.parametrize("name", list(BECOMES))
def test_heats_agree_with_potentials_and_entropies(name):
    """ΔH = ΔG + TΔS: the table's heats, from calorimeters, against its potentials, from solubilities and pressures, and entropies, from heat capacities down to 0 K."""
    species = {s.name: s for s in all_species()} | {"water": WATER}
    reaction = {name: -1, **BECOMES[name]}
    heat = sum(count * species[one].h for one, count in reaction.items())
    potential = sum(count * R * 298.15 * species[one].mu_at(298.15) for one, count in reaction.items())
    entropy = sum(count * ENTROPY[one] for one, count in reaction.items())
    assert heat == pytest.approx(potential + 298.15 * entropy, abs=2000.0)


def test_every_solid_with_a_heat_is_held_against_its_entropy():
    assert {s.name for s in all_species() if s.kind in ("solid", "gas") and np.isfinite(s.h) and s.h} <= set(BECOMES)


# salt, its solid, °C, mol in a kilogram of water: CRC Handbook, 84th ed. (2003), Section 8; what parameters with no slope are good for is not here
AT_OTHER_TEMPERATURES = [
    ("sodium chloride", "halite", 0.0, 6.10, 0.04),
    ("sodium chloride", "halite", 60.0, 6.35, 0.04),
    ("potassium chloride", "sylvite", 0.0, 3.76, 0.04),
    ("potassium chloride", "sylvite", 60.0, 6.14, 0.06),
    ("calcium sulfate", "gypsum", 0.0, 0.0130, 0.04),
    ("calcium sulfate", "gypsum", 40.0, 0.0154, 0.04),
]


@pytest.mark.parametrize(("salt", "solid", "celsius", "molality", "within"), AT_OTHER_TEMPERATURES)
def test_solutions_saturate_at_other_temperatures(salt, solid, celsius, molality, within):
    found = sl.Electrolyte([salt]).speciation({salt: molality + 2.0}, T=f"{celsius} degC")
    assert list(found.solids) == [solid]
    ion = next(name for name in found.names if name in ("Na+", "K+", "Ca+2"))
    assert found.molality[found.names.index(ion)] == pytest.approx(molality, rel=within)


def test_hydrates_of_salts_lose_their_water_where_they_do():
    """Sodium sulfate's at 32.38 °C, a fixed point of thermometry; gypsum becomes anhydrite between 40 and 60 °C."""
    for salt, below, above, celsius in (
        ("sodium sulfate", "mirabilite", "thenardite", (31.0, 34.0)),
        ("calcium sulfate", "gypsum", "anhydrite", (40.0, 60.0)),
    ):
        for T, solid in zip(celsius, (below, above), strict=True):
            assert list(sl.Electrolyte([salt]).speciation({salt: 5.0}, T=f"{T} degC").solids) == [solid]


def test_temperature_and_what_is_said_of_it():
    water = sl.Electrolyte(["carbon dioxide", "sodium sulfate", "potassium chloride"])
    feed = {"sodium sulfate": 0.1, "potassium chloride": 0.1}
    cold, same, warm = (water.speciation(feed, T=T) for T in ("5 degC", "25 degC", "80 degC"))
    # pure water is less neutral the warmer it is: 6.13 at 100 °C
    assert sl.Electrolyte(["NaCl"]).speciation({}, T=373.15).pH == pytest.approx(6.13, abs=0.03)
    assert sl.Electrolyte(["NaCl"]).speciation({}, T=373.15).bubble_pressure == pytest.approx(101418.0, rel=1e-4)
    assert same.molality == pytest.approx(water.speciation(feed).molality, rel=1e-12)
    assert "at 5 °C" in cold.title()
    assert "at 41 °F" in cold.title("US")
    assert any("Na+ with SO4-2" in note and "are those of 25 °C" in note for note in cold.notes)
    assert any("glaserite" in note for note in cold.notes)
    assert "glaserite" not in cold.saturation
    assert any("Above 60 °C" in note for note in warm.notes)
    assert not any("25 °C" in note or "glaserite" in note for note in same.notes)
    # less gas stays in warm water
    gas = {"carbon dioxide": "1 atm"}
    taken = [water.speciation({}, T=T, gases=gas).taken_up["carbon dioxide"] for T in ("5 degC", "25 degC", "50 degC")]
    henry = [10.0 ** OVER_TEMPERATURE["carbon dioxide"](273.15 + t) for t in (5.0, 25.0, 50.0)]
    assert taken == pytest.approx(henry, rel=0.03)
    curve = water.titration({}, "carbon dioxide", [0.0, 0.01], T="50 degC")
    assert "at 50 °C" in curve.title()
    for celsius, fahrenheit in ((0.0, 32.0), (25.0, 77.0), (60.0, 140.0), (100.0, 212.0)):
        one, other = (water.speciation(feed, T=T) for T in (f"{celsius} degC", f"{fahrenheit} degF"))
        assert one.notes == other.notes
        assert one.saturation.keys() == other.saturation.keys()
    for wrong in (250.0, "120 degC"):
        with pytest.raises(sl.InputError, match="0 to 100 °C"):
            water.speciation({}, T=wrong)


# mol in a kilogram of water at 25 °C: CRC Handbook, 84th ed. (2003), Section 8, aqueous solubility of inorganic compounds (mass percent, from which these are)
SOLUBILITIES = [
    ("sodium chloride", "halite", 6.153, 0.015),
    ("potassium chloride", "sylvite", 4.77, 0.015),
    ("calcium sulfate", "gypsum", 0.0151, 0.02),
]


@pytest.mark.parametrize(("salt", "solid", "molality", "within"), SOLUBILITIES)
def test_saturated_solutions(salt, solid, molality, within):
    found = sl.Electrolyte([salt]).speciation({salt: molality + 2.0})
    assert list(found.solids) == [solid]
    ion = next(name for name in found.names if name in ("Na+", "K+", "Ca+2"))
    # of what is dissolved, for a kilogram of the water that is left
    assert found.molality[found.names.index(ion)] == pytest.approx(molality, rel=within)
    assert found.saturation[solid] == 0.0


def test_two_salts_saturate_together():
    """Sodium and potassium chloride at 25 °C: 20.40 and 11.15 mass percent (Linke and Seidell, Solubilities, 4th ed. (1965))."""
    found = sl.Electrolyte(["sodium chloride", "potassium chloride"]).speciation(
        {"sodium chloride": 9.0, "potassium chloride": 6.0}
    )
    assert set(found.solids) == {"halite", "sylvite"}
    m = dict(zip(found.names, found.molality, strict=True))
    water = 1.0 - 0.2040 - 0.1115
    assert m["Na+"] == pytest.approx(0.2040 / 0.05844 / water, rel=0.01)
    assert m["K+"] == pytest.approx(0.1115 / 0.07455 / water, rel=0.03)


def test_carbon_dioxide_in_water_and_in_salt_water():
    water = sl.Electrolyte(["carbon dioxide", "sodium chloride"])
    pure = water.speciation({}, gases={"carbon dioxide": "1 atm"})
    # any textbook of water chemistry
    assert pure.pH == pytest.approx(3.91, abs=0.02)
    assert pure.taken_up["carbon dioxide"] == pytest.approx(0.0340, rel=0.01)
    # salting out: Harned and Davis, J. Am. Chem. Soc. 65 (1943) 2030-2037, 1 mol/kg of sodium chloride, 25 °C and 1 atm
    salted = water.speciation({"sodium chloride": 1.0}, gases={"carbon dioxide": "1 atm"})
    assert salted.molality[salted.names.index("CO2(aq)")] == pytest.approx(0.0270, rel=0.05)
    # rain beside air with 400 ppm of it
    rain = water.speciation({}, gases={"carbon dioxide": 40.0})
    assert rain.pH == pytest.approx(5.62, abs=0.03)


def test_calcite_beside_air_and_carbon_dioxide():
    """Stumm and Morgan, Aquatic Chemistry, 3rd ed. (1996): pH 8.3 beside air (10^-3.5 atm), 6.0 at 1 atm of carbon dioxide."""
    water = sl.Electrolyte(["calcium carbonate", "carbon dioxide"])
    for P, pH in ((101325.0 * 10.0**-3.5, 8.27), (101325.0, 6.0)):
        found = water.speciation({"calcium carbonate": 0.05}, gases={"carbon dioxide": P})
        assert found.pH == pytest.approx(pH, abs=0.05)
        assert "calcite" in found.solids


def test_strong_acids_and_bases():
    """pH by single-ion activities: 0.1 mol/kg of hydrochloric acid 1.1 (Bates); sodium hydroxide 12.9 at 0.1 mol/kg."""
    assert sl.Electrolyte(["hydrogen chloride"]).speciation({"hydrogen chloride": 0.1}).pH == pytest.approx(1.1, abs=0.03)
    assert sl.Electrolyte(["sodium hydroxide"]).speciation({"sodium hydroxide": 0.1}).pH == pytest.approx(12.88, abs=0.04)
    neutral = sl.Electrolyte(["sodium chloride"]).speciation({})
    assert neutral.pH == pytest.approx(7.0, abs=0.003)
    assert neutral.water_activity == pytest.approx(1.0, abs=1e-8)


def test_a_buffer_of_carbonates():
    """0.025 mol/kg each of sodium hydrogen carbonate and carbonate: the primary standard of pH 10.01 at 25 °C (Bates, Determination of pH, 2nd ed. (1973))."""
    found = sl.Electrolyte(["sodium carbonate", "sodium hydrogen carbonate"]).speciation(
        {"sodium carbonate": 0.025, "sodium hydrogen carbonate": 0.025}
    )
    assert found.pH == pytest.approx(10.01, abs=0.05)


def test_sour_water():
    """Ammonia with acid gases: everything is neutralized by what there is most of, and each gas has its own Henry's constant beside the molecules that are left."""
    water = sl.Electrolyte(["ammonia", "hydrogen sulfide", "carbon dioxide"])
    found = water.speciation({"ammonia": 0.2, "hydrogen sulfide": 0.1, "carbon dioxide": 0.05})
    m = dict(zip(found.names, found.molality * found.water, strict=True))
    assert m["NH4+"] + m["NH3(aq)"] + m["NH2COO-"] == pytest.approx(0.2, rel=1e-9)
    assert m["HS-"] + m["H2S(aq)"] == pytest.approx(0.1, rel=1e-9)
    assert 8.5 < found.pH < 9.2
    molecules = dict(zip(found.names, found.activity, strict=True))
    for gas, solute in (("ammonia", "NH3(aq)"), ("hydrogen sulfide", "H2S(aq)")):
        assert molecules[solute] / (found.pressures[gas] / 1e5) == pytest.approx(np.exp(MU[gas] - MU[solute]), rel=1e-9)
    assert found.bubble_pressure == pytest.approx(sum(found.pressures.values()) + 3169.9 * found.water_activity, rel=1e-4)
    # 5 percent ammonia: pH 11.9 by any table
    assert sl.Electrolyte(["ammonia"]).speciation({"ammonia": 3.1}).pH == pytest.approx(11.87, abs=0.05)


def test_elements_in_several_states_are_kept_apart():
    mixed = sl.Electrolyte(["ammonium nitrate", "sodium sulfite", "sodium sulfate"])
    assert set(mixed.elements) == {"H", "O", "N(-3)", "N(5)", "Na", "S(4)", "S(6)"}
    found = mixed.speciation({"ammonium nitrate": 0.1, "sodium sulfite": 0.02, "sodium sulfate": 0.03})
    m = dict(zip(found.names, found.molality * found.water, strict=True))
    assert m["NO3-"] == pytest.approx(0.1, rel=1e-9)
    assert m["SO3-2"] + m["HSO3-"] + m["SO2(aq)"] == pytest.approx(0.02, rel=1e-9)


def test_sea_water():
    """Of 35 g/kg salinity: water's activity 0.981, gypsum undersaturated fivefold, calcite oversaturated at pH 8.1."""
    sea = sl.Electrolyte(
        [
            "sodium chloride",
            "magnesium chloride",
            "calcium chloride",
            "potassium chloride",
            "sodium sulfate",
            "sodium hydrogen carbonate",
        ]
    )
    feed = {"sodium chloride": 0.4267, "magnesium chloride": 0.0547, "calcium chloride": 0.01065, "potassium chloride": 0.01058, "sodium sulfate": 0.0293,
            "sodium hydrogen carbonate": 0.0024}  # fmt: skip
    found = sea.speciation(feed, precipitation=False)
    assert found.water_activity == pytest.approx(0.981, abs=0.001)
    assert found.ionic_strength == pytest.approx(0.72, abs=0.02)
    assert 0.15 < 10.0 ** found.saturation["gypsum"] < 0.25
    assert found.solids == {}
    # the other model keeps the species and says that it is out of its range
    other = sea.with_ions("Davies").speciation(feed, precipitation=False)
    assert other.names == found.names
    assert any("ionic strength is 0.7" in note for note in other.notes)


def test_dilute_solutions_are_the_same_by_both_models():
    feed = {"sodium chloride": 1e-3, "calcium sulfate": 1e-3, "carbon dioxide": 1e-3}
    one, other = (sl.Electrolyte(list(feed), ions=ions).speciation(feed) for ions in ("Pitzer", "Davies"))
    assert one.pH == pytest.approx(other.pH, abs=0.01)
    there = one.molality > 1e-5
    assert there.sum() >= 6
    np.testing.assert_allclose(one.molality[there], other.molality[there], rtol=0.01)


def test_amounts_in_other_units_and_names():
    brine = sl.Electrolyte(["sodium chloride", "NaCl", "gypsum"])
    a, b = brine.speciation({"sodium chloride": "58.44 g/kg"}), brine.speciation({"NaCl": 1.0})
    assert a.molality == pytest.approx(b.molality, rel=1e-4)
    assert brine.speciation({"NaCl": "1000 mmol/kg"}).molality == pytest.approx(b.molality)
    # gypsum brings its water
    assert brine.speciation({"gypsum": 0.01}).water == pytest.approx(1.0 + 0.02 * 0.018015, rel=1e-6)
    assert brine.species[:2] == ("H+", "Na+")
    assert "halite" in brine.solids
    assert any("Harvie" in source for source in brine.sources)
    sources = sl.Electrolyte(["ammonium chloride"]).sources
    assert len(set(sources)) == len(sources)
    for author in ("Wagman", "Harvie", "Shock", "Mayorga", "Silvester"):
        assert any(author in source for source in sources)
    assert brine.gases == ("hydrogen chloride",)


def test_mean_coefficients_and_prints(tmp_path):
    found = sl.Electrolyte(["sodium sulfate"]).speciation({"sodium sulfate": 1.0})
    assert found.mean_activity_coefficient("Na+", "SO4-2") == pytest.approx(0.204, rel=0.02)
    assert found.osmotic_coefficient == pytest.approx(0.640, rel=0.01)
    assert "pH" in str(found)
    for wrong, message in ((("Na+", "Cl-"), "no 'Cl-'"), (("SO4-2", "Na+"), "name a cation, then an anion")):
        with pytest.raises(sl.InputError, match=message):
            found.mean_activity_coefficient(*wrong)
    for suffix in (".csv", ".xlsx", ".json", ".md", ".html"):
        assert sl.save(found, tmp_path / f"brine{suffix}").stat().st_size > 200
    assert pickle.loads(pickle.dumps(found)).pH == found.pH


def test_a_scrubber_is_titrated(tmp_path):
    scrubber = sl.Electrolyte(["carbon dioxide", "sodium hydroxide"])
    curve = scrubber.titration({"carbon dioxide": 0.1}, "sodium hydroxide", np.linspace(0.0, 0.3, 31))
    assert (np.diff(curve.pH) > 0.0).all()
    # the two ends of it: half way to hydrogen carbonate, half way to carbonate
    assert np.interp(0.05, curve.amounts, curve.pH) == pytest.approx(6.2, abs=0.15)
    assert np.interp(0.15, curve.amounts, curve.pH) == pytest.approx(9.9, abs=0.15)
    assert curve.molality("HCO3-").argmax() == pytest.approx(10, abs=1)
    one = scrubber.speciation({"carbon dioxide": 0.1, "sodium hydroxide": 0.15})
    assert curve.steps[15].molality == pytest.approx(one.molality, rel=1e-8)
    assert curve.plot().get_ylabel() == "pH"
    assert {"HCO3-", "CO3-2"} <= {t.get_text() for t in curve.plot(figure="species").texts}
    plt.close("all")
    with pytest.raises(sl.InputError, match="Figures are pH, species, gases, solids"):
        curve.plot(figure="pie")
    sl.save(curve, tmp_path / "curve.csv")
    thick = scrubber.titration({"carbon dioxide": 4.0}, "sodium hydroxide", [7.9])
    assert thick.precipitated


@pytest.mark.parametrize(
    ("make", "message"),
    [
        (lambda: sl.Electrolyte([]), "Name what can be added"),
        (lambda: sl.Electrolyte("NaCl"), "takes a list of texts"),
        (lambda: sl.Electrolyte(["sodium clorid"]), "Did you mean sodium chloride"),
        (lambda: sl.Electrolyte(["NaSO3"]), r"Na \+1, S \+6 or \+4 or -2, O -2, add up to zero"),
        (lambda: sl.Electrolyte(["SiO2"]), "SiO2 has Si, which no species here has"),
        (lambda: sl.Electrolyte(["NaCl"], ions="NRTL"), "Models are Pitzer, electrolyte-NRTL, Davies"),
        (lambda: sl.Electrolyte(["NaCl"]).speciation({"KCl": 1.0}), "none of what can be added: NaCl"),
        (lambda: sl.Electrolyte(["NaCl"]).speciation({"NaCl": -1.0}), "zero or positive"),
        (
            lambda: sl.Electrolyte(["NaCl"]).speciation({"NaCl": 1.0}, gases={"carbon dioxide": 1e5}),
            "no gas 'carbon dioxide' over this solution; there is hydrogen chloride",
        ),
        (lambda: sl.Electrolyte(["NaCl"]).speciation({"NaCl": 1.0}, precipitation=["gypsum"]), "There can be halite"),
        (lambda: sl.Electrolyte(["NaCl"]).titration({}, "KCl", [1.0]), "none of what can be added"),
        (lambda: sl.Electrolyte(["NaCl"]).titration({}, "NaCl", []), "no amounts"),
    ],
)
def test_what_can_not_be_is_refused(make, message):
    with pytest.raises(sl.SleetfieldError, match=message):
        make()


def test_where_solids_would_take_all_the_water_it_is_said():
    soda = sl.Electrolyte(["sodium carbonate"])
    for amount in (8.0, 8.5, 9.0, 9.1, 10.0, 12.0, 15.0):
        with pytest.raises(sl.CalculationError, match="take up the water"):
            soda.speciation({"sodium carbonate": amount})


def test_beyond_the_model_of_ions_it_is_said():
    salts = sl.Electrolyte(["calcium chloride", "calcium nitrate", "potassium chloride"])
    with pytest.raises(sl.CalculationError, match="above the 20 mol/kg that Pitzer's equation is for"):
        salts.speciation({"calcium chloride": 7.1625, "calcium nitrate": 6.4785, "potassium chloride": 0.1248})


def test_absent_elements_and_saturated_ones_do_not_stop_each_other():
    """Found by the search of random feeds: beside an absent chloride nothing converged, or calcite was left supersaturated."""
    for names, feed, T, solids in (
        (["calcium carbonate", "hydrogen chloride", "magnesium sulfate", "sodium carbonate"],
         {"calcium carbonate": 0.005126, "magnesium sulfate": 0.00791, "sodium carbonate": 0.015345}, 329.454, {"calcite", "magnesite"}),
        (["calcium carbonate", "sodium carbonate"], {"calcium carbonate": 2.3075, "sodium carbonate": 0.04159}, 283.91, {"calcite"}),
        (["calcium carbonate", "hydrogen chloride", "potassium carbonate"], {"calcium carbonate": 4.12, "hydrogen chloride": 1e-12, "potassium carbonate": 0.01459}, 298.15, {"calcite"}),
    ):  # fmt: skip
        found = sl.Electrolyte(names).speciation(feed, T=T)
        assert set(found.solids) == solids
        assert max(found.saturation.values()) <= 1e-8


def test_on_the_command_line_and_in_studies(tmp_path):
    printed = run("speciation", "1.0 sodium chloride + 2 g/kg gypsum", "--gases", "carbon dioxide = 1atm")
    assert "pH" in printed
    assert "gypsum" in printed
    told = json.loads(run("speciation", "0.5 sodium chloride", "--ions", "davies", "--T", "40 degC", "--json"))
    assert told["ions"] == "Davies"
    assert told["T"] == pytest.approx(313.15)
    assert told["species"]["Na+"]["molality"] == pytest.approx(0.5)
    out = tmp_path / "pH.png"
    run("titration", "0.05 carbon dioxide", "--added", "sodium hydroxide", "--amounts", "0 to 0.15 mol/kg in 16", "--out", str(out))
    assert out.stat().st_size > 5000
    assert "not understood" in run("speciation", "salt", status=2)
    assert "Write it like" in run("speciation", "1 NaCl", "--gases", "air", status=2)
    text = """study = 1
title = "Brine"
[[task]]
do = "speciation"
name = "brine"
amounts = { "sodium chloride" = 7.0 }
[[task]]
do = "titration"
name = "scrubber"
T = "50 degC"
amounts = { "carbon dioxide" = "0.1 mol/kg" }
added = "sodium hydroxide"
steps = "0 to 0.2 mol/kg in 5"
[[task]]
do = "warming"
name = "scale"
amounts = { "calcium hydrogen carbonate" = 0.002 }
T = "10 to 60 degC in 3"
"""
    path = tmp_path / "brine.toml"
    path.write_text(text, encoding="utf-8")
    done = sl.read_study(path).run(tmp_path / "out")
    assert "halite" in str(done)


def test_two_models_stand_beside_each_other():
    brine = sl.Electrolyte(["sodium chloride", "calcium sulfate"])
    feed = {"sodium chloride": 0.1, "calcium sulfate": 0.03}
    one, other = brine.speciation(feed), brine.with_ions("Davies").speciation(feed)
    frame = one.beside(other)
    assert list(frame.columns) == ["Pitzer", "Davies", "difference [%]"]
    assert frame.loc["gypsum [mol]", "Pitzer"] == one.solids["gypsum"]
    assert frame.loc["pH", "Davies"] == other.pH
    assert {note.split(":")[0] for note in frame.attrs["notes"]} == {"Pitzer", "Davies"}
    assert (one.beside(one)["difference [%]"].abs() < 1e-12).all()


def test_carbamate_takes_up_ammonia():
    """Its mass action is the one of Edwards and others, AIChE J. 24 (1978) 966-976, and there is little of it in dilute solutions."""
    water = sl.Electrolyte(["ammonia", "carbon dioxide"])
    for T in (298.15, 333.15):
        found = water.speciation({"ammonia": 4.0, "carbon dioxide": 2.0}, T=T)
        a = dict(zip(found.names, found.activity, strict=True))
        constant = np.log(a["NH2COO-"] * found.water_activity / (a["NH3(aq)"] * a["HCO3-"]))
        assert constant == pytest.approx(2895.65 / T - 8.5994, abs=0.01)
        thin = water.speciation({"ammonia": 0.004, "carbon dioxide": 0.002}, T=T)
        shares = [s.molality[s.names.index("NH2COO-")] / s.molality[s.names.index("HCO3-")] for s in (found, thin)]
        assert shares[1] < 0.05 * shares[0]


def test_scale_forms_where_hard_water_is_heated(tmp_path):
    hard = sl.Electrolyte(["calcium hydrogen carbonate", "sodium chloride"])
    feed = {"calcium hydrogen carbonate": 0.002}
    line = hard.warming(feed, "10 to 80 degC in 8")
    scale = np.array([step.solids["calcite"] for step in line.steps])
    assert (np.diff(scale) > 0.0).all()
    assert (np.diff(line.pH) < 0.0).all()
    assert line.steps[2].molality == pytest.approx(hard.speciation(feed, T="30 degC").molality, rel=1e-9)
    np.testing.assert_allclose(hard.warming(feed, ["10 degC", 353.15]).T, [283.15, 353.15])
    assert not any("trona" in note for note in line.notes)
    for figure, label in (("pH", "pH"), ("species", "$m$, molality [mol/kg]"), ("solids", "precipitated [mol for 1 kg of water]")):
        assert line.plot(figure=figure).get_ylabel() == label
    plt.close("all")
    frame = line.to_frame("US")
    assert frame.iloc[0, 0] == pytest.approx(50.0)
    sl.save(line, tmp_path / "scale.xlsx")
    printed = run(
        "warming",
        "0.002 calcium hydrogen carbonate",
        "--T",
        "10 to 80 degC in 8",
        "--figure",
        "solids",
        "--out",
        str(tmp_path / "scale.png"),
    )
    assert "calcite" in printed
    for wrong in ("10 to 200 degC in 3", "warm"):
        with pytest.raises(sl.InputError):
            hard.warming(feed, wrong)


DENSITIES = {
    # per cent by mass at 20 degC: CRC Handbook, concentrative properties of aqueous solutions
    "NaCl": {2: 1.0125, 10: 1.0707},
    "KCl": {10: 1.0633, 20: 1.1328},
    "CaCl2": {10: 1.0835},
    "MgCl2": {10: 1.0816},
    "Na2SO4": {10: 1.0905},
    "NaOH": {10: 1.1089},
    "HCl": {10: 1.0476},
    "NH4Cl": {10: 1.0286},
    "NaNO3": {10: 1.0674, 20: 1.1429},
    "KNO3": {10: 1.0627, 20: 1.1326},
    "K2CO3": {10: 1.0904},
    "KOH": {10: 1.0918},
    "NaHCO3": {6: 1.0408},
    "BaCl2": {10: 1.0921},
    "SrCl2": {10: 1.0925},
    "H2SO4": {10: 1.0661},
    "ammonia": {10: 0.9575},
}


@pytest.mark.parametrize("salt", DENSITIES)
def test_densities_are_those_of_the_handbook(salt):
    water = sl.Electrolyte([salt])
    per_mol = reagent(salt).molar_mass
    for percent, wanted in DENSITIES[salt].items():
        found = water.speciation({salt: percent / (100.0 - percent) / per_mol}, T="20 degC")
        assert found.density == pytest.approx(1e3 * wanted, rel=0.007)


def test_sea_water_has_its_density_and_concentrations_add_up():
    """Of salinity 35 at 25 degC: 1023.34 kg/m3 (Millero and Poisson, Deep-Sea Res. 28A (1981) 625-629)."""
    sea = sl.Electrolyte(["NaCl", "MgCl2", "CaCl2", "KCl", "Na2SO4", "NaHCO3"])
    feed = {"NaCl": 0.4245, "MgCl2": 0.05475, "CaCl2": 0.01065, "KCl": 0.01058, "Na2SO4": 0.02927, "NaHCO3": 0.0024}
    found = sea.speciation(feed, T="25 degC")
    assert found.density == pytest.approx(1023.34, rel=5e-4)
    assert found.mass_concentration.sum() + found.water / found.volume == pytest.approx(found.density, rel=1e-12)
    assert found.molarity == pytest.approx(found.mass_concentration / found.molar_masses, rel=1e-12)
    frame = found.to_frame("metric")
    assert frame.loc["Cl-", "mass_concentration [mg/L]"] == pytest.approx(19_800, rel=0.01)
    assert frame.loc["Cl-", "molarity [mol/L]"] == pytest.approx(1e-3 * found.molarity[found.names.index("Cl-")], rel=1e-12)


def test_at_infinite_dilution_volumes_add_up_and_what_is_not_known_is_said():
    brine = sl.Electrolyte(["NaCl"])
    little, none = (brine.speciation({"NaCl": n}) for n in (1e-4, 0.0))
    assert (little.volume - none.volume) / 1e-4 == pytest.approx((17.83 - 1.21) * 1e-6, rel=0.01)
    sulfite = sl.Electrolyte(["sodium sulfite"]).speciation({"sodium sulfite": 0.1})
    assert any("volume of SO3-2" in note for note in sulfite.notes)


# ---- amounts for a liter ----

# mass percent and density at 20 °C, kg/m3: CRC Handbook of Chemistry and Physics, concentrative properties of aqueous solutions
MADE_UP = {"sodium chloride": (10.0, 1070.7), "potassium chloride": (10.0, 1063.3), "sodium hydroxide": (4.0, 1042.8), "calcium chloride": (10.0, 1083.5)}  # fmt: skip


@pytest.mark.parametrize("name", list(MADE_UP))
def test_amounts_for_a_liter_are_those_for_a_kilogram_by_the_tables(name):
    percent, density = MADE_UP[name]
    mass = reagent(name).molar_mass
    per_liter, per_kilogram = 1e-3 * density * percent / 100.0 / mass, percent / (100.0 - percent) / mass
    found = sl.Electrolyte([name]).speciation({name: f"{per_liter} mol/L"}, T="20 degC", precipitation=False)
    at = found.names.index({"sodium": "Na+", "potassium": "K+", "calcium": "Ca+2"}[name.split()[0]])
    assert found.molarity[at] == pytest.approx(1e3 * per_liter, rel=2e-3)
    assert found.molality[at] == pytest.approx(per_kilogram, rel=8e-3)


def test_amounts_for_a_liter_and_for_a_kilogram_stand_beside_each_other():
    water = sl.Electrolyte(["sodium chloride", "hydrogen chloride"])
    mixed = water.speciation({"sodium chloride": "1 mol/L", "hydrogen chloride": 0.1})
    at = mixed.names.index("Na+")
    assert mixed.molarity[at] == pytest.approx(1e3, rel=1e-9)
    assert mixed.molality[mixed.names.index("H+")] == pytest.approx(0.1, rel=1e-6)
    by_mass = water.speciation({"sodium chloride": "58.44 g/L", "hydrogen chloride": 0.1})
    assert by_mass.molarity[at] == pytest.approx(1e3, rel=1e-4)
    curve = sl.Electrolyte(["sodium hydroxide", "hydrogen chloride"]).titration(
        {"hydrogen chloride": "0.1 mol/L"}, "sodium hydroxide", [0.0, "0.05 mol/kg"]
    )
    assert curve.pH[0] == pytest.approx(1.09, abs=0.03)
    told = json.loads(run("speciation", "1 mol/L sodium chloride + 20 mg/L gypsum", "--json"))
    assert told["species"]["Na+"]["molality"] == pytest.approx(
        water.speciation({"sodium chloride": "1 mol/L"}).molality[at], rel=1e-3
    )


def test_what_is_added_is_for_a_kilogram():
    acid = sl.Electrolyte(["sodium hydroxide", "hydrogen chloride"])
    with pytest.raises(sl.InputError, match="kilogram of water"):
        acid.titration({"hydrogen chloride": "0.1 mol/L"}, "sodium hydroxide", ["0.05 mol/L"])


def test_a_liter_that_holds_more_than_there_is_room_for_is_refused():
    with pytest.raises(sl.SleetfieldError, match=r"20 mol/kg"):
        sl.Electrolyte(["sodium chloride"]).speciation({"sodium chloride": "50 mol/L"})
    assert "not understood" in run("speciation", "one mol/L sodium chloride", status=2)
