"""Calculations through `System`: answers, batches, notes, identities, and wrong specifications."""

import pickle
import warnings

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.core.constants import R
from sleetfield.core.correlations.vapor_pressure import Antoine

GAS = sl.System(["nitrogen", "methane", "propane", "n-heptane"], eos="PR", kij={("nitrogen", "methane"): 0.031})
Z = {"nitrogen": 0.02, "methane": 0.70, "propane": 0.20, "n-heptane": "rest"}
BROTH = sl.System(["acetone", "1-butanol", "water"], liquid="ideal", vapor="ideal")


def component(name, A, B, C):
    return sl.Component(
        name=name,
        Tc=550.0,
        Pc=50e5,
        omega=0.33,
        molar_mass=0.05,
        vapor_pressure=Antoine((A + np.log(1e3), B, C - 273.15), 250.0, 500.0),
    )


def test_acetonitrile_and_nitromethane_by_raoult():
    """Smith, Van Ness and Abbott, 7th ed. (2005), Example 10.1, with its Antoine constants (kPa, °C)."""
    pair = sl.System(
        [component("acetonitrile (1)", 14.2724, 2945.47, 224.00), component("nitromethane (2)", 14.2043, 2972.64, 209.00)],
        liquid="ideal",
    )
    bubble = pair.bubble([0.6, 0.4], T="75 degC")
    assert bubble.P / 1e3 == pytest.approx(66.72, abs=0.01)
    assert bubble.y[0] == pytest.approx(0.7483, abs=1e-4)
    dew = pair.dew([0.6, 0.4], T="75 degC")
    assert dew.P / 1e3 == pytest.approx(59.74, abs=0.01)
    assert dew.x[0] == pytest.approx(0.6 * 59.74 / 83.21, abs=1e-4)
    assert pair.bubble([0.6, 0.4], P="70 kPa").T - 273.15 == pytest.approx(76.42, abs=0.01)
    assert pair.dew([0.6, 0.4], P="70 kPa").T - 273.15 == pytest.approx(79.58, abs=0.01)


def test_three_component_flash_by_raoult():
    """Smith, Van Ness and Abbott, 7th ed. (2005), Example 10.5: acetone, acetonitrile, nitromethane at 80 °C and 110 kPa."""
    p_sat = (195.75, 97.84, 50.32)
    parts = [component(name, np.log(p), 0.0, 300.0) for name, p in zip("abc", p_sat, strict=True)]
    state = sl.System(parts, liquid="ideal").flash([0.45, 0.35, 0.20], T="80 degC", P="110 kPa")
    assert state.vapor_fraction == pytest.approx(0.7364, abs=2e-4)  # the book iterates with K rounded to four digits
    vapor, liquid = state.phases
    np.testing.assert_allclose(list(vapor.composition.values()), [0.5087, 0.3389, 0.1524], atol=1e-4)
    np.testing.assert_allclose(list(liquid.composition.values()), [0.2859, 0.3810, 0.3331], atol=1e-4)


def test_flash_by_hand():
    state = GAS.flash(Z, T="-20 degC", P="20 bar", flow="120 kmol/h")
    assert [p.kind for p in state.phases] == ["vapor", "liquid"]
    assert sum(p.fraction for p in state.phases) == pytest.approx(1.0)
    assert sum(p.flow for p in state.phases) == pytest.approx(state.flow)
    for name in GAS.names:
        f = [p.composition[name] * np.exp(p.ln_phi[name]) for p in state.phases]
        assert f[0] == pytest.approx(f[1], rel=1e-9)
    assert state.H == pytest.approx(sum(p.fraction * p.H for p in state.phases), rel=1e-12)
    assert 1.0 / state.density == pytest.approx(
        sum(p.fraction * p.molar_mass / p.density for p in state.phases) / (GAS.molar_mass @ state.z), rel=1e-12
    )


