"""What is read off the engine: names and order of phases, shares of vapor, marks and completeness of envelopes, answers where there are any."""

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.core.models.softest import smallest_eigenvalue, softest

CONDENSATE = sl.System(["methane", "propane", "n-decane"], eos="SRK", kij={("methane", "n-decane"): 0.0})
Z = [0.85, 0.08, 0.07]
RETROGRADE = sl.System(["methane", "n-butane", "n-decane"], eos="PR")
SLEETATE = sl.Component(name="pentyl sleetate", formula="C7H14O2", Tc="612 K", Pc="29.5 bar", omega=0.45)
WET = sl.System(["water", "propane"], eos="PR", kij="zero")


def packing(system, state):
    """Covolume over volume of each phase, by the equation's published constant."""
    omega_b = 0.0866403499649577 if system.eos == "SRK" else 0.0777960739038885
    b = np.array([omega_b * 8.31446261815324 * c.Tc / c.Pc for c in system.components])
    return [np.array(list(p.composition.values())) @ b / p.molar_volume for p in state.phases]


# ---- names ----


def test_the_vapor_stays_one_up_to_the_upper_dew_point_and_beyond():
    states = CONDENSATE.flash(Z, T=399.6, P=np.array([100.0, 260.0, 270.0, 280.0, 280.5, 281.0, 300.0, 600.0]) * 1e5)
    assert states.n_phases.tolist() == [2, 2, 2, 2, 2, 1, 1, 1]
    share = states.vapor_fraction
    assert share[1] == pytest.approx(0.881, abs=5e-4)
    assert (np.diff(share[1:]) >= 0.0).all()
    assert share[4] > 0.99
    assert (share[5:] == 1.0).all()
    dew = CONDENSATE.dew(Z, T=399.6)
    assert dew.all[-1].P == pytest.approx(280.6e5, rel=1e-3)
    with pytest.raises(sl.CalculationError):
        CONDENSATE.bubble(Z, T=399.6)
    beyond = CONDENSATE.flash(Z, T=399.6, P=285e5)
    assert beyond.phases[0].kind == "vapor"
    assert not any("liquid" in note for note in beyond.notes)


def test_the_figure_of_retrograde_behavior_has_no_cliff():
    T = RETROGRADE.critical([0.7, 0.2, 0.1]).T + 5.0
    upper = RETROGRADE.dew([0.7, 0.2, 0.1], T=T).all[-1].P
    states = RETROGRADE.flash([0.7, 0.2, 0.1], T=T, P=upper * (1.0 - np.geomspace(0.3, 3e-5, 300)))
    assert (states.n_phases == 2).all()
    assert np.abs(np.diff(states.vapor_fraction)).max() < 0.05
    assert states.vapor_fraction[-1] > 0.97
    assert (RETROGRADE.flash([0.7, 0.2, 0.1], T=T, P=upper * np.array([1.0 + 1e-7, 1.1, 2.0, 5.0])).vapor_fraction == 1.0).all()


def test_the_note_on_drop_out_says_what_flashes_give():
    dropout = CONDENSATE.envelope(Z).dropout
    state = CONDENSATE.flash(Z, T=dropout.at.T, P=dropout.at.P)
    assert 1.0 - state.vapor_volume_fraction == pytest.approx(dropout.liquid, rel=1e-9)
    assert dropout.liquid == pytest.approx(0.139, abs=0.005)


@pytest.mark.parametrize("names", [["hydrogen", "n-heptane"], ["nitrogen", "n-heptane"], ["carbon dioxide", "n-decane"]])
def test_the_less_packed_phase_comes_first_where_molar_volumes_cross(names):
    system = sl.System(names, eos="PR")
    states = system.flash([0.7, 0.3], T=400.0, P=np.geomspace(20e5, 600e5, 40))
    crossed = 0
    for state in states:
        if state.n_phases == 2:
            assert [p.kind for p in state.phases] == ["vapor", "liquid"]
            first, second = packing(system, state)
            assert first < second
            crossed += state.phases[0].molar_volume < state.phases[1].molar_volume
    assert crossed > 0 or names[0] != "hydrogen"
    table = system.table([0.7, 0.3], T=[400.0], P=[250e5], properties=["composition", "K", "heat_of_vaporization"])
    assert np.isfinite(table.filter(like="heat_of_vaporization").to_numpy()).all() or states[-1].n_phases == 1


