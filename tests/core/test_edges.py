"""At the edge of what arithmetic can tell: roots at low pressure, phases beside phases, thin regions, curves to their critical points."""

from decimal import Decimal, getcontext

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.core.equilibrium import boiling_curve
from sleetfield.core.equilibrium.critical import critical_points
from sleetfield.core.equilibrium.flash import flash
from sleetfield.core.equilibrium.multiphase import gibbs_energy
from sleetfield.core.equilibrium.rachford_rice import brackets, k_values, split
from sleetfield.core.equilibrium.saturation import bubble_at_T
from sleetfield.core.equilibrium.stability import UNSTABLE, feed_stability, further_phase
from sleetfield.core.models.contract import LIQUID, STABLE, VAPOR
from sleetfield.core.models.peng_robinson import PengRobinson
from sleetfield.core.models.soave_redlich_kwong import SoaveRedlichKwong

from .conftest import KIJ, MODELS, OMEGA, PC, TC, cubic

EQUATIONS = {"PR": PengRobinson, "SRK": SoaveRedlichKwong}


def pair(kind, i, j):
    """Two of the test components."""
    two = [i, j]
    return kind(TC[two], PC[two], OMEGA[two], KIJ[np.ix_(two, two)])


def liquid_root(A, B, delta1, delta2):
    """The smallest root above B of the cubic, to forty digits, by bisection in decimal arithmetic."""
    getcontext().prec = 60
    s, p = Decimal(float(delta1 + delta2)), Decimal(float(delta1 * delta2))
    a, b = Decimal(float(A)), Decimal(float(B))
    c2, c1, c0 = (s - 1) * b - 1, a + (p - s) * b * b - s * b, -b * (a + p * (b + b * b))

    def f(z):
        return ((z + c2) * z + c1) * z + c0

    low = high = b
    while f(high) < 0:
        low, high = high, high * Decimal("1.01")
    for _ in range(140):
        middle = (low + high) / 2
        low, high = (middle, high) if f(middle) < 0 else (low, middle)
    return float((low + high) / 2)


@pytest.mark.parametrize("name", EQUATIONS)
@pytest.mark.parametrize("P", [1e-12, 1e-8, 1e-4, 1.0, 1e3])
def test_the_liquid_root_at_low_pressure_is_that_of_exact_arithmetic(name, P):
    model = cubic(EQUATIONS[name]).select([4])
    T = np.array([0.4, 0.5, 0.6]) * TC[4]
    bound = model.at(T, np.full(3, P))
    x = np.ones((3, 1))
    Z, kinds, _ = bound.describe(x, LIQUID)
    A, B, *_ = bound._mixture(x)
    exact = [liquid_root(a, b, model.delta1, model.delta2) for a, b in zip(A, B, strict=True)]
    assert (kinds == LIQUID).all()
    assert pytest.approx(exact, rel=1e-10) == Z
    assert bound.describe(x, VAPOR)[0] == pytest.approx(1.0, abs=2e-6 * P + 1e-9)  # a gas, ideal as the pressure goes to zero


@pytest.mark.parametrize("name", EQUATIONS)
def test_volumes_hardly_change_where_the_root_is_found_another_way(name):
    """Across the pressure at which the closed form gives way, liquid volumes are those of an incompressible liquid."""
    model = cubic(EQUATIONS[name]).select([4])
    P = np.geomspace(1e-3, 1e4, 60)
    Z = model.at(np.full(60, 250.0), P).describe(np.ones((60, 1)), LIQUID).Z
    assert Z / P == pytest.approx((Z / P)[-1], rel=1e-5)


