"""Activity models: published formulas written out plainly, limits, and what holds for every model."""

import math

import numpy as np
import pytest
from hypothesis import given, settings, strategies as st

from sleetfield.core.models.activity.combinatorial import StavermanGuggenheim
from sleetfield.core.models.activity.nrtl import NRTL
from sleetfield.core.models.activity.pair_function import PairFunction
from sleetfield.core.models.activity.redlich_kister import RedlichKister
from sleetfield.core.models.activity.regular import ScatchardHildebrand
from sleetfield.core.models.activity.uniquac import UNIQUAC
from sleetfield.core.models.activity.van_laar import VanLaar
from sleetfield.core.models.activity.wilson import Wilson

from .conftest import ACTIVITY, DENSITY, VOLUME, pairs

names = st.sampled_from(sorted(ACTIVITY))
seeds = st.integers(0, 2**32 - 1)


def binary(value):
    """A constant function of two ordered pairs."""
    coefficients = np.zeros((4, 2, 2))
    coefficients[0] = value
    return PairFunction(coefficients)


def ln_gamma(model, x1, T=350.0):
    x = np.array([[x1], [1.0 - x1]])
    return model.at(np.array([T])).ln_gamma(x)[:, 0]


def random_states(seed, count=20):
    rng = np.random.default_rng(seed)
    x = rng.dirichlet(np.full(3, 0.7), size=count).T
    x = np.maximum(x, 1e-9)
    return rng.uniform(280.0, 450.0, count), x / x.sum(axis=0)


@given(names, seeds)
@settings(max_examples=150, deadline=None)
def test_gibbs_duhem_and_gibbs_helmholtz_to_1e_8(name, seed):
    model = ACTIVITY[name]()
    T, x = random_states(seed)
    e = model.at(T).evaluate(x)
    scale = 1.0 + np.abs(e.dn).max(axis=(0, 1))
    assert (np.abs(np.einsum("in,ijn->jn", x, e.dn)).max(axis=0) < 1e-11 * scale).all()
    np.testing.assert_allclose(e.ln_gamma, model.at(T).ln_gamma(x), rtol=1e-12, atol=1e-12)

    # the temperature derivative of the whole excess Gibbs energy by a difference of order four, against Σ x ∂ln γ/∂T
    def g(T):
        return (x * model.at(T).ln_gamma(x)).sum(axis=0)

    h = 0.2
    numeric = (8.0 * (g(T + h) - g(T - h)) - (g(T + 2 * h) - g(T - 2 * h))) / (12.0 * h)
    np.testing.assert_allclose((x * e.dT).sum(axis=0), numeric, atol=1e-8 * (1.0 + np.abs(numeric).max()))


@given(names, seeds)
@settings(max_examples=60, deadline=None)
def test_absent_components_are_the_same_as_traces_and_as_left_out(name, seed):
    model = ACTIVITY[name]()
    T, x = random_states(seed, 5)
    x[0] = 1e-100
    x /= x.sum(axis=0)
    whole = model.at(T).evaluate(x)
    for values in (whole.ln_gamma, whole.dT, whole.g_TT, whole.dn):
        assert np.isfinite(values).all()
    if name == "dissolved":
        return
    part = model.select([1, 2])
    np.testing.assert_allclose(part.at(T).ln_gamma(x[1:]), whole.ln_gamma[1:], rtol=1e-9, atol=1e-12)


@pytest.mark.parametrize("name", sorted(set(ACTIVITY) - {"dissolved"}))
def test_pure_liquids_have_activity_coefficients_of_one(name):
    model, T = ACTIVITY[name](), np.array([350.0])
    for i in range(3):
        x = np.full((3, 1), 1e-100)
        x[i] = 1.0
        assert model.at(T).ln_gamma(x)[i, 0] == pytest.approx(0.0, abs=1e-13)


def test_zero_parameters_are_an_ideal_solution():
    zero = PairFunction(np.zeros((4, 2, 2)))
    models = [
        NRTL(zero, binary([[0.0, 0.3], [0.3, 0.0]])),
        NRTL(zero, zero),
        Wilson(zero, np.zeros(2)),
        VanLaar(zero),
        RedlichKister([zero, zero]),
        ScatchardHildebrand(np.array([1e-4, 2e-4]), np.array([18e3, 18e3])),
        UNIQUAC(np.ones(2), np.ones(2), np.ones(2), zero),
    ]
    for model in models:
        for x1 in (0.0, 1e-12, 0.4, 1.0):
            np.testing.assert_allclose(ln_gamma(model, max(x1, 1e-100)), 0.0, atol=1e-13)


