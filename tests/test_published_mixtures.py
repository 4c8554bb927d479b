"""Mixtures against published values, one entry of docs/validation.md each."""

import numpy as np
import pytest

import sleetfield as sl

NATURAL_GAS = {"nitrogen": 0.014, "methane": 0.943, "ethane": 0.027, "propane": 0.0074, "n-butane": 0.0049, "n-pentane": 0.0027, "n-hexane": 0.0010}  # fmt: skip


def test_critical_point_of_a_natural_gas():
    """203.1 K and 58.1 atm with SRK: mixture 1 of Michelsen, Fluid Phase Equilib. 4 (1980) 1-10. Its component constants are not ours."""
    gas = sl.System(list(NATURAL_GAS), eos="SRK", kij="zero")
    point = gas.critical(NATURAL_GAS)
    assert pytest.approx(203.1, rel=1e-3) == point.T
    assert pytest.approx(58.1 * 101325.0, rel=3e-3) == point.P
    envelope = gas.envelope(NATURAL_GAS)
    assert envelope.closed
    assert envelope.critical_points[0].T == pytest.approx(point.T, rel=1e-8)
    # most of its dew line is retrograde: the cricondentherm lies far above the critical temperature, the cricondenbar far above its pressure
    assert envelope.cricondentherm.T > point.T + 50.0
    assert envelope.cricondenbar.P > point.P + 20e5


def test_water_in_compressed_methane():
    """58 lb of water per million standard cubic feet at 100 degF and 1000 psi: chart of McKetta and Wehe, Petroleum Refiner 37 (1958) no. 8, 153.

    A million cubic feet at 60 degF and 1 atm are 2635 lbmol. The chart can be read to a few percent.
    """
    published = 58.0 / 18.015 / 2635.0
    gas = sl.System(["methane", "water"], eos="PR", alpha="Twu")
    state = gas.flash([0.9, 0.1], T="100 degF", P="1000 psi")
    assert [p.kind for p in state.phases] == ["vapor", "liquid"]
    assert state.phases[0].composition["water"] == pytest.approx(published, rel=0.04)


def test_three_phase_line_of_propane_and_water():
    """Two liquids that hardly dissolve each other boil where their vapor pressures add up to the pressure (Raoult's law for both)."""
    system = sl.System(["propane", "water"], eos="PR", alpha="Mathias-Copeman", kij={("propane", "water"): 0.5})
    for T in (290.0, 310.0, 330.0):
        point = system.bubble([0.5, 0.5], T=T)
        added = sum(float(np.exp(c.vapor_pressure.value(np.array([T]))[0])) for c in system.components)
        assert len(point.liquids) == 2
        assert point.P == pytest.approx(added, rel=0.01)


def test_retrograde_dew_points_come_in_pairs_up_to_the_cricondentherm():
    """Between critical temperature and cricondentherm there are two dew pressures and no bubble point; above, none at all."""
    gas = sl.System(list(NATURAL_GAS), eos="SRK", kij="zero")
    envelope = gas.envelope(NATURAL_GAS)
    T = 0.5 * (envelope.critical_points[0].T + envelope.cricondentherm.T)
    low, high = gas.dew(NATURAL_GAS, T=T).all
    assert low.P < high.P
    between = gas.flash(NATURAL_GAS, T=T, P=np.sqrt(low.P * high.P))
    assert between.n_phases == 2
    for P in (0.98 * low.P, 1.02 * high.P):
        assert gas.flash(NATURAL_GAS, T=T, P=P).n_phases == 1
    with pytest.raises(sl.CalculationError, match="no dew point"):
        gas.dew(NATURAL_GAS, T=envelope.cricondentherm.T + 1.0)
    with pytest.raises(sl.CalculationError, match="no bubble point"):
        gas.bubble(NATURAL_GAS, T=T)


LOCI = {
    ("methane", "propane"): 1474.0,  # Reamer, Sage and Lacey, Ind. Eng. Chem. 42 (1950) 534-539
    ("ethane", "n-butane"): 840.0,  # Kay, Ind. Eng. Chem. 32 (1940) 353-357
    ("ethane", "n-pentane"): 989.0,  # Reamer, Sage and Lacey, J. Chem. Eng. Data 5 (1960) 44-50
    ("ethane", "n-heptane"): 1263.0,  # Kay, Ind. Eng. Chem. 30 (1938) 459-465
    ("ethane", "n-decane"): 1715.0,  # Reamer and Sage, J. Chem. Eng. Data 7 (1962) 161-168
}
"""The highest critical pressure of two hydrocarbons, psia."""


