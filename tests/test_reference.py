"""Reference equations: water and steam by the IAPWS formulation of 1995 to every check value of the releases; carbon dioxide, nitrogen and methane by their papers' other equations."""

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.core.models.contract import LIQUID, VAPOR
from sleetfield.core.transport import water

STEAM = sl.System(["water"], eos="reference", units="metric")
MODEL = STEAM.phase_model
M = 0.018015

# IAPWS R6-95(2018), Table 6: K, kg/m3, φ, φ_δ, φ_τ
REDUCED = [(500.0, 838.025, -3.42693206, -0.364366650, -5.81403435), (647.0, 358.0, -1.21202657, -0.714012024, -3.21722501)]
# Table 7: K, kg/m3, MPa, kJ/(kg K) at constant volume, m/s, kJ/(kg K) of entropy
STATES = [
    (300, 0.9965560e3, 0.992418352e-1, 4.13018112, 1501.51914, 0.393062643), (300, 0.1005308e4, 0.200022515e2, 4.06798347, 1534.92501, 0.387405401),
    (300, 0.1188202e4, 0.700004704e3, 3.46135580, 2443.57992, 0.132609616), (500, 0.4350000, 0.999679423e-1, 1.50817541, 548.314253, 7.94488271),
    (500, 0.4532000e1, 0.999938125, 1.66991025, 535.739001, 6.82502725), (500, 0.8380250e3, 0.100003858e2, 3.22106219, 1271.28441, 2.56690919),
    (500, 0.1084564e4, 0.700000405e3, 3.07437693, 2412.00877, 2.03237509), (647, 0.3580000e3, 0.220384756e2, 6.18315728, 252.145078, 4.32092307),
    (900, 0.2410000, 0.100062559, 1.75890657, 724.027147, 9.16653194), (900, 0.5261500e2, 0.200000690e2, 1.93510526, 698.445674, 6.59070225),
    (900, 0.8707690e3, 0.700000006e3, 2.66422350, 2019.33608, 4.17223802),
]  # fmt: skip
# Table 8: K, MPa, kg/m3 of liquid and vapor, kJ/kg of both, kJ/(kg K) of both
SATURATED = [
    (275.0, 0.698451167e-3, 0.999887406e3, 0.550664919e-2, 0.775972202e1, 0.250428995e4, 0.283094670e-1, 0.910660121e1),
    (450.0, 0.932203564, 0.890341250e3, 0.481200360e1, 0.749161585e3, 0.277441078e4, 0.210865845e1, 0.660921221e1),
    (625.0, 0.169082693e2, 0.567090385e3, 0.118290280e3, 0.168626976e4, 0.255071625e4, 0.380194683e1, 0.518506121e1),
]
# IAPWS R12-08, Table 4, and R15-11, Table 4: K, kg/m3, µPa s or mW/(m K)
VISCOSITY = [(298.15, 998, 889.735100), (298.15, 1200, 1437.649467), (373.15, 1000, 307.883622), (433.15, 1, 14.538324), (433.15, 1000, 217.685358), (873.15, 1, 32.619287),
             (873.15, 100, 35.802262), (873.15, 600, 77.430195), (1173.15, 1, 44.217245), (1173.15, 100, 47.640433), (1173.15, 400, 64.154608)]  # fmt: skip
CONDUCTIVITY = [(298.15, 0, 18.4341883), (298.15, 998, 607.712868), (298.15, 1200, 799.038144), (873.15, 0, 79.1034659)]


@pytest.mark.parametrize(("T", "rho", "phi", "by_delta", "by_tau"), REDUCED)
def test_the_reduced_helmholtz_energy_to_every_digit(T, rho, phi, by_delta, by_tau):
    found = MODEL.reduced(np.array([rho / 322.0]), np.array([647.096 / T]))
    np.testing.assert_allclose([v[0] for v in found], [phi, by_delta, by_tau], rtol=6e-9)


