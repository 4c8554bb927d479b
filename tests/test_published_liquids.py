"""Worked examples and measured tie lines, as published."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.optimize import least_squares

import sleetfield as sl
from sleetfield.core.correlations.vapor_pressure import Antoine


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
    A = (2.771, 0.0, 0.0, -0.00523)
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


TIE_LINES = {
    # Treybal, Mass-Transfer Operations, 3rd ed. (1980), p. 494, from Trans. AIChE 36 (1940) 601: % by mass at 20 °C, water layer and ether layer
    ("acetic acid", "water", "diisopropyl ether"): (
        293.15,
        [
            (0.69, 98.1, 1.2, 0.18, 0.5, 99.3),
            (1.41, 97.1, 1.5, 0.37, 0.7, 98.9),
            (2.89, 95.5, 1.6, 0.79, 0.8, 98.4),
            (6.42, 91.7, 1.9, 1.93, 1.0, 97.1),
            (13.30, 84.4, 2.3, 4.82, 1.9, 93.3),
            (25.50, 71.1, 3.4, 11.40, 3.9, 84.7),
            (36.70, 58.9, 4.4, 21.60, 6.9, 71.5),
            (44.30, 45.1, 10.6, 31.10, 10.8, 58.1),
            (46.40, 37.1, 16.5, 36.20, 15.1, 48.7),
        ],
    ),
    # Brancker, Hunter, Nash, J. Phys. Chem. 44 (1940) 683: % by mass at 25 °C, water layer and chloroform layer
    ("acetone", "water", "chloroform"): (
        298.15,
        [
            (3.0, 96.0, 1.0, 9.0, 1.0, 90.0),
            (8.3, 90.5, 1.2, 23.7, 1.3, 75.0),
            (13.5, 85.0, 1.5, 32.0, 1.6, 66.4),
            (17.4, 81.0, 1.6, 38.0, 2.0, 60.0),
            (22.1, 76.1, 1.8, 42.5, 2.5, 55.0),
            (31.9, 66.0, 2.1, 50.5, 4.5, 45.0),
            (44.5, 51.0, 4.5, 57.0, 8.0, 35.0),
        ],
    ),
}


@pytest.mark.parametrize("names", TIE_LINES)
def test_measured_tie_lines_are_described_by_one_set_of_nrtl_parameters(names):
    """Six parameters describe all ends of the tie lines about as well as usual, some 1 mole percent, plait point and all."""
    T, rows = TIE_LINES[names]
    percent = np.array(rows).reshape(-1, 2, 3)
    assert percent.sum(axis=2) == pytest.approx(100.0, abs=0.05)
    moles = percent / sl.System(list(names), liquid="ideal").molar_mass
    measured = moles / moles.sum(axis=2)[:, :, None]
    feeds = measured.mean(axis=1)
    pairs = [(names[0], names[1]), (names[0], names[2]), (names[1], names[2])]

    def liquids(p):
        own = {pair: sl.PairParameters(a12=p[2 * k], a21=p[2 * k + 1], alpha=0.2, form="K") for k, pair in enumerate(pairs)}
        return sl.System(list(names), liquid="NRTL", parameters=own).flash(feeds, T=T, P="10 bar", phases="LL")

    def deviations(p):
        states = liquids(p)
        x = np.where((states.n_phases > 1)[:, None, None], states.result.x[:, :2], feeds[:, None])
        watery = x[:, :, 1].argmax(axis=1)
        x = np.where((watery == 0)[:, None, None], x, x[:, ::-1])
        return (x - measured).ravel()

    fit = least_squares(deviations, [0.0, -100.0, 0.0, -100.0, 1200.0, 400.0], x_scale=100.0, diff_step=1e-4, max_nfev=60)
    assert (liquids(fit.x).n_phases == 2).all()
    assert np.sqrt(np.mean(fit.fun**2)) < 0.012
    assert np.abs(fit.fun).max() < 0.035
