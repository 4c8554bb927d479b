"""Substances that are alike."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from ..arguments import guarded
from ..components import Component
from ..components.quantities import SOLUBILITY_PARTS
from ..units import from_si, pretty_unit, unit_of
from .base import Table
from .columns import Column

if TYPE_CHECKING:
    from matplotlib.axes import Axes

_WORDS = ("dispersion", "polar", "hydrogen bonding")
"""The parts, as people read them."""
_NAMED = 6
"""Names of components without solubility parameters that a note tells."""


@dataclass(frozen=True, eq=False, repr=False)
class Likeness(Table):
    """Substances by the distance of their solubility parameters from a target's, nearest first.

    Attributes
    ----------
    target : str
        The component that they are held against; empty where three parts were given.
    parts : three floats
        Its solubility parameter's parts, Pa^0.5: dispersion, polar, hydrogen bonding.
    components : tuple of Component
        Those listed.
    distances : tuple of float
        Pa^0.5.
    ranked : int
        How many were compared.
    unknown : tuple of str
        Which could not be, for lack of solubility parameters.
    """

    target: str
    parts: tuple[float, ...]
    components: tuple[Component, ...]
    distances: tuple[float, ...]
    ranked: int
    unknown: tuple[str, ...]

    word = "likeness"
    rows = "components"
    named_by = "name"
    has_picture = True

    @property
    def names(self) -> tuple[str, ...]:
        """Of those listed."""
        return tuple(c.name for c in self.components)

    def title(self, units: str | None = None) -> str:
        """Like what."""
        unit_set = self.unit_set(units)
        parts = from_si(self.parts, "solubility_parameter", unit_set)
        words = ", ".join(f"{word} {part:.3g}" for word, part in zip(_WORDS, parts, strict=True))
        return f"Substances like {self.target or 'one of these parts'} ({words} {pretty_unit(unit_of('solubility_parameter', unit_set))})"

    def about(self) -> dict[str, Any]:
        """The target."""
        return {"target": self.target, "parts": dict(zip(SOLUBILITY_PARTS, self.parts, strict=True))}

    def facts(self) -> dict[str, Any]:
        """How many were compared, and which not."""
        return {"ranked": self.ranked, "unknown": list(self.unknown)}

    def columns(self) -> list[Column]:
        """Distance, its parts, and where each boils."""
        return [
            Column("name", list(self.names)),
            Column("distance", list(self.distances), "solubility_parameter"),
            *(
                Column(key, [getattr(c, key) for c in self.components], "solubility_parameter", label=word)
                for key, word in zip(SOLUBILITY_PARTS, _WORDS, strict=True)
            ),
            Column("Tb", [c.Tb for c in self.components], "temperature"),
        ]

    @property
    def notes(self) -> list[str]:
        """What a distance is worth, and what was left out."""
        notes = [
            "The distance is the root of 4 Δδd² + Δδp² + Δδh² at 25 °C: a hint at what mixes with what, no measurement; try it, or ask a System."
        ]
        if self.unknown:
            few = len(self.unknown) <= _NAMED
            which = ", ".join(self.unknown) if few else f"{len(self.unknown)} components"
            notes.append(f"Without solubility parameters, and so not among the {self.ranked} ranked: {which}.")
        return notes

    @guarded
    def plot(self, ax: Axes | None = None, *, units: str | None = None) -> Axes:
        """Polar part against hydrogen bonding, the target among those listed.

        Raises
        ------
        InputError
            If there is no such set of units.
        """
        from ..diagrams.likeness import draw_likeness

        return draw_likeness(self, ax, self.unit_set(units))
