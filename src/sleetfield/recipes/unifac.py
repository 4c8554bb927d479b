"""UNIFAC and its modification: activity coefficients predicted from groups, with their counts, sizes and surfaces, and ln ψ of both orders of two main groups."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from itertools import permutations
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from ..arguments import as_numbers
from ..components.component_list import ComponentList
from ..components.local_groups import LIQUIDS, MODIFIED, UNIFAC, WITH_GASES, GroupTable, groups_of, interactions, local_groups
from ..core.models.activity import ActivityModel
from ..core.models.activity.combinatorial import StavermanGuggenheim
from ..core.models.activity.contract import Sum
from ..core.models.activity.of_groups import OfGroups
from ..core.models.activity.pair_function import PairFunction
from ..core.models.activity.weighted_logarithm import WeightedLogarithm
from ..errors import InputError, UnknownComponentError
from ..pairs.of_temperature import OfTemperature, constant
from ..pairs.pair_parameters import PairParameters
from ..text import first_few
from .contract import Given, LiquidModel
from .parameter import GIVEN, Parameter, Parameters, Symbol

_TIE_LINES = 283.15, 313.15
"""Between which temperatures, K, interactions were fitted to tie lines."""
_TERMS = 3
"""Of an interaction as a function of temperature."""


class OfGroupsRecipe(LiquidModel):
    """Groups of a table, their sizes to a power in the first combinatorial term."""

    table: ClassVar[GroupTable]
    sizes: ClassVar[str]
    """Where sizes and surfaces of groups are from."""
    power: ClassVar[float] = 1.0
    usual_error: ClassVar[str]
    in_water: ClassVar[str] = ""
    """What is to be said of dilute solutions in water besides."""
    symbols = (
        Symbol("count", "how many of a group a component has", low=1.0, high=100.0, of_temperature=False),
        Symbol("R", "size of a group", low=0.05, high=10.0, of_temperature=False),
        Symbol("Q", "surface of a group", low=0.0, high=10.0, of_temperature=False),
        Symbol("ln_psi", "logarithm of the interaction of two main groups in this order", low=-40.0, high=20.0),
    )
    takes = ("parameters", "groups")
    predicts = True

    def subjects(self) -> set[str]:
        """Groups and main groups."""
        known = local_groups(self.table)
        return {*known, *(group.main for group in known.values())}

    def parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """Counts, sizes and surfaces of the groups that are there, and the interactions of their main groups."""
        written = {who.names[who.position(name)]: groups for name, groups in (given.get("groups") or {}).items()}
        table, present = local_groups(self.table), dict[str, None]()
        own = _given(given.get("parameters") or {}, self)
        for c in who:
            for group, count in groups_of(c, written.get(c.name), self.table).items():
                present[group] = None
                origin = GIVEN if c.name in written else "structure"
                yield Parameter(
                    "count", (c.name, group), constant(float(count)), origin, "given" if c.name in written else "shipped"
                )
        for group in present:
            for symbol in ("R", "Q"):
                yield Parameter(
                    symbol,
                    (group,),
                    constant(getattr(table[group], symbol)),
                    self.sizes,
                    "shipped",
                )
        mains = list(dict.fromkeys(table[group].main for group in present))
        yield from self._interactions(
            mains, own, {c.name: {table[g].main for g in groups_of(c, written.get(c.name), self.table)} for c in who}
        )

    def _interactions(
        self, mains: list[str], own: Mapping[tuple[str, str], OfTemperature], have: Mapping[str, set[str]]
    ) -> Iterator[Parameter]:
        bank, missing = interactions(self.table), []
        for pair in permutations(mains, 2):
            if pair in own:
                yield Parameter("ln_psi", pair, own[pair], GIVEN, "given")
            elif pair in bank:
                one = bank[pair]
                a = " ".join(f"{term:+g}{of}" for term, of in zip(one.terms, (" K", "T", "T²/K"), strict=False) if term)
                written = f"a = {a.removeprefix('+')}; confirmed by {one.confirmed_by}"
                yield Parameter("ln_psi", pair, _ln_psi(one.terms, pair), one.source, "shipped", written=written)
            else:
                missing.append(pair)
        if missing:
            pairs = list(dict.fromkeys(tuple(sorted(pair)) for pair in missing))
            words = first_few([" - ".join(pair) for pair in pairs])
            names = first_few([name for name, groups in have.items() if groups & set(pairs[0])])
            raise UnknownComponentError(
                f"{self.name} has no interaction of the main groups {words}, which {names} have. Give it: "
                f"parameters={{{pairs[0]!r}: {{'a12': ..., 'a21': ...}}}}, in K, on the command line --parameters '{' / '.join(pairs[0])} = a12, a21 K'; "
                "or take a model with parameters of pairs."
            )

    def build(self, who: ComponentList, values: Parameters) -> ActivityModel:
        """The combinatorial part of molecules, and the residual one of groups."""
        names = [p.of[0] for p in values.of_symbol("R")]
        R, Q = (np.array([p.function.coefficients[0] for p in values.of_symbol(symbol)]) for symbol in ("R", "Q"))
        counts = np.zeros((len(names), len(who)))
        place = {name: i for i, name in enumerate(who.names)}
        for p in values.of_symbol("count"):
            if p.of[0] in place:
                counts[names.index(p.of[1]), place[p.of[0]]] = p.function.coefficients[0]
        present = np.flatnonzero(counts.any(axis=1))
        counts, R, Q = counts[present], R[present], Q[present]
        mains = [local_groups(self.table)[names[k]].main for k in present.tolist()]
        found = {p.of: p.function.coefficients for p in values.of_symbol("ln_psi")}
        nothing = np.zeros(5)
        ln_psi = np.array([[found.get((one, other), nothing) for other in mains] for one in mains]).transpose(2, 0, 1)
        return Sum(
            [StavermanGuggenheim(R @ counts, Q @ counts, self.power), OfGroups(counts, WeightedLogarithm(Q, PairFunction(ln_psi)))]
        )

    def notes(self, who: ComponentList, values: Parameters) -> list[str]:
        """That this is a prediction."""
        aqueous = any(p.of[0] in who.names and p.of[1] == "H2O" for p in values.of_symbol("count"))
        error = f"{self.usual_error}{self.in_water * aqueous}."
        return [f"Activity coefficients are predicted from groups. {error}"] if len(who) > 1 else []


@dataclass(frozen=True)
class UNIFACRecipe(OfGroupsRecipe, name="UNIFAC"):
    """Fredenslund, Jones and Prausnitz's prediction (1975), with the groups' interactions as revised up to Hansen et al. (1991)."""

    table = UNIFAC
    sizes = "Hansen et al., Ind. Eng. Chem. Res. 30 (1991) 2352"
    usual_error = "Usual errors are 1 K and 0.02 in the vapor's mole fractions at 1 bar"
    in_water = "; at infinite dilution in water a factor of two, with alkanes ten to ninety"


@dataclass(frozen=True)
class GasUNIFACRecipe(UNIFACRecipe, name="UNIFAC with gases"):
    """The same with gases as groups, for Soave's equation with Holderbaum and Gmehling's mixing rule (1991), which their interactions were fitted with."""

    table = WITH_GASES
    usual_error = "Usual errors are a tenth of the pressure of a gas, in Soave's equation with mixing='PSRK'"


@dataclass(frozen=True)
class LiquidUNIFACRecipe(OfGroupsRecipe, name="liquid-liquid UNIFAC"):
    """The same with interactions for liquids that split, from 10 to 40 °C: Magnussen, Rasmussen and Fredenslund (1981)."""

    table = LIQUIDS
    sizes = "Magnussen, Rasmussen and Fredenslund, Ind. Eng. Chem. Process Des. Dev. 20 (1981) 331"
    usual_error = "They are for liquids that split; usual errors are 2 mole percent, and half of a small solubility"

    def notes_at(self, who: ComponentList, values: Parameters, T: NDArray[np.float64]) -> list[str]:
        """Beyond what its interactions were fitted to."""
        beyond = len(who) > 1 and bool(((_TIE_LINES[0] > T) | (_TIE_LINES[1] < T)).any())
        return [f"The interactions of {self.name} are for 10 to 40 °C."] if beyond else []


@dataclass(frozen=True)
class ModifiedUNIFACRecipe(OfGroupsRecipe, name="modified UNIFAC"):
    """Weidlich and Gmehling's modification (1987), with the groups' interactions of Gmehling, Li and Schiller (1993)."""

    table = MODIFIED
    sizes = "Gmehling, Li and Schiller, Ind. Eng. Chem. Res. 32 (1993) 178"
    power = 0.75
    usual_error = "Usual errors are 1 K and 0.02 in the vapor's mole fractions at 1 bar"
    in_water = "; at infinite dilution in water a factor of two, with alkanes thirty and more"


def _given(parameters: Mapping[Any, Any], model: OfGroupsRecipe) -> dict[tuple[str, str], OfTemperature]:
    """Interactions of main groups, by pairs of theirs."""
    known = {group.main for group in local_groups(model.table).values()}
    own: dict[tuple[str, str], OfTemperature] = {}
    for key, value in parameters.items():
        if isinstance(key, str) or len(key) != 2 or not set(key) <= known:
            raise InputError(
                f"{model.name} takes interactions of two main groups, such as {{('OH', 'H2O'): {{'a12': 353.5, 'a21': -229.1}}}}, in K; "
                f"got {key!r}. Main groups are {', '.join(sorted(known))}."
            )
        own.update(_both(key, value))
    return own


def _both(key: tuple[str, str], value: Any) -> dict[tuple[str, str], OfTemperature]:
    if isinstance(value, PairParameters) and value.form == "K" and value.a12 is not None:
        value = {"a12": value.a12, "a21": value.a21}
    if not isinstance(value, Mapping) or set(value) != {"a12", "a21"}:
        raise InputError(f"The interaction of {' and '.join(key)} is {value!r}; it has a12 and a21, in K.")
    return {key: _ln_psi(value["a12"], key), key[::-1]: _ln_psi(value["a21"], key[::-1])}


def _ln_psi(a: Any, of: tuple[str, str]) -> OfTemperature:
    """From aₘₙ in K, or [a, b, c] of a + bT + cT²."""
    try:
        terms = np.atleast_1d(as_numbers(a))
    except ValueError:
        terms = np.empty(0)
    if terms.ndim > 1 or not 0 < terms.size <= _TERMS or not np.isfinite(terms).all():
        raise InputError(f"The interaction of {' with '.join(of)} is {a!r}; it is a number in K, or [a, b, c] of a + bT + cT².")
    first, second, third = np.pad(terms, (0, _TERMS - terms.size)).tolist()
    return OfTemperature((-second, -first, 0.0, -third, 0.0))