def test_liquids_beside_liquids_are_called_so_and_ordered_by_density():
    wet = sl.System(["n-hexane", "water"], eos="PR", kij={("n-hexane", "water"): 0.5}).flash([0.5, 0.5], T=300.0, P=10e5)
    assert [p.kind for p in wet.phases] == ["liquid", "liquid"]
    assert wet.phases[0].density < wet.phases[1].density
    cold = sl.System(["methane", "n-hexane"], eos="PR").flash([0.9, 0.1], T=185.0, P=60e5)
    assert [p.kind for p in cold.phases] == ["liquid", "liquid"]
    # a liquid at its bubble point beside water stays one when the last vapor has gone
    three = sl.System(["methane", "n-pentane", "water"], eos="SRK")
    shares = three.flash([0.4, 0.4, 0.2], T=330.0, P=np.linspace(60e5, 250e5, 96)).vapor_fraction
    gone = np.flatnonzero(shares == 0.0)
    assert gone.size > 10
    assert (shares[gone[0] :] == 0.0).all()
    assert np.abs(np.diff(shares)).max() < 0.05


def test_names_meet_at_the_critical_point():
    """Next to it, the feed is a liquid on one side of the line and a vapor on the other."""
    envelope = CONDENSATE.envelope(Z)
    for branch in envelope.branches:
        rows = np.flatnonzero(~branch.unstable & (np.abs(branch.line.ln_k).max(axis=1) > 0.1))
        P = branch.line.P[rows]
        outside = CONDENSATE.flash(Z, T=branch.line.T[rows], P=P * (1.0 + 1e-4))
        inside = CONDENSATE.flash(Z, T=branch.line.T[rows], P=P * (1.0 - 1e-4))
        for a, b in zip(outside, inside, strict=True):
            one, two = (a, b) if a.n_phases == 1 else (b, a)
            if one.n_phases == 1 and two.n_phases == 2:
                assert abs(one.vapor_fraction - two.vapor_fraction) < 0.05
                assert one.phases[0].kind == ("vapor" if branch.kind == "dew" else "liquid")


@pytest.mark.parametrize(
    ("names", "z"),
    [
        (["nitrogen", "methane", "toluene", "n-decane"], [0.032, 0.139, 0.015, 0.814]),
        (["carbon dioxide", "methane", "n-octane", "n-heptane"], [0.087, 0.087, 0.247, 0.579]),
        (["nitrogen", "methane", "benzene", "n-heptane"], [0.024, 0.152, 0.812, 0.012]),
        (["methane", "n-butane", "n-decane"], [0.5, 0.3, 0.2]),
        (["acetone", "n-butane"], [0.3, 0.7]),
    ],
)
def test_a_feed_is_a_liquid_right_up_to_its_critical_point_and_a_vapor_right_after_it(names, z):
    system = sl.System(names, eos="SRK")
    (line,) = (line for line in system.envelope(z, P_max="900 bar").lines if line.critical)
    (critical,) = line.critical
    at = np.arange(len(line.T))
    beside = np.abs(np.log(line.T / line.T[critical])) < 5e-3
    assert beside.sum() >= 3
    vapor = system.phase_model.at(line.T, line.P).is_vapor(np.tile(z, (len(at), 1)), line.roots[:, 0])
    assert (vapor == (at < critical))[at != critical].all()


