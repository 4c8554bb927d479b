"""The Redlich-Kister expansion, and Margules' equation, which is its first two terms."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from ..components.component_list import ComponentList
from ..core.models.activity.pair_function import PairFunction
from ..core.models.activity.redlich_kister import RedlichKister
from ..errors import InputError
from ..pairs.of_temperature import constant
from ..pairs.pair_parameters import PairParameters
from .paired_liquid import PairedLiquid
from .parameter import Parameter, Parameters, Symbol

MOST_TERMS = 10


@dataclass(frozen=True)
class RedlichKisterRecipe(PairedLiquid, name="Redlich-Kister"):
    """Redlich and Kister's expansion (1948): A₀, A₁, ... of a pair; those with odd numbers change their sign with the order of the pair."""

    symbols = tuple(Symbol(f"A{k}", f"term {k} of the expansion", low=-12.0, high=12.0) for k in range(MOST_TERMS))

    @property
    def usual_fit(self) -> tuple[str, ...]:
        """The first two terms."""
        return ("A0", "A1")

    def of_pair(self, pair: ComponentList, p: PairParameters) -> Iterator[Parameter]:
        """Its terms, or the two that Margules' parameters make."""
        if p.terms is not None:
            if len(p.terms) > MOST_TERMS:
                raise InputError(
                    f"The expansion of {' and '.join(pair.names)} has {len(p.terms)} terms; at most {MOST_TERMS} are taken."
                )
            terms = [p.function(term, 1.0, f"term {k}") for k, term in enumerate(p.terms)]
        else:
            a12, a21 = p.function(p.a12, 1.0, "a12"), p.function(p.a21, 1.0, "a21")
            terms = [(a12 + a21) * 0.5, (a21 + a12 * -1.0) * 0.5]
        yield from (Parameter(f"A{k}", pair.names, term) for k, term in enumerate(terms))

    def pair_parameters(self, pair: ComponentList, values: Parameters, about: Mapping[str, Any]) -> PairParameters:
        """Its terms."""
        own = values.part(pair.names)
        terms = [p.function for k in range(MOST_TERMS) for p in own.of_symbol(f"A{k}")]
        return PairParameters(terms=terms, **about)

    def ideal_pair(self, pair: ComponentList) -> Iterator[Parameter]:
        """Two terms of zero."""
        yield from (Parameter(f"A{k}", pair.names, constant(0.0)) for k in range(2))

    def build(self, who: ComponentList, values: Parameters) -> RedlichKister:
        """The expansion with its numbers."""
        count = max((k + 1 for k in range(MOST_TERMS) if values.of_symbol(f"A{k}")), default=2)
        return RedlichKister([PairFunction(values.pairs(f"A{k}", who, mirrored=(-1.0) ** k)) for k in range(max(count, 2))])


@dataclass(frozen=True)
class MargulesRecipe(PairedLiquid, name="Margules"):
    """Margules' equation (1895) with two parameters: ln γ at infinite dilution, of the first in the second."""

    symbols = (Symbol("A", "ln γ at infinite dilution, of the first in the second", low=-8.0, high=12.0),)

    def of_pair(self, pair: ComponentList, p: PairParameters) -> Iterator[Parameter]:
        """Its two parameters, also from the first two terms of an expansion."""
        if p.terms is None:
            yield from super().of_pair(pair, p)
            return
        if len(p.terms) > 2:
            raise InputError(
                f"Margules' equation has two terms; {' and '.join(pair.names)} have {len(p.terms)}. Take liquid='Redlich-Kister'."
            )
        A0, A1 = (p.function(term, 1.0, f"term {k}") for k, term in enumerate((*p.terms, 0.0)[:2]))
        yield Parameter("A", pair.names, A0 + A1 * -1.0)
        yield Parameter("A", pair.names[::-1], A0 + A1)

    def build(self, who: ComponentList, values: Parameters) -> RedlichKister:
        """The expansion with half the sum and half the difference of both."""
        A = values.pairs("A", who)
        turned = A.swapaxes(1, 2)
        return RedlichKister([PairFunction(0.5 * (A + turned)), PairFunction(0.5 * (turned - A))])
