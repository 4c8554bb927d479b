"""A liquid described by activity coefficients beside a vapor model: vapor pressures, gases dissolved by Henry's law, Poynting's factor."""

from __future__ import annotations

import functools
import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..components import Component
from ..components.component_list import ComponentList
from ..core.correlations import LiquidDensity, LnVaporPressure
from ..core.correlations.liquid_density import PowerSeries, generalized_rackett
from ..core.correlations.vapor_pressure import Antoine
from ..core.models.activity import ActivityModel
from ..core.models.activity.dissolved import Dissolved
from ..core.models.activity.pair_function import PairFunction
from ..core.models.liquid import Liquid
from ..core.models.liquid_and_vapor import LiquidAndVapor
from ..core.models.pure_liquids import PureLiquids
from ..errors import InputError, UnknownComponentError
from ..pairs.of_temperature import OfTemperature
from ..text import first_few
from ..units import one_in_si
from .contract import EquationOfState, Given, LiquidModel, Recipe, VaporModel, named
from .parameter import NO_LAYER, Parameter, Parameters, Symbol

_OF_VAPORS = ("kij", "virial")
"""What a vapor beside a liquid takes of its own."""
LIKE_OTHERS = "not known: as in the other solvents"
_LN_HENRY = Symbol("ln_henry", "logarithm of Henry's constant of a gas in a solvent, in Pa", low=0.0, high=40.0)