def test_the_softest_direction_is_that_of_the_smallest_eigenvalue():
    model, rng = CONDENSATE.phase_model, np.random.default_rng(1)
    n = rng.dirichlet(np.ones(3), 20)
    T = rng.uniform(250.0, 500.0, 20)
    V = model.covolume(T, n) * rng.uniform(1.5, 6.0, 20)
    found = softest(model, T, V, n)
    np.testing.assert_allclose(found.eigenvalue, smallest_eigenvalue(model, T, V, n), rtol=1e-9, atol=1e-12)
    # the cubic form is how the quadratic one changes along the direction
    h = 1e-5
    along = np.sqrt(n) * found.direction
    ends = [
        np.einsum("ni,nij,nj->n", along, model.helmholtz_hessian(T, V, n + s * h * along), along)
        + (along**2 / (n + s * h * along)).sum(1)
        for s in (1.0, -1.0)
    ]
    np.testing.assert_allclose((ends[0] - ends[1]) / (2.0 * h), found.form, rtol=1e-5, atol=1e-6)


# ---- strong negative deviations ----


@pytest.mark.parametrize("a", [-2.0, -2.5, -5.0])
def test_no_equilibrium_is_missed_at_strong_negative_deviations(a):
    pair = ("acetone", "chloroform")
    system = sl.System(pair, liquid="Margules", parameters={pair: sl.PairParameters(a12=a, a21=a)})
    x = np.linspace(0.02, 0.98, 49)
    liquids = np.stack([x, 1.0 - x], axis=1)
    bubble = system.bubble(liquids, T=323.0)
    apart = np.abs(x - bubble.incipient[:, 0]) > 1e-3
    for share in (0.2, 0.5, 0.8):
        feeds = share * liquids + (1.0 - share) * bubble.incipient
        states = system.flash(feeds, T=323.0, P=bubble.P)
        assert (states.n_phases[apart] == 2).all()
        np.testing.assert_allclose(states.vapor_fraction[apart], 1.0 - share, atol=1e-6)


def test_the_state_that_was_taken_for_a_vapor():
    pair = ("acetone", "chloroform")
    system = sl.System(pair, liquid="Margules", parameters={pair: sl.PairParameters(a12=-2.5, a21=-2.5)})
    state = system.flash([0.1755, 0.8245], T=323.0, P=49316.0)
    assert state.n_phases == 2
    assert state.vapor_fraction == pytest.approx(0.5, abs=0.01)
    assert not system.stability([0.1755, 0.8245], T=323.0, P=49316.0).stable


# ---- envelopes ----


def test_marks_are_the_extremes_that_flashes_see():
    system = sl.System(["acetone", SLEETATE], eos="PR")
    envelope, z = system.envelope([0.5, 0.5]), [0.5, 0.5]
    critical, therm, bar = envelope.critical_points[0], envelope.cricondentherm, envelope.cricondenbar
    assert therm.T > critical.T + 0.8
    assert bar.P > critical.P * 1.002
    P = np.linspace(0.9, 1.05, 301) * therm.P
    assert (system.flash(z, T=therm.T - 0.01, P=P).n_phases == 2).any()
    assert (system.flash(z, T=therm.T + 0.01, P=P).n_phases == 1).all()
    T = np.linspace(0.99, 1.01, 301) * bar.T
    assert (system.flash(z, T=T, P=bar.P * (1.0 - 1e-4)).n_phases == 2).any()
    assert (system.flash(z, T=T, P=bar.P * (1.0 + 1e-4)).n_phases == 1).all()
    upper = system.dew(z, T="302 degC").all
    assert len(upper) == 2
    for point in upper:
        n = [system.flash(z, T=point.T, P=point.P * f).n_phases for f in (1.0 - 1e-5, 1.0 + 1e-5)]
        assert sorted(n) == [1, 2]


