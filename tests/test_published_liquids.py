"""Worked examples, boiling points and tie lines, as published, by the bank of parameters and by fitted ones."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.optimize import least_squares

import sleetfield as sl
from sleetfield.core.correlations.vapor_pressure import Antoine
from sleetfield.data_sets.shipped import measured_azeotropes
from sleetfield.pairs.bank import published_parameters


@pytest.fixture(scope="module")
def methanol_and_methyl_acetate():
    """Smith, Van Ness and Abbott, 7th ed. (2005), Example 10.3: ln γ₁ = A x₂², A = 2.771 - 0.00523 T; ln P = A - B/(T + C), kPa and K."""
    constants = {"methanol": (16.59158, 3643.31, -33.424), "methyl acetate": (14.25326, 2665.54, -53.424)}
    own = []
    for name, (A, B, C) in constants.items():
        bank = sl.databank().find(name)
        pressure = Antoine((A + np.log(1e3), B, C), 250.0, 400.0)
        own.append(
            sl.Component(
                name=f"{name} of the example",
                Tc=bank.Tc,
                Pc=bank.Pc,
                omega=bank.omega,
                molar_mass=bank.molar_mass,
                vapor_pressure=pressure,
            )
        )
    A = {"1": 2.771, "T": -0.00523}
    pair = sl.PairParameters(a12=A, a21=A)
    return sl.System(own, liquid="Margules", parameters={tuple(c.name for c in own): pair})


def test_bubble_and_dew_points_by_modified_raoults_law(methanol_and_methyl_acetate):
    pair = methanol_and_methyl_acetate
    a = pair.bubble([0.25, 0.75], T=318.15)
    assert (a.P / 1e3, a.y[0]) == (pytest.approx(73.50, abs=0.01), pytest.approx(0.282, abs=5e-4))
    b = pair.dew([0.60, 0.40], T=318.15)
    assert (b.P / 1e3, b.x[0]) == (pytest.approx(62.89, abs=0.02), pytest.approx(0.8169, abs=2e-4))
    c = pair.bubble([0.85, 0.15], P="101.33 kPa")
    assert (c.T, c.y[0]) == (pytest.approx(331.20, abs=0.01), pytest.approx(0.670, abs=5e-4))
    d = pair.dew([0.40, 0.60], P="101.33 kPa")
    assert (d.T, d.x[0]) == (pytest.approx(326.70, abs=0.01), pytest.approx(0.4602, abs=2e-4))


def test_its_azeotrope(methanol_and_methyl_acetate):
    (azeotrope,) = methanol_and_methyl_acetate.azeotropes(T=318.15)
    assert azeotrope.P / 1e3 == pytest.approx(73.76, abs=0.01)
    assert azeotrope.x[0] == pytest.approx(0.325, abs=5e-4)


# Treybal, Mass-Transfer Operations, 3rd ed. (1980), p. 494, from Trans. AIChE 36 (1940) 601: acetic acid, water and diisopropyl ether at 20 °C,
# % by mass in the water layer and in the ether layer
ACETIC_ACID = [
    (0.69, 98.1, 1.2, 0.18, 0.5, 99.3),
    (1.41, 97.1, 1.5, 0.37, 0.7, 98.9),
    (2.89, 95.5, 1.6, 0.79, 0.8, 98.4),
    (6.42, 91.7, 1.9, 1.93, 1.0, 97.1),
    (13.30, 84.4, 2.3, 4.82, 1.9, 93.3),
    (25.50, 71.1, 3.4, 11.40, 3.9, 84.7),
    (36.70, 58.9, 4.4, 21.60, 6.9, 71.5),
    (44.30, 45.1, 10.6, 31.10, 10.8, 58.1),
    (46.40, 37.1, 16.5, 36.20, 15.1, 48.7),
]

# Othmer, White, Trueger, Ind. Eng. Chem. 33 (1941) 1240: acetone between water and methyl isobutyl ketone at 25 °C, % by mass in both layers
ACETONE = [
    (2.5, 4.5),
    (5.5, 10.0),
    (7.5, 13.5),
    (10.0, 17.5),
    (12.5, 21.3),
    (15.5, 25.5),
    (17.5, 28.2),
    (20.0, 31.2),
    (22.5, 34.0),
    (25.0, 36.5),
    (26.0, 37.5),
]


def two_layers(names, pairs, numbers, feeds, T):
    """Mole fractions of the water layer and of the other ``(N, 2, C)``; the feed twice where it does not split."""
    own = {pair: sl.PairParameters(a12=numbers[2 * k], a21=numbers[2 * k + 1], alpha=0.2, form="K") for k, pair in enumerate(pairs)}
    states = sl.System(list(names), liquid="NRTL", parameters=own).flash(feeds, T=T, P="10 bar", phases="LL")
    x = np.where((states.n_phases > 1)[:, None, None], states.result.x[:, :2], feeds[:, None])
    watery_first = x[:, 0, 1] >= x[:, 1, 1]
    return np.where(watery_first[:, None, None], x, x[:, ::-1])


def test_tie_lines_of_acetic_acid_water_and_an_ether_are_described_by_one_set_of_parameters():
    """Six numbers describe all ends of the tie lines to some 1 mole percent, as is usual, up to near the plait point."""
    names = ("acetic acid", "water", "diisopropyl ether")
    percent = np.array(ACETIC_ACID).reshape(-1, 2, 3)
    assert percent.sum(axis=2) == pytest.approx(100.0, abs=0.05)
    moles = percent / sl.System(list(names), liquid="ideal").molar_mass
    measured = moles / moles.sum(axis=2)[:, :, None]
    pairs = [(names[0], names[1]), (names[0], names[2]), (names[1], names[2])]

    def deviations(numbers):
        return (two_layers(names, pairs, numbers, measured.mean(axis=1), 293.15) - measured).ravel()

    fit = least_squares(deviations, [0.0, -100.0, 0.0, -100.0, 1200.0, 400.0], x_scale=100.0, diff_step=1e-4, max_nfev=60)
    layers = two_layers(names, pairs, fit.x, measured.mean(axis=1), 293.15)
    assert (layers[:, 0] != layers[:, 1]).all()
    assert np.sqrt(np.mean(fit.fun**2)) < 0.012
    assert np.abs(fit.fun).max() < 0.035


def test_tie_lines_of_acetone_water_and_a_ketone_are_described_beside_their_mutual_solubility():
    """Four numbers of the pairs with acetone; that of water and the ketone is the bank's, from the solubilities at 25 °C."""
    names = ("acetone", "water", "methyl isobutyl ketone")
    mass = sl.System(list(names), liquid="ideal").molar_mass
    watery, other = np.array(ACETONE).T
    moles = np.stack([watery + other, 100.0 - watery, 100.0 - other], axis=1) / mass
    feeds = moles / moles.sum(axis=1)[:, None]
    bank = published_parameters("NRTL")[names[2], names[1]][0]

    def deviations(numbers):
        x = two_layers(
            names, [*[(names[0], n) for n in names[1:]], (names[2], names[1])], [*numbers, bank.a12, bank.a21], feeds, 298.15
        )
        w = x * mass / (x @ mass)[:, :, None]
        return (w[:, :, 0] - np.stack([watery, other], axis=1) / 100.0).ravel()

    fit = least_squares(deviations, [300.0, 300.0, 0.0, 0.0], x_scale=100.0, diff_step=1e-4, max_nfev=60)
    assert np.sqrt(np.mean(fit.fun**2)) < 0.005
    assert np.abs(fit.fun).max() < 0.012


