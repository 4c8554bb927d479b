"""A component from its groups, where nothing but its structure is known."""

from __future__ import annotations

import difflib
import functools
import math
import re
from collections import Counter
from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import Any, NamedTuple

import numpy as np

from ..arguments import guarded
from ..core.correlations.heat_capacity import Polynomial
from ..core.correlations.heat_of_vaporization import watson
from ..core.correlations.liquid_density import generalized_rackett, rackett
from ..core.correlations.vapor_pressure import lee_kesler_vapor_pressure
from ..core.estimates.acentric_factor import ambrose_walton, lee_kesler
from ..core.estimates.constantinou_gani import constantinou_gani
from ..core.estimates.joback import joback
from ..core.estimates.van_krevelen import van_krevelen
from ..errors import InputError
from .component import Component, checked
from .databank import read_table
from .formula import elements
from .quantities import CONSTANTS, CORRELATIONS
from .structure import structure, surface_parameters

_JOBACK = "estimated: Joback and Reid (1987)"
_FIRST_ORDER = "estimated: Constantinou and Gani (1994), groups of first order"
_PARTS = "estimated: van Krevelen and Hoftyzer (1976), volume by Fedors (1974)"
_RING = ("ring CH2", "ring CH")
_AROMATIC = ("ring =CH", "ring =C")
_OMEGA = {"Lee-Kesler": lee_kesler, "Ambrose-Walton": ambrose_walton}
_T_MIN, _T_MAX = 273.0, 1000.0
_TEXTS = ("group", "atoms", "smarts")


@functools.cache
def groups() -> dict[str, dict[str, Any]]:
    """The groups of Joback and Reid, with their atoms and contributions."""
    return {row["group"]: _contributions(row) | {"atoms": row["atoms"]} for row in read_table("joback_groups.csv")}


@functools.cache
def first_order_groups() -> dict[str, dict[str, Any]]:
    """Those of Constantinou and Gani, which are UNIFAC's; NaN where a contribution is not known."""
    atoms = {row["group"]: row["atoms"] for row in read_table("surface_groups.csv")}
    return {row["group"]: _contributions(row) | {"atoms": atoms[row["group"]]} for row in read_table("first_order_groups.csv")}


def _contributions(row: Mapping[str, str]) -> dict[str, Any]:
    return {key: float(value or "nan") for key, value in row.items() if key not in _TEXTS}


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


class _Found(NamedTuple):
    """What a method makes of groups."""

    constants: dict[str, float]
    source: str
    heat_capacity: tuple[float, ...] | None = None
    heat_of_vaporization: float | None = None
    """J/mol, at the boiling point."""


def _by_joback(total: Mapping[str, float], atoms: int, Tb: float | None) -> _Found:
    e = joback(total, atoms, Tb)
    return _Found(e._asdict(), _JOBACK, e.heat_capacity, e.heat_of_vaporization)


def _by_constantinou_gani(total: Mapping[str, float], atoms: int, Tb: float | None) -> _Found:
    return _Found(constantinou_gani(total) | ({} if Tb is None else {"Tb": Tb}), _FIRST_ORDER)


class _Method(NamedTuple):
    groups: Callable[[], dict[str, dict[str, Any]]]
    constants: Callable[[Mapping[str, float], int, float | None], _Found]


_METHODS = {
    "Joback": _Method(groups, _by_joback),
    "Constantinou-Gani": _Method(first_order_groups, _by_constantinou_gani),
}


