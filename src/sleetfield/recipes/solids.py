"""Pure solids beside the fluids of any model: melting points, heats of fusion, and what else their fugacities follow from."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..components import Component
from ..components.component_list import ComponentList
from ..components.from_groups import estimate_from_groups, groups_of_the_bank
from ..core.models.pure_solid import PureSolid
from ..errors import InputError
from ..pairs.of_temperature import constant
from ..text import first_few
from .liquid_vapor import liquid_density
from .parameter import NO_LAYER, Parameter, Parameters, Symbol

Array = NDArray[np.float64]

MELTING = "melting_T"
_STEP, _VOLUME, _TRANSITION, _HEAT = "fusion_Cp", "solid_V", "transition_T", "transition_H"

SYMBOLS = (
    Symbol(MELTING, "melting point", "K", low=1.0, high=5000.0, of_temperature=False, size=100.0),
    Symbol("fusion_H", "heat of fusion", "J/mol", low=1.0, high=1e6, of_temperature=False, size=1e4),
    Symbol(
        _STEP,
        "heat capacity of the liquid less that of the solid",
        "J/(mol K)",
        low=-1e3,
        high=1e3,
        of_temperature=False,
        size=10.0,
    ),
    Symbol(_VOLUME, "volume of the solid", "m3/mol", low=1e-7, high=1e-1, of_temperature=False, size=1e-5),
    Symbol(_TRANSITION, "transition to another form of the solid", "K", low=0.0, high=5000.0, of_temperature=False, size=100.0),
    Symbol(_HEAT, "heat of that transition", "J/mol", low=0.0, high=1e6, of_temperature=False, size=1e3),
)
"""Kinds of parameters that a solid has, beside any model of fluids."""

_KEYS = {
    MELTING: "Tm",
    "fusion_H": "heat_of_fusion",
    _STEP: "fusion_heat_capacity",
    _VOLUME: "solid_volume",
    _TRANSITION: "transition_T",
    _HEAT: "heat_of_transition",
}
"""What components call them."""

GUESSED = "estimated: Joback and Reid, Chem. Eng. Commun. 57 (1987) 233-243, from the component's groups"
USUAL_ERROR = 1.0 / 3.0
"""Of such a heat of fusion: two of three are nearer, of 137 substances."""
_FAR = 100.0
_ZERO = "none known: taken as zero"
_AS_LIQUID = "none known: that of the liquid at the melting point"


def solid_parameters(who: ComponentList, given: Any) -> Iterator[Parameter]:
    """Those of the solids that a user names; with "all", of every component whose melting point and heat of fusion are known.

    Raises
    ------
    InputError
        If something else is given.
    UnknownComponentError
        If a name is none of the system's, or its melting point or heat of fusion is not known.
    """
    if given is None:
        return
    if isinstance(given, str):
        if given.lower() != "all":
            raise InputError(f"solids is {given!r}; it is a list of names, such as ['water'], or 'all'.")
        chosen = [c for c in who if c.Tm is not None and c.heat_of_fusion is not None]
        if not chosen:
            raise InputError("Of none of the components are melting point and heat of fusion known: there is no solid to be had.")
    else:
        chosen = [who.components[i] for i in sorted({who.position(name) for name in given})]
    for c in chosen:
        yield from _of(c)


def _of(c: Component) -> Iterator[Parameter]:
    for symbol, key in _KEYS.items():
        value = getattr(c, key)
        guess = _guessed_heat(c) if key == "heat_of_fusion" and value is None else None
        if guess is not None:
            yield Parameter(symbol, (c.name,), constant(guess), GUESSED, NO_LAYER)
        elif value is not None or symbol in (MELTING, "fusion_H"):
            yield Parameter(symbol, (c.name,), constant(c.constant(key, "a solid")), c.sources[key], c.layers[key])
        elif symbol == _STEP:
            yield Parameter(symbol, (c.name,), constant(0.0), _ZERO, NO_LAYER, known=False)
        elif symbol == _VOLUME:
            volume = 1.0 / float(liquid_density(c).value(np.array([c.constant("Tm", "a solid")]))[0])
            yield Parameter(symbol, (c.name,), constant(volume), _AS_LIQUID, NO_LAYER, known=False)


def _guessed_heat(c: Component) -> float | None:
    """A heat of fusion by groups, where the melting point is known."""
    own = groups_of_the_bank().get(c.name)
    return None if own is None or c.Tm is None else estimate_from_groups(c.name, own).heat_of_fusion


def pure_solids(who: ComponentList, values: Parameters) -> list[PureSolid]:
    """The core's solids."""
    melting = values.of_symbol(MELTING)
    columns = {s.symbol: values.column(s.symbol, who) for s in (SYMBOLS if melting else ())}
    found = []
    for p in melting:
        i = who.names.index(p.of[0])
        T, H, step, volume, T_t, heat = (float(column[i]) for column in columns.values())
        found.append(PureSolid(i, T, H, volume, step, ((T_t, heat),) if np.isfinite(T_t + heat) else ()))
    return found


def solid_names(values: Parameters) -> list[str]:
    """Components that have a solid."""
    return [p.of[0] for p in values.of_symbol(MELTING)]


def solid_notes_at(values: Parameters, T: Array) -> list[str]:
    """Solids so far below their melting points that the model's subcooled liquid is no good guide."""
    lowest = float(np.nanmin(T)) if np.isfinite(T).any() else np.inf
    far = [p.of[0] for p in values.of_symbol(MELTING) if p.function.at(lowest) - lowest > _FAR]
    if not far:
        return []
    return [
        f"A solid's sublimation pressure and heat capacity rest on the model's subcooled liquid, and are unsure so far below the melting point: {first_few(far)}."
    ]


def guessed_heats(values: Parameters) -> list[str]:
    """Components whose heat of fusion is estimated."""
    return [p.of[0] for p in values.of_symbol("fusion_H") if p.source.startswith("estimated")]


def solid_notes(values: Parameters) -> list[str]:
    """Which of their numbers stand in for what is not known."""
    notes = []
    if guessed := guessed_heats(values):
        notes.append(
            f"The heat of fusion of {first_few(guessed)} is estimated from groups: two of three such estimates are within a third, those of round molecules far too high."
        )
    for symbol, words in (
        (_STEP, "The step of heat capacity at melting is taken as zero"),
        (_VOLUME, "The solid has its liquid's volume"),
    ):
        lacking = [p.of[0] for p in values.of_symbol(symbol) if not p.known]
        if lacking:
            notes.append(f"{words} for want of a number: {first_few(lacking)}.")
    return notes
