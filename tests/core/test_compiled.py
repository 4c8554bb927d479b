"""The compiled engine gives what the reference engine gives: the same phases, to 1e-9."""

import contextlib
import os
import subprocess
import sys

import numpy as np
import pytest

from sleetfield.core.compiled import ENGINE
from sleetfield.core.equilibrium import rachford_rice
from sleetfield.core.equilibrium.flash import FlashResult, flash
from sleetfield.core.models.contract import SETTLED
from sleetfield.core.models.cubic import BoundCubic
from sleetfield.core.models.liquid_and_vapor import BoundLiquidAndVapor
from sleetfield.core.models.mixing import AqueousInteractions
from sleetfield.core.models.peng_robinson import PengRobinson
from sleetfield.core.models.soave_redlich_kwong import SoaveRedlichKwong

from .conftest import beside_equation_of_state, nonideal, virial

compiled_only = pytest.mark.skipif(ENGINE is None, reason="the compiled engine was not built, or is turned off")

#           Tc, K    Pc, Pa   omega   molar mass
FLUIDS = np.array([
    [33.19, 13.13e5, -0.216, 0.00202], [126.2, 34.0e5, 0.0377, 0.02801], [304.21, 73.83e5, 0.2236, 0.04401], [190.56, 45.99e5, 0.0115, 0.01604],
    [305.32, 48.72e5, 0.0995, 0.03007], [369.83, 42.48e5, 0.1523, 0.0441], [425.12, 37.96e5, 0.2002, 0.05812], [507.6, 30.25e5, 0.3013, 0.08618],
    [540.2, 27.4e5, 0.3495, 0.1002], [617.7, 21.1e5, 0.4923, 0.14228], [373.53, 89.63e5, 0.0942, 0.03408], [562.05, 48.95e5, 0.2103, 0.07811],
])  # fmt: skip


WATER = [647.096, 220.64e5, 0.3449, 0.018015]


def random_model(rng):
    """A cubic equation with everything that it can have, of two to eight components."""
    count = int(rng.integers(2, 9))
    constants = FLUIDS[rng.choice(len(FLUIDS), count, replace=False)]
    in_water = None
    if rng.random() < 0.35:
        place = int(rng.integers(count))
        constants[place] = WATER
        coefficients = rng.uniform([-1.0, 0.0, 0.0, -0.1], [0.0, 0.8, 0.3, 0.1], (count, 4))
        coefficients[rng.random(count) < 0.3] = np.nan
        coefficients[place] = np.nan
        in_water = AqueousInteractions(place, coefficients)
    Tc, Pc, omega, molar_mass = constants.T
    kij = rng.uniform(-0.05, 0.12, (count, count))
    kij = 0.5 * (kij + kij.T) * (1.0 - np.eye(count))
    if rng.random() < 0.3:
        slope = rng.uniform(-1e-4, 1e-4, (count, count))
        kij = np.stack([kij, np.zeros_like(kij), np.zeros_like(kij), 0.5 * (slope + slope.T) * (1.0 - np.eye(count))])
    lij = None if rng.random() < 0.7 else 0.02 * (1.0 - np.eye(count))
    translation = None if rng.random() < 0.7 else rng.uniform(-3e-6, 3e-6, count)
    kind = PengRobinson if rng.random() < 0.5 else SoaveRedlichKwong
    return kind(Tc, Pc, omega, kij, translation, lij=lij, molar_mass=molar_mass, in_water=in_water)


def random_states(rng, count, n):
    z = rng.dirichlet(np.full(count, 0.7), n)
    z[(rng.random((n, count)) < 0.05) & (z < z.max(axis=1)[:, None])] = 0.0
    z /= z.sum(axis=1)[:, None]
    return rng.uniform(120.0, 520.0, n), np.exp(rng.uniform(np.log(1e4), np.log(3e7), n)), z


@contextlib.contextmanager
def reference():
    """Without any compiled loop."""
    with pytest.MonkeyPatch.context() as context:
        context.setattr(rachford_rice, "ENGINE", None)
        for bound in (BoundCubic, BoundLiquidAndVapor):
            context.setattr(bound, "_loops", None)
        yield


