"""The compiled engine gives what the reference engine gives; `tests/searches/engines.py` holds whole flashes of random models against each other."""

import ctypes
import os
import re
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.core import coldest, compiled, simultaneous, specified_flash
from sleetfield.core.compiled import ENGINE, pair_loops
from sleetfield.core.compiled.pair_loops import MOST_TERMS
from sleetfield.core.equilibrium import critical, flash as flashes, joining, line_equations, rachford_rice, saturation, stability
from sleetfield.core.equilibrium.flash import FlashResult, flash
from sleetfield.core.equilibrium.saturation import bubble_at_T
from sleetfield.core.equilibrium.stability import UNSTABLE, further_phase
from sleetfield.core.models import cubic, density_roots, vapor_side
from sleetfield.core.models.contract import LIQUID, SETTLED, VAPOR
from sleetfield.core.models.liquid_and_vapor import LiquidAndVapor
from sleetfield.core.models.mixing import AqueousInteractions
from sleetfield.core.models.pc_saft import PCSAFT
from sleetfield.core.models.peng_robinson import PengRobinson
from sleetfield.core.models.softest import softest
from sleetfield.core.specified_flash import by_loops

from ..searches.engines import (
    constants_of,
    random_bonds,
    random_chains,
    random_cubic,
    random_gases,
    random_liquid,
    random_states,
    reference,
)
from .conftest import beside_equation_of_state, nonideal, virial

compiled_only = pytest.mark.skipif(ENGINE is None, reason="the compiled engine was not built, or is turned off")


def close(one, other, rel, off=0.0):
    """Whether arrays agree in every number; thousands of them at once."""
    return bool((np.abs(one - other) <= np.maximum(rel * np.abs(other), off)).all())


def by_arrays(*given):
    """The reference engine."""
    with reference():
        return flash(*given)


@compiled_only
def test_most_states_are_settled_and_what_is_not_is_handed_back():
    rng = np.random.default_rng(0)
    model = random_cubic(rng)
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
@pytest.mark.parametrize(
    ("equation", "seed"),
    [
        *((random_cubic, k) for k in range(20)),
        *((random_chains, k) for k in range(8)),
        *((random_bonds, k) for k in range(10)),
        *((random_liquid, k) for k in range(20)),
    ],
)
def test_kernels_are_the_reference_to_rounding(equation, seed):
    """Ln φ and every derivative, of vapors, liquids and stable phases, in either layout of the compositions."""
    rng = np.random.default_rng(seed)
    model = equation(rng)
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
            assert close(bound.ln_phi(layout, kind), ln_phi, 1e-11, 1e-11)
            for name in ("ln_phi", "dT", "dP", "dn", "Z", "Z_T", "Z_P", "g_TT"):
                a, b = getattr(one, name), getattr(other, name)
                # beside a double root the slope of Z by A and B has no digits left
                scale = np.abs(b).reshape(200, -1).max(axis=1)
                off = np.abs(a - b).reshape(200, -1).max(axis=1) / np.maximum(scale, 1e-300)
                assert np.median(off) < 1e-13
                assert np.quantile(off, 0.97) < 1e-8, name


@compiled_only
@pytest.mark.parametrize("name", ["water", "carbon dioxide", "nitrogen", "methane"])
def test_reference_equations_are_the_same_in_both_engines(name):
    model = sl.System([name], eos="reference").phase_model
    rng = np.random.default_rng(5)
    T, P = model.Tc[0] * rng.uniform(0.45, 2.0, 400), model.Pc[0] * np.exp(rng.uniform(-9.0, 3.0, 400))
    # some next to the critical point, where the terms of its own count
    T[:60], P[:60] = model.Tc[0] * rng.uniform(0.995, 1.005, 60), model.Pc[0] * rng.uniform(0.98, 1.02, 60)
    x, bound = np.ones((400, 1)), model.at(T, P)
    for kind in (np.int8(-1), np.int8(0), np.int8(1)):
        one = bound.evaluate(x, kind)
        names = bound.is_vapor(x, kind)
        with reference():
            plain = model.at(T, P)
            other, others = plain.evaluate(x, kind), plain.is_vapor(x, kind)
        assert (names == others).all()
        for field in ("ln_phi", "dT", "dP", "Z", "Z_T", "Z_P", "g_TT"):
            a, b = np.ravel(getattr(one, field)), np.ravel(getattr(other, field))
            off = np.abs(a - b) / (np.abs(b) + 1e-12)
            assert np.median(off) < 1e-12
            # next to the critical point a density has few digits
            assert np.quantile(off, 0.85) < 1e-8, field
    # pressure is that of the density which was found
    assert model.pressure(T, 8.31446261815324 * T / P * bound.evaluate(x).Z, x) == pytest.approx(P, rel=1e-9, abs=1e-4)