BOILING = {
    "acetone + ethanol": (
        # Perry's Chemical Engineers' Handbook, 7th ed. (1997), Table 13-1, at 1 atm: x, y, °C
        "Wilson",
        [0.05, 0.10, 0.15, 0.20, 0.25, 0.30, 0.35, 0.40, 0.50, 0.60, 0.70, 0.80, 0.90],
        [0.155, 0.262, 0.348, 0.417, 0.478, 0.524, 0.566, 0.605, 0.674, 0.739, 0.802, 0.865, 0.929],
        [75.4, 73.0, 71.0, 69.0, 67.3, 65.9, 64.7, 63.6, 61.8, 60.4, 59.1, 58.0, 57.0],
        (0.6, 0.04),
    ),
    "carbon disulfide + carbon tetrachloride": (
        # the same table
        "van Laar",
        [0.0296, 0.0615, 0.1106, 0.1435, 0.2585, 0.3908, 0.5318, 0.6630, 0.7574, 0.8604],
        [0.0823, 0.1555, 0.2660, 0.3325, 0.4950, 0.6340, 0.7470, 0.8290, 0.8780, 0.9320],
        [74.9, 73.1, 70.3, 68.6, 63.8, 59.3, 55.3, 52.3, 50.4, 48.5],
        (0.6, 0.012),
    ),
    "n-hexane + benzene": (
        # Tongberg and Johnston, Ind. Eng. Chem. 25 (1933) 733-735, at 735 to 760 mmHg
        "Wilson",
        [0.073, 0.172, 0.268, 0.372, 0.462, 0.585, 0.692, 0.792, 0.828, 0.883, 0.947],
        [0.140, 0.268, 0.376, 0.460, 0.540, 0.644, 0.725, 0.807, 0.838, 0.888, 0.950],
        [77.6, 75.1, 73.4, 72.0, 70.9, 70.0, 69.4, 69.1, 69.0, 68.9, 68.8],
        (0.4, 0.016),
    ),
}


