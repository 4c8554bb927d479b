"""Salts and gases in water beside hydrocarbons: vapor, a liquid of hydrocarbons and the solution at once."""

import json

import matplotlib.pyplot as plt
import numpy as np
import pytest

import sleetfield as sl

from .commands import call

BRINE = ["sodium chloride", "carbon dioxide", "hydrogen sulfide", "methane", "propane", "n-octane", "benzene"]
FEED = {
    "sodium chloride": 1.0, "carbon dioxide": 2.0, "hydrogen sulfide": 0.3, "methane": 3.0, "propane": 1.0, "n-octane": 4.0, "benzene": 0.5,
}  # fmt: skip
AT = {"T": "40 degC", "P": "30 bar"}


@pytest.fixture(scope="module")
def separator():
    return sl.Electrolyte(BRINE).speciation(FEED, **AT)


def test_what_is_fed_is_somewhere(separator):
    for name in ("propane", "n-octane", "benzene"):
        assert separator.vapor[name] + separator.liquid[name] == pytest.approx(FEED[name], rel=1e-10)
    for gas in ("carbon dioxide", "hydrogen sulfide", "methane"):
        there = separator.vapor[gas] + separator.liquid[gas] + separator.dissolved(gas) * separator.water
        assert there == pytest.approx(FEED[gas], rel=1e-10)
    water = separator.vapor["water"] + separator.liquid["water"] + separator.water / 0.01801528
    assert water == pytest.approx(1.0 / 0.01801528, rel=1e-4)  # reactions of carbon dioxide take some


def test_fugacities_in_vapor_and_liquid_are_the_same_by_the_equation_itself(separator):
    names = ["carbon dioxide", "hydrogen sulfide", "methane", "propane", "n-octane", "benzene"]
    wet = sl.System(
        [*names, "water"], eos="SRK", kij={("n-octane", "water"): 0.5, ("propane", "water"): 0.5525, ("benzene", "water"): 0.2932}
    )
    for phase, kind in ((separator.y, 0), (separator.x, 1)):
        z = np.array([[phase[name] for name in (*names, "water")]])
        bound = wet.phase_model.at(np.array([313.15]), np.array([30e5]))
        own = np.exp(bound.ln_phi(z, np.int8(kind))[0]) * z[0] * 30e5
        assert own[:-1] == pytest.approx([separator.pressures[name] for name in names], rel=2e-4)


def test_without_the_little_water_it_parts_as_by_a_flash(separator):
    names = ["carbon dioxide", "hydrogen sulfide", "methane", "propane", "n-octane", "benzene"]
    amounts = {name: separator.vapor[name] + separator.liquid[name] for name in names}
    dry = sl.System(names, eos="SRK").flash({name: f"{amount} mol/s" for name, amount in amounts.items()}, T=313.15, P=30e5)
    there = sum(separator.vapor[name] for name in names)
    assert dry.vapor_fraction * sum(amounts.values()) == pytest.approx(there, rel=0.01)


# mole fractions at 25 °C: Maczynski and others, IUPAC-NIST solubility data series 81, J. Phys. Chem. Ref. Data 33 to 35 (2004-2006), some 20 %
@pytest.mark.parametrize(
    ("name", "x"), [("n-hexane", 4.7e-4), ("n-heptane", 5.6e-4), ("n-octane", 6.0e-4), ("benzene", 2.95e-3), ("toluene", 2.6e-3)]
)
def test_hydrocarbons_take_up_water_as_measured(name, x):
    found = sl.Electrolyte([name]).speciation({name: 3.0}, T="25 degC", P="2 bar")
    assert found.x["water"] == pytest.approx(x, rel=0.25)
    assert not found.vapor


def test_an_oil_takes_gas_from_the_water_and_salt_drives_more_into_it():
    water = sl.Electrolyte(["carbon dioxide", "sodium chloride", "n-decane"])
    feed = {"carbon dioxide": 0.2}
    alone, beside, salted = (
        water.speciation({**feed, **more}, P="50 bar").dissolved("carbon dioxide")
        for more in ({}, {"n-decane": 2.0}, {"n-decane": 2.0, "sodium chloride": 3.0})
    )
    assert alone == pytest.approx(0.2, rel=1e-3)
    # Setschenow's constant of some 0.1 kg/mol, as without the oil
    fresh, salt = (there / (0.2 - there) for there in (beside, salted))
    assert np.log10(fresh / salt) / 3.0 == pytest.approx(0.095, abs=0.01)