@dataclass(frozen=True)
class LiquidAndVaporRecipe(Recipe):
    """Two models beside each other; made by ``liquid=`` and ``vapor=``.

    Parameters
    ----------
    liquid : LiquidModel
    vapor : VaporModel or EquationOfState
    poynting : bool
        Whether the pressure's effect on the liquid's fugacities is taken into account.
    """

    liquid: LiquidModel
    vapor: VaporModel | EquationOfState
    poynting: bool = False

    role = "liquid and vapor"
    symbols = (_LN_HENRY,)

    @property
    def needs(self) -> tuple[str, ...]:  # type: ignore[override]
        """Vapor pressures and liquid densities, and what both models need."""
        own = ("liquid_density",) if self.has_no_vapor else ("vapor_pressure", "liquid_density")
        return tuple(dict.fromkeys((*own, *self.liquid.needs, *self.vapor.needs)))

    @property
    def has_no_vapor(self) -> bool:
        """Whether liquids alone are meant."""
        return isinstance(self.vapor, VaporModel) and self.vapor.is_none

    @property
    def takes(self) -> tuple[str, ...]:  # type: ignore[override]
        """What both models take, and Henry's constants."""
        return (*self.liquid.takes, "henry", *(t for t in self.vapor.takes if t in _OF_VAPORS))

    @property
    def title(self) -> str:
        """Both models, for headings."""
        if self.liquid.name == "ideal" and self.vapor.name == "ideal":
            return "ideal liquid and vapor"
        if self.has_no_vapor:
            return f"{self.liquid.title} liquid, no vapor"
        return f"{self.liquid.title} liquid, {self.vapor.title} vapor" + (", Poynting" if self.poynting else "")

    def options(self) -> dict[str, Any]:
        """Names of both, with their own options where they have any."""
        own = {"liquid_options": self.liquid.options(), "vapor_options": self.vapor.options(), "poynting": self.poynting}
        return {"liquid": self.liquid.name, "vapor": self.vapor.name, **{k: v for k, v in own.items() if v}}

    @property
    def usual_fit(self) -> tuple[str, ...]:
        """The liquid's."""
        return self.liquid.usual_fit

    def all_symbols(self) -> Iterator[Symbol]:
        """Those of both models, and Henry's constants."""
        yield from (*self.liquid.symbols, *self.vapor.symbols, *self.symbols)

    def subjects(self) -> set[str]:
        """The liquid's."""
        return self.liquid.subjects()

    # ---- parameters ----

    def parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """Henry's constants, the liquid's parameters, the vapor's."""
        henry = list(_henry(who, given.get("henry") or {}))
        gases = {p.of[0] for p in henry}
        for key in given.get("parameters") or {}:
            if not isinstance(key, str) and any(
                name not in self.subjects() and who.names[who.position(name)] in gases for name in key
            ):
                raise InputError(f"{key!r} has a gas that is dissolved by henry=; it takes no parameters. Leave the pair out.")
        solvents = _without(who, gases)
        yield from self.liquid.parameters(solvents, given)
        yield from self.vapor.vapor_parameters(who, {k: given[k] for k in _OF_VAPORS if given.get(k) is not None})
        yield from henry

    def gases(self, values: Parameters) -> set[str]:
        """Names of the gases dissolved by Henry's law."""
        return {p.of[0] for p in values.of_symbol(_LN_HENRY.symbol)}

    # ---- the model ----

    def activity(self, who: ComponentList, values: Parameters) -> ActivityModel:
        """The activity model of all components; dissolved gases have the unsymmetric one."""
        gases = self.gases(values)
        own = self.liquid.build(_without(who, gases), values)
        if not gases:
            return own
        is_gas = np.array([name in gases for name in who.names])
        return Dissolved(own, is_gas, PairFunction(values.pairs(_LN_HENRY.symbol, who)))

    def build(self, who: ComponentList, values: Parameters) -> LiquidAndVapor:
        """The phase model of both."""
        gases = self.gases(values)
        solutes = tuple(i for i, name in enumerate(who.names) if name in gases)
        own = tuple(p for symbol in self.vapor.all_symbols() for p in values.of_symbol(symbol.symbol))
        vapor, pure = _vapor_and_pure(self.vapor, who, own, self.poynting, solutes)
        return LiquidAndVapor(Liquid(pure, self.activity(who, values)), vapor, who.all_masses)

    # ---- what there is to say ----

    def notes(self, who: ComponentList, values: Parameters) -> list[str]:
        """Of both models, on volumes, and on dissolved gases."""
        gases = [name for name in who.names if name in self.gases(values)]
        notes = self.vapor.notes(who, values) + self.liquid.notes(_without(who, set(gases)), values)
        stand_ins = [f"{p.of[0]} in {p.of[1]}" for p in values.of_symbol(_LN_HENRY.symbol) if p.source == LIKE_OTHERS]
        if stand_ins:
            notes.append(f"Henry's constant of {first_few(stand_ins)} is not known; it is taken like that in the other solvents.")
        if gases:
            notes.append(f"By Henry's law, good at small mole fractions in the liquid: {', '.join(gases)}.")
        unknown = [c.name for c in who if _density_if_known(c) is _NO_DENSITY]
        if unknown:
            notes.append(f"There is no liquid density of {first_few(unknown)}: no volumes.")
        guessed = [c.name for c in who if c.liquid_density is None and c.name not in unknown]
        if guessed:
            notes.append(f"The liquid volume of {', '.join(guessed)} is from the generalized Rackett equation.")
        return notes

    def notes_at(self, who: ComponentList, values: Parameters, T: NDArray[np.float64]) -> list[str]:
        """Of the liquid."""
        return self.liquid.notes_at(_without(who, self.gases(values)), values, T)

    def vapor_notes_at(self, who: ComponentList, values: Parameters, T: NDArray[np.float64]) -> list[str]:
        """Of the vapor."""
        return self.vapor.vapor_notes_at(who, values, T)


def liquid_and_vapor(liquid: Any, vapor: Any, poynting: bool) -> LiquidAndVaporRecipe:
    """The recipe of two models by name, recipe or class."""
    return LiquidAndVaporRecipe(named("liquid", liquid), named("vapor", "ideal" if vapor is None else vapor), bool(poynting))  # type: ignore[arg-type]


