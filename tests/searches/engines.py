"""Random states by both engines: the same phases in the same amounts, and where they differ, no worse by the Gibbs energy?

    python -m tests.searches.engines --models 400 --seed 1

Cubic equations with all that they can have (k and l that depend on temperature, water's own interactions, translation), PC-SAFT with made-up segments, both with made-up bonds, and liquids by NRTL,
Wilson and UNIQUAC with random parameters beside ideal and virial vapors; a hundred and fifty states of each. The reference engine works with NumPy alone.
"""

from __future__ import annotations

import contextlib
import sys
from unittest import mock

import numpy as np

import sleetfield as sl
from sleetfield.core.constants import R
from sleetfield.core.correlations.heat_capacity import Hyperbolic, Oscillators, Polynomial, ReducedPolynomial
from sleetfield.core.correlations.liquid_density import PowerSeries, generalized_rackett
from sleetfield.core.correlations.vapor_pressure import Antoine, Wagner, lee_kesler_vapor_pressure
from sleetfield.core.equilibrium import rachford_rice
from sleetfield.core.equilibrium.critical import critical_points
from sleetfield.core.equilibrium.flash import flash
from sleetfield.core.equilibrium.saturation import bubble_at_P, bubble_at_T, dew_at_P, dew_at_T
from sleetfield.core.equilibrium.stability import UNSTABLE
from sleetfield.core.models.activity.nrtl import NRTL
from sleetfield.core.models.activity.pair_function import PairFunction
from sleetfield.core.models.activity.uniquac import UNIQUAC
from sleetfield.core.models.activity.wilson import Wilson
from sleetfield.core.models.association import Association
from sleetfield.core.models.by_loops import ByLoops
from sleetfield.core.models.contract import VAPOR, PhaseModel
from sleetfield.core.models.cpa import CPA
from sleetfield.core.models.ideal_gas import IdealGas
from sleetfield.core.models.liquid import Liquid
from sleetfield.core.models.liquid_and_vapor import LiquidAndVapor
from sleetfield.core.models.mixing import AqueousInteractions
from sleetfield.core.models.pc_saft import PCSAFT
from sleetfield.core.models.pc_saft_with_bonds import BondedPCSAFT
from sleetfield.core.models.peng_robinson import PengRobinson
from sleetfield.core.models.pure_liquids import PureLiquids
from sleetfield.core.models.soave_redlich_kwong import SoaveRedlichKwong
from sleetfield.core.models.virial import Virial
from sleetfield.core.neither_given import flash_without, pairing
from sleetfield.core.specification import Specification, Thermodynamics
from sleetfield.core.specified_flash import easily_to, flash_to

from .searching import search

STATES, FEW = 150, 12
SATURATED, OTHERWISE = 20, 2
"""At how many of them saturation points are sought, and states with other quantities given."""

FLUIDS = ("hydrogen", "nitrogen", "carbon dioxide", "methane", "ethane", "propane", "n-butane", "n-hexane", "n-heptane", "n-decane", "hydrogen sulfide", "benzene")  # fmt: skip


def constants_of(*names):
    """Tc, Pc, omega and molar mass ``(C, 4)``."""
    return np.array([[c.Tc, c.Pc, c.omega, c.molar_mass] for c in map(sl.databank().find, names)])


def random_cubic(rng):
    """A cubic equation with everything that it can have, of two to eight components."""
    count = int(rng.integers(2, 9))
    constants = constants_of(*(str(name) for name in rng.choice(FLUIDS, count, replace=False)))
    in_water = None
    if rng.random() < 0.35:
        place = int(rng.integers(count))
        constants[place] = constants_of("water")
        # below k = -0.5 or so there are pits where ln phi is -20, in which either engine finds a third phase by chance
        coefficients = rng.uniform([-0.4, 0.0, 0.0, -0.1], [0.0, 0.8, 0.3, 0.1], (count, 4))
        coefficients[rng.random(count) < 0.3] = np.nan
        coefficients[place] = np.nan
        in_water = AqueousInteractions(place, coefficients)
    Tc, Pc, omega, molar_mass = constants.T
    kij = random_kij(rng, count)
    lij = None if rng.random() < 0.7 else 0.02 * (1.0 - np.eye(count))
    translation = None if rng.random() < 0.7 else rng.uniform(-3e-6, 3e-6, count)
    kind = PengRobinson if rng.random() < 0.5 else SoaveRedlichKwong
    return kind(Tc, Pc, omega, kij, translation, lij=lij, molar_mass=molar_mass, in_water=in_water)