@pytest.mark.parametrize("pair", BOILING)
def test_boiling_points_by_published_parameters_are_the_measured_ones(pair):
    model, x, y, celsius, (kelvin, fraction) = BOILING[pair]
    point = sl.System(pair.split(" + "), liquid=model).bubble(np.stack([x, 1.0 - np.array(x)], axis=1), P="1 atm")
    np.testing.assert_allclose(point.T - 273.15, celsius, atol=kelvin)
    np.testing.assert_allclose(point.y[:, 0], y, atol=fraction)


PRESSURES = {
    "methyl ethyl ketone + toluene": (
        # Smith, Van Ness and Abbott, 7th ed. (2005), Table 12.1: 50 °C; x, y, kPa
        "Margules",
        323.15,
        [0.0895, 0.1981, 0.3194, 0.4232, 0.5119, 0.6096, 0.7135, 0.7934, 0.9102],
        [0.2716, 0.4565, 0.5934, 0.6815, 0.7440, 0.8050, 0.8639, 0.9048, 0.9590],
        [15.51, 18.61, 21.63, 24.01, 25.92, 27.96, 30.12, 31.75, 34.15],
        (0.005, 0.008),
    ),
    "chloroform + 1,4-dioxane": (
        # the same book, Table 12.3: 50 °C
        "Margules",
        323.15,
        [0.0932, 0.1248, 0.1757, 0.2000, 0.2626, 0.3615, 0.4750, 0.5555, 0.6718, 0.8780, 0.9398],
        None,
        [17.51, 18.15, 19.30, 19.89, 21.37, 24.95, 29.82, 34.80, 42.10, 60.38, 65.39],
        (0.035, 0.0),
    ),
    "benzene + isooctane": (
        # Sandler, 4th ed. (2006), Illustration 10.2: 55 °C
        "van Laar",
        328.15,
        [0.0819, 0.2192, 0.3584, 0.3831, 0.5256, 0.8478, 0.9872],
        [0.1869, 0.4065, 0.5509, 0.5748, 0.6786, 0.8741, 0.9863],
        [26.892, 31.573, 35.463, 36.088, 39.105, 43.277, 43.641],
        (0.01, 0.006),
    ),
}


@pytest.mark.parametrize("pair", PRESSURES)
def test_pressures_by_published_parameters_are_the_measured_ones(pair):
    model, T, x, y, kilopascal, (relative, fraction) = PRESSURES[pair]
    point = sl.System(pair.split(" + "), liquid=model).bubble(np.stack([x, 1.0 - np.array(x)], axis=1), T=T)
    np.testing.assert_allclose(point.P / 1e3, kilopascal, rtol=relative)
    if y is not None:
        np.testing.assert_allclose(point.y[:, 0], y, atol=fraction)


def test_published_sets_of_one_pair_by_different_authors_agree():
    """Acetone and benzene: van Laar constants of a textbook, Wilson's parameters of a paper."""
    excess = [sl.System(["acetone", "benzene"], liquid=name).excess([0.5, 0.5], T=340.0).G for name in ("van Laar", "Wilson")]
    np.testing.assert_allclose(excess[0], excess[1], rtol=0.05)


@pytest.mark.parametrize(("first", "second", "liquids"), [("acetonitrile", "n-heptane", 2), ("cyclohexane", "nitromethane", 2)])
def test_azeotropes_by_published_uniquac_parameters_of_pairs_that_split(first, second, liquids):
    (measured,) = [a for a in measured_azeotropes() if (a.first, a.second) == (first, second)]
    system = sl.System([first, second], liquid="UNIQUAC")
    (found,) = system.azeotropes(P=measured.P)
    w = found.x * system.molar_mass / (found.x @ system.molar_mass)
    assert found.T == pytest.approx(measured.T, abs=0.6)
    assert w[0] == pytest.approx(measured.mass_fraction, abs=0.02)
    assert found.heterogeneous == (liquids == 2)
