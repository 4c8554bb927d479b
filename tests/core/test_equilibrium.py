"""Flash, stability, saturation, envelope and critical points, for any model behind the contract."""

import numpy as np
import pytest
from hypothesis import given, settings, strategies as st

from sleetfield.core.constants import R
from sleetfield.core.equilibrium import envelope as tracing, envelope_starts
from sleetfield.core.equilibrium.critical import critical_points
from sleetfield.core.equilibrium.flash import CONVERGED, flash
from sleetfield.core.equilibrium.joining import MAX_PHASES
from sleetfield.core.equilibrium.line_equations import Limits, Tracer
from sleetfield.core.equilibrium.phase_boundaries import phase_boundaries
from sleetfield.core.equilibrium.quality_lines import quality_lines
from sleetfield.core.equilibrium.rachford_rice import split
from sleetfield.core.equilibrium.saturation import bubble_at_P, bubble_at_T, dew_at_P, dew_at_T
from sleetfield.core.equilibrium.stability import UNSTABLE, pure_starts, stability
from sleetfield.core.models.contract import LIQUID, STABLE, VAPOR
from sleetfield.core.models.liquid_and_vapor import LiquidAndVapor
from sleetfield.core.models.peng_robinson import PengRobinson

from .conftest import KIJ, MODELS, OMEGA, PC, TC, raoult
from .independent import PlainCubic

seeds = st.integers(0, 2**32 - 1)


def hydrocarbons(name="PR"):
    """Nitrogen to n-heptane, without the water-like component."""
    return MODELS[name]().select(range(5))


def random_feeds(c, count, seed, low=0.5):
    return np.random.default_rng(seed).dirichlet(np.full(c, low), size=count)


@given(seeds, st.integers(2, 8))
@settings(max_examples=60, deadline=None)
def test_rachford_rice_balances_with_any_k_values(seed, c):
    rng = np.random.default_rng(seed)
    z = np.maximum(rng.dirichlet(np.full(c, 0.5), size=20), 1e-12)
    z /= z.sum(axis=1)[:, None]
    ln_k = rng.normal(0.0, rng.choice([1e-3, 1.0, 20.0]), size=(20, c))
    ln_k[:, 0], ln_k[:, 1] = np.abs(ln_k[:, 0]) + 1e-6, -np.abs(ln_k[:, 1]) - 1e-6
    s = split(z, np.exp(ln_k))
    assert (s.x > 0).all()
    assert (s.y > 0).all()
    np.testing.assert_allclose(s.vapor + s.liquid, 1.0, atol=1e-12)
    inside = (s.vapor > 0) & (s.liquid > 0)
    total = s.vapor[:, None] * s.y + s.liquid[:, None] * s.x
    np.testing.assert_allclose(total[inside], z[inside], rtol=1e-9, atol=1e-13)
    np.testing.assert_allclose(np.log(s.y / s.x)[inside], ln_k[inside], rtol=1e-6, atol=1e-9)


def test_rachford_rice_keeps_the_precision_of_a_trace_phase():
    """1 - β = 1e-12 with components that hardly vaporize: the trace of liquid is still exact."""
    x = np.array([[0.2, 0.3, 0.5]])
    K = np.array([[8.0, 1e-5, 1e-8]])
    K[0, 0] = (1.0 - 0.3e-5 - 0.5e-8) / 0.2
    z = (1.0 - 1e-12) * K * x + 1e-12 * x
    s = split(z, K)
    assert s.liquid[0] == pytest.approx(1e-12, rel=1e-3)
    np.testing.assert_allclose(s.x, x, rtol=1e-3)


