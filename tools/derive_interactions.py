"""Derive interaction parameters: of refrigerants from the boiling points of their blends, of gases with liquids from their solubilities, of water with what keeps it from
freezing from freezing and boiling points.

    python tools/derive_interactions.py

Prints the rows for ``src/sleetfield/data/kij.csv``: the parameter with which a blend boils at 1 atm where it does. Beside it stands the azeotrope that this makes, which is
published too for most of them, and was not used. For gases it is the parameter with which as much dissolves at 298 K and 1 atm as was measured; pairs that the bank has
from elsewhere are left out, and shown. What was not measured is what regular solutions make of the measured ones, and SRK's parameters follow from PR's where those alone are published. Of water with alcohols and glycols it is the line in temperature that goes through a freezing point and a boiling point.
"""

from __future__ import annotations

import csv
import sys

import numpy as np
from multifluid import ln_henry
from scipy.optimize import brentq, newton

import sleetfield as sl
from sleetfield.core.constants import ATMOSPHERE
from sleetfield.core.models.contract import LIQUID, VAPOR
from sleetfield.pairs.bank import published_parameters, set_of

BLENDS = [
    ("R-500", "dichlorodifluoromethane", "1,1-difluoroethane", 0.738, -33.6),
    ("R-502", "chlorodifluoromethane", "chloropentafluoroethane", 0.488, -45.3),
    ("R-503", "trifluoromethane", "chlorotrifluoromethane", 0.401, -88.7),
    ("R-507A", "pentafluoroethane", "1,1,1-trifluoroethane", 0.5, -46.7),
    ("R-508A", "trifluoromethane", "hexafluoroethane", 0.39, -87.4),
    ("R-410A", "difluoromethane", "pentafluoroethane", 0.5, -51.4),
]
"""Designation, components, mass fraction of the first, and normal bubble point, degrees Celsius: ASHRAE Standard 34 (2019), Table 4-2."""


DISSOLVED = {
    "benzene": {"hydrogen": 2.58, "nitrogen": 4.48, "carbon monoxide": 6.68, "oxygen": 8.16, "argon": 8.77, "methane": 20.7},
    "toluene": {
        "hydrogen": 3.17,
        "nitrogen": 5.74,
        "carbon monoxide": 7.9,
        "oxygen": 9.09,
        "methane": 24.1,
        "carbon dioxide": 101.0,
    },
    "carbon tetrachloride": {
        "hydrogen": 3.19,
        "nitrogen": 6.48,
        "carbon monoxide": 8.76,
        "oxygen": 12.01,
        "argon": 13.49,
        "methane": 28.7,
        "carbon dioxide": 107.0,
    },
    "cyclohexane": {"hydrogen": 4.1, "nitrogen": 7.61, "oxygen": 12.4, "argon": 14.8, "methane": 32.8},
    "n-hexane": {"hydrogen": 6.52, "nitrogen": 14.2, "oxygen": 19.3},
    "n-heptane": {"hydrogen": 6.88, "nitrogen": 13.5, "oxygen": 20.5, "argon": 25.1},
}
"""Mole fractions of dissolved gas at 298.15 K under 1 atm of it, times 10000: Hildebrand, Prausnitz and Scott, Regular and Related Solutions, Van Nostrand
Reinhold (1970); those in n-hexane and cyclohexane Wilhelm and Battino, Chem. Rev. 73 (1973) 1-9. Each agrees within 11 % with the regular solutions of Prausnitz
and Shair, which have one constant for a gas in all solvents."""
DISSOLVED_ALONE = {"cyclohexane": {"carbon dioxide": 76.0}}
"""The same of Wilhelm and Battino, which regular solutions, who know no quadrupoles, don't confirm: from n-heptane they make it 22 % more."""