@pytest.mark.parametrize("name", EQUATIONS)
def test_pure_saturation_down_to_a_trillionth_of_a_pascal(name):
    model = cubic(EQUATIONS[name]).select([4])
    T = np.linspace(0.2, 0.95, 26) * TC[4]
    r = bubble_at_T(model, T, np.ones((26, 1)))
    assert r.found.all()
    assert (np.diff(np.log(r.P)) > 0.0).all()
    # Clapeyron: the slope is that of the difference of enthalpies of both phases
    bound, x = model.at(T, r.P), np.ones((26, 1))
    liquid, vapor = bound.evaluate(x, LIQUID), bound.evaluate(x, VAPOR)
    slope = ((liquid.dT - vapor.dT) / (vapor.dP - liquid.dP))[:, 0] / r.P
    h = 1e-5 * T
    around = [bubble_at_T(model, T + s * h, np.ones((26, 1))).P for s in (-1.0, 1.0)]
    assert slope == pytest.approx(np.log(around[1] / around[0]) / (2.0 * h), rel=1e-5)


@pytest.mark.parametrize("name", EQUATIONS)
def test_no_further_phase_forms_beside_phases_at_equilibrium_and_one_does_beside_half_of_them(name):
    model = cubic(EQUATIONS[name])
    rng = np.random.default_rng(5)
    z, T, P = rng.dirichlet(np.ones(6), 40), rng.uniform(250.0, 400.0, 40), rng.uniform(5e5, 4e6, 40)
    r = flash(model, T, P, z)
    two = np.flatnonzero((r.n_phases == 2) & (r.amount[:, :2].min(axis=1) > 1e-3))
    assert two.size > 5
    bound = model.at(T[two], P[two])
    assert (further_phase(bound, z[two], [r.x[two, 0], r.x[two, 1]]).tm >= UNSTABLE).all()
    assert (further_phase(bound, z[two], [z[two]]).tm < UNSTABLE).all()


@pytest.mark.parametrize("name", list(MODELS))
def test_gibbs_energy_by_kinds_is_that_of_the_phases_asked_for(name):
    model = MODELS[name]()
    c = model.n_components
    rng = np.random.default_rng(3)
    n = rng.dirichlet(np.ones(c), (8, 2)) * rng.uniform(0.2, 1.0, (8, 2, 1))
    bound = model.at(rng.uniform(280.0, 360.0, 8), np.full(8, 2e5))
    kinds = np.tile(np.array([VAPOR, LIQUID], dtype=np.int8), (8, 1))
    by_hand = np.zeros(8)
    for k in range(2):
        x = n[:, k] / n[:, k].sum(axis=1)[:, None]
        by_hand += (n[:, k] * (np.log(x) + bound.ln_phi(x, kinds[:, k]))).sum(axis=1)
    assert gibbs_energy(bound, n, kinds) == pytest.approx(by_hand, rel=1e-12)
    if name in ("PR", "SRK", "RK"):  # the stable root has the lower energy
        assert (gibbs_energy(bound, n) <= by_hand + 1e-12).all()


@pytest.mark.parametrize("name", EQUATIONS)
def test_feeds_close_to_their_dew_and_bubble_points_are_told_apart(name):
    """Ever closer to the boundary from inside, down to where rounding ends it."""
    model = pair(EQUATIONS[name], 2, 3)
    z = np.array([[0.999, 0.001], [0.5, 0.5], [1e-5, 1.0 - 1e-5]])
    T = np.full(3, 300.0)
    P = bubble_at_T(model, T, z).P
    for away in (1e-2, 1e-3, 1e-4):
        inside = P * (1.0 - away * np.array([1e-3, 1.0, 1e-4]))
        bound = model.at(T, inside)
        d = np.log(z) + bound.ln_phi(z)
        ln_k = model.ln_saturation_guess(T) - np.log(inside)[:, None]
        assert (feed_stability(bound, z, d, ln_k).tm < UNSTABLE).all()
        assert (flash(model, T, inside, z).n_phases == 2).all()