@pytest.mark.parametrize("name", list(MODELS))
def test_flash_balances_converges_and_equals_fugacities(name):
    model = MODELS[name]()
    c, count = model.n_components, 200
    rng = np.random.default_rng(4)
    z = random_feeds(c, count, 2)
    T = rng.uniform(200.0, 500.0, count)
    P = 10.0 ** rng.uniform(4, 7.2, count)
    if isinstance(model, LiquidAndVapor):
        # around the bubble point, where there are two phases and the liquid model means something
        P = np.clip(np.nan_to_num(bubble_at_T(model, T, z).P, nan=1e5) * rng.uniform(0.3, 1.05, count), 1.0, model.P_limit)
    result = flash(model, T, P, z)
    assert result.converged.all()
    assert np.isfinite(result.amount[:, 0]).all()
    np.testing.assert_allclose(np.nansum(result.amount[:, :, None] * result.x, axis=1), z, atol=1e-12)
    two = np.flatnonzero(result.n_phases == 2)
    assert two.size > count // 12
    with np.errstate(all="ignore"):
        bound = model.at(T[two], P[two])
        ln_f = [np.log(result.x[two, k]) + bound.ln_phi(np.maximum(result.x[two, k], 1e-100)) for k in (0, 1)]
    present = z[two] > 1e-30
    assert np.abs(np.where(present, ln_f[0] - ln_f[1], 0.0)).max() < 3 * CONVERGED
    assert (result.Z[two, 0] >= result.Z[two, 1]).all()


@pytest.mark.parametrize("name", ["PR", "SRK"])
def test_flash_agrees_with_an_independent_calculation(name):
    model, plain = hydrocarbons(name), PlainCubic(name, TC[:5], PC[:5], OMEGA[:5], KIJ[:5, :5])
    rng = np.random.default_rng(8)
    z = random_feeds(5, 200, 9, low=2.0)
    T, P = rng.uniform(220.0, 350.0, 200), 10.0 ** rng.uniform(5, 6.7, 200)
    result = flash(model, T, P, z)
    compared = 0
    for i in np.flatnonzero((result.n_phases == 2) & (result.kinds[:, 0] == VAPOR) & (result.kinds[:, 1] == LIQUID))[:25]:
        beta = result.amount[i, 0]
        if not 1e-4 < beta < 1 - 1e-4:
            continue
        K = result.x[i, 0] / result.x[i, 1]
        other_beta, other_K = plain.flash(T[i], P[i], z[i], K * rng.uniform(0.98, 1.02, 5), beta)
        assert other_beta == pytest.approx(beta, rel=1e-8)
        np.testing.assert_allclose(other_K, K, rtol=1e-8)
        compared += 1
    assert compared >= 15


@pytest.mark.parametrize("name", ["PR", "SRK"])
@pytest.mark.parametrize("kind", ["bubble", "dew"])
def test_saturation_agrees_with_an_independent_calculation(name, kind):
    model, plain = hydrocarbons(name), PlainCubic(name, TC[:5], PC[:5], OMEGA[:5], KIJ[:5, :5])
    z = np.array([[0.02, 0.18, 0.3, 0.3, 0.2]] * 5)
    T = np.array([200.0, 230.0, 260.0, 290.0, 320.0])
    found = (bubble_at_T if kind == "bubble" else dew_at_T)(model, T, z)
    rng = np.random.default_rng(1)
    for i in range(5):
        P, w = plain.saturation(kind, T[i], z[i], found.P[i] * 1.01, found.incipient[i] * rng.uniform(0.98, 1.02, 5))
        assert P == pytest.approx(found.P[i], rel=1e-8)
        np.testing.assert_allclose(w, found.incipient[i], rtol=1e-7, atol=1e-14)


@pytest.mark.parametrize(
    "name", [name for name in MODELS if name != "dissolved"]
)  # Henry's constants may fall with T: several solutions
def test_saturation_at_T_and_at_P_are_the_same_line(name):
    model = MODELS[name]()
    model = model if isinstance(model, LiquidAndVapor) else model.select([1, 2, 3, 4])
    z = random_feeds(model.n_components, 60, 21, low=3.0)
    T = np.random.default_rng(3).uniform(200.0, 290.0, 60)
    for at_T, at_P in ((bubble_at_T, bubble_at_P), (dew_at_T, dew_at_P)):
        first = at_T(model, T, z)
        usable = first.found & (first.P < 8e6) & (first.tm >= UNSTABLE)
        assert usable.sum() > 5
        back = at_P(model, first.P[usable], z[usable])
        np.testing.assert_allclose(back.T, T[usable], rtol=1e-8)


