"""Flashes at other quantities than T and P, and states brought to others: the way back must lead to the same state."""

import numpy as np
import pytest

import sleetfield as sl

NAMES = [c.name for c in sl.databank() if c.heat_capacity is not None]
GAS = sl.System(["methane", "propane", "n-heptane"], eos="PR", units="metric")
Z = [0.7, 0.2, 0.1]


def random_states(seed, eos, count=12):
    rng = np.random.default_rng(seed)
    size = int(rng.integers(1, 9))
    system = sl.System([str(n) for n in rng.choice(NAMES, size, replace=False)], eos=eos)
    z = rng.dirichlet(np.full(size, 0.7), size=count)
    z[::5] = np.where(z[::5] < 0.05, 0.0, z[::5])
    z /= z.sum(axis=1, keepdims=True)
    return system.flash(z, T=rng.uniform(180.0, 600.0, count), P=10 ** rng.uniform(4.0, 7.2, count))


@pytest.mark.parametrize("seed", range(5))
@pytest.mark.parametrize(("known", "name"), [("P", "H"), ("P", "S"), ("P", "U"), ("P", "V"), ("T", "V"), ("T", "S")])
def test_there_and_back(seed, known, name):
    """A state found at T and P, its property given with one of them, is found again."""
    states = random_states(seed, "PR" if seed % 2 else "SRK")
    sure = states.result.converged & states.result.stable
    values = {"H": states.H, "S": states.S, "U": states.H - states.P * states.molar_volume, "V": states.molar_volume}[name][sure]
    back = states.system.flash(states.z[sure], **{known: getattr(states, known)[sure], name: values})
    unknown = "T" if known == "P" else "P"
    # a liquid's volume hardly tells its pressure: measure the error in the property's own scale there
    stiff = 1e-7 if (unknown, name) != ("P", "V") else 1e-5
    np.testing.assert_allclose(getattr(back, unknown), getattr(states, unknown)[sure], rtol=stiff)
    np.testing.assert_allclose(back.vapor_fraction, states.vapor_fraction[sure], atol=1e-6)


@pytest.mark.parametrize("seed", range(12, 16))
@pytest.mark.parametrize("known", ["T", "P"])
def test_vapor_fractions(seed, known):
    """The state found has the vapor fraction asked for (there may be several such states: retrograde)."""
    states = random_states(seed, "PR")
    sure = states.result.converged & states.result.stable & (states.vapor_fraction > 1e-6) & (states.vapor_fraction < 1 - 1e-6)
    if not sure.any():
        pytest.skip("no two-phase state here")
    back = states.system.flash(
        states.z[sure], **{known: getattr(states, known)[sure], "vapor_fraction": states.vapor_fraction[sure]}
    )
    np.testing.assert_allclose(back.vapor_fraction, states.vapor_fraction[sure], atol=1e-9)
    again = states.system.flash(states.z[sure], T=back.T, P=back.P)
    same = again.result.stable & (again.n_phases == 2)
    np.testing.assert_allclose(again.vapor_fraction[same], back.vapor_fraction[same], atol=1e-6)


def test_bubble_and_dew_points_are_vapor_fractions_0_and_1():
    low, high = (GAS.flash(Z, P="20 bar", vapor_fraction=v) for v in (0, 1))
    assert low.T == pytest.approx(GAS.bubble(Z, P="20 bar").T, rel=1e-10)
    assert high.T == pytest.approx(GAS.dew(Z, P="20 bar").T, rel=1e-10)
    assert [p.fraction for p in low.phases] == [0.0, 1.0]
    np.testing.assert_allclose(list(high.phases[1].composition.values()), GAS.dew(Z, P="20 bar").incipient, rtol=1e-8)


@pytest.mark.parametrize("model", [{"eos": "PR"}, {"liquid": "ideal"}])
@pytest.mark.parametrize("share", [1e-6, 0.3, 0.999999])
def test_a_pure_component_between_liquid_and_vapor(model, share):
    """At one T and P its enthalpy, entropy and volume jump; every value between is a state of both phases."""
    system = sl.System(["propane"], **model)
    curve = system.saturation_curve(T=[280.0])
    P = float(curve.P[0])
    for name in "HSV":
        value = float(curve.liquid[name][0] + share * (curve.vapor[name][0] - curve.liquid[name][0]))
        state = system.flash([1.0], P=P, **{name: value})
        assert state.T == pytest.approx(280.0, rel=1e-9)
        assert state.vapor_fraction == pytest.approx(share, abs=1e-9)
    state = system.flash([1.0], T=280.0, V=value)
    assert state.P == pytest.approx(P, rel=1e-9)
    assert state.vapor_fraction == pytest.approx(share, abs=1e-9)
    assert system.flash([1.0], P=P, vapor_fraction=share).T == pytest.approx(280.0, rel=1e-9)