@guarded
def estimate_from_groups(
    name: str, counts: Mapping[str, int] | str, *, Tb: Any = None, omega: str = "Lee-Kesler", cas: str = "", method: str = "Joback"
) -> Component:
    """A component with every constant estimated from its groups, and marked so.

    Parameters
    ----------
    name : str
        What to call it.
    counts : mapping of str to int, or str
        How many of each group: ``{"CH3": 2, "CH2": 3, "OH": 1}`` or ``"2 CH3 + 3 CH2 + OH"``. `groups` lists those of Joback, `first_order_groups` the others.
    Tb
        Measured normal boiling point, K or text with a unit, if known; it improves Joback's Tc much.
    omega : {"Lee-Kesler", "Ambrose-Walton"}
        How the acentric factor follows from Tb, Tc and Pc.
    cas : str
        CAS number, if known.
    method : {"Joback", "Constantinou-Gani"}
        Whose contributions. Those of Constantinou and Gani need no boiling point (1.9 % off in half of the databank's substances, Tc 1.3 %); they say nothing of heat capacities
        and heats of fusion, and do not know small rings.

    Returns
    -------
    Component
        With formula and molar mass, Tb, Tc, Pc, Vc, Tm, formation values, omega, vapor pressure (Lee-Kesler) and liquid density (Rackett); by Joback heat of fusion, ideal-gas heat capacity,
        heat of vaporization (Watson), and the parts of the solubility parameter that are known of all its groups, too.

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
    >>> other = sl.estimate_from_groups("2-ethylphenol", "CH3 + 4 ACH + ACCH2 + ACOH", method="Constantinou-Gani")
    >>> round(other.Tb, 1), round(other.Tc, 1), round(other.Pc / 1e5, 2)
    (489.2, 718.6, 42.97)
    """
    if omega not in _OMEGA:
        raise InputError(f"There is no method {omega!r} for the acentric factor. Methods are {', '.join(_OMEGA)}.")
    if method not in _METHODS:
        raise InputError(f"There is no method {method!r} of groups. Methods are {', '.join(_METHODS)}.")
    wanted = parse_groups(counts) if isinstance(counts, str) else dict(counts)
    known = _METHODS[method].groups()
    atoms = _atoms(wanted, known)
    total = {
        key: sum(count * known[group][key] for group, count in wanted.items())
        for key in next(iter(known.values()))
        if key not in _TEXTS
    }
    found = _METHODS[method].constants(total, sum(atoms.values()), None if Tb is None else checked(Tb, "Tb", name))
    Tb_found, Tc, Pc = (found.constants[key] for key in ("Tb", "Tc", "Pc"))
    if not (0.0 < Tb_found < Tc and np.isfinite(Pc)):
        raise InputError(f"The estimate for {name} makes no sense (Tb {Tb_found:g} K, Tc {Tc:g} K): check the groups and Tb.")
    # a sum of contributions may come out below zero for a small molecule: then there is no estimate
    constants: dict[str, Any] = {
        key: value
        for key, value in found.constants.items()
        if key in CONSTANTS and np.isfinite(value) and (value > 0.0 or CONSTANTS[key].signed)
    }
    parts: dict[str, Any] = solubility_parts(wanted) if method == "Joback" else {}
    heat = found.heat_of_vaporization
    w = float(_OMEGA[omega](np.array(Tb_found), np.array(Tc), np.array(Pc)))
    sources = (
        dict.fromkeys((*constants, "heat_capacity"), found.source)
        | dict.fromkeys(parts, _PARTS)
        | {
            "heat_of_vaporization": f"{found.source} at Tb; Watson (1943) elsewhere",
            "omega": f"estimated: {omega} from Tb, Tc, Pc",
            "vapor_pressure": "estimated: Lee-Kesler corresponding states",
            "molar_mass": "from the groups",
        }
    )
    if Tb is not None:
        sources["Tb"] = "given"
    melting = min(constants.get("Tm", 0.4 * Tb_found), 0.9 * Tb_found)
    made = Component(
        name=name, formula=_hill(atoms), cas=cas, omega=w, sources=sources, layer="estimated", **constants, **parts,
        vapor_pressure=lee_kesler_vapor_pressure(Tc, Pc, w),
        heat_capacity=None if found.heat_capacity is None else Polynomial(found.heat_capacity, _T_MIN, _T_MAX),
        heat_of_vaporization=watson(Tb_found, heat, Tc, melting, 0.98 * Tc) if heat is not None and heat > 0.0 else None,
    )  # fmt: skip
    return _with_density(made, found.source, melting)