def test_just_inside_a_saturation_point_there_are_two_phases(eos):
    model = eos.select(range(5))
    z = random_feeds(5, 60, 31, low=1.0)
    T = np.random.default_rng(5).uniform(230.0, 400.0, 60)
    dew = dew_at_T(model, T, z)
    good = dew.found & (dew.tm >= UNSTABLE)
    assert good.sum() > 30
    for factor, phases in ((1.002, 2), (0.998, 1)):
        result = flash(model, T[good], dew.P[good] * factor, z[good])
        assert (result.n_phases == phases).all()


def test_pure_component_saturation_satisfies_equal_areas(eos):
    """Equal fugacity is Maxwell's construction: ∫P dV between the volumes equals P ΔV."""
    one = eos.select([2])
    T = np.array([250.0, 300.0, 350.0, 365.0])
    found = bubble_at_T(one, T, np.ones((4, 1)))
    for t, p in zip(T, found.P, strict=True):
        bound = one.at(np.array([t]), np.array([p]))
        Vg, Vl = (bound.describe(np.ones((1, 1)), k)[0][0] * R * t / p for k in (VAPOR, LIQUID))
        grid = np.geomspace(Vl, Vg, 40001)
        area = np.trapezoid(one.pressure(np.full(grid.size, t), grid, np.ones((grid.size, 1))), grid)
        assert area == pytest.approx(p * (Vg - Vl), rel=2e-6)


def test_one_component_flash_is_on_the_right_side(eos):
    one = eos.select([3])
    T = np.array([300.0, 350.0, 400.0])
    P = bubble_at_T(one, T, np.ones((3, 1))).P
    above, below = (flash(one, T, P * f, np.ones((3, 1))) for f in (1.0001, 0.9999))
    assert (above.kinds[:, 0] == LIQUID).all()
    assert (below.kinds[:, 0] == VAPOR).all()
    assert (above.n_phases == 1).all()


def test_second_liquid_is_found():
    """Heptane and a water-like component with a large kij split, as one would expect, into nearly pure liquids."""
    model = MODELS["PR"]().select([4, 5])
    result = flash(model, np.array([300.0]), np.array([5e5]), np.array([[0.5, 0.5]]))
    assert result.n_phases[0] == 2
    assert (result.kinds[0, :2] == LIQUID).all()
    assert result.x[0, 0, 0] > 0.99
    assert result.x[0, 1, 1] > 0.99


class EndsInACorner(PengRobinson):
    """An equation whose numbers end where there is next to nothing but the last component, as others' do deep in the cold."""

    def at(self, T, P):
        bound = super().at(T, P)
        plain = bound.ln_phi
        bound.ln_phi = lambda x, kind=STABLE: np.where(x[:, -1:] > 0.9, np.nan, plain(x, kind))
        bound.loops = lambda: None
        return bound


def test_a_search_that_is_lost_hides_no_phase_that_another_finds():
    heavy = EndsInACorner(TC[1:5], PC[1:5], OMEGA[1:5], np.zeros((4, 4)))
    T, P, z = np.array([250.0]), np.array([2e6]), np.array([[0.6, 0.2, 0.1, 0.1]])
    bound, feed = heavy.at(T, P), z * 1.0
    found = stability(bound, feed, np.log(feed) + bound.ln_phi(feed), [np.log(feed), *pure_starts(feed)])
    assert np.isfinite(found.trial).all()
    assert found.tm[0] < -0.1
    lost = stability(bound, feed, np.log(feed) + bound.ln_phi(feed), pure_starts(feed)[3:4])
    assert (lost.tm[0], lost.trial[0].tolist()) == (np.inf, pytest.approx(feed[0].tolist()))