@pytest.mark.parametrize("given", ["T", "P"])
def test_equations_of_the_boiling_curve_have_the_derivatives_they_say(given):
    model = pair(PengRobinson, 1, 3)
    curve = boiling_curve._Curve(model, given, 300.0 if given == "T" else 40e5)
    v = np.array([1.2, -0.9, np.log(50e5) if given == "T" else np.log(290.0), -1.1])
    _, jacobian = curve._equations(v)
    for k in range(4):
        h = np.zeros(4)
        h[k] = 1e-6
        slope = (curve._equations(v + h)[0] - curve._equations(v - h)[0]) / 2e-6
        assert jacobian[:3, k] == pytest.approx(slope[:3], rel=2e-6, abs=1e-8)


@pytest.mark.parametrize("name", EQUATIONS)
@pytest.mark.parametrize("T", [200.0, 260.0, 330.0, 400.0])
def test_a_boiling_curve_is_followed_to_the_critical_point_of_the_direct_search(name, T):
    model = pair(EQUATIONS[name], 1, 3)
    x = 0.02
    start = bubble_at_T(model, np.array([T]), np.array([[x, 1.0 - x]]))
    curve = boiling_curve.follow(model, "T", T, T, float(start.P[0]), x, float(start.incipient[0, 0]), 1.0)
    assert curve.x[-1] == curve.y[-1]
    direct = critical_points(model, np.array([curve.x[-1], 1.0 - curve.x[-1]]))
    assert min(abs(p.T / T - 1.0) + abs(p.P / curve.P[-1] - 1.0) for p in direct) < 1e-8
    bound = model.at(curve.T[:-1], curve.P[:-1])
    liquid, vapor = (np.stack([part[:-1], 1.0 - part[:-1]], axis=1) for part in (curve.x, curve.y))
    ln_f = [np.log(w) + bound.ln_phi(w, kind) for w, kind in ((liquid, LIQUID), (vapor, VAPOR))]
    assert np.abs(ln_f[0] - ln_f[1]).max() < 1e-8


def test_models_without_a_volume_equation_have_no_curve_to_follow():
    model = (
        MODELS["NRTL and ideal gas"]() if "NRTL and ideal gas" in MODELS else next(m() for n, m in MODELS.items() if "ideal" in n)
    )
    assert boiling_curve.follow(model, "T", 350.0, 350.0, 1e5, 0.4, 0.5, 1.0).x.size == 0


def test_trace_compositions_of_the_trial_phases_follow_the_feed():
    """Whatever the feed's traces, the stable answer is the one with the component left out."""
    model = cubic(PengRobinson)
    z = np.array([[0.0, 0.3, 0.3, 0.2, 0.2, 0.0]])
    with_traces = np.array([[1e-14, 0.3, 0.3, 0.2, 0.2, 1e-14]])
    a, b = (flash(model, np.array([300.0]), np.array([2e6]), w / w.sum()) for w in (z, with_traces))
    assert a.n_phases == b.n_phases
    assert b.amount[0, :2] == pytest.approx(a.amount[0, :2], rel=1e-9)
    assert STABLE not in b.kinds[0, : b.n_phases[0]]


@pytest.mark.parametrize("ln_k", [-2000.0, -400.0, 400.0, 2000.0])
def test_an_absent_component_of_any_volatility_leaves_a_split_alone(ln_k):
    """e⁻²⁰⁰⁰ is nothing in floating point, and an absent component is 1e-100: together they must not count."""
    z, ln_pair = np.array([[0.4, 0.6]]), np.log([[3.0, 0.2]])
    more = np.append(z, [[1e-100]], axis=1)
    plain = split(z, k_values(z, ln_pair))
    wide = split(more, k_values(more, np.append(ln_pair, [[ln_k]], axis=1)))
    possible = brackets(more, k_values(more, np.append(np.log([[2.0, 2.0]]), [[ln_k]], axis=1)))[1]
    np.testing.assert_allclose(wide.vapor, plain.vapor, rtol=1e-12)
    np.testing.assert_allclose(wide.x[:, :2], plain.x, rtol=1e-12)
    assert np.isfinite(np.log(wide.y)).all()
    assert not possible[0]  # K-values of 2 alone split nothing


