"""A model as a value: a recipe with every parameter that it takes for some components. It can be printed, compared, kept in a file, and changed."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, fields, replace
from typing import Any, Self

from ..components.component_list import ComponentList
from ..core.models.activity import ActivityModel
from ..core.models.contract import PhaseModel
from ..core.models.pure_solid import PureSolid
from ..core.models.with_solids import with_solids
from ..errors import InputError
from ..pairs.of_temperature import T_REFERENCE
from ..pairs.pair_parameters import PairParameters
from ..text import first_few, numbered, plain_table
from .contract import EquationOfState, Given, Recipe, named, names_of
from .liquid_vapor import LiquidAndVaporRecipe, liquid_and_vapor
from .parameter import GIVEN, Parameter, Parameters, Symbol
from .solids import SYMBOLS, pure_solids, solid_names, solid_notes, solid_notes_at, solid_parameters

OWNERS = {
    "kij": "an equation of state; an activity model has parameters=, an ideal gas none",
    "lij": "an equation of state; an activity model has parameters=, an ideal gas none",
    "alpha": "an equation of state; an activity model has parameters=, an ideal gas none",
    "mixing": "a cubic equation of state",
    "excess": "a cubic equation of state, beside mixing=",
    "alpha_constants": "an equation of state; an activity model has parameters=, an ideal gas none",
    "translation": "an equation of state; these liquids have their own volumes",
    "parameters": "an activity model; an equation of state takes kij=",
    "henry": "an activity model; an equation of state takes kij=",
    "virial": "the vapor model 'virial' beside a liquid model",
    "missing": "an activity model with parameters of pairs, as NRTL has them",
    "groups": "UNIFAC, or missing='UNIFAC' beside another activity model",
    "q_residual": "an activity model, UNIQUAC; an equation of state takes kij=",
    "poynting": "an activity model; an equation of state has the pressure's effect in it",
}
"""What each keyword belongs to, for messages."""


@dataclass(frozen=True, eq=False)
class Model:
    """A recipe and its parameters; ``names`` are the components that they are for, in order.

    Examples
    --------
    >>> import sleetfield as sl
    >>> print(sl.System(["nitrogen", "methane"], eos="PR").model)
    PR for nitrogen, methane
    parameter                 value   layer     source
    ──────────────────────────────────────────────────
    kij nitrogen / methane   0.0311   shipped   [1]
    [1] Knapp, Döring, Oellrich, Plöcker and Prausnitz, Vapor-Liquid Equilibria for Mixtures of Low Boiling Substances, DECHEMA Chemistry Data Series VI (1982)

    """

    recipe: LiquidAndVaporRecipe | EquationOfState
    names: tuple[str, ...]
    parameters: Parameters

    @property
    def title(self) -> str:
        """For headings."""
        gases = self.recipe.gases(self.parameters)
        title = self.recipe.title
        title = title.replace(" liquid,", " liquid, Henry's law,", 1) if gases else title
        solids = solid_names(self.parameters)
        return f"{title}, solid {first_few(solids, 3)}" if solids else title

    def all_symbols(self) -> Iterator[Symbol]:
        """Every kind of parameter that it may have."""
        yield from (*self.recipe.all_symbols(), *SYMBOLS)

    # ---- what it makes ----

    def build(self, who: ComponentList) -> PhaseModel:
        """The core's phase model."""
        return with_solids(self.fluids(who), self.pure_solids(who))

    def fluids(self, who: ComponentList) -> PhaseModel:
        """The same without solids."""
        return self.recipe.build(who, self.parameters)

    def pure_solids(self, who: ComponentList) -> list[PureSolid]:
        """The core's solids: those of the parameters."""
        return pure_solids(who, self.parameters)

    def with_solids(self, who: ComponentList, solids: Any) -> Self:
        """The same beside other solids: names, or "all"."""
        own = {p.name for symbol in SYMBOLS for p in self.parameters.of_symbol(symbol.symbol)}
        kept = [p for p in self.parameters.values() if p.name not in own]
        return type(self)(self.recipe, self.names, Parameters([*kept, *solid_parameters(who, solids)]))

    @property
    def solids(self) -> list[str]:
        """Components that may be there as pure solids."""
        return solid_names(self.parameters)

    def activity(self, who: ComponentList) -> ActivityModel | None:
        """The core's activity model of the liquid; None for an equation of state."""
        return self.recipe.activity(who, self.parameters)

    def notes(self, who: ComponentList) -> list[str]:
        """What holds for every result."""
        return self.recipe.notes(who, self.parameters) + solid_notes(self.parameters)

    def notes_at(self, who: ComponentList, T: Any) -> list[str]:
        """What holds at temperatures ``T``."""
        return self.recipe.notes_at(who, self.parameters, T) + solid_notes_at(self.parameters, T)

    def vapor_notes_at(self, who: ComponentList, T: Any) -> list[str]:
        """What holds of the vapor at temperatures ``T``."""
        return self.recipe.vapor_notes_at(who, self.parameters, T)

    # ---- what else can be made of it ----

    def with_parameters(self, values: Mapping[str, Any], source: str = GIVEN) -> Self:
        """The same with other numbers, by name."""
        changed = self.parameters.changed(values, source)
        _check_numbers(self.recipe, changed)
        return type(self)(self.recipe, self.names, changed)

    def taking(self, other: Model) -> Self:
        """The same with what another model has given by hand, or fitted, of the pairs that both have."""
        return type(self)(self.recipe, self.names, self.parameters.taking(other.parameters))

    def of_pair(self, pair: ComponentList, about: Mapping[str, Any]) -> tuple[str, PairParameters]:
        """The name that a bank has the parameters of a pair under, and these, with what there is to say ``about`` them.

        Raises
        ------
        InputError
            If no bank can hold them.
        """
        recipe = self.recipe.liquid if isinstance(self.recipe, LiquidAndVaporRecipe) else self.recipe
        return recipe.bank_name, recipe.pair_parameters(pair, self.parameters, about)

    @property
    def sign_of_energies(self) -> float:
        """The sign that an energy has in a pair's parameter: negative where it is that of an exponent."""
        return float(getattr(getattr(self.recipe, "liquid", None), "sign", 1.0))

    def part(self, names: Iterable[str]) -> Self:
        """The same for some of the components."""
        kept = tuple(names)
        return type(self)(self.recipe, kept, self.parameters.part({*kept, *self.recipe.subjects()}))

    def to_dict(self) -> dict[str, Any]:
        """As plain values: name, options and every parameter."""
        r = self.recipe
        options = r.options() if isinstance(r, LiquidAndVaporRecipe) else {"eos": r.name, **r.options()}
        return {"model": options, "parameter": [p.to_dict() for p in self.parameters.values()]}

    @classmethod
    def from_dict(cls, plain: Mapping[str, Any], names: tuple[str, ...]) -> Self:
        """From what `to_dict` gives.

        Raises
        ------
        InputError
            If there is no such model or a parameter is not one.
        """
        options, rows = plain.get("model"), plain.get("parameter", [])
        if not isinstance(options, Mapping) or not isinstance(rows, list):
            raise InputError("A model has a table model and a list of parameters.")
        recipe = recipe_of(**{str(k): v for k, v in options.items()})
        parameters = Parameters(Parameter.from_dict(row) for row in rows)
        known = {s.symbol for s in (*recipe.all_symbols(), *SYMBOLS)}
        for p in parameters.values():
            if p.symbol not in known or not set(p.of) <= {*names, *recipe.subjects()}:
                raise InputError(f"{recipe.title} for {', '.join(names)} has no parameter {p.name!r}.")
        _check_numbers(recipe, parameters)
        return cls(recipe, names, parameters)

    def __str__(self) -> str:
        units = {s.symbol: s.unit for s in self.all_symbols()}
        marks, sources = numbered([p.source for p in self.parameters.values()])
        rows = [
            [p.name, f"{p.function} {units.get(p.symbol, '')}".strip(), p.layer, mark]
            for p, mark in zip(self.parameters.values(), marks, strict=True)
        ]
        head = f"{self.title} for {', '.join(self.names)}"
        table = plain_table(rows, ["parameter", "value", "layer", "source"], ["left", "right", "left", "left"])
        return "\n".join([head, *([table] if rows else []), *sources])

    def __eq__(self, other: object) -> bool:
        """Whether another has the same recipe, components and numbers, wherever these came from."""
        if not isinstance(other, Model):
            return NotImplemented
        numbers = [{n: p.function for n, p in m.parameters.items()} for m in (self, other)]
        return (self.recipe, self.names, numbers[0]) == (other.recipe, other.names, numbers[1])

    def __hash__(self) -> int:
        return hash((self.title, self.names))


