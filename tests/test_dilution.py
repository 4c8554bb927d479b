"""Solutes at infinite dilution: against the pair's own coefficients, between two solvents, and in liquids that are saturated with each other."""

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.data_sets.shipped import measured_solubilities

from .commands import run

THREE = sl.System(["acetone", "1-butanol", "water"], liquid="NRTL")


def test_in_one_solvent_they_are_the_pairs_own():
    found = THREE.dilution("water", T=[298.15, 350.0])
    assert found.solutes == ("acetone", "1-butanol")
    for k, name in enumerate(found.solutes):
        wanted = THREE.part([name, "water"]).parameters.gamma_infinity(name, "water", T=[298.15, 350.0])[0]
        assert found.gamma[:, k] == pytest.approx(wanted, rel=1e-9)
    assert np.isnan(found.log_partition).all()


def test_between_two_solvents_and_back():
    there, back = (
        THREE.dilution("water", T="30 degC", against="1-butanol"),
        THREE.dilution("1-butanol", T="30 degC", against="water"),
    )
    assert there.solutes == ("acetone",)
    assert there.log_partition == pytest.approx(-back.log_partition)
    assert there.log_partition_molar == pytest.approx(-back.log_partition_molar)
    rho = [float(sl.databank().find(n).liquid_density.value(np.array([303.15]))[0]) for n in ("water", "1-butanol")]
    assert there.log_partition_molar[0, 0] == pytest.approx(there.log_partition[0, 0] + np.log10(rho[1] / rho[0]))
    assert any("K is what the other solvent" in note for note in there.notes)


def test_saturated_with_each_other_they_are_the_limit_of_a_split():
    found = THREE.dilution("water", T="30 degC", against="1-butanol", mutual=True)
    split = THREE.liquid_split([1e-8, 0.3, 0.7], T="30 degC")
    x = [p.composition["acetone"] for p in sorted(split.state.phases, key=lambda p: p.composition["water"])]
    assert found.log_partition[0, 0] == pytest.approx(np.log10(x[0] / x[1]), abs=1e-5)
    with pytest.raises(sl.CalculationError, match="mix at"):
        sl.System(["acetone", "ethanol", "water"], liquid="NRTL").dilution("water", against="ethanol", mutual=True)


def test_in_a_mixed_solvent_they_are_those_of_its_composition():
    mixed = THREE.dilution({"1-butanol": 0.5, "water": 0.5}, T=330.0)
    assert mixed.solutes == ("acetone",)
    wanted = THREE.activity.at(np.array([330.0])).ln_gamma(np.array([[1e-12], [0.5], [0.5]]))[0, 0]
    assert mixed.ln_gamma[0, 0] == pytest.approx(wanted, abs=1e-9)


def test_what_is_not_there_is_said():
    with pytest.raises(sl.InputError, match="no solute is left"):
        THREE.dilution({"acetone": 0.2, "1-butanol": 0.4, "water": 0.4})
    with pytest.raises(sl.InputError, match="name the other one with against="):
        THREE.dilution("water", mutual=True)
    with pytest.raises(sl.InputError, match="no activity coefficients"):
        sl.System(["methane", "propane"], eos="PR").dilution("propane")
    with pytest.raises(sl.UnknownComponentError):
        THREE.dilution("benzene")


def test_octanol_and_water():
    """Measured log₁₀ of concentrations: acetone -0.24, ethanol -0.31, toluene 2.73 (Hansch, Leo and Hoekman, Exploring QSAR, ACS, 1995): predictions are within 0.7.

    Of n-hexane it is 3.9, and UNIFAC is 1.2 off: alkanes in water are what it can't do.
    """
    measured = {"acetone": -0.24, "ethanol": -0.31, "toluene": 2.73}
    for name, value in measured.items():
        shaken = sl.System([name, "1-octanol", "water"], liquid="UNIFAC")
        found = shaken.dilution("water", against="1-octanol", mutual=True)
        assert found.log_partition_molar[0, 0] == pytest.approx(value, abs=0.7), name
    # what was measured agrees with coefficients in water, of toluene by its measured solubility: in octanol, of 120 cm3/mol with its water, they are nearly ideal
    (toluene,) = (s for s in measured_solubilities() if s.first == "toluene")
    in_water = {"acetone": 7.3, "ethanol": 3.8, "toluene": 92.14 / 18.015 / toluene.first_in_second}
    in_octanol = {name: in_water[name] * 18.07 / 120.0 / 10.0**value for name, value in measured.items()}
    assert all(1.0 < gamma < 4.0 for gamma in in_octanol.values()), in_octanol


