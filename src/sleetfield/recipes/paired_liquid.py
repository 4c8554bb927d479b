"""What activity models with binary parameters share: reading what was given, the bank, checks against what was published along, and notes."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from itertools import combinations
from typing import Any, ClassVar, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..components.component_list import ComponentList
from ..core.models.activity import ActivityModel
from ..errors import InputError, UnknownComponentError
from ..pairs.bank import published_parameters, set_of
from ..pairs.of_temperature import OfTemperature, constant
from ..pairs.pair_parameters import FORMS, PairParameters, negative, pair_parameters
from ..text import first_few
from ..units import one_in_si
from .contract import Given, LiquidModel, Recipe
from .estimated_pairs import AT, ORIGIN, estimated_set
from .known_splits import split_notes
from .parameter import NO_LAYER, Parameter, Parameters

Array = NDArray[np.float64]

MISSING = "none known: taken as ideal"
_NAMED = 3
"""Other readings that an error names."""
_CLOSE, _APART = 0.1, 0.25
"""How near ln γ comes to a published one where a set of parameters reproduces it, and how far off one is before it is refused."""

_ORIGINS = {
    "derived: both activity coefficients at the azeotrope": "one azeotrope",
    "derived: mutual solubilities": "the mutual solubilities at one temperature",
}
"""What a source says of parameters that were not regressed from data over a range."""


@dataclass(frozen=True)
class PairedLiquid(LiquidModel):
    """An activity model with one parameter for each order of a pair, unless `of_pair` says otherwise.

    A subclass names the parameter in its first symbol, and the sign of an energy in it in ``sign``.
    """

    takes: ClassVar[tuple[str, ...]] = ("parameters", "missing", "groups")
    sign: ClassVar[float] = 1.0

    @property
    def usual_fit(self) -> tuple[str, ...]:
        """The parameter of both orders."""
        return (self.symbols[0].symbol,)

    # ---- parameters ----

    def parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """Of every pair: given, from the bank, or what stands for an ideal one; and of components."""
        sets = self._sets(who, given)
        for names, one in sets.items():
            pair = who.part(names)
            if one is None:
                origin: dict[str, Any] = {"source": MISSING, "layer": NO_LAYER, "known": False}
                found = self.ideal_pair(pair)
            else:
                origin = {"source": one.source, "layer": one.layer, "T_min": one.T_min, "T_max": one.T_max, "written": str(one)}
                found = self.of_pair(pair, one)
            yield from (Parameter(p.symbol, p.of, p.function, **origin) for p in found)
        yield from self.of_components(who, given, sets)

    def _sets(self, who: ComponentList, given: Given) -> dict[tuple[str, str], PairParameters | None]:
        """What is given, the bank has, or can be estimated, of every pair in the order of ``who``; None where there is nothing."""
        own, bank = self._given(who, given), published_parameters(self.name)
        found = {}
        for i, j in combinations(range(len(who)), 2):
            names = who.names[i], who.names[j]
            found[names] = own[i, j] if (i, j) in own else set_of(bank, *names)
            if found[names] is None and given.get("missing"):
                found[names] = self.estimated(who.part(names), given)
        return found

    def estimated(self, pair: ComponentList, given: Given) -> PairParameters | None:
        """Parameters of a pair that nothing is known of, by the method asked for; None where that does not know it either."""
        return estimated_set(self, pair, given)

    def of_components(
        self, who: ComponentList, given: Given, sets: Mapping[tuple[str, str], PairParameters | None]
    ) -> Iterator[Parameter]:
        """Parameters of single components, where it has any; pairs' ``sets`` may bring some along."""
        yield from ()

    def _given(self, who: ComponentList, given: Given) -> dict[tuple[int, int], PairParameters]:
        found: dict[tuple[int, int], PairParameters] = {}
        for key, value in (given.get("parameters") or {}).items():
            if isinstance(key, str) or len(key) != 2:
                raise InputError(f"Parameters are keyed by pairs of names, such as ('ethanol', 'water'); got {key!r}.")
            i, j = (who.position(name) for name in key)
            if i == j:
                raise InputError(f"The pair {key!r} is one component twice; parameters are between two.")
            one = pair_parameters(value, key)
            if (min(i, j), max(i, j)) in found:
                raise InputError(f"The parameters of {who.names[i]} and {who.names[j]} are given twice. Give each pair once.")
            self._check(one, who.part([who.names[i], who.names[j]]), given)
            found[min(i, j), max(i, j)] = one if i < j else one.swapped()
        return found

    def of_pair(self, pair: ComponentList, p: PairParameters) -> Iterator[Parameter]:
        """The parameters of a pair from what was published for it; source and range are added to them."""
        if p.a12 is None:
            raise InputError(f"{self.name} takes a12 and a21, not terms, for {' and '.join(pair.names)}.")
        symbol = self.symbols[0].symbol
        yield Parameter(symbol, pair.names, p.function(p.a12, self.sign, "a12"))
        yield Parameter(symbol, pair.names[::-1], p.function(p.a21, self.sign, "a21"))

    def pair_parameters(self, pair: ComponentList, values: Parameters, about: Mapping[str, Any]) -> PairParameters:
        """Plain parameters of both orders."""
        first, second = both_orders(self.symbols[0].symbol, pair, values)
        return PairParameters(a12=first, a21=second, **about)

    def ideal_pair(self, pair: ComponentList) -> Iterator[Parameter]:
        """What makes a pair ideal."""
        symbol = self.symbols[0].symbol
        yield Parameter(symbol, pair.names, constant(0.0))
        yield Parameter(symbol, pair.names[::-1], constant(0.0))

    # ---- against what was published along ----

    def of_set(self, parameters: PairParameters, pair: ComponentList, given: Given = {}) -> ActivityModel:  # noqa: B006
        """The model of two components with one set of parameters."""
        bare = replace(parameters, gamma_infinity=None, azeotrope=None)
        return self.model_of(pair, {**given, "parameters": {pair.names: bare}})

    def _check(self, p: PairParameters, pair: ComponentList, given: Given) -> None:
        """Compare a set with what was published along with it; an error that says what would fit if it does not."""
        for tell, measured, described in published_along(p, pair):
            own = tell(self.of_set(p, pair, given))
            if np.abs(own - measured).max() <= _APART:
                continue
            able = [" and ".join(words) for words, other in readings(p) if words and self._fits(tell, other, measured, pair, given)]
            fitting = able[:_NAMED]
            if len(own) > 1 and np.abs(own[::-1] - measured).max() < _CLOSE:
                fitting.insert(0, "with the two published numbers in the other order")
            hint = f" They would fit {' or '.join(fitting)}." if fitting else " No other sign, order or unit fits either."
            shown = " and ".join(f"{v:.3g}" for v in np.exp(own))
            raise InputError(f"The parameters of {' and '.join(pair.names)} do not give {described}: they give {shown}.{hint}")

    def _fits(self, tell: Tell, p: PairParameters, measured: Array, pair: ComponentList, given: Given) -> bool:
        """Whether a set, read in some other way, gives what was published."""
        with np.errstate(all="ignore"):
            try:
                return bool(np.abs(tell(self.of_set(p, pair, given)) - measured).max() < _CLOSE)
            except InputError:
                return False

    # ---- what there is to say ----

    def notes(self, who: ComponentList, values: Parameters) -> list[str]:
        """Which pairs have no parameters, or some that were derived from one measurement."""
        pairs = pair_sources(self, who, values)
        missing = [names for names, source in pairs.items() if source == MISSING]
        notes = []
        if missing:
            many, listed = "s" if len(missing) > 1 else "", [" - ".join(names) for names in missing]
            notes.append(f"There are no {self.name} parameters for {len(missing)} pair{many}, taken as ideal: {first_few(listed)}.")
            notes += split_notes(missing)
        for origin, words in _ORIGINS.items():
            listed = [" - ".join(names) for names, source in pairs.items() if origin in source]
            if listed:
                notes.append(
                    f"The {self.name} parameters of {first_few(listed)} were derived from {words}, and are unsure elsewhere."
                )
        estimated = {names: source for names, source in pairs.items() if source.startswith(ORIGIN)}
        if estimated:
            method = next(iter(estimated.values()))[len(ORIGIN) :].split(AT)[0]
            words = first_few([" - ".join(names) for names in estimated])
            notes.append(f"The {self.name} parameters of {words} are not measured: they were fitted to a prediction by {method}.")
        return [" ".join(notes)] if notes else []


