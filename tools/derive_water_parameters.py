"""Derive what Peng and Robinson's equation needs for water, from its vapor pressure and measured Henry's constants.

    python tools/derive_water_parameters.py

Prints the constants of water's temperature function (`core/models/alpha/with_water.py`) and the rows of
``src/sleetfield/data/aqueous.csv``: for each gas, coefficients of its interaction parameter in water, a polynomial of the third degree in the
saturating reduced temperature of water, such that a trace of it has the measured Henry's constant; for hydrocarbons that are liquid at 298 K, the measured solubility
and heat of solution; for propane and n-butane, the value of Soreide and Whitson. Then the rows of ``kij.csv`` for the same gases by cubic plus association: terms of temperature.
"""

from __future__ import annotations

import csv
import sys

import numpy as np
from scipy.optimize import brentq, least_squares

import sleetfield as sl
from sleetfield.core.constants import R
from sleetfield.core.models.alpha.with_water import WithWater
from sleetfield.core.models.contract import LIQUID
from sleetfield.core.models.mixing.in_water import saturating
from sleetfield.core.models.peng_robinson import PengRobinson
from sleetfield.pairs.of_temperature import OfTemperature, in_writing

TC, PC = 647.096, 22.064e6
HENRY = {
    "helium": (-3.52839, 7.12983, 4.47770, 273.21, 553.18),
    "argon": (-8.40954, 4.29587, 10.52779, 273.19, 568.36),
    "krypton": (-8.97358, 3.61508, 11.29963, 273.19, 525.56),
    "xenon": (-14.21635, 4.00041, 15.60999, 273.22, 574.85),
    "hydrogen": (-4.73284, 6.08954, 6.06066, 273.15, 636.09),
    "nitrogen": (-9.67578, 4.72162, 11.70585, 278.12, 636.46),
    "oxygen": (-9.44833, 4.43822, 11.42005, 274.15, 616.52),
    "carbon monoxide": (-10.52862, 5.13259, 12.01421, 278.15, 588.67),
    "carbon dioxide": (-8.55445, 4.01195, 9.52345, 274.19, 642.66),
    "hydrogen sulfide": (-4.51499, 5.23538, 4.42126, 273.15, 533.09),
    "methane": (-10.44708, 4.66491, 12.12986, 275.46, 633.11),
    "ethane": (-19.67563, 4.51222, 20.62567, 275.44, 473.46),
}
"""A, B, C and the range, K, of ln(kH/p) = A/Tr + B τ^0.355/Tr + C Tr^-0.41 exp τ: Fernández-Prini, Alvarez and Harvey, J. Phys. Chem. Ref. Data 32
(2003) 903-916, as in the IAPWS guideline G7-04."""


DISSOLVED = {
    "n-pentane": (39.0, -2.0, 400.0),
    "n-hexane": (9.8, 0.0, 440.0),
    "benzene": (1780.0, 2.08, 225.0),
    "toluene": (530.0, 1.73, 263.0),
}
"""Solubility in water at 298.15 K, mg/kg (McAuliffe, J. Phys. Chem. 70 (1966) 1267-1275; the aromatics as in the IUPAC Solubility Data Series 37 (1989)),
and heat, kJ/mol, and heat capacity, J/(mol K), of solution (Gill, Nichols and Wadsö, J. Chem. Thermodyn. 8 (1976) 445-452)."""

ALKANES = ("propane", "n-butane")


def vapor_pressure(T):
    """Of water, Pa: Wagner and Pruss, J. Phys. Chem. Ref. Data 31 (2002) 387-535."""
    t = 1.0 - T / TC
    series = (
        -7.85951783 * t + 1.84408259 * t**1.5 - 11.7866497 * t**3 + 22.6807411 * t**3.5 - 15.9618719 * t**4 + 1.80122502 * t**7.5
    )
    return PC * np.exp(TC / T * series)


def henry(name, T):
    """Henry's constant at the vapor pressure of water, Pa."""
    A, B, C, _, _ = HENRY[name]
    Tr = T / TC
    t = 1.0 - Tr
    return vapor_pressure(T) * np.exp(A / Tr + B * t**0.355 / Tr + C * Tr**-0.41 * np.exp(t))


def water_alone(constants):
    """Peng and Robinson's equation for water with the constants m, p, r of its temperature function."""
    c = sl.databank().find("water")
    Tc, Pc, omega = (np.array([v]) for v in (c.Tc, c.Pc, c.omega))
    return PengRobinson(Tc, Pc, omega, np.zeros((1, 1)), alpha=WithWater(np.array(constants)[:, None], Tc))


def fugacity_gap(model, T, P):
    """ln φ of the liquid less that of the vapor, at T and P."""
    x = np.ones((len(T), 1))
    bound = model.at(T, P)
    return (bound.ln_phi(x, 1) - bound.ln_phi(x, 0))[:, 0]


def alpha_of_water():
    """m, p, r: least squares of ln φ along the measured vapor-pressure curve."""
    T = np.linspace(273.16, 640.0, 120)
    found = least_squares(lambda k: fugacity_gap(water_alone(k), T, vapor_pressure(T)), [0.0, 0.4530, 0.0034])
    return found.x, np.abs(found.fun).max()