def test_stability_against_a_dense_search_of_binaries():
    """No instability of a binary is missed that a grid over all compositions shows, nor one invented."""
    model = MODELS["PR"]()
    rng = np.random.default_rng(12)
    grid = np.linspace(1e-6, 1 - 1e-6, 1500)
    w = np.stack([grid, 1 - grid], axis=1)
    for _ in range(60):
        pair = model.select(rng.choice(6, 2, replace=False).tolist())
        z1, T, P = rng.uniform(0.02, 0.98), rng.uniform(170.0, 450.0), 10 ** rng.uniform(5, 7.3)
        z = np.array([[z1, 1 - z1]])
        bound = pair.at(np.array([T]), np.array([P]))
        d = np.log(z) + bound.ln_phi(z)
        found = stability(bound, z, d, [*pure_starts(z), d]).tm[0]
        many = pair.at(np.full(len(w), T), np.full(len(w), P))
        lowest = ((np.log(w) + many.ln_phi(w) - d) * w).sum(axis=1).min()
        if lowest < -1e-6:
            assert found < UNSTABLE
        if found < -1e-4:
            assert lowest < 0.0


@pytest.mark.parametrize("name", ["PR", "SRK"])
def test_envelope_passes_through_the_critical_point_without_a_gap(name):
    model = hydrocarbons(name)
    for z in (np.array([0.02, 0.70, 0.15, 0.08, 0.05]), np.array([0.01, 0.10, 0.30, 0.39, 0.20])):
        start = envelope_starts.dew_start(model, z, 1e5)
        line = tracing.trace(Tracer(model, z, 1.0), start, Limits(0.999e5, 1e8, 20.0, 2000.0))
        assert line.closed
        assert not line.broken
        assert len(line.critical) == 1
        assert np.abs(np.diff(np.log(line.T))).max() < 0.1
        assert np.abs(np.diff(np.log(line.P))).max() < 0.9
        direct = critical_points(model, z)
        i = line.critical[0]
        assert line.T[i] == pytest.approx(direct[0].T, rel=1e-6)
        assert line.P[i] == pytest.approx(direct[0].P, rel=1e-6)


def test_envelope_points_are_boundaries(cubic_equation):
    """Every point of the line, checked by flashes just inside and just outside of it."""
    model, z = cubic_equation.select(range(5)), np.array([0.02, 0.70, 0.15, 0.08, 0.05])
    line = tracing.trace(Tracer(model, z, 1.0), envelope_starts.dew_start(model, z, 1e5), Limits(0.999e5, 1e8, 20.0, 2000.0))
    far = np.abs(line.ln_k).max(axis=1) > 0.3
    T, P = line.T[far], line.P[far]
    lighter = line.first_is_lighter[far]
    i_T, i_P = T.argmax(), P.argmax()
    outside_T = np.where(lighter, T * 1.002, T * 0.998)
    steep = np.ones(len(T), dtype=bool)
    steep[min(i_T, i_P) - 1 : max(i_T, i_P) + 2] = False  # there the line is crossed by pressure, not by temperature
    feed = np.broadcast_to(z, (len(T), 5))
    assert (flash(model, outside_T, P, feed).n_phases[steep & (P < 5e6)] == 1).all()
    inside_T = np.where(lighter, T * 0.998, T * 1.002)
    assert (flash(model, inside_T, P, feed).n_phases[steep & (P < 5e6)] == 2).all()


def test_cricondentherm_and_cricondenbar_are_extremes(eos):
    model, z = eos.select(range(5)), np.array([0.02, 0.70, 0.15, 0.08, 0.05])
    line = tracing.trace(Tracer(model, z, 1.0), envelope_starts.dew_start(model, z, 1e5), Limits(0.999e5, 1e8, 20.0, 2000.0))
    tracer = Tracer(model, z, 1.0)
    for values, unknown in ((line.T, 5), (line.P, 6)):
        # stationary: a small step of the other unknown changes it only to second order
        i = int(values.argmax())
        X = np.concatenate([line.ln_k[i], np.log([line.T[i], line.P[i]])])
        tracer.roots = np.array([VAPOR, LIQUID] if line.first_is_lighter[i] else [LIQUID, VAPOR], dtype=np.int8)
        near = [tracer.solve(X, 11 - unknown, X[11 - unknown] + h) for h in (-1e-3, 0.0, 1e-3)]
        at = [np.exp(p.X[unknown]) for p in near]
        assert at[1] == pytest.approx(values[i], rel=1e-10)
        assert at[1] > max(at[0], at[2])
        assert at[1] - at[0] < 1e-4 * at[1]