def random_kij(rng, count):
    """Some of them depend on temperature."""
    kij = rng.uniform(-0.05, 0.12, (count, count))
    kij = 0.5 * (kij + kij.T) * (1.0 - np.eye(count))
    if rng.random() > 0.3:
        return kij
    slope = rng.uniform(-1e-4, 1e-4, (count, count))
    return np.stack([kij, np.zeros_like(kij), np.zeros_like(kij), 0.5 * (slope + slope.T) * (1.0 - np.eye(count))])


def random_chains(rng):
    """PC-SAFT of two to eight made-up substances, whose critical constants are the equation's own to some percent."""
    count = int(rng.integers(2, 9))
    m, sigma, epsilon = rng.uniform(1.0, 4.0, count), rng.uniform(3.2e-10, 4.2e-10, count), rng.uniform(100.0, 270.0, count)
    rough = epsilon * (1.4 + 0.3 * np.log(m)), 70e5 / m, 0.07 * m, 0.02 + 0.014 * m
    kij = random_kij(rng, count)
    model = PCSAFT(m, sigma, epsilon, kij, *rough)
    Tc, Pc = np.array([critical_points(model.select([i]), np.ones(1))[0][:2] for i in range(count)]).T
    return PCSAFT(m, sigma, epsilon, kij, Tc * rng.uniform(0.98, 1.02, count), Pc * rng.uniform(0.95, 1.05, count), *rough[2:])


def random_bonds(rng):
    """Cubic plus association, or PC-SAFT of made-up chains, with sites of every kind on some of the components."""
    plain = random_chains(rng)
    count = plain.n_components
    binding = rng.random(count) < 0.5
    sites = binding[:, None] * np.array([[1, 1, 0], [2, 2, 0], [1, 2, 0], [0, 0, 1], [0, 1, 0]])[
        rng.integers(5, size=count)
    ].astype(float)
    own = rng.uniform(1200.0, 2600.0, count)
    crossed = rng.random() < 0.5
    energy = np.stack([np.broadcast_to(own[:, None], (count, count)), np.broadcast_to(own, (count, count))])
    energy = energy if crossed else np.repeat(energy.mean(axis=0, keepdims=True), 2, axis=0)
    if rng.random() < 0.5:
        size = rng.uniform(0.002, 0.05, count) * plain.sigma**3 * 6.022e23
        association = Association.of_components(sites, np.sqrt(size[:, None] * size), energy)
        return BondedPCSAFT(
            plain.m,
            plain.sigma,
            plain.epsilon,
            plain.kij,
            plain.Tc,
            plain.Pc,
            plain.omega,
            plain.molar_mass,
            association=association,
        )
    constants = constants_of(*(str(name) for name in rng.choice(FLUIDS, count, replace=False)))
    Tc, Pc, omega, molar_mass = constants.T
    soave = SoaveRedlichKwong(Tc, Pc, omega, np.zeros((count, count)))
    # what is a gas at room temperature has no hydrogen bonds
    binding &= Tc > 250.0
    sites[~binding] = 0.0
    size = rng.uniform(0.002, 0.05, count) * soave.b
    association = Association.of_components(sites, np.sqrt(size[:, None] * size), energy)
    weaker = np.where(binding, rng.uniform(0.3, 0.7, count), 1.0)
    return CPA(weaker * soave.root_ac**2, soave.b, SoaveRedlichKwong.m(omega), association, plain.kij, Tc, Pc, omega, molar_mass)