AS_LIQUIDS = {
    "hydrogen": (31.0, 3.25),
    "nitrogen": (32.4, 2.58),
    "carbon monoxide": (32.1, 3.13),
    "oxygen": (33.0, 4.0),
    "argon": (57.1, 5.33),
    "methane": (52.0, 5.68),
    "carbon dioxide": (55.0, 6.0),
}
"""Volume, cm3/mol, and solubility parameter, (cal/cm3)^0.5, of a gas as a hypothetical liquid: Prausnitz and Shair, AIChE J. 7 (1961) 682-687."""
SOLVENTS = {
    "benzene": 9.15,
    "toluene": 8.9,
    "carbon tetrachloride": 8.6,
    "cyclohexane": 8.2,
    "n-hexane": 7.3,
    "n-heptane": 7.4,
    "propane": 5.73,
    "isobutane": 6.15,
    "n-butane": 6.6,
    "n-pentane": 7.0,
    "n-octane": 7.55,
    "isooctane": 6.85,
    "methylcyclohexane": 7.85,
    "ethylbenzene": 8.8,
    "o-xylene": 9.0,
    "m-xylene": 8.8,
    "p-xylene": 8.75,
}
"""Solubility parameters, (cal/cm3)^0.5: Hildebrand, Prausnitz and Scott (1970); Barton, Handbook of Solubility Parameters (1983); of propane and the butanes from the heats of
vaporization and densities at 298 K."""
OF_REGULAR_SOLUTIONS = ("hydrogen", "carbon monoxide", "nitrogen", "oxygen", "argon", "methane")
"""Gases whose solubilities follow."""
NOT_OF_REGULAR_SOLUTIONS = {("hydrogen", "propane")}
"""So near the critical point of the solvent the parameters of the two equations are 0.06 apart."""
AROMATIC = ("ethylbenzene", "o-xylene", "m-xylene", "p-xylene")
"""Where carbon dioxide's follow too: they don't in alkanes and cycloalkanes."""
BETWEEN = {
    ("carbon dioxide", "n-octane"): ("n-heptane", "n-decane", 1 / 3, "between-neighbors"),
    ("carbon dioxide", "n-nonane"): ("n-heptane", "n-decane", 2 / 3, "between-neighbors"),
    ("hydrogen sulfide", "n-heptane"): ("n-hexane", "n-decane", 1 / 4, "between-sulfides"),
    ("hydrogen sulfide", "n-octane"): ("n-hexane", "n-decane", 2 / 4, "between-sulfides"),
    ("hydrogen sulfide", "n-nonane"): ("n-hexane", "n-decane", 3 / 4, "between-sulfides"),
}
"""Pairs whose parameter lies between those of two neighbors in the series, how far from the first, and the source to name."""

FROM_PENG_ROBINSON = [
    ("methane", "n-octane"),
    ("methane", "n-nonane"),
    ("methane", "n-decane"),
    ("ethane", "n-octane"),
    ("ethane", "n-decane"),
    ("hydrogen sulfide", "n-decane"),
    ("ammonia", "water"),
]
"""Pairs of which a parameter for PR alone is published."""

BY_MULTIFLUID = {
    ("hydrogen", "methane"): (100.0, 150.0),
    ("hydrogen", "ethane"): (210.0, 280.0),
    ("hydrogen", "propane"): (230.0, 330.0),
    ("carbon monoxide", "ethane"): (170.0, 260.0),
}
"""Gases whose Henry's constants the equation for natural gases has, and from where to where, K, it was fitted to measured ones and the solvent is no near-critical fluid."""

AT_ROOM_TEMPERATURE = ("derived: solubility", "derived: regular solutions", "derived: as much dissolves")
"""How the sources of parameters begin that were derived at 298 K."""

FREEZING = {"methanol": (20.0, 15.0), "ethanol": (20.0, 10.92), "ethylene glycol": (30.0, 14.1)}
"""Mass percent in water, and by how many K ice melts lower: CRC Handbook of Chemistry and Physics, Section 8, concentrative properties of aqueous solutions."""
BOILING = {"methanol": (0.4, 75.3), "ethanol": (0.3965, 80.7)}
"""Mole fraction in water, and the boiling point at 1 atm, degrees Celsius: Perry's Chemical Engineers' Handbook, Table 13-1."""


def excess_in_liquid(eos, gas, liquid, k, x):
    """By how much ln f of a gas in a liquid is above that of 1 atm of it, with a parameter ``k`` and a mole fraction ``x``."""
    bound = sl.System([gas, liquid], eos=eos, kij={(gas, liquid): k}).phase_model.at(np.array([298.15]), np.array([ATMOSPHERE]))
    inside, free = bound.ln_phi(np.array([[x, 1.0 - x]]), LIQUID)[0, 0], bound.ln_phi(np.array([[1.0 - 1e-9, 1e-9]]), VAPOR)[0, 0]
    return inside + np.log(x) - free


def dissolving(eos, gas, liquid, x):
    """The parameter with which a mole fraction ``x`` of the gas is in the liquid under 1 atm of it."""
    return brentq(lambda k: excess_in_liquid(eos, gas, liquid, k, x), -1.0, 0.9, xtol=1e-7)


def as_much_dissolves(eos, gas, liquid, other, k):
    """The parameter with which as much of a gas dissolves at 298 K and 1 atm as by another equation with its own, ``k``."""
    ln_x = newton(lambda ln_x: excess_in_liquid(other, gas, liquid, k, np.exp(ln_x)), np.log(1e-3), tol=1e-9)
    return dissolving(eos, gas, liquid, np.exp(ln_x))