@pytest.mark.parametrize("names", LOCI)
def test_highest_critical_pressures_of_binaries(names):
    system = sl.System(names, eos="PR")
    points = [system.critical([x, 1.0 - x]) for x in np.linspace(0.6, 0.9, 16)]
    highest = max(p.P for p in points if p.stable)
    assert highest / 6894.757 == pytest.approx(LOCI[names], rel=0.015)


STABILITY = {
    # Tc, Pc and omega as printed; kij; T, K; P, bar; mole fraction of the first component: the lowest distance and where it lies, None for stable
    "H2S + methane, SRK": ((373.2, 89.4, 0.1), (190.6, 46.0, 0.008), 0.08, 190.0, 40.53, {0.0115: None, 0.0187: (-0.004, 0.077), 0.07: None, 0.5: (-0.082, 0.0746), 0.888: (-0.0025, 0.0792), 0.89: None}),
    "methane + propane, SRK": ((190.6, 46.0, 0.008), (369.8, 42.5, 0.152), 0.029, 277.6, 100.0, {0.1: None, 0.4: None, 0.6: None, 0.68: (-3.3e-4, 0.772), 0.73: (-2.9e-4, 0.650), 0.9: None}),
    "nitrogen + ethane, PR": ((126.2, 33.9, 0.04), (305.4, 48.8, 0.098), 0.08, 270.0, 76.0, {0.1: None, 0.18: (-0.010, 0.494), 0.3: (-0.014, 0.489), 0.44: (-0.016, 0.155), 0.6: None}),
}  # fmt: skip
"""Hua, Brennecke and Stadtherr, Ind. Eng. Chem. Res. 37 (1998) 1519-1527: every stationary point found with certainty, by interval arithmetic."""


@pytest.mark.parametrize("case", STABILITY)
def test_tangent_plane_distances_are_those_found_with_certainty(case):
    first, second, kij, T, bar, feeds = STABILITY[case]
    parts = [
        sl.Component(name=n, Tc=c[0], Pc=c[1] * 1e5, omega=c[2], molar_mass=0.03) for n, c in (("first", first), ("second", second))
    ]
    system = sl.System(parts, eos=case.split(", ")[1], kij={("first", "second"): kij})
    for x, known in feeds.items():
        found = system.stability([x, 1.0 - x], T=T, P=bar * 1e5)
        if known is None:
            assert found.stable
            continue
        distance, place = known
        assert found.tangent_plane_distance == pytest.approx(distance, rel=0.05, abs=2e-5)
        assert found.trial["first"] == pytest.approx(place, abs=2e-3)


def test_three_phase_line_of_carbon_dioxide_and_water():
    """It ends at 304.63 K and 74.11 bar, where vapor and CO2-rich liquid become one: Wendland, Hasse and Maurer, J. Chem. Eng. Data 44 (1999) 901-906.

    Of water the CO2-rich liquid holds 0.27 mol % at 25 °C: King, Mubarak, Kim and Bott, J. Supercrit. Fluids 5 (1992) 296-302.
    """
    system = sl.System(["carbon dioxide", "water"], eos="PR", alpha="Twu")
    at_25 = system.bubble([0.5, 0.5], T=298.15)
    assert len(at_25.liquids) == 2
    pure = np.exp(system.components[0].vapor_pressure.value(np.array([298.15]))[0])
    assert at_25.P == pytest.approx(pure, rel=0.01)
    assert at_25.liquids[0].composition["water"] == pytest.approx(0.0027, rel=0.1)

    def splits_and_boils(T):
        try:
            return len(system.bubble([0.5, 0.5], T=T).liquids) == 2
        except sl.CalculationError:
            return False

    low, high = 303.5, 306.0
    for _ in range(16):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if splits_and_boils(middle) else (low, middle)
    assert low == pytest.approx(304.63, abs=0.1)
    assert system.bubble([0.5, 0.5], T=low).P == pytest.approx(74.11e5, rel=2e-3)
