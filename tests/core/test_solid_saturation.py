"""Liquids saturated with a solid: both directions, against flashes and the ideal equation."""

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.core.constants import ATMOSPHERE, R
from sleetfield.core.equilibrium.solid_saturation import dissolved_at, imbalance, temperature_at

NAMES = ("benzoic acid", "ethanol", "acetone")
RATIOS = np.array([[0.2, 0.6, 0.2], [0.1, 0.1, 0.8], [0.05, 0.95, 0.0]])


def system(liquid="NRTL", **parameters):
    made = sl.System(NAMES, liquid=liquid, solids=["benzoic acid"])
    return made.with_parameters(parameters) if parameters else made


STRANGE = {
    "tau benzoic acid / ethanol": 0.9,
    "tau ethanol / benzoic acid": -0.7,
    "tau benzoic acid / acetone": 1.5,
    "tau acetone / benzoic acid": 0.4,
}


def test_an_ideal_liquid_dissolves_what_the_heat_of_fusion_says():
    ideal = system("ideal")
    Tm, H = (ideal.parameters[f"{n} benzoic acid"] for n in ("melting_T", "fusion_H"))
    step = ideal.parameters["fusion_Cp benzoic acid"]
    T = np.array([280.0, 320.0, 360.0])
    found = dissolved_at(ideal.phase_model, 0, T, np.full(3, ATMOSPHERE), RATIOS)
    ln_x = -H / R * (1.0 / T - 1.0 / Tm) - step / R * (1.0 - Tm / T - np.log(T / Tm))
    np.testing.assert_allclose(np.log(found.x[:, 0]), ln_x, rtol=1e-10)
    others = found.x[:, 1:] / found.x[:, 1:].sum(axis=1, keepdims=True)
    np.testing.assert_allclose(others, RATIOS[:, 1:] / RATIOS[:, 1:].sum(axis=1, keepdims=True), rtol=1e-12)


def test_both_directions_and_flashes_agree():
    made = system(**STRANGE)
    T, P = np.array([285.0, 300.0, 315.0]), np.full(3, ATMOSPHERE)
    found = dissolved_at(made.phase_model, 0, T, P, RATIOS)
    np.testing.assert_allclose(imbalance(made.phase_model, 0, T, P, found.x), 0.0, atol=1e-10)
    for start in (T, T + 30.0, T - 30.0):
        np.testing.assert_allclose(temperature_at(made.phase_model, 0, P, found.x, start).T, T, rtol=1e-9)
    for t, x in zip(T, found.x, strict=True):
        feed = 0.7 * x + 0.3 * np.array([1.0, 0.0, 0.0])
        state = made.flash(feed, T=t, P=ATMOSPHERE)
        liquid = next(p for p in state.phases if p.kind == "liquid")
        np.testing.assert_allclose(list(liquid.composition.values()), x, atol=1e-9)


def test_slopes_are_those_of_differences_and_melting_ends_it():
    made = system(**STRANGE)
    T, P, h = np.array([300.0]), np.array([ATMOSPHERE]), 1e-5
    found = dissolved_at(made.phase_model, 0, T, P, RATIOS[:1])
    others = RATIOS[:1].copy()
    others[:, 0] = 0.0
    others /= others.sum()

    def F(ln_x):
        x = others * (1.0 - np.exp(ln_x))
        x[:, 0] = np.exp(ln_x)
        return imbalance(made.phase_model, 0, T, P, x)[0]

    u = np.log(found.x[0, 0])
    assert found.slope[0] == pytest.approx((F(u + h) - F(u - h)) / (2.0 * h), rel=1e-7)
    at = temperature_at(made.phase_model, 0, P, found.x, T + 3.0)
    by_T = [imbalance(made.phase_model, 0, T + s * 1e-3, P, found.x)[0] for s in (1.0, -1.0)]
    assert at.slope[0] == pytest.approx((by_T[0] - by_T[1]) / 2e-3, rel=1e-6)
    melted = dissolved_at(made.phase_model, 0, np.array([450.0]), P, RATIOS[:1])
    assert melted.x[0, 0] == pytest.approx(1.0, abs=1e-9)


def test_ten_thousand_random_liquids():
    rng = np.random.default_rng(11)
    n = 2500
    for seed in range(4):
        own = {name: float(v) for name, v in zip(STRANGE, np.random.default_rng(seed).normal(0.0, 0.8, 4), strict=True)}
        made = system(**own)
        T, P = rng.uniform(230.0, 390.0, n), np.full(n, ATMOSPHERE)
        start = rng.dirichlet(np.ones(3), n)
        found = dissolved_at(made.phase_model, 0, T, P, start)
        off = imbalance(made.phase_model, 0, T, P, found.x)
        assert np.abs(off).max() < 1e-8
        back = temperature_at(made.phase_model, 0, P, found.x, T + rng.normal(0.0, 10.0, n))
        assert np.isfinite(back.T).all()
        np.testing.assert_allclose(imbalance(made.phase_model, 0, back.T, P, found.x), 0.0, atol=1e-8)