def bubble(eos, pair, z, k):
    """The bubble temperature at 1 atm, K."""
    return sl.System(list(pair), eos=eos, kij={pair: k}).bubble(z, P=ATMOSPHERE, basis="mass").T


def ice(eos, name, percent, k):
    """By how many K ice melts lower in water with so much of something."""
    system = sl.System([name, "water"], eos=eos, kij={(name, "water"): k})
    pure = sl.System(["water"], eos=eos).freezing([1.0], P=ATMOSPHERE).T
    return pure - system.freezing([percent / 100.0, 1.0 - percent / 100.0], P=ATMOSPHERE, basis="mass").T


def line_through(eos, name):
    """The parameter of something with water as terms of T: through its freezing point and, where there is one, its boiling point."""
    percent, lower = FREEZING[name]
    cold = brentq(lambda k: ice(eos, name, percent, k) - lower, -0.4, 0.1, xtol=1e-6)
    if name not in BOILING:
        return f"{cold:.4f}"
    x, boiling = BOILING[name]

    def off(k):
        return sl.System([name, "water"], eos=eos, kij={(name, "water"): k}).bubble([x, 1.0 - x], P=ATMOSPHERE).T - boiling - 273.15

    slope = (brentq(off, -0.4, 0.2, xtol=1e-6) - cold) / (boiling + lower)
    return f"1: {cold - slope * (273.15 - lower):.5f}; T: {slope:.4e}"


def blends(out):
    """Refrigerants."""
    for name, first, second, share, boiling in BLENDS:
        pair, z, T = (first, second), [share, 1.0 - share], boiling + 273.15
        for eos in ("PR", "SRK"):

            def off(k, eos=eos, pair=pair, z=z, T=T):
                return bubble(eos, pair, z, k) - T

            if np.sign(off(-0.1)) == np.sign(off(0.2)):
                print(name, eos, "none; at zero it boils", f"{off(0.0):+.2f} K off", file=sys.stderr)
                continue
            k = brentq(off, -0.1, 0.2, xtol=1e-6)
            system = sl.System(list(pair), eos=eos, kij={pair: k})
            azeotropes = [f"{a.x[0]:.3f} at {a.T:.2f} K" for a in system.azeotropes(P=ATMOSPHERE)]
            x = np.array(z) / system.molar_mass
            print(
                name,
                eos,
                f"k={k:.4f}; {off(0.0):+.2f} K off at zero; x = {x[0] / x.sum():.3f}; azeotropes:",
                azeotropes,
                file=sys.stderr,
            )
            out.writerow([first, second, eos, f"{k:.4f}", "blends"])


def dissolved(out, of, key):
    """Gases."""
    for liquid, gases in of.items():
        for gas, x in gases.items():
            for eos in ("PR", "SRK"):
                k = dissolving(eos, gas, liquid, x * 1e-4)
                one = set_of(published_parameters(eos), gas, liquid)
                value, source = (None, "") if one is None else (one.kij, one.source)
                if value is None or source.startswith("derived: solubility of the gas"):
                    out.writerow([gas, liquid, eos, f"{k:.4f}", key])
                else:
                    print(f"{gas} in {liquid}, {eos}: {k:.4f}; the bank has {value} ({source[:40]})", file=sys.stderr)


def as_a_regular_solution(gas, liquid):
    """The mole fraction of a gas in a solvent, from the measured one in the solvent that is most like it: ln x = constant - v (δ_solvent - δ_gas)²/RT."""
    volume, delta = AS_LIQUIDS[gas]
    measured = [other for other, gases in DISSOLVED.items() if gas in gases and other != liquid]
    like = min(measured, key=lambda other: abs(SOLVENTS[other] - SOLVENTS[liquid]))
    apart = (SOLVENTS[liquid] - delta) ** 2 - (SOLVENTS[like] - delta) ** 2
    return float(DISSOLVED[like][gas] * 1e-4 * np.exp(-volume * apart / (1.98720 * 298.15)))


def as_regular_solutions(out):
    """Gases in solvents that nothing was measured in."""
    for gas in (*OF_REGULAR_SOLUTIONS, "carbon dioxide"):
        for liquid in AROMATIC if gas == "carbon dioxide" else SOLVENTS:
            if gas in DISSOLVED.get(liquid, ()) or (gas, liquid) in {*FROM_PENG_ROBINSON, *NOT_OF_REGULAR_SOLUTIONS}:
                continue
            for eos in ("PR", "SRK"):
                one = set_of(published_parameters(eos), gas, liquid)
                if one is None or one.source.startswith("derived: regular solutions"):
                    k = dissolving(eos, gas, liquid, as_a_regular_solution(gas, liquid))
                    out.writerow([gas, liquid, eos, f"{k:.4f}", "regular-solutions"])