def test_a_wet_gas_has_its_whole_envelope():
    z = [0.003, 0.997]
    envelope = WET.envelope(z)
    (critical,) = envelope.critical_points
    assert critical.stable
    assert (critical.T, critical.P / 1e5) == (pytest.approx(370.2, abs=0.1), pytest.approx(42.6, abs=0.1))
    assert envelope.cricondentherm.T >= critical.T - 1e-6
    cold, warm = sorted(envelope.three_phase, key=lambda line: line.T.min())
    # the water's and the other liquid's amounts are free; where the feed is on the edge of the three, one piece ends and the next begins
    assert cold.T.max() == pytest.approx(warm.T.min(), abs=1e-4)
    assert (cold.T.min(), warm.T.max()) == (pytest.approx(230.7, abs=0.1), pytest.approx(295.55, abs=0.01))
    # two components: vapor and water below the line, and above it the other liquid with either of them
    for line, above in ((cold, ["liquid", "liquid"]), (warm, ["vapor", "liquid"])):
        middle = len(line.T) // 2
        higher, lower = (WET.flash(z, T=line.T[middle], P=line.P[middle] * f) for f in (1.0 + 1e-4, 1.0 - 1e-4))
        assert [p.kind for p in lower.phases] == ["vapor", "liquid"]
        assert lower.phases[1].composition["water"] > 0.999
        assert [p.kind for p in higher.phases] == above
        assert min(p.composition["water"] for p in higher.phases if p.kind == "liquid") < 0.01
    for T, P in ((330.0, 19.8), (360.0, 35.6)):
        found = np.array([p.P for p in (*WET.dew(z, T=T).all, *WET.bubble(z, T=T).all)]) / 1e5
        assert np.abs(found / P - 1.0).min() < 0.01


def test_borders_of_three_phases_are_traced_with_flashes_on_both_sides():
    system, z = sl.System(["methane", "n-pentane", "water"], eos="SRK"), [0.5, 0.3, 0.2]
    (line,) = system.envelope(z, P_max="300 bar").three_phase
    rows = np.flatnonzero((line.P > 5e5) & (line.P < 120e5))[::12]
    assert rows.size > 5
    for i in rows:
        n = {system.flash(z, T=line.T[i], P=line.P[i] * f).n_phases for f in (1.0 - 1e-3, 1.0 + 1e-3)}
        n |= {system.flash(z, T=line.T[i] * f, P=line.P[i]).n_phases for f in (1.0 - 1e-3, 1.0 + 1e-3)}
        assert n == {2, 3}
    assert line.P.max() == pytest.approx(160e5, rel=0.02)


def test_a_boundary_beside_a_line_that_is_no_longer_one_is_found_too():
    system = sl.System(["carbon dioxide", "carbon monoxide", "acetone", "water", "toluene"], eos="SRK")
    z = sl.normalize([0.2974, 0.2667, 0.2424, 0.1889, 0.0047])
    envelope = system.envelope(z)
    T, P = envelope.cricondentherm
    assert system.flash(z, T=T - 0.02, P=P).n_phases > 1
    assert (system.flash(z, T=T + 0.05, P=np.geomspace(1e5, 4.9e7, 120)).n_phases == 1).all()
    assert T == pytest.approx(469.7, abs=0.5)
    seen = [_dew_at(system, z, T) for T in (455.0, 462.0, 469.0)]
    for T, pressures in zip((455.0, 462.0, 469.0), seen, strict=True):
        known = np.array([point.P for point in system.dew(z, T=T).all])
        assert all(np.abs(known / P - 1.0).min() < 1e-4 for P in pressures)


def _dew_at(system, z, T):
    """Pressures where flashes along an isotherm go between one phase and two."""
    ends, found = np.geomspace(1e6, 4.9e7, 60), []
    n = system.flash(z, T=T, P=ends).n_phases
    for i in np.flatnonzero((n[:-1] == 1) != (n[1:] == 1)):
        low, high = ends[i], ends[i + 1]
        for _ in range(24):
            middle = np.sqrt(low * high)
            low, high = (middle, high) if (system.flash(z, T=T, P=middle).n_phases == 1) == (n[i] == 1) else (low, middle)
        found.append(low)
    return found


def test_a_line_that_comes_round_ends_where_it_began():
    system = sl.System(["carbon dioxide", "carbon monoxide", "acetone", "water", "toluene"], eos="SRK")
    z = sl.normalize([0.2974, 0.2667, 0.2424, 0.1889, 0.0047])
    lines = system.envelope(z, P_max="2000 bar").lines
    (loop,) = [line for line in lines if line.loop]
    assert loop.closed
    assert len(loop.T) < 200