@pytest.mark.parametrize("system", [GAS, BROTH, sl.System(["carbon dioxide", "water", "acetone"], eos="SRK")])
def test_thermodynamic_identities(system):
    """Cp = ∂H/∂T, Cp/T = ∂S/∂T, and at constant T: (∂S/∂P) = -∂V/∂T for equations of state."""
    c = len(system)
    z, h = np.full(c, 1.0 / c), 1e-3
    for T, P in ((310.0, 1e4), (300.0, 5e6), (340.0, 2e5)):
        states = [system.flash(z, T=T + d, P=P) for d in (-h, 0.0, h)]
        if any(s.n_phases != 1 for s in states):
            continue
        low, mid, high = states
        assert (high.H - low.H) / (2 * h) == pytest.approx(mid.Cp, rel=1e-5)
        assert (high.S - low.S) / (2 * h) == pytest.approx(mid.Cp / T, rel=1e-5)
        if system.eos:
            up, down = (system.flash(z, T=T, P=P * (1 + s)) for s in (1e-5, -1e-5))
            slope = (high.molar_volume - low.molar_volume) / (2 * h)
            assert (up.S - down.S) / (2e-5 * P) == pytest.approx(-slope, rel=1e-4)


def test_phases_at_equilibrium_have_equal_chemical_potentials():
    """Σ x (Δμ) = 0 the long way: G of each phase from H and S, against the feed's share of it."""
    bubble = BROTH.bubble([0.4, 0.3, 0.3], P="1 atm")
    liquid = BROTH.flash(bubble.x, T=bubble.T - 1e-6, P=bubble.P)
    vapor = BROTH.flash(bubble.y, T=bubble.T + 1e-6 * 0 + 1e-9, P=bubble.P * (1 - 1e-9))
    assert liquid.n_phases == 1
    assert vapor.n_phases in (1, 2)
    # enthalpy of vaporization of the mixture is positive and of the right size
    assert 25e3 < vapor.phases[0].H - liquid.H < 60e3


def test_zero_of_enthalpy_and_entropy():
    for name in ("methane", "acetone", "water"):
        state = sl.System([name], eos="PR").flash([1.0], T=298.15, P=1.0)
        assert abs(state.H) < 0.1
        assert state.S + R * np.log(1.0 / 1e5) == pytest.approx(0.0, abs=1e-3)


def test_batches_have_shapes_and_single_states():
    batch = GAS.flash(Z, T=[240.0, 260.0, 280.0], P="20 bar")
    assert len(batch) == 3
    assert batch.n_phases.tolist() == [2, 2, 2]
    assert batch[1].vapor_fraction == pytest.approx(GAS.flash(Z, T=260.0, P=20e5).vapor_fraction, rel=1e-10)
    assert batch[-1].T == 280.0
    assert [s.T for s in batch] == [240.0, 260.0, 280.0]
    many_feeds = GAS.flash({"methane": [0.9, 0.8], "propane": "rest"}, T=220.0, P=20e5)
    assert many_feeds.z.shape == (2, 4)
    points = GAS.dew(Z, P=[5e5, 10e5, 1e9])
    assert np.isfinite(points.T[:2]).all()
    assert np.isnan(points.T[2])
    assert any("Point 2" in note and "no dew point" in note for note in points.notes)
    with pytest.raises(IndexError):
        batch[3]


def test_second_dew_point_is_found_and_noted():
    dew = GAS.dew(Z, T=400.0)
    pressures = [s.P for s in dew.all]
    assert len(pressures) == 2
    assert pressures[0] < pressures[1]
    assert pressures[0] == pytest.approx(dew.P, rel=1e-8)
    assert any("second dew point" in note for note in dew.notes)
    inside = GAS.flash(Z, T=400.0, P=0.5 * sum(pressures))
    assert inside.n_phases == 2
    for P in (pressures[0] * 0.99, pressures[1] * 1.01):
        assert GAS.flash(Z, T=400.0, P=P).n_phases == 1


def test_above_the_cricondentherm_there_is_none_and_it_is_said():
    envelope = GAS.envelope(Z)
    with pytest.raises(sl.CalculationError, match="no dew point at 410 K"):
        GAS.dew(Z, T=410.0)
    assert envelope.cricondentherm.T < 410.0
    with pytest.raises(ArithmeticError, match="were found from"):
        GAS.bubble(Z, T=600.0)