def test_margules_van_laar_and_wilson_written_out():
    x1, x2 = 0.3, 0.7
    a12, a21 = 1.2, 0.7
    margules = RedlichKister([binary([[0.0, 0.95], [0.95, 0.0]]), binary([[0.0, -0.25], [0.25, 0.0]])])
    expected = [x2**2 * (a12 + 2 * (a21 - a12) * x1), x1**2 * (a21 + 2 * (a12 - a21) * x2)]
    np.testing.assert_allclose(ln_gamma(margules, x1), expected, rtol=1e-12)

    expected = [a12 * (a21 * x2 / (a12 * x1 + a21 * x2)) ** 2, a21 * (a12 * x1 / (a12 * x1 + a21 * x2)) ** 2]
    np.testing.assert_allclose(ln_gamma(VanLaar(binary([[0.0, a12], [a21, 0.0]])), x1), expected, rtol=1e-12)

    l12, l21 = 0.2, 0.8
    wilson = Wilson(binary([[0.0, math.log(l12)], [math.log(l21), 0.0]]), np.zeros(2))
    cross = l12 / (x1 + l12 * x2) - l21 / (l21 * x1 + x2)
    expected = [-math.log(x1 + l12 * x2) + x2 * cross, -math.log(l21 * x1 + x2) - x1 * cross]
    np.testing.assert_allclose(ln_gamma(wilson, x1), expected, rtol=1e-12)


def test_nrtl_written_out_for_two_components():
    x1, x2, t12, t21, alpha = 0.3, 0.7, 0.9, 1.4, 0.3
    g12, g21 = math.exp(-alpha * t12), math.exp(-alpha * t21)
    expected = [
        x2**2 * (t21 * (g21 / (x1 + x2 * g21)) ** 2 + t12 * g12 / (x2 + x1 * g12) ** 2),
        x1**2 * (t12 * (g12 / (x2 + x1 * g12)) ** 2 + t21 * g21 / (x1 + x2 * g21) ** 2),
    ]
    model = NRTL(binary([[0.0, t12], [t21, 0.0]]), binary([[0.0, alpha], [alpha, 0.0]]))
    np.testing.assert_allclose(ln_gamma(model, x1), expected, rtol=1e-12)


def test_uniquac_written_out_for_two_components():
    r, q, qr = np.array([2.1055, 0.92]), np.array([1.972, 1.40]), np.array([0.92, 1.0])
    t12, t21 = math.exp(-0.2), math.exp(0.3)
    x = np.array([0.3, 0.7])
    phi, theta, tr = r * x / (r @ x), q * x / (q @ x), qr * x / (qr @ x)
    length = 5.0 * (r - q) - (r - 1.0)
    combinatorial = np.log(phi / x) + 5.0 * q * np.log(theta / phi) + length - phi / x * (x @ length)
    s1, s2 = tr[0] + tr[1] * t21, tr[0] * t12 + tr[1]
    residual = [
        qr[0] * (1.0 - math.log(s1) - tr[0] / s1 - tr[1] * t12 / s2),
        qr[1] * (1.0 - math.log(s2) - tr[0] * t21 / s1 - tr[1] / s2),
    ]
    model = UNIQUAC(r, q, qr, binary([[0.0, math.log(t12)], [math.log(t21), 0.0]]))
    np.testing.assert_allclose(ln_gamma(model, 0.3), combinatorial + residual, rtol=1e-12)


def test_combinatorial_term_of_equal_molecules_is_none():
    model = StavermanGuggenheim(np.array([2.0, 2.0, 2.0]), np.array([1.7, 1.7, 1.7]))
    np.testing.assert_allclose(model.ln_gamma(np.array([[0.2], [0.3], [0.5]]), ()), 0.0, atol=1e-14)


def test_symmetric_margules_infinite_dilution_and_middle():
    model = RedlichKister([binary([[0.0, 1.5], [1.5, 0.0]])])
    np.testing.assert_allclose(ln_gamma(model, 1e-100), [1.5, 0.0], atol=1e-14)
    np.testing.assert_allclose(ln_gamma(model, 0.5), [0.375, 0.375], rtol=1e-14)


def test_scatchard_hildebrand_with_published_solubility_parameters():
    # carbon tetrachloride and benzene: v 97 and 89 cm3/mol, δ 8.6 and 9.2 (cal/cm3)^½, ln γ∞ = v (Δδ)²/RT
    per = math.sqrt(4.184e6)
    model = ScatchardHildebrand(np.array([97e-6, 89e-6]), np.array([8.6, 9.2]) * per)
    expected = 97.0 * 0.6**2 / (1.98720 * 298.15)
    assert ln_gamma(model, 1e-100, T=298.15)[0] == pytest.approx(expected, rel=1e-4)


def test_volumes_at_temperature_and_constant_ones_agree_where_they_meet():
    T = 330.0
    volumes = np.array([1.0 / float(c.value(np.array([T]))[0]) for c in DENSITY])
    x = np.array([[0.2], [0.3], [0.5]])
    constant, varying = Wilson(pairs(5, 0.5), np.log(volumes)), Wilson(pairs(5, 0.5), DENSITY)
    at = np.array([T])
    np.testing.assert_allclose(varying.at(at).ln_gamma(x), constant.at(at).ln_gamma(x), rtol=1e-12)
    assert VOLUME[1] < VOLUME[2] < VOLUME[0]


def test_henry_solute_in_one_solvent_follows_its_constant():
    model, T = ACTIVITY["dissolved"](), np.array([310.0])
    x = np.array([[1.0 - 1e-9], [1e-9], [1e-100]])
    expected = model.ln_henry.value(T)[1, 0, 0]
    assert model.at(T).ln_gamma(x)[1, 0] == pytest.approx(expected, rel=1e-8)