def random_states(rng, count, n):
    z = rng.dirichlet(np.full(count, 0.7), n)
    z[(rng.random((n, count)) < 0.05) & (z < z.max(axis=1)[:, None])] = 0.0
    z /= z.sum(axis=1)[:, None]
    return rng.uniform(120.0, 520.0, n), np.exp(rng.uniform(np.log(1e4), np.log(3e7), n)), z


@contextlib.contextmanager
def reference():
    """Without any compiled loop."""
    with contextlib.ExitStack() as stack:
        stack.enter_context(mock.patch.object(rachford_rice, "ENGINE", None))
        stack.enter_context(mock.patch.object(ByLoops, "_loops", None))
        stack.enter_context(mock.patch.object(PhaseModel, "free_loops", return_value=None))
        yield


def random_pairs(rng, count, low, high):
    """A function of temperature for every ordered pair, of about that size around 350 K."""
    coefficients = rng.uniform(low, high, (4, count, count)) * np.array([0.5, 175.0, 0.1, 0.5 / 350.0])[:, None, None]
    coefficients[:, range(count), range(count)] = 0.0
    return PairFunction(coefficients)


def random_activity(rng, count):
    """NRTL, Wilson's equation or UNIQUAC."""
    r, q = rng.uniform(1.0, 5.0, count), rng.uniform(1.0, 4.0, count)
    alpha = rng.uniform(0.2, 0.47, (count, count))
    return (
        lambda: NRTL(
            random_pairs(rng, count, -1.0, 2.0), PairFunction(0.5 * (alpha + alpha.T) * (np.arange(4) == 0)[:, None, None])
        ),
        lambda: Wilson(random_pairs(rng, count, -1.5, 0.8), np.log(rng.uniform(2e-5, 2e-4, count))),
        lambda: UNIQUAC(r, q, q, random_pairs(rng, count, -1.0, 0.6)),
    )[int(rng.integers(3))]()


def random_mixing(rng):
    """A cubic equation whose mixtures are an activity model's, of substances that boil not too far apart."""
    count = int(rng.integers(2, 6))
    names = (
        "n-pentane",
        "n-hexane",
        "n-heptane",
        "benzene",
        "acetone",
        "methanol",
        "ethanol",
        "water",
        "ethyl acetate",
        "1-butanol",
    )
    Tc, Pc, omega, molar_mass = constants_of(*(str(name) for name in rng.choice(names, count, replace=False))).T
    kind = PengRobinson if rng.random() < 0.5 else SoaveRedlichKwong
    rule = str(rng.choice(["HV", "MHV1", "MHV2", *(["PSRK"] if kind is SoaveRedlichKwong else [])]))
    excess = rule, random_activity(rng, count)
    return kind(Tc, Pc, omega, np.zeros((count, count)), molar_mass=molar_mass, excess=excess)


def random_pressure(rng, boiling, Tc, Pc, omega):
    """A vapor pressure by any of the equations, in a range that need not reach to the critical point."""
    kinds = (
        lambda: Antoine((np.log(101325.0) + 10.5, 10.5 * (boiling - 45.0), -45.0), 0.4 * boiling, 1.4 * boiling),
        lambda: lee_kesler_vapor_pressure(Tc, Pc, omega),
        lambda: Wagner((-7.2, 1.6, -2.5, -3.0, Tc, Pc), 0.5 * Tc, float(rng.choice([0.9, 1.0])) * Tc),
    )
    return kinds[int(rng.integers(len(kinds)))]()


def random_density(rng, Tc, Pc, omega):
    """The density of a saturated liquid by either equation."""
    scale = Pc / (0.27 * R * Tc)
    series = PowerSeries((scale, 1.7 * scale, 0.8 * scale, -0.3 * scale, 0.2 * scale, Tc), 0.4 * Tc, Tc)
    return series if rng.random() < 0.5 else generalized_rackett(Tc, Pc, omega)


