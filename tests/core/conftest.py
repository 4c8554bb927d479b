"""Models for the tests of the computation, from arrays alone."""

import functools
import math

import numpy as np
import pytest

from sleetfield.core.constants import R
from sleetfield.core.correlations.liquid_density import generalized_rackett
from sleetfield.core.correlations.vapor_pressure import Antoine
from sleetfield.core.models.activity.dissolved import Dissolved
from sleetfield.core.models.activity.ideal import IdealSolution
from sleetfield.core.models.activity.nrtl import NRTL
from sleetfield.core.models.activity.of_groups import OfGroups
from sleetfield.core.models.activity.pair_function import PairFunction
from sleetfield.core.models.activity.redlich_kister import RedlichKister
from sleetfield.core.models.activity.regular import Hansen, ScatchardHildebrand
from sleetfield.core.models.activity.uniquac import UNIQUAC
from sleetfield.core.models.activity.van_laar import VanLaar
from sleetfield.core.models.activity.weighted_logarithm import WeightedLogarithm
from sleetfield.core.models.activity.wilson import Wilson
from sleetfield.core.models.alpha import MathiasCopeman, Twu
from sleetfield.core.models.alpha.with_water import WATER, WithWater
from sleetfield.core.models.association import Association
from sleetfield.core.models.cpa import CPA
from sleetfield.core.models.dimers import Dimerization, DimerizingGas
from sleetfield.core.models.hayden_oconnell import HaydenOConnell
from sleetfield.core.models.helmholtz import First, HelmholtzModel
from sleetfield.core.models.ideal_gas import IdealGas
from sleetfield.core.models.liquid import Liquid
from sleetfield.core.models.liquid_and_vapor import LiquidAndVapor
from sleetfield.core.models.mixing import AqueousInteractions
from sleetfield.core.models.pc_saft import PCSAFT
from sleetfield.core.models.pc_saft_with_bonds import BondedPCSAFT
from sleetfield.core.models.peng_robinson import PengRobinson
from sleetfield.core.models.peng_robinson_1978 import PengRobinson1978
from sleetfield.core.models.pure_liquids import PureLiquids
from sleetfield.core.models.redlich_kwong import RedlichKwong
from sleetfield.core.models.soave_redlich_kwong import SoaveRedlichKwong
from sleetfield.core.models.virial import Virial

# nitrogen, methane, propane, n-butane, n-heptane, water-like
TC = np.array([126.2, 190.56, 369.83, 425.12, 540.2, 647.1])
PC = np.array([34.0e5, 45.99e5, 42.48e5, 37.96e5, 27.4e5, 220.55e5])
OMEGA = np.array([0.0377, 0.0115, 0.1523, 0.2002, 0.3495, 0.345])
KIJ = np.zeros((6, 6))
KIJ[0, 1] = KIJ[1, 0] = 0.031
KIJ[4, 5] = KIJ[5, 4] = 0.5

ANTOINE = [
    Antoine((13.8622 + math.log(1e3), 2910.26, 216.432 - 273.15), 277.15, 396.15),
    Antoine((16.3872 + math.log(1e3), 3885.70, 230.170 - 273.15), 273.15, 473.15),
    Antoine((14.3145 + math.log(1e3), 2756.22, 228.060 - 273.15), 247.15, 350.15),
]


def cubic(kind):
    """The six-component test system by one of the equations."""
    return kind(TC, PC, OMEGA, KIJ)


DENSITY = [
    generalized_rackett(Tc, Pc, w) for Tc, Pc, w in ((540.2, 27.4e5, 0.35), (647.1, 220.55e5, 0.345), (508.2, 47.0e5, 0.307))
]