ALONE = {
    "equation": (["propane"], {"eos": "PR"}, 0, 2e5, 3e6),
    "beside absent ones": (["methane", "propane", "n-decane"], {"eos": "SRK"}, 1, 2e5, 3e6),
    "activities": (["ethanol", "water"], {"liquid": "NRTL"}, 0, 2e4, 6e5),
    "association": (["methanol"], {"eos": "CPA"}, 0, 2e4, 3e6),
    "reference": (["water"], {"eos": "reference"}, 0, 2e3, 1e7),
}


@pytest.mark.parametrize("name", ["H", "S", "U", "V", "vapor_fraction"])
@pytest.mark.parametrize("case", ALONE)
def test_one_component_on_both_sides_of_its_boiling(case, name):
    """By the rule of the lever between a liquid just colder and a vapor just hotter than the boiling temperature; beyond them there is one phase."""
    names, model, which, low, high = ALONE[case]
    system, z = sl.System(names, **model), np.eye(len(names))[which]
    rng = np.random.default_rng(len(case))
    P = np.exp(rng.uniform(np.log(low), np.log(high), 40))
    at = system.bubble(z, P=P)
    share = rng.uniform(-0.03, 1.2, 40) if name != "vapor_fraction" else np.concatenate([[0.0, 1.0], rng.random(38)])
    column = {"V": "molar_volume"}.get(name, name)
    liquid, vapor = (getattr(system.flash(z, T=at.T * (1.0 + off), P=P), column) for off in (-1e-9, 1e-9))
    target = liquid + share * (vapor - liquid)
    there = target > 0.0 if name == "V" else np.full(40, True)
    inside = ((share >= 0.0) & (share <= 1.0))[there]
    for known in ({"P": P[there]}, {"T": at.T[there]}):
        found = system.flash(z, **known, **{name: target[there]})
        np.testing.assert_allclose(found.T[inside], at.T[there][inside], rtol=1e-9)
        np.testing.assert_allclose(found.P[inside], P[there][inside], rtol=1e-8)
        np.testing.assert_allclose(found.vapor_fraction[inside], share[there][inside], atol=1e-6)
        if "P" in known:
            np.testing.assert_array_equal(found.vapor_fraction[~inside], np.clip(share[there], 0.0, 1.0)[~inside])
        assert ((found.vapor_fraction[inside] >= 0.0) & (found.vapor_fraction[inside] <= 1.0)).all()


def test_an_azeotrope():
    system = sl.System(["carbon dioxide", "ethane"], eos="PR", kij={("carbon dioxide", "ethane"): 0.13})
    x = np.linspace(0.5, 0.9, 401)
    at_bubble = system.bubble(np.stack([x, 1 - x], axis=1), T=250.0)
    best = int(np.argmax(at_bubble.P))
    z = [x[best], 1 - x[best]]
    low, high = (system.flash(z, P=at_bubble.P[best], vapor_fraction=v) for v in (0.0, 1.0))
    assert high.T - low.T < 1e-3
    middle = system.flash(z, P=at_bubble.P[best], H=0.5 * (low.H + high.H))
    assert low.T - 1e-6 <= middle.T <= high.T + 1e-6
    assert middle.vapor_fraction == pytest.approx(0.5, abs=0.01)


def test_next_to_the_critical_point():
    point = GAS.critical(Z)
    for dT, dP in ((1e-3, 1e-3), (-1e-3, -1e-3), (1e-4, -2e-3), (-1e-4, 1e-3)):
        state = GAS.flash(Z, T=point.T * (1 + dT), P=point.P * (1 + dP))
        for name, value in (("H", state.H), ("S", state.S), ("V", state.molar_volume)):
            assert GAS.flash(Z, P=state.P, **{name: value}).T == pytest.approx(state.T, rel=1e-7)


def test_a_vapor_fraction_that_falls_and_rises_with_temperature():
    system = sl.System(["carbon monoxide", "nitromethane"], eos="SRK")
    z, P = [0.47140254888017286, 0.5285974511198273], 208e5
    least = system.flash(z, T=380.0, P=P).vapor_fraction
    found = system.flash(z, P=P, vapor_fraction=least + 0.0015)
    assert found.vapor_fraction == pytest.approx(least + 0.0015, abs=1e-9)
    assert system.flash(z, T=found.T, P=P).vapor_fraction == pytest.approx(found.vapor_fraction, abs=1e-7)


