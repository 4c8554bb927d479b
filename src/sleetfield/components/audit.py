"""The databank checked against itself: every number that another number implies."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

import numpy as np

from ..core.constants import ATMOSPHERE, N_AVOGADRO, R
from ..core.correlations import HeatCapacity, HeatOfVaporization
from ..core.correlations.liquid_density import generalized_rackett, rackett
from .component import Component
from .databank import read_table
from .formula import elements, molar_mass
from .from_groups import estimate_from_groups, groups_of_the_bank
from .polar_terms import polar_terms
from .second_reading import Column, comparisons


class Finding(NamedTuple):
    """One check of one component that did not pass."""

    component: str
    check: str
    message: str
    reason: str
    """Why it is a true exception, as recorded in the data; empty where it is not one."""


def audit(bank: Iterable[Component]) -> list[Finding]:
    """Every finding over a databank, or any components, recorded exceptions among them.

    Examples
    --------
    >>> from sleetfield import databank
    >>> [f for f in audit(databank()) if not f.reason]
    []

    """
    reasons = {(r["name"], r["check"]): r["reason"] for r in read_table("exceptions.csv")}
    components = list(bank)
    problems = [(c.name, *problem) for c in components for problem in _problems(c)]
    problems += _step_problems({c.name: c for c in components})
    problems += _exchange_problems(components)
    problems += _copy_problems(components)
    return [Finding(name, check, message, reasons.get((name, check), "")) for name, check, message in problems]


_STEPS = {
    "H_formation": (-20.7e3, 2.6e3, "J/mol"),
    "G_formation": (8.4e3, 2.6e3, "J/mol"),
    "heat capacity at 298 K": (22.9, 4.5, "J/(mol K)"),
    "heat capacity at 800 K": (46.0, 7.0, "J/(mol K)"),
    "heat capacity at 1000 K": (51.8, 8.0, "J/(mol K)"),
    "liquid heat capacity at 298 K": (29.5, 6.5, "J/(mol K)"),
    "heat of vaporization at Tb": (2.5e3, 2.2e3, "J/mol"),
    "uniquac_r": (0.6744, 1e-3, ""),
    "uniquac_q": (0.54, 1e-3, ""),
}
"""What a further CH2 in a chain adds, and how far off that may be: n-alkanes of Rossini et al., API Research Project 44 (1953). Tables of
different sources differ by some percent of the whole at high temperatures, and so may a step there."""


def _step_problems(bank: Mapping[str, Component]) -> list[tuple[str, str, str]]:
    """Neighbors in a homologous series whose difference is not that of a CH2 group, with the name of the one that is off its other neighbor too."""
    members: dict[str, list[tuple[int, Component]]] = {}
    for r in read_table("homologs.csv"):
        if r["name"] in bank:
            members.setdefault(r["series"], []).append((int(r["chain"]), bank[r["name"]]))
    problems = []
    for series in members.values():
        for quantity, (step, most, unit) in _STEPS.items():
            known = [(n, c, v) for n, c in series if (v := _value(c, quantity)) is not None]
            for (n, one, a), (m, other, b) in itertools.pairwise(known):
                found = (b - a) / (m - n)
                if abs(found - step) > most:
                    words = f"{found:.5g} {unit} for each CH2 from {one.name} ({a:.5g}) to here ({b:.5g}); it is some {step:g}"
                    problems.append((other.name, f"step of {quantity}", words))
    return problems


def _value(c: Component, quantity: str) -> float | None:
    """A constant, or a correlation at a temperature that is part of the quantity's name."""
    words, _, at = quantity.partition(" at ")
    if not at:
        found: float | None = getattr(c, quantity)
        return found
    correlation: HeatCapacity | HeatOfVaporization | None = getattr(c, words.replace(" ", "_"))
    T = c.Tb if at == "Tb" else float(at.removesuffix(" K"))
    if T is None:
        return None
    if correlation is None or not correlation.T_min <= T + 1.0 <= correlation.T_max + 2.0:
        return None
    return float(correlation.value(np.array([T]))[0])


_EXCHANGED = (("H", "F"), ("H", "Cl"), ("F", "Cl"))
_FOUR_BODY = 6.0e3
"""What the fourth difference of a formation value may be, J/mol: that of four good tables; four atoms at once act on each other hardly at all."""


