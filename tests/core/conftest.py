"""Models for the tests of the computation, from arrays alone."""

import math

import numpy as np
import pytest

from sleetfield.core.correlations.liquid_density import generalized_rackett
from sleetfield.core.correlations.vapor_pressure import Antoine
from sleetfield.core.models.ideal_liquid import IdealLiquid
from sleetfield.core.models.liquid_and_vapor import LiquidAndVapor
from sleetfield.core.models.peng_robinson import PengRobinson
from sleetfield.core.models.peng_robinson_1978 import PengRobinson1978
from sleetfield.core.models.redlich_kwong import RedlichKwong
from sleetfield.core.models.soave_redlich_kwong import SoaveRedlichKwong

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


def raoult():
    """A three-component ideal liquid and vapor."""
    liquid = IdealLiquid(
        ANTOINE,
        [generalized_rackett(Tc, Pc, w) for Tc, Pc, w in ((540.2, 27.4e5, 0.35), (647.1, 220.55e5, 0.345), (508.2, 47.0e5, 0.307))],
    )
    return LiquidAndVapor(liquid)


def translated():
    """Peng and Robinson's equation with volumes translated."""
    return PengRobinson(TC, PC, OMEGA, KIJ, np.array([4.1, -3.0, 2.2, 5.0, 8.0, -6.0]) * 1e-6)


MODELS = {
    "PR": lambda: cubic(PengRobinson),
    "SRK": lambda: cubic(SoaveRedlichKwong),
    "PR78": lambda: cubic(PengRobinson1978),
    "RK": lambda: cubic(RedlichKwong),
    "PR translated": translated,
    "ideal": raoult,
}


@pytest.fixture(params=list(MODELS))
def model(request):
    return MODELS[request.param]()


@pytest.fixture(params=["PR", "SRK"])
def eos(request):
    return MODELS[request.param]()