def test_units_and_density():
    state = GAS.flash(Z, T="-20 degC", P="20 bar")
    again = GAS.flash(Z, P="20 bar", H=f"{state.H} kJ/kmol")
    assert again.T == pytest.approx(253.15, rel=1e-9)
    assert GAS.flash(Z, T="-20 degC", density=state.density).P == pytest.approx(20e5, rel=1e-9)


def test_a_feed_by_mass():
    state = GAS.flash(Z, T="30 degC", P="60 bar", flow="5 t/h")
    assert state.flow == pytest.approx(5000.0 / 3600.0 / float(np.array(Z) @ GAS.molar_mass), rel=1e-12)
    assert sum(p.flow * p.molar_mass for p in state.phases) == pytest.approx(5000.0 / 3600.0, rel=1e-10)
    frame = state.to_frame()
    assert frame.loc["mass flow [kg/h]", "overall"] == pytest.approx(5000.0)
    with pytest.raises(sl.InputError, match="not a molar flow"):
        GAS.flash(Z, T=300.0, P=1e5, flow="5 bar")


def test_cooling_heating_throttling_and_expanding():
    feed = GAS.flash(Z, T="30 degC", P="60 bar", flow="120 kmol/h")
    cooled = feed.to(T="-20 degC", P="58 bar")
    assert cooled.duty == pytest.approx((cooled.H - feed.H) * 120e3 / 3600.0, rel=1e-12)
    assert cooled.to(duty=-cooled.duty, P="60 bar").T == pytest.approx(feed.T, rel=1e-9)
    throttled = feed.to(P="5 bar", duty=0)
    assert abs(throttled.duty) < 1e-8 * abs(feed.H * feed.flow)
    assert throttled.T < feed.T
    expanded = feed.to(P="5 bar", S=feed.S)
    assert expanded.S == pytest.approx(feed.S, rel=1e-10)
    assert expanded.T < throttled.T
    assert feed.to(duty="-50 kW").P == feed.P
    assert "duty [kW]" in str(cooled)
    assert cooled.to_dict()["duty"] == cooled.duty


def test_a_cooler_and_a_drum_and_the_drum_alone_take_the_same_duty():
    feed = GAS.flash(Z, T="30 degC", P="60 bar", flow="120 kmol/h")
    cooler = feed.to(T="-20 degC", P="60 bar")
    drum = cooler.to(P="20 bar", T="-20 degC")
    alone = feed.to(T="-20 degC", P="20 bar")
    assert cooler.duty + drum.duty == pytest.approx(alone.duty, rel=1e-10)
    parts = sum(p.flow * p.H for p in alone.phases)
    assert parts == pytest.approx(feed.flow * feed.H + alone.duty, rel=1e-10)


def test_a_batch_is_as_one_by_one_and_says_what_is_not_there():
    values = np.linspace(-15000.0, 15000.0, 7)
    batch = GAS.flash(Z, P=20e5, H=values)
    single = [GAS.flash(Z, P=20e5, H=h) for h in values]
    np.testing.assert_allclose(batch.T, [s.T for s in single], rtol=1e-9)
    odd = GAS.flash(Z, T=250.0, V=[1e-3, 1e-9])
    assert np.isfinite(odd.P).tolist() == [True, False]
    assert any("did not converge" in note for note in odd.notes)


@pytest.mark.parametrize(
    ("given", "message"),
    [({"T": 250.0}, "two of T, P, H"), ({"V": 1e-4, "density": 5.0}, "say the same thing"), ({"T": 250.0, "P": 1e5, "H": 0.0}, "two of"), ({"P": 1e5, "V": -1.0}, "positive"),
     ({"P": 1e5, "vapor_fraction": 1.5}, "between 0 and 1"), ({"P": 1e5, "H": "5 bar"}, "not a molar energy"), ({"P": 1e5, "H": np.nan}, "finite")],
)  # fmt: skip
def test_wrong_specifications(given, message):
    with pytest.raises(sl.InputError, match=message):
        GAS.flash(Z, **given)


