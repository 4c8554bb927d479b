"""Every part of the engine by itself, arrays in and arrays out: azeotropes, binodals, invariant points, boiling curves, borders of three phases, specified flashes, drivers.

What is checked is never how a part does its work: equal fugacities by the model's own ln φ, balances, limits, and what another part says of the same place.
"""

import numpy as np
import pytest

from sleetfield.core.correlations import HeatCapacity
from sleetfield.core.correlations.heat_capacity import Polynomial
from sleetfield.core.equilibrium import azeotrope, binodal, boiling_curve, three_phase_line
from sleetfield.core.equilibrium.critical import critical_points
from sleetfield.core.equilibrium.flash import flash, result_of_phases
from sleetfield.core.equilibrium.invariant import invariant_point
from sleetfield.core.equilibrium.line_equations import Limits
from sleetfield.core.equilibrium.multiphase import balance_equations, evaluate_all
from sleetfield.core.equilibrium.parameter_derivatives import Shift
from sleetfield.core.equilibrium.phase_boundaries import phase_boundaries
from sleetfield.core.equilibrium.saturation import bubble_at_P, bubble_at_T, dew_at_P, dew_at_T
from sleetfield.core.models.activity.nrtl import NRTL
from sleetfield.core.models.activity.pair_function import PairFunction
from sleetfield.core.models.contract import LIQUID, STABLE, VAPOR
from sleetfield.core.models.ideal_gas import IdealGas
from sleetfield.core.models.liquid import Liquid
from sleetfield.core.models.liquid_and_vapor import LiquidAndVapor
from sleetfield.core.models.peng_robinson import PengRobinson
from sleetfield.core.models.pure_liquids import PureLiquids
from sleetfield.core.models.pure_solid import PureSolid
from sleetfield.core.models.with_solids import with_solids
from sleetfield.core.neither_given import flash_without, pairing
from sleetfield.core.properties import value_of
from sleetfield.core.pure_saturation import saturated
from sleetfield.core.restricted import OneKind, restricted_flash
from sleetfield.core.saturation_by_flashes import scanned, split_bubble
from sleetfield.core.simultaneous import INCIPIENT, solve_together
from sleetfield.core.specification import Specification, Thermodynamics
from sleetfield.core.specified_flash import flash_to

from .conftest import ANTOINE, DENSITY, KIJ, MODELS, OMEGA, PC, TC

EQUATIONS = ["PR", "SRK", "PC-SAFT", "PR by excess energy", "PR as a Helmholtz energy"]
GAS = [1, 2, 4]
FEED = np.array([0.6, 0.25, 0.15])


def gas(name):
    """Methane, propane and n-heptane."""
    return MODELS[name]().select(GAS)


def liquids(tau12, tau21, alpha=0.3):
    """Two of the three test liquids with strong positive deviations beside an ideal gas."""
    tau, a = np.zeros((4, 2, 2)), np.zeros((4, 2, 2))
    tau[0, 0, 1], tau[0, 1, 0] = tau12, tau21
    a[0] = alpha * (1.0 - np.eye(2))
    return LiquidAndVapor(Liquid(PureLiquids(ANTOINE[:2], DENSITY[:2]), NRTL(PairFunction(tau), PairFunction(a))), IdealGas())


def three_liquids(tau):
    """All three with one NRTL parameter for every pair, both ways."""
    t = np.zeros((4, 3, 3))
    t[0] = tau
    a = np.zeros((4, 3, 3))
    a[0] = 0.2 * (1.0 - np.eye(3))
    return LiquidAndVapor(Liquid(PureLiquids(ANTOINE, DENSITY), NRTL(PairFunction(t), PairFunction(a))), IdealGas())


def warm(model, size):
    """With plain heat capacities."""
    heat: list[HeatCapacity] = [Polynomial((30.0 + 8.0 * i, 0.05), 50.0, 2000.0) for i in range(size)]
    return Thermodynamics(model, heat, np.array([0.016, 0.044, 0.1, 0.03, 0.03, 0.03])[:size])


