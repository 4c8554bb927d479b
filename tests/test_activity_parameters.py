"""Parameters of activity models: forms, checks, the bank, and what is shown of them."""

import math

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.data_sets.shipped import measured_azeotropes, measured_solubilities
from sleetfield.pairs.bank import published_parameters

R = 8.31446261815324
ETHANOL_WATER = ("ethanol", "water")


def gammas(pair, liquid="NRTL", names=ETHANOL_WATER, T=350.0):
    """γ∞ both ways with one set of parameters."""
    system = sl.System(list(names), liquid=liquid, parameters={names: pair})
    return tuple(float(g) for g in system.parameters.gamma_infinity(*names, T=T))


@pytest.mark.parametrize("liquid", ["NRTL", "UNIQUAC", "Wilson", "van Laar", "Margules"])
def test_energies_in_different_units_are_the_same_parameters(liquid):
    in_kelvin = gammas(sl.PairParameters(a12=150.0, a21=300.0, form="K"), liquid)
    assert gammas(sl.PairParameters(a12=150.0 * R, a21=300.0 * R, form="J/mol"), liquid) == pytest.approx(in_kelvin, rel=1e-12)
    assert gammas(sl.PairParameters(a12=150.0 * R / 4.184, a21=300.0 * R / 4.184, form="cal/mol"), liquid) == pytest.approx(
        in_kelvin
    )


def test_plain_parameters_and_energies_agree():
    assert gammas(sl.PairParameters(a12={"1/T": 200.0}, a21={"1/T": 500.0})) == pytest.approx(
        gammas(sl.PairParameters(a12=200.0, a21=500.0, form="K"))
    )


def test_energies_linear_in_celsius_are_the_same_in_kelvin():
    celsius = sl.PairParameters(a12=(100.0, 0.5, 0.001), a21=(300.0, -0.2), form="K", temperature="degC")
    t = 350.0 - 273.15
    constant = sl.PairParameters(a12=100.0 + 0.5 * t + 0.001 * t**2, a21=300.0 - 0.2 * t, form="K")
    assert gammas(celsius) == pytest.approx(gammas(constant), rel=1e-12)


def test_ratios_and_decimal_logarithms():
    ratio = gammas(sl.PairParameters(a12=0.2, a21=0.8, form="ratio"), "Wilson")
    assert ratio == pytest.approx((math.exp(-math.log(0.2) + 1 - 0.8), math.exp(-math.log(0.8) + 1 - 0.2)))
    decimal = gammas(sl.PairParameters(a12=0.7, a21=0.4, form="log10"), "van Laar")
    assert decimal == pytest.approx((10**0.7, 10**0.4))


def test_either_order_of_a_pair_is_the_same():
    forward = sl.PairParameters(a12=631.05, a21=1197.41, alpha=0.5343, form="cal/mol")
    backward = sl.PairParameters(a12=1197.41, a21=631.05, alpha=0.5343, form="cal/mol")
    one = sl.System(["acetone", "water"], liquid="NRTL", parameters={("acetone", "water"): forward})
    other = sl.System(["acetone", "water"], liquid="NRTL", parameters={("water", "acetone"): backward})
    third = sl.System(["water", "acetone"], liquid="NRTL", parameters={("acetone", "water"): forward})
    assert one.bubble([0.3, 0.7], P="1 atm").T == pytest.approx(other.bubble([0.3, 0.7], P="1 atm").T, rel=1e-12)
    assert one.bubble([0.3, 0.7], P="1 atm").T == pytest.approx(third.bubble([0.7, 0.3], P="1 atm").T, rel=1e-12)