def test_quality_lines_are_there_and_are_the_equilibrium():
    system, z = sl.System(["carbon dioxide", "n-butane"], eos="PR"), [0.4, 0.6]
    envelope = system.envelope(z, quality=[0.01, 0.1, 0.5])
    for q, parts in envelope.quality_lines.items():
        assert parts
        for line in parts:
            # but for its ends, of which one may be where three phases meet
            rows = np.flatnonzero(np.abs(line.ln_k).max(axis=1) > 0.1)[1:-1:3]
            states = system.flash(z, T=line.T[rows], P=line.P[rows])
            np.testing.assert_allclose(states.vapor_fraction, q, atol=1e-5)


def test_limits_keep_what_lies_inside_them_and_cut_exactly():
    system = sl.System(["methane", "propane"], eos="PR")
    whole = system.envelope([0.7, 0.3])
    envelope = system.envelope([0.7, 0.3], P_max="60 bar", T_min="150 K")
    for line in envelope.lines:
        assert line.P.max() <= 60e5 * (1.0 + 1e-9)
        assert line.T.min() >= 150.0 * (1.0 - 1e-9)
    ends = np.array([(line.T[k], line.P[k]) for line in envelope.lines for k in (0, -1)])
    assert (np.abs(ends[:, 1] / 60e5 - 1.0) < 1e-9).sum() == 2
    assert (np.abs(ends[:, 0] / 150.0 - 1.0) < 1e-9).sum() == 1
    inside = (whole.lines[0].P < 59e5) & (whole.lines[0].T > 151.0)
    assert sum(len(line.T) for line in envelope.lines) >= inside.sum()


def test_drawn_lines_are_where_dew_points_are():
    system = sl.System(["methane", "propane"], eos="PR")
    envelope = system.envelope([0.7, 0.3])
    kind, _, T, P = next(c for c in envelope.curves("T", "P") if c[0] == "dew")
    assert kind == "dew"
    assert T.max() == pytest.approx(envelope.cricondentherm.T, abs=1e-3)
    width = 0.0015 * np.ptp(P)
    for value in np.linspace(250.0, 301.9, 23):
        drawn = [
            P[i] + (value - T[i]) / (T[i + 1] - T[i]) * (P[i + 1] - P[i])
            for i in np.flatnonzero((T[:-1] - value) * (T[1:] - value) <= 0.0)
        ]
        real = [p.P for p in system.dew([0.7, 0.3], T=value).all]
        for P_real in real:
            assert min(abs(P_real - d) for d in drawn) < width


# ---- answers, or clear refusals ----


def test_a_trivial_solution_is_no_bubble_point():
    system, z = sl.System(["hydrogen", "n-hexane"], eos="PR"), [0.66815, 0.33185]
    with pytest.raises(sl.CalculationError, match="no bubble point"):
        system.bubble(z, P="59.8 bar")
    assert np.isnan(system.bubble([z, z], P="59.8 bar").T).all()


MANY = sl.System(
    [
        "2-methylheptane",
        "cumene",
        "methyl ethyl ether",
        "isooctane",
        "neon",
        "methanol",
        "ethyl propionate",
        "glycerol",
        "1,2-dichlorotetrafluoroethane",
    ],
    eos="SRK",
)
MANY_Z = sl.normalize([0.13827, 0.08861, 0.08696, 0.04700, 0.08633, 0.06128, 0.11023, 0.19803, 0.18329])


def test_two_phases_that_became_one_are_not_shown_as_two():
    T = np.exp(np.linspace(np.log(563.0), np.log(578.0), 40))
    states = MANY.flash(MANY_Z, T=T, P=82.176e5)
    assert not states.failed.any()
    assert states.result.residual.max() < 1e-9
    for i in np.flatnonzero(states.n_phases > 1):
        x = states.result.x[i, : states.n_phases[i]]
        assert all(np.abs(np.log(x[j] / x[k])).max() > 1e-4 for j in range(len(x)) for k in range(j))


def test_a_bubble_point_far_from_low_pressure_is_found_by_flashes():
    P = 9.687e6
    point = MANY.bubble(MANY_Z, P=P)
    beside = MANY.flash(MANY_Z, T=point.T * np.array([1.0 - 1e-4, 1.0 + 1e-4]), P=P)
    share = np.nan_to_num(beside.vapor_fraction)
    assert sorted(share > 0.0) == [False, True]
    assert share.max() < 1e-3
    assert [p.kind for p in point.liquids] == ["liquid", "liquid"]
    with pytest.raises(sl.CalculationError, match="no bubble point"):
        MANY.bubble(MANY_Z, P="4.6 bar")