# of the liquid at the triple point, where the release has no internal energy and no entropy
(_, TRIPLE) = STEAM.flash([1.0], T=273.16, vapor_fraction=0.5).phases


@pytest.mark.parametrize(("T", "rho", "P", "Cv", "w", "S"), STATES)
def test_single_phases_to_every_digit(T, rho, P, Cv, w, S):
    found = MODEL.pressure(np.array([float(T)]), np.array([M / rho]), np.ones((1, 1)))[0]
    assert found == pytest.approx(P * 1e6, rel=6e-9)
    (phase,) = STEAM.flash([1.0], T=T, density=rho).phases
    assert phase.state.P == pytest.approx(P * 1e6, rel=6e-9)
    assert phase.Cv / M / 1e3 == pytest.approx(Cv, rel=6e-9)
    assert phase.speed_of_sound == pytest.approx(w, rel=6e-9)
    assert (phase.S - TRIPLE.S) / M / 1e3 == pytest.approx(S, rel=2e-8)
    # next to the critical point a digit of the pressure is many of the density
    (again,) = STEAM.flash([1.0], T=T, P=P * 1e6).phases
    assert again.density == pytest.approx(rho, rel=1e-4 if T == 647 else 1e-7)


@pytest.mark.parametrize(("T", "P", "liquid", "vapor", "h", "h_vapor", "s", "s_vapor"), SATURATED)
def test_saturation_to_every_digit(T, P, liquid, vapor, h, h_vapor, s, s_vapor):
    assert STEAM.bubble([1.0], T=T).P == pytest.approx(P * 1e6, rel=1e-8)
    above, below = STEAM.flash([1.0], T=T, vapor_fraction=0.5).phases
    assert (above.density, below.density) == (pytest.approx(vapor, rel=1e-8), pytest.approx(liquid, rel=1e-8))
    assert [(p.H - TRIPLE.U) / M / 1e3 for p in (below, above)] == pytest.approx([h, h_vapor], rel=2e-8)
    assert [(p.S - TRIPLE.S) / M / 1e3 for p in (below, above)] == pytest.approx([s, s_vapor], rel=4e-8)


# the papers' equations of the saturation line: Tc, Pc, ρc, K at the triple point; terms of Tc/T ln, ln and ln in powers of 1 - T/Tc: pressure, liquid, vapor (of nitrogen times Tc/T)
BESIDE = {
    "carbon dioxide": (
        304.1282, 7.3773e6, 467.6, 216.592, [(-7.0602087, 1), (1.9391218, 1.5), (-1.6463597, 2), (-3.2995634, 4)],
        [(1.9245108, 0.34), (-0.62385555, 0.5), (-0.32731127, 10 / 6), (0.39245142, 11 / 6)],
        [(-1.7074879, 0.34), (-0.82274670, 0.5), (-4.6008549, 1), (-10.111178, 7 / 3), (-29.742252, 14 / 3)],
    ),
    "nitrogen": (
        126.192, 3.3958e6, 313.3, 63.151, [(-6.12445284, 1), (1.26327220, 1.5), (-0.765910082, 2.5), (-1.77570564, 5)],
        [(1.48654237, 0.3294), (-0.280476066, 4 / 6), (0.0894143085, 16 / 6), (-0.119879866, 35 / 6)],
        [(-1.70127164, 0.34), (-3.70402649, 5 / 6), (1.29859383, 7 / 6), (-0.561424977, 13 / 6), (-2.68505381, 14 / 3)],
    ),
    "methane": (
        190.564, 4.5992e6, 162.66, 90.6941, [(-6.036219, 1), (1.409353, 1.5), (-0.4945199, 2), (-1.443048, 4.5)],
        [(1.9906389, 0.354), (-0.78756197, 0.5), (0.036976723, 2.5)],
        [(-1.8802840, 0.354), (-2.8526531, 5 / 6), (-3.0006480, 1.5), (-5.2511690, 2.5), (-13.191859, 25 / 6), (-37.553961, 47 / 6)],
    ),
}  # fmt: skip
# at the triple point: Pa, kg/m3 of liquid and vapor, as the papers print them; and K at 1 atm of those that boil there
TRIPLE_POINTS = {
    "carbon dioxide": (0.51796e6, 1178.46, 13.761, None),
    "nitrogen": (12519.8, 867.22, 0.6743, 77.355),
    "methane": (11696.0, 451.48, 0.25074, 111.667),
}