def ln_f(model, T, P, x, kind):
    """One phase's ln f/P."""
    x = np.maximum(np.atleast_2d(x), 1e-100)
    return (np.log(x) + model.at(np.full(len(x), T), np.full(len(x), P)).ln_phi(x, np.full(len(x), kind)))[0]


# ---- azeotropes ----


def test_an_azeotrope_boils_to_its_own_composition_and_is_an_extreme_of_bubble_points():
    model = liquids(1.0, 0.9)
    found = azeotrope.homogeneous(model, "P", 1e5, azeotrope.interior_points(2, 8))
    assert len(found.T) == 1
    x, T = found.x[0], found.T[0]
    assert np.abs(ln_f(model, T, 1e5, x, LIQUID) - ln_f(model, T, 1e5, x, VAPOR)).max() < 1e-9
    around = np.stack([x + d * np.array([1.0, -1.0]) for d in (-0.01, 0.0, 0.01)])
    bubbles = bubble_at_P(model, np.full(3, 1e5), around).T
    assert bubbles[1] == pytest.approx(T, rel=1e-9)
    assert bubbles[1] < min(bubbles[0], bubbles[2])
    again = azeotrope.homogeneous(model, "T", T, azeotrope.interior_points(2, 8))
    assert (again.P[0], again.x[0, 0]) == pytest.approx((1e5, x[0]), rel=1e-8)


def test_two_liquids_and_their_vapor_meet_where_the_liquids_split():
    model = liquids(2.5, 2.2)
    starts = azeotrope.homogeneous(model, "P", 1e5, azeotrope.interior_points(2, 8))
    rows, first, second = azeotrope.split_below(model, starts.T, starts.P, starts.x)
    assert rows.size
    found = azeotrope.heterogeneous(model, "P", 1e5, np.log(starts.T[rows]), first, second)
    assert len(found.T) == 1
    one, other = found.liquids[0]
    T, vapor = found.T[0], found.x[0]
    for phase, kind in ((other, LIQUID), (vapor, VAPOR)):
        assert np.abs(ln_f(model, T, 1e5, one, LIQUID) - ln_f(model, T, 1e5, phase, kind)).max() < 1e-9
    share = (vapor - other) / (one - other)
    assert share[0] == pytest.approx(share[1], rel=1e-9)
    assert 0.0 < share[0] < 1.0
    # the same place as a point where C + 1 phases meet
    kinds = np.array([LIQUID, LIQUID, VAPOR], dtype=np.int8)
    point = invariant_point(model, "P", 1e5, 1.01 * T, np.stack([one, other, vapor]) * 0.98 + 0.01, kinds)
    assert point.T == pytest.approx(T, rel=1e-9)
    assert np.abs(point.x - np.stack([one, other, vapor])).max() < 1e-8
    by_T = invariant_point(model, "T", point.T, 1.05e5, point.x, kinds)
    assert by_T.P == pytest.approx(1e5, rel=1e-8)


def test_the_vapor_answers_to_its_liquid_as_differences_say():
    model, x = liquids(1.0, 0.9), np.array([0.3, 0.7])
    point = bubble_at_P(model, np.array([1e5]), x[None])
    slope = azeotrope.vapor_response(model, point.T[0], 1e5, "P", x[None], point.incipient[0])
    h = 1e-5
    up, down = (bubble_at_P(model, np.array([1e5]), (x + s * h * np.array([1.0, -1.0]))[None]).incipient[0] for s in (1.0, -1.0))
    np.testing.assert_allclose(slope @ [1.0, -1.0], (up - down) / (2.0 * h), rtol=1e-6)
    K = azeotrope.volatilities(model, point.T[0], 1e5, x[None], point.incipient[0])
    np.testing.assert_allclose(K, point.incipient[0] / x, rtol=1e-9)


def test_interior_points_fill_a_simplex():
    for count in (1, 2, 3, 4):
        points = azeotrope.interior_points(count, 5)
        np.testing.assert_allclose(points.sum(axis=1), 1.0, atol=1e-9)
        assert (points > 0.0).all()
        assert len(np.unique(points, axis=0)) == len(points)


# ---- binodals ----


