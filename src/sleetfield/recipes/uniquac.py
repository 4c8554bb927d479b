"""UNIQUAC: ln τ of both orders of a pair, and sizes r, surfaces q and q' of the components."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from ..components.component_list import ComponentList
from ..core.models.activity.pair_function import PairFunction
from ..core.models.activity.uniquac import UNIQUAC
from ..errors import InputError
from ..pairs.of_temperature import constant
from ..pairs.pair_parameters import PairParameters
from .contract import Given
from .paired_liquid import PairedLiquid
from .parameter import GIVEN, Parameter, Parameters, Symbol

_SAME = 1e-9


@dataclass(frozen=True)
class UNIQUACRecipe(PairedLiquid, name="UNIQUAC"):
    """Abrams and Prausnitz's equation (1975), with a surface of its own in the residual term where one is given (Anderson and Prausnitz, 1978)."""

    symbols = (
        Symbol("ln_tau", "logarithm of the interaction of a pair in this order", low=-10.0, high=5.0),
        Symbol("r", "size of a component", low=0.1, high=100.0, of_temperature=False),
        Symbol("q", "surface of a component", low=0.1, high=100.0, of_temperature=False),
        Symbol("q_residual", "surface of a component in the residual term", low=0.1, high=100.0, of_temperature=False),
    )
    needs = ("uniquac_r", "uniquac_q")
    takes = ("parameters", "missing", "groups", "q_residual")
    sign = -1.0

    def of_components(
        self, who: ComponentList, given: Given, sets: Mapping[tuple[str, str], PairParameters | None]
    ) -> Iterator[Parameter]:
        """R and q that the pairs' sets were fitted with, or the databank's; and q'."""
        carried = _carried(sets)
        own = {who.position(name): float(value) for name, value in (given.get("q_residual") or {}).items()}
        if any(value <= 0.0 for value in own.values()):
            raise InputError("Surfaces q' of the residual term must be positive.")
        for i, c in enumerate(who):
            surface = 0.0
            for symbol in ("r", "q"):
                known = carried.get((symbol, c.name))
                surface = c.constant(f"uniquac_{symbol}", self.name) if known is None else known[0]
                source = c.sources[f"uniquac_{symbol}"] if known is None else f"with the parameters of {known[1]}"
                layer = c.layers[f"uniquac_{symbol}"] if known is None else "given"
                yield Parameter(symbol, (c.name,), constant(surface), source, layer)
            q = own.get(i, surface)
            yield Parameter("q_residual", (c.name,), constant(q), GIVEN if i in own else "q", "given" if i in own else "shipped")

    def pair_parameters(self, pair: ComponentList, values: Parameters, about: Mapping[str, Any]) -> PairParameters:
        """With the sizes and surfaces that they were fitted with."""
        sizes = {symbol: tuple(values.column(symbol, pair).tolist()) for symbol in ("r", "q")}
        return super().pair_parameters(pair, values, {**about, **sizes})

    def build(self, who: ComponentList, values: Parameters) -> UNIQUAC:
        """The equation with its numbers."""
        r, q, q_residual = (values.column(symbol, who) for symbol in ("r", "q", "q_residual"))
        return UNIQUAC(r, q, q_residual, PairFunction(values.pairs("ln_tau", who)))


def _carried(sets: Mapping[tuple[str, str], PairParameters | None]) -> dict[tuple[str, str], tuple[float, str]]:
    """Sizes and surfaces that pairs' sets bring along, by symbol and component; they have to agree."""
    found: dict[tuple[str, str], tuple[float, str]] = {}
    for names, one in sets.items():
        words = " and ".join(names)
        for symbol in ("r", "q") if one is not None else ():
            for name, value in zip(names, getattr(one, symbol) or (), strict=False):
                other = found.setdefault((symbol, name), (float(value), words))
                if abs(other[0] - value) > _SAME * value:
                    raise InputError(
                        f"The parameters of {other[1]} were fitted with {symbol} = {other[0]:g} of {name}, those of {words} with {value:g}. "
                        "Sets for one mixture need the same; leave one out or refit it."
                    )
    return found