def _exchange_problems(components: Sequence[Component]) -> list[tuple[str, str, str]]:
    """Methanes in which one kind of atom takes the place of another, one after the other: pairs and triples of neighbors leave no fourth difference."""
    by_atoms = {frozenset((elements(c.formula) or {}).items()): c for c in components}
    problems = []
    for one, other in _EXCHANGED:
        atoms = [frozenset((e, n) for e, n in (("C", 1), (one, 4 - i), (other, i)) if n) for i in range(5)]
        series = [by_atoms[a] for a in atoms if a in by_atoms]
        for quantity in ("H_formation", "G_formation"):
            values = [value for c in series if (value := getattr(c, quantity)) is not None]
            if len(values) < len(atoms):
                continue
            fourth = float(np.dot((1.0, -4.0, 6.0, -4.0, 1.0), values))
            if abs(fourth) > _FOUR_BODY:
                words = f"from {series[0].name} to {series[-1].name} its fourth difference is {fourth:.4g} J/mol: one of the five is off"
                problems += [(c.name, f"exchange in {quantity}", words) for c in series]
    return problems


_SEVERAL = 2
"""Of fewer coefficients two substances can have the same ones."""


def _copy_problems(components: Sequence[Component]) -> list[tuple[str, str, str]]:
    """Substances that have the coefficients of another one, unless both are estimated, which isomers may be alike."""
    first: dict[tuple[str, object], Component] = {}
    problems = []
    for quantity in ("vapor_pressure", "heat_capacity", "liquid_density", "heat_of_vaporization", "liquid_heat_capacity"):
        for c in components:
            correlation = getattr(c, quantity)
            source = c.sources.get(quantity, "")
            if correlation is None or len(correlation.coefficients) < _SEVERAL or source.startswith(("estimated", "exact")):
                continue
            before = first.setdefault((quantity, repr(correlation)), c)
            if before is not c:
                problems.append((c.name, f"copy of {quantity}", f"has the coefficients of {before.name}"))
    return problems


def _problems(c: Component) -> list[tuple[str, str]]:
    problems = []
    if c.molar_mass is None or c.Tc is None or c.Pc is None or c.omega is None:
        return [("complete", "lacks one of molar mass, Tc, Pc, omega")]
    if c.cas and not _cas_is_sound(c.cas):
        problems.append(("CAS number", f"{c.cas} fails its check digit"))
    expected = molar_mass(c.formula)
    if c.formula and (expected is None or abs(c.molar_mass / expected - 1.0) > 1e-4):
        problems.append(("molar mass", f"{c.molar_mass} kg/mol, but {c.formula} gives {expected}"))
    if c.Tb is None:
        problems.append(("boiling point", "not given"))
    elif not 0.5 < c.Tb / c.Tc < 0.88:
        problems.append(("boiling point", f"Tb/Tc = {c.Tb / c.Tc:.3f} is out of 0.5 to 0.88"))
    if c.Tm is not None and not c.Tm < (c.Tb or c.Tc):
        problems.append(("melting point", f"{c.Tm:g} K is not below the boiling point"))
    if c.vapor_pressure is not None:
        problems += _vapor_pressure_problems(c)
    problems += _density_problems(c)
    problems += _vaporization_problems(c)
    problems += _cold_problems(c)
    if c.Vc is not None:
        Zc = c.Pc * c.Vc / (R * c.Tc)
        if not 0.2 < Zc < 0.31:
            problems.append(("critical volume", f"Zc = {Zc:.3f} is out of 0.2 to 0.31"))
    problems += _size_problems(c)
    problems += _reading_problems(c)
    if c.heat_capacity is not None and c.formula:
        value = float(c.heat_capacity.value(np.array([298.15]))[0])
        atoms = sum(int(n or 1) for _, n in re.findall(r"([A-Z][a-z]?)(\d*)", c.formula))
        # between all translation and rotation alone, and every vibration fully excited
        low, high = (2.4999 * R, 2.5001 * R) if atoms == 1 else (3.4 * R, (3.5 + 3 * atoms - 5) * R)
        if not low < value < high:
            problems.append(("heat capacity", f"{value:.2f} J/(mol K) at 298.15 K is out of {low:.1f} to {high:.1f}"))
        problems += _group_problems(c, value)
    return problems


def second_reading_of(column: Column) -> str:
    """The name of the check of a column against the second reading."""
    return f"second reading of {column.name}"


def _reading_problems(c: Component) -> list[tuple[str, str]]:
    found = [one for one in comparisons(c) if one.differs]
    return [(second_reading_of(one.column), f"{one.shown}, but {one.other:.5g} by {one.column.source}") for one in found]


