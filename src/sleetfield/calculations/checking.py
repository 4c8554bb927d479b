"""What an engineer looks at before trusting a system: splits, azeotropes, infinite dilution, ranges, pairs without parameters."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import combinations
from typing import TYPE_CHECKING

import numpy as np

from ..core.constants import ATMOSPHERE
from ..core.equilibrium import saturation as engine
from ..core.equilibrium.flash import flash
from ..core.models.contract import LIQUID
from ..data_sets.shipped import MeasuredAzeotrope, measured_azeotropes, measured_solubilities
from ..mixture import Mixture
from ..pairs.bank import published_parameters
from ..recipes import LiquidAndVaporRecipe, names_of, recipe_of, settled
from ..recipes.paired_liquid import MISSING
from ..results.check import Finding, ModelCheck
from ..results.parameters import PairSummary
from ..text import shown
from . import azeotropes
from .excess import excess
from .flashing import flash as flash_state
from .parameters import parameters

if TYPE_CHECKING:
    from ..results.azeotropes import Azeotrope

_FEEDS = np.array([1e-4, 1e-3, 0.01, 0.05, 0.15, 0.3, 0.5, 0.7, 0.85, 0.95, 0.99, 0.999, 1.0 - 1e-4])
_FAR = 1.5
"""Ratio of γ∞ outside the range to that at its end from which an extrapolation is called far."""

_EXCESS, _EXCESS_SHARE = 0.03, 0.1
"""How far from the nearest other set, in the excess Gibbs energy over RT, a set may be."""
_COLD_ENOUGH, _ASIDE = 0.9, 1e-6
_EXTREME = 1e4
_X_AGREES, _T_AGREES = 0.05, 2.0
_ALMOST = 1e-3


def check(system: Mixture, T: float, P: float) -> ModelCheck:
    """Look at every pair at ``T``, and at all boiling mixtures at ``P``."""
    findings: list[Finding] = []
    with np.errstate(all="ignore"):
        if system.eos is not None:
            for i in range(len(system)):
                findings += _of_liquid(system, i, T)
        for i, j in combinations(range(len(system)), 2):
            pair = system.part([system.names[i], system.names[j]])
            findings += _of_pair(pair, T)
        found = azeotropes.find(system, "P", P) if len(system) > 1 and not system.has_no_vapor else ()
    findings += _of_azeotropes(system, found, P)
    return ModelCheck(system, T, P, tuple(findings), found)


def _of_liquid(system: Mixture, i: int, T: float) -> Iterator[Finding]:
    """What an equation of state makes of a pure liquid at its boiling pressure, beside the databank's correlations where those hold at ``T``."""
    c = system.components[i]
    if c.Tc is None or T > _COLD_ENOUGH * c.Tc:
        return
    point = engine.bubble_at_T(system.phase_model.select([i]), np.array([T]), np.ones((1, 1)))
    if not point.found[0]:
        return
    P = float(point.P[0])
    state = flash_state(system, np.eye(len(system))[i], T=T, P=P * (1.0 + _ASIDE))
    liquid = next((phase for phase in state.phases if phase.kind == "liquid"), None)
    if liquid is None:
        return
    at = np.array([T])
    for about, correlation, value, most in (
        ("vapor pressure", c.vapor_pressure, P, 0.1),
        ("liquid heat capacity", c.liquid_heat_capacity, liquid.Cp, 0.15),
        ("liquid density", c.liquid_density, 1.0 / liquid.molar_volume, 0.1),
    ):
        if correlation is None or not correlation.T_min <= T <= correlation.T_max:
            continue
        known = float(correlation.value(at)[0])
        off = value / (np.exp(known) if about == "vapor pressure" else known) - 1.0
        text = f"{off:+.0%} off the databank's at {shown(T, 'temperature', system.units, 4)}"
        if abs(off) > most:
            yield Finding((c.name,), about, text, off, True)


