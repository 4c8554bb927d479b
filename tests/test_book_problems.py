"""What problems in textbooks give: K-values, γ alone, second virial coefficients, equations without a range, flows in volumes, air."""

import numpy as np
import pytest

import sleetfield as sl

from .commands import run

BUTANES = {"propane": 2.4, "n-butane": 0.9, "n-pentane": 0.35}


# ---- K-values ----


def test_given_k_values_split_a_feed_by_rachford_and_rice():
    """Balances, equilibrium, both sides of both boundaries, and amounts that go smoothly through them."""
    drum = sl.KValues(BUTANES)
    found = drum.flash([0.3, 0.4, 0.3], flow="100 kmol/h")
    assert found.y == pytest.approx(drum.K * found.x, rel=1e-12)
    assert found.vapor_fraction * found.y + (1.0 - found.vapor_fraction) * found.x == pytest.approx(found.z, rel=1e-12)
    assert found.to_frame("metric")["vapor flow [kmol/h]"].sum() == pytest.approx(100.0 * found.vapor_fraction, rel=1e-12)
    for scale, vapor in ((0.5, 0.0), (4.0, 1.0)):
        one = sl.KValues({name: scale * K for name, K in BUTANES.items()})
        single = one.flash([0.3, 0.4, 0.3])
        assert single.vapor_fraction == vapor
        assert single.x.sum() == pytest.approx(1.0)
        assert single.y.sum() == pytest.approx(1.0)
        assert "One phase" in single.title()
    edge = 1.0 / drum.bubble_sum([0.3, 0.4, 0.3])
    for aside, least, most in ((1.0 - 1e-7, 0.0, 0.0), (1.0 + 1e-7, 1e-9, 1e-5)):
        near = sl.KValues({name: edge * aside * K for name, K in BUTANES.items()}).flash([0.3, 0.4, 0.3])
        assert least <= near.vapor_fraction <= most


def test_given_k_values_agree_with_a_model_that_has_them():
    gas = sl.System(["propane", "n-butane", "n-pentane"], eos="PR")
    state = gas.flash([0.3, 0.4, 0.3], T="40 degC", P="4 bar")
    found = sl.KValues(state.phases[1].K).flash({"n-butane": 0.4, "propane": 0.3, "n-pentane": "rest"})
    assert found.vapor_fraction == pytest.approx(state.vapor_fraction, rel=1e-9)


def test_random_k_values_always_balance():
    rng = np.random.default_rng(4)
    for _ in range(2000):
        n = rng.integers(1, 8)
        names = [f"c{i}" for i in range(n)]
        z = rng.dirichlet(np.full(n, 0.4))
        z[rng.random(n) < 0.1] = 0.0
        if not z.sum():
            continue
        z /= z.sum()
        found = sl.KValues(dict(zip(names, np.exp(rng.normal(0.0, 3.0, n)), strict=True))).flash(z)
        beta = found.vapor_fraction
        assert 0.0 <= beta <= 1.0
        if 0.0 < beta < 1.0:
            assert beta * found.y + (1.0 - beta) * found.x == pytest.approx(z, abs=1e-12)


@pytest.mark.parametrize(
    ("call", "words"),
    [
        (lambda: sl.KValues({}), "no K-value"),
        (lambda: sl.KValues({"a": -1.0}), "positive"),
        (lambda: sl.KValues({"a": "x"}), "numbers"),
        (lambda: sl.KValues(BUTANES).flash({"water": 1.0}), "no K-value here"),
        (lambda: sl.KValues(BUTANES).flash([[0.3, 0.4, 0.3]] * 2), "one feed at a time"),
        (lambda: sl.KValues(BUTANES).flash([0.3, 0.4]), "3 components"),
    ],
)
def test_wrong_k_values_are_refused(call, words):
    with pytest.raises(sl.SleetfieldError, match=words):
        call()


def test_the_command_splits_by_k_values():
    options = [part for name, K in BUTANES.items() for part in ("--K", f"{name} = {K}")]
    out = run("k-values", "0.3 propane + 0.4 n-butane + rest n-pentane", *options, "--flow", "100 kmol/h")
    assert "0.325184 of the moles are vapor" in out
    assert "67.4816 kmol/h of liquid" in out
    assert "not understood" in run("k-values", "0.3 propane + rest n-butane", "--K", "propane: 3", status=2)


# ---- liquids by γ alone ----