def _atoms(wanted: Mapping[str, int], known: Mapping[str, Mapping[str, Any]]) -> Counter[str]:
    """The atoms of the groups."""
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
    return atoms


def _with_density(c: Component, source: str, melting: float) -> Component:
    """With Rackett's equation, through the critical volume where there is one."""
    assert c.Tc is not None and c.Pc is not None and c.omega is not None  # noqa: PT018
    if c.Vc is None:
        density, source = (
            generalized_rackett(c.Tc, c.Pc, c.omega),
            "estimated: Rackett (1970), generalized by Yamada and Gunn (1973)",
        )
    else:
        density, source = rackett(c.Tc, c.Pc, c.Vc, melting, 0.95 * c.Tc), f"{source} for Vc; Rackett (1970)"
    return replace(c, liquid_density=density, sources={**c.sources, "liquid_density": source})


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
def estimate_from_structure(
    name: str, smiles: str, *, Tb: Any = None, omega: str = "Lee-Kesler", cas: str = "", method: str = "Joback"
) -> Component:
    """A component with every constant estimated from its structure; `estimate_from_groups` without counting groups by hand.

    Parameters
    ----------
    name : str
        What to call it.
    smiles : str
        Its structure, such as ``CC(=O)C`` for acetone.
    Tb, omega, cas, method
        As for `estimate_from_groups`. What Constantinou and Gani's method does not say is Joback's, where his groups cover the structure too.

    Returns
    -------
    Component
        With SMILES and InChIKey, and UNIQUAC's r and q where groups for them are known.

    Raises
    ------
    InputError
        If RDKit is not installed (``pip install 'sleetfield[structure]'``), the text is no SMILES string, or the structure has a part that
        no group of the method stands for.

    Examples
    --------
    >>> import sleetfield as sl
    >>> sl.estimate_from_structure("2-ethylphenol", "CCc1ccccc1O", Tb=477.67).formula
    'C8H10O'
    """
    found = structure(smiles)
    options = {"Tb": Tb, "omega": omega, "cas": cas}
    if method == "Constantinou-Gani":
        if found.surface is None or not set(found.surface) <= set(first_order_groups()):
            raise InputError(f"Constantinou and Gani's groups of first order do not cover {smiles!r}. Take method='Joback'.")
        made = estimate_from_groups(name, found.surface, method=method, **options)
        if found.joback:
            made = _completed(made, estimate_from_groups(name, found.joback, Tb=made.Tb, omega=omega))
    elif not found.joback:
        raise InputError(f"No group of Joback and Reid stands for {found.unmatched} of {smiles!r}, so nothing can be estimated.")
    else:
        made = estimate_from_groups(name, found.joback, method=method, **options)
    if found.surface:
        r, q = surface_parameters(found.surface)
        made = made.changed(uniquac_r=r, uniquac_q=q, source="sums of the group values of Hansen et al. (1991)")
    return replace(made, smiles=found.smiles, inchi_key=found.inchi_key, layers={})


def _completed(made: Component, other: Component) -> Component:
    """With what another estimate has and this one has not."""
    lacking = [key for key in (*CONSTANTS, *CORRELATIONS) if getattr(made, key) is None and getattr(other, key) is not None]
    return replace(
        made,
        **{key: getattr(other, key) for key in lacking},
        sources={**{key: other.sources[key] for key in lacking}, **{k: v for k, v in made.sources.items() if k not in lacking}},
    )


def _hill(atoms: Mapping[str, int]) -> str:
    """A formula in Hill order: carbon, hydrogen, then by alphabet."""
    order = [s for s in ("C", "H") if s in atoms and "C" in atoms]
    order += sorted(s for s in atoms if s not in order)
    return "".join(f"{s}{atoms[s] if atoms[s] > 1 else ''}" for s in order)
