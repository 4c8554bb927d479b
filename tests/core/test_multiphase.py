"""Three phases and more: balances, equal fugacities, stability, the lowest Gibbs energy, and states that were once hard."""

import numpy as np
import pytest
from scipy.optimize import minimize

import sleetfield as sl
from sleetfield.core.equilibrium.flash import CONVERGED, flash, result_of_phases
from sleetfield.core.equilibrium.joining import MAX_PHASES
from sleetfield.core.equilibrium.multiphase import descend, gibbs_energy, phase_amounts, solve_phases
from sleetfield.core.models.contract import LIQUID, STABLE, VAPOR

GASES = [
    "methane",
    "ethane",
    "propane",
    "n-butane",
    "n-pentane",
    "n-hexane",
    "n-decane",
    "carbon dioxide",
    "hydrogen sulfide",
    "benzene",
    "toluene",
]


def wet(seed, count=60):
    """A random mixture with water, sometimes methanol, and states of it."""
    rng = np.random.default_rng(seed)
    names = [
        *(str(n) for n in rng.choice(GASES, rng.integers(1, 6), replace=False)),
        "water",
        *(["methanol"] if rng.random() < 0.3 else []),
    ]
    kij = {(n, "water"): float(rng.uniform(0.1, 0.5)) for n in names if n not in ("water", "methanol")}
    model = sl.System(names, eos=str(rng.choice(["PR", "SRK"])), kij=kij).phase_model
    z = rng.dirichlet(np.full(len(names), 0.7), size=count)
    return model, z, rng.uniform(230.0, 500.0, count), 10.0 ** rng.uniform(4.5, 7.5, count)


def energy(model, T, P, result):
    """Reduced Gibbs energy of the phases of each state."""
    n = np.maximum(np.nan_to_num(result.amount)[:, :, None] * np.nan_to_num(result.x), 1e-200)
    return gibbs_energy(model.at(T, P), n)


@pytest.mark.parametrize("seed", range(12))
def test_random_wet_mixtures(seed):
    model, z, T, P = wet(seed)
    result = flash(model, T, P, z)
    assert result.converged.all()
    assert result.stable.all()
    assert result.n_phases.max() <= MAX_PHASES
    np.testing.assert_allclose(np.nansum(result.amount[:, :, None] * result.x, axis=1), z, atol=1e-12)
    np.testing.assert_allclose(np.nansum(result.amount, axis=1), 1.0, rtol=1e-12)
    np.testing.assert_allclose(np.nansum(result.x, axis=2)[np.isfinite(result.amount)], 1.0, rtol=1e-10)
    # one vapor at most, and that first, then liquids in rising order of mass density
    density = np.where(np.isnan(result.Z), 1e9, (result.x @ model.molar_mass) / result.Z)
    density[:, 0] = np.where(result.kinds[:, 0] == VAPOR, 0.0, density[:, 0])
    assert (np.diff(density, axis=1) >= 0.0).all()
    assert (result.kinds[:, 1:] != VAPOR).all()
    with np.errstate(all="ignore"):
        bound = model.at(T, P)
        for k in range(1, MAX_PHASES):
            there = np.flatnonzero(np.isfinite(result.amount[:, k]))
            if there.size:
                first, other = (result.x[there, j] for j in (0, k))
                part = bound.rows(there)
                ln_f = [np.log(x) + part.ln_phi(x) for x in (np.maximum(first, 1e-100), np.maximum(other, 1e-100))]
                seen = z[there] > 1e-12
                assert np.abs(np.where(seen, ln_f[0] - ln_f[1], 0.0)).max() < 1e-7


def test_three_phases_have_less_energy_than_any_two_of_them():
    model, z, T, P = wet(3, 200)
    result = flash(model, T, P, z)
    three = np.flatnonzero(result.n_phases == 3)
    assert three.size > 10
    at_T, at_P, feed = T[three], P[three], z[three]
    with np.errstate(all="ignore"):
        bound = model.at(at_T, at_P)
        whole = energy(model, at_T, at_P, flash(model, at_T, at_P, feed))
        for pair in ([0, 1], [0, 2], [1, 2]):
            two = solve_phases(bound, feed, result.x[three][:, pair])
            met = np.flatnonzero((two.residual < CONVERGED) & (two.amount > 0.0).all(axis=1))
            g = gibbs_energy(bound.rows(met), np.maximum(two.amount[met][:, :, None] * two.x[met], 1e-200))
            assert (whole[met] < g - 1e-12).all()


def test_a_batch_is_as_one_by_one_and_order_does_not_matter():
    model, z, T, P = wet(5, 40)
    together = flash(model, T, P, z)
    for i in range(0, 40, 5):
        alone = flash(model, T[i : i + 1], P[i : i + 1], z[i : i + 1])
        assert alone.n_phases[0] == together.n_phases[i]
        np.testing.assert_allclose(alone.amount[0], together.amount[i], rtol=1e-7, atol=1e-9)
    back = np.arange(z.shape[1])[::-1]
    turned = flash(model.select(back.tolist()), T, P, z[:, back])
    np.testing.assert_array_equal(turned.n_phases, together.n_phases)
    np.testing.assert_allclose(turned.amount, together.amount, rtol=1e-6, atol=1e-8)


