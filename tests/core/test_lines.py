"""Azeotropes, binodal curves, invariant points and flashes at given volumes or shares of vapor, as the engine's arrays: each held against what defines it."""

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.core.equilibrium import azeotrope, binodal
from sleetfield.core.equilibrium.flash import flash
from sleetfield.core.equilibrium.invariant import invariant_point
from sleetfield.core.models.contract import LIQUID, VAPOR
from sleetfield.core.specification import Thermodynamics
from sleetfield.core.specified_flash import flash_to

from .conftest import MODELS

P = 101325.0


def model_of(names, **options):
    return sl.System(names, **options).phase_model


def ln_f(model, T, P, x, kind):
    """ln f/P of one phase ``(C,)``."""
    x = np.atleast_2d(x)
    return (np.log(x) + model.at(np.full(len(x), T), np.full(len(x), P)).ln_phi(x, kind))[0]


@pytest.mark.parametrize(
    ("names", "options", "count"),
    [
        (["ethanol", "water"], {"liquid": "NRTL"}, 1),
        (["acetone", "chloroform"], {"liquid": "Wilson"}, 1),
        (["acetone", "methanol"], {"liquid": "Wilson"}, 1),
        (["benzene", "toluene"], {"liquid": "ideal"}, 0),
        (["acetone", "chloroform", "methanol"], {"liquid": "Wilson"}, 1),
    ],
)
def test_the_vapor_of_an_azeotrope_is_its_liquid(names, options, count):
    model = model_of(names, **options)
    found = azeotrope.homogeneous(model, "P", P, azeotrope.interior_points(len(names), 6))
    assert len(found.T) == count
    for T, x in zip(found.T, found.x, strict=True):
        assert ln_f(model, T, P, x, LIQUID) == pytest.approx(ln_f(model, T, P, x, VAPOR), abs=1e-9)
        again = azeotrope.homogeneous(model, "T", float(T), x[None])
        assert again.P == pytest.approx([P], rel=1e-8)
        assert again.x[0] == pytest.approx(x, rel=1e-6)


def test_two_liquids_boil_together_to_a_vapor_between_them():
    model = model_of(["1-butanol", "water"], liquid="NRTL")
    found = azeotrope.heterogeneous(model, "P", P, np.log([366.0]), np.array([[0.02, 0.98]]), np.array([[0.45, 0.55]]))
    assert len(found.T) == 1
    T, vapor, (first, second) = float(found.T[0]), found.x[0], found.liquids[0]
    assert ln_f(model, T, P, first, LIQUID) == pytest.approx(ln_f(model, T, P, second, LIQUID), abs=1e-9)
    assert ln_f(model, T, P, first, LIQUID) == pytest.approx(ln_f(model, T, P, vapor, VAPOR), abs=1e-9)
    assert min(first[0], second[0]) < vapor[0] < max(first[0], second[0])


@pytest.mark.parametrize("given", ["T", "P"])
def test_three_phases_of_two_components_meet_at_one_point(given):
    model = model_of(["1-butanol", "water"], liquid="NRTL", vapor="virial")
    kinds = np.array([VAPOR, LIQUID, LIQUID])
    guess = np.array([[0.25, 0.75], [0.45, 0.55], [0.02, 0.98]])
    value, other = (366.0, 1e5) if given == "T" else (P, 366.0)
    found = invariant_point(model, given, value, other, guess, kinds)
    assert found is not None
    assert getattr(found, given) == value
    wanted = ln_f(model, found.T, found.P, found.x[0], VAPOR)
    for x in found.x[1:]:
        assert ln_f(model, found.T, found.P, x, LIQUID) == pytest.approx(wanted, abs=1e-8)
    assert found.x.sum(axis=1) == pytest.approx(1.0)


def test_every_tie_line_of_a_binodal_curve_is_an_equilibrium_and_ends_in_a_plait_point():
    model = model_of(["acetone", "1-butanol", "water"], liquid="NRTL")
    T, feed = 303.0, np.array([[0.02, 0.24, 0.74]])
    state = flash(model, np.array([T]), np.array([P]), feed)
    branch = binodal.follow(model, T, P, state.x[0, :2])
    assert len(branch.ties) > 20
    for first, second in branch.ties[:: len(branch.ties) // 20]:
        if np.abs(first - second).max() > 1e-3:
            there = (first > 1e-5) & (second > 1e-5)
            gap = ln_f(model, T, P, first, LIQUID) - ln_f(model, T, P, second, LIQUID)
            assert np.abs(gap[there]).max() < 1e-8
    assert len(branch.plaits) == 1
    plait = branch.plaits[0]
    assert plait.sum() == pytest.approx(1.0)
    assert np.abs(branch.ties - plait).min(axis=0).max() < 0.05


@pytest.mark.parametrize("name", ["PR", "SRK", "PR with water", "ideal", "NRTL"])
@pytest.mark.parametrize("known", ["T", "P"])
@pytest.mark.parametrize("wanted", ["vapor_fraction", "V"])
def test_states_at_a_given_share_of_vapor_or_volume_have_it(name, known, wanted):
    """Beside a temperature or a pressure: a plain flash at what was found says the same."""
    model = MODELS[name]()
    rng = np.random.default_rng(3)
    c = model.n_components
    z = rng.dirichlet(np.ones(c), 6)
    given_values = np.linspace(300.0, 340.0, 6) if known == "T" else np.linspace(1e5, 8e5, 6)
    target = np.linspace(0.1, 0.9, 6) if wanted == "vapor_fraction" else np.geomspace(2e-4, 2e-3, 6)
    mixture = Thermodynamics(model, [None] * c, np.full(c, np.nan))
    found = flash_to(mixture, known, given_values, wanted, target, z)
    there = found.found
    assert there.sum() >= 4
    assert getattr(found, known)[there] == pytest.approx(given_values[there])
    again = flash(model, found.T[there], found.P[there], z[there])
    if wanted == "V":
        volume = (np.nan_to_num(again.amount * again.Z)).sum(axis=1) * 8.31446261815324 * found.T[there] / found.P[there]
        assert volume == pytest.approx(target[there], rel=1e-6)
    else:
        vapor = np.where(again.kinds == VAPOR, np.nan_to_num(again.amount), 0.0).sum(axis=1)
        assert vapor == pytest.approx(target[there], abs=1e-6)