@compiled_only
@pytest.mark.parametrize("seed", range(6))
def test_a_further_phase_is_found_beside_phases_of_any_kind(seed):
    rng = np.random.default_rng(seed)
    model = random_cubic(rng)
    T, P, z = random_states(rng, model.n_components, 200)
    bound, z = model.at(T, P), np.maximum(z, 1e-100)
    other = np.roll(z, 1, axis=1)
    for kind in (LIQUID, VAPOR, rng.integers(-1, 2, 200).astype(np.int8)):
        one = further_phase(bound, z, [z, other], kind)
        with reference():
            plain = further_phase(model.at(T, P), z, [z, other], kind)
        # how deep a search goes on once it has proved that a phase forms is its own affair
        assert ((one.tm < UNSTABLE) == (plain.tm < UNSTABLE)).mean() > 0.99
        assert (plain.tm < UNSTABLE).mean() > 0.2


LIQUIDS = {
    name: (lambda name=name: nonideal(name)) for name in ("ideal", "Wilson", "Wilson, volumes at T", "NRTL", "UNIQUAC", "groups")
} | {"virial": virial}


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
        assert close(bound.ln_phi(x, kind), ln_phi, 1e-12, 1e-12)
        assert close(bound.loops().dn(x, kind), dn, 1e-9, 1e-11)
        Z, packing, (kinds, names) = bound.loops().describe(x, kind)
        assert (kinds == other.kinds).all()
        assert (names == vapor).all()
        assert close(Z, other.Z, 1e-12)
        assert (packing == other.packing).all()
    one, other = flash(model, T, P, z), by_arrays(model, T, P, z)
    assert {1, 2} <= set(one.n_phases.tolist())
    assert (one.n_phases == other.n_phases).all()
    assert (one.kinds == other.kinds).all()
    for field in ("amount", "x", "Z"):
        assert np.nanmax(np.abs(getattr(one, field) - getattr(other, field)), initial=0.0) < 1e-8


@compiled_only
@pytest.mark.parametrize("name", LIQUIDS)
def test_other_quantities_of_liquids_are_settled_or_refused_in_the_compiled_engine(name):
    rng = np.random.default_rng(4)
    model, n = LIQUIDS[name](), 60
    z, T, P = rng.dirichlet(np.ones(3), n), rng.uniform(320.0, 430.0, n), np.exp(rng.uniform(np.log(2e4), np.log(5e5), n))
    mixture = random_gases(rng, LiquidAndVapor(model.liquid, model.vapor, np.full(3, 0.05)))
    at = flash(model, T, P, z)
    two = np.flatnonzero(at.n_phases == 2)
    for known, given in (("P", P), ("T", T)):
        for quantity in "HSU":
            target = mixture.total(quantity, T, P, at)[two]
            answer, open_ = by_loops(mixture, known, given[two], quantity, target, z[two])
            assert len(open_) <= 1
            settled = np.setdiff1d(np.arange(len(two)), open_)
            assert answer.T[settled] == pytest.approx(T[two][settled], rel=1e-8)
            assert answer.P[settled] == pytest.approx(P[two][settled], rel=1e-6)
    # far below what there is
    answer, open_ = by_loops(mixture, "P", P, "H", np.full(n, -1e9), z)
    assert not answer.found.any()
    assert not open_.size


@compiled_only
@pytest.mark.parametrize("name", ["Redlich-Kister", "van Laar", "Scatchard-Hildebrand", "dissolved"])
def test_what_the_engine_does_not_have_is_left_to_the_reference(name):
    assert nonideal(name).at(np.array([350.0]), np.array([1e5])).loops() is None
    assert beside_equation_of_state().at(np.array([350.0]), np.array([1e5])).loops() is None