def test_an_absent_component_changes_nothing():
    _, z, T, P = wet(3, 30)
    c = z.shape[1]
    more = sl.System([*GASES[: c + 1]], eos="PR", kij="zero").phase_model
    few = more.select(range(c))
    np.testing.assert_array_equal(flash(few, T, P, z).n_phases, flash(more, T, P, np.c_[z, np.zeros(len(z))]).n_phases)


def test_phase_amounts_minimise_q():
    """Against a general-purpose minimiser with bounds, phases that are not wanted included."""
    rng = np.random.default_rng(8)
    for _ in range(20):
        z = rng.dirichlet(np.ones(4))
        ln_phi = rng.normal(0.0, 1.5, (3, 4))

        def q(beta, z=z, ln_phi=ln_phi):
            return beta.sum() - z @ np.log(beta @ np.exp(-ln_phi))

        best = min(
            (minimize(q, start, bounds=[(1e-12, None)] * 3, tol=1e-14) for start in rng.dirichlet(np.ones(3), 4)),
            key=lambda r: r.fun,
        )
        amount, x = phase_amounts(z[None], ln_phi[None], np.full((1, 3), 1.0 / 3.0))
        assert q(np.maximum(amount[0], 1e-300)) <= best.fun + 1e-9
        np.testing.assert_allclose(amount[0], best.x, atol=2e-4)
        np.testing.assert_allclose(x.sum(axis=2), 1.0, rtol=1e-12)
        if (amount > 0.0).all():
            np.testing.assert_allclose((amount[:, :, None] * x).sum(axis=1)[0], z, rtol=1e-9)


HARD = [
    (["toluene", "water"], "PR", 411.1786492570525, 583248.6424441148, [0.178042, 0.821958], {}),
    (["hydrogen sulfide", "toluene", "water"], "PR", 342.95786169118236, 410838.3, [0.00808, 0.004132, 0.987788], {("hydrogen sulfide", "water"): 0.3, ("toluene", "water"): 0.3}),
    (["n-hexane", "water", "methanol"], "PR", 286.3575760970742, 1130842.8, [0.744969, 0.009775, 0.245256], {("n-hexane", "water"): 0.3}),
    (["n-hexane", "nitrogen", "propane", "water", "methanol"], "SRK", 279.139011, 196954.898, [0.286555, 0.294553, 0.292175, 0.012765, 0.113952], {("n-hexane", "water"): 0.3, ("propane", "water"): 0.4}),
    (["methane", "propane", "n-heptane"], "PR", 202.0, 5544061.0, [0.90, 0.08, 0.02], {}),
    # liquids of the light component, next to its critical point or beside its vapor
    (["oxygen", "carbon dioxide"], "SRK", 152.43559841, 4290372.5446, [0.4990954, 0.5009046], {("oxygen", "carbon dioxide"): 0.07049114}),
    (["krypton", "ethylamine"], "SRK", 205.868648946, 4860303.366, [0.62069169, 0.37930831], {("krypton", "ethylamine"): 0.08}),
    (["1,2-dichlorotetrafluoroethane", "ammonia", "carbon monoxide"], "PR", 103.32222855, 685856.98, [0.183941, 0.031528, 0.784531], {("1,2-dichlorotetrafluoroethane", "ammonia"): 0.056787, ("1,2-dichlorotetrafluoroethane", "carbon monoxide"): 0.0040107, ("ammonia", "carbon monoxide"): 0.1876758}),
    (["methylamine", "trans-2-butene", "tetrafluoromethane"], "PR", 173.22161172, 495541.148, [0.32908, 0.32573, 0.34519], {("methylamine", "trans-2-butene"): 0.092949, ("methylamine", "tetrafluoromethane"): 0.088029, ("trans-2-butene", "tetrafluoromethane"): 0.1256921}),
    # of nonacosane less than 1e-100 dissolves in the water, and ammonia is absent
    (["n-butane", "ammonia", "n-nonacosane", "dichlorodifluoromethane", "ethylene oxide", "octafluoropropane", "ethylene glycol", "water"], "SRK", 151.86469777, 161718.79, [0.0, 0.0, 0.10787, 0.23512, 0.11616, 0.09510, 0.06702, 0.37873], {}),
    (["n-butane", "ammonia", "n-nonacosane", "dichlorodifluoromethane", "ethylene oxide", "octafluoropropane", "ethylene glycol", "water"], "SRK", 154.54816543, 201722.807, [0.03852, 0.08031, 0.19425, 0.19722, 0.24800, 0.05812, 0.11520, 0.06838], {}),
]  # fmt: skip