def _of_pair(pair: Mixture, T: float) -> Iterator[Finding]:
    first, second = pair.names
    split = _split(pair, T)
    measured = [s for s in measured_solubilities() if {s.first, s.second} == {first, second}]
    parting = [a for a in measured_azeotropes() if {a.first, a.second} == {first, second} and a.parts]
    if pair.activity is not None and not pair.gases:
        yield from _of_parameters(pair, T)
        g1, g2 = (float(g) for g in parameters(pair).gamma_infinity(first, second, T=T))
        beside = f"; 1/x at saturation {1.0 / split[0]:.4g} and {1.0 / (1.0 - split[1]):.4g}" if split else ""
        yield Finding(pair.names, "infinite dilution", f"γ∞ of {first} {g1:.4g}, of {second} {g2:.4g}{beside}", g1, False)
        if max(g1, g2) > _EXTREME and split is None:
            yield Finding(
                pair.names,
                "infinite dilution",
                f"γ∞ of {max(g1, g2):.3g} without a liquid split is not credible",
                max(g1, g2),
                True,
            )
    if split:
        a, b = split
        text = f"two liquids from x = {a:.4g} to {b:.4g} of {first}"
        yield Finding(pair.names, "liquid split", text, b - a, not (measured or parting))
    elif measured or parting:
        source = measured[0].source if measured else parting[0].source
        can = " (Wilson's equation cannot)" if _liquid_name(pair) == "Wilson" else ""
        yield Finding(pair.names, "liquid split", f"none, but the two do not mix in all proportions{can}: {source}", 0.0, True)


def _liquid_name(pair: Mixture) -> str | None:
    recipe = pair.model.recipe
    return recipe.liquid.name if isinstance(recipe, LiquidAndVaporRecipe) else None


def _of_parameters(pair: Mixture, T: float) -> Iterator[Finding]:
    for p in parameters(pair).pairs:
        if p.source == MISSING:
            yield Finding(pair.names, "parameters", f"none for {_liquid_name(pair)}: taken as ideal", 0.0, True)
            continue
        yield from _other_models(pair, p, T)
        if p.T_min is not None and p.T_max is not None and not p.T_min <= T <= p.T_max:
            yield _extrapolated(pair, T, p.T_min if p.T_min > T else p.T_max)


def _extrapolated(pair: Mixture, T: float, end: float) -> Finding:
    """How far γ∞ goes from the ``end`` of the parameters' range to ``T``."""
    here, there = (np.array([float(g) for g in parameters(pair).gamma_infinity(*pair.names, T=t)]) for t in (T, end))
    ratio = float(np.exp(np.abs(np.log(here / there)).max()))
    units = pair.units
    where = (
        f"{shown(T, 'temperature', units, 4)} is outside the parameters' range, which ends at {shown(end, 'temperature', units, 4)}"
    )
    return Finding(pair.names, "range", f"{where}; γ∞ changes {ratio:.3g}-fold in between", ratio, ratio > _FAR)


def _other_models(pair: Mixture, p: PairSummary, T: float) -> Iterator[Finding]:
    """The excess Gibbs energy in the middle by every set of the bank, beside the one that is used; and where nothing but its origin confirms that one."""
    own, used = _excess_in_the_middle(pair, T), _liquid_name(pair)
    others: dict[str, float] = {}
    for model in names_of("liquid"):
        for names, sets in published_parameters(model).items():
            for other in sets if set(names) == set(pair.names) else ():
                if other.source != p.source or model != used:
                    system = Mixture(pair.who, settled(recipe_of(liquid=model), pair.who, {"parameters": {names: other}}))
                    derived = " (derived)" if other.source.startswith("derived") else ""
                    others[f"{model}{derived}"] = _excess_in_the_middle(system, T)
    measured = [value for words, value in others.items() if "derived" not in words and not _is_origin(p.source, words)]
    if others:
        listed = ", ".join(f"{value:.3f} by {words}" for words, value in others.items())
        far = bool(measured) and min(abs(own - value) for value in measured) > _EXCESS + _EXCESS_SHARE * abs(own)
        yield Finding(pair.names, "other models", f"excess Gibbs energy over RT at x = 0.5 is {own:.3f}; {listed}", own, far)
    if p.source.startswith("derived") and not measured:
        yield Finding(pair.names, "origin", f"nothing but their origin confirms the parameters ({p.source})", own, True)