SAID_TWICE = {
    "stability.c": (stability, {"FEW": "_FEW", "NEAR": "_NEAR", "TRIVIAL": "_TRIVIAL", "CLOSE": "_CLOSE", "FAST": "_FAST", "SUBSTITUTIONS": "_SUBSTITUTIONS", "NEWTON_STEPS": "_NEWTON_STEPS", "TOLERANCE": "_TOLERANCE", "FLAT": "_FLAT", "SWING": "_SWING", "FLOOR": "_FLOOR", "NEXT_TO": "_NEXT_TO", "PROVEN": "_PROVEN"}),
    "stability.h": (stability, {"UNSTABLE": "UNSTABLE", "ABSENT": "ABSENT"}),
    "flash.c": (flashes, {"CONVERGED": "CONVERGED", "SUBSTITUTIONS": "_SUBSTITUTIONS", "NEWTON_STEPS": "_NEWTON_STEPS", "TRACE": "_TRACE", "SAME": "_SAME", "GONE": "_GONE", "ROUGH": "_ROUGH"}),
    "split.c": (rachford_rice, {"ITERATIONS": "_ITERATIONS", "LARGEST": "_LARGEST", "TRACE": "_TRACE"}),
    "split.h": (rachford_rice, {"SMALL_AMOUNT_STEP": "SMALL_STEP"}),
    "cubic.c": (cubic, {"CBRT_EPS": "_CBRT_EPS", "SMALL_STEP": "_SMALL_STEP", "THIN": "_THIN", "LEAST_SLOPE": "_LEAST_SLOPE"}),
    "vapor_side.c": (vapor_side, {"TRACE": "_TRACE", "CLOSE": "_CLOSE", "FINER_ROUNDS": "_FINER_ROUNDS", "LIMIT_STEPS": "_LIMIT_STEPS", "AT_LIMIT": "_AT_LIMIT", "SHIFT": "_SHIFT"}),
    "saturation.c": (saturation, {"SUBSTITUTIONS": "_SUBSTITUTIONS", "NEAR": "_NEAR", "NEWTON_STEPS": "_NEWTON_STEPS", "PATIENCE": "_PATIENCE", "ALIKE": "_ALIKE", "OF_A_DIFFERENCE": "_OF_A_DIFFERENCE", "CONVERGED": "CONVERGED", "PARTS": "_PARTS", "CHORDS": "_CHORDS", "SOLVENT_HALVINGS": "_SOLVENT_HALVINGS"}),
    "specified.c": (simultaneous, {"CONVERGED": "CONVERGED", "STEPS": "_STEPS", "PATIENCE": "_PATIENCE", "TRACE": "_TRACE", "LEAST": "_LEAST"}),
    "specified.c, jumps": (specified_flash, {"SAME": "_SAME", "ASIDE": "_ASIDE", "JUMP": "_JUMP", "NOISE": "_NOISE", "LOCATED": "_LOCATED"}),
    "specified.c, how cold": (coldest, {"LEAST_T": "LEAST_T", "FROZEN_T": "FROZEN_T", "FROZEN": "FROZEN"}),
    "critical.c": (critical, {"VOLUMES": "_VOLUMES", "TEMPERATURES": "_TEMPERATURES", "HALVINGS": "_HALVINGS"}),
    "line.c": (line_equations, {"ITERATIONS": "_ITERATIONS", "TOLERANCE": "_TOLERANCE", "ACCEPT": "_ACCEPT", "TRIVIAL": "_TRIVIAL"}),
    "density_roots.c": (density_roots, {"FLAT": "_FLAT", "SAFE": "_SAFE", "FLATTER_STEPS": "_FLATTER_STEPS", "EXTREMUM_STEPS": "_EXTREMUM_STEPS", "FURTHER": "_FURTHER", "ROOT_STEPS": "_ROOT_STEPS", "LAST_NEWTON": "_LAST_NEWTON", "LAST": "_LAST"}),
    "multiphase.c": (joining, {"SAME": "SAME", "GONE": "_GONE", "LEAVING": "_LEAVING"}),
    "pure_liquid.h": (pair_loops, {"LIQUID_NUMBERS": "LIQUID_NUMBERS"}),
    "activity.h": (pair_loops, {"MOST_TERMS": "MOST_TERMS"}),
}  # fmt: skip