def test_quality_line_holds_its_quality(eos):
    model, z = eos.select(range(5)), np.array([0.02, 0.60, 0.18, 0.12, 0.08])
    limits = Limits(1e5, 1e8, 20.0, 2000.0)
    survey = phase_boundaries(model, z, limits).survey
    (line,) = quality_lines(Tracer(model, z, 0.6), z, survey, limits)
    ends = sorted([line.P[0], line.P[-1]])
    assert ends[0] <= 1e5
    assert ends[1] == pytest.approx(critical_points(model, z)[0].P)
    before = np.abs(line.ln_k).max(axis=1) > 0.05
    T, P = line.T[before], line.P[before]
    result = flash(model, T, P, np.broadcast_to(z, (len(T), 5)))
    np.testing.assert_allclose(result.amount[:, 0], 0.6, atol=1e-6)


def test_critical_point_of_pure_components_by_cubic_equations(cubic_equation):
    for i in range(5):
        point = critical_points(cubic_equation.select([i]), np.ones(1))[0]
        assert point.T == pytest.approx(TC[i], rel=1e-9)
        assert point.P == pytest.approx(PC[i], rel=1e-9)


def test_critical_points_of_mixtures_run_between_those_of_pure_components(eos):
    ends = [critical_points(eos.select([i]), np.ones(1))[0].T for i in (1, 2)]
    model = eos.select([1, 2])
    temperatures = [critical_points(model, np.array([x, 1 - x]))[0].T for x in (0.999999, 0.7, 0.3, 0.000001)]
    assert temperatures == sorted(temperatures)
    assert temperatures[0] == pytest.approx(ends[0], rel=1e-4)
    assert temperatures[-1] == pytest.approx(ends[1], rel=1e-4)


def test_on_a_critical_point_the_stability_matrix_is_singular_twice(eos):
    """λ_min of B vanishes at the critical point and is a double zero along its eigenvector."""
    model, z = eos.select(range(5)), np.array([0.02, 0.70, 0.15, 0.08, 0.05])
    T, _, V = critical_points(model, z)[0]

    def smallest(n):
        F = model.helmholtz_hessian(np.array([T]), np.array([V]), n[None])[0]
        return np.linalg.eigh(np.eye(5) + np.sqrt(n[:, None] * n) * F)

    values, vectors = smallest(z)
    assert abs(values[0]) < 1e-8
    step = np.sqrt(z) * vectors[:, 0]
    changes = [smallest(z + s * step)[0][0] for s in (-1e-4, 1e-4)]
    assert abs(changes[0] - changes[1]) < 1e-2 * abs(changes[0] + changes[1]) + 1e-9


def test_models_without_volume_have_no_critical_point():
    assert critical_points(raoult(), np.array([0.3, 0.3, 0.4])) == []


def test_near_critical_flashes_converge(eos):
    model, z = eos.select(range(5)), np.array([0.02, 0.70, 0.15, 0.08, 0.05])
    point = critical_points(model, z)[0]
    offsets = np.array([s * 10.0**-k for k in range(2, 8) for s in (-1.0, 1.0)])
    T, P = (a.ravel() for a in np.meshgrid(point.T * (1 + offsets), point.P * (1 + offsets), indexing="ij"))
    result = flash(model, T, P, np.broadcast_to(z, (len(T), 5)))
    assert result.converged.all()
    assert set(result.n_phases) == {1, 2}