@pytest.mark.parametrize("liquid", ["NRTL", "Wilson", "UNIQUAC", "Margules"])
def test_a_prediction_goes_through_one_measured_point(liquid):
    predicted = sl.System(["acetone", "ethyl acetate", "n-hexane"], liquid=liquid, missing="UNIFAC")
    by_dilution = sl.anchored_pair(predicted, "acetone", "n-hexane", T="50 degC", gamma_inf=5.0, source="lab 2")
    frame = by_dilution.dilution("n-hexane", T="50 degC").to_frame().set_index("solute")
    assert frame["gamma"]["acetone"] == pytest.approx(5.0, rel=1e-9)
    untouched = predicted.dilution("n-hexane", T="50 degC").to_frame().set_index("solute")
    assert frame["gamma"]["ethyl acetate"] == pytest.approx(untouched["gamma"]["ethyl acetate"], rel=1e-12)
    own = predicted.part(["acetone", "n-hexane"]).azeotropes(T="50 degC")[0]
    measured = own.composition["acetone"] - 0.004
    by_azeotrope = sl.anchored_pair(predicted, "acetone", "n-hexane", T="50 degC", x=measured, P=own.P)
    found = by_azeotrope.part(["acetone", "n-hexane"]).azeotropes(T="50 degC")
    assert [a.composition["acetone"] for a in found] == [pytest.approx(measured, abs=1e-6)]
    told = [p.source for p in by_dilution.model.parameters.values() if set(p.of) == {"acetone", "n-hexane"}]
    assert any("multiplied by" in source and "lab 2" in source for source in told)
    assert any("UNIFAC" in note for note in by_dilution.notes)


def test_a_factor_that_splits_the_liquid_is_none():
    predicted = sl.System(["acetone", "n-hexane"], liquid="UNIQUAC")
    with pytest.raises(sl.CalculationError, match="one of two liquids"):
        sl.anchored_pair(predicted, "acetone", "n-hexane", T="50 degC", x=0.62, P="1 bar")


def test_an_anchored_model_is_kept_from_the_command_line(tmp_path):
    options = [
        "--liquid",
        "NRTL",
        "--missing",
        "UNIFAC",
        "--anchor",
        "ethyl acetate / n-hexane: T=25degC, gamma_inf=2.9, source=lab 2",
    ]
    assert "lab 2" in run("system", "ethyl acetate + n-hexane", *options, "--out", "moved.toml", cwd=tmp_path)
    kept = sl.load(tmp_path / "moved.toml")
    assert kept.dilution("n-hexane", T="25 degC").to_frame()["gamma"][0] == pytest.approx(2.9, rel=1e-9)
    for wrong in (
        "ethyl acetate, n-hexane: T=25degC",
        "ethyl acetate / n-hexane: gamma_inf=2",
        "ethyl acetate / n-hexane: T=25degC, k=3",
    ):
        assert "Write it like" in run("system", "ethyl acetate + n-hexane", *options[:4], "--anchor", wrong, cwd=tmp_path, status=2)


def test_a_pair_is_anchored_where_that_can_be():
    predicted = sl.System(["acetone", "n-hexane"], liquid="NRTL", missing="UNIFAC")
    with pytest.raises(sl.CalculationError, match="another kind of mixture"):
        sl.anchored_pair(predicted, "acetone", "n-hexane", T=300.0, gamma_inf=0.3)
    with pytest.raises(sl.InputError, match="either gamma_inf"):
        sl.anchored_pair(predicted, "acetone", "n-hexane", T=300.0)
    with pytest.raises(sl.InputError, match="no liquid model"):
        sl.anchored_pair(sl.System(["methane", "propane"], eos="PR"), "methane", "propane", T=300.0, gamma_inf=2.0)
    with pytest.raises(sl.InputError, match="UNIFAC"):
        sl.anchored_pair(sl.System(["acetone", "n-hexane"], liquid="UNIFAC"), "acetone", "n-hexane", T=300.0, gamma_inf=2.0)