def test_wilson_volumes_belong_to_the_pair():
    names = ("acetone", "water")
    own = gammas(
        sl.PairParameters(a12=291.27, a21=1448.01, form="cal/mol", volumes=("74.05 cm3/mol", "18.07 cm3/mol")), "Wilson", names
    )
    per = 4.184 / (R * 350.0)
    l12, l21 = 18.07 / 74.05 * math.exp(-291.27 * per), 74.05 / 18.07 * math.exp(-1448.01 * per)
    assert own == pytest.approx((math.exp(-math.log(l12) + 1 - l21), math.exp(-math.log(l21) + 1 - l12)), rel=1e-9)
    at_T = gammas(sl.PairParameters(a12=291.27, a21=1448.01, form="cal/mol", volumes="at T"), "Wilson", names)
    assert at_T == pytest.approx(own, rel=0.1)


def test_margules_and_its_expansion_agree():
    two = gammas(sl.PairParameters(a12=1.6022, a21=0.7947), "Margules")
    terms = sl.PairParameters(terms=[(1.6022 + 0.7947) / 2, (0.7947 - 1.6022) / 2])
    assert gammas(terms, "Redlich-Kister") == pytest.approx(two)
    assert two == pytest.approx((math.exp(1.6022), math.exp(0.7947)))
    longer = sl.System(
        ETHANOL_WATER, liquid="Redlich-Kister", parameters={("water", "ethanol"): sl.PairParameters(terms=[1.2, -0.3, 0.1])}
    )
    assert [float(g) for g in longer.parameters.gamma_infinity("water", "ethanol")] == pytest.approx(
        [math.exp(1.2 + 0.3 + 0.1), math.exp(1.2 - 0.3 + 0.1)]
    )


# ---- what was published along with them ----


def test_published_infinite_dilution_that_agrees_is_accepted():
    pair = sl.PairParameters(a12=325.0757, a21=953.2792, form="cal/mol", gamma_infinity=(350.0, 6.2, 2.7))
    assert gammas(pair, "Wilson")[0] == pytest.approx(6.17, rel=0.01)


@pytest.mark.parametrize(
    ("given", "hint"),
    [
        ({"a12": -109.6339, "a21": 1332.3119, "form": "J/mol"}, '"cal/mol"'),
        ({"a12": 1332.3119, "a21": -109.6339, "form": "cal/mol"}, "other order of the pair"),
        ({"a12": 109.6339, "a21": -1332.3119, "form": "cal/mol"}, "other sign"),
        ({"a12": -109.6339 * 4.184, "a21": 1332.3119 * 4.184, "form": "K"}, '"J/mol"'),
    ],
)
def test_a_wrong_sign_order_or_unit_is_named(given, hint):
    right = sl.PairParameters(a12=-109.6339, a21=1332.3119, alpha=0.3031, form="cal/mol")
    known = gammas(right)
    with pytest.raises(sl.InputError, match="do not give the published") as error:
        gammas(sl.PairParameters(**given, alpha=0.3031, gamma_infinity=(350.0, *known)))
    assert hint in str(error.value)


def test_a_decimal_logarithm_taken_for_a_natural_one_is_named():
    with pytest.raises(sl.InputError, match="log10"):
        gammas(sl.PairParameters(a12=0.7, a21=0.4, gamma_infinity=(350.0, 10**0.7, 10**0.4)), "van Laar")


def test_an_azeotrope_is_checked():
    right = {"a12": 325.0757, "a21": 953.2792, "azeotrope": ("78.2 degC", 0.89)}
    assert gammas(sl.PairParameters(**right, form="cal/mol"), "Wilson")[0] > 5.0
    with pytest.raises(sl.InputError, match='in the form "cal/mol"'):
        gammas(sl.PairParameters(**right, form="J/mol"), "Wilson")


# ---- bad input ----


@pytest.mark.parametrize(
    ("options", "message"),
    [
        ({"a12": 1.0, "a21": 1.0, "form": "kcal"}, "There is no form"),
        ({"a12": 1.0}, "both a12 and a21"),
        ({"a12": 1.0, "a21": 1.0, "temperature": "F"}, "'K' or 'degC'"),
        ({"a12": 1.0, "a21": 1.0, "T_min": 400.0, "T_max": 300.0}, "empty"),
        ({"a12": 1.0, "a21": 1.0, "volumes": "always"}, "two molar volumes"),
    ],
)
def test_bad_sets_are_refused(options, message):
    with pytest.raises(sl.InputError, match=message):
        sl.PairParameters(**options)