def _is_origin(source: str, model: str) -> bool:
    """Whether parameters were derived from the published set of a model, which then confirms nothing."""
    return source.startswith(f"derived: the published {model} set")


def _excess_in_the_middle(pair: Mixture, T: float) -> float:
    return float(0.5 * np.log(excess(pair, np.array([T]), np.full((1, 2), 0.5)).gamma).sum())


def _split(pair: Mixture, T: float) -> tuple[float, float] | None:
    """Mole fractions of the first component in both liquids at a temperature, where the pair splits."""
    feeds = np.stack([_FEEDS, 1.0 - _FEEDS], axis=1)
    many = np.full(len(feeds), T)
    bubble = engine.bubble_at_T(pair.phase_model, many, feeds).P
    P = 2.0 * float(np.nanmax(bubble)) if np.isfinite(bubble).any() else 10.0 * ATMOSPHERE
    r = flash(pair.phase_model, many, np.full(len(feeds), P), feeds)
    two = np.flatnonzero((r.n_phases == 2) & (r.kinds[:, :2] == LIQUID).all(axis=1))
    if not two.size:
        return None
    a, b = sorted(r.x[two[0], :2, 0])
    return float(a), float(b)


def _of_azeotropes(system: Mixture, found: tuple[Azeotrope, ...], P: float) -> Iterator[Finding]:
    seen = set()
    for a in found:
        seen.add(frozenset(a.components))
        bank = _measured(system, a.components, P)
        composition, rest = str(a).split(": ", 1)
        words, astray = f"{composition} at {rest}", False
        if bank is not None:
            x = _mole_fraction(system, bank)
            astray = bank.liquids is not None and a.heterogeneous != (bank.liquids > 1)
            astray |= abs(a.composition[bank.first] - x) > _X_AGREES or abs(a.T - bank.T) > _T_AGREES
            words += f"; measured {x:.4f} {bank.first} at {shown(bank.T, 'temperature', system.units, 5)}"
            words += ", which the parameters were derived from" if _derived_from_azeotrope(system, a.components) else ""
        pinched = min(a.composition.values()) < _ALMOST
        yield Finding(a.components, "azeotrope", words, a.T, astray or pinched)
    for pair in combinations(system.names, 2):
        bank = _measured(system, pair, P)
        if bank is not None and frozenset(pair) not in seen:
            x = _mole_fraction(system, bank)
            text = f"none, but one was measured: {x:.4f} {bank.first} at {shown(bank.T, 'temperature', system.units, 5)}"
            yield Finding(pair, "azeotrope", text, bank.T, True)


def _derived_from_azeotrope(system: Mixture, names: tuple[str, ...]) -> bool:
    """Whether a pair's parameters were derived from its azeotrope, which then confirms nothing."""
    sources = [p.source for p in system.model.parameters.values() if set(p.of) == set(names)]
    return any(source.startswith("derived") and "azeotrope" in source for source in sources)


def _measured(system: Mixture, names: tuple[str, ...], P: float) -> MeasuredAzeotrope | None:
    """The measured azeotrope of a pair at this pressure."""
    near = [a for a in measured_azeotropes() if {a.first, a.second} == set(names) and abs(P / a.P - 1.0) < 0.02]
    return near[0] if near and len(names) == 2 else None


def _mole_fraction(system: Mixture, a: MeasuredAzeotrope) -> float:
    m1, m2 = (float(system.molar_mass[system.position(name)]) for name in (a.first, a.second))
    return float((a.mass_fraction / m1) / (a.mass_fraction / m1 + (1.0 - a.mass_fraction) / m2))