def test_a_binodal_runs_from_a_side_to_its_plait_point():
    model, T, P = three_liquids(np.array([[0, 2.6, 0.2], [2.4, 0, 0.3], [0.1, 0.2, 0]])), 320.0, 5e5
    state = flash(model, np.array([T]), np.array([P]), np.array([[0.45, 0.45, 0.1]]))
    assert state.n_phases[0] == 2
    branch = binodal.follow(model, T, P, state.x[0, :2])
    assert len(branch.ties) > 20
    assert len(branch.plaits) == 1
    apart = [np.abs(ln_f(model, T, P, tie[0], LIQUID) - ln_f(model, T, P, tie[1], LIQUID)) for tie in branch.ties]
    assert np.nanmax(np.where(branch.ties.min(axis=1) > 1e-8, apart, 0.0)) < 1e-8
    # on the way to the plait point both liquids become one
    distance = np.abs(branch.ties[:, 0] - branch.ties[:, 1]).max(axis=1)
    nearest = np.abs(branch.ties.mean(axis=1) - branch.plaits[0]).max(axis=1).argmin()
    assert distance[nearest] == distance.min() < 0.1
    # flashes between its liquids give its liquids
    some = branch.ties[distance > 0.2][::4]
    states = flash(model, np.full(len(some), T), np.full(len(some), P), some.mean(axis=1))
    assert (states.n_phases == 2).all()
    for tie, x in zip(some, states.x[:, :2], strict=True):
        assert min(np.abs(tie - x).max(), np.abs(tie[::-1] - x).max()) < 1e-7
    parts, beyond = binodal.stable_parts(model, T, P, branch)
    assert len(parts) == 1
    assert len(beyond) == 0


# ---- saturation ----


@pytest.mark.parametrize("name", EQUATIONS)
def test_bubble_and_dew_points_close_at_both_specifications(name):
    model, z = gas(name), FEED[None]
    T = np.array([260.0])
    for at_T, at_P, kinds in ((bubble_at_T, bubble_at_P, (LIQUID, VAPOR)), (dew_at_T, dew_at_P, (VAPOR, LIQUID))):
        point = at_T(model, T, z)
        assert point.found[0]
        apart = ln_f(model, T[0], point.P[0], FEED, kinds[0]) - ln_f(model, T[0], point.P[0], point.incipient[0], kinds[1])
        assert np.abs(apart).max() < 1e-9
        assert at_P(model, point.P, z).T[0] == pytest.approx(T[0], rel=1e-9)


@pytest.mark.parametrize(
    ("kind", "known", "value"), [("bubble", "T", 260.0), ("dew", "T", 330.0), ("bubble", "P", 20e5), ("dew", "P", 20e5)]
)
def test_points_found_by_flashes_are_those_of_newtons_method(kind, known, value):
    mixture, given, z = warm(gas("PR"), 3), np.array([value]), FEED[None]
    direct = {"bubbleT": bubble_at_T, "bubbleP": bubble_at_P, "dewT": dew_at_T, "dewP": dew_at_P}[kind + known](
        mixture.model, given, z
    )
    by_flashes = scanned(mixture, kind, known, given, z)
    assert (by_flashes.T[0], by_flashes.P[0]) == pytest.approx((direct.T[0], direct.P[0]), rel=1e-8)


def test_a_feed_of_two_liquids_boils_where_three_phases_meet():
    mixture = warm(liquids(2.5, 2.2), 2)
    z = np.array([[0.5, 0.5], [0.45, 0.55]])
    point = split_bubble(mixture, "P", np.full(2, 1e5), z)
    assert point.T[0] == pytest.approx(point.T[1], rel=1e-9)
    three = flash(mixture.model, point.T * (1.0 - 1e-7), np.full(2, 1e5), z)
    assert (three.kinds[:, :2] == LIQUID).all()
    none = split_bubble(warm(liquids(1.0, 0.9), 2), "P", np.array([1e5]), np.array([[0.5, 0.5]]))
    assert not none.found[0]