@pytest.mark.parametrize(
    ("liquid", "parameters", "message"),
    [
        ("NRTL", {ETHANOL_WATER: (1.0, 2.0)}, "so that it is clear what the numbers are"),
        ("NRTL", {ETHANOL_WATER: {"a12": 1.0, "a21": 2.0, "b12": 3.0}}, "no field 'b12'"),
        ("NRTL", {("ethanol", "ethanol"): {"a12": 1.0, "a21": 2.0}}, "twice"),
        ("NRTL", {"ethanol": {"a12": 1.0, "a21": 2.0}}, "mapping of pairs of names"),
        ("NRTL", {ETHANOL_WATER: {"a12": 1.0, "a21": float("nan")}}, "finite"),
        ("NRTL", {ETHANOL_WATER: {"a12": 1.0, "a21": 2.0}, ("water", "ethanol"): {"a12": 1.0, "a21": 2.0}}, "given twice"),
        ("van Laar", {ETHANOL_WATER: {"a12": 1.0, "a21": -2.0}}, "different signs"),
        ("Wilson", {ETHANOL_WATER: {"a12": -0.1, "a21": 2.0, "form": "ratio"}}, "positive"),
        ("NRTL", {ETHANOL_WATER: {"terms": [1.0, 2.0]}}, "not terms"),
        ("ideal", {ETHANOL_WATER: {"a12": 1.0, "a21": 2.0}}, "no binary parameters"),
        ("Wilsen", None, "There is no liquid"),
    ],
)
def test_bad_parameters_of_a_system_are_refused(liquid, parameters, message):
    with pytest.raises(sl.InputError, match=message):
        sl.System(list(ETHANOL_WATER), liquid=liquid, parameters=parameters).parameters  # noqa: B018


def test_an_equation_of_state_refuses_what_belongs_to_a_liquid():
    for options in (
        {"parameters": {ETHANOL_WATER: {"a12": 1.0, "a21": 1.0}}},
        {"poynting": True},
        {"henry": {("hydrogen", "water"): 1e9}},
    ):
        with pytest.raises(sl.InputError, match="activity model"):
            sl.System(["ethanol", "water", "hydrogen"], eos="PR", **options)


# ---- the bank ----


def test_the_bank_has_forty_binaries_with_sources_and_ranges():
    pairs, derived = set(), set()
    for model in ("Margules", "van Laar", "Wilson", "NRTL", "UNIQUAC"):
        for pair, sets in published_parameters(model).items():
            (derived if "derived" in sets[0].source else pairs).add(frozenset(pair))
            for one in sets:
                assert one.source
                assert one.T_min < one.T_max
    assert len(pairs) >= 40  # as published, without what was derived from a measured azeotrope or solubility
    assert len(derived - pairs) >= 17


def test_sets_of_one_pair_from_one_handbook_agree_with_each_other():
    """Margules', van Laar's and Wilson's parameters were fitted to the same data: their γ at the middle must be alike."""
    models = {name: published_parameters(name) for name in ("Margules", "van Laar", "Wilson")}
    compared = 0
    for pair, sets in models["van Laar"].items():
        if "derived" in sets[0].source or any(pair not in bank for bank in models.values()) or pair == ("water", "1-butanol"):
            continue
        T = 0.5 * (sets[0].T_min + sets[0].T_max)
        found = [sl.System(list(pair), liquid=name).excess([0.5, 0.5], T=T).G[0] / (R * T) for name in models]
        # Wilson's equation bends otherwise than the two where the deviations are large
        assert max(found) - min(found) < 0.03 + 0.05 * max(np.abs(found)), pair
        compared += 1
    assert compared >= 14