def with_water():
    """The test system with a second interaction parameter in water for some of the pairs, and water's own temperature function."""
    coefficients = np.full((6, 4), np.nan)
    coefficients[[0, 1, 2]] = [[-3.3, 10.9, -15.0, 8.3], [-2.2, 7.2, -8.8, 4.5], [-0.97, 2.1, -0.92, 0.0]]
    constants = np.zeros((3, 6))
    constants[0] = PengRobinson.m(OMEGA)
    constants[:, 5] = WATER
    return PengRobinson(TC, PC, OMEGA, KIJ, alpha=WithWater(constants, TC), in_water=AqueousInteractions(5, coefficients))


def raoult():
    """A three-component ideal liquid and vapor."""
    return LiquidAndVapor(Liquid(PureLiquids(ANTOINE, DENSITY), IdealSolution(3)), IdealGas())


def pairs(seed, size, kinds=4):
    """A random function of temperature for every ordered pair, of the given size around 350 K."""
    rng = np.random.default_rng(seed)
    coefficients = rng.uniform(-size, size, (4, 3, 3)) * np.array([1.0, 350.0, 0.2, 1.0 / 350.0])[:, None, None]
    coefficients[kinds:] = 0.0
    coefficients[:, range(3), range(3)] = 0.0
    return PairFunction(coefficients)


def mirrored(function, sign=1.0):
    """The same with the lower triangle from the upper one."""
    upper = np.triu(function.coefficients, 1)
    return PairFunction(upper + sign * upper.swapaxes(1, 2))


VOLUME = np.array([147e-6, 18e-6, 74e-6])


def three_part():
    """Solubility parameters for dispersion, polarity and hydrogen bonds."""
    return Hansen(VOLUME, np.array([[15.3e3, 15.6e3, 15.5e3], [0.0, 16.0e3, 10.4e3], [0.0, 20.0e3, 7.0e3]]))


ACTIVITY = {
    "ideal": lambda: IdealSolution(3),
    "Redlich-Kister": lambda: RedlichKister([mirrored(pairs(1, 0.4)), mirrored(pairs(2, 0.2), -1.0), mirrored(pairs(3, 0.1))]),
    "van Laar": lambda: VanLaar(PairFunction(np.abs(pairs(4, 0.5).coefficients))),
    "Wilson": lambda: Wilson(pairs(5, 0.5), np.log(VOLUME)),
    "Wilson, volumes at T": lambda: Wilson(pairs(5, 0.5), DENSITY),
    "NRTL": lambda: NRTL(
        pairs(6, 0.6), PairFunction(mirrored(pairs(7, 0.002)).coefficients + 0.3 * (np.arange(4) == 0)[:, None, None])
    ),
    "UNIQUAC": lambda: UNIQUAC(
        np.array([5.17, 0.92, 2.57]), np.array([4.40, 1.40, 2.34]), np.array([4.40, 1.00, 2.34]), pairs(8, 0.4)
    ),
    "groups": lambda: OfGroups(
        np.array([[2.0, 0.0, 1.0], [5.0, 0.0, 1.0], [0.0, 1.0, 1.0]]),
        WeightedLogarithm(np.array([0.85, 0.54, 1.4]), pairs(11, 0.8)),
    ),
    "Scatchard-Hildebrand": lambda: ScatchardHildebrand(VOLUME, np.array([15.2e3, 25.0e3, 20.1e3])),
    "Hansen": three_part,
    "dissolved": lambda: Dissolved(VanLaar(pairs_of_two()), np.array([False, True, False]), henry()),
}
"""Activity models of three components."""


def pairs_of_two():
    """Van Laar parameters of two components."""
    return PairFunction(np.abs(pairs(4, 0.5).coefficients[:, :2, :2]))


def henry():
    """ln H of the second component in the others."""
    coefficients = pairs(9, 0.05).coefficients
    coefficients[0] += 14.0
    return PairFunction(coefficients)


def nonideal(name):
    """One of them beside an ideal gas."""
    solutes = [1] if name == "dissolved" else []
    return LiquidAndVapor(Liquid(PureLiquids(ANTOINE, DENSITY, solutes=solutes), ACTIVITY[name]()), IdealGas())


