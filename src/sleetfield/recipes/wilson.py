"""Wilson: ln Λ of both orders of a pair, with the ratio of molar volumes in it or, at each temperature, beside it."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..components.component_list import ComponentList
from ..core.models.activity.pair_function import PairFunction
from ..core.models.activity.wilson import Wilson
from ..errors import InputError
from ..pairs.of_temperature import constant
from ..pairs.pair_parameters import PairParameters
from ..units import one_in_si
from .liquid_vapor import liquid_density
from .paired_liquid import PairedLiquid, both_orders
from .parameter import Parameter, Parameters, Symbol

_T_VOLUME = 298.15


@dataclass(frozen=True)
class WilsonRecipe(PairedLiquid, name="Wilson"):
    """Wilson's equation (1964)."""

    symbols = (
        Symbol("ln_Lambda", "logarithm of Λ of a pair in this order", low=-15.0, high=5.0),
        Symbol(
            "ln_Lambda_apart",
            "the same without the ratio of molar volumes, which is taken at each temperature",
            low=-15.0,
            high=5.0,
        ),
    )
    sign = -1.0

    def of_pair(self, pair: ComponentList, p: PairParameters) -> Iterator[Parameter]:
        """With the volumes that belong to the set."""
        apart = p.volumes == "at T"
        ratio = 0.0
        if not apart and p.form != "ratio":
            v1, v2 = _volumes(pair) if p.volumes is None else (one_in_si(v, "molar_volume", "volumes") for v in p.volumes)
            ratio = math.log(v2 / v1)
        for q, sign in zip(super().of_pair(pair, p), (1.0, -1.0), strict=True):
            symbol = self.symbols[1 if apart else 0].symbol
            yield Parameter(symbol, q.of, q.function + constant(sign * ratio))

    def pair_parameters(self, pair: ComponentList, values: Parameters, about: Mapping[str, Any]) -> PairParameters:
        """With equal volumes, since their ratio is in the parameters; or with those at each temperature."""
        if not values.part(pair.names).of_symbol(self.symbols[1].symbol):
            return super().pair_parameters(pair, values, {**about, "volumes": (1e-4, 1e-4)})
        first, second = both_orders(self.symbols[1].symbol, pair, values)
        return PairParameters(a12=first, a21=second, volumes="at T", **about)

    def build(self, who: ComponentList, values: Parameters) -> Wilson:
        """The equation with its numbers."""
        together, apart = (s.symbol for s in self.symbols)
        if values.part(who.names).of_symbol(apart):
            if any(p.known for p in values.part(who.names).of_symbol(together)):
                raise InputError(
                    "Wilson's parameters of some pairs have volumes='at T' and those of others do not; take one way for all."
                )
            return Wilson(PairFunction(values.pairs(apart, who)), [liquid_density(c) for c in who])
        return Wilson(PairFunction(values.pairs(together, who)), np.zeros(len(who)))

    def notes(self, who: ComponentList, values: Parameters) -> list[str]:
        """And that it has no liquid split."""
        notes = super().notes(who, values)
        return [*notes, "Wilson's equation cannot describe two liquids."] if len(who) > 1 else notes


def _volumes(who: ComponentList) -> list[float]:
    T = np.array([_T_VOLUME])
    return [1.0 / float(liquid_density(c).value(T)[0]) for c in who]