@pytest.mark.parametrize("model", ["van Laar", "Wilson", "NRTL", "UNIQUAC"])
def test_derived_sets_give_the_azeotropes_that_they_come_from(model):
    bank = published_parameters(model)
    compared = 0
    for az in measured_azeotropes():
        sets = bank.get((az.first, az.second))
        if az.liquids != 1 or sets is None or "azeotrope" not in sets[0].source:
            continue
        system = sl.System([az.first, az.second], liquid=model)
        m1, m2 = system.molar_mass
        x1 = az.mass_fraction / m1 / (az.mass_fraction / m1 + (1.0 - az.mass_fraction) / m2)
        point = system.bubble([x1, 1.0 - x1], P=az.P)
        assert point.T == pytest.approx(az.T, abs=0.02), az
        assert point.y[0] == pytest.approx(x1, abs=2e-4), az
        compared += 1
    assert compared >= 11


@pytest.mark.parametrize("model", ["van Laar", "Wilson", "NRTL", "UNIQUAC"])
def test_derived_sets_agree_with_published_ones_of_other_models_at_infinite_dilution(model):
    def at_infinite_dilution(liquid, pair, p):
        activity = sl.System(list(pair), liquid=liquid, parameters={pair: p}).excess([1e-8, 1.0 - 1e-8], T=345.0)
        return activity.gamma[0]

    others = {name: published_parameters(name) for name in ("Margules", "van Laar", "Wilson", "NRTL", "UNIQUAC")}
    for pair, sets in published_parameters(model).items():
        if "azeotrope" not in sets[0].source:
            continue
        for ordered, own in ((pair, sets[0]), (pair[::-1], sets[0].swapped())):
            known = []
            for name, bank in others.items():
                for key, turned in ((ordered, False), (ordered[::-1], True)):
                    for p in bank.get(key, ()):
                        if "derived" not in p.source:
                            known.append(at_infinite_dilution(name, ordered, p.swapped() if turned else p))
            if known:
                ratio = np.array(known) / at_infinite_dilution(model, ordered, own)
                assert np.exp(np.abs(np.log(ratio))).min() < 1.45, (model, ordered)


@pytest.mark.parametrize("model", ["van Laar", "Wilson", "NRTL", "UNIQUAC"])
def test_derived_sets_do_not_split_what_boils_as_one_liquid(model):
    """Over the range that is given for them, and at room temperature."""
    x = np.linspace(0.001, 0.999, 200)
    for pair, sets in published_parameters(model).items():
        if sets[0].source.startswith("derived") and "solubilities" not in sets[0].source:
            for T in (298.15, sets[0].T_min, sets[0].T_max):
                states = sl.System(list(pair), liquid=model).flash(np.stack([x, 1.0 - x], axis=1), T=T, P="60 bar")
                assert (states.n_phases == 1).all(), (model, pair, T)


@pytest.mark.parametrize(("model", "least"), [("van Laar", 3), ("Wilson", 0), ("NRTL", 3), ("UNIQUAC", 3)])
def test_sets_derived_from_another_model_are_near_it_and_boil_as_measured(model, least):
    """Within 10 % in every activity coefficient; the azeotrope, which they were not derived from, within 1.8 K and 0.045."""
    x = np.linspace(1e-6, 1.0 - 1e-6, 21)
    z = np.stack([x, 1.0 - x], axis=1)
    measured = {
        frozenset((az.first, az.second)): az for az in measured_azeotropes() if az.liquids == 1 and abs(az.P - 101325.0) < 1.0
    }
    compared = 0
    for pair, sets in published_parameters(model).items():
        one = sets[0]
        if not one.source.startswith("derived: the published "):
            continue
        origin = one.source.removeprefix("derived: the published ").split(" set")[0]
        T = 0.5 * (one.T_min + one.T_max)
        own, other = (sl.System(list(pair), liquid=name).excess(z, T=T).gamma for name in (model, origin))
        np.testing.assert_allclose(np.log(own), np.log(other), atol=0.1)
        assert _is_published(origin, *pair)
        az = measured.get(frozenset(pair))
        if az is not None and one.T_min - 5.0 <= az.T <= one.T_max + 5.0:
            system = sl.System(list(pair), liquid=model)
            m = dict(zip(pair, system.molar_mass, strict=True))
            moles = {az.first: az.mass_fraction / m[az.first], az.second: (1.0 - az.mass_fraction) / m[az.second]}
            found = list(system.azeotropes(P=az.P))
            assert found, (model, pair)
            assert found[0].T == pytest.approx(az.T, abs=1.8), (model, pair)
            assert found[0].composition[az.first] == pytest.approx(moles[az.first] / sum(moles.values()), abs=0.045), (model, pair)
            compared += 1
    assert compared >= least


