"""A component from its groups, where nothing but its structure is known."""

from __future__ import annotations

import difflib
import functools
import math
import re
from collections import Counter
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from ..arguments import guarded
from ..core.correlations.heat_capacity import Polynomial
from ..core.correlations.heat_of_vaporization import watson
from ..core.correlations.liquid_density import rackett
from ..core.correlations.vapor_pressure import lee_kesler_vapor_pressure
from ..core.estimates.acentric_factor import ambrose_walton, lee_kesler
from ..core.estimates.joback import joback
from ..core.estimates.van_krevelen import van_krevelen
from ..errors import InputError
from .component import Component, checked
from .databank import read_table
from .formula import elements
from .quantities import CONSTANTS
from .structure import structure, surface_parameters

_METHOD = "estimated: Joback and Reid (1987)"
_PARTS = "estimated: van Krevelen and Hoftyzer (1976), volume by Fedors (1974)"
_RING = ("ring CH2", "ring CH")
_AROMATIC = ("ring =CH", "ring =C")
_OMEGA = {"Lee-Kesler": lee_kesler, "Ambrose-Walton": ambrose_walton}
_T_MIN, _T_MAX = 273.0, 1000.0
_TEXTS = ("atoms", "smarts")


@functools.cache
def groups() -> dict[str, dict[str, Any]]:
    """The groups, with their atoms and contributions."""
    return {
        row["group"]: {k: v if k in _TEXTS else float(v) for k, v in row.items() if k != "group"}
        for row in read_table("joback_groups.csv")
    }


def parse_groups(text: str) -> dict[str, int]:
    """Counts from text: ``2 CH3 + 3 CH2 + OH``.

    Examples
    --------
    >>> parse_groups("2 CH3 + 3 ring =CH + OH")
    {'CH3': 2, 'ring =CH': 3, 'OH': 1}
    """
    counts: Counter[str] = Counter()
    for term in text.split("+"):
        match = re.fullmatch(r"\s*(?:(\d+)\s+)?(\S.*?)\s*", term)
        if match is None:
            raise InputError(f"{text!r} is not a list of groups. Write it like '2 CH3 + 3 CH2 + OH'.")
        counts[match[2]] += int(match[1] or 1)
    return dict(counts)


@functools.cache
def groups_of_the_bank() -> dict[str, dict[str, int]]:
    """The groups of shipped substances by name, of those that groups cover."""
    return {row["name"]: parse_groups(row["groups"]) for row in read_table("groups.csv")}


@guarded
def estimate_from_groups(
    name: str, counts: Mapping[str, int] | str, *, Tb: Any = None, omega: str = "Lee-Kesler", cas: str = ""
) -> Component:
    """A component with every constant estimated from its groups, and marked so.

    Parameters
    ----------
    name : str
        What to call it.
    counts : mapping of str to int, or str
        How many of each group: ``{"CH3": 2, "CH2": 3, "OH": 1}`` or ``"2 CH3 + 3 CH2 + OH"``. `groups` lists them.
    Tb
        Measured normal boiling point, K or text with a unit, if known; it improves Tc much.
    omega : {"Lee-Kesler", "Ambrose-Walton"}
        How the acentric factor follows from Tb, Tc and Pc.
    cas : str
        CAS number, if known.

    Returns
    -------
    Component
        With formula and molar mass, Tb, Tc, Pc, Vc, Tm, heat of fusion, formation values, omega, ideal-gas heat capacity, vapor pressure
        (Lee-Kesler), heat of vaporization (Watson) and liquid density (Rackett), and the parts of the solubility parameter that are known of all its groups.

    Raises
    ------
    InputError
        If a group is not known or a count is not a positive whole number, or the estimate makes no sense.

    Examples
    --------
    >>> import sleetfield as sl
    >>> ethylphenol = sl.estimate_from_groups("2-ethylphenol", "CH3 + CH2 + 4 ring =CH + 2 ring =C + phenol OH", Tb=477.67)
    >>> ethylphenol.formula, round(ethylphenol.Tc, 1), round(ethylphenol.Pc / 1e5, 2)
    ('C8H10O', 698.1, 44.09)
    """
    if omega not in _OMEGA:
        raise InputError(f"There is no method {omega!r} for the acentric factor. Methods are {', '.join(_OMEGA)}.")
    known = groups()
    wanted = parse_groups(counts) if isinstance(counts, str) else dict(counts)
    atoms: Counter[str] = Counter()
    for group, count in wanted.items():
        if group not in known:
            near = difflib.get_close_matches(group, known, n=3, cutoff=0.4)
            raise InputError(
                f"There is no group {group!r}. Near to it: {', '.join(near) or 'none'}. All groups: {', '.join(known)}."
            )
        if count != int(count) or count < 1:
            raise InputError(f"The count of {group} is {count!r}; it must be a positive whole number.")
        for symbol, n in (elements(known[group]["atoms"]) or {}).items():
            atoms[symbol] += int(count) * n
    if not atoms:
        raise InputError("No groups were given.")
    total = {
        key: sum(count * known[group][key] for group, count in wanted.items())
        for key in next(iter(known.values()))
        if key not in _TEXTS
    }
    measured = None if Tb is None else checked(Tb, "Tb", name)
    e = joback(total, sum(atoms.values()), measured)
    if not (0.0 < e.Tb < e.Tc and np.isfinite(e.Pc)):
        raise InputError(f"The estimate for {name} makes no sense (Tb {e.Tb:g} K, Tc {e.Tc:g} K): check the groups and Tb.")
    w = float(_OMEGA[omega](np.array(e.Tb), np.array(e.Tc), np.array(e.Pc)))
    constants = {key: value for key, value in e._asdict().items() if key in CONSTANTS}
    # a sum of contributions may come out below zero for a small molecule: then there is no estimate
    constants = {key: value for key, value in constants.items() if value > 0.0 or CONSTANTS[key].signed}
    parts = solubility_parts(wanted)
    constants |= parts
    melting = min(constants.get("Tm", 0.4 * e.Tb), 0.9 * e.Tb)
    sources = (
        dict.fromkeys((*constants, "heat_capacity"), _METHOD)
        | dict.fromkeys(parts, _PARTS)
        | {
            "heat_of_vaporization": f"{_METHOD} at Tb; Watson (1943) elsewhere",
            "liquid_density": f"{_METHOD} for Vc; Rackett (1970)",
            "omega": f"estimated: {omega} from Tb, Tc, Pc",
            "vapor_pressure": "estimated: Lee-Kesler corresponding states",
            "molar_mass": "from the groups",
        }
    )
    if measured is not None:
        sources["Tb"] = "given"
    return Component(
        name=name, formula=_hill(atoms), cas=cas, omega=w, sources=sources, layer="estimated", **constants,
        vapor_pressure=lee_kesler_vapor_pressure(e.Tc, e.Pc, w), heat_capacity=Polynomial(e.heat_capacity, _T_MIN, _T_MAX),
        liquid_density=rackett(e.Tc, e.Pc, e.Vc, melting, 0.95 * e.Tc),
        heat_of_vaporization=watson(e.Tb, e.heat_of_vaporization, e.Tc, melting, 0.98 * e.Tc) if e.heat_of_vaporization > 0.0 else None,
    )  # fmt: skip