@pytest.mark.parametrize("name", SAID_TWICE)
def test_what_both_engines_say_is_the_same(name):
    module, names = SAID_TWICE[name]
    source = (Path(compiled.__file__).parent / "engine" / name.split(",")[0]).read_text()
    written = dict(re.findall(r"^#define (\w+) \(?([-+.\de]+)", source, re.MULTILINE))
    assert {n: float(written[n]) for n in names} == {n: float(getattr(module, own)) for n, own in names.items()}


@compiled_only
def test_critical_points_and_points_of_lines_are_the_same_in_both_engines():
    rng = np.random.default_rng(11)
    met = 0
    for k in range(8):
        model = random_chains(rng) if k > 5 else random_cubic(rng)
        z = rng.dirichlet(np.ones(model.n_components))
        own, start = critical.critical_points(model, z), bubble_at_T(model, np.array([250.0]), z[None])
        X = np.concatenate([np.log(start.incipient[0] / z), np.log([250.0, start.P[0]])])
        tracer = line_equations.Tracer(model, z, 0.0)
        weighted = line_equations.Tracer(model, z / model.molar_mass, 0.3, weights=np.asarray(model.molar_mass) * 1.0)
        lines = [(t, t.solve(X, len(z), float(X[-2]) + 0.01)) for t in (tracer, weighted)]
        with reference():
            others = critical.critical_points(model, z)
            again = [(t.solve(X, len(z), float(X[-2]) + 0.01)) for t, _ in lines]
        assert [p[:2] for p in own] == [pytest.approx(p[:2], rel=1e-8) for p in others]
        met += len(own)
        for (_, one), other in zip(lines, again, strict=True):
            assert (one is None) == (other is None)
            if one is not None:
                met += 1
                assert one.X == pytest.approx(other.X, abs=1e-9)
                assert one.tangent == pytest.approx(other.tangent, rel=1e-6, abs=1e-8)
                assert one.packing == pytest.approx(other.packing, rel=1e-9)
                assert (one.iterations, one.S) == (other.iterations, other.S)
    assert met > 8


@compiled_only
def test_the_third_derivative_along_a_direction_is_exact():
    """By Taylor arithmetic in one engine, by a complex step of the second derivatives in the other."""
    rng = np.random.default_rng(3)
    for k in range(25):
        model = random_chains(rng) if k >= 20 else random_cubic(rng)
        z = rng.dirichlet(np.ones(model.n_components))
        points = critical.critical_points(model, z)
        for point in points:
            V = np.array([point.V + model.volume_shift(z[None])[0]])
            assert abs(softest(model, np.array([point.T]), V, z[None]).form[0]) < 1e-6


