"""Gas hydrates: measured pressures, quadruple points and inhibition, the lattice's own identities, and what holds against a feed."""

import json

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.core.constants import R
from sleetfield.recipes.brine import brine_of
from sleetfield.recipes.hydrates import hydrates

from .commands import run
from .searches import amounts
from .test_searches import troubles

# McLeod and Campbell, J. Petrol. Technol. 13 (1961) 590-594: methane with free water, K and MPa
METHANE = [(285.7, 9.62), (289.0, 13.96), (292.1, 21.13), (295.9, 34.75), (298.7, 48.68), (300.9, 62.40)]
# hydrate, free water and gas beside ice, or beside the condensed gas: quadruple points of Sloan and Koh, Clathrate Hydrates of Natural Gases, 3rd ed. (2008), Table 4.2, K and MPa
BESIDE_ICE = {"methane": (272.9, 2.563), "ethane": (273.1, 0.530), "propane": (273.1, 0.172), "isobutane": (273.1, 0.109), "nitrogen": (271.9, 14.338),
              "carbon dioxide": (273.1, 1.256), "hydrogen sulfide": (272.8, 0.093)}  # fmt: skip
BESIDE_LIQUID = {"ethane": (287.9, 3.39), "propane": (278.8, 0.556), "isobutane": (275.0, 0.167), "carbon dioxide": (283.0, 4.499),
                 "hydrogen sulfide": (302.7, 2.239)}  # fmt: skip
# Ng and Robinson, Fluid Phase Equilib. 21 (1985) 145-155: methane and aqueous methanol; Robinson and Ng, J. Can. Petrol. Technol. 25 (1986) 26-30: ethylene glycol. Mass percent to K, MPa
INHIBITED = [
    ("methanol", 10, [(266.23, 2.14), (271.24, 3.41), (275.87, 5.63), (280.31, 9.07), (283.67, 13.3), (286.40, 18.8)]),
    ("methanol", 20, [(263.34, 2.83), (267.51, 4.20), (270.08, 5.61), (273.55, 8.41), (277.56, 13.3), (280.17, 18.75)]),
    ("ethylene glycol", 10, [(270.24, 2.42), (273.49, 3.40), (280.19, 6.53), (287.10, 15.6)]),
    ("ethylene glycol", 30, [(267.59, 3.77), (269.70, 4.93), (274.36, 7.86), (280.10, 16.1)]),
]


def gas_and_water(*gases, eos="CPA"):
    return sl.System([*gases, "water"], eos=eos)


@pytest.mark.parametrize("eos", ["CPA", "SRK"])
def test_methane_forms_hydrate_at_the_measured_pressures(eos):
    T, P = np.array(METHANE).T
    line = gas_and_water("methane", eos=eos).hydrate([0.5, 0.5], T=T)
    assert set(line.solids) == {"hydrate I"}
    assert np.abs(line.P / (P * 1e6) - 1.0).max() < 0.07


@pytest.mark.parametrize("gas", list(BESIDE_ICE))
def test_hydrates_of_one_gas_beside_ice(gas):
    T, P = BESIDE_ICE[gas]
    # along ice a degree is 3 to 5 % of the pressure
    assert gas_and_water(gas).hydrate([0.5, 0.5], P=P * 1e6).T == pytest.approx(T, abs=0.9)


@pytest.mark.parametrize("gas", list(BESIDE_LIQUID))
def test_hydrates_of_one_gas_beside_its_liquid(gas):
    T, P = BESIDE_LIQUID[gas]
    assert gas_and_water(gas).hydrate([0.5, 0.5], P=P * 1e6).T == pytest.approx(T, abs=0.85 if gas == "ethane" else 0.4)