def beside_equation_of_state():
    """NRTL beside Peng and Robinson's equation, with Poynting's term."""
    pick = [4, 5, 2]
    vapor = PengRobinson(TC[pick], PC[pick], OMEGA[pick], np.zeros((3, 3)))
    return LiquidAndVapor(Liquid(PureLiquids(ANTOINE, DENSITY, vapor, poynting=True), ACTIVITY["NRTL"]()), vapor)


def beside_dimers():
    """NRTL beside a vapor of which two components pair."""
    vapor = DimerizingGas(Dimerization(np.array([-60e3, np.nan, -55e3]), np.array([-146.0, np.nan, -140.0])))
    return LiquidAndVapor(Liquid(PureLiquids(ANTOINE, DENSITY, vapor), ACTIVITY["NRTL"]()), vapor)


def translated():
    """Peng and Robinson's equation with volumes translated."""
    return PengRobinson(TC, PC, OMEGA, KIJ, np.array([4.1, -3.0, 2.2, 5.0, 8.0, -6.0]) * 1e-6)


def flexible():
    """Peng and Robinson's equation with covolume parameters and interactions that depend on temperature."""
    rng = np.random.default_rng(4)
    lij = np.triu(rng.uniform(-0.05, 0.05, (6, 6)), 1)
    linear, inverse = (np.triu(rng.uniform(-1.0, 1.0, (6, 6)) * size, 1) for size in (2e-4, 20.0))
    kij = np.stack([KIJ, inverse + inverse.T, np.zeros((6, 6)), linear + linear.T])
    return PengRobinson(TC, PC, OMEGA, kij, lij=lij + lij.T)


def mathias_copeman():
    """Soave's equation with three constants for each component."""
    rng = np.random.default_rng(5)
    constants = np.stack([SoaveRedlichKwong.m(OMEGA), rng.uniform(-0.2, 0.2, 6), rng.uniform(-0.5, 0.5, 6)])
    return SoaveRedlichKwong(TC, PC, OMEGA, KIJ, alpha=MathiasCopeman(constants, TC))


def twu():
    """Peng and Robinson's equation with Twu's function."""
    constants = np.array([[0.3, 0.4, 0.6, 0.7, 0.9, 0.4], [0.86, 0.87, 0.86, 0.85, 0.84, 0.87], [2.0, 1.9, 1.6, 1.5, 1.4, 2.2]])
    return PengRobinson(TC, PC, OMEGA, KIJ, alpha=Twu(constants, TC))


def virial():
    """A three-component ideal liquid beside a vapor by the virial equation, two of them with a polar term."""
    pick = [4, 5, 2]
    polar = np.array([[0.0878, 0.0, -0.03], [0.05, 0.0, 0.0]])
    Vc = (0.291 - 0.08 * OMEGA[pick]) * R * TC[pick] / PC[pick]
    vapor = Virial(TC[pick], PC[pick], OMEGA[pick], Vc, np.zeros((3, 3)), polar)
    return LiquidAndVapor(Liquid(PureLiquids(ANTOINE, DENSITY, vapor), IdealSolution(3)), vapor)


def hayden_oconnell():
    """The same beside Hayden and O'Connell's coefficients: a polar one, one that associates, one without a dipole moment."""
    pick = [4, 5, 2]
    eta = np.diag([0.0, 1.2, 0.0])
    vapor = HaydenOConnell(TC[pick], PC[pick], 1e-10 * np.array([4.1, 3.0, 2.4]), np.array([1.8, 2.4, 0.0]), eta)
    return LiquidAndVapor(Liquid(PureLiquids(ANTOINE, DENSITY, vapor), IdealSolution(3)), vapor)


SEGMENTS = np.array([1.2053, 1.0, 2.0020, 2.3316, 3.4831, 2.4653])
DIAMETER = np.array([3.3130, 3.7039, 3.6184, 3.7086, 3.8049, 3.6478]) * 1e-10
ENERGY = np.array([90.96, 150.03, 208.11, 222.88, 238.40, 287.35])