@pytest.mark.parametrize("name", ["PR", "PC-SAFT"])
@pytest.mark.parametrize("T", [250.0, 300.0])
def test_boiling_curves_end_in_critical_points(name, T):
    model = MODELS[name]().select([1, 3])
    start = bubble_at_T(model, np.array([T]), np.array([[0.02, 0.98]]))
    curve = boiling_curve.follow(model, "T", T, T, float(start.P[0]), 0.02, float(start.incipient[0, 0]), 1.0)
    assert curve.x[-1] == curve.y[-1]
    direct = critical_points(model, np.array([curve.x[-1], 1.0 - curve.x[-1]]))
    assert min(abs(p.T / T - 1.0) + abs(p.P / curve.P[-1] - 1.0) for p in direct) < 1e-7


# ---- specified flashes ----


@pytest.mark.parametrize("name", EQUATIONS)
@pytest.mark.parametrize(("known", "property_"), [("P", "H"), ("P", "S"), ("T", "V"), ("P", "U"), ("T", "vapor_fraction")])
def test_a_specified_flash_comes_back_to_the_state(name, known, property_):
    mixture = warm(gas(name), 3)
    T, P = np.array([220.0, 280.0, 350.0, 420.0]), np.array([10e5, 30e5, 20e5, 5e5])
    z = np.tile(FEED, (4, 1))
    states = flash(mixture.model, T, P, z)
    target = mixture.total(property_, T, P, states)
    open_ = np.arange(4) if property_ != "vapor_fraction" else np.flatnonzero((target > 0.01) & (target < 0.99))
    back = flash_to(mixture, known, (T if known == "T" else P)[open_], property_, target[open_], z[open_])
    np.testing.assert_allclose(back.T, T[open_], rtol=1e-8)
    np.testing.assert_allclose(back.P, P[open_], rtol=1e-7)


@pytest.mark.parametrize("names", [("U", "V"), ("H", "S"), ("S", "V")])
def test_neither_temperature_nor_pressure_given(names):
    mixture, T, P, z = warm(gas("PR"), 3), np.array([280.0]), np.array([30e5]), FEED[None]
    states = flash(mixture.model, T, P, z)
    wanted = Specification(mixture, {n: mixture.total(n, T, P, states) for n in names}, z)
    inner, outer, unknown = pairing(set(names))

    def held(rows, at, index=slice(None)):
        known = {unknown: at}
        return (
            flash_to(mixture, unknown, at, inner, wanted.given[inner][:1].repeat(len(at)), np.repeat(z, len(at), axis=0))
            if known
            else None
        )

    back = flash_without(wanted, held, outer, unknown)
    assert (back.T[0], back.P[0]) == pytest.approx((280.0, 30e5), rel=1e-8)


@pytest.mark.parametrize("name", ["PR", "PC-SAFT"])
def test_a_pure_component_is_solved_between_its_phases(name):
    pure = warm(MODELS[name]().select([2]), 1)
    T, one = np.array([300.0]), np.ones((1, 1))
    P = bubble_at_T(pure.model, T, one).P
    evaluated = [pure.model.at(T, P).evaluate(one, kind) for kind in (VAPOR, LIQUID)]
    V, U = ([value_of(n, e, pure.ideal(T, one), T, P, one)[0] for e in evaluated] for n in ("V", "U"))
    mixed = {"V": np.array([0.3 * V[0] + 0.7 * V[1]]), "U": np.array([0.3 * U[0] + 0.7 * U[1]])}
    found = saturated(Specification(pure, mixed, one))
    assert (found.T[0], found.P[0]) == pytest.approx((300.0, P[0]), rel=1e-9)
    assert found.result.amount[0, 0] == pytest.approx(0.3, rel=1e-8)