@pytest.mark.parametrize(
    "pair",
    [
        ("H", "S"),
        ("H", "V"),
        ("S", "U"),
        ("S", "V"),
        ("U", "V"),
        ("H", "vapor_fraction"),
        ("V", "vapor_fraction"),
        ("U", "density"),
    ],
)
def test_neither_temperature_nor_pressure(pair):
    """States found again from two properties; with a share of vapor another state may have the same two."""
    there = GAS.flash(Z, T=[250.0, 300.0, 400.0, 240.0], P=[20e5, 50e5, 10e5, 80e5])
    values = {
        n: there.H - there.P * there.molar_volume if n == "U" else there.molar_volume if n == "V" else getattr(there, n)
        for n in pair
    }
    rows = np.flatnonzero((there.n_phases == 2) | ("vapor_fraction" not in pair))
    back = GAS.flash(Z, **{n: v[rows] for n, v in values.items()})
    for n in pair:
        again = back.H - back.P * back.molar_volume if n == "U" else back.molar_volume if n == "V" else getattr(back, n)
        np.testing.assert_allclose(again, values[n][rows], rtol=1e-9, atol=1e-9)
    if "vapor_fraction" not in pair:
        np.testing.assert_allclose(back.T, there.T, rtol=1e-9)
        np.testing.assert_allclose(back.P, there.P, rtol=1e-7)


def test_pure_component_between_its_phases_from_energy_and_volume():
    """A vessel of boiling propane: T and P are those of saturation, and the phases share out the volume."""
    propane = sl.System(["propane"], eos="PR")
    there = propane.flash([1.0], T=300.0, vapor_fraction=0.3)
    vessel = propane.flash([1.0], U=there.H - there.P * there.molar_volume, V=there.molar_volume)
    assert vessel.T == pytest.approx(300.0, rel=1e-9)
    assert vessel.vapor_fraction == pytest.approx(0.3, rel=1e-8)
    assert vessel.phases[0].molar_volume > 10.0 * vessel.phases[1].molar_volume


def test_vapor_fraction_by_mass():
    state = GAS.flash(Z, P="20 bar", vapor_mass_fraction=0.4)
    vapor = state.phases[0]
    assert vapor.fraction * vapor.molar_mass / float(state.z @ GAS.molar_mass) == pytest.approx(0.4, rel=1e-9)
    assert GAS.flash(Z, P="20 bar", vapor_mass_fraction=1.0).T == pytest.approx(GAS.dew(Z, P="20 bar").T, rel=1e-9)


WET = sl.System(["propane", "water"], eos="PR", kij={("propane", "water"): 0.5})


def test_three_phases_of_a_binary_from_its_enthalpy():
    """Along rising enthalpy at one pressure, T stays while the third phase is there."""
    below, above = WET.flash([0.5, 0.5], P=10e5, H=-31000.0), WET.flash([0.5, 0.5], P=10e5, H=-20000.0)
    assert [p.kind for p in below.phases] == ["liquid", "liquid"]
    assert [p.kind for p in above.phases] == ["vapor", "liquid"]
    three = WET.flash([0.5, 0.5], P=10e5, H=[-28000.0, -26000.0, -24000.0])
    assert three.n_phases.tolist() == [3, 3, 3]
    assert np.ptp(three.T) < 1e-8
    assert below.T < three.T[0] < above.T
    assert (np.diff(three.vapor_fraction) > 0.05).all()
    for state in three:
        assert sum(p.fraction * p.H for p in state.phases) == pytest.approx(state.H, rel=1e-10)
        ln_f = [[np.log(p.composition[n]) + p.ln_phi[n] for n in WET.names] for p in state.phases]
        assert np.ptp(ln_f, axis=0).max() < 1e-9


def test_another_state_with_the_same_two_quantities_is_noted():
    """At 300 K methane's enthalpy falls with pressure and rises again; both pressures are right, and the note names the other."""
    methane = sl.System(["methane"], eos="PR")
    H = methane.flash([1.0], T=300.0, P=600e5).H
    state = methane.flash([1.0], T=300.0, H=H)
    assert state.H == pytest.approx(H, rel=1e-9)
    (note,) = (n for n in state.notes if "another solution" in n)
    other = float(note.split(" at ")[1].split(" Pa")[0])
    assert {round(state.P / 1e5), round(other / 1e5)} == {443, 600}
    assert methane.flash([1.0], T=300.0, P=other).H == pytest.approx(H, rel=1e-4)
    assert not any("another solution" in n for n in GAS.flash(Z, P=20e5, H=0.0).notes)