def _check_numbers(recipe: Recipe, parameters: Parameters) -> None:
    """Refuse what no parameter can be: a function of temperature where a number is wanted, or a value far from any that a search would look at.

    Raises
    ------
    InputError
        If there is one.
    """
    for symbol in (*recipe.all_symbols(), *SYMBOLS):
        least, most = symbol.possible()
        for p in parameters.of_symbol(symbol.symbol):
            if p.function.varies and not symbol.of_temperature:
                raise InputError(f"{p.name} is a number; it doesn't depend on temperature.")
            if not least <= (value := p.function.at(T_REFERENCE)) <= most:
                where = f" at {T_REFERENCE:g} K" if p.function.varies else ""
                raise InputError(
                    f"{p.name} is {value:.4g}{where}, which can't be: {symbol.words} lies between {least:.4g} and {most:.4g} {symbol.unit}".rstrip()
                    + ". Check the unit and the form that it is given in."
                )


def recipe_of(
    *,
    eos: Any = None,
    liquid: Any = None,
    vapor: Any = None,
    poynting: bool = False,
    liquid_options: Mapping[str, Any] | None = None,
    vapor_options: Mapping[str, Any] | None = None,
    **options: Any,
) -> LiquidAndVaporRecipe | EquationOfState:
    """The recipe that names and options mean; options stand alone for an equation of state or a liquid.

    Raises
    ------
    InputError
        If not exactly one of ``eos`` and ``liquid`` is named, there is none so called, or something does not belong to it.
    """
    if (eos is None) == (liquid is None):
        raise InputError(
            f"Name one model: eos= ({', '.join(names_of('eos'))}), or liquid= ({', '.join(names_of('liquid'))}) with vapor= ({', '.join(names_of('vapor'))})."
        )
    if eos is not None:
        if vapor is not None:
            raise InputError("An equation of state describes the vapor too: leave out vapor=.")
        if poynting:
            raise _stranger("poynting")
        return _with_options(named("eos", eos), options)  # type: ignore[return-value]
    both = liquid_and_vapor(liquid, vapor, poynting)
    own = _with_options(both.liquid, {**options, **(liquid_options or {})})
    return replace(both, liquid=own, vapor=_with_options(both.vapor, vapor_options or {}))  # type: ignore[arg-type]