_ATOMIC_VOLUMES = {
    "H": 7.24,
    "C": 20.58,
    "N": 15.60,
    "O": 14.71,
    "F": 13.31,
    "Cl": 22.45,
    "Br": 26.52,
    "I": 32.52,
    "P": 24.43,
    "S": 24.43,
    "Si": 38.79,
}
"""Cubic angstrom: Zhao, Abraham and Zissimos, J. Org. Chem. 68 (2003) 7368-7373, as are the amounts that go off for bonds and rings."""
_BOND, _AROMATIC_RING, _OTHER_RING = 5.92, 14.7, 3.8
_SEGMENT = 15.17e-6
"""m3/mol, the van der Waals volume that UNIQUAC's r is a multiple of."""


def _size_problems(c: Component) -> list[tuple[str, str]]:
    """UNIQUAC's r against the van der Waals volume of the atoms, and q against r: a chain has the most surface, a ball the least."""
    atoms = elements(c.formula)
    if c.uniquac_r is None or c.uniquac_q is None or atoms is None or not c.smiles:
        return []
    problems = []
    if all(e in _ATOMIC_VOLUMES for e in atoms) and sum(atoms.values()) > 3:
        bare = re.sub(r"\[[^]]*\]", "X", c.smiles)
        rings = len(re.findall(r"\d", bare)) // 2
        aromatic = len(set(re.findall(r"[a-z](\d)", bare)) - set(re.findall(r"[A-Z](\d)", bare)))
        bonds = sum(atoms.values()) - 1 + rings
        volume = sum(_ATOMIC_VOLUMES[e] * n for e, n in atoms.items())
        volume -= _BOND * bonds + _AROMATIC_RING * aromatic + _OTHER_RING * (rings - aromatic)
        expected = volume * 1e-30 * N_AVOGADRO / _SEGMENT
        if abs(c.uniquac_r / expected - 1.0) > 0.07:
            problems.append(("size", f"uniquac_r is {c.uniquac_r:.3f}; the van der Waals volume of its atoms gives {expected:.3f}"))
    if not 0.65 < c.uniquac_q / c.uniquac_r < 1.6:
        problems.append(("size", f"uniquac_q is {c.uniquac_q:.3f} beside an r of {c.uniquac_r:.3f}"))
    return problems


def _group_problems(c: Component, heat_capacity: float) -> list[tuple[str, str]]:
    """The molar mass and the ideal-gas heat capacity at 298.15 K against what the component's groups give."""
    own = groups_of_the_bank().get(c.name)
    if own is None:
        return []
    estimate = estimate_from_groups(c.name, own)
    problems = []
    if estimate.molar_mass is None or c.molar_mass is None or abs(estimate.molar_mass / c.molar_mass - 1.0) > 1e-4:
        problems.append(("groups", f"the groups make {estimate.formula}, not {c.formula}"))
    if estimate.heat_capacity is not None:
        expected = float(estimate.heat_capacity.value(np.array([298.15]))[0])
        if abs(heat_capacity / expected - 1.0) > 0.1:
            problems.append(("heat capacity", f"{heat_capacity:.1f} J/(mol K) at 298.15 K; its groups give {expected:.1f}"))
    return problems


def _vapor_pressure_problems(c: Component) -> list[tuple[str, str]]:
    problems: list[tuple[str, str]] = []
    if c.vapor_pressure is None or c.Tc is None or c.Pc is None or c.omega is None:
        return problems
    if c.Tb is not None:
        error = float(np.exp(c.vapor_pressure.value(np.array([c.Tb]))[0])) / ATMOSPHERE - 1.0
        if abs(error) > 0.01:
            problems.append(("boiling point", f"vapor pressure at Tb is {100 * error:+.1f} % off 1 atm"))
    at_07 = float(c.vapor_pressure.value(np.array([0.7 * c.Tc]))[0])
    omega = -(at_07 - np.log(c.Pc)) / np.log(10.0) - 1.0
    if abs(omega - c.omega) > 0.02:
        problems.append(("acentric factor", f"vapor pressure at 0.7 Tc gives {omega:.3f}, not {c.omega:.3f}"))
    grid = np.linspace(c.vapor_pressure.T_min, c.vapor_pressure.T_max, 50)
    if not (c.vapor_pressure.slope(grid) > 0.0).all():
        problems.append(("vapor pressure", "does not rise with temperature over its range"))
    return problems