def fitted(name, constants, T, wanted, order):
    """Coefficients in the saturating temperature of water such that a trace has the fugacities over mole fraction ``wanted``, Pa; and the largest error in ln."""
    gas, water = sl.databank().find(name), sl.databank().find("water")
    P = vapor_pressure(T)
    Tc, Pc, omega = (np.array([getattr(c, key) for c in (gas, water)]) for key in ("Tc", "Pc", "omega"))
    alpha = WithWater(np.stack([[PengRobinson.m(omega[:1])[0], 0.0, 0.0], constants], axis=1), Tc)
    trace = np.tile([1e-12, 1.0 - 1e-12], (len(T), 1))

    def ln_fugacity(k):
        model = PengRobinson(Tc, Pc, omega, np.array([[0.0, k], [k, 0.0]]), alpha=alpha)
        return model.at(T, P).ln_phi(trace, 1)[:, 0] + np.log(P)

    # ln φ of a trace is linear in its interaction parameter
    at_0 = ln_fugacity(0.0)
    slope = (ln_fugacity(0.1) - at_0) / 0.1
    return by_k(T, Tc[1], (np.log(wanted) - at_0) / slope, slope, order)


def by_k(T, Tc, k, weight, order):
    """Coefficients of a polynomial through interaction parameters, and the largest error times ``weight``."""
    powers = np.vander(saturating(T / Tc)[0], order, increasing=True)
    found = np.linalg.lstsq(powers * np.reshape(weight, (-1, 1)), k * weight, rcond=None)[0]
    return np.pad(found, (0, 4 - order)), np.abs((powers @ found - k) * weight).max()


def over_mole_fraction(name, T):
    """Fugacity over mole fraction of a liquid hydrocarbon that is dissolved to saturation in water, Pa."""
    milligrams, heat, capacity = DISSOLVED[name]
    c, water = sl.databank().find(name), sl.databank().find("water")
    ratio = milligrams * 1e-6 / c.molar_mass * water.molar_mass
    x = ratio / (1.0 + ratio)
    T0 = 298.15
    ln_x = np.log(x) + (1000.0 * heat - capacity * T0) / R * (1.0 / T0 - 1.0 / T) + capacity / R * np.log(T / T0)
    alone = PengRobinson(*(np.array([v]) for v in (c.Tc, c.Pc, c.omega)), np.zeros((1, 1)))
    P = np.exp(c.vapor_pressure.value(T))
    return P * np.exp(alone.at(T, P).ln_phi(np.ones((len(T), 1)), 1)[:, 0] - ln_x)


def soreide_whitson(name, T):
    """Their interaction parameter of an alkane in water."""
    c = sl.databank().find(name)
    t = T / c.Tc
    return 1.1120 - 1.7369 * c.omega**-0.1 + (1.1001 + 0.8360 * c.omega) * t - (0.15742 + 1.0988 * c.omega) * t**2


def rows(constants):
    """Name, coefficients, range, source and error of each."""
    for name, (*_, low, high) in HENRY.items():
        T = np.linspace(low, min(high, 573.15), 60)
        found, worst = fitted(name, constants, T, henry(name, T), 4)
        yield name, found, T, "iapws-henry", worst
    for name in DISSOLVED:
        T = np.linspace(275.0, 370.0, 40)
        found, worst = fitted(name, constants, T, over_mole_fraction(name, T), 3)
        yield name, found, T, "dissolved", worst
    for name in ALKANES:
        T = np.linspace(290.0, 450.0, 40)
        found, worst = by_k(T, TC, soreide_whitson(name, T), 1.0, 3)
        yield name, found, T, "soreide-aqueous", worst


FOR_TERMS = np.array([278.15, 288.15, 298.15, 313.15, 333.15, 353.15, 373.15, 398.15, 423.15])
"""Where Henry's constants are taken for cubic plus association, K."""
SOLUBLE = {"carbon dioxide": 33.9e-6, "hydrogen sulfide": 34.9e-6}
"""Partial molar volumes in water, m3/mol, of the gases that dissolve to some percent (`gas_solubilities.csv`): Henry's law is to hold on the way there."""
ON_THE_WAY = (0.01, 3e6)
"""Mole fraction, and about the pressure under which so much dissolves, Pa."""


def above_henry(eos, gas, k, T):
    """By how much the fugacity of a dissolved gas is above Henry's law (Krichevsky and Kasarnovsky) with an interaction parameter ``k``, as a logarithm."""
    x, P = ON_THE_WAY if gas in SOLUBLE else (1e-9, vapor_pressure(T) * (1.0 + 1e-4))
    bound = sl.System([gas, "water"], eos=eos, kij={(gas, "water"): k}).phase_model.at(np.array([T]), np.array([P]))
    law = np.log(henry(gas, T) / P) + SOLUBLE.get(gas, 0.0) * P / (R * T)
    return float(bound.ln_phi(np.array([[x, 1.0 - x]]), LIQUID)[0, 0] - law)


def in_terms(gas):
    """The interaction parameter by cubic plus association, as it is written in the table."""
    k = [brentq(lambda k, T=T: above_henry("CPA", gas, k, T), -1.5, 1.2, xtol=1e-7) for T in FOR_TERMS]
    return in_writing(OfTemperature.staying(FOR_TERMS, np.array(k)))


def main():
    """Print all."""
    constants, worst = alpha_of_water()
    print("water: m, p, r =", *(f"{v:.6g}" for v in constants), f"; ln p within {worst:.4f}", file=sys.stderr)
    constants = np.array([float(f"{v:.6g}") for v in constants])
    out = csv.writer(sys.stdout, lineterminator="\n")
    out.writerow(["name", "c1", "c2", "c3", "c4", "T_min", "T_max", "source"])
    for name, found, T, source, worst in rows(constants):
        out.writerow([name, *(f"{v:.6g}" for v in found), round(T[0], 1), round(T[-1], 1), source])
        print(name, f"within {worst:.3f}", file=sys.stderr)
    for gas in HENRY:
        out.writerow(["water", gas, "CPA | CPA-ECR", in_terms(gas), "gases-in-water"])


if __name__ == "__main__":
    main()
