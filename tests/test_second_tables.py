"""The databank against second, independent tables: two published correlations of one quantity must say nearly the same.

The databank's own vapor pressures come from another handbook than these, and its heat capacities, where they come from the newer
edition, from another fit.
"""

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.core.correlations.heat_capacity import Polynomial
from sleetfield.core.correlations.vapor_pressure import Wagner

from .tools import ROOT, tool

# a, b, c, d, Tc [K], Pc [bar]: Reid, Prausnitz and Poling, 4th ed. (1987), Appendix A
WAGNER = {
    "argon": (-5.90501, 1.12627, -0.76787, -1.62721, 150.8, 48.7),
    "nitrogen": (-6.09676, 1.1367, -1.04072, -1.93306, 126.2, 33.9),
    "oxygen": (-6.28275, 1.73619, -1.81349, -0.0253645, 154.6, 50.4),
    "carbon monoxide": (-6.20798, 1.27885, -1.34533, -2.56842, 132.9, 35.0),
    "carbon dioxide": (-6.95626, 1.19695, -3.12614, 2.99448, 304.1, 73.8),
    "water": (-7.76451, 1.45838, -2.7758, -1.23303, 647.3, 221.2),
    "methane": (-6.00435, 1.1885, -0.83408, -1.22833, 190.4, 46.0),
    "ethane": (-6.34307, 1.0163, -1.19116, -2.03539, 305.4, 48.8),
    "propane": (-6.72219, 1.33236, -2.13868, -1.38551, 369.8, 42.5),
    "n-butane": (-6.88709, 1.15157, -1.99873, -3.13003, 425.2, 38.0),
    "isobutane": (-6.95579, 1.5009, -2.52717, -1.49776, 408.2, 36.5),
    "n-pentane": (-7.28936, 1.53679, -3.08367, -1.02456, 469.7, 33.7),
    "isopentane": (-7.12727, 1.38996, -2.54302, -2.45657, 460.4, 33.9),
    "n-hexane": (-7.46765, 1.44211, -3.28222, -2.50941, 507.5, 30.1),
    "n-heptane": (-7.67468, 1.37068, -3.5362, -3.20243, 540.3, 27.4),
    "n-octane": (-7.91211, 1.38007, -3.80435, -4.50132, 568.8, 24.9),
    "n-nonane": (-8.2448, 1.57885, -4.38155, -4.04412, 594.6, 22.9),
    "n-decane": (-8.56523, 1.97756, -5.81971, -0.29982, 617.7, 21.2),
    "ethylene": (-6.32055, 1.16819, -1.55935, -1.83552, 282.4, 50.4),
    "propylene": (-6.64231, 1.21857, -1.81005, -2.48212, 364.9, 46.0),
    "benzene": (-6.98273, 1.33213, -2.62863, -3.33399, 562.2, 48.9),
    "toluene": (-7.28607, 1.38091, -2.83433, -2.79168, 591.8, 41.0),
    "ethylbenzene": (-7.48645, 1.45488, -3.37538, -2.23048, 617.2, 36.0),
    "o-xylene": (-7.53357, 1.40968, -3.10985, -2.85992, 630.3, 37.3),
    "m-xylene": (-7.59222, 1.39441, -3.22746, -2.40376, 617.1, 35.4),
    "p-xylene": (-7.63495, 1.50724, -3.19678, -2.7871, 616.2, 35.1),
    "cyclohexane": (-6.96009, 1.31328, -2.75683, -2.45491, 553.5, 40.7),
    "methanol": (-8.54796, 0.76982, -3.1085, 1.54481, 512.6, 80.9),
    "ethanol": (-8.51838, 0.34163, -5.73683, 8.32581, 513.9, 61.4),
    "1-propanol": (-8.05594, 0.0425183, -7.51296, 6.89004, 536.8, 51.7),
    "2-propanol": (-8.16927, -0.0943213, -8.1004, 7.85, 508.3, 47.6),
    "1-butanol": (-8.00756, 0.53783, -9.3424, 6.68692, 563.1, 44.2),
    "acetone": (-7.45514, 1.202, -2.43926, -3.3559, 508.1, 47.0),
    "methyl ethyl ketone": (-7.71476, 1.71061, -3.6877, -0.75169, 536.8, 42.1),
    "chloroform": (-6.95546, 1.16625, -2.1397, -3.44421, 536.4, 53.7),
    "carbon tetrachloride": (-7.07139, 1.71497, -2.8993, -2.49466, 556.4, 45.6),
    "acetic acid": (-7.83183, 0.000551929, 0.24709, -8.50462, 592.7, 57.9),
    "diethyl ether": (-7.29916, 1.24828, -2.91931, -3.3674, 466.7, 36.4),
    "ethyl acetate": (-7.68521, 1.36511, -4.0898, -1.75342, 523.2, 38.3),
}