# Selleck, Carmichael and Sage, Ind. Eng. Chem. 44 (1952) 2219-2226 (H2S); Deaton and Frost, U.S. Bur. Mines Monogr. 8 (1946) (CO2), beside liquid water, K and MPa
SOUR = {"hydrogen sulfide": [(277.6, 0.157), (283.2, 0.280), (288.7, 0.499), (294.3, 0.890), (299.8, 1.596)],
        "carbon dioxide": [(273.7, 1.324), (274.3, 1.393), (275.4, 1.613), (276.5, 1.848), (281.9, 3.709), (282.9, 4.323)]}  # fmt: skip


@pytest.mark.parametrize("gas", list(SOUR))
def test_sour_gases_form_hydrate_at_the_measured_pressures(gas):
    T, P = np.array(SOUR[gas]).T
    line = gas_and_water(gas).hydrate([0.5, 0.5], T=T)
    assert set(line.solids) == {"hydrate I"}
    assert np.abs(line.P / (P * 1e6) - 1.0).max() < 0.045


@pytest.mark.parametrize(("inhibitor", "percent", "points"), INHIBITED, ids=lambda v: str(v)[:16])
def test_inhibitors_hold_hydrates_back_as_measured(inhibitor, percent, points):
    system = sl.System(["methane", inhibitor, "water"], eos="CPA")
    T, P = np.array(points).T
    liquid = (
        sl.System([inhibitor, "water"], eos="CPA").flash([percent / 100.0, 1.0 - percent / 100.0], T=280.0, P=1e5, basis="mass").z
    )
    line = system.hydrate([0.2, *(0.8 * liquid)], P=P * 1e6)
    assert np.abs(line.T - T).max() < 1.0


def test_structures_of_natural_gases_and_of_pure_ones():
    """Propane, isobutane and nitrogen's large share of small cages: Sloan and Koh (2008), ch. 2; a few percent of propane make structure II."""
    kinds = {
        gas: gas_and_water(gas).hydrate([0.5, 0.5], T=273.5).solid
        for gas in ("methane", "ethane", "carbon dioxide", "propane", "isobutane")
    }
    assert kinds == {
        "methane": "hydrate I",
        "ethane": "hydrate I",
        "carbon dioxide": "hydrate I",
        "propane": "hydrate II",
        "isobutane": "hydrate II",
    }
    mixed = gas_and_water("methane", "propane")
    assert mixed.hydrate([0.48, 0.02, 0.5], T=280.0).solid == "hydrate II"
    assert mixed.hydrate([0.48, 0.02, 0.5], T=280.0).P < 0.6 * mixed.hydrate([0.5, 0.0, 0.5], T=280.0).P


def test_two_formers_of_structure_one_make_structure_two():
    """Methane with some 1 to 26 % of ethane at 274 K: Subramanian and others, Chem. Eng. Sci. 55 (2000) 5763-5771."""
    ethane = np.array([0.0, 0.05, 0.1, 0.2, 0.5, 1.0])
    line = gas_and_water("methane", "ethane").hydrate(
        np.stack([0.5 * (1.0 - ethane), 0.5 * ethane, np.full(6, 0.5)], axis=1), T=274.2
    )
    assert [solid.removeprefix("hydrate ") for solid in line.solids] == ["I", "II", "II", "II", "I", "I"]


def test_water_for_each_methane():
    """5.99 +- 0.07 at 1.9 to 9.7 MPa and 263 to 285 K: Circone, Kirby and Stern, J. Phys. Chem. B 109 (2005) 9468-9475."""
    system = gas_and_water("methane")
    for T in (274.0, 284.0):
        assert system.hydrate([0.5, 0.5], T=T).hydration_number == pytest.approx(5.99, abs=0.12)


def test_the_slope_of_the_line_is_the_heat_of_dissociation():
    """Clapeyron: 54.19 kJ/mol of methane to gas and liquid water at 273 K, Handa, J. Chem. Thermodyn. 18 (1986) 915-921."""
    system = gas_and_water("methane")
    T = np.array([274.0, 274.4])
    P = system.hydrate([0.5, 0.5], T=T).P
    Z = system.flash([0.5, 0.5], T=274.2, P=float(P.mean())).phases[0].Z
    heat = -R * Z * np.diff(np.log(P)) / np.diff(1.0 / T)
    assert heat[0] / 1e3 == pytest.approx(54.19, rel=0.05)