def random_liquid(rng):
    """Two to six made-up components boiling between 300 and 450 K or so, by one of the liquid models, beside an ideal or a virial vapor."""
    count = int(rng.integers(2, 7))
    boiling, critical = rng.uniform(300.0, 450.0, count), rng.uniform(1.45, 1.6, count)
    Tc, Pc, omega = boiling * critical, rng.uniform(25e5, 60e5, count), rng.uniform(0.1, 0.6, count)
    pressures = [random_pressure(rng, *constants) for constants in zip(boiling, Tc, Pc, omega, strict=True)]
    densities = [random_density(rng, *constants) for constants in zip(Tc, Pc, omega, strict=True)]
    activity = random_activity(rng, count)
    vapor = IdealGas()
    if rng.random() < 0.4:
        vapor = Virial(Tc, Pc, omega, (0.291 - 0.08 * omega) * R * Tc / Pc, np.zeros((count, count)), np.zeros((2, count)))
    shared = None if isinstance(vapor, IdealGas) else vapor
    pure = PureLiquids(pressures, densities, shared, poynting=bool(rng.random() < 0.3))
    return LiquidAndVapor(Liquid(pure, activity), vapor, rng.uniform(0.03, 0.15, count))


def gibbs(model, T, P, r):
    """Reduced Gibbs energy of the answer ``(N,)``."""
    bound, total = model.at(T, P), np.zeros(len(T))
    for k in range(r.amount.shape[1]):
        there = np.flatnonzero(np.isfinite(r.amount[:, k]))
        x = np.maximum(r.x[there, k], 1e-100)
        total[there] += r.amount[there, k] * (x * (np.log(x) + bound.rows(there).ln_phi(x))).sum(axis=1)
    return total


def differences(model, T, P, z):
    """The answers by both engines, and where they aren't the same phases."""
    one = flash(model, T, P, z)
    with reference():
        other = flash(model, T, P, z)
    return one, other, (one.n_phases != other.n_phases) | (one.kinds != other.kinds).any(axis=1)


SATURATION = {"bubble point at T": (bubble_at_T, "T"), "dew point at T": (dew_at_T, "T"), "bubble point at P": (bubble_at_P, "P"), "dew point at P": (dew_at_P, "P")}  # fmt: skip


def other_saturation(model, T, P, z, counts):
    """What both engines don't find alike of saturation points; from given points too."""
    for name, (points, known) in SATURATION.items():
        given = T if known == "T" else P
        one = points(model, given, z)
        near = (one.P if known == "T" else one.T) * 1.001, one.incipient
        with reference():
            other = points(model, given, z)
        again = points(model, given, z, near)
        counts["saturation points"] += int(one.found.sum())
        for found, how in ((one, ""), (again, " from near")):
            both = found.found & other.found & (other.P < 1e9)
            alone = found.found != other.found
            # rounding may lead a row of a batch to the feed's own composition, or away from it
            for i in np.flatnonzero(alone):
                with reference():
                    alone[i] = points(model, given[i : i + 1], z[i : i + 1]).found[0] != found.found[i]
            counts["found by one engine alone"] += int(alone.sum())
            q, q_other = (found.P, other.P) if known == "T" else (found.T, other.T)
            unlike = np.abs(other.incipient - z).max(axis=1)
            apart = both & ~(np.abs(np.log(q / q_other)) * np.minimum(unlike, 1.0) < 1e-9)
            apart |= both & (np.abs(found.incipient - other.incipient).max(axis=1) * unlike > 1e-8)
            apart |= both & ((found.tm < UNSTABLE) != (other.tm < UNSTABLE))
            counts["other saturation points"] += int(apart.sum())
            for where, words in ((alone, "is found by one engine alone"), (apart, "is another")):
                for i in np.flatnonzero(where)[:2]:
                    yield f"{name}{how} {words} at {known}={given[i]!r} z={z[i].tolist()!r}: {q[i]!r} {q_other[i]!r}"