def test_liquids_need_no_vapor_pressures():
    """Components of which nothing is known but a name; and those of the bank split as they do beside a vapor."""
    pair = {("oil", "brine"): sl.PairParameters(a12=2.5, a21=3.0, alpha=0.2)}
    system = sl.System([sl.Component("oil"), sl.Component("brine")], liquid="NRTL", vapor="none", parameters=pair)
    split = system.liquid_split([0.4, 0.6], T=300.0)
    first, second = (np.array(list(p.composition.values())) for p in split.state.phases)
    gammas = system.excess([first, second], T=300.0).gamma
    assert first * gammas[0] == pytest.approx(second * gammas[1], rel=1e-8)
    names = ["acetone", "1-butanol", "water"]
    alone, beside = (sl.System(names, liquid="NRTL", vapor=vapor) for vapor in ("none", "ideal"))
    z = [0.02, 0.24, 0.74]
    assert alone.liquid_split(z, T=303.0).distribution == pytest.approx(beside.liquid_split(z, T=303.0).distribution, rel=1e-9)
    assert alone.flash(z, T=303.0, P=1e5).n_phases == 2
    assert alone.liquid_map(T=303.0).plait_points[0] == pytest.approx(beside.liquid_map(T=303.0).plait_points[0], rel=1e-8)
    assert np.isnan(alone.flash(z, T=303.0, P=1e5).H)
    assert sl.System.from_dict(alone.to_dict()).model_title == "NRTL liquid, no vapor"
    for call in (
        lambda: alone.bubble(z, T=303.0),
        lambda: alone.envelope(z),
        lambda: alone.azeotropes(P=1e5),
        alone.boiling_map,
        lambda: alone.flash(z, P=1e5, vapor_fraction=0.5),
        lambda: alone.diagram("Txy", "1-butanol", "water", P=1e5),
    ):
        with pytest.raises(sl.InputError, match="vapor='none'"):
            call()


# ---- second virial coefficients ----


def test_second_virial_coefficients_that_are_given_are_taken():
    """Z of the pure vapor is 1 + BP/RT with that B, the rest stays correlated, and derivatives agree with differences."""
    names = ["ethanol", "water"]
    B = {("ethanol", "ethanol"): "-1500 cm3/mol", ("ethanol", "water"): (-9e-4, -2e-3)}
    own = sl.System(names, liquid="NRTL", vapor="virial", virial=B)
    plain = sl.System(names, liquid="NRTL", vapor="virial")
    T, P = 400.0, 1e5
    assert own.flash([1.0, 0.0], T=T, P=P).phases[0].Z == pytest.approx(1.0 - 1.5e-3 * P / (8.31446261815324 * T), rel=1e-12)
    assert own.flash([0.0, 1.0], T=T, P=P).phases[0].Z == plain.flash([0.0, 1.0], T=T, P=P).phases[0].Z
    found, slope, bend = own.phase_model.vapor.coefficients(np.array([T - 0.01, T, T + 0.01]))
    assert found[1, 0, 1] == found[1, 1, 0] == pytest.approx(-9e-4 - 2e-3 * (298.15 / T - 1.0))
    assert slope[1] == pytest.approx((found[2] - found[0]) / 0.02, rel=1e-6)
    assert bend[1] == pytest.approx((found[2] - 2.0 * found[1] + found[0]) / 1e-4, rel=2e-2, abs=1e-12)
    assert own.part(["ethanol"]).flash([1.0], T=T, P=P).phases[0].Z == own.flash([1.0, 0.0], T=T, P=P).phases[0].Z
    assert sl.System.from_dict(own.to_dict()).flash([0.5, 0.5], T=T, P=P).H == own.flash([0.5, 0.5], T=T, P=P).H
    assert "B ethanol / ethanol" in own.parameters.names
    with pytest.raises(sl.InputError, match="can't be"):
        sl.System(names, liquid="NRTL", vapor="virial", virial={("ethanol", "ethanol"): -1500.0})
    with pytest.raises(sl.InputError, match="virial"):
        sl.System(names, liquid="NRTL", virial=B)


def test_a_virial_coefficient_on_the_command_line():
    out = run("flash", "ethanol", "--liquid", "ideal", "--vapor", "virial", "--virial", "ethanol / ethanol = -1500 cm3/mol", "--T", "400 K", "--P", "1 bar", "--json")  # fmt: skip
    assert '"B ethanol / ethanol": -0.0015' in out


# ---- Henry's constants of some pairs ----