def test_ethanol_in_water_by_uniquac_is_what_other_published_sets_have():
    """It was 15 from one azeotrope; Wilson's published set was not used for it."""
    own, wilson = (
        sl.System(["ethanol", "water"], liquid=m).excess([1e-8, 1.0 - 1e-8], T=355.0).gamma[0, 0] for m in ("UNIQUAC", "Wilson")
    )
    assert own == pytest.approx(wilson, rel=0.15)


def test_check_does_not_take_the_set_that_parameters_were_derived_from_for_a_confirmation():
    alone = sl.System(["acetone", "ethanol"], liquid="UNIQUAC").check(P="1 atm")
    assert [m for m in ("Margules", "van Laar", "Wilson", "NRTL") if _is_published(m, "acetone", "ethanol")] == ["Wilson"]
    assert any("nothing but their origin confirms" in f.text for f in alone.findings)
    several = sl.System(["ethanol", "water"], liquid="UNIQUAC").check(P="1 atm")
    assert not any("nothing but their origin confirms" in f.text for f in several.findings)


def _is_published(model, first, second):
    return any(
        "derived" not in p.source for key in ((first, second), (second, first)) for p in published_parameters(model).get(key, ())
    )


@pytest.mark.parametrize("model", ["NRTL", "UNIQUAC"])
def test_derived_sets_give_the_solubilities_that_they_come_from(model):
    for s in measured_solubilities():
        system = sl.System([s.first, s.second], liquid=model)
        m1, m2 = system.molar_mass
        rich = (1.0 - s.second_in_first) / m1 / ((1.0 - s.second_in_first) / m1 + s.second_in_first / m2)
        poor = s.first_in_second / m1 / (s.first_in_second / m1 + (1.0 - s.first_in_second) / m2)
        middle = 0.5 * (rich + poor)
        state = system.flash([middle, 1.0 - middle], T=s.T, P="1 bar", phases="LL")
        assert sorted(p.composition[s.first] for p in state.phases) == pytest.approx([poor, rich], rel=2e-3), s


def test_the_temperature_of_an_azeotrope_implies_its_composition():
    """An independent relation: by van Laar's equation with A₁₂/A₂₁ = v₁/v₂ one number is left, so that T alone gives x.

    Alcohols and water associate, which moves x by up to 0.17, always towards the other component.
    """
    for az in measured_azeotropes():
        if az.liquids != 1:
            continue
        one, two = (sl.databank().find(name) for name in (az.first, az.second))
        T, warm = np.array([az.T]), np.array([298.15])
        g1, g2 = (np.log(az.P) - float(c.vapor_pressure.value(T)[0]) for c in (one, two))
        v1, v2 = (1.0 / float(c.liquid_density.value(warm)[0]) for c in (one, two))
        assert g1 * g2 > 0.0, az  # both deviate to the same side
        first, second = math.sqrt(abs(g2) / v2), math.sqrt(abs(g1) / v1)  # as volume fractions: φ₂/φ₁ is second/first
        implied = first / v1 / (first / v1 + second / v2)
        m1, m2 = one.molar_mass, two.molar_mass
        x = az.mass_fraction / m1 / (az.mass_fraction / m1 + (1.0 - az.mass_fraction) / m2)
        assert implied == pytest.approx(x, abs=0.17), az