def test_the_lattice_obeys_gibbs_and_duhem():
    """What a guest's fugacity does to water's in the hydrate is what there is of it: d ln f_w = - sum (x_guest / x_water) d ln f_guest."""
    system = gas_and_water("methane", "propane", "carbon dioxide")
    rng = np.random.default_rng(3)
    T, P = rng.uniform(265.0, 300.0, 40), 10.0 ** rng.uniform(5.5, 7.5, 40)
    ln_f = np.log(rng.dirichlet(np.ones(4), 40)) + np.log(P)[:, None]
    for h in hydrates(system.who, system.model)[1]:
        x = h.composition(T, ln_f)
        for i in range(3):
            step = np.eye(4)[i] * 1e-5
            ends = [h.supersaturation(system.fluids, T, P, ln_f + side * step) for side in (-1.0, 1.0)]
            np.testing.assert_allclose((ends[1] - ends[0]) / 2e-5, x[:, i] / x[:, 3], rtol=1e-6, atol=1e-9)
        assert (h.occupancy(T, ln_f).sum(axis=2) < 1.0).all()


def test_a_gas_with_little_water_forms_hydrate_later():
    system = gas_and_water("methane", "propane")
    P = 50e5
    feeds = np.array([[0.95 * (1.0 - w), 0.05 * (1.0 - w), w] for w in (1e-5, 1e-4, 2e-4, 0.5)])
    line = system.hydrate(feeds, P=P)
    assert (np.diff(line.T) > 0.0).all()
    assert line.beside[0] == "vapor"
    # with water in excess, how much makes no difference but by what dissolves
    assert system.hydrate([0.19, 0.01, 0.8], P=P).T == pytest.approx(line.T[-1], abs=0.1)


def test_along_temperature_and_along_pressure_is_the_same_line():
    system = gas_and_water("methane", "ethane", "carbon dioxide")
    z = [0.6, 0.05, 0.05, 0.3]
    by_P = system.hydrate(z, P=np.geomspace(1e6, 2e7, 12))
    by_T = system.hydrate(z, T=by_P.T)
    np.testing.assert_allclose(by_T.P, by_P.P, rtol=1e-6)
    assert by_T.solids == by_P.solids


def test_how_far_a_pipeline_is_from_its_hydrate():
    line = gas_and_water("methane", "propane", eos="SRK").hydrate([0.85, 0.05, 0.10], P=np.linspace(10e5, 80e5, 15))
    warmer, bar = line.distance("25 degC", "40 bar")
    assert warmer > 0.0
    assert np.isnan(bar)
    colder, below = line.distance("10 degC", "40 bar")
    assert (colder < 0.0, below < 0.0) == (True, True)
    with pytest.raises(sl.InputError, match="one feed"):
        gas_and_water("methane").hydrate([[0.5, 0.5], [0.4, 0.6]], P=5e6).distance(280.0, 5e6)


def test_what_cannot_be_is_said():
    with pytest.raises(sl.InputError, match="made of water"):
        sl.System(["methane", "propane"], eos="PR").hydrate([0.5, 0.5], P=1e6)
    with pytest.raises(sl.InputError, match="Guests are"):
        sl.System(["helium", "water"], eos="PR").hydrate([0.5, 0.5], P=1e6)
    with pytest.raises(sl.CalculationError, match="No solid forms"):
        gas_and_water("methane").hydrate([0.5, 0.5], T=400.0)
    with pytest.raises(sl.InputError, match="one of T and P"):
        gas_and_water("methane").hydrate([0.5, 0.5], P=1e6, T=280.0)
    outside = gas_and_water("methane", "ethylene", eos="SRK").hydrate([0.4, 0.1, 0.5], P=5e6)
    assert any("ethylene" in note and "staying out" in note for note in outside.notes)