def both_orders(symbol: str, pair: ComponentList, values: Parameters) -> tuple[OfTemperature, OfTemperature]:
    """A parameter of both orders of a pair."""
    first, second = (values[f"{symbol} {' / '.join(names)}"].function for names in (pair.names, pair.names[::-1]))
    return first, second


def pair_sources(recipe: Recipe, who: ComponentList, values: Parameters) -> dict[tuple[str, str], str]:
    """Where each pair's parameters came from."""
    place = {name: i for i, name in enumerate(who.names)}
    found: dict[tuple[str, str], str] = {}
    for symbol in recipe.symbols:
        for p in values.of_symbol(symbol.symbol):
            if len(p.of) == 2 and all(name in place for name in p.of):
                first, second = sorted(p.of, key=place.__getitem__)
                found.setdefault((first, second), p.source)
    return dict(sorted(found.items(), key=lambda item: (place[item[0][0]], place[item[0][1]])))


Tell = Callable[[ActivityModel], Array]


def ln_gamma_infinity(model: ActivityModel, T: Array) -> Array:
    """Ln γ of each of two components at infinite dilution in the other ``(2, N)``."""
    trace = np.array([[1e-100], [1.0]]) * np.ones(len(T))
    bound = model.at(T)
    return np.stack([bound.ln_gamma(trace)[0], bound.ln_gamma(trace[::-1].copy())[1]])