def from_the_other_equation(out):
    """SRK's parameter with which as much of a gas dissolves at 298 K and 1 atm as by PR's published one."""
    for gas, liquid in FROM_PENG_ROBINSON:
        published = set_of(published_parameters("PR"), gas, liquid).kij
        out.writerow([gas, liquid, "SRK", f"{as_much_dissolves('SRK', gas, liquid, 'PR', published):.4f}", "from-peng-robinson"])


def boiling(eos, pair, k):
    """The bubble pressure, Pa, with 15 % of the more volatile at 0.7 of the critical temperature of the other."""
    one, other = (sl.databank().find(name).Tc for name in pair)
    return (
        sl.System(list(pair), eos=eos, kij={pair: k})
        .bubble([0.15, 0.85] if one < other else [0.85, 0.15], T=0.7 * max(one, other))
        .P
    )


def without_bonds(out):
    """Of cubic plus association, for what has no bonds: Soave's parameters, changed as its published constants of components differ from his."""
    for pair, sets in published_parameters("SRK").items():
        one = sets[0]
        members = [sl.databank().find(name) for name in pair]
        if "water" in pair or any(c.cpa_bond_energy for c in members) or not isinstance(one.kij, float | int):
            continue
        if set(pair) in map(set, BY_MULTIFLUID):
            continue
        if one.source.startswith(AT_ROOM_TEMPERATURE):
            k = as_much_dissolves("CPA", *pair, "SRK", one.kij)
        else:
            wanted = boiling("SRK", pair, one.kij)
            # nearly a straight line; far from the root there may be no bubble point
            k = newton(
                lambda k, pair=pair, wanted=wanted: np.log(boiling("CPA", pair, k) / wanted), one.kij, x1=one.kij - 0.01, tol=1e-6
            )
        out.writerow(
            [*pair, "CPA | CPA-ECR", f"{k:.4f}", "from-soave-derived" if one.source.startswith("derived") else "from-soave"]
        )


def off_henry(eos, gas, solvent, T, k):
    """By how much ln of Henry's constant in a saturated solvent is above the multifluid equation's."""
    wanted, P = ln_henry(solvent, gas, T)
    bound = sl.System([gas, solvent], eos=eos, kij={(gas, solvent): k}).phase_model.at(np.array([T]), np.array([P]))
    return bound.ln_phi(np.array([[1e-9, 1.0 - 1e-9]]), LIQUID)[0, 0] + np.log(P) - wanted


def by_multifluid(out):
    """Parameters with which as much of a gas dissolves as by the equation for natural gases, on the whole of a range of temperatures."""
    for (gas, solvent), (low, high) in BY_MULTIFLUID.items():
        T = np.linspace(low, high, 6)
        for eos, key in (("PR", "PR"), ("SRK", "SRK"), ("CPA", "CPA | CPA-ECR")):

            def off(k, eos=eos, gas=gas, solvent=solvent, T=T):
                return np.array([off_henry(eos, gas, solvent, t, float(k)) for t in T])

            k = newton(lambda k: off(k).mean(), 0.1, x1=0.05, tol=1e-6)
            print(gas, solvent, eos, "ln H off by", np.round(off(k), 2), file=sys.stderr)
            out.writerow([gas, solvent, key, f"{k:.4f}", "multifluid"])


def between_neighbors(out):
    """By a straight line along the series."""
    for (gas, liquid), (one, other, share, source) in BETWEEN.items():
        for eos in ("PR", "SRK"):
            ends = [set_of(published_parameters(eos), gas, end).kij for end in (one, other)]
            out.writerow([gas, liquid, eos, f"{(1.0 - share) * ends[0] + share * ends[1]:.4f}", source])


def main():
    """Print the rows."""
    out = csv.writer(sys.stdout, lineterminator="\n")
    blends(out)
    dissolved(out, DISSOLVED, "dissolved-gas")
    dissolved(out, DISSOLVED_ALONE, "dissolved-alone")
    as_regular_solutions(out)
    from_the_other_equation(out)
    between_neighbors(out)
    without_bonds(out)
    by_multifluid(out)
    for eos in ("CPA", "CPA-ECR"):
        for name in FREEZING:
            out.writerow(["water", name, eos, line_through(eos, name), "ice-and-boiling"])


if __name__ == "__main__":
    main()
