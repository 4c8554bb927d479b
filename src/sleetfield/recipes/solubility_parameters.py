"""Liquids without binary parameters: ideal ones, and regular solutions from solubility parameters."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from ..components.component_list import ComponentList
from ..components.quantities import SOLUBILITY_PARTS
from ..core.models.activity import ActivityModel
from ..core.models.activity.ideal import IdealSolution
from ..core.models.activity.regular import Hansen, ScatchardHildebrand
from ..pairs.of_temperature import constant
from .contract import Given, LiquidModel
from .known_splits import split_notes
from .liquid_vapor import liquid_density
from .parameter import Parameter, Parameters, Symbol

_T_VOLUME = 298.15


@dataclass(frozen=True)
class IdealLiquid(LiquidModel, name="ideal"):
    """Raoult's law."""

    def parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """None."""
        yield from ()

    def build(self, who: ComponentList, values: Parameters) -> ActivityModel:
        """All activity coefficients are one."""
        return IdealSolution(len(who))

    def notes(self, who: ComponentList, values: Parameters) -> list[str]:
        """Which pairs do not mix in truth."""
        return split_notes(combinations(who.names, 2))


@dataclass(frozen=True)
class ScatchardHildebrandRecipe(LiquidModel, name="Scatchard-Hildebrand"):
    """Regular solutions by the solubility parameter."""

    symbols = (
        Symbol("liquid_volume", "molar volume at 298.15 K", "m3/mol", low=1e-6, high=2e-3, of_temperature=False),
        *(
            Symbol(key, "part of the solubility parameter", "Pa^0.5", low=0.0, high=6e4, of_temperature=False)
            for key in SOLUBILITY_PARTS
        ),
    )
    needs = SOLUBILITY_PARTS

    def parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """Volumes and the three parts of the solubility parameter."""
        T = np.array([_T_VOLUME])
        for c in who:
            volume = 1.0 / float(liquid_density(c).value(T)[0])
            yield Parameter("liquid_volume", (c.name,), constant(volume), c.sources.get("liquid_density", "Rackett"), "shipped")
            for key in SOLUBILITY_PARTS:
                value = c.constant(key, self.name)
                yield Parameter(key, (c.name,), constant(value), c.sources[key], c.layers[key])

    def build(self, who: ComponentList, values: Parameters) -> ActivityModel:
        """The model with the parts' root of the sum of squares."""
        volumes, parts = _columns(who, values)
        d, p, h = parts
        return ScatchardHildebrand(volumes, np.sqrt(d**2 + p**2 + h**2))


@dataclass(frozen=True)
class HansenRecipe(ScatchardHildebrandRecipe, name="Hansen"):
    """Regular solutions by Hansen's three parts of the solubility parameter."""

    def build(self, who: ComponentList, values: Parameters) -> ActivityModel:
        """The model with each part by itself."""
        return Hansen(*_columns(who, values))


def _columns(who: ComponentList, values: Parameters) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    return values.column("liquid_volume", who), np.stack([values.column(key, who) for key in SOLUBILITY_PARTS])