@functools.lru_cache(maxsize=64)
def _vapor_and_pure(
    vapor: VaporModel, who: ComponentList, values: tuple[Parameter, ...], poynting: bool, solutes: tuple[int, ...]
) -> tuple[Any, PureLiquids]:
    """The vapor's model and the pure liquids: the same for all activity coefficients that stand beside them."""
    built = vapor.build(who, Parameters(values))
    if getattr(vapor, "is_none", False):
        return built, PureLiquids([_NO_PRESSURE for _ in who], [_density_if_known(c) for c in who], None, False, solutes)
    pressures, densities = [vapor_pressure(c) for c in who], [liquid_density(c) for c in who]
    return built, PureLiquids(pressures, densities, built if vapor.non_ideal else None, poynting, solutes)


_NO_PRESSURE = Antoine((0.0, 0.0, 0.0), 1.0, 2e4)
"""What stands for a vapor pressure where there is no vapor: 1 Pa at every temperature."""
_NO_DENSITY = PowerSeries((np.nan, 0.0, 0.0, 0.0, 0.0, 1e4), 1.0, 2e4)


def _density_if_known(c: Component) -> LiquidDensity:
    try:
        return liquid_density(c)
    except UnknownComponentError:
        return _NO_DENSITY


def _without(who: ComponentList, gases: set[str]) -> ComponentList:
    if not gases:
        return who
    solvents = [name for name in who.names if name not in gases]
    if not solvents:
        raise InputError("Every component is a dissolved gas by henry=; leave at least one solvent.")
    return who.part(solvents)


def _henry(who: ComponentList, given: Mapping[tuple[str, str], Any]) -> Iterator[Parameter]:
    """Henry's constants: of every gas named, in every other component."""
    pairs = {}
    for (gas, solvent), value in given.items():
        pairs[who.position(gas), who.position(solvent)] = (gas, solvent, value)
    solutes = {i for i, _ in pairs}
    for (i, j), (gas, solvent, value) in pairs.items():
        if i == j or j in solutes:
            raise InputError(f"henry is keyed by pairs of gas and solvent; ({gas!r}, {solvent!r}) is none.")
        function = _ln_henry(value, f"Henry's constant of {gas} in {solvent}")
        yield Parameter(_LN_HENRY.symbol, (who.names[i], who.names[j]), function, written=str(value))
    for i in sorted(solutes):
        known = [_ln_henry(value, "") for (gas, _), (_, _, value) in pairs.items() if gas == i]
        mean = functools.reduce(lambda a, b: a + b, known) * (1.0 / len(known))
        for j in sorted(set(range(len(who))) - solutes):
            if (i, j) not in pairs:
                yield Parameter(_LN_HENRY.symbol, (who.names[i], who.names[j]), mean, LIKE_OTHERS, NO_LAYER, known=False)


def _ln_henry(value: Any, what: str) -> OfTemperature:
    """A pressure, or a pressure at 298.15 K and slopes of its logarithm, or terms of a published equation for ln(H/Pa)."""
    if isinstance(value, Mapping):
        return OfTemperature.read(value, what)
    several = np.ndim(value) == 1 and not isinstance(value, str)
    first, *slopes = value if several else (value,)
    constant = one_in_si(first, "pressure", what)
    if not constant > 0.0:
        raise InputError(f"{what} is {constant:g} Pa; it must be positive.")
    return OfTemperature.read([math.log(constant), *slopes], what)


def vapor_pressure(c: Component) -> LnVaporPressure:
    """A component's vapor pressure, which a liquid model rests on.

    Raises
    ------
    UnknownComponentError
        If it has none.
    """
    if c.vapor_pressure is None:
        raise UnknownComponentError(
            f"{c.name} has no vapor-pressure correlation, which an ideal liquid needs. Give it with sl.Component(..., vapor_pressure=...)."
        )
    return c.vapor_pressure


def liquid_density(c: Component) -> LiquidDensity:
    """A component's liquid density, by the generalized Rackett equation where none is known."""
    return c.liquid_density or generalized_rackett(*(c.constant(k, "the liquid volume") for k in ("Tc", "Pc", "omega")))
