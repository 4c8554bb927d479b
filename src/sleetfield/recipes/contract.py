"""What a model family is to everything else: a recipe.

A recipe is a small frozen value. It says what a family is called, what it needs of components, which parameters it has, and how the core's model
is made from them. Whoever writes a family subclasses one of `EquationOfState`, `LiquidModel` and `VaporModel` (or `CubicEquation` and
`PairedLiquid`, which do most of it), and promises:

1. ``name`` is what users write; it is registered when the class is made (``class VanDerWaals(CubicEquation, name="vdW")``), and belongs to one class.
2. A dataclass field of the recipe is an option: plain text, a number, a truth value. Its default is what holds where nothing is said.
3. ``symbols`` names every kind of adjustable number, with unit and bounds.
4. ``needs`` names the constants and correlations of components that it rests on; notes on their origin follow from it.
5. ``takes`` names the keywords of `System` that it reads parameters from (`kij`, `parameters`, ...); others are refused for it.
6. ``parameters(who, given)`` yields every parameter for the components ``who``: given ones from the keywords, else from the banks, else what stands in for
   them (``known=False``). It is called once; what it yields is what is kept in a file.
7. ``build(who, values)`` makes the core's model from components and parameters alone, quickly (a regression does it a thousand times), and from nothing else.
8. ``pair_parameters(pair, values, about)`` turns the parameters of a pair back into what a bank holds, where it has any of pairs.
9. ``usual_fit`` names the symbols that a regression adjusts where none is named.
10. ``notes(who, values)`` are sentences that hold for every result, ``notes_at(who, values, T)`` those that hold at some temperatures, ``vapor_notes_at`` those of the vapor alone.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, fields, replace
from typing import Any, ClassVar, Self

import numpy as np
from numpy.typing import NDArray

from ..components import Component
from ..components.classes import dimers_in_vapor
from ..components.component_list import ComponentList
from ..core.models.activity import ActivityModel
from ..core.models.contract import PhaseModel
from ..errors import InputError
from ..pairs.pair_parameters import PairParameters
from ..text import first_few
from .parameter import Parameter, Parameters, Symbol

Given = Mapping[str, Any]
"""The keywords of `System` that say parameters, and were given."""


@dataclass(frozen=True)
class Recipe(ABC):
    """How a model of a family is made; see the module's docstring."""

    name: ClassVar[str] = ""
    role: ClassVar[str] = ""
    symbols: ClassVar[tuple[Symbol, ...]] = ()
    needs: ClassVar[tuple[str, ...]] = ()
    takes: ClassVar[tuple[str, ...]] = ()
    constants_of_components: ClassVar[Mapping[str, str]] = {}
    """Symbols of parameters that are constants of components, and what components call them."""
    sites_of_components: ClassVar[tuple[str, ...]] = ()
    """What components call their donors, acceptors and sites that pair with any, as far as the family has these."""
    non_ideal: ClassVar[bool] = True
    """Whether saturated vapors have fugacity coefficients other than one."""
    of_one_component: ClassVar[bool] = False
    """Whether it is of pure substances alone."""
    registered: ClassVar[dict[str, dict[str, type[Recipe]]]] = {}
    """Classes by role and name, in the order that they were made."""

    def __init_subclass__(cls, name: str = "", **rest: Any) -> None:
        super().__init_subclass__(**rest)
        if not name:
            return
        cls.name = name
        family = Recipe.registered.setdefault(cls.role, {})
        other = next((known for key, known in family.items() if key.lower() == name.lower()), None)
        if other is not None and (other.__module__, other.__qualname__) != (cls.__module__, cls.__qualname__):
            raise InputError(f"{cls.role}={name!r} is {other.__qualname__} already. Give the family a name of its own.")
        family[name] = cls

    # ---- what it is ----

    @property
    def title(self) -> str:
        """For headings."""
        return self.name

    def options(self) -> dict[str, Any]:
        """The options that are not at their default, as plain values."""
        return {f.name: getattr(self, f.name) for f in fields(self) if getattr(self, f.name) != f.default}

    def with_options(self, options: Mapping[str, Any]) -> Self:
        """The same with other options.

        Raises
        ------
        InputError
            If it has no such option.
        """
        known = [f.name for f in fields(self)]
        for key in options:
            if key not in known:
                raise InputError(f"{self.name} has no option {key!r}; it has {', '.join(known) or 'none'}.")
        return replace(self, **options)

    @property
    def usual_fit(self) -> tuple[str, ...]:
        """Symbols that a regression adjusts where none is named."""
        return ()

    @property
    def bank_name(self) -> str:
        """What the bank of pairs has its parameters under."""
        return self.name

    def pair_parameters(self, pair: ComponentList, values: Parameters, about: Mapping[str, Any]) -> PairParameters:
        """The parameters of a pair as a bank holds them, which `parameters` makes the same of again.

        Raises
        ------
        InputError
            If it has none of pairs.
        """
        raise InputError(f"The parameters of {self.title} are of no pair; keep the system with sl.save.")

    def rough_constants(self, c: Component, sites: Sequence[int]) -> dict[str, float]:
        """About what the constants of a component are that the family is made for, with so many of each of `sites_of_components`: where a fit of them begins."""
        return {}

    def all_symbols(self) -> Iterator[Symbol]:
        """Every kind of parameter."""
        yield from self.symbols

    def subjects(self) -> set[str]:
        """What parameters can be of besides components."""
        return set()

    # ---- what it makes ----

    @abstractmethod
    def parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """Every parameter for components."""

    def vapor_parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """Those where it describes a vapor alone, beside a liquid model."""
        return self.parameters(who, given)

    def notes(self, who: ComponentList, values: Parameters) -> list[str]:
        """What holds for every result."""
        return []

    def notes_at(self, who: ComponentList, values: Parameters, T: NDArray[np.float64]) -> list[str]:
        """What holds at temperatures ``T``."""
        return []

    def vapor_notes_at(self, who: ComponentList, values: Parameters, T: NDArray[np.float64]) -> list[str]:
        """What holds of the vapor at temperatures ``T``."""
        return []