@pytest.mark.parametrize("model", ["NRTL", "UNIQUAC"])
def test_solubilities_and_azeotropes_with_water_confirm_each_other(model):
    """Sets from solubilities near 25 °C, measured without any boiling, give the azeotropes of the bank."""
    azeotropes = {frozenset({az.first, az.second}): az for az in measured_azeotropes()}
    for s in measured_solubilities():
        az = azeotropes[frozenset({s.first, s.second})]
        system = sl.System([s.first, s.second], liquid=model)
        (found,) = system.azeotropes(P=az.P)
        m1, m2 = system.molar_mass
        assert found.T == pytest.approx(az.T, abs=1.7), s
        assert found.x[0] * m1 / (found.x[0] * m1 + found.x[1] * m2) == pytest.approx(az.mass_fraction, abs=0.06), s
        assert az.liquids is None or found.heterogeneous == (az.liquids == 2)


def test_notes_speak_of_missing_pairs_ranges_and_limits():
    system = sl.System(["acetone", "ethylene glycol", "water"], liquid="NRTL")
    assert any("acetone - ethylene glycol" in n and "taken as ideal" in n for n in system.notes)
    state = system.flash([0.3, 0.3, 0.4], T=300.0, P="1 bar")
    assert any("outside their range" in n and "acetone - water" in n for n in state.notes)
    assert any("cannot describe two liquids" in n for n in sl.System(["ethanol", "water"], liquid="Wilson").notes)


def test_the_table_of_parameters_shows_what_was_given_and_what_it_comes_to():
    pair = sl.PairParameters(a12=325.0757, a21=953.2792, form="cal/mol", source="a paper", T_min="60 degC", T_max="90 degC")
    shown = sl.System(list(ETHANOL_WATER), liquid="Wilson", parameters={ETHANOL_WATER: pair}).parameters
    frame = shown.pairs_frame()
    assert frame.loc[0, "as given"] == "325.076, 953.279 (cal/mol)"
    assert frame.loc[0, "source"] == "a paper"
    assert frame.loc[0, "gamma first, infinite dilution"] == pytest.approx(6.1, rel=0.05)
    assert str(shown).count("325.076, 953.279 (cal/mol)") == 1
    with pytest.raises(sl.InputError, match="no activity model"):
        sl.System(list(ETHANOL_WATER), eos="PR").parameters.gamma_infinity(*ETHANOL_WATER)


# ---- Henry's law, vapors, pressure ----


def test_dissolved_gas_obeys_its_constant():
    system = sl.System(["carbon dioxide", "water"], liquid="NRTL", henry={("carbon dioxide", "water"): "1640 bar"})
    state = system.flash([0.3, 0.7], T=298.15, P="10 bar")
    vapor, liquid = state.phases
    assert liquid.composition["carbon dioxide"] * 1640.0 == pytest.approx(vapor.composition["carbon dioxide"] * 10.0, rel=0.01)


def test_henry_constant_depends_on_temperature():
    a, b = math.log(1640e5) + 2400.0 / 298.15, -2400.0
    system = sl.System(["carbon dioxide", "water"], liquid="ideal", henry={("carbon dioxide", "water"): {"1": a, "1/T": b}})
    cold, warm = (system.flash([0.2, 0.8], T=T, P="5 bar").phases[-1].composition["carbon dioxide"] for T in (283.15, 313.15))
    assert cold / warm == pytest.approx(math.exp(2400.0 * (1 / 283.15 - 1 / 313.15)), rel=0.05)
    with pytest.raises(sl.InputError, match="takes no parameters"):
        sl.System(
            ["hydrogen", "water"],
            liquid="NRTL",
            henry={("hydrogen", "water"): 7e9},
            parameters={("hydrogen", "water"): {"a12": 1.0, "a21": 1.0}},
        )