def _density_problems(c: Component) -> list[tuple[str, str]]:
    """The liquid density against Rackett's equation, with the critical compressibility of Vc and with the one usual for omega."""
    if c.liquid_density is None or c.Tc is None or c.Pc is None or c.omega is None:
        return []
    if c.sources.get("liquid_density", "").startswith("estimated"):
        return []
    T = np.array([max(c.liquid_density.T_min, min(293.15, 0.75 * c.Tc))])
    value = float(c.liquid_density.value(T)[0])
    estimates = [generalized_rackett(c.Tc, c.Pc, c.omega), *([rackett(c.Tc, c.Pc, c.Vc, 1.0, c.Tc)] if c.Vc is not None else [])]
    errors = [value / float(estimate.value(T)[0]) - 1.0 for estimate in estimates]
    least = min(errors, key=abs)
    if abs(least) <= 0.1:
        return []
    return [("liquid density", f"{value:.0f} mol/m3 at {T[0]:.1f} K is {100 * least:+.0f} % off Rackett's equation")]


def _vaporization_problems(c: Component) -> list[tuple[str, str]]:
    """The heat of vaporization at Tb against the slope of the vapor pressure (Clapeyron), with a virial vapor (Pitzer and Abbott, and Tsonopoulos' polar term)."""
    if c.heat_of_vaporization is None or c.vapor_pressure is None or None in (c.Tb, c.Tc, c.Pc, c.omega):
        return []
    assert c.Tb is not None and c.Tc is not None and c.Pc is not None and c.omega is not None  # noqa: PT018
    T, Tr = np.array([c.Tb]), c.Tb / c.Tc
    terms = polar_terms([c])
    polar = float(terms.a[0] / Tr**6 - terms.b[0] / Tr**8)
    B = R * c.Tc / c.Pc * (0.083 - 0.422 / Tr**1.6 + c.omega * (0.139 - 0.172 / Tr**4.2) + polar)
    liquid = 0.0 if c.liquid_density is None else 1.0 / float(c.liquid_density.value(T)[0])
    slope = float(c.vapor_pressure.slope(T)[0])
    expected = c.Tb * ATMOSPHERE * slope * (R * c.Tb / ATMOSPHERE + B - liquid)
    value = float(c.heat_of_vaporization.value(T)[0])
    if abs(value / expected - 1.0) <= 0.05:
        return []
    return [("heat of vaporization", f"{value:.0f} J/mol at Tb; the slope of the vapor pressure gives {expected:.0f}")]


def _cold_problems(c: Component) -> list[tuple[str, str]]:
    """The vapor pressure far below the boiling point against the heat of vaporization (Clapeyron, Watson), which corresponding states of polar liquids miss."""
    if c.vapor_pressure is None or c.Tb is None or c.Tc is None:
        return []
    if groups_of_the_bank().get(c.name, {}).keys() & {"OH", "phenol OH", "COOH"}:
        # neither corresponding states nor Watson's equation knows hydrogen bonds
        guessed = c.sources.get("vapor_pressure", "").startswith("estimated")
        return (
            [("cold vapor pressure", "is estimated by corresponding states, which hydrogen bonds don't follow")] if guessed else []
        )
    if c.heat_of_vaporization is None:
        return []
    cold = max(c.heat_of_vaporization.T_min, c.Tm or 0.0, 0.72 * c.Tb)
    if cold > 0.9 * c.Tb:
        return []
    T = np.linspace(cold, c.Tb, 200)
    per_RT = c.heat_of_vaporization.value(T) / (R * T**2)
    # near the boiling point the vapor is not ideal: the slope there says by how much
    compressibility = per_RT[-1] / float(c.vapor_pressure.slope(T[-1:])[0])
    slope = per_RT / (1.0 + (compressibility - 1.0) * (T - cold) / (c.Tb - cold))
    expected = np.log(ATMOSPHERE) - float(np.trapezoid(slope, T))
    off = float(c.vapor_pressure.value(T[:1])[0]) - expected
    if abs(off) <= 0.2:
        return []
    return [
        (
            "cold vapor pressure",
            f"{np.exp(expected + off):.4g} Pa at {cold:.1f} K is {100.0 * np.expm1(off):+.0f} % off what the heat of vaporization gives",
        )
    ]


def _cas_is_sound(cas: str) -> bool:
    if not re.fullmatch(r"\d{2,7}-\d{2}-\d", cas):
        return False
    digits = cas.replace("-", "")
    return sum(i * int(d) for i, d in enumerate(reversed(digits[:-1]), start=1)) % 10 == int(digits[-1])