def test_from_the_command_line(tmp_path):
    picture, table = tmp_path / "line.png", tmp_path / "line.csv"
    feed = "0.85 methane + 0.05 propane + 0.10 water"
    told = run(
        "hydrate",
        feed,
        "--eos",
        "SRK",
        "--P",
        "10bar to 60bar in 4",
        "--mark",
        "line: 8degC, 45bar",
        "--envelope",
        "--out",
        picture,
        "--out",
        table,
    )
    assert "hydrate II" in told
    assert picture.stat().st_size > 10_000
    assert "hydrate II" in table.read_text()
    one = json.loads(run("hydrate", feed, "--eos", "SRK", "--P", "40bar", "--json"))
    assert one["solid"] == "hydrate II"
    assert set(one["occupancy"]["large"]) == {"methane", "propane"}
    refused = run("hydrate", feed, "--eos", "SRK", "--P", "40bar", "--log", status=2)
    assert "a list or a range" in refused


def test_a_dose_of_methanol_just_keeps_hydrates_away():
    system = sl.System(["methane", "propane", "methanol", "water"], eos="CPA")
    z, T, P = np.array([0.9, 0.05, 0.0, 0.05]), np.array([263.15, 275.15, 300.0]), 45e5
    dose = system.inhibitor_dose("methanol", z, T=T, P=P)
    assert dose.moles[2] == 0.0
    for t, moles in zip(T[:2], dose.moles[:2], strict=True):
        feed = z.copy()
        feed[2] = moles
        assert system.hydrate(feed / feed.sum(), P=P).T == pytest.approx(t, abs=1e-3)
    # Nielsen and Bucklin, Hydrocarbon Process. 62(4) (1983) 71-78: 72 K ln(1/(1 - x)), x the mole fraction of methanol in the water
    lower, w = system.hydrate(z, P=P).T - T[1], dose.in_water[1]
    x = (w / 32.04) / (w / 32.04 + (1.0 - w) / 18.015)
    assert -72.0 * np.log(1.0 - x) == pytest.approx(lower, rel=0.15)
    balance = dose.moles[0] * 32.04 / (0.05 * 18.015)
    assert dose.mass_of_water[0] == pytest.approx(balance, rel=1e-3)
    for wrong, words in (("methane", "makes hydrates itself"), ("water", "makes hydrates itself"), ("ethanol", "ethanol")):
        with pytest.raises(sl.SleetfieldError, match=words):
            system.inhibitor_dose(wrong, z, T=275.0, P=P)
    told = run(
        "inhibitor-dose",
        "0.90 methane + 0.05 propane + 0.05 water + 0 methanol",
        "--of",
        "methanol",
        "--eos",
        "CPA",
        "--T",
        "2degC",
        "--P",
        "45bar",
    )
    assert "kg per" in told
    assert f"{dose.mass_of_water[1]:.4g}" in told


# mass percent, and by how many K ice melts lower: CRC Handbook, Section 8
SALTS = {"sodium chloride": [(5, 3.05), (10, 6.57), (15, 10.89)], "potassium chloride": [(5, 2.32), (10, 4.80)], "calcium chloride": [(5, 2.38), (10, 5.86)],
         "magnesium chloride": [(5, 3.01), (10, 7.80)]}  # fmt: skip
# osmotic coefficients at 25 °C: Robinson and Stokes, Electrolyte Solutions, 2nd ed., Butterworths (1959), Appendix 8.10
OSMOTIC = {"sodium chloride": {0.1: 0.932, 1.0: 0.936, 2.0: 0.983, 4.0: 1.116, 6.0: 1.271}, "potassium chloride": {0.1: 0.927, 1.0: 0.897, 2.0: 0.912, 4.0: 0.965},
           "calcium chloride": {0.1: 0.854, 1.0: 1.046, 2.0: 1.376}, "magnesium chloride": {0.1: 0.861, 1.0: 1.108, 2.0: 1.523}, "sodium sulfate": {0.1: 0.793, 1.0: 0.642}}  # fmt: skip