def test_close_to_the_critical_point_saturation_is_still_found():
    critical = GAS.critical(Z)
    for offset in (1e-2, 1e-3, 1e-4, 1e-5, 1e-6):
        bubble, dew = GAS.bubble(Z, T=critical.T * (1 - offset)), GAS.dew(Z, T=critical.T * (1 + offset)).all[-1]
        for point in (bubble, dew):
            assert point.P == pytest.approx(critical.P, rel=max(2.0 * offset, 1e-8))
            np.testing.assert_allclose(point.incipient, point.z, rtol=10.0 * offset)
    methane = sl.System(["methane"], eos="PR")
    assert methane.bubble([1.0], T=190.559).P == pytest.approx(45.99e5, rel=1e-3)
    assert methane.dew([1.0], P=45.98e5).T == pytest.approx(190.56, rel=1e-3)


def test_envelope():
    envelope = GAS.envelope(Z, quality=[0.5, 0.9])
    assert envelope.closed
    assert [b.kind for b in envelope.branches] == ["dew", "bubble"]
    (critical,) = envelope.critical_points
    direct = GAS.critical(Z)
    assert (critical.T, critical.P) == (pytest.approx(direct.T, rel=1e-6), pytest.approx(direct.P, rel=1e-6))
    assert critical.stable
    assert envelope.cricondenbar.P >= critical.P
    assert set(envelope.quality_lines) == {0.5, 0.9}
    frame = envelope.to_frame(units="metric")
    assert set(frame["line"]) == {"dew", "bubble", "quality"}
    assert (frame["vapor molar_volume [m3/kmol]"] >= frame["liquid molar_volume [m3/kmol]"] - 1e-12).all()
    assert any("Retrograde" in note for note in envelope.notes)


def test_envelope_of_one_component_is_its_vapor_pressure_curve():
    envelope = sl.System(["propane"], eos="PR").envelope([1.0])
    assert envelope.cricondentherm == (pytest.approx(369.83, rel=1e-6), pytest.approx(42.48e5, rel=1e-6))
    pair = sl.System(["propane", "methane"], eos="PR").envelope({"propane": 1.0})
    assert pair.critical_points[0].T == pytest.approx(369.83, rel=1e-6)


def test_envelope_of_an_ideal_mixture_is_open():
    envelope = BROTH.envelope([0.3, 0.3, 0.4], quality=[0.5])
    assert {b.kind for b in envelope.branches} == {"dew", "bubble"}
    assert envelope.critical_points == ()
    assert envelope.cricondentherm is None
    assert any("open" in note for note in envelope.notes)
    with pytest.raises(sl.CalculationError, match="no critical points"):
        BROTH.critical([0.3, 0.3, 0.4])


def test_envelope_that_ends_in_a_second_liquid_says_so():
    """Methane with n-hexane below the critical temperature of methane splits into two liquids."""
    notes = sl.System(["methane", "n-hexane"], eos="PR").envelope([0.97, 0.03]).notes
    assert any("second liquid" in note for note in notes)


def test_stability():
    splits, stays = (GAS.stability(Z, T=T, P="20 bar") for T in (250.0, 450.0))
    assert not splits.stable
    assert splits.tangent_plane_distance < -1.0
    assert sum(splits.trial.values()) == pytest.approx(1.0)
    assert stays.stable
    assert "not stable" in str(splits)


def test_three_phases():
    wet = sl.System(
        ["methane", "n-hexane", "water"],
        eos="PR",
        kij={("methane", "water"): 0.5, ("n-hexane", "water"): 0.5, ("methane", "n-hexane"): 0.0},
    )
    state = wet.flash([0.4, 0.3, 0.3], T=300.0, P=10e5)
    assert [p.kind for p in state.phases] == ["vapor", "liquid", "liquid"]
    assert not any("further phase" in note for note in state.notes)
    assert "second liquid" in str(state)
    vapor, oil, water = (np.array(list(p.composition.values())) for p in state.phases)
    assert vapor[0] > 0.9
    assert oil[1] > 0.8
    assert water[2] > 0.999
    np.testing.assert_allclose(sum(p.fraction * np.array(list(p.composition.values())) for p in state.phases), state.z, atol=1e-12)
    ln_f = [[np.log(p.composition[n]) + p.ln_phi[n] for n in wet.names] for p in state.phases]
    assert np.ptp(ln_f, axis=0).max() < 1e-10
    table = wet.table([0.4, 0.3, 0.3], T=[300.0, 310.0, 500.0], P=[10e5], properties=["n_phases", "fraction", "composition"])
    assert table["phases"].tolist() == [3, 3, 1]
    assert table["second liquid x water"].iloc[0] == pytest.approx(water[2], rel=1e-9)
    assert np.isnan(table["second liquid x water"].iloc[2])