@compiled_only
def test_arrays_that_do_not_fit_are_refused():
    pair = np.array([190.6, 469.7]), np.array([46e5, 33.7e5]), np.array([0.011, 0.251])
    equation = PengRobinson(*pair, np.zeros((2, 2))).plain.parts
    model = equation, np.full(3, 300.0), np.full(3, 1e6)
    with pytest.raises(ValueError, match="are needed"):
        ENGINE.ln_phi((0, model), 4, 2, np.ones((4, 2)), False, -1, None, np.ones((2, 4)))
    with pytest.raises(ValueError, match="components"):
        ENGINE.ln_phi((0, model), 1, 999, np.ones((1, 999)), False, -1, None, np.ones((999, 1)))
    free = (0, (equation, None, None))
    with pytest.raises(ValueError, match="no such unknown"):
        ENGINE.line_point(free, 2, np.ones(2), None, 0.0, (0, 1), 7, 0.0, np.zeros(4), np.zeros(4), np.zeros((2, 2)))
    with pytest.raises(ValueError, match="no such quantity"):
        ENGINE.specified(free, 1, 2, 5, None, None, np.ones((1, 2)), (7, 1), *np.ones((4, 1)), (), None)
    with pytest.raises(ValueError, match="no such quantity"):
        ENGINE.near(free, 1, 2, 5, None, None, np.ones((1, 2)), (0, 7), *np.ones((4, 1)), (), None)
    with pytest.raises(ValueError, match="are needed"):
        ENGINE.ln_phi((0, model), 3, 2, np.ones((3, 2), dtype=np.float32), False, -1, None, np.ones((2, 4)))
    chains = PCSAFT(np.array([1.0, 2.7]), np.full(2, 3.7e-10), np.array([150.0, 231.0]), np.zeros((2, 2)), *pair).plain.parts
    liquid = nonideal("Wilson, volumes at T").plain.parts
    wrong = {
        "no such equation": (1, liquid, {3: (np.full(3, 9, dtype=np.int8), *liquid[3][1:])}),
        "lacks its vapor pressure": (1, liquid, {3: (None, *liquid[3][1:])}),
        "has no fugacity coefficients": (1, liquid, {2: True}),
        "only an equation of state": (1, liquid, {}),
        "no such temperature function": (0, equation, {5: 99}),
        "known functions of temperature": (0, equation, {10: ((3,), *equation[10][1:])}),
        "too many terms": (
            0,
            equation,
            {10: (-1.0, 0.0, 1.0, ((0, ((), None), ((), None), None, None, 0, None, None, None),) * (MOST_TERMS + 1))},
        ),
        "no such term": (0, equation, {10: (-1.0, 0.0, 1.0, ((9, ((), None), ((), None), None, None, 0, None, None, None),))}),
        "lacks its numbers": (0, equation, {10: (-1.0, 0.0, 1.0, ((2, ((), None), ((), None), None, None, 0, None, None, None),))}),
        "so many packings": (2, chains, {-2: np.ones(99)}),
        "are needed": (2, chains, {7: np.ones(1)}),
    }
    components = {0: 2, 1: 3, 2: 2}
    for words, (which, right, changed) in wrong.items():
        parts = list(right)
        for at, value in changed.items():
            parts[at] = value
        with pytest.raises(ValueError, match=words):
            ENGINE.critical(
                (which, (tuple(parts), None, None)), components[which], np.ones(components[which]), 10.0, 900.0, np.empty((12, 3))
            )
    with pytest.raises(TypeError):
        ENGINE.critical((2, (equation, None, None)), 2, np.ones(2), 10.0, 900.0, np.empty((12, 3)))


@compiled_only
def test_no_other_library_can_take_the_place_of_a_function_of_the_engine():
    shared = ctypes.CDLL(ENGINE.__file__)
    assert hasattr(shared, "PyInit__engine")
    assert not [name for name in ("split", "release", "numbers", "flash_state", "further_phase") if hasattr(shared, name)]


def test_the_engine_can_be_turned_off_and_says_which_it_is():
    program = [sys.executable, "-c", "import sleetfield.core.compiled as c; print(c.ENGINE is None, c.WHICH)"]
    done = subprocess.run(program, capture_output=True, text=True, check=True, env={**os.environ, "SLEETFIELD_ENGINE": "numpy"})
    assert done.stdout.startswith("True NumPy, as SLEETFIELD_ENGINE=numpy asks for")


@compiled_only
@pytest.mark.parametrize("points", [saturation.bubble_at_P, saturation.dew_at_P])
def test_an_absent_component_of_which_next_to_nothing_would_be_in_the_other_phase_is_no_further_phase(points):
    k = -0.00441913 * (1.0 - np.eye(2))
    in_water = AqueousInteractions(1, np.array([[-0.02054022, 0.77085402, 0.16561165, 0.04682605], [np.nan] * 4]))
    Tc, Pc, omega, _ = constants_of("hydrogen", "water").T
    model = PengRobinson(Tc, Pc, omega, k, in_water=in_water)
    P, z = np.linspace(2e4, 2e5, 60), np.tile([1.0, 0.0], (60, 1))
    one = points(model, P, z)
    with reference():
        other = points(model, P, z)
    assert one.T == pytest.approx(other.T, rel=1e-10)
    assert (one.tm >= UNSTABLE).all()
    assert (other.tm >= UNSTABLE).all()
    assert (one.incipient == other.incipient).all()