SPECIFIED = (("P", "H"), ("P", "S"), ("P", "U"), ("P", "V"), ("T", "S"), ("T", "V"), ("P", "vapor_fraction"), ("T", "vapor_fraction"), ("P", "vapor_mass_fraction"))  # fmt: skip
STEADY = 6
"""The first so many of these have one answer alone."""
NEITHER = (("S", "H"), ("V", "U"), ("V", "S"), ("U", "S"))
"""Two quantities that have one answer, or none."""


def random_gases(rng, model):
    """A mixture with made-up heat capacities, of every equation, partly out of range."""
    kinds = (
        lambda: Polynomial((rng.uniform(20.0, 60.0), rng.uniform(0.0, 0.2), -1e-5), 150.0, 450.0),
        lambda: ReducedPolynomial((rng.uniform(3.0, 8.0), rng.uniform(0.0, 0.02), 0.0, 1e-9), 100.0, 1500.0),
        lambda: Hyperbolic(
            (rng.uniform(30.0, 60.0), rng.uniform(20.0, 90.0), 1500.0, rng.uniform(10.0, 60.0), 700.0), 150.0, 1500.0
        ),
        lambda: Oscillators((rng.uniform(28.0, 35.0), 1e-3, 0.0, 0.0, rng.uniform(5.0, 40.0), 900.0, 20.0, 3000.0), 120.0, 1500.0),
    )
    capacities = tuple(kinds[int(rng.integers(len(kinds)))]() for _ in range(model.n_components))
    return Thermodynamics(model, capacities, np.asarray(model.molar_mass, dtype=float))


def tells_pressure(model, at):
    """Where the phases' quantities depend on pressure: not those of liquids alone by activity coefficients ``(N,)``."""
    return (at.kinds[:, 0] == VAPOR) | (not isinstance(model, LiquidAndVapor))


def other_specified(rng, model, T, P, z, counts):
    """What both engines don't answer alike where another quantity is given than temperature and pressure."""
    mixture = random_gases(rng, model)
    for k, (known, name) in enumerate(SPECIFIED):
        at = flash(model, T, P, z)
        target = mixture.total(name, T, P, at)
        told = (known == "P") | tells_pressure(model, at)
        inner = np.flatnonzero(told & np.isfinite(target) & ((k < STEADY) | ((target > 1e-3) & (target < 0.999))))
        given, wanted, feed = (T if known == "T" else P)[inner], target[inner], z[inner]
        one = flash_to(mixture, known, given, name, wanted, feed)
        with reference():
            other = flash_to(mixture, known, given, name, wanted, feed)
        counts["specified states"] += len(inner)
        alone = one.found != other.found
        counts["answered by one engine alone"] += int(alone.sum())
        both = one.found & other.found
        moved = np.abs(np.log(one.T / other.T)) + np.abs(np.log(one.P / other.P))
        apart = both & ((one.result.n_phases != other.result.n_phases) | (one.result.kinds != other.result.kinds).any(axis=1))
        apart |= both & ~(moved < 1e-7)
        if k >= STEADY:
            # a share of vapor may be passed more than once: then either answer is one
            again = mixture.total(name, one.T, one.P, flash(model, one.T, one.P, feed))
            apart &= ~(np.abs(again - wanted) < 1e-6)
        counts["answered otherwise"] += int(apart.sum())
        for where, words in ((alone, "is answered by one engine alone"), (apart, "is answered otherwise")):
            for i in np.flatnonzero(where)[:2]:
                answers = (
                    f"{one.T[i]!r} {one.P[i]!r} {one.result.n_phases[i]}, {other.T[i]!r} {other.P[i]!r} {other.result.n_phases[i]}"
                )
                yield f"{known}={given[i]!r} {name}={wanted[i]!r} {words} at z={feed[i].tolist()!r}: {answers}"