@pytest.mark.parametrize("vapor", ["virial", "PR", "SRK"])
def test_pure_liquids_boil_at_their_vapor_pressure_beside_any_vapor(vapor):
    system = sl.System(["acetone", "n-hexane"], liquid="NRTL", vapor=vapor, poynting=True)
    plain = sl.System(["acetone", "n-hexane"], liquid="NRTL")
    for z in ([1.0, 0.0], [0.0, 1.0]):
        assert system.bubble(z, T=330.0).P == pytest.approx(plain.bubble(z, T=330.0).P, rel=1e-9)
    mixed, ideal = system.bubble([0.5, 0.5], T=330.0).P, plain.bubble([0.5, 0.5], T=330.0).P
    assert mixed == pytest.approx(ideal, rel=0.05)
    assert mixed != pytest.approx(ideal, rel=1e-4)


def test_excess_properties_obey_gibbs_and_helmholtz():
    system = sl.System(["acetone", "water"], liquid="NRTL")
    T = np.array([320.0, 320.01, 319.99])
    e = system.excess([0.4, 0.6], T=T)
    assert e.G[0] == pytest.approx(e.H[0] - T[0] * e.S[0])
    slope = (e.G[1] / T[1] - e.G[2] / T[2]) / 0.02
    assert -(T[0] ** 2) * slope == pytest.approx(e.H[0], rel=1e-6)
    assert (e.H[1] - e.H[2]) / 0.02 == pytest.approx(e.Cp[0], rel=1e-5)
    assert "gamma acetone" in e.to_frame().columns


def test_a_set_that_was_derived_from_one_azeotrope_says_so_and_is_not_confirmed_by_it():
    system = sl.System(["acetone", "n-hexane"], liquid="NRTL")
    assert any("acetone - n-hexane were derived from one azeotrope" in note for note in system.notes)
    assert any("derived from one azeotrope" in note for note in system.flash([0.5, 0.5], T=320.0, P="1 atm").notes)
    findings = {f.about: f for f in system.check(T=323.0).findings}
    assert findings["origin"].doubtful
    assert "which the parameters were derived from" in findings["azeotrope"].text
    published = {f.about: f for f in sl.System(["ethanol", "water"], liquid="NRTL").check(T=351.0).findings}
    assert "origin" not in published
    assert "by Wilson" in published["other models"].text
    assert not published["other models"].doubtful


def test_check_marks_a_set_that_other_models_contradict():
    odd = sl.PairParameters(a12=600.0, a21=700.0, alpha=0.3, form="K")
    findings = {
        f.about: f
        for f in sl.System(["ethanol", "water"], liquid="NRTL", parameters={("ethanol", "water"): odd}).check(T=351.0).findings
    }
    assert findings["other models"].doubtful


# Margules' and Wilson's equations cannot follow strong deviations, and miss them in the middle; acetone with chloroform by NRTL is under suspicion
SETS_APART = {
    ("1-butanol", "water"), ("2-propanol", "water"), ("acetone", "chloroform"), ("acetone", "water"), ("benzene", "methanol"),
    ("ethanol", "n-hexane"), ("tetrahydrofuran", "water"),
}  # fmt: skip


def test_published_sets_of_one_source_agree_in_the_middle():
    found = {}
    for model in ("Margules", "van Laar", "Wilson", "NRTL", "UNIQUAC"):
        for pair, sets in published_parameters(model).items():
            for p in sets:
                if not p.source.startswith("derived"):
                    T = 0.5 * (p.T_min + p.T_max)
                    gamma = sl.System(list(pair), liquid=model, parameters={pair: p}).excess([0.5, 0.5], T=T).gamma
                    found.setdefault((tuple(sorted(pair)), p.source), []).append(0.5 * float(np.log(gamma).sum()))
    apart = set()
    for (pair, _), values in found.items():
        middle = np.median(values)
        if np.abs(np.array(values) - middle).max() > 0.005 + 0.02 * abs(middle):
            apart.add(pair)
            assert np.ptp(values) < 0.08, pair
    assert apart == SETS_APART