def test_table():
    frame = GAS.table(Z, T=["-20 degC", "20 degC"], P=[5e5, 20e5, 60e5], units="metric")
    assert len(frame) == 6
    assert frame["T [degC]"].tolist() == pytest.approx([-20.0] * 3 + [20.0] * 3)
    for heading in (
        "P [bar]",
        "phases",
        "vapor_fraction",
        "H [kJ/kmol]",
        "vapor density [kg/m3]",
        "liquid x propane",
        "vapor y methane",
    ):
        assert heading in frame.columns
    assert frame.attrs["notes"] == GAS.flash(Z, T=[253.15] * 6, P=20e5).notes
    everything = GAS.table(Z, T=[250.0], P=[20e5], properties=["fraction", "molar_mass", "molar_volume", "ln_phi", "Cp"])
    assert np.isfinite(everything.to_numpy(dtype=float)).all()
    with pytest.raises(sl.InputError, match="no property 'colour'"):
        GAS.table(Z, T=[250.0], P=[20e5], properties=["colour"])


def test_notes_of_one_state():
    notes = GAS.flash(Z, T=250.0, P=20e5).notes
    assert any(
        "taken as zero for" in note for note in sl.System(["methane", "acetone"], eos="PR").flash([0.5, 0.5], T=250.0, P=20e5).notes
    )
    assert not any("taken as zero" in note for note in notes)
    vapor = GAS.flash(Z, T=450.0, P=20e5).notes
    assert any("above the dew point at this pressure" in note for note in vapor)
    liquid = GAS.flash(Z, T=120.0, P=100e5).notes
    assert any("below the bubble point" in note for note in liquid)
    assert any("outside its range" in note for note in liquid)
    dense = GAS.flash(Z, T=300.0, P=400e5).notes
    assert any("above the two-phase region" in note for note in dense)


def test_nothing_to_say_is_an_empty_list():
    state = sl.System(["methane", "propane"], eos="PR", kij={("methane", "propane"): 0.014}).flash([0.5, 0.5], T=250.0, P=20e5)
    assert state.notes == []


def test_estimated_vapor_pressures_are_marked():
    assert any(
        "isopropyl chloride" in n and "Estimated" in n for n in sl.System(["isopropyl chloride", "acetone"], liquid="ideal").notes
    )


def test_results_print_and_show_in_notebooks():
    results = [
        GAS.flash(Z, T=250.0, P=20e5), GAS.flash(Z, T=[250.0, 260.0], P=20e5), GAS.dew(Z, P=20e5), GAS.bubble(Z, P=[20e5, 30e5]),
        GAS.critical(Z), GAS.envelope(Z), GAS.stability(Z, T=250.0, P=20e5),
    ]  # fmt: skip
    for result in results:
        assert "methane" in str(result)
        assert "<table" in result._repr_html_()
        assert len(result.to_frame()) > 0
        assert isinstance(result.notes, list)
        with pytest.raises(AttributeError):
            result.system = None


def test_kij_changes_the_answer_and_takes_either_order():
    plain = sl.System(["nitrogen", "methane"], eos="PR").bubble([0.1, 0.9], T=120.0).P
    one, other = (
        sl.System(["nitrogen", "methane"], eos="PR", kij={pair: 0.031}).bubble([0.1, 0.9], T=120.0).P
        for pair in (("nitrogen", "methane"), ("CH4", "N2"))
    )
    assert one == other != plain