@pytest.mark.parametrize("name", list(BESIDE))
def test_the_saturation_lines_are_those_of_other_equations_of_the_papers(name):
    Tc, Pc, rho_c, triple, pressures, liquids, vapors = BESIDE[name]
    fluid = sl.System([name], eos="reference")
    point = fluid.critical([1.0])
    assert (point.T, point.P) == (pytest.approx(Tc, rel=1e-7), pytest.approx(Pc, rel=2e-7))
    T = np.linspace(triple, 0.99 * Tc, 12)
    curve, away = fluid.saturation_curve(T=T), 1.0 - T / Tc

    def added(terms):
        return sum(n * away**t for n, t in terms)

    np.testing.assert_allclose(curve.P, Pc * np.exp(Tc / T * added(pressures)), rtol=2e-4)
    np.testing.assert_allclose(curve.density("liquid"), rho_c * np.exp(added(liquids)), rtol=2e-4)
    scale = Tc / T if name == "nitrogen" else 1.0
    np.testing.assert_allclose(curve.density("vapor"), rho_c * np.exp(scale * added(vapors)), rtol=3e-4)


@pytest.mark.parametrize("name", list(TRIPLE_POINTS))
def test_triple_points_and_boiling_points_to_the_printed_digits(name):
    P, liquid, vapor, boils = TRIPLE_POINTS[name]
    fluid = sl.System([name], eos="reference")
    curve = fluid.saturation_curve(T=[BESIDE[name][3]])
    assert float(curve.P[0]) == pytest.approx(P, rel=1e-5)
    assert float(curve.density("liquid")[0]) == pytest.approx(liquid, abs=0.006)
    assert float(curve.density("vapor")[0]) == pytest.approx(vapor, rel=1e-4)
    if boils is not None:
        assert fluid.bubble([1.0], P="1 atm").T == pytest.approx(boils, abs=6e-4)


def test_the_critical_point_is_where_it_is_defined():
    point = STEAM.critical([1.0])
    assert (point.T, point.P) == (pytest.approx(647.096, rel=1e-8), pytest.approx(22.064e6, rel=1e-6))


def test_viscosity_and_conductivity_to_every_digit():
    for method, values in ((water.viscosity, VISCOSITY), (water.conductivity, CONDUCTIVITY)):
        for T, rho, expected in values:
            scale = 1e6 if method is water.viscosity else 1e3
            assert scale * method(np.array([T]), np.array([float(rho)]))[0] == pytest.approx(expected, abs=6e-7)


def test_derivatives_and_isotherms_agree_with_differences():
    rng = np.random.default_rng(4)
    T, rho = rng.uniform(280.0, 1200.0, 40), rng.uniform(0.1, 1200.0, 40) / M
    first, h = MODEL.first(T, rho[:, None]), 1e-6
    by_T = (MODEL.first(T * (1 + h), rho[:, None]).f - MODEL.first(T * (1 - h), rho[:, None]).f) / (2 * h * T)
    np.testing.assert_allclose(first.f_T, by_T, rtol=1e-5, atol=1e-9 * np.abs(first.f / T).max())
    warm = T > 650.0
    p, slope = MODEL.isotherm(T[warm], np.ones((warm.sum(), 1)))(rho[warm][None])
    np.testing.assert_allclose(
        p[0], MODEL.pressure(T[warm], 1.0 / rho[warm], np.ones((warm.sum(), 1))) / (8.31446261815324 * T[warm]), rtol=1e-10
    )
    beside = [MODEL.isotherm(T[warm], np.ones((warm.sum(), 1)))(rho[warm][None] * f)[0][0] for f in (1 - h, 1 + h)]
    np.testing.assert_allclose(slope[0], (beside[1] - beside[0]) / (2 * h * rho[warm]), rtol=1e-5, atol=1e-8)