def test_traces_and_absent_components_change_nothing(eos):
    model = eos.select(range(5))
    T, P = np.array([250.0]), np.array([20e5])
    base = flash(model.select([1, 2, 4]), T, P, np.array([[0.6, 0.3, 0.1]]))
    absent = flash(model, T, P, np.array([[0.0, 0.6, 0.3, 0.0, 0.1]]))
    trace = flash(model, T, P, np.array([[1e-13, 0.6 - 1e-13, 0.3, 0.0, 0.1]]))
    for other in (absent, trace):
        assert other.amount[0, 0] == pytest.approx(base.amount[0, 0], rel=1e-9)
        np.testing.assert_allclose(other.x[0][:, [1, 2, 4]], base.x[0], atol=1e-11)
    assert (absent.x[0, :2][:, [0, 3]] == 0.0).all()


def test_batch_of_flashes_is_the_same_as_one_by_one():
    model = hydrocarbons()
    z, rng = random_feeds(5, 64, 77), np.random.default_rng(6)
    T, P = rng.uniform(200.0, 400.0, 64), 10.0 ** rng.uniform(4.5, 7, 64)
    together = flash(model, T, P, z)
    for i in range(0, 64, 4):
        alone = flash(model, T[i : i + 1], P[i : i + 1], z[i : i + 1])
        assert alone.n_phases[0] == together.n_phases[i]
        np.testing.assert_allclose(alone.amount[0], together.amount[i], rtol=1e-8)


def test_raoult_closed_form():
    """An ideal mixture's bubble and dew pressures have closed forms: Σ x P_sat and 1/Σ(y/P_sat)."""
    model = raoult()
    T, z = np.array([330.0, 350.0]), np.array([[0.2, 0.5, 0.3], [0.4, 0.1, 0.5]])
    p_sat = np.exp(model.liquid.ln_saturation(T))
    np.testing.assert_allclose(bubble_at_T(model, T, z).P, (z * p_sat).sum(axis=1), rtol=1e-12)
    np.testing.assert_allclose(dew_at_T(model, T, z).P, 1.0 / (z / p_sat).sum(axis=1), rtol=1e-12)


@pytest.mark.parametrize("seed", [1, 2])
def test_hard_pairs_of_states_are_never_worse_than_one_phase(seed):
    """The Gibbs energy of an answer is never above that of the feed as one phase."""
    model = PengRobinson(TC, PC, OMEGA, KIJ)
    z, rng = random_feeds(6, 300, seed), np.random.default_rng(seed)
    T, P = rng.uniform(180.0, 550.0, 300), 10.0 ** rng.uniform(4, 7.5, 300)
    result = flash(model, T, P, z)
    with np.errstate(all="ignore"):
        bound = model.at(T, P)

        def gibbs(x):
            safe = np.maximum(x, 1e-100)
            return (x * (np.log(safe) + bound.ln_phi(safe))).sum(axis=1)

        parts = [
            np.where(np.isfinite(result.amount[:, k]), result.amount[:, k] * gibbs(np.nan_to_num(result.x[:, k], nan=1e-100)), 0.0)
            for k in range(MAX_PHASES)
        ]
        assert (sum(parts) <= gibbs(z) + 1e-10).all()


def test_raoult_at_any_pressure():
    """Far outside of where it means anything the closed form still holds, and nothing is given up."""
    model = raoult()
    z, T = random_feeds(3, 50, 3), np.linspace(150.0, 1200.0, 50)
    p_sat = np.exp(model.liquid.ln_saturation(T))
    bubble, dew = bubble_at_T(model, T, z), dew_at_T(model, T, z)
    np.testing.assert_allclose(bubble.P, (z * p_sat).sum(axis=1), rtol=1e-9)
    np.testing.assert_allclose(dew.P, 1.0 / (z / p_sat).sum(axis=1), rtol=1e-9)


def test_saturation_of_single_components_up_to_the_critical_point(eos):
    for i in range(5):
        one, T = eos.select([i]), np.linspace(0.45, 0.99, 25) * TC[i]
        found = bubble_at_T(one, T, np.ones((25, 1)))
        assert found.found.all()
        assert (np.diff(found.P) > 0.0).all()
        for factor, kind in ((1.001, LIQUID), (0.999, VAPOR)):
            assert (flash(one, T, found.P * factor, np.ones((25, 1))).kinds[:, 0] == kind).all()
