"""Temperature correlations: derivatives, integrals, and what happens outside their range."""

import math

import numpy as np
import pytest

from sleetfield.core.correlations.heat_capacity import Hyperbolic, Oscillators, Polynomial, ReducedPolynomial
from sleetfield.core.correlations.heat_of_vaporization import WatsonForm, watson
from sleetfield.core.correlations.liquid_density import PowerSeries, RackettForm, generalized_rackett, rackett, rackett_through
from sleetfield.core.correlations.vapor_pressure import Antoine, RiedelForm, Wagner

PRESSURES = {
    "antoine": Antoine((16.3872 + math.log(1e3), 3885.70, 230.170 - 273.15), 273.15, 473.15),
    "extended": RiedelForm((73.649, -7258.2, -7.3037, 4.1653e-6, 2.0), 273.16, 647.096),
    "wagner": Wagner((-7.76451, 1.45838, -2.77580, -1.23303, 647.3, 221.2e5), 275.0, 647.3),
}
HEATS = {
    "polynomial": Polynomial((19.25, 5.213e-2, 1.197e-5, -1.132e-8), 273.0, 1000.0),
    "reduced": ReducedPolynomial((4.568, -8.975e-3, 3.631e-5, -3.407e-8, 1.091e-11), 50.0, 1000.0),
    # Perry's Handbook, 8th ed. (2008), Table 2-156, methane
    "oscillators": Oscillators((33.0, 1e-3, -1e-7, 0.0, 16.6, 958.0, 5.2, 1860.0, 0.0, 0.0), 100.0, 2000.0),
    "hyperbolic": Hyperbolic((33.298, 79.933, 2086.9, 41.602, 991.96), 50.0, 1500.0),
}
LIQUIDS = {
    "rackett form": RackettForm((1233.2, 0.25886, 508.2, 0.2913), 178.0, 508.2),
    "power series": PowerSeries((17863.0, 58606.0, -95396.0, 213890.0, -141260.0, 647.096), 273.16, 647.096),
    "rackett": rackett(508.2, 47.01e5, 209e-6, 178.0, 508.2),
    "watson": watson(329.4, 29100.0, 508.2, 178.0, 508.0),
    "watson form": WatsonForm((4.9e4, 508.2, 0.3, 0.2, -0.1), 178.0, 508.0),
}


@pytest.mark.parametrize("name", list(PRESSURES))
def test_derivatives_inside_and_outside(name):
    c = PRESSURES[name]
    T = np.array([200.0, 290.0, 350.0, 420.0, 700.0, 900.0])
    h = 1e-3
    np.testing.assert_allclose(c.slope(T), (c.value(T + h) - c.value(T - h)) / (2 * h), rtol=1e-6)
    np.testing.assert_allclose(c.curvature(T), (c.slope(T + h) - c.slope(T - h)) / (2 * h), rtol=1e-5)


@pytest.mark.parametrize("name", list(PRESSURES))
def test_goes_on_straight_against_the_reciprocal_temperature(name):
    c = PRESSURES[name]
    for edge, outside in ((c.T_max, c.T_max * np.array([1.05, 1.1])), (c.T_min, c.T_min * np.array([0.9, 0.8]))):
        at_edge = float(c.value(np.array([edge]))[0])
        slopes = (c.value(outside) - at_edge) / (1 / outside - 1 / edge)
        assert slopes[0] == pytest.approx(slopes[1], rel=1e-9)
        assert slopes[0] == pytest.approx(-float(c.slope(np.array([edge]))[0]) * edge**2, rel=1e-9)


def test_three_forms_agree_on_water():
    T = np.linspace(300.0, 450.0, 16)
    values = [np.exp(c.value(T)) for c in PRESSURES.values()]
    np.testing.assert_allclose(values[0], values[1], rtol=0.01)
    np.testing.assert_allclose(values[0], values[2], rtol=0.01)


@pytest.mark.parametrize("name", list(HEATS))
def test_integrals(name):
    c = HEATS[name]
    for T in (30.0, 200.0, 600.0, 1500.0):
        grid = np.linspace(298.15, T, 20001)
        cp = c.value(grid)
        energy, entropy = c.integrals(np.array([T]), 298.15)
        assert energy[0] == pytest.approx(np.trapezoid(cp, grid), rel=1e-5)
        assert entropy[0] == pytest.approx(np.trapezoid(cp / grid, grid), rel=1e-5)


@pytest.mark.parametrize("name", [*HEATS, *LIQUIDS])
def test_slopes(name):
    c = {**HEATS, **LIQUIDS}[name]
    T, h = np.array([20.0, 200.0, 290.0, 350.0, 450.0, 700.0, 900.0, 1200.0]), 1e-3
    np.testing.assert_allclose(c.slope(T), (c.value(T + h) - c.value(T - h)) / (2 * h), rtol=2e-6, atol=1e-9)


def test_liquids_end_at_the_critical_point():
    for name in ("rackett form", "power series", "rackett"):
        c = LIQUIDS[name]
        T = np.linspace(200.0, 1.2 * c.T_max, 200)
        assert (np.diff(c.value(T)) <= 0.0).all()
        assert np.ptp(c.value(T[T > c.T_max])) == 0.0
    assert 1.0 / LIQUIDS["rackett"].value(np.array([508.2]))[0] == pytest.approx(209e-6)
    for name in ("watson", "watson form"):
        assert LIQUIDS[name].value(np.array([600.0]))[0] == 0.0
    assert LIQUIDS["watson"].value(np.array([329.4]))[0] == pytest.approx(29100.0)


def test_racketts_equation_through_a_point():
    c = rackett_through(293.15, 13600.0, 508.2, 47.01e5, 178.0, 508.2)
    assert c.value(np.array([293.15]))[0] == pytest.approx(13600.0, rel=1e-12)
    assert generalized_rackett(508.2, 47.01e5, 0.307).value(np.array([293.15]))[0] == pytest.approx(13600.0, rel=0.15)


def test_hyperbolic_heat_capacity_of_methane():
    """Smith, Van Ness and Abbott, 7th ed. (2005), Table C.1: 4.217 R at 298 K."""
    assert HEATS["hyperbolic"].value(np.array([298.15]))[0] == pytest.approx(4.217 * 8.31446, rel=0.02)


@pytest.mark.parametrize("c", [*PRESSURES.values(), *HEATS.values(), *LIQUIDS.values()], ids=[*PRESSURES, *HEATS, *LIQUIDS])
def test_it_says_when_it_is_outside_its_range(c):
    T = np.array([c.T_min - 1.0, c.T_min, 0.5 * (c.T_min + c.T_max), c.T_max, c.T_max + 1.0])
    assert c.outside(T).tolist() == [True, False, False, False, True]
