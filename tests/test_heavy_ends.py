"""Pseudo-components and plus fractions."""

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.core.estimates import petroleum, plus_fraction
from sleetfield.core.estimates.acentric_factor import ambrose_walton, lee_kesler

# specific gravity, 60 °F/60 °F: n-alkanes and aromatics that the methods were fitted to must come out again
GRAVITY = {
    "n-hexane": 0.664,
    "n-heptane": 0.688,
    "n-octane": 0.707,
    "n-decane": 0.734,
    "n-hexadecane": 0.777,
    "benzene": 0.884,
    "toluene": 0.874,
}


@pytest.mark.parametrize("name", list(GRAVITY))
@pytest.mark.parametrize(("method", "tolerance"), [("Riazi-Daubert", 0.045), ("Kesler-Lee", 0.085), ("Twu", 0.035)])
def test_methods_give_back_pure_hydrocarbons(name, method, tolerance):
    pure = sl.databank().find(name)
    cut = sl.pseudo_component("cut", Tb=pure.Tb, specific_gravity=GRAVITY[name], method=method)
    assert cut.Tc == pytest.approx(pure.Tc, rel=0.015)
    assert cut.Pc == pytest.approx(pure.Pc, rel=0.06)
    assert cut.molar_mass == pytest.approx(pure.molar_mass, rel=tolerance)
    assert cut.omega == pytest.approx(pure.omega, abs=0.06)  # 5 % in Pc alone is 0.02, and 1 % in Tc 0.07


@pytest.mark.parametrize("name", ["n-hexane", "n-heptane", "n-octane", "n-decane", "toluene", "n-hexadecane"])
def test_estimated_heat_capacity_and_acentric_factor(name):
    pure = sl.databank().find(name)
    cut = sl.pseudo_component("cut", Tb=pure.Tb, specific_gravity=GRAVITY[name])
    for T in (300.0, 500.0, 700.0):
        own, estimated = (c.heat_capacity.value(np.array([T]))[0] / c.molar_mass for c in (pure, cut))
        assert estimated == pytest.approx(own, rel=0.06)
    constants = [np.array([v]) for v in (pure.Tb, pure.Tc, pure.Pc)]
    assert lee_kesler(*constants)[0] == pytest.approx(pure.omega, abs=0.006)
    assert ambrose_walton(*constants)[0] == pytest.approx(pure.omega, abs=0.015)


def test_any_two_of_three():
    first = sl.pseudo_component("cut", Tb="150 degC", specific_gravity=0.77)
    again = sl.pseudo_component("cut", Tb=first.Tb, molar_mass=first.molar_mass)
    assert again.Tc == pytest.approx(first.Tc, rel=1e-8)
    third = sl.pseudo_component("cut", molar_mass="120 g/mol", specific_gravity=0.77)
    assert third.molar_mass == pytest.approx(0.120)
    assert third.Tb == pytest.approx(float(petroleum.boiling_point(np.array(0.120), np.array(0.77))))
    assert all("estimated" in source or source == "given" for source in third.sources.values())


def test_a_pseudo_component_boils_at_its_boiling_point():
    cut = sl.pseudo_component("cut", Tb=420.0, specific_gravity=0.78)
    raoult = sl.System([cut], liquid="ideal").bubble([1.0], P="1 atm").T
    assert raoult == pytest.approx(420.0, rel=1e-3)
    assert sl.System([cut], eos="PR").bubble([1.0], P="1 atm").T == pytest.approx(420.0, rel=0.01)


@pytest.mark.parametrize(
    ("given", "message"),
    [({"Tb": 400.0}, "two of"), ({"Tb": 400.0, "specific_gravity": 0.8, "molar_mass": 0.1}, "two of"), ({"Tb": -4.0, "specific_gravity": 0.8}, "lies between|positive"),
     ({"Tb": 400.0, "specific_gravity": 0.8, "method": "Guess"}, "Riazi-Daubert, Kesler-Lee, Twu"), ({"Tb": 400.0, "molar_mass": 0.9}, "No specific gravity"),
     ({"Tb": "3 bar", "specific_gravity": 0.8}, "temperature")],
)  # fmt: skip
def test_wrong_cuts(given, message):
    with pytest.raises(sl.InputError, match=message):
        sl.pseudo_component("cut", **given)