def test_impossible_states_are_refused():
    system = sl.System(["methane", "propane"], eos="PR")
    for given in ({"H": -50000.0, "S": -30.0}, {"U": -1e5, "V": 1e-3}, {"P": 1e5, "H": -1e6}, {"P": 1e5, "S": 1000.0}):
        with pytest.raises(sl.CalculationError, match="No state"):
            system.flash([0.7, 0.3], **given)


@pytest.mark.parametrize("pair", [("U", "V"), ("U", "S"), ("H", "S"), ("S", "V"), ("H", "V")])
def test_a_pure_component_between_its_phases(pair):
    system = sl.System(["propane"], eos="PR")
    state = system.flash([1.0], P=10e5, vapor_fraction=0.4)
    value = {"U": state.U, "V": state.molar_volume, "S": state.S, "H": state.H}
    again = system.flash([1.0], **{name: value[name] for name in pair})
    assert again.T == pytest.approx(state.T, rel=1e-9)
    assert again.vapor_fraction == pytest.approx(0.4, abs=1e-8)


def test_two_answers_to_enthalpy_and_internal_energy_are_noted():
    system = sl.System(["propane"], eos="PR")
    state = system.flash([1.0], T=350.0, P=5e5)
    again = system.flash([1.0], H=state.H, U=state.U)
    (note,) = [n for n in again.notes if "another solution" in n]
    other = system.flash([1.0], T=454.099, P=2.25898e7)
    assert (other.H, other.U) == (pytest.approx(state.H, abs=2.0), pytest.approx(state.U, abs=2.0))
    assert "454.099" in note


def test_enthalpy_and_entropy_do_not_tell_the_pressure_of_an_incompressible_liquid():
    system = sl.System(["acetone", "1-butanol"], liquid="NRTL")
    state = system.flash([0.4, 0.6], T=300.0, P=2.5e5)
    with pytest.raises(sl.CalculationError, match="do not tell the pressure"):
        system.flash([0.4, 0.6], H=state.H, S=state.S)


@pytest.mark.parametrize("liquid", ["ideal", "UNIFAC"])
def test_enthalpy_and_temperature_do_not_tell_the_pressure_of_an_ideal_vapor(liquid):
    """However near its dew point: no pressure is taken for the only one."""
    system = sl.System(["acetone", "toluene"], liquid=liquid)
    z = np.array([0.5, 0.5])
    dew = system.dew(z, P=1e5).T
    for above in (1e-3, 0.03, 0.3, 3.0, 30.0):
        state = system.flash(z, T=dew + above, P=1e5)
        with pytest.raises(sl.CalculationError, match="energies of an ideal vapor, do not tell the pressure"):
            system.flash(z, T=state.T, H=state.H)
    partly = system.flash(z, T=dew - 1.0, P=1e5)
    assert system.flash(z, T=partly.T, H=partly.H).P == pytest.approx(1e5, rel=1e-6)


def test_an_incompressible_liquid_has_no_noise_for_a_heat_capacity():
    liquid = sl.System(["acetone", "1-butanol"], liquid="NRTL", vapor="virial").flash([0.5, 0.5], T=300.0, P=1e5).phases[0]
    assert liquid.kind == "liquid"
    assert liquid.Cv == liquid.Cp
    assert liquid.isothermal_compressibility == 0.0
    assert np.isnan(liquid.speed_of_sound)


def test_saturation_curves_have_their_tip():
    system = sl.System(["propane"], eos="PR")
    curve = system.saturation_curve()
    assert curve.T[-1] == pytest.approx(system.critical([1.0]).T, rel=1e-12)
    assert curve.density("vapor")[-1] == pytest.approx(curve.density("liquid")[-1], rel=1e-6)
    assert curve.heat_of_vaporization[-1] == pytest.approx(0.0, abs=1e-3)
    assert np.isfinite(curve.P).all()