def test_states_that_are_not():
    with pytest.raises(sl.CalculationError, match=r"No state with T = .* and V = "):
        GAS.flash(Z, T=250.0, V=1e-9)
    with pytest.raises(sl.CalculationError, match="incompressible"):
        sl.System(["water"], liquid="ideal").flash([1.0], T=300.0, H=-44000.0)
    bare = sl.System([sl.Component(name="x", Tc=500.0, Pc=3e6, omega=0.2)], eos="PR")
    with pytest.raises(sl.InputError, match="heat capacity for x"):
        bare.flash([1.0], P=1e5, H=0.0)
    with pytest.raises(sl.InputError, match="molar mass"):
        bare.flash([1.0], P=1e5, density=500.0)
    state = GAS.flash(Z, T=250.0, P=1e5)
    for wrong in ({"P": 2e5}, {"duty": 0.0, "H": 5.0}):
        with pytest.raises(sl.InputError):
            state.to(**wrong)
    with pytest.raises(sl.InputError, match="did not come from another"):
        _ = state.duty


def test_a_share_of_vapor_just_above_its_lowest_is_found_on_both_sides():
    """Along an isobar the share of vapor passes a minimum that no point of a coarse scan sees."""
    names = ["neon", "tert-butanol", "isooctane", "cumene", "ethylene glycol"]
    system, z = sl.System(names, eos="SRK", kij="zero"), np.array([0.56, 0.17, 0.02, 0.19, 0.06])
    T = np.linspace(280.0, 340.0, 121)
    shares = system.flash(z, T=T, P=50e5).vapor_fraction
    lowest = int(shares.argmin())
    assert 0 < lowest < len(T) - 1
    wanted = shares[lowest] + 0.02 * (shares[lowest - 2] - shares[lowest])
    state = system.flash(z, P=50e5, vapor_fraction=wanted)
    assert state.vapor_fraction == pytest.approx(wanted, abs=1e-9)
    assert state.T == pytest.approx(T[lowest], abs=3.0)
    assert any("another solution" in note for note in state.notes)


@pytest.mark.parametrize("name", ["propane", "water", "ammonia"])
@pytest.mark.parametrize("eos", ["PR", "SRK"])
def test_next_to_its_critical_point_what_boils_is_found_by_its_shares(name, eos):
    """Down to a hundred-thousandth below the critical pressure, where both phases differ by a few percent."""
    system, Pc = sl.System([name], eos=eos), sl.databank().find(name).Pc
    for below in (1e-2, 1e-3, 3e-4, 1e-4, 1e-5):
        P = Pc * (1.0 - below)
        liquid, vapor = (system.flash([1.0], P=P, vapor_fraction=share) for share in (0.0, 1.0))
        share = np.array([0.1, 0.5, 0.9])
        for quantity in ("H", "S", "U"):
            target = (1.0 - share) * getattr(liquid, quantity) + share * getattr(vapor, quantity)
            states = system.flash([1.0], P=P, **{quantity: target})
            np.testing.assert_allclose(states.vapor_fraction, share, atol=1e-6)
            np.testing.assert_allclose(states.T, liquid.T, rtol=1e-9)


@pytest.mark.parametrize("quantity", ["H", "S", "U", "V"])
def test_three_phases_of_a_binary_are_found_at_their_one_temperature(quantity):
    """Along temperature every quantity jumps there: both sides' phases stand beside each other."""
    system, z, P = sl.System(["water", "1-butanol"], liquid="UNIQUAC"), [0.75, 0.25], 101325.0
    boiling = system.bubble(z, P=P).T
    of = (lambda state: state.molar_volume) if quantity == "V" else (lambda state: getattr(state, quantity))
    below, above = (of(system.flash(z, P=P, T=boiling + step)) for step in (-1e-4, 1e-4))
    for share in (0.01, 0.3, 0.6, 0.99):
        target = (1.0 - share) * below + share * above
        state = system.flash(z, P=P, **{quantity: target})
        assert state.T == pytest.approx(boiling, rel=1e-9)
        assert len(state.phases) == 3
        assert of(state) == pytest.approx(target, rel=1e-9)


def test_what_is_not_there_is_refused_at_once_and_a_volume_that_pressure_does_not_change_tells_none():
    system, z = sl.System(["ethanol", "water"], liquid="NRTL"), [0.3, 0.7]
    state = system.flash(z, T=300.0, P=3e5)
    for beside in ("H", "S"):
        with pytest.raises(sl.CalculationError, match="do not tell the pressure"):
            system.flash(z, V=state.molar_volume, **{beside: getattr(state, beside)})
    with pytest.raises(sl.CalculationError, match="do not tell the pressure"):
        system.flash(z, T=300.0, V=state.molar_volume)
    with pytest.raises(sl.CalculationError, match="No state with"):
        system.flash(z, P=1e5, S=-1000.0)
