"""Parameters of ions, and species, of one's own: fitted to coefficients, written down, left out."""

import json

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.core.constants import R

from .commands import run

LN10 = np.log(10.0)

# sodium chloride at 25 °C: Robinson and Stokes (1959), App. 8.3 and 8.10
COEFFICIENTS = {
    "molality": [0.1, 0.5, 1.0, 2.0, 4.0, 6.0],
    "osmotic_coefficient": [0.932, 0.921, 0.936, 0.983, 1.116, 1.271],
    "mean_activity_coefficient": [0.778, 0.681, 0.657, 0.668, 0.783, 0.986],
}


def test_parameters_of_ions_are_found_from_coefficients():
    """Those of Harvie, Møller and Weare (1984), and of Chen and Evans (1986), come out again."""
    fit = sl.fit_ions("Na+", "Cl-", COEFFICIENTS)
    assert fit.parameters["Na+", "Cl-"]["beta0"] == pytest.approx(0.0765, abs=0.001)
    assert np.nanmax(np.abs(fit.deviations)) < 0.002
    local = sl.fit_ions("Na+", "Cl-", COEFFICIENTS, ions="electrolyte-NRTL")
    assert [*local.parameters["Na+", "Cl-"].values()] == pytest.approx([8.885, -4.549], rel=0.02)
    assert any("correlated" in note for note in local.notes)
    assert "of_water" in local.in_short()
    # of both coefficients, or one; a point that has only one of them
    some = {**COEFFICIENTS, "osmotic_coefficient": [np.nan, *COEFFICIENTS["osmotic_coefficient"][1:]]}
    assert sl.fit_ions("Na+", "Cl-", some).parameters["Na+", "Cl-"]["beta0"] == pytest.approx(0.0765, abs=0.001)
    # and they are what a solution is calculated with
    brine = sl.Electrolyte(["sodium chloride"], ions="electrolyte-NRTL", parameters=local.parameters)
    found = brine.speciation({"sodium chloride": 4.0})
    assert found.osmotic_coefficient == pytest.approx(local.fitted[0, 4], rel=1e-6)
    assert found.osmotic_coefficient != pytest.approx(
        brine.with_ions("Pitzer").speciation({"sodium chloride": 4.0}).osmotic_coefficient, rel=1e-6
    )
    assert local.plot().get_xlabel().startswith("$m$")


def test_a_solubility_stands_in_for_coefficients_of_strong_solutions():
    """Coefficients up to 4 mol/kg and halite's solubility at 25 °C, 6.146 mol/kg (Linke), give the osmotic coefficient at 6 mol/kg: 1.271 (Robinson and Stokes)."""
    some = {key: values[:5] for key, values in COEFFICIENTS.items()}
    fit = sl.fit_ions("Na+", "Cl-", some, saturated={"halite": "6.146 mol/kg"})
    assert abs(fit.over["halite"]) < 0.003
    own = sl.Electrolyte(["sodium chloride"], parameters=fit.parameters)
    assert own.speciation({"sodium chloride": 6.0}).osmotic_coefficient == pytest.approx(1.271, rel=0.01)
    saturated = own.speciation({"sodium chloride": 8.0})
    assert saturated.molality[saturated.names.index("Cl-")] == pytest.approx(6.146, rel=0.01)
    assert "Solids" in str(fit)


def test_a_solid_with_water_in_it_is_reckoned_with_the_water():
    """Bischofite, MgCl2·6H2O: at the solubility that a speciation finds, its parameters say that the solution is saturated."""
    salt = sl.Electrolyte(["magnesium chloride"])
    m = [0.1, 0.5, 1.0, 2.0, 3.0, 4.0, 5.0]
    osmotic = [salt.speciation({"magnesium chloride": value}).osmotic_coefficient for value in m]
    full = salt.speciation({"magnesium chloride": 6.5})
    assert set(full.solids) == {"bischofite"}
    found = sl.fit_ions(
        "Mg+2",
        "Cl-",
        {"molality": m, "osmotic_coefficient": osmotic},
        saturated={"bischofite": full.molality[full.names.index("Mg+2")]},
    )
    assert abs(found.over["bischofite"]) < 2e-3