def test_everything_at_once_is_as_exact_as_its_equations():
    mixture, z = warm(gas("PR"), 3), FEED[None]
    state = flash(mixture.model, np.array([280.0]), np.array([30e5]), z)
    n = state.amount[:, :2, None] * state.x[:, :2]
    kinds = np.array([[VAPOR, LIQUID]], dtype=np.int8)
    target = mixture.total("H", np.array([280.0]), np.array([30e5]), state)
    rough = n * np.array([1.05, 0.97])[None, :, None]
    wanted = Specification(mixture, {"P": np.array([30e5]), "H": target}, z)
    found = solve_together(wanted, np.array([283.0]), np.array([30e5]), rough, kinds)
    assert found.sound[0]
    assert found.T[0] == pytest.approx(280.0, rel=1e-10)
    np.testing.assert_allclose(found.n, n, rtol=1e-8)
    # the first phase without amount is a dew or bubble point
    bubble = bubble_at_T(mixture.model, np.array([260.0]), z)
    phases = np.stack([bubble.incipient, z], axis=1)
    edge = Specification(mixture, {"T": np.array([260.0]), INCIPIENT: np.ones(1)}, z)
    assert solve_together(edge, np.array([260.0]), bubble.P * 1.02, phases, kinds).P[0] == pytest.approx(bubble.P[0], rel=1e-9)


def test_balance_equations_have_the_derivatives_they_say():
    model = gas("PC-SAFT")
    state = flash(model, np.array([280.0]), np.array([30e5]), FEED[None])
    bound, n = model.at(np.array([280.0]), np.array([30e5])), state.amount[:, :2, None] * state.x[:, :2]
    kinds = np.array([[VAPOR, LIQUID]], dtype=np.int8)
    f, jacobian = balance_equations(evaluate_all(bound, n, kinds), n, FEED[None])
    assert np.abs(f).max() < 1e-9
    h = 1e-6
    for j in range(6):
        step = np.zeros(6)
        step[j] = h
        up, down = (n * np.exp(s * step.reshape(1, 2, 3)) for s in (1.0, -1.0))
        slope = (balance_equations(evaluate_all(bound, up, kinds), up, FEED[None])[0] - balance_equations(evaluate_all(bound, down, kinds), down, FEED[None])[0]) / (2.0 * h)  # fmt: skip
        np.testing.assert_allclose(jacobian[0, :, j], slope[0], rtol=1e-5, atol=1e-7)


# ---- restricted ----


def test_one_kind_of_phase_alone():
    mixture, T, P, z = warm(gas("PR"), 3), np.array([280.0]), np.array([30e5]), FEED[None]
    both, liquid, vapor = (restricted_flash(mixture, T, P, z, phases) for phases in ("VL", "L", "V"))
    free = flash(mixture.model, T, P, z)
    np.testing.assert_allclose(both.amount[0, :2], free.amount[0, :2], rtol=1e-8)
    assert (liquid.n_phases[0], vapor.n_phases[0]) == (1, 1)
    assert liquid.tm[0] < -1e-3 > vapor.tm[0]
    assert OneKind(mixture.model, LIQUID).at(T, P).describe(z).Z[0] == mixture.model.at(T, P).describe(z, LIQUID).Z[0]


# ---- borders of three phases ----


def wet():
    """Water-like, propane and n-heptane."""
    pick = [5, 2, 4]
    return PengRobinson(
        TC[pick],
        PC[pick],
        OMEGA[pick],
        np.where(KIJ[np.ix_(pick, pick)] != 0.0, 0.5, 0.0) + 0.48 * np.array([[0, 1, 0], [1, 0, 0], [0, 0, 0]]),
    )


def test_a_border_of_three_phases_is_where_the_third_is_about_to_form():
    model, z = wet(), np.array([0.3, 0.4, 0.3])
    T, P = 330.0, 9e5
    state = flash(model, np.array([T]), np.array([P]), z[None])
    assert state.n_phases[0] == 3
    while state.n_phases[0] == 3 and state.amount[0, 0] > 0.02:
        P *= 1.03
        before, state = state, flash(model, np.array([T]), np.array([P]), z[None])
    last, at = (state, P) if state.n_phases[0] == 3 else (before, P / 1.03)
    start = three_phase_line.start_beside(model, z, T, at, last)
    assert start is not None
    line = three_phase_line.follow(model, z, start, Limits(2e5, 60e5, 270.0, 420.0))
    assert len(line.T) > 5
    for k in range(0, len(line.T), 4):
        parts = [ln_f(model, line.T[k], line.P[k], x, STABLE) for x in line.x[k]]
        assert max(np.abs(parts[0] - p).max() for p in parts[1:]) < 1e-8
        overall = line.beta[k] * line.x[k, 0] + (1.0 - line.beta[k]) * line.x[k, 1]
        np.testing.assert_allclose(overall, z, atol=1e-9)
    middle = len(line.T) // 2
    sides = flash(model, np.full(2, line.T[middle]), line.P[middle] * np.array([0.995, 1.005]), np.tile(z, (2, 1)))
    assert set(sides.n_phases) == {2, 3}


