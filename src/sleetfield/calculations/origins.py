"""Notes on the numbers that results rest on: which are estimated or one's own, and which are used outside their range."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..components import CASE, USER, Component
from ..results.text import first_few, shown

if TYPE_CHECKING:
    from ..modeled_components import ModeledComponents

Array = NDArray[np.float64]


def origin_notes(system: ModeledComponents) -> list[str]:
    """Which of the numbers that the results rest on are estimated, and which are not shipped but from one's own databank."""
    used = (*(("Tc", "Pc", "omega") if system.eos is not None else ("vapor_pressure", "liquid_density")), "heat_capacity")
    estimated: dict[str, list[str]] = {}
    own: dict[str, list[str]] = {}
    for c in system.components:
        guessed = [key for key in used if c.sources.get(key, "").startswith("estimated")]
        if guessed:
            estimated.setdefault(", ".join(guessed), []).append(c.name)
        for layer in (USER, CASE):
            keys = [key for key in used if c.layers.get(key) == layer]
            if keys:
                own.setdefault(layer, []).append(f"{', '.join(keys)} of {c.name}")
    notes = [f"Estimated, not measured: {keys} of {', '.join(names)}." for keys, names in estimated.items()]
    return notes + [f"From the {layer} layer of the databank: {'; '.join(what)}." for layer, what in own.items()]


def range_notes(system: ModeledComponents, T: Array) -> list[str]:
    """Which correlations are used outside their range at temperatures ``T``."""
    heat = [(c.name, c.heat_capacity) for c in system.components if c.heat_capacity is not None]
    notes = _out_of_range("ideal-gas heat capacity", heat, T, system.units) + vapor_pressure_notes(system, T)
    if system.eos is None:
        densities = [(c.name, c.liquid_density) for c in _liquids(system) if c.liquid_density is not None]
        notes += _out_of_range("liquid density", densities, T, system.units)
    return notes


def vapor_pressure_notes(system: ModeledComponents, T: Array) -> list[str]:
    """The same for vapor pressures and the parameters of activity models alone, where the model uses them."""
    activity = system.choice.activity
    if activity is None:
        return []
    pressures = [(c.name, c.vapor_pressure) for c in _liquids(system) if c.vapor_pressure is not None]
    return _out_of_range("vapor pressure", pressures, T, system.units) + activity.outside(T)


def _liquids(system: ModeledComponents) -> list[Component]:
    """The components but for gases that are dissolved by Henry's law, which have no pure liquid."""
    gases = system.choice.activity.solutes if system.choice.activity is not None else []
    return [c for i, c in enumerate(system.components) if i not in gases]


def _out_of_range(words: str, correlations: Sequence[tuple[str, Any]], T: Array, units: str) -> list[str]:
    """One note on all the correlations of a kind that are used outside their range at ``T``."""
    known = T[np.isfinite(T)]
    if not known.size:
        return []
    low, high = float(known.min()), float(known.max())
    out = [(n, c) for n, c in correlations if low < c.T_min or high > c.T_max]
    if not out:
        return []
    listed = [f"{name} ({shown(c.T_min, 'temperature', units, 4)} to {shown(c.T_max, 'temperature', units, 4)})" for name, c in out]
    return [f"The {words} correlation is used outside its range for {first_few(listed)}."]