# ---- virial vapors ----


def test_a_virial_vapor_is_none_where_the_second_coefficient_takes_too_much():
    system = sl.System(["acetone", "1-butanol"], liquid="NRTL", vapor="virial")
    states = system.flash([0.5, 0.5], T=np.repeat([250.0, 400.0, 550.0], 20), P=np.tile(np.geomspace(1e4, 5e7, 20), 3))
    vapor = states.result.kinds[:, 0] == 0
    assert vapor.any()
    assert (states.result.Z[vapor, 0] >= 0.5).all()
    assert states.density[vapor].max() < 300.0
    state = system.flash([0.5, 0.5], T=350.0, P=1e5)
    assert system.flash([0.5, 0.5], P=1e5, H=state.H).T == pytest.approx(350.0)


def test_a_virial_vapor_takes_interaction_parameters_at_its_temperature():
    pair = ("methane", "n-butane")
    varying = sl.System(pair, liquid="ideal", vapor="virial", kij={pair: {"1": 0.1, "T": -2e-4, "1/T": 5.0}})
    for T in (260.0, 320.0):
        fixed = sl.System(pair, liquid="ideal", vapor="virial", kij={pair: 0.1 - 2e-4 * T + 5.0 / T})
        a, b = (s.flash([0.5, 0.5], T=T, P=1e5, phases="V").phases[0] for s in (varying, fixed))
        assert a.Z == pytest.approx(b.Z, rel=1e-12)
        assert abs(a.H - b.H) > 1e-3  # its slope with temperature is heat


# ---- diagrams ----


def test_no_tie_line_of_a_map_crosses_a_region_of_three_liquids():
    pairs = {
        ("water", "n-hexane"): (1500.0, 1300.0),
        ("water", "nitromethane"): (1100.0, 700.0),
        ("n-hexane", "nitromethane"): (900.0, 800.0),
    }
    names = ["water", "n-hexane", "nitromethane"]
    system = sl.System(
        names, liquid="NRTL", parameters={k: sl.PairParameters(a12=a, a21=b, alpha=0.25, form="K") for k, (a, b) in pairs.items()}
    )
    found = system.liquid_map(T=320.0)
    (triangle,) = found.triangles
    assert len(found.branches) == 3
    activity = system.phase_model.liquid.activity
    grid = np.array([(i, j, 60 - i - j) for i in range(61) for j in range(61 - i)], dtype=float) + 0.01
    grid /= grid.sum(axis=1)[:, None]
    ln_a = np.log(grid) + activity.at(np.full(len(grid), 320.0)).ln_gamma(grid.T).T
    for branch in found.branches:
        x = np.maximum(branch.ties[:, 0], 1e-12)
        mu = np.log(x) + activity.at(np.full(len(x), 320.0)).ln_gamma(x.T).T
        assert (grid * (ln_a - mu[:, None])).sum(axis=2).min() > -1e-6
        sides = [triangle[[i, j]] for i, j in ((0, 1), (0, 2), (1, 2), (1, 0), (2, 0), (2, 1))]
        assert min(np.abs(tie - side).max() for tie in branch.ties[[0, -1]] for side in sides) < 1e-6


@pytest.mark.parametrize("names", [["helium", "n-heptane"], ["tetrahydrothiophene", "neon"], ["helium", "nitrogen"]])
def test_diagrams_with_gases_that_hardly_dissolve_are_the_stable_ones(names):
    system = sl.System(names, eos="PR")
    diagram = system.diagram("Txy", *names, P=50e5)
    apart = np.flatnonzero(np.abs(diagram.x - diagram.y) > 1e-3)
    assert apart.size > 20
    middle = 0.5 * (diagram.x + diagram.y)[apart]
    states = system.flash(np.stack([middle, 1.0 - middle], axis=1), T=diagram.T[apart], P=50e5)
    assert (states.n_phases == 2).all()
    np.testing.assert_allclose(states.result.x[:, 0, 0], diagram.y[apart], atol=1e-5)
    np.testing.assert_allclose(states.result.x[:, 1, 0], diagram.x[apart], atol=1e-5)