def chains(varying=False):
    """PC-SAFT for nitrogen, methane, propane, n-butane, n-heptane and benzene, with interactions that depend on temperature where asked."""
    kij = np.zeros((6, 6))
    kij[0, 1] = kij[1, 0] = 0.03
    if varying:
        rng = np.random.default_rng(8)
        linear, inverse = (np.triu(rng.uniform(-1.0, 1.0, (6, 6)) * size, 1) for size in (2e-5, 4.0))
        kij = np.stack([kij, inverse + inverse.T, np.zeros((6, 6)), linear + linear.T])
    Tc, Pc, omega = (np.concatenate([known[:5], [own]]) for known, own in ((TC, 562.0), (PC, 49.0e5), (OMEGA, 0.21)))
    return PCSAFT(SEGMENTS, DIAMETER, ENERGY, kij, Tc, Pc, omega)


def sites(own_volume, *binding):
    """Water-like, alcohol-like, acid-like and solvating components among six; some by CR-1, some by Elliott's rule."""
    table = np.zeros((6, 3))
    for i, own in binding:
        table[i] = own
    energy = np.array([800.0, 900.0, 1000.0, 1100.0, 1300.0, 1200.0])
    each = np.stack([np.broadcast_to(energy[:, None], (6, 6)), np.broadcast_to(energy, (6, 6))])
    each[:, 2:, :], each[:, :, 2:] = each.mean(axis=0)[2:], each.mean(axis=0)[:, 2:]
    return Association.of_components(table, np.sqrt(own_volume[:, None] * own_volume), each)


def bonded_chains():
    """PC-SAFT with bonds of four of the six."""
    plain = chains(varying=True)
    association = sites(0.02 * plain.sigma**3 * 6.022e23, (2, (1, 1, 0)), (3, (2, 2, 0)), (4, (0, 0, 1)), (5, (0, 1, 0)))
    return BondedPCSAFT(plain.m, plain.sigma, plain.epsilon, plain.kij, plain.Tc, plain.Pc, plain.omega, association=association)


def cubic_plus_association(varying=False):
    """Soave's equation for the usual six, with bonds of four of them."""
    soave = SoaveRedlichKwong(TC, PC, OMEGA, KIJ)
    association = sites(0.03 * soave.b, (1, (1, 1, 0)), (2, (0, 0, 1)), (4, (1, 2, 0)), (5, (2, 2, 0)))
    kij = chains(varying=True).kij if varying else KIJ
    return CPA(0.9 * soave.root_ac**2, soave.b, SoaveRedlichKwong.m(OMEGA), association, kij, TC, PC, OMEGA)


class PlainHelmholtz(HelmholtzModel):
    """Peng and Robinson's equation once more, as a Helmholtz energy: by another way it has to come to the same."""

    critical_packing = 0.2533

    def __init__(self, Tc, Pc, omega, kij):
        self.numbers, self.n_components = (Tc, Pc, omega, kij), len(Tc)
        self.Tc, self.b, self.root_a = Tc, 0.0777960739 * R * Tc / Pc, math.sqrt(0.4572355289) * R * Tc / np.sqrt(Pc)
        self.m = 0.37464 + 1.54226 * omega - 0.26992 * omega**2

    def first(self, T, rho):
        total, b = rho.sum(axis=-1), rho @ self.b
        low, wide = 1.0 - math.sqrt(2.0), 1.0 + math.sqrt(2.0)
        root = self.root_a * (1.0 + self.m * (1.0 - np.sqrt(T[:, None] / self.Tc)))
        slope = -self.root_a * self.m / (2.0 * np.sqrt(T[:, None] * self.Tc))
        u = (rho * root) @ (1.0 - self.numbers[3])
        a, a_T = (rho * root * u).sum(axis=-1), 2.0 * (rho * slope * u).sum(axis=-1)
        ratio = np.log((1.0 + wide * b) / (1.0 + low * b)) / ((wide - low) * b)
        bent = (1.0 / ((1.0 + wide * b) * (1.0 + low * b)) - ratio) / b
        f = -total * np.log(1.0 - b) - a * ratio / (R * T)
        by_b = total / (1.0 - b) - a * bent / (R * T)
        by_rho = -np.log(1.0 - b)[:, None] - 2.0 * root * u * (ratio / (R * T))[:, None] + by_b[:, None] * self.b
        return First(f, a * ratio / (R * T**2) - a_T * ratio / (R * T), by_rho)

    def covolume(self, T, n):
        return n @ self.b

    def ln_saturation_guess(self, T):
        Tc, Pc, omega, _ = self.numbers
        return np.log(Pc) + 5.373 * (1.0 + omega) * (1.0 - Tc / T[:, None])

    def temperature_scale(self, x):
        return 0.2 * self.Tc.min(), 3.0 * self.Tc.max()

    def select(self, components):
        Tc, Pc, omega, kij = self.numbers
        i = np.asarray(components)
        return PlainHelmholtz(Tc[i], Pc[i], omega[i], kij[np.ix_(i, i)])