@pytest.mark.parametrize("case", HARD)
def test_states_that_were_once_hard(case):
    names, eos, T, P, z, kij = case
    z = np.array(z) / sum(z)
    for factor in (0.999, 1.0, 1.001):
        result = flash(sl.System(names, eos=eos, kij=kij or None).phase_model, np.array([T * factor]), np.array([P]), z[None])
        assert result.converged.all()
        assert result.stable.all()
        np.testing.assert_allclose(np.nansum(result.amount[0][:, None] * result.x[0], axis=0), z, rtol=0.0, atol=1e-14)


@pytest.mark.parametrize("case", [c for c in HARD if len(c[0]) <= 3])
def test_no_composition_lies_below_their_tangent_plane(case):
    names, eos, T, P, z, kij = case
    model = sl.System(names, eos=eos, kij=kij or None).phase_model
    result = flash(model, np.array([T]), np.array([P]), np.array([z]) / sum(z))
    points = np.maximum(np.random.default_rng(1).dirichlet(np.full(len(z), 0.3), 40_000), 1e-12)
    x = np.maximum(result.x[:1, 0], 1e-100)
    with np.errstate(all="ignore"):
        plane = np.log(x) + model.at(np.array([T]), np.array([P])).ln_phi(x)
        many = model.at(np.full(len(points), T), np.full(len(points), P))
        distance = (points * (np.log(points) + many.ln_phi(points) - plane)).sum(axis=1)
    assert distance.min() > -1e-9


def test_five_phases():
    """Ice-cold liquids of which hardly any two mix, and a vapor."""
    names = ["n-butane", "ammonia", "n-nonacosane", "dichlorodifluoromethane", "ethylene oxide", "octafluoropropane", "ethylene glycol", "water"]  # fmt: skip
    z = np.array([0.18921854, 0.05501840, 0.06276726, 0.06717591, 0.2522, 0.0709, 0.0527, 0.25001989])
    state = sl.System(names, eos="SRK").flash(z / z.sum(), T=213.139, P=10615.8)
    assert state.n_phases == 5
    assert not any("further phase" in note for note in state.notes)
    assert [p.kind for p in state.phases] == ["vapor"] + ["liquid"] * 4
    assert "fourth liquid" in state.to_frame().columns
    ln_f = np.array([[p.ln_phi[n] + np.log(p.composition[n]) for n in names if n != "n-nonacosane"] for p in state.phases])
    assert np.ptp(ln_f, axis=0).max() < 1e-9


def test_descent_leaves_absent_components_alone():
    """A component of 1e-100 does not stop the steps of the others."""
    names = ["methane", "n-pentane", "water", "n-butane"]
    model = sl.System(names, eos="SRK", kij="zero").phase_model
    T, P, z = np.array([300.0]), np.array([20e5]), np.array([[0.5, 0.3, 0.2, 1e-100]])
    whole = flash(model, T, P, np.array([[0.5, 0.3, 0.2, 0.0]]))
    bound = model.at(T, P)
    with np.errstate(all="ignore"):
        two = solve_phases(bound, z, np.maximum(whole.x[:, :2], 1e-100))
        found = descend(bound, z, two.amount, two.x, np.maximum(whole.x[:, 2], 1e-100))
    assert found.residual[0] < CONVERGED
    np.testing.assert_allclose(np.sort(found.amount[0]), np.sort(whole.amount[0, :3]), rtol=1e-6)


def test_descent_never_rises_and_comes_to_the_same_place():
    model = sl.System(["methane", "n-pentane", "water"], eos="SRK", kij="zero").phase_model
    T, P, z = np.array([300.0]), np.array([20e5]), np.array([[0.5, 0.3, 0.2]])
    whole = flash(model, T, P, z)
    assert whole.n_phases[0] == 3
    bound = model.at(T, P)
    with np.errstate(all="ignore"):
        two = solve_phases(bound, z, whole.x[:, :2])
        before = gibbs_energy(bound, np.maximum(two.amount[:, :, None] * two.x, 1e-200))
        found = descend(bound, z, two.amount, two.x, whole.x[:, 2])
    after = gibbs_energy(bound, found.amount[:, :, None] * found.x)
    assert after[0] < before[0]
    assert found.residual[0] < CONVERGED
    np.testing.assert_allclose(np.sort(found.amount[0]), np.sort(whole.amount[0, :3]), rtol=1e-6)


def test_phases_solved_elsewhere_are_tested_and_ordered():
    model = sl.System(["propane", "water"], eos="PR", kij={("propane", "water"): 0.5}).phase_model
    T, P, z = np.array([300.0]), np.array([5e5]), np.array([[0.5, 0.5]])
    known = flash(model, T, P, z)
    turned = known.x[:, [1, 0]]
    kinds = np.array([[LIQUID, STABLE]], dtype=np.int8)
    again = result_of_phases(model, T, P, z, known.amount[:, [1, 0]], turned, kinds, np.zeros(1))
    np.testing.assert_allclose(again.amount[0, :2], known.amount[0, :2])
    np.testing.assert_array_equal(again.kinds[0, :2], known.kinds[0, :2])
    assert again.stable[0]
