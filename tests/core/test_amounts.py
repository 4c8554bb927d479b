"""Amounts of phases for given fugacity coefficients, and points that flashes find: against minimizers and definitions of their own."""

import numpy as np
import pytest
from hypothesis import example, given, settings, strategies as st
from scipy.optimize import minimize

from sleetfield.core.equilibrium.flash import flash
from sleetfield.core.equilibrium.multiphase import alike, phase_amounts, solve_rows
from sleetfield.core.equilibrium.phase_boundaries import forms_more
from sleetfield.core.equilibrium.stability import of_feeds
from sleetfield.core.models.contract import LIQUID, VAPOR
from sleetfield.core.saturation_by_flashes import scanned
from sleetfield.core.specification import Thermodynamics

from .conftest import MODELS

seeds = st.integers(0, 2**32 - 1)


def _objective(z, ln_phi):
    w = np.exp(-ln_phi)

    def q(beta):
        return beta.sum() - (z * np.log(np.maximum(beta @ w, 1e-300))).sum()

    return q


@given(seeds, st.integers(2, 4), st.integers(2, 6), st.sampled_from([0.3, 2.0, 6.0]))
@example(500133107, 4, 2, 6.0)
@settings(max_examples=60, deadline=None)
def test_amounts_are_at_the_minimum_that_a_general_method_finds(seed, phases, components, spread):
    rng = np.random.default_rng(seed)
    z, ln_phi = rng.dirichlet(np.ones(components)), rng.normal(0.0, spread, (phases, components))
    beta, x = phase_amounts(z[None], ln_phi[None], np.ones((1, phases)))
    q = _objective(z, ln_phi)
    starts = [np.full(phases, 1.0 / phases), *(0.98 * np.eye(phases) + 0.02 / phases)]
    best = min(minimize(q, s, bounds=[(0.0, None)] * phases, options={"maxiter": 500, "ftol": 1e-14}).fun for s in starts)
    assert q(beta[0]) <= best + 1e-7
    assert (beta >= 0.0).all()
    np.testing.assert_allclose(x.sum(axis=2), 1.0, rtol=1e-12)


@pytest.mark.parametrize(("phases", "components", "spread"), [(4, 3, 6.0), (3, 5, 2.0), (4, 6, 6.0), (2, 2, 9.0)])
def test_amounts_are_at_the_minimum_by_its_conditions(phases, components, spread):
    """Slopes of Q are nowhere negative, and zero for every phase that is there: two thousand draws, among them phases wanted a thousand times over."""
    rng = np.random.default_rng(7)
    z, ln_phi = rng.dirichlet(np.ones(components), 2000), rng.normal(0.0, spread, (2000, phases, components))
    beta, _ = phase_amounts(z, ln_phi, np.ones((2000, phases)))
    w = np.exp(-ln_phi)
    slopes = 1.0 - np.einsum("nfc,nc->nf", w, z / np.einsum("nf,nfc->nc", beta, w))
    assert slopes.min() > -1e-6
    assert np.abs(np.where(beta > 1e-9, slopes, 0.0)).max() < 1e-6


@given(seeds)
@settings(max_examples=20, deadline=None)
def test_a_row_among_others_is_the_same_as_alone(seed):
    rng = np.random.default_rng(seed)
    z, ln_phi = rng.dirichlet(np.ones(3), 12), rng.normal(0.0, 2.0, (12, 4, 3))
    together = phase_amounts(z, ln_phi, np.ones((12, 4)))[0]
    for i in range(12):
        q = _objective(z[i], ln_phi[i])
        alone = phase_amounts(z[i : i + 1], ln_phi[i : i + 1], np.ones((1, 4)))[0][0]
        # of more phases than components the amounts can be free, what they are worth is not
        assert q(together[i]) == pytest.approx(q(alone), abs=1e-9)


def test_two_equal_phases_come_to_an_end():
    z, ln_phi = np.array([[0.4, 0.6]]), np.array([[[0.0, 0.1], [0.0, 0.1], [1.0, -0.9]]])
    beta, x = phase_amounts(z, ln_phi, np.ones((1, 3)))
    assert np.isfinite(beta).all()
    assert alike(x[:, 0], x[:, 1]).all()
    assert not alike(x[:, 0], x[:, 2]).any()


def test_a_singular_system_does_not_spoil_its_neighbors():
    matrices = np.array([np.eye(2), np.ones((2, 2)), 2.0 * np.eye(2)])
    right = np.array([[1.0, 2.0], [2.0, 2.0], [2.0, 6.0]])
    found = solve_rows(matrices, right)
    np.testing.assert_allclose(found[[0, 2]], [[1.0, 2.0], [1.0, 3.0]])
    np.testing.assert_allclose(matrices[1] @ found[1], right[1])


# ---- points by flashes ----


@pytest.mark.parametrize("known", ["T", "P"])
@pytest.mark.parametrize("kind", ["bubble", "dew"])
@pytest.mark.parametrize("name", ["PR", "SRK", "PR with water"])
def test_scanned_points_have_the_forming_phase_without_amount(name, kind, known):
    model = MODELS[name]()
    z = np.tile([0.02, 0.1, 0.3, 0.3, 0.28, 0.0], (3, 1))
    given_values = np.array([300.0, 330.0, 360.0]) if known == "T" else np.array([2e5, 1e6, 3e6])
    point = scanned(Thermodynamics(model, [None] * 6, np.full(6, np.nan)), kind, known, given_values, z)
    assert point.found.all()
    kinds = (LIQUID, VAPOR) if kind == "bubble" else (VAPOR, LIQUID)
    feed = np.maximum(z, 1e-100)
    bound = model.at(point.T, point.P)
    there = np.maximum(point.incipient, 1e-100)
    present = z[0] > 0.0
    gap = np.log(feed) + bound.ln_phi(feed, kinds[0]) - np.log(there) - bound.ln_phi(there, kinds[1])
    assert np.abs(gap[:, present]).max() < 1e-8
    np.testing.assert_allclose(point.incipient.sum(axis=1), 1.0, rtol=1e-9)
    # a feed on its boundary is marginal, and a little inside it splits
    assert (of_feeds(model, point.T, point.P, z).tm > -1e-6).all()
    assert not forms_more(model, z[0], point.T, point.P, np.full(3, kinds[0])).any()
    inside = flash(model, point.T, point.P * (1.0 - 1e-3 if kind == "bubble" else 1.0 + 1e-3), z)
    assert (inside.n_phases == 2).all()
    least = inside.amount[:, 0] if kind == "bubble" else inside.amount[:, 1]
    assert (least < 0.05).all()


def test_points_beside_absent_components_are_those_without_them():
    """Newton's steps for a component that is not there were once out of all measure."""
    model = MODELS["PR"]()
    present = [1, 2, 3]
    z, T = np.array([0.0, 0.2, 0.5, 0.3, 0.0, 0.0]), np.array([290.0, 310.0])
    whole = scanned(Thermodynamics(model, [None] * 6, np.full(6, np.nan)), "dew", "T", T, np.tile(z, (2, 1)))
    part = scanned(
        Thermodynamics(model.select(present), [None] * 3, np.full(3, np.nan)), "dew", "T", T, np.tile(z[present], (2, 1))
    )
    np.testing.assert_allclose(whole.P, part.P, rtol=1e-9)
    np.testing.assert_allclose(whole.incipient[:, present], part.incipient, rtol=1e-7)
    assert (whole.incipient[:, [0, 4, 5]] == 0.0).all()