# c1 + c2 T + c3 T² + c4 T³, J/(mol K): the same appendix
POLYNOMIALS = {
    "hydrogen": (27.14, 9.274e-3, -1.381e-5, 7.645e-9),
    "nitrogen": (31.15, -1.357e-2, 2.680e-5, -1.168e-8),
    "oxygen": (28.11, -3.680e-6, 1.746e-5, -1.065e-8),
    "carbon monoxide": (30.87, -1.285e-2, 2.789e-5, -1.272e-8),
    "carbon dioxide": (19.80, 7.344e-2, -5.602e-5, 1.715e-8),
    "hydrogen sulfide": (31.94, 1.436e-3, 2.432e-5, -1.176e-8),
    "nitrous oxide": (21.62, 7.281e-2, -5.778e-5, 1.830e-8),
    "nitric oxide": (29.35, -9.378e-4, 9.747e-6, -4.187e-9),
    "ammonia": (27.31, 2.383e-2, 1.707e-5, -1.185e-8),
    "hydrogen chloride": (30.67, -7.201e-3, 1.246e-5, -3.898e-9),
    "chlorine": (26.93, 3.384e-2, -3.869e-5, 1.547e-8),
    "water": (32.24, 1.924e-3, 1.055e-5, -3.596e-9),
    "methane": (19.25, 5.213e-2, 1.197e-5, -1.132e-8),
    "ethane": (5.409, 1.781e-1, -6.938e-5, 8.713e-9),
    "propane": (-4.224, 3.063e-1, -1.586e-4, 3.215e-8),
    "n-butane": (9.487, 3.313e-1, -1.108e-4, -2.822e-9),
    "isobutane": (-1.390, 3.847e-1, -1.846e-4, 2.895e-8),
    "n-pentane": (-3.626, 4.873e-1, -2.580e-4, 5.305e-8),
    "isopentane": (-9.525, 5.066e-1, -2.729e-4, 5.723e-8),
    "n-hexane": (-4.413, 5.820e-1, -3.119e-4, 6.494e-8),
    "n-heptane": (-5.146, 6.762e-1, -3.651e-4, 7.658e-8),
    "n-octane": (-6.096, 7.712e-1, -4.195e-4, 8.855e-8),
    "n-decane": (-7.913, 9.609e-1, -5.288e-4, 1.131e-7),
    "cyclopentane": (-53.62, 5.426e-1, -3.031e-4, 6.485e-8),
    "cyclohexane": (-54.54, 6.113e-1, -2.523e-4, 1.321e-8),
    "methylcyclohexane": (-61.92, 7.842e-1, -4.438e-4, 9.366e-8),
    "ethylene": (3.806, 1.566e-1, -8.348e-5, 1.755e-8),
    "propylene": (3.710, 2.345e-1, -1.160e-4, 2.205e-8),
    "1-butene": (-2.994, 3.532e-1, -1.990e-4, 4.463e-8),
    "isobutylene": (16.05, 2.804e-1, -1.091e-4, 9.098e-9),
    "1,3-butadiene": (-1.687, 3.419e-1, -2.340e-4, 6.335e-8),
    "acetylene": (26.82, 7.578e-2, -5.007e-5, 1.412e-8),
    "benzene": (-33.92, 4.739e-1, -3.017e-4, 7.130e-8),
    "toluene": (-24.35, 5.125e-1, -2.765e-4, 4.911e-8),
    "ethylbenzene": (-43.10, 7.072e-1, -4.811e-4, 1.301e-7),
    "o-xylene": (-15.85, 5.962e-1, -3.443e-4, 7.528e-8),
    "m-xylene": (-29.27, 6.297e-1, -3.747e-4, 8.478e-8),
    "p-xylene": (-25.09, 6.042e-1, -3.374e-4, 6.820e-8),
    "methanol": (21.15, 7.092e-2, 2.587e-5, -2.852e-8),
    "ethanol": (9.014, 2.141e-1, -8.390e-5, 1.373e-9),
    "1-propanol": (2.470, 3.325e-1, -1.855e-4, 4.296e-8),
    "2-propanol": (32.43, 1.885e-1, 6.406e-5, -9.261e-8),
    "1-butanol": (3.266, 4.180e-1, -2.242e-4, 4.685e-8),
    "acetone": (6.301, 2.606e-1, -1.253e-4, 2.038e-8),
    "ethyl acetate": (7.235, 4.072e-1, -2.092e-4, 2.855e-8),
    "diethyl ether": (21.42, 3.359e-1, -1.035e-4, -9.357e-9),
    "acetic acid": (4.840, 2.549e-1, -1.753e-4, 4.949e-8),
}