def test_methods_side_by_side():
    frame = sl.compare_methods(Tb=450.0, specific_gravity=0.80)
    assert list(frame.columns) == ["Riazi-Daubert", "Kesler-Lee", "Twu"]
    spread = frame.loc["Tc [K]"].max() / frame.loc["Tc [K]"].min()
    assert 1.0 < spread < 1.02


@pytest.mark.parametrize("distribution", ["exponential", "gamma"])
@pytest.mark.parametrize("count", [1, 2, 3, 7, None])
def test_splitting_and_lumping_keep_moles_mass_and_volume(distribution, count):
    plus = sl.split_plus_fraction(molar_mass="150 g/mol", specific_gravity=0.80, amount=0.03, distribution=distribution)
    plus = plus if count is None else plus.lump(count)
    if count:
        assert len(plus) == count
    assert sum(plus.fractions.values()) == pytest.approx(0.03, rel=1e-12)
    mass = plus.share * plus.molar_mass
    assert mass.sum() == pytest.approx(0.150, rel=1e-9)
    assert mass.sum() / (mass / plus.specific_gravity).sum() == pytest.approx(0.80, rel=1e-9)
    assert (np.diff(plus.molar_mass) > 0.0).all()
    assert (np.diff([c.Tb for c in plus.components]) > 0.0).all()


def test_lumps_have_nearly_equal_mass():
    plus = sl.split_plus_fraction(molar_mass=0.160, specific_gravity=0.80, last=60).lump(4)
    mass = plus.share * plus.molar_mass
    assert mass.max() / mass.min() < 1.6


def test_gamma_of_shape_one_is_exponential_in_molar_mass():
    found = plus_fraction.gamma(0.150, 7, 60)
    inner = found.share[2:20]
    np.testing.assert_allclose(inner[1:] / inner[:-1], inner[1] / inner[0], rtol=1e-9)


def test_a_gas_with_a_split_tail():
    tail = sl.split_plus_fraction(molar_mass="125 g/mol", specific_gravity=0.76, amount=0.004)
    temperatures = []
    for cuts in (tail.lump(1), tail.lump(3), tail.lump(6), tail):
        gas = sl.System(["methane", "propane", *cuts.components], eos="PR")
        temperatures.append(gas.dew({"methane": "rest", "propane": 0.05, **cuts.fractions}, P="45 bar").T)
    # heavier ends raise the dew point, and ever finer cuts change it ever less
    assert temperatures == sorted(temperatures)
    assert temperatures[2] - temperatures[1] < temperatures[1] - temperatures[0]


def test_plus_fraction_shows_itself(tmp_path):
    plus = sl.split_plus_fraction(molar_mass="230 g/mol", specific_gravity=0.84, amount=0.2, last=45)
    assert "C45" in str(plus)
    assert any("exceeded by" in note for note in plus.notes)
    assert "g/mol" in plus.plot().get_xlabel()
    assert sl.save(plus, tmp_path / "plus.png").exists()
    assert sl.save(plus, tmp_path / "plus.csv").exists()


@pytest.mark.parametrize(
    ("given", "message"),
    [({"molar_mass": "60 g/mol"}, "between 94"), ({"molar_mass": "60 g/mol", "distribution": "gamma"}, "above 88"), ({"amount": 0.0}, "amount"),
     ({"distribution": "normal"}, "exponential, gamma"), ({"first": 9, "last": 8}, "Carbon numbers"), ({"alpha": -1.0}, "alpha"), ({"specific_gravity": 0.0}, "lies between|positive")],
)  # fmt: skip
def test_wrong_plus_fractions(given, message):
    with pytest.raises(sl.InputError, match=message):
        sl.split_plus_fraction(**{"molar_mass": 0.15, "specific_gravity": 0.8, **given})


def test_wrong_lumping():
    with pytest.raises(sl.InputError, match="1 to 34"):
        sl.split_plus_fraction(molar_mass=0.15, specific_gravity=0.8).lump(50)