def by_arrays(*given):
    """The reference engine."""
    with reference():
        return flash(*given)


def gibbs(model, T, P, r):
    """Reduced Gibbs energy of the answer ``(N,)``."""
    bound, total = model.at(T, P), np.zeros(len(T))
    for k in range(r.amount.shape[1]):
        there = np.flatnonzero(np.isfinite(r.amount[:, k]))
        x = np.maximum(r.x[there, k], 1e-100)
        total[there] += r.amount[there, k] * (x * (np.log(x) + bound.rows(there).ln_phi(x))).sum(axis=1)
    return total


@compiled_only
@pytest.mark.parametrize("seed", range(12))
def test_both_engines_agree(seed):
    rng = np.random.default_rng(seed)
    model = random_model(rng)
    T, P, z = random_states(rng, model.n_components, 300)
    one, other = flash(model, T, P, z), by_arrays(model, T, P, z)
    same = (one.n_phases == other.n_phases) & (one.kinds == other.kinds).all(axis=1)
    # where they differ, the compiled engine's answer is no worse
    off = np.flatnonzero(~same)
    assert len(off) <= 1
    assert (gibbs(model, T, P, one)[off] <= gibbs(model, T, P, other)[off] + 1e-9).all()
    stiff = same & (np.nanmin(np.abs(other.amount), axis=1) > 1e-3)
    for name in ("amount", "x", "Z"):
        assert np.nanmax(np.abs(getattr(one, name)[stiff] - getattr(other, name)[stiff]), initial=0.0) < 2e-8
    assert (one.residual <= 1e-10).mean() > 0.99


@compiled_only
def test_most_states_are_settled_and_what_is_not_is_handed_back():
    rng = np.random.default_rng(0)
    model = random_model(rng)
    T, P, z = random_states(rng, model.n_components, 500)
    bound = model.at(T, P)
    n, most, c = len(T), 5, model.n_components
    out = [np.zeros(n, dtype=np.intp), *(np.full(shape, np.nan) for shape in ((n, most), (n, most, c), (n, most)))]
    out += [np.full((n, most), -1, dtype=np.int8), np.zeros(n), np.zeros(n)]
    outcome = bound.loops().flash(z, model.ln_saturation_guess(T) - np.log(P)[:, None], out)
    assert (outcome == SETTLED).mean() > 0.6
    unsettled = outcome == 0
    assert np.isnan(out[1][unsettled]).all()
    whole = flash(model, T, P, z)
    assert np.isfinite(whole.amount[:, 0]).all()
    assert isinstance(whole, FlashResult)


@compiled_only
@pytest.mark.parametrize("seed", range(20))
def test_kernels_are_the_reference_to_rounding(seed):
    """Ln φ and every derivative, of vapors, liquids and stable phases, in either layout of the compositions."""
    rng = np.random.default_rng(seed)
    model = random_model(rng)
    T, P, z = random_states(rng, model.n_components, 200)
    x = np.maximum(z, 1e-100)
    bound = model.at(T, P)
    for kind in (np.int8(-1), np.int8(0), np.int8(1), rng.integers(-1, 2, 200).astype(np.int8)):
        with reference():
            plain = model.at(T, P)
            other, ln_phi = plain.evaluate(x, kind), plain.ln_phi(x, kind)
            assert other.dn.shape == (200, model.n_components, model.n_components)
        for layout in (x, np.ascontiguousarray(x.T).T):
            one = bound.evaluate(layout, kind)
            assert bound.ln_phi(layout, kind) == pytest.approx(ln_phi, rel=1e-11, abs=1e-11)
            for name in ("ln_phi", "dT", "dP", "dn", "Z", "Z_T", "Z_P", "g_TT"):
                a, b = getattr(one, name), getattr(other, name)
                # beside a double root the slope of Z by A and B has no digits left
                scale = np.abs(b).reshape(200, -1).max(axis=1)
                off = np.abs(a - b).reshape(200, -1).max(axis=1) / np.maximum(scale, 1e-300)
                assert np.median(off) < 1e-13
                assert np.quantile(off, 0.97) < 1e-8, name