LOOSER = {"diethyl ether": 0.07, "acetic acid": 0.06}
"""Where handbooks themselves are known to disagree by more."""


@pytest.mark.parametrize("name", list(WAGNER))
def test_vapor_pressure(name):
    *coefficients, Tc, Pc = WAGNER[name]
    second = Wagner((*coefficients, Tc, Pc * 1e5), 0.5 * Tc, Tc)
    own = sl.databank().find(name).vapor_pressure
    T = np.linspace(max(0.6 * Tc, own.T_min), 0.97 * Tc, 9)
    np.testing.assert_allclose(np.exp(own.value(T)), np.exp(second.value(T)), rtol=LOOSER.get(name, 0.03))


@pytest.mark.parametrize("name", list(POLYNOMIALS))
def test_heat_capacity(name):
    second = Polynomial(POLYNOMIALS[name], 273.0, 1000.0)
    T = np.array([300.0, 500.0, 800.0, 950.0])
    np.testing.assert_allclose(sl.databank().find(name).heat_capacity.value(T), second.value(T), rtol=LOOSER.get(name, 0.035))


@pytest.mark.parametrize("first", [["n-pentane", "n-hexane", "n-heptane", "n-octane", "n-nonane", "n-decane"],
                                   ["n-undecane", "n-dodecane", "n-tridecane", "n-tetradecane", "n-pentadecane", "n-hexadecane"]])  # fmt: skip
def test_heat_capacities_of_n_alkanes_rise_by_equal_steps(first):
    """A CH2 group adds nearly the same heat capacity to each longer alkane, at any temperature (one source at a time)."""
    for T, step in ((300.0, 23.0), (600.0, 39.5), (900.0, 49.5)):
        values = [sl.databank().find(n).heat_capacity.value(np.array([T]))[0] for n in first]
        np.testing.assert_allclose(np.diff(values), step, rtol=0.06)


def test_constants_of_n_alkanes_move_one_way():
    names = ["methane", "ethane", "propane", "n-butane", "n-pentane", "n-hexane", "n-heptane", "n-octane", "n-nonane", "n-decane",
             "n-undecane", "n-dodecane", "n-tridecane", "n-tetradecane", "n-pentadecane", "n-hexadecane"]  # fmt: skip
    found = [sl.databank().find(n) for n in names]
    for key in ("molar_mass", "Tc", "omega", "Tb"):
        assert (np.diff([getattr(c, key) for c in found]) > 0.0).all()
    assert (np.diff([c.Pc for c in found[1:]]) < 0.0).all()
    np.testing.assert_allclose(np.diff([c.molar_mass for c in found]), 0.014027, rtol=1e-4)


# ---- the second reading ----


def test_the_databank_page_counts_what_the_second_reading_confirms():
    assert tool("second_reading").report() in (ROOT / "docs" / "databank.md").read_text()