def test_a_gas_dissolves_in_a_solvent_without_a_constant_as_in_the_others():
    names = ["hydrogen", "water", "ethanol"]
    some = sl.System(names, liquid="NRTL", henry={("hydrogen", "water"): "70000 bar"})
    whole = sl.System(names, liquid="NRTL", henry={("hydrogen", "water"): "70000 bar", ("hydrogen", "ethanol"): "70000 bar"})
    z = [0.1, 0.5, 0.4]
    assert some.flash(z, T=300.0, P=1e6).vapor_fraction == whole.flash(z, T=300.0, P=1e6).vapor_fraction
    assert any("hydrogen in ethanol is not known" in note for note in some.notes)
    assert not any("not known" in note for note in whole.notes)


# ---- constants in one call ----


def test_an_antoine_equation_without_a_range_says_what_it_takes():
    with pytest.warns(sl.SleetfieldWarning, match="No range was given"):
        curve = sl.antoine(8.07131, 1730.63, 233.426)
    assert np.exp(curve.value(np.array([curve.T_min, curve.T_max]))) == pytest.approx([100.0, 1e6], rel=1e-9)
    for wrong in ((8.07, 1730.0, -300.0), (80.7, 1730.0, 233.0), (8.07, 1.73, 233.0)):
        with pytest.raises(sl.InputError, match="check the unit"):
            sl.antoine(*wrong, T_min="1 degC", T_max="100 degC")


def test_a_heat_capacity_in_any_of_the_usual_forms_is_the_same():
    T = np.array([300.0, 700.0])
    plain = sl.heat_capacity([19.25, 5.213e-2, 1.197e-5, -1.132e-8], T_min=273.0, T_max=1473.0)
    calories = sl.heat_capacity([c / 4.184 for c in (19.25, 5.213e-2, 1.197e-5, -1.132e-8)], unit="cal/(mol K)", T_min=273.0, T_max=1473.0)  # fmt: skip
    thousands = sl.heat_capacity([19.25, 52.13, 11.97, -11.32], per_kelvin=1e-3, T_min=273.0, T_max=1473.0)
    over_R = sl.heat_capacity([c / 8.31446261815324 for c in (19.25, 5.213e-2, 1.197e-5, -1.132e-8)], unit="R", T_min=273.0, T_max=1473.0)  # fmt: skip
    for other in (calories, thousands, over_R):
        assert other.value(T) == pytest.approx(plain.value(T), rel=1e-12)
    methane = sl.Component("my methane", Tc=190.6, Pc=45.99e5, omega=0.012, molar_mass=0.01604, heat_capacity=plain)
    state = sl.System([methane], eos="PR").flash([1.0], T=300.0, P=1e3)
    assert state.Cp == pytest.approx(float(plain.value(np.array([300.0]))[0]), rel=1e-3)
    with pytest.warns(sl.SleetfieldWarning, match="250.0 to 1000.0 K"):
        sl.heat_capacity([30.0])
    for wrong, words in (({"coefficients": [-5.0]}, "check the coefficients"), ({"coefficients": [30.0], "unit": "Btu"}, "no unit"), ({"coefficients": []}, "1 to 8")):  # fmt: skip
        with pytest.raises(sl.InputError, match=words):
            sl.heat_capacity(**wrong, T_min=300.0, T_max=400.0)


# ---- properties, machines, flows ----


def test_residual_properties_are_what_is_left_of_the_ideal_gas():
    """Hᴿ - T Sᴿ = RT Σ x ln φ; the enthalpy less Hᴿ doesn't depend on pressure; none at low pressure."""
    gas = sl.System(["methane", "propane"], eos="SRK")
    low, high = (gas.flash([0.8, 0.2], T=300.0, P=P).phases[0] for P in (10.0, 60e5))
    ln_phi, x = (np.array(list(d.values())) for d in (high.ln_phi, high.composition))
    assert high.G_residual == pytest.approx(8.31446261815324 * 300.0 * (x * ln_phi).sum(), rel=1e-12)
    assert high.H - high.H_residual == pytest.approx(low.H - low.H_residual, rel=1e-12)
    assert abs(low.H_residual) < 1e-2
    table = gas.table([0.8, 0.2], T=300.0, P=[1e5, 60e5], properties=["H_residual", "S_residual"])
    assert table["vapor S_residual [J/(mol K)]"].iloc[1] == pytest.approx(high.S_residual)


