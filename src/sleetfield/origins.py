"""Notes on the numbers that results rest on: which are estimated or one's own, and which are used outside their range."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .components import CASE, USER, Component
from .recipes import Model
from .text import first_few, shown

Array = NDArray[np.float64]


def origin_notes(components: Sequence[Component], used: Sequence[str]) -> list[str]:
    """Which of the numbers ``used`` are estimated, and which are not shipped but from one's own databank."""
    estimated: dict[str, list[str]] = {}
    own: dict[str, list[str]] = {}
    for c in components:
        guessed = [key for key in used if c.sources.get(key, "").startswith("estimated")]
        if guessed:
            estimated.setdefault(", ".join(guessed), []).append(c.name)
        for layer in (USER, CASE):
            keys = [key for key in used if c.layers.get(key) == layer]
            if keys:
                own.setdefault(layer, []).append(f"{', '.join(keys)} of {c.name}")
    notes = [f"Estimated, not measured: {keys} of {', '.join(names)}." for keys, names in estimated.items()]
    return notes + [f"From the {layer} layer of the databank: {'; '.join(what)}." for layer, what in own.items()]


def correlation_notes(words: str, key: str, components: Sequence[Component], T: Array, units: str) -> list[str]:
    """One note on all the correlations of a kind that are used outside their range at ``T``."""
    known = T[np.isfinite(T)]
    if not known.size:
        return []
    low, high = float(known.min()), float(known.max())
    there = [(c.name, getattr(c, key)) for c in components if getattr(c, key) is not None]
    out = [(name, c) for name, c in there if low < c.T_min or high > c.T_max]
    if not out:
        return []
    listed = [f"{name} ({shown(c.T_min, 'temperature', units, 4)} to {shown(c.T_max, 'temperature', units, 4)})" for name, c in out]
    return [f"The {words} correlation is used outside its range for {first_few(listed)}."]


def pair_notes(model: Model) -> list[str]:
    """Which pairs' parameters are from one's own bank."""
    own: dict[str, dict[frozenset[str], str]] = {}
    for p in model.parameters.values():
        if p.layer in (USER, CASE) and len(p.of) == 2:
            own.setdefault(p.layer, {}).setdefault(frozenset(p.of), f"{' - '.join(p.of)} ({p.source})")
    return [f"From the {layer} layer of the bank of pairs: {first_few(list(pairs.values()))}." for layer, pairs in own.items()]


def parameter_notes(model: Model, T: Array) -> list[str]:
    """Which pairs' parameters are used outside their range at temperatures ``T``."""
    known = T[np.isfinite(T)]
    if not known.size:
        return []
    low, high = float(known.min()), float(known.max())
    listed: dict[frozenset[str], str] = {}
    for p in model.parameters.values():
        if p.T_min is not None and p.T_max is not None and (low < p.T_min or high > p.T_max):
            listed.setdefault(frozenset(p.of), f"{' - '.join(p.of)} ({p.T_min:.0f} to {p.T_max:.0f} K)")
    if not listed:
        return []
    recipe: Any = model.recipe
    name = recipe.liquid.name if recipe.role != "eos" else recipe.name
    return [f"The {name} parameters are used outside their range for {first_few(list(listed.values()))}."]