@functools.cache
def _solubility_groups() -> dict[str, dict[str, float]]:
    return {
        row["group"]: {key: float(value or "nan") for key, value in row.items() if key != "group"}
        for row in read_table("solubility_groups.csv")
    }


def solubility_parts(counts: Mapping[str, int]) -> dict[str, float]:
    """Those of the three parts that groups tell: not where one has no contribution, and nothing polar of several chlorine atoms, whose dipoles may cancel.

    Beside some 120 substances: 0.8 (dispersion), 1.1 (polar) and 1.3 MPa^0.5 (hydrogen bonding) off on average.

    Examples
    --------
    >>> {key: round(part / 1e3, 1) for key, part in solubility_parts({"CH3": 1, "CH2": 3, "OH": 1}).items()}
    {'delta_d': 15.7, 'delta_p': 5.4, 'delta_h': 14.8}

    """
    table = _solubility_groups()
    if not set(counts) <= set(table):
        return {}
    rings = int(any(group in counts for group in _RING))
    aromatic = 0 if rings else sum(counts.get(group, 0) for group in _AROMATIC) // 5
    several = counts.get("Cl", 0) > 1
    squares = math.nan if several else sum(n * table[group]["F_p"] ** 2 for group, n in counts.items())
    F_d, E_h, V = (sum(n * table[group][key] for group, n in counts.items()) for key in ("F_d", "E_h", "V"))
    found = van_krevelen(F_d, squares, E_h, V, rings=rings, aromatic_rings=aromatic)
    return {key: part for key, part in found._asdict().items() if part >= 0.0}


@guarded
def estimate_from_structure(name: str, smiles: str, *, Tb: Any = None, omega: str = "Lee-Kesler", cas: str = "") -> Component:
    """A component with every constant estimated from its structure; `estimate_from_groups` without counting groups by hand.

    Parameters
    ----------
    name : str
        What to call it.
    smiles : str
        Its structure, such as ``CC(=O)C`` for acetone.
    Tb, omega, cas
        As for `estimate_from_groups`.

    Returns
    -------
    Component
        With SMILES and InChIKey, and UNIQUAC's r and q where groups for them are known.

    Raises
    ------
    InputError
        If RDKit is not installed (``pip install 'sleetfield[structure]'``), the text is no SMILES string, or the structure has a part that
        no group of Joback and Reid stands for.

    Examples
    --------
    >>> import sleetfield as sl
    >>> sl.estimate_from_structure("2-ethylphenol", "CCc1ccccc1O", Tb=477.67).formula
    'C8H10O'
    """
    found = structure(smiles)
    if not found.joback:
        raise InputError(f"No group of Joback and Reid stands for {found.unmatched} of {smiles!r}, so nothing can be estimated.")
    made = estimate_from_groups(name, found.joback, Tb=Tb, omega=omega, cas=cas)
    if found.surface:
        r, q = surface_parameters(found.surface)
        made = made.changed(uniquac_r=r, uniquac_q=q, source="sums of the group values of Hansen et al. (1991)")
    return replace(made, smiles=found.smiles, inchi_key=found.inchi_key, layers={})


def _hill(atoms: Mapping[str, int]) -> str:
    """A formula in Hill order: carbon, hydrogen, then by alphabet."""
    order = [s for s in ("C", "H") if s in atoms and "C" in atoms]
    order += sorted(s for s in atoms if s not in order)
    return "".join(f"{s}{atoms[s] if atoms[s] > 1 else ''}" for s in order)