def test_magnesium_sulfate_is_fitted_with_what_makes_pairs():
    """Pitzer and Mayorga (1974): β₀ 0.221, β₁ 3.343, β₂ -37.2, Cφ 0.025, from which these coefficients are."""
    m = [0.01, 0.03, 0.1, 0.3, 0.6, 1.0, 1.5, 2.0]
    water = sl.Electrolyte(["magnesium sulfate"])
    osmotic = [water.speciation({"magnesium sulfate": value}, precipitation=False).osmotic_coefficient for value in m]
    found = sl.fit_ions("Mg+2", "SO4-2", {"molality": m, "osmotic_coefficient": osmotic}).parameters["Mg+2", "SO4-2"]
    assert [found["beta0"], found["beta1"], found["C_phi"]] == pytest.approx([0.221, 3.343, 0.025], rel=0.02)
    assert found["beta2"] == pytest.approx(-37.23, rel=0.05)


@pytest.mark.parametrize(
    ("call", "words"),
    [
        (lambda: sl.fit_ions("Na+", "Xx-", COEFFICIENTS), "no anion 'Xx-'"),
        (lambda: sl.fit_ions("Cl-", "Na+", COEFFICIENTS), "no cation 'Cl-'"),
        (lambda: sl.fit_ions("Na+", "Cl-", COEFFICIENTS, ions="Davies"), "no parameters of pairs"),
        (lambda: sl.fit_ions("Na+", "Cl-", {"m": [1.0]}), "they are molality"),
        (lambda: sl.fit_ions("Na+", "Cl-", COEFFICIENTS, saturated={"salt": 6.0}), "no solid 'salt'"),
        (lambda: sl.fit_ions("Na+", "Cl-", COEFFICIENTS, saturated={"sylvite": 6.0}), "not made of"),
        (lambda: sl.fit_ions("Na+", "Cl-", COEFFICIENTS, saturated={"halite": 0.0}), "above zero"),
        (lambda: sl.fit_ions("Na+", "Cl-", {"molality": [1.0], "osmotic_coefficient": [1.0], "T": [60.0]}), "T would not be read"),
        (lambda: sl.fit_ions("Na+", "Cl-", {"molality": [1.0, 2.0], "osmotic_coefficient": [1.0]}), "2 molalities and 1"),
        (lambda: sl.fit_ions("Na+", "Cl-", {"molality": [1.0], "osmotic_coefficient": ["much"]}), "no number"),
        (lambda: sl.fit_ions("Na+", "Cl-", {"molality": [1.0], "osmotic_coefficient": [1.0]}), "Give more"),
        (lambda: sl.fit_ions("Na+", "Cl-", {"molality": [-1.0], "osmotic_coefficient": [1.0]}), "above zero"),
        (lambda: sl.Electrolyte(["NaCl"], parameters={("Na+", "K+"): {"beta0": 0.1}}), "no pair of a cation and an anion"),
        (lambda: sl.Electrolyte(["NaCl"], parameters={("Na+", "Cl-"): {"tau": 0.1}}), "no parameter 'tau'"),
        (lambda: sl.Electrolyte(["NaCl"], parameters={("Na+", "Cl-"): {"beta0": float("nan")}}), "no finite number"),
    ],
)
def test_what_can_not_be_fitted_is_refused(call, words):
    with pytest.raises(sl.SleetfieldError, match=words):
        call()


def test_a_fit_on_the_command_line(tmp_path):
    rows = zip(*COEFFICIENTS.values(), strict=True)
    (tmp_path / "nacl.csv").write_text("\n".join([",".join(COEFFICIENTS), *(",".join(map(str, row)) for row in rows)]))
    told = json.loads(run("fit-ions", "Na+", "Cl-", str(tmp_path / "nacl.csv"), "--json"))
    assert told["parameters"]["beta0"]["value"] == pytest.approx(0.0765, abs=0.001)
    beside = run("fit-ions", "Na+", "Cl-", str(tmp_path / "nacl.csv"), "--saturated", "halite = 6.146 mol/kg", "--json")
    assert abs(json.loads(beside)["supersaturation"]["halite"]) < 0.01
    assert "Write it like" in run("fit-ions", "Na+", "Cl-", str(tmp_path / "nacl.csv"), "--saturated", "halite", status=2)
    assert "is no number" in run(
        "fit-ions", "Na+", "Cl-", str(_with(tmp_path / "bad.csv", "molality,osmotic_coefficient\n1,x")), status=2
    )


def _with(path, text):
    path.write_text(text)
    return path