def test_heavy_components_that_are_absent_or_hardly_dissolve():
    """Nonacosane and octacosane beside water and ice-cold hydrocarbons: K-values beyond any number."""
    cold = sl.System(["nitrogen", "methylcyclopentane", "water", "n-nonacosane", "diethyl ether", "propane"], eos="PR", kij="zero")
    for z in ([0.0, 0.2, 0.3, 0.0, 0.3, 0.2], [1e-10, 0.2, 0.2, 0.1, 0.3, 0.2], [0.3, 0.1, 0.3, 1e-12, 0.1, 0.2]):
        states = cold.flash(z, T=np.linspace(140.0, 200.0, 60), P=1e5)
        assert not states.failed.any()
        assert states.result.stable.all()
        balance = np.nansum(states.result.amount[:, :, None] * states.result.x, axis=1) - np.array(z) / sum(z)
        assert np.abs(balance).max() < 1e-14


@pytest.mark.parametrize("seed", range(4))
def test_no_split_is_missed_next_to_critical_points(seed):
    """Two light substances at states about the critical point of one of them, against a dense grid of trial phases."""
    rng = np.random.default_rng(seed)
    names = [c.name for c in sl.databank() if 60.0 < c.Tc < 480.0]
    grid = np.concatenate([np.geomspace(1e-7, 0.02, 100), np.linspace(0.02, 0.98, 300)[1:-1], 1.0 - np.geomspace(1e-7, 0.02, 100)])
    points = np.stack([grid, 1.0 - grid], axis=1)
    for _ in range(12):
        two = [str(n) for n in rng.choice(names, 2, replace=False)]
        system = sl.System(two, eos=str(rng.choice(["PR", "SRK"])), kij={tuple(two): float(rng.uniform(-0.05, 0.15))})
        model, of = system.phase_model, rng.integers(2, size=20)
        T, P = model.Tc[of] * rng.uniform(0.95, 1.02, 20), model.Pc[of] * np.exp(rng.uniform(-0.5, 0.3, 20))
        x = np.where(rng.random(20) < 0.5, rng.random(20), 10.0 ** rng.uniform(-4.0, -0.3, 20))
        z = np.stack([x, 1.0 - x], axis=1)
        result = flash(model, T, P, z)
        with np.errstate(all="ignore"):
            first = np.maximum(result.x[:, 0], 1e-100)
            plane = np.log(first) + model.at(T, P).ln_phi(first)
            many = model.at(np.repeat(T, len(points)), np.repeat(P, len(points)))
            ln_phi = many.ln_phi(np.tile(points, (20, 1))).reshape(20, len(points), 2)
            distance = (points * (np.log(points) + ln_phi - plane[:, None, :])).sum(axis=2).min(axis=1)
        assert (distance > -1e-7).all(), (two, system.eos)


def test_trial_phases_between_two_others_find_the_light_liquid():
    """Next to the critical point of oxygen a third phase lies between vapor and heavy liquid, and no pure trial phase leads there."""
    kij = np.array([[0.0, 0.07049114], [0.07049114, 0.0]])
    model = SoaveRedlichKwong(np.array([154.58, 304.21]), np.array([50.43e5, 73.83e5]), np.array([0.0222, 0.2236]), kij)
    T, P = np.array([152.4356]), np.array([4290372.5])
    bound = model.at(T, P)
    k = np.log([[0.99276, 0.00724]]) - np.log([[0.23633, 0.76367]])
    with np.errstate(all="ignore"):
        for _ in range(200):
            s = split(np.array([[0.5, 0.5]]), np.exp(k))
            k = bound.ln_phi(s.x) - bound.ln_phi(s.y)
        found = further_phase(bound, np.array([[0.5, 0.5]]), [s.y, s.x])
    assert found.tm[0] < -1e-3
    assert 0.03 < found.trial[0, 1] < 0.12
    result = flash(model, T, P, np.array([[0.5, 0.5]]))
    assert result.converged[0]
    assert result.stable[0]