def by_excess_energy():
    """Peng and Robinson's equation with the example's mixing rule."""
    from tests.test_recipes import example

    rng = np.random.default_rng(6)
    g = np.triu(rng.uniform(-0.1, 0.2, (6, 6)), 1)
    return example("own_mixing_rule").PengRobinsonByExcess(TC, PC, OMEGA, g + g.T)


def with_excess(equation, rule, Tc=TC):
    """A cubic equation with the excess Gibbs energy of NRTL."""
    rng = np.random.default_rng(8)
    tau, alpha = rng.uniform(-0.2, 0.5, (6, 6)), 0.3 * (1.0 - np.eye(6))
    energies = np.stack([tau, 120.0 * tau.T, 0.0 * tau, 0.0 * tau]) * (1.0 - np.eye(6))
    activity = NRTL(PairFunction(energies), PairFunction(alpha * (np.arange(4) == 0)[:, None, None]))
    return equation(Tc, PC, OMEGA, KIJ, excess=(rule, activity))


MODELS = {
    "PR": lambda: cubic(PengRobinson),
    "SRK": lambda: cubic(SoaveRedlichKwong),
    "PR78": lambda: cubic(PengRobinson1978),
    "RK": lambda: cubic(RedlichKwong),
    "PR with water": with_water,
    "PR translated": translated,
    "PR flexible": flexible,
    "SRK Mathias-Copeman": mathias_copeman,
    "PR Twu": twu,
    "PC-SAFT": chains,
    "PC-SAFT varying": lambda: chains(varying=True),
    "PC-SAFT with bonds": bonded_chains,
    "CPA": cubic_plus_association,
    "CPA varying": lambda: cubic_plus_association(varying=True),
    "PR by excess energy": by_excess_energy,
    "SRK HV": lambda: with_excess(SoaveRedlichKwong, "HV"),
    "PR MHV1": lambda: with_excess(PengRobinson, "MHV1"),
    "SRK MHV2": lambda: with_excess(SoaveRedlichKwong, "MHV2"),
    # below their Boyle temperatures, above which the rule has no covolume for some mixtures
    "PR WS": lambda: with_excess(PengRobinson, "WS", TC + 150.0),
    "PR as a Helmholtz energy": lambda: cubic(PlainHelmholtz),
    "ideal": raoult,
    "ideal and virial": virial,
    "ideal and Hayden-O'Connell": hayden_oconnell,
    "ideal and dimers": beside_dimers,
    "NRTL and PR": beside_equation_of_state,
    **{name: functools.partial(nonideal, name) for name in ACTIVITY if name != "ideal"},
}


@pytest.fixture(params=list(MODELS))
def model(request):
    return MODELS[request.param]()


@pytest.fixture(params=["PR", "SRK", "PC-SAFT"])
def eos(request):
    return MODELS[request.param]()


@pytest.fixture(params=["PR", "SRK"])
def cubic_equation(request):
    return MODELS[request.param]()