def other_without(rng, model, T, P, z, counts):
    """States that are not found again by two quantities neither of which is T or P, by the compiled engine."""
    mixture, at = random_gases(rng, model), flash(model, T, P, z)
    for names in NEITHER:
        given = {name: mixture.total(name, T, P, at) for name in names}
        inner = np.flatnonzero(tells_pressure(model, at) & np.all([np.isfinite(value) for value in given.values()], axis=0))
        wanted = Specification(mixture, {name: value[inner] for name, value in given.items()}, z[inner])
        held, outer, unknown = pairing(set(names))

        def along(values, rows, wanted=wanted, held=held, unknown=unknown):
            return easily_to(mixture, unknown, values, held, wanted.given[held][rows], wanted.z[rows])

        found = flash_without(wanted, along, outer, unknown)
        counts["states by neither T nor P"] += len(inner)
        # a liquid hardly tells its pressure
        lost = ~found.found | (np.abs(np.log(found.T / T[inner])) > 1e-5)
        counts["not found again"] += int(lost.sum())
        for i in np.flatnonzero(lost)[:2]:
            values = ", ".join(f"{name}={value[i]!r}" for name, value in wanted.given.items())
            yield f"{values} is not found at T={T[inner[i]]!r} P={P[inner[i]]!r} z={wanted.z[i].tolist()!r}: {found.T[i]!r} {found.P[i]!r}"


def look(rng):
    """A model of either kind at many states."""
    makers = {
        "liquid": random_liquid,
        "chains": random_chains,
        "bonds": random_bonds,
        "cubic": random_cubic,
        "mixing": random_mixing,
    }
    kind = str(rng.choice([*makers], p=[0.25, 0.15, 0.15, 0.3, 0.15]))
    liquid = kind == "liquid"
    model = makers[kind](rng)
    # the reference engine needs 20 ms and more for a state with bonds
    count = FEW if kind == "bonds" else STATES
    T, P, z = random_states(rng, model.n_components, count)
    (own,) = rng.spawn(1)
    if kind in ("chains", "bonds"):
        T = np.maximum(T, 160.0)  # below some half of a segment's energy the equation means nothing
    if kind == "mixing":
        T = np.maximum(T, 270.0)
    if liquid:
        T, P = rng.uniform(290.0, 450.0, count), np.exp(rng.uniform(np.log(5e3), np.log(1e6), count))

    def trouble(counts):
        one, other, differ = differences(model, T, P, z)
        counts["states"] += count
        counts["several phases"] += int((other.n_phases > 1).sum())
        counts["other phases"] += int(differ.sum())
        sound = (other.residual < 1e-10) & (other.tm >= UNSTABLE)
        worse = differ & sound & (gibbs(model, T, P, one) > gibbs(model, T, P, other) + 1e-9)
        stiff = ~differ & (np.nanmin(np.abs(other.amount), axis=1) > 1e-3)
        off = np.zeros(count)
        for name in ("amount", "x", "Z"):
            apart = np.nan_to_num(np.abs(getattr(one, name) - getattr(other, name))).reshape(count, -1)
            off = np.maximum(off, apart.max(axis=1))
        # next to a critical point amounts have fewer digits, by as much as the phases are alike
        unlike = np.nanmax(np.abs(other.x[:, 1:] - other.x[:, :1]), axis=(1, 2), initial=0.0)
        apart = stiff & (off * np.where(other.n_phases > 1, unlike, 1.0) > 1e-8)
        counts["in other amounts"] += int(apart.sum())
        counts["without convergence"] += int((one.residual > 1e-10).sum())
        said = [(worse, "a higher Gibbs energy"), (apart, "other amounts")]
        many, few = ([part[:most] for part in (T, P, z)] for most in (min(SATURATED, count // 4), OTHERWISE))
        alike = [*other_saturation(model, *many, counts)]
        alike += [] if kind == "bonds" else [*other_specified(own, model, *few, counts)]
        alike += [] if kind == "bonds" else other_without(own, model, *few, counts)
        return alike + [
            f"{words} at T={T[i]!r} P={P[i]!r} z={z[i].tolist()!r}" for where, words in said for i in np.flatnonzero(where)[:2]
        ]

    return type(model).__name__ + f" of {model.n_components}", trouble


if __name__ == "__main__":
    sys.exit(search(__doc__, "models", 400, look))