@pytest.mark.parametrize("salt", list(OSMOTIC))
def test_osmotic_coefficients_are_those_that_are_tabulated(salt):
    for m, phi in OSMOTIC[salt].items():
        brine = brine_of({salt: m})
        ions = 2 if salt in ("sodium chloride", "potassium chloride") else 3
        assert -brine.ln_activity / (ions * m * 0.0180153) == pytest.approx(phi, rel=0.01)


@pytest.mark.parametrize("salt", list(SALTS))
def test_salts_keep_water_from_freezing(salt):
    """With parameters of 25 °C, within 8 %."""
    water = sl.System(["water"], eos="CPA")
    for percent, lower in SALTS[salt]:
        assert 273.15 - water.freezing([1.0], P="1 atm", brine={salt: f"{percent} %"}).T == pytest.approx(lower, rel=0.08)


def test_salts_keep_hydrates_away_as_they_do_ice():
    """By the same activity of water: what a depression of ice is, is that of a hydrate times the ratio of their slopes."""
    system = gas_and_water("methane")
    fresh, salt = (system.hydrate([0.5, 0.5], P=60e5, brine=b).T for b in (None, {"NaCl": "10 %"}))
    a_w = np.exp(brine_of({"sodium chloride": "10 %"}).ln_activity)
    # 54.2 kJ for each methane and 5.99 water (Handa): the heat for each mole of water
    assert fresh - salt == pytest.approx(-np.log(a_w) * R * fresh * salt / (54190.0 / 5.99), rel=0.1)
    for wrong, words in (
        ({"sugar": "3 %"}, "no salt"),
        ("salt", "one salt"),
        ({"NaCl": "90 %"}, "between 0 and 60"),
        ({"NaCl": 1.0, "KCl": 1.0}, "one salt"),
    ):
        with pytest.raises(sl.InputError, match=words):
            system.hydrate([0.5, 0.5], P=60e5, brine=wrong)
    with pytest.raises(sl.InputError, match="Put water"):
        sl.System(["benzene"], eos="PR").freezing([1.0], P=1e5, brine={"NaCl": "3 %"})
    strong = system.hydrate([0.5, 0.5], P=60e5, brine={"KCl": 6.0})
    assert any("up to 4.8" in note for note in strong.notes)


@pytest.mark.parametrize(("z", "T"), [([0.85, 0.05, 0.10], 280.0), ([0.085, 0.005, 0.91], 278.0), ([0.5, 0.2, 0.3], 265.0)])
def test_what_a_hydrate_leaves_begins_to_form_it_there(z, T):
    system, P = gas_and_water("methane", "propane"), 40e5
    found = system.hydrate_amount(z, T=T, P=P)
    assert (found.moles >= 0.0).all()
    assert (found.moles <= z).all()
    left = z - found.moles[0]
    point = system.hydrate(left / left.sum(), P=P)
    assert point.T == pytest.approx(T, abs=1e-4)
    assert point.solid == found.solids[0]
    np.testing.assert_allclose(found.moles[0] / found.moles.sum(), point.x, atol=1e-7)
    # and none above the temperature at which the feed begins to form it
    assert system.hydrate_amount(z, T=system.hydrate(z, P=P).T + 0.01, P=P).fraction[0] == 0.0


def test_amounts_of_random_gases():
    assert not troubles(amounts.look, 25)


def test_amounts_from_the_command_line():
    told = run("hydrate-amount", "0.85 methane + 0.05 propane + 0.10 water", "--eos", "SRK", "--T", "5degC, 25degC", "--P", "40bar")
    assert "hydrate II" in told
    assert "fraction" in told