def test_alkalinity_is_what_acid_is_needed():
    """Of what was fed, whatever it becomes: carbonate counts twice, hydrogen carbonate, ammonia, sulfide and hydroxide once, a strong acid minus once; gases that are acids do not."""
    water = sl.Electrolyte(
        [
            "sodium carbonate",
            "sodium hydrogen carbonate",
            "ammonia",
            "carbon dioxide",
            "hydrogen chloride",
            "sodium hydroxide",
            "sodium sulfite",
            "hydrogen sulfide",
        ]
    )
    feed = {
        "sodium carbonate": 0.01, "sodium hydrogen carbonate": 0.02, "ammonia": 0.03, "carbon dioxide": 0.04, "hydrogen chloride": 0.005, "sodium hydroxide": 0.002,
        "sodium sulfite": 0.001, "hydrogen sulfide": 0.003,
    }  # fmt: skip
    found = water.speciation(feed)
    assert found.alkalinity * found.water == pytest.approx(0.02 + 0.02 + 0.03 - 0.005 + 0.002 + 0.001, rel=1e-10)
    assert found.mole_fraction.sum() + 1.0 / (1.0 + 0.01801528 * found.molality.sum()) == pytest.approx(1.0)
    salt = sl.Electrolyte(["sodium chloride"]).speciation({"sodium chloride": "100 g/kg"})
    assert salt.mass_fraction.sum() == pytest.approx(0.1 / 1.1, rel=1e-4)


def test_species_of_ones_own():
    """Calcium sulfate's pair, log10 K = -2.31 (Nordstrom and others, 1990), beside Davies's equation: 15.2 mmol/kg of gypsum dissolve, a third of it as pairs."""
    own = ["CaSO4(aq) = Ca+2 + SO4-2, -2.31, 6.9 kJ/mol"]
    water = sl.Electrolyte(["calcium sulfate"], ions="Davies", species=own, without=["anhydrite"])
    found = water.speciation({"calcium sulfate": 0.1})
    m = dict(zip(found.names, found.molality, strict=True))
    assert m["Ca+2"] + m["CaSO4(aq)"] == pytest.approx(0.0152, rel=0.08)
    activity = dict(zip(found.names, found.activity, strict=True))
    assert np.log10(activity["Ca+2"] * activity["SO4-2"] / activity["CaSO4(aq)"]) == pytest.approx(-2.31, abs=1e-8)
    assert "anhydrite" not in found.saturation
    # the heat of falling apart is -6.9 kJ/mol of coming together
    warm = water.speciation({"calcium sulfate": 0.1}, T="40 degC")
    activity = dict(zip(warm.names, warm.activity, strict=True))
    shift = 6900.0 / (R * LN10) * (1.0 / 298.15 - 1.0 / 313.15)
    assert np.log10(activity["Ca+2"] * activity["SO4-2"] / activity["CaSO4(aq)"]) == pytest.approx(-2.31 + shift, abs=1e-6)
    assert "CaSO4(aq)" in water.with_ions("Pitzer").species
    # a solid and an ion
    salts = sl.Electrolyte(
        ["potassium sulfate", "sodium chloride"], species=["KSO4- = K+ + SO4-2, -0.85", "mixed = Na+ + K+ + SO4-2, -9"]
    )
    assert "mixed" in salts.speciation({"potassium sulfate": 0.2, "sodium chloride": 0.2}).solids


@pytest.mark.parametrize(
    ("options", "words"),
    [
        ({"species": ["CaSO4(aq) = Ca+2 + SO4-2"]}, "Write it like"),
        ({"species": ["X = Ca+2 + Q-, 1"]}, "'Q-', which there is not"),
        ({"species": ["X(aq) = Ca+2 + SO4-2, much"]}, "log10 K of X"),
        ({"species": ["K2(aq) = 2 K+ + SO4-2, 1"]}, "has K, which nothing here has"),
        ({"species": ["gypsum = Ca+2 + SO4-2 + 2 water, -4.6"]}, "gypsum already"),
        ({"without": ["H+"]}, "can't be left out"),
        ({"without": ["halite"]}, "can't be left out"),
    ],
)
def test_species_that_can_not_be(options, words):
    with pytest.raises(sl.InputError, match=words):
        sl.Electrolyte(["calcium sulfate"], **options)
    with pytest.raises(sl.InputError, match="has no heat of formation"):
        sl.Electrolyte(["calcium sulfate"], species=["CaSO4(aq) = Ca+2 + SO4-2, -2.31"]).speciation({}, T="40 degC")