class EquationOfState(Recipe):
    """A family that describes all phases."""

    role = "eos"

    @abstractmethod
    def build(self, who: ComponentList, values: Parameters) -> PhaseModel:
        """The phase model."""

    def activity(self, who: ComponentList, values: Parameters) -> ActivityModel | None:
        """No activity coefficients."""
        return None

    def gases(self, values: Parameters) -> set[str]:
        """No gases dissolved by Henry's law."""
        return set()


class LiquidModel(Recipe):
    """A family of activity coefficients."""

    role = "liquid"
    predicts: ClassVar[bool] = False
    """Whether it says something of pairs that nothing is known of."""

    @abstractmethod
    def build(self, who: ComponentList, values: Parameters) -> ActivityModel:
        """The activity model."""

    def model_of(self, who: ComponentList, given: Given) -> ActivityModel:
        """The activity model from what is given, where no `Model` is wanted."""
        there = {key: value for key, value in given.items() if value is not None}
        return self.build(who, Parameters(self.parameters(who, there)))


class VaporModel(Recipe):
    """A family that describes a vapor beside a liquid model."""

    role = "vapor"
    is_none: ClassVar[bool] = False
    """Whether there is no vapor at all."""
    without_dimers: ClassVar[str] = ""
    """In words, that it does not know molecules in pairs; nothing where it does."""

    @abstractmethod
    def build(self, who: ComponentList, values: Parameters) -> Any:
        """The vapor's phase model."""

    def vapor_notes_at(self, who: ComponentList, values: Parameters, T: NDArray[np.float64]) -> list[str]:
        """On dimers."""
        names = dimers_in_vapor(who, T) if self.without_dimers else []
        return (
            [f"The vapor of {first_few(names)} is mostly dimers, which {self.without_dimers}; take vapor='dimers'."]
            if names
            else []
        )


def names_of(role: str) -> list[str]:
    """What families of a role are called; an equation of state may describe a vapor too."""
    own = list(Recipe.registered.get(role, {}))
    equations = Recipe.registered.get("eos", {})
    return [*own, *(name for name, family in equations.items() if not family.of_one_component)] if role == "vapor" else own


ALIASES = {
    "peng-robinson": "PR",
    "peng robinson": "PR",
    "soave": "SRK",
    "soave-redlich-kwong": "SRK",
    "redlich-kwong": "RK",
    "pcsaft": "PC-SAFT",
    "raoult": "ideal",
    "ideal gas": "ideal",
    "ideal solution": "ideal",
    "regular solution": "Scatchard-Hildebrand",
}
"""What models are called as well, in small letters."""


def named(role: str, given: Any) -> Recipe:
    """The recipe that a user means by a name, a recipe or its class.

    Raises
    ------
    InputError
        If there is none, with those that there are.
    """
    if isinstance(given, type) and issubclass(given, Recipe):
        given = given()
    roles = (role, "eos") if role == "vapor" else (role,)
    if isinstance(given, Recipe):
        if given.role not in roles:
            raise InputError(f"{given.name or type(given).__name__} is no {role} model; it goes with {given.role}=.")
        return given
    wanted = ALIASES.get(str(given).lower(), str(given)).lower()
    for one in roles:
        for name, family in Recipe.registered.get(one, {}).items():
            if name.lower() == wanted:
                return family()
    if role == "eos":
        raise InputError(f"There is no equation of state {given!r}. Equations of state are {', '.join(names_of('eos'))}.")
    raise InputError(f"There is no {role} {given!r}. For {role}= there are {', '.join(names_of(role))}.")