LIQUIDS = {name: (lambda name=name: nonideal(name)) for name in ("ideal", "Wilson", "Wilson, volumes at T", "NRTL", "UNIQUAC")} | {
    "virial": virial
}


@compiled_only
@pytest.mark.parametrize("name", LIQUIDS)
def test_liquids_by_activity_coefficients_agree(name):
    rng = np.random.default_rng(3)
    model, n = LIQUIDS[name](), 400
    z = rng.dirichlet(np.full(3, 0.7), n)
    z[:20, 0] = 0.0
    z /= z.sum(axis=1)[:, None]
    T, P = rng.uniform(300.0, 430.0, n), np.exp(rng.uniform(np.log(5e3), np.log(1e6), n))
    x = np.maximum(z, 1e-100)
    bound = model.at(T, P)
    assert bound.loops() is not None
    for kind in (np.int8(-1), np.int8(0), np.int8(1), rng.integers(-1, 2, n).astype(np.int8)):
        with reference():
            plain = model.at(T, P)
            ln_phi, dn, other, vapor = (
                plain.ln_phi(x, kind),
                plain.evaluate(x, kind).dn,
                plain.describe(x, kind),
                plain.is_vapor(x, kind),
            )
        assert bound.ln_phi(x, kind) == pytest.approx(ln_phi, rel=1e-12, abs=1e-12)
        assert bound.loops().dn(x, kind) == pytest.approx(dn, rel=1e-9, abs=1e-11)
        Z, packing, (kinds, names) = bound.loops().describe(x, kind)
        assert (kinds == other.kinds).all()
        assert (names == vapor).all()
        assert pytest.approx(other.Z, rel=1e-12) == Z
        assert (packing == other.packing).all()
    one, other = flash(model, T, P, z), by_arrays(model, T, P, z)
    assert {1, 2} <= set(one.n_phases.tolist())
    assert (one.n_phases == other.n_phases).all()
    assert (one.kinds == other.kinds).all()
    for field in ("amount", "x", "Z"):
        assert np.nanmax(np.abs(getattr(one, field) - getattr(other, field)), initial=0.0) < 1e-8


@compiled_only
@pytest.mark.parametrize("name", ["Redlich-Kister", "van Laar", "Scatchard-Hildebrand", "dissolved"])
def test_what_the_engine_does_not_have_is_left_to_the_reference(name):
    assert nonideal(name).at(np.array([350.0]), np.array([1e5])).loops() is None
    assert beside_equation_of_state().at(np.array([350.0]), np.array([1e5])).loops() is None


@compiled_only
def test_arrays_that_do_not_fit_are_refused():
    model = ((1.0, 0.0, 3.8, 4.9, 8.3), False, -1, np.ones(3), np.ones(3), np.ones(8), np.ones(4), np.ones(2), None, None, None)
    with pytest.raises(ValueError, match="are needed"):
        ENGINE.ln_phi((0, model), 4, 2, np.ones((4, 2)), False, -1, None, np.ones((2, 4)))
    with pytest.raises(ValueError, match="components"):
        ENGINE.ln_phi((0, model), 1, 999, np.ones((1, 999)), False, -1, None, np.ones((999, 1)))
    with pytest.raises(ValueError, match="are needed"):
        ENGINE.ln_phi((0, model), 3, 2, np.ones((3, 2), dtype=np.float32), False, -1, None, np.ones((2, 4)))


def test_the_engine_can_be_turned_off_and_says_which_it_is():
    program = [sys.executable, "-c", "import sleetfield.core.compiled as c; print(c.ENGINE is None, c.WHICH)"]
    done = subprocess.run(program, capture_output=True, text=True, check=True, env={**os.environ, "SLEETFIELD_ENGINE": "numpy"})
    assert done.stdout.startswith("True NumPy, as SLEETFIELD_ENGINE=numpy asks for")