def published_along(p: PairParameters, pair: ComponentList) -> Iterator[tuple[Tell, Array, str]]:
    """What was published for a pair: how to get ln γ from a model, what it should be, and how to say so."""
    if p.gamma_infinity is not None:
        T = np.array([one_in_si(p.gamma_infinity[0], "temperature", "gamma_infinity")])
        values = np.log(np.array(p.gamma_infinity[1:], dtype=float))

        def at_infinite_dilution(model: ActivityModel, T: Array = T) -> Array:
            return np.asarray(ln_gamma_infinity(model, T)[:, 0])

        words = f"the published γ∞ of {p.gamma_infinity[1]:g} and {p.gamma_infinity[2]:g} at {T[0]:g} K"
        yield at_infinite_dilution, values, words
    if p.azeotrope is not None:
        T = np.array([one_in_si(p.azeotrope[0], "temperature", "azeotrope")])
        x = np.array([[float(p.azeotrope[1])], [1.0 - float(p.azeotrope[1])]])
        pressures = []
        for c in pair:
            if c.vapor_pressure is None:
                raise UnknownComponentError(f"{c.name} has no vapor-pressure correlation to check the azeotrope with.")
            pressures.append(float(c.vapor_pressure.value(T)[0]))
        ratio = np.array([pressures[1] - pressures[0]])
        words = f"the azeotrope at {x[0, 0]:g} and {T[0]:g} K, where γ₁/γ₂ is {math.exp(ratio[0]):.3g}"

        def quotient(model: ActivityModel, T: Array = T) -> Array:
            both = model.at(T).ln_gamma(x)
            return np.asarray(both[0] - both[1])

        yield quotient, ratio, words


class Reading(NamedTuple):
    """Numbers of a pair as somebody could have meant them: in words, nothing where as given, and read so."""

    words: tuple[str, ...]
    parameters: PairParameters


def readings(p: PairParameters) -> list[Reading]:
    """Every order, sign, form and temperature that the numbers could have been published in, those nearest to what was given first."""
    found = [
        Reading(order + sign + form + scale, d)
        for sign, a in _signs(p)
        for order, b in _orders(a)
        for form, c in _forms(b)
        for scale, d in _scales(c)
    ]
    return sorted(found, key=lambda reading: len(reading.words))


Ways = Iterator[tuple[tuple[str, ...], PairParameters]]


def _orders(p: PairParameters) -> Ways:
    yield (), p
    turned = p.swapped()
    yield ("in the other order of the pair",), replace(turned, volumes=p.volumes, r=p.r, q=p.q)


def _signs(p: PairParameters) -> Ways:
    yield (), p
    if p.terms is not None:
        yield ("with the other sign",), replace(p, terms=[negative(t) for t in p.terms])
        return
    yield ("with the other sign",), replace(p, a12=negative(p.a12), a21=negative(p.a21))
    yield ("with the other sign of a12",), replace(p, a12=negative(p.a12))
    yield ("with the other sign of a21",), replace(p, a21=negative(p.a21))


def _forms(p: PairParameters) -> Ways:
    yield (), p
    for form in FORMS:
        if form != p.form:
            yield (f'in the form "{form}"',), replace(p, form=form)


def _scales(p: PairParameters) -> Ways:
    yield (), p
    if p.form in FORMS[3:] and any(np.size(v) > 1 for v in (p.a12, p.a21) if v is not None):
        other = "degC" if p.temperature == "K" else "K"
        yield (f'with temperature="{other}"',), replace(p, temperature=other)