def _with_options(recipe: Recipe, options: Mapping[str, Any]) -> Recipe:
    given = {k: v for k, v in options.items() if v is not None}
    known = {f.name for f in fields(recipe)}
    for key in given:
        if key not in known and key in OWNERS:
            raise _stranger(key)
    return recipe.with_options(given) if given else recipe


def _stranger(keyword: str) -> InputError:
    return InputError(f"{keyword} belongs to {OWNERS[keyword]}.")


def settled(recipe: LiquidAndVaporRecipe | EquationOfState, who: ComponentList, given: Given) -> Model:
    """The model for components, with every parameter given, from the banks, or standing in.

    Raises
    ------
    InputError
        If something given does not belong to the recipe.
    """
    there = {k: v for k, v in given.items() if v is not None}
    solids = there.pop("solids", None)
    for key, value in there.items():
        if key not in recipe.takes and value:
            if key == "parameters" and isinstance(recipe, LiquidAndVaporRecipe):
                having = ", ".join(n for n, r in Recipe.registered["liquid"].items() if "parameters" in r.takes)
                raise InputError(f"The model {recipe.liquid.name} has no binary parameters; leave out parameters=. {having} have.")
            raise _stranger(key)
    parameters = Parameters([*recipe.parameters(who, there), *solid_parameters(who, solids)])
    _check_numbers(recipe, parameters)
    return Model(recipe, who.names, parameters)