@pytest.mark.parametrize("tau", [(7.0, -2.71184993), (6.5, -2.6), (7.0, -2.6), (-2.71184993, 7.0)])
def test_a_split_that_lies_on_one_side_of_a_binary_is_found_from_beyond_it(tau):
    """Two liquids at 0.92 and 0.99: no trial phase that is pure, or half of each, leads to the first of them."""
    pair = sl.PairParameters(a12=tau[0], a21=tau[1], alpha=0.29608386)
    system = sl.System(["ethylbenzene", "o-xylene"], liquid="NRTL", parameters={("ethylbenzene", "o-xylene"): pair})
    x = 0.5 * (1.0 - np.cos(np.pi * (np.arange(3000) + 0.5) / 3000))
    points = np.stack([x, 1.0 - x], axis=1)
    ln_phi = system.phase_model.at(np.full(3000, 320.0), np.full(3000, 50e5)).ln_phi(points)
    feeds = np.array([0.005, 0.013, 0.02, 0.03, 0.05, 0.2, 0.5, 0.8, 0.95, 0.97, 0.98, 0.987, 0.995])
    states = system.flash(np.stack([feeds, 1.0 - feeds], axis=1), T=320.0, P=50e5)
    assert (states.n_phases == 2).any()
    for first in states.result.x[:, 0]:
        plane = np.log(first) + system.phase_model.at(np.array([320.0]), np.array([50e5])).ln_phi(first[None])[0]
        assert (points * (np.log(points) + ln_phi - plane)).sum(axis=1).min() > -1e-7


COLD_AND_WET = [
    ("PR", ["o-dichlorobenzene", "fluoromethane", "n-undecane", "water", "diisopropyl ether", "n-hexane", "methyl isobutyl ketone", "1-octanol"]),
    ("PR", ["water", "n-dodecane", "ethane", "methane", "2-butanol"]),
    ("SRK", ["water", "methyl acrylate", "n-nonacosane", "1,2-butadiene", "ethylene", "acetophenone"]),
    ("PR", ["water", "tert-butyl mercaptan", "isobutylene", "n-hexane", "m-cresol", "n-undecane", "isobutanol"]),
]  # fmt: skip


@pytest.mark.parametrize(("eos", "names"), COLD_AND_WET)
def test_what_a_phase_has_next_to_nothing_of_holds_nothing_up(eos, names):
    """Cold water has 10⁻⁵⁰ and less of heavy hydrocarbons: their fugacities are equal all the same, and don't let a further phase seem to form."""
    rng = np.random.default_rng(12)
    system = sl.System(names, eos=eos)
    z = rng.dirichlet(np.ones(len(names)), size=60)
    states = system.flash(z, T=rng.uniform(150.0, 260.0, 60), P=10.0 ** rng.uniform(5.0, 7.5, 60))
    assert not states.failed.any()
    assert states.result.converged.all()
    assert states.result.stable.all()
    alone = system.flash(z[7], T=states.T[7], P=states.P[7])
    assert alone.batch.result.amount[0] == pytest.approx(
        states.result.amount[7], abs=1e-9, nan_ok=True
    )  # whatever stands beside it
    # from outside: equal fugacities of what two phases have more than next to nothing of
    r = states.result
    bound = system.phase_model.at(states.T, states.P)
    for k in range(1, 3):
        rows = np.flatnonzero(states.n_phases > k)
        first, other = r.x[rows, 0], r.x[rows, k]
        ln_f = [np.log(x) + bound.rows(rows).ln_phi(x) for x in (np.maximum(first, 1e-100), np.maximum(other, 1e-100))]
        seen = (first > 1e-90) & (other > 1e-90)
        assert np.abs(np.where(seen, ln_f[0] - ln_f[1], 0.0)).max(initial=0.0) < 1e-6