def test_no_root_is_taken_from_the_loops_between_the_phases():
    T = np.linspace(274.0, 646.0, 60)
    P = np.geomspace(1e3, 2e7, 60)
    bound, x = MODEL.at(T, P), np.ones((60, 1))
    vapor, liquid = (P / (8.31446261815324 * T * bound.describe(x, np.int8(kind)).Z) * M for kind in (VAPOR, LIQUID))
    two = np.abs(vapor / liquid - 1.0) > 1e-6
    assert (liquid[two] > 322.0).all()
    assert (vapor[two] < 322.0).all()
    # a single root is the one of the side that the state is on
    saturated = np.array([STEAM.bubble([1.0], T=t).P for t in T[::12]])
    dense = P[::12] > saturated
    stable = P[::12] / (8.31446261815324 * T[::12] * MODEL.at(T[::12], P[::12]).describe(x[::12]).Z) * M
    assert ((stable > 322.0) == dense).all()


def test_states_come_back_from_other_quantities():
    for T, P in ((320.0, 1e5), (450.0, 5e5), (800.0, 3e7)):
        state = STEAM.flash([1.0], T=T, P=P)
        assert state.to(P=P, H=state.H).T == pytest.approx(T, rel=1e-8)
        assert state.to(P=P, S=state.S).T == pytest.approx(T, rel=1e-8)


def test_a_turbine_by_steam_tables():
    """450 °C and 60 bar to 0.1 bar: 3302.9 kJ/kg and 6.7219 kJ/(kg K) before, 0.6492 and 8.1488 kJ/(kg K), 191.8 and 2583.9 kJ/kg at 45.81 °C after (any steam table)."""
    steam = STEAM.flash([1.0], T="450 degC", P="60 bar")
    exhaust = steam.to(P="0.1 bar", S=steam.S)
    share = (6.7219 - 0.6492) / (8.1488 - 0.6492)
    assert exhaust.T - 273.15 == pytest.approx(45.81, abs=0.005)
    assert exhaust.vapor_fraction == pytest.approx(share, abs=3e-4)
    assert (steam.H - exhaust.H) / M / 1e3 == pytest.approx(3302.9 - (191.8 + share * (2583.9 - 191.8)), rel=1e-3)


def test_transport_of_steam_and_of_water(tmp_path):
    liquid = STEAM.flash([1.0], T=298.15, P="1 atm").phases[0]
    assert 1e3 * liquid.viscosity == pytest.approx(0.890, abs=0.001)
    assert liquid.thermal_conductivity == pytest.approx(0.6065, abs=0.002)
    assert 1e3 * liquid.surface_tension == pytest.approx(71.97, rel=0.02)
    # steam of any model; liquids by their measured viscosity where the model's density is not the reference's
    (steam,) = sl.System(["water"], eos="PR").flash([1.0], T=400.0, P=1e5).phases
    assert 1e6 * steam.viscosity == pytest.approx(13.3, rel=0.01)
    again = sl.load(sl.save(STEAM, tmp_path / "steam.toml"))
    assert again.bubble([1.0], T=400.0).P == STEAM.bubble([1.0], T=400.0).P


@pytest.mark.parametrize("names", [["propane"], ["water", "methane"]])
def test_what_has_no_reference_equation_is_said(names):
    with pytest.raises(sl.InputError, match="one component alone, of water"):
        sl.System(names, eos="reference")


def test_outside_its_range_a_note_says_so():
    assert any("273.16 to 1273 K" in note for note in STEAM.flash([1.0], T=1400.0, P=1e5).notes)