def test_efficiencies_of_compressors_and_expanders():
    gas = sl.System(["methane", "propane"], eos="PR").flash([0.8, 0.2], T=300.0, P="60 bar", flow="100 kmol/h")
    for P, exponent in (("120 bar", -1.0), ("20 bar", 1.0)):
        ideal, real = (gas.to(P=P, S=gas.S, efficiency=e) for e in (1.0, 0.75))
        assert ideal.S == pytest.approx(gas.S, rel=1e-9)
        assert real.duty == pytest.approx(ideal.duty * 0.75**exponent, rel=1e-7)
        assert real.S > gas.S
    out = run("flash", "0.8 methane + rest propane", "--T", "300 K", "--P", "60 bar", "--flow", "100 kmol/h", "--to", "P=20 bar, S=same, efficiency=0.75")  # fmt: skip
    assert float(out.split("duty [kW]")[1].split()[0]) == pytest.approx(real.duty / 1e3, rel=1e-4)
    assert "not understood" in run("flash", "methane", "--T", "300 K", "--P", "1 bar", "--to", "P=2 bar, eta=0.8", status=2)
    for wrong in ({"P": "20 bar"}, {"P": "20 bar", "T": 300.0}, {"S": gas.S}):
        with pytest.raises(sl.InputError, match="efficiency"):
            gas.to(efficiency=0.8, **wrong)
    for number in (0.0, 1.2, "0.8", True):
        with pytest.raises(sl.InputError, match="above 0"):
            gas.to(P="20 bar", S=gas.S, efficiency=number)


@pytest.mark.parametrize(("text", "cubic_metres"), [("500 acfm", 500 * 0.3048**3 / 60), ("10 gpm", 10 * 3.785411784e-3 / 60), ("1000 bbl/day", 158.987294928 / 86400), ("40 m3/h", 40 / 3600), ("40 m³/h", 40 / 3600)])  # fmt: skip
def test_flows_in_volumes_are_those_at_the_state(text, cubic_metres):
    gas = sl.System(["propane", "n-butane"], eos="PR")
    state = gas.flash([0.5, 0.5], T="20 degC", P="4 bar", flow=text)
    assert state.flow * state.molar_volume == pytest.approx(cubic_metres, rel=1e-9)
    batch = gas.flash([0.5, 0.5], T=[280.0, 290.0], P="4 bar", flow=text)
    assert batch.flow * batch.molar_volume == pytest.approx(cubic_metres, rel=1e-9)


def test_air_stands_for_its_components():
    moist = sl.System(["air", "water"], eos="PR")
    assert moist.names == ("nitrogen", "oxygen", "argon", "water")
    state = moist.flash({"air": 0.98, "water": 0.02}, T="25 degC", P="1 atm")
    assert state.z == pytest.approx([0.98 * 0.7812, 0.98 * 0.2096, 0.98 * 0.0092, 0.02])
    # molar mass of dry air, 28.96 g/mol
    assert moist.flash({"air": 1.0}, T=300.0, P=1e5).phases[0].molar_mass == pytest.approx(0.02896, abs=2e-5)
    assert "nitrogen + oxygen + argon + water" in run("flash", "0.98 air + rest water", "--T", "25 degC", "--P", "1 atm")
    flows = moist.flash({"air": "1 t/h", "water": "50 kg/h"}, T=300.0, P=1e5)
    assert flows.flow * flows.z @ moist.molar_mass * 3600.0 == pytest.approx(1050.0)
    assert flows.z[0] / flows.z[1] == pytest.approx(0.7812 / 0.2096)
    with pytest.raises(sl.InputError, match="nitrogen stands twice"):
        moist.flash({"air": "1 t/h", "nitrogen": "1 kg/h"}, T=300.0, P=1e5)
    with pytest.raises(sl.InputError, match="beside air"):
        moist.flash({"nitrogen": 0.5, "air": 0.5}, T=300.0, P=1e5)
    assert moist.flash({"water": 0.02, "air": "rest"}, T=300.0, P=1e5).z == pytest.approx(state.z)
    assert "nitrogen" in run("flash", "2 % water + rest air", "--T", "300 K", "--P", "1 bar")
    for wrong, words in (({"water": "rest", "air": "rest"}, "is a mixture"), ({"water": 1.5, "air": "rest"}, "Nothing is left"), ({"air": "much"}, "is a mixture")):  # fmt: skip
        with pytest.raises(sl.InputError, match=words):
            moist.flash(wrong, T=300.0, P=1e5)