@pytest.mark.parametrize(
    ("arguments", "error", "message"),
    [((["methane", "methan"],), LookupError, "methane"), ((["methane", "CH4"],), ValueError, "twice"), (([],), ValueError, "at least one"),
     (("methane",), ValueError, "list of names"), ((["C4H10", "methane"],), LookupError, "isobutane")],
)  # fmt: skip
def test_wrong_components(arguments, error, message):
    with pytest.raises(error, match=message) as caught:
        sl.System(*arguments, eos="PR")
    assert isinstance(caught.value, sl.SleetfieldError)


@pytest.mark.parametrize(
    ("options", "message"),
    [({}, "Name one model"), ({"eos": "PR", "liquid": "ideal"}, "Name one model"), ({"eos": "XYZ"}, "PR, PR78, SRK, RK"), ({"liquid": "magic"}, "no liquid"),
     ({"eos": "PR", "vapor": "ideal"}, "vapor too"), ({"liquid": "ideal", "kij": {("methane", "propane"): 0.1}}, "equation of state"),
     ({"eos": "PR", "kij": {("methane", "methane"): 0.1}}, "one component twice"), ({"eos": "PR", "kij": {"methane": 0.1}}, "pairs"),
     ({"eos": "PR", "kij": {("methane", "propane"): float("nan")}}, "finite"),
     ({"eos": "PR", "kij": {("methane", "propane"): 0.1, ("propane", "methane"): 0.2}}, "twice")],
)  # fmt: skip
def test_wrong_models(options, message):
    with pytest.raises(sl.InputError, match=message):
        sl.System(["methane", "propane"], **options)


@pytest.mark.parametrize(
    ("call", "message"),
    [(lambda: GAS.flash(Z, T=300.0), "two of T, P"), (lambda: GAS.flash(Z), "got none"), (lambda: GAS.dew(Z, T=300.0, P=1e5), "one of T and P"),
     (lambda: GAS.bubble(Z), "one of T and P"), (lambda: GAS.flash(Z, T=-5.0, P=1e5), "positive"), (lambda: GAS.flash(Z, T=300.0, P=0.0), "positive"),
     (lambda: GAS.flash(Z, T=float("nan"), P=1e5), "positive and finite"), (lambda: GAS.flash(Z, T="3 bar", P=1e5), "not a temperature"),
     (lambda: GAS.flash(Z, T=[300.0, 310.0], P=[1e5, 2e5, 3e5]), "do not fit"), (lambda: GAS.flash(Z, T=300.0, P=1e5, flow=-1.0), "flows"),
     (lambda: GAS.envelope(Z, quality=[1.5]), "between 0 and 1"), (lambda: GAS.envelope(Z, P_min=2e7, P_max=1e7), "below P_max"),
     (lambda: GAS.envelope({"methane": [0.5, 0.6], "propane": "rest"}), "one composition"), (lambda: GAS.flash(Z, T="warm", P=1e5), "number"),
     (lambda: GAS.flash(Z, T=object(), P=1e5), "no number")],
)  # fmt: skip
def test_wrong_specifications(call, message):
    with pytest.raises(sl.InputError, match=message):
        call()


def test_a_thousand_random_flashes():
    """A small, seeded part of ``make fuzz``: nothing fails, nothing is NaN, balances hold, no warning escapes."""
    rng = np.random.default_rng(2024)
    names = [c.name for c in sl.databank() if c.heat_capacity is not None]
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        for _ in range(25):
            count = int(rng.integers(2, 13))
            system = sl.System([str(n) for n in rng.choice(names, count, replace=False)], eos=str(rng.choice(["PR", "SRK"])))
            z = rng.dirichlet(np.full(count, 0.5), size=40)
            states = system.flash(z, T=rng.uniform(150.0, 600.0, 40), P=1e5 * 10 ** rng.uniform(-1.0, 2.477, 40))
            assert states.result.converged.all()
            assert np.isfinite(np.array([states.H, states.S, states.Cp, states.density, states.vapor_fraction])).all()
            np.testing.assert_allclose(
                np.nansum(states.fractions[:, :, None] * states.of_phases("composition"), axis=1), z, atol=1e-12
            )


