"""NRTL: τ of both orders of a pair, and α."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from ..components.component_list import ComponentList
from ..core.models.activity.nrtl import NRTL
from ..core.models.activity.pair_function import PairFunction
from ..pairs.of_temperature import constant
from ..pairs.pair_parameters import PairParameters
from .paired_liquid import PairedLiquid
from .parameter import Parameter, Parameters, Symbol


@dataclass(frozen=True)
class NRTLRecipe(PairedLiquid, name="NRTL"):
    """Renon and Prausnitz's equation (1968)."""

    symbols = (
        Symbol("tau", "interaction of a pair in this order", low=-10.0, high=30.0),
        Symbol("alpha", "non-randomness, the same for both orders", low=0.05, high=1.0),
    )

    def of_pair(self, pair: ComponentList, p: PairParameters) -> Iterator[Parameter]:
        """With α."""
        yield from super().of_pair(pair, p)
        yield Parameter("alpha", pair.names, p.alpha_function)

    def pair_parameters(self, pair: ComponentList, values: Parameters, about: Mapping[str, Any]) -> PairParameters:
        """With α."""
        (alpha,) = values.part(pair.names).of_symbol("alpha")
        return super().pair_parameters(pair, values, {**about, "alpha": alpha.function})

    def ideal_pair(self, pair: ComponentList) -> Iterator[Parameter]:
        """With the usual α, which does not matter then."""
        yield from super().ideal_pair(pair)
        yield Parameter("alpha", pair.names, constant(0.3))

    def build(self, who: ComponentList, values: Parameters) -> NRTL:
        """The equation with its numbers."""
        return NRTL(PairFunction(values.pairs("tau", who)), PairFunction(values.pairs("alpha", who, mirrored=1.0)))