def test_a_vapor_begins_to_form_over_both_liquids():
    live = sl.Electrolyte(["sodium chloride", "carbon dioxide", "methane", "propane", "n-octane"])
    feed = {"sodium chloride": 1.0, "carbon dioxide": 0.2, "methane": 0.3, "propane": 1.0, "n-octane": 4.0}
    point = live.bubble_pressure(feed, T="40 degC")
    assert sum(point.y.values()) == pytest.approx(1.0, abs=1e-8)
    assert "begins to form" in point.in_short()
    lower, higher = (live.speciation(feed, T="40 degC", P=point.P * share) for share in (0.999, 1.001))
    assert lower.vapor
    assert not higher.vapor
    for name, share in point.y.items():
        assert lower.y[name] == pytest.approx(share, rel=0.01)
    # the liquid alone boils at the same pressure but for water's
    names = [name for name in point.x if name not in ("water", "hydrogen chloride")]
    dry = sl.System(names, eos="SRK").bubble([point.x[name] / (1.0 - point.x["water"]) for name in names], T=313.15)
    assert dry.P + point.water_activity * point.P_water == pytest.approx(point.P, rel=2e-3)
    with pytest.raises(sl.CalculationError, match="There is a vapor over"):
        sl.Electrolyte(["hydrogen", "ethane"]).bubble_pressure({"hydrogen": 50.0, "ethane": 0.1})


def test_its_heat_is_that_of_its_parts():
    names = ["propane", "n-octane"]
    both, alone = sl.Electrolyte(names), sl.Electrolyte(["sodium chloride"])
    feed, system = {"propane": 1.0, "n-octane": 4.0}, sl.System(names, eos="SRK")
    H = [both.speciation(feed, T=T, P="20 bar").H for T in (290.0, 330.0)]
    water = [alone.speciation({}, T=T, P="20 bar").H for T in (290.0, 330.0)]
    oil = [5.0 * system.flash([0.2, 0.8], T=T, P=20e5).H for T in (290.0, 330.0)]
    assert np.diff(H) - np.diff(water) == pytest.approx(np.diff(oil), rel=0.02)


def test_near_what_changes_and_of_traces():
    oily = sl.Electrolyte(["n-hexane", "carbon dioxide", "ammonia"])
    for amount in (1e-8, 1e-5, 1e-2, 10.0):
        for P in (0.2e5, 1e5, 10e5, 150e5):
            found = oily.speciation({"n-hexane": amount, "carbon dioxide": 0.5, "ammonia": 0.2}, T=310.0, P=P)
            assert found.vapor.get("n-hexane", 0.0) + found.liquid.get("n-hexane", 0.0) == pytest.approx(amount, rel=1e-8)
    without, none = oily.speciation({"carbon dioxide": 0.5}, P="5 bar"), sl.Electrolyte(["carbon dioxide"])
    assert without.pH == pytest.approx(none.speciation({"carbon dioxide": 0.5}, P="5 bar").pH, abs=1e-8)
    assert oily.speciation({"carbon dioxide": 0.01}).pH == pytest.approx(none.speciation({"carbon dioxide": 0.01}).pH, abs=1e-8)


def test_what_is_to_be_said(separator):
    assert any("What of propane, n-octane, benzene dissolves in the water is left out." in note for note in separator.notes)
    assert sl.Electrolyte(["octane"]).speciation({"octane": 1.0}, P="1 bar").liquid["n-octane"] == pytest.approx(1.0)
    assert sl.Electrolyte(["octane"]).speciation({"octane": "114.2285 g/kg"}, P="1 bar").liquid["n-octane"] == pytest.approx(
        1.0, rel=1e-4
    )
    with pytest.raises(sl.InputError, match="n-octane is no part of a solution: give P"):
        sl.Electrolyte(["n-octane"]).speciation({"n-octane": 1.0})
    with pytest.raises(sl.UnknownComponentError, match="There is no 'octanium'"):
        sl.Electrolyte(["octanium"])


@pytest.mark.parametrize("amounts", ["0 to 1 mol/kg in 3", [1.0, 0.5, 0.0]])
def test_an_oil_is_added_bit_by_bit(amounts):
    curve = sl.Electrolyte(["carbon dioxide", "n-octane"]).titration({"carbon dioxide": 0.1}, "n-octane", amounts, P="5 bar")
    assert [round(step.liquid.get("n-octane", 0.0), 6) for step in curve.steps] == pytest.approx(curve.amounts)
    assert len(curve.to_frame()) == 3
    assert curve.plot(figure="gases").lines
    plt.close("all")


def test_steps_and_the_command_line(tmp_path):
    told = json.loads(call("speciation", "1 sodium chloride + 0.5 carbon dioxide + 2 n-octane", "--P", "20bar", "--json").stdout)
    assert told["liquid"]["n-octane"] == pytest.approx(2.0)
    out = tmp_path / "warm.csv"
    call("warming", "0.5 carbon dioxide + 2 n-octane", "--T", "10 to 60 degC in 3", "--P", "20bar", "--out", str(out))
    assert "n-octane in liquid beside [mol]" in out.read_text(encoding="utf-8")