def test_a_large_batch_is_the_same_in_blocks_and_in_processes():
    from concurrent.futures import ProcessPoolExecutor, ThreadPoolExecutor

    rng = np.random.default_rng(9)
    z = rng.dirichlet(np.ones(4), size=9000)
    T, P = rng.uniform(200.0, 400.0, 9000), 10 ** rng.uniform(5.0, 7.0, 9000)
    whole = GAS.flash(z, T=T, P=P)
    part = GAS.flash(z[4096:8192], T=T[4096:8192], P=P[4096:8192])
    np.testing.assert_array_equal(whole.vapor_fraction[4096:8192], part.vapor_fraction)
    for kind in (ThreadPoolExecutor, ProcessPoolExecutor):
        with kind(2) as executor:
            other = GAS.flash(z, T=T, P=P, executor=executor)
        np.testing.assert_array_equal(whole.vapor_fraction, other.vapor_fraction)
        np.testing.assert_array_equal(whole.H, other.H)


# ---- feeds by flow, phases on their way, names that people use ----


def test_flows_by_component_are_a_feed_in_every_call():
    gas = sl.System(["methane", "propane", "n-heptane"], eos="PR")
    flows = {"methane": "70 kmol/h", "propane": "20 kmol/h", "n-heptane": "1.00205 t/h"}
    state = gas.flash(flows, T=253.15, P=20e5)
    assert state.flow == pytest.approx(100.0 / 3.6, rel=1e-6)
    assert state.vapor_fraction == pytest.approx(gas.flash([0.7, 0.2, 0.1], T=253.15, P=20e5).vapor_fraction, rel=1e-5)
    assert gas.dew(flows, P=20e5).T == pytest.approx(gas.dew([0.7, 0.2, 0.1], P=20e5).T, rel=1e-6)
    assert gas.critical(flows).T == pytest.approx(gas.critical([0.7, 0.2, 0.1]).T, rel=1e-5)
    with pytest.raises(sl.InputError, match="by component already"):
        gas.flash(flows, T=253.15, P=20e5, flow="5 t/h")
    with pytest.raises(sl.InputError, match="not negative"):
        gas.flash({"methane": "-1 kmol/h"}, T=253.15, P=20e5)
    with pytest.raises(sl.InputError, match="stands twice"):
        gas.flash({"methane": "1 kmol/h", "CH4": "1 kmol/h"}, T=253.15, P=20e5)


def test_a_phase_goes_on_alone():
    gas = sl.System(["methane", "propane", "n-heptane"], eos="PR", units="metric")
    state = gas.flash([0.7, 0.2, 0.1], T=253.15, P=20e5, flow="100 kmol/h")
    liquid = state.phases[1]
    for name in gas.names:
        i = gas.names.index(name)
        assert sum(p.flows[name] for p in state.phases) == pytest.approx(state.z[i] * state.flow, rel=1e-9)
    again = gas.flash(**liquid.feed, T=state.T, P=state.P)
    assert again.flow == liquid.flow
    throttled = liquid.to(P=2e5, duty=0)
    assert throttled.duty == 0.0
    assert throttled.H == pytest.approx(liquid.H, rel=1e-7)
    assert "The duty is 0 kW" in throttled.in_short()
    assert state.to_frame().loc["flow propane [kmol/h]", "overall"] == pytest.approx(20.0)
    assert "flow propane" not in str(state)
    assert pickle.loads(pickle.dumps(liquid)).to(P=2e5, duty=0).T == throttled.T
    assert gas.flash([0.7, 0.2, 0.1], T=253.15, P=20e5).phases[0].flows is None


def test_models_by_the_names_that_people_use():
    for name, title in (("Peng-Robinson", "PR"), ("Soave-Redlich-Kwong", "SRK"), ("redlich-kwong", "RK")):
        assert sl.System(["methane"], eos=name).model_title == title
    assert sl.System(["benzene", "toluene"], liquid="Raoult").model_title == "ideal liquid and vapor"


def test_other_names_of_quantities_are_answered_with_those_here():
    state = sl.System(["methane"], eos="PR").flash([1.0], T=300.0, P=1e5)
    with pytest.raises(sl.InputError, match="vapor_fraction, or duty"):
        state.to(P=1e5, Q=0)
    with pytest.raises(sl.InputError, match="vapor_fraction"):
        state.system.flash([1.0], P=1e5, Q=0)
