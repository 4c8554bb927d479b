"""Water with gases and hydrocarbons by Peng and Robinson's equation: what dissolves in the water, and water in the rest."""

import numpy as np
import pytest

import sleetfield as sl

# Henry's constants at 298.15 K, GPa: tables of the IAPWS guideline G7-04 (Fernández-Prini, Alvarez and Harvey, 2003), kH of Table 4 as ln(kH/GPa) at 300 K
LN_KH_300 = {"hydrogen": 1.9702, "nitrogen": 2.1716, "oxygen": 1.5024, "carbon monoxide": 1.7652, "carbon dioxide": -1.7508,
             "hydrogen sulfide": -2.8784, "methane": 1.4034, "ethane": 1.1418, "argon": 1.4061, "krypton": 0.8210, "xenon": 0.2792,
             "helium": 2.6576}  # fmt: skip
# vapor pressures of water, Pa: International Steam Tables (IAPWS-IF97 verification and table values)
STEAM = {298.15: 3169.9, 323.15: 12352.0, 373.15: 101418.0, 423.15: 476160.0, 473.15: 1.5549e6, 573.15: 8.5879e6}


@pytest.mark.parametrize("T", list(STEAM))
def test_the_vapor_pressure_of_water_is_that_of_the_steam_tables(T):
    system = sl.System(["water", "nitrogen"], eos="PR")
    assert system.bubble([1.0, 0.0], T=T).P == pytest.approx(STEAM[T], rel=0.005)


@pytest.mark.parametrize("gas", list(LN_KH_300))
def test_gases_dissolve_in_water_as_measured(gas):
    system = sl.System(["water", gas], eos="PR")
    x = 1e-8
    P = system.bubble([1.0 - x, x], T=300.0).P
    fugacity = system.phase_model.at(np.array([300.0]), np.array([P])).ln_phi(np.array([[1.0 - x, x]]), 1)[0, 1] + np.log(P)
    assert fugacity - np.log(1e9) == pytest.approx(LN_KH_300[gas], abs=0.05)


# at 323.2 K: Bamberger, Sieder and Maurer, J. Supercrit. Fluids 17 (2000) 97-110
CARBON_DIOXIDE = [(4.05e6, 0.0109), (5.06e6, 0.0137), (10.09e6, 0.0205), (14.11e6, 0.0217)]
"""Pressure, Pa, and mole fraction in the water."""


@pytest.mark.parametrize(("P", "x"), CARBON_DIOXIDE)
def test_carbon_dioxide_under_pressure(P, x):
    state = sl.System(["water", "carbon dioxide"], eos="PR").flash([0.9, 0.1], T=323.2, P=P)
    water = max(state.phases, key=lambda phase: phase.composition["water"])
    assert water.composition["carbon dioxide"] == pytest.approx(x, rel=0.07)


HYDROCARBONS = [
    ("n-hexane", 2.05e-6, 5.3e-4),
    ("benzene", 4.1e-4, 2.73e-3),
    ("toluene", 1.04e-4, 1.71e-3),
    ("n-pentane", 9.7e-6, 4.7e-4),
]
"""Mole fractions at 298.15 K in water, and of water."""


@pytest.mark.parametrize(("name", "in_water", "of_water"), HYDROCARBONS)
def test_hydrocarbons_and_water_dissolve_little_in_each_other(name, in_water, of_water):
    state = sl.System(["water", name], eos="PR").flash([0.5, 0.5], T=298.15, P="2 bar")
    other, water = sorted(state.phases, key=lambda phase: phase.composition["water"])
    assert [other.kind, water.kind] == ["liquid", "liquid"]
    assert water.composition[name] == pytest.approx(in_water, rel=0.1)
    assert other.composition["water"] == pytest.approx(of_water, rel=0.25)


def test_a_component_in_two_halves_is_the_same():
    def half(name):
        c = sl.databank().find("methane")
        return sl.Component(name=name, Tc=c.Tc, Pc=c.Pc, omega=c.omega, molar_mass=c.molar_mass)

    whole = sl.System(["water", "methane"], eos="PR").phase_model
    model = sl.System(["water", "methane", half("other")], eos="PR").phase_model
    rows = whole.in_water.coefficients
    halves = type(model)(
        model.Tc, model.Pc, model.omega, np.array([[0, 0.485, 0.485], [0.485, 0, 0], [0.485, 0, 0]]), alpha=model.alpha,
        in_water=type(whole.in_water)(0, rows[[0, 1, 1]]),
    )  # fmt: skip
    T, P, x = np.array([310.0, 450.0]), np.array([5e6, 2e7]), np.array([[0.7, 0.3], [0.95, 0.05]])
    split = np.stack([x[:, 0], 0.4 * x[:, 1], 0.6 * x[:, 1]], axis=1)
    np.testing.assert_allclose(halves.at(T, P).ln_phi(split)[:, :2], whole.at(T, P).ln_phi(x), rtol=1e-10)


def test_a_number_that_is_given_holds_throughout():
    plain = sl.System(["water", "carbon dioxide"], eos="PR", kij={("water", "carbon dioxide"): 0.19})
    assert plain.phase_model.in_water is None
    assert plain.flash([0.9, 0.1], T=313.15, P=5e6).phases[-1].composition["carbon dioxide"] < 1e-3
    assert sl.System(["water", "carbon dioxide"], eos="PR", kij="zero").phase_model.in_water is None


def test_what_one_parameter_cannot_do_is_said():
    notes = sl.System(["water", "carbon dioxide"], eos="SRK").notes
    assert any("One interaction parameter cannot serve" in note and "carbon dioxide" in note for note in notes)
    notes = sl.System(["water", "carbon dioxide"], eos="PR").notes
    assert any("goes from its value in phases without water" in note for note in notes)


def test_hot_water_and_gas_are_one_phase():
    system = sl.System(["water", "nitrogen", "methane", "carbon dioxide"], eos="PR")
    rng = np.random.default_rng(5)
    z = rng.dirichlet(np.ones(4), 300)
    states = system.flash(z, T=rng.uniform(720.0, 1500.0, 300), P=10.0 ** rng.uniform(5.0, 7.6, 300))
    assert (states.n_phases == 1).all()


@pytest.mark.parametrize("absent", [["water"], ["water", "nitrogen"], ["carbon dioxide", "water", "hydrogen sulfide"]])
@pytest.mark.parametrize("eos", ["PR", "SRK"])
def test_phases_beside_absent_components_are_as_stable_as_without_them(eos, absent):
    """What a trial phase has of a component that is absent must not hide that it is the other phase again."""
    names = ["methane", "propane", "n-decane"]
    rng = np.random.default_rng(len(absent))
    z = np.vstack([[0.5, 0.3, 0.2], rng.dirichlet(np.ones(3), 60)])
    T, P = np.append(320.0, rng.uniform(260.0, 480.0, 60)), np.append(1e5, 10.0 ** rng.uniform(4.5, 7.3, 60))
    alone = sl.System(names, eos=eos).flash(z, T=T, P=P)
    beside = sl.System([*names, *absent], eos=eos).flash(np.hstack([z, np.zeros((61, len(absent)))]), T=T, P=P)
    assert (alone.n_phases == 2).sum() > 20
    np.testing.assert_array_equal(beside.n_phases, alone.n_phases)
    np.testing.assert_allclose(beside.vapor_fraction, alone.vapor_fraction, atol=1e-7)
    np.testing.assert_allclose(beside.result.tm, alone.result.tm, atol=1e-11)