def test_a_survey_and_its_lines_agree():
    model, limits = gas("PR"), Limits(1e5, 2e7, 150.0, 600.0)
    found = phase_boundaries(model, FEED, limits)
    T, P = found.survey.states
    direct = flash(model, T[::7], P[::7], np.tile(FEED, (len(T[::7]), 1)))
    assert (direct.n_phases == found.survey.result.n_phases[::7]).all()
    assert len(found.survey.edges) > len(T)


# ---- answers made of phases, and parameters ----


def test_phases_solved_elsewhere_become_a_result_that_is_tested():
    model, T, P = gas("PR"), np.array([280.0]), np.array([30e5])
    free = flash(model, T, P, FEED[None])
    kinds = np.array([[LIQUID, VAPOR]], dtype=np.int8)
    made = result_of_phases(model, T, P, FEED[None], free.amount[:, [1, 0]], free.x[:, [1, 0]], kinds, np.zeros(1))
    np.testing.assert_allclose(made.amount[:, :2], free.amount[:, :2], rtol=1e-12)
    assert made.kinds[0, :2].tolist() == [VAPOR, LIQUID]
    assert made.tm[0] > -1e-9
    alone = result_of_phases(
        model, T, P, FEED[None], np.ones((1, 1)), FEED[None, None], np.array([[LIQUID]], dtype=np.int8), np.zeros(1)
    )
    assert alone.tm[0] < -1e-3


@pytest.mark.parametrize("name", ["PR", "PC-SAFT"])
def test_a_shift_of_a_parameter_moves_ln_phi_by_its_slope(name):
    def other(h):
        made = MODELS[name]()
        kij = made.kij.copy()
        kij[1, 2] += h
        kij[2, 1] += h
        made.kij = kij
        return made.select(GAS)

    shift = Shift(other(-1e-5), other(1e-5), 1e-5)
    T, P = np.array([280.0]), np.array([30e5])
    slope = (shift.above.at(T, P).ln_phi(FEED[None], LIQUID) - shift.below.at(T, P).ln_phi(FEED[None], LIQUID)) / (2.0 * shift.step)
    wide = (other(1e-3).at(T, P).ln_phi(FEED[None], LIQUID) - other(-1e-3).at(T, P).ln_phi(FEED[None], LIQUID)) / 2e-3
    np.testing.assert_allclose(slope, wide, rtol=1e-4, atol=1e-5)
    assert np.abs(slope).max() > 0.1


@pytest.mark.parametrize("name", EQUATIONS)
def test_a_solid_beside_any_model_takes_part_in_every_flash(name):
    """n-heptane as a solid melting at 250 K beside methane and propane."""
    fluid = gas(name)
    mixture = warm(with_solids(fluid, [PureSolid(2, 250.0, 14e3, 120e-6, 40.0)]), 3)
    T, P, z = np.array([200.0]), np.array([5e5]), FEED[None]
    state = flash(mixture.model, T, P, z)
    assert state.kinds[0, state.n_phases[0] - 1] == 2
    x = state.x[0, 0]
    solid = mixture.model.at(T, P).solids()[0][1][0]
    kind = state.kinds[0, 0]
    assert ln_f(fluid, 200.0, 5e5, x, kind)[2] == pytest.approx(solid, abs=1e-9)
    back = flash_to(mixture, "P", P, "H", mixture.total("H", T, P, state), z)
    assert back.T[0] == pytest.approx(200.0, rel=1e-9)
