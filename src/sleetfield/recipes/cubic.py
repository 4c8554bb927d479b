"""Cubic equations of state: Peng-Robinson, Soave-Redlich-Kwong and their kin, with kij, lij, temperature functions and volume translations."""

from __future__ import annotations

import functools
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from ..components import Component
from ..components.classes import dimers_in_vapor
from ..components.component_list import ComponentList
from ..components.formula import elements
from ..core.correlations import LnVaporPressure
from ..core.fitting import alpha as alpha_fitting
from ..core.models.alpha import AlphaFunction, MathiasCopeman, Twu
from ..core.models.alpha.with_water import WATER, WithWater
from ..core.models.cubic import CubicModel
from ..core.models.mixing import AqueousInteractions
from ..core.models.peng_robinson import PengRobinson
from ..core.models.peng_robinson_1978 import PengRobinson1978
from ..core.models.redlich_kwong import RedlichKwong
from ..core.models.soave_redlich_kwong import SoaveRedlichKwong
from ..errors import InputError
from ..pairs.aqueous import in_water
from ..pairs.of_temperature import constant
from ..pairs.pair_parameters import PairParameters
from ..text import first_few
from ..units import to_si
from . import predicted_kij, translations
from .contract import EquationOfState, Given, LiquidModel, Recipe, named
from .interactions import ASKED_ZERO, KIJ, given_pairs, interaction_notes, interactions, kij_of_pairs
from .parameter import GIVEN, Parameter, Parameters, Symbol
from .wong_sandler import beyond_boyle, virial_interactions

Array = NDArray[np.float64]

ALPHAS: dict[str, tuple[type[AlphaFunction], Callable[..., Array]]] = {
    "Mathias-Copeman": (MathiasCopeman, alpha_fitting.mathias_copeman),
    "Twu": (Twu, alpha_fitting.twu),
}
"""Temperature functions other than the equation's own, and what fits their constants."""

TRANSLATIONS = ("density", "Peneloux")
"""Where volume translations come from, besides numbers."""

_NEAR_CRITICAL = 0.9
"""Of the critical temperature: from where a constant translation is not enough."""

_ALPHA = tuple(
    Symbol(f"alpha{k}", f"constant {k} of the temperature function", low=-20.0, high=20.0, of_temperature=False) for k in (1, 2, 3)
)
_AQUEOUS = tuple(Symbol(f"aqueous{k}", f"coefficient {k} of kij in water", of_temperature=False) for k in (1, 2, 3, 4))
_LOW_PRESSURE = ("shipped", "estimated")
"""Layers whose parameters of liquid models come from low pressures."""


@dataclass(frozen=True)
class CubicEquation(EquationOfState):
    """A cubic equation of state; a subclass names its core model in ``equation``.

    Parameters
    ----------
    alpha : {"", "Mathias-Copeman", "Twu"}
        Temperature function; the equation's own where none is named.
    mixing : {"", "HV", "WS", "MHV1", "MHV2", "PSRK"}
        Mixing rule by an excess Gibbs energy, in place of van der Waals' with kij; which there are depends on the equation.
    excess : str
        The liquid model whose excess Gibbs energy that is.
    """

    alpha: str = ""
    mixing: str = ""
    excess: str = ""

    equation: ClassVar[type[CubicModel]]
    bank: ClassVar[str] = ""
    """Whose published interaction parameters it takes."""
    family: ClassVar[str] = ""
    """Whose volume translation by the Rackett factor it takes."""

    symbols = (
        KIJ,
        Symbol("lij", "interaction parameter of the covolume", low=-0.5, high=0.5, of_temperature=False),
        *_ALPHA,
        Symbol(
            "translation", "what is taken off the molar volume", "m3/mol", low=-1e-3, high=1e-3, of_temperature=False, size=1e-5
        ),
        *_AQUEOUS,
    )
    needs = ("Tc", "Pc", "omega")
    has_own_alpha: ClassVar[bool] = True
    """Whether its own temperature function is Soave's, which may then be named."""
    has_aqueous: ClassVar[bool] = False
    """Whether the bank's second interaction parameters with water, which hold in water, were fitted with it."""

    def __post_init__(self) -> None:
        name = str(self.alpha or "")
        if name.lower() == "soave":
            if not self.has_own_alpha:
                raise InputError(f"{self.name} with Soave's function is SRK: take eos='SRK'.")
            name = ""
        if name:
            found = next((n for n in ALPHAS if n.lower() == name.lower()), None)
            if found is None:
                raise InputError(f"There is no temperature function {name!r}. There are Soave, {', '.join(ALPHAS)}.")
            name = found
        object.__setattr__(self, "alpha", name)
        self._check_mixing()

    def _check_mixing(self) -> None:
        rules = self.rules()
        if bool(self.mixing) != bool(self.excess):
            raise InputError(
                f"A mixing rule by an excess Gibbs energy takes both: mixing= ({', '.join(rules)}) and excess=, a liquid model such as 'UNIFAC'."
            )
        if not self.mixing:
            return
        rule = next((r for r in rules if r.lower() == str(self.mixing).lower()), None)
        if rule is None:
            raise InputError(f"{self.name} has no mixing rule {self.mixing!r}. It has {', '.join(rules)}.")
        object.__setattr__(self, "mixing", rule)
        object.__setattr__(self, "excess", named("liquid", self.excess).name)

    @classmethod
    def rules(cls) -> tuple[str, ...]:
        """Mixing rules by an excess Gibbs energy that the equation has."""
        return ("HV", "WS", *cls.equation.excess_references)

    @functools.cached_property
    def _liquid(self) -> LiquidModel | None:
        """The model whose excess Gibbs energy it takes."""
        return named("liquid", self.excess) if self.mixing else None  # type: ignore[return-value]

    @property
    def takes(self) -> tuple[str, ...]:  # type: ignore[override]
        """Interaction parameters or what the liquid model takes, constants of temperature functions, translations."""
        own = ("kij", "lij") if self._liquid is None else self._liquid.takes
        virial = ("kij",) if self.mixing == "WS" else ()
        return (*own, *virial, "alpha_constants", "translation")

    @property
    def title(self) -> str:
        """With its temperature function and mixing rule."""
        parts = [self.name, self.alpha, f"{self.mixing} with {self.excess}" if self.mixing else ""]
        return ", ".join(part for part in parts if part)

    @property
    def usual_fit(self) -> tuple[str, ...]:
        """The interaction parameter, or the liquid model's."""
        return ("kij",) if self._liquid is None else self._liquid.usual_fit

    def all_symbols(self) -> Iterator[Symbol]:
        """Its own, and the liquid model's."""
        yield from (*self.symbols, *(self._liquid.symbols if self._liquid is not None else ()))

    def subjects(self) -> set[str]:
        """The liquid model's."""
        return set() if self._liquid is None else self._liquid.subjects()

    # ---- parameters ----

    def parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """Kij and lij of every pair, or the liquid model's parameters; constants of the temperature function, translations, and kij in water."""
        found = list(self._of_pairs(who, given) if self._liquid is None else self._liquid.parameters(who, given))
        found += self._alpha_constants(who, given.get("alpha_constants") or {})
        if self.mixing == "WS" and self._liquid is not None:
            without = self.build(who, Parameters(found))
            found += virial_interactions(who, given.get("kij"), without, self._liquid.build(who, Parameters(found)))
        yield from found
        yield from self._translations(who, given.get("translation"), found)

    def _of_pairs(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        found = list(interactions(who, given.get("kij"), self.bank))
        if self.has_aqueous and not self.alpha:
            found += _aqueous(found)
        yield from found
        lij = given_pairs(who, "lij", given.get("lij") or {})
        yield from (Parameter("lij", (who.names[i], who.names[j]), value) for (i, j), value in lij.items())

    def vapor_parameters(self, who: ComponentList, given: Given) -> Iterator[Parameter]:
        """Kij of every pair, and constants of the temperature function."""
        yield from interactions(who, given.get("kij"), self.bank)
        yield from self._alpha_constants(who, {})

    def _alpha_constants(self, who: ComponentList, given: Mapping[str, Any]) -> Iterator[Parameter]:
        if not self.alpha:
            if given:
                raise InputError(f"alpha_constants belong to one of the functions {', '.join(ALPHAS)}: name it with alpha=.")
            return
        own = {who.position(name): values for name, values in given.items()}
        for i, c in enumerate(who):
            if i in own:
                values, source = np.asarray(own[i], dtype=float), GIVEN
                if values.shape != (3,) or not np.isfinite(values).all():
                    raise InputError(f"The constants of {c.name} are three numbers; got {own[i]!r}.")
            else:
                values, source = self._fitted_alpha(c)
            layer = "given" if source == GIVEN else "shipped"
            yield from (Parameter(s.symbol, (c.name,), constant(v), source, layer) for s, v in zip(_ALPHA, values, strict=True))

    def _fitted_alpha(self, c: Component) -> tuple[Array, str]:
        Tc, Pc, omega = (c.constant(k, self.name) for k in ("Tc", "Pc", "omega"))
        return _fitted(self.equation, self.alpha, Tc, Pc, omega, c.vapor_pressure)

    def _translations(self, who: ComponentList, given: Any, found: list[Parameter]) -> Iterator[Parameter]:
        if given is None:
            return
        sources = dict.fromkeys(who.names, GIVEN)
        if not isinstance(given, str):
            values = np.zeros(len(who))
            for name, value in given.items():
                values[who.position(name)] = to_si(value, "molar_volume", f"the translation of {name}")
        else:
            rule = next((r for r in TRANSLATIONS if r.lower() == given.lower()), None)
            if rule is None:
                raise InputError(
                    f"translation is {given!r}; it is a mapping of names to m3/mol, or one of {', '.join(TRANSLATIONS)}."
                )
            if rule == "density":
                values = translations.from_density(who.components, self.build(who, Parameters(found)))
                words = "from the liquid density"
            else:
                values = translations.peneloux(who.components, self.family or "PR")
                words = "from the Rackett factor"
            sources = dict.fromkeys(who.names, words)
        for name, value in zip(who.names, values, strict=True):
            layer = "given" if sources[name] == GIVEN else "shipped"
            yield Parameter("translation", (name,), constant(float(value)), sources[name], layer)

    @property
    def bank_name(self) -> str:
        """Whose published interaction parameters it takes."""
        return self._liquid.bank_name if self._liquid is not None else self.bank or self.name

    def pair_parameters(self, pair: ComponentList, values: Parameters, about: Mapping[str, Any]) -> PairParameters:
        """Kij, or the liquid model's."""
        if self._liquid is not None:
            return self._liquid.pair_parameters(pair, values, about)
        (kij,) = values.part(pair.names).of_symbol("kij")
        return PairParameters(kij=kij.function, **about)

    # ---- the model ----

    def build(self, who: ComponentList, values: Parameters) -> CubicModel:
        """The equation with its numbers."""
        Tc, Pc, omega = (who.constants(k, self.name) for k in self.needs)
        kij = kij_of_pairs(who, values)
        lij = values.pairs("lij", who, mirrored=1.0)[0] if values.of_symbol("lij") else None
        translation = values.column("translation", who, 0.0) if values.of_symbol("translation") else None
        water = _in_water(who, values)
        alpha: AlphaFunction | None = None
        if self.alpha:
            alpha = ALPHAS[self.alpha][0](np.stack([values.column(s.symbol, who) for s in _ALPHA]), Tc)
        elif water is not None:
            constants = np.stack([self.equation.m(omega), np.zeros(len(Tc)), np.zeros(len(Tc))])
            constants[:, water.water] = WATER
            alpha = WithWater(constants, Tc)
        excess = None if self._liquid is None else (self.mixing, self._liquid.build(who, values))
        return self.equation(Tc, Pc, omega, kij, translation, alpha, lij, who.all_masses, water, excess)

    # ---- what there is to say ----

    def notes(self, who: ComponentList, values: Parameters) -> list[str]:
        """On interaction parameters or the liquid model, water, fitted temperature functions and translated volumes."""
        liquid = self._liquid
        if liquid is None:
            notes = _water_notes(who, values) + interaction_notes(values, lambda pair: self._in_groups(who.part(pair)))
        else:
            notes = liquid.notes(who, values)
        notes += self._mixing_notes(values)
        sources: dict[str, list[str]] = {}
        for p in values.of_symbol(_ALPHA[0].symbol):
            if p.source != GIVEN:
                sources.setdefault(p.source, []).append(p.of[0])
        notes += [f"The {self.alpha} constants are {source} for {', '.join(names)}." for source, names in sources.items()]
        moved = values.of_symbol("translation")
        if moved:
            plain = [p.of[0] for p in moved if p.function.coefficients[0] == 0.0]
            without = f", not those of {', '.join(plain)}" if plain else ""
            notes.append(f"Volumes are translated{without}; equilibria are the same without.")
        return notes

    def _in_groups(self, pair: ComponentList) -> bool:
        """Whether the interaction parameter of a pair can be predicted."""
        return self.bank_name == predicted_kij.EQUATION and predicted_kij.is_at_hand(pair)

    def _mixing_notes(self, values: Parameters) -> list[str]:
        """Whether parameters of the liquid model come from where the mixing rule does not take its excess energy."""
        if self.mixing != "HV" or self._liquid is None:
            return []
        telling = self._liquid.usual_fit or [s.symbol for s in self._liquid.symbols]
        if not any(p.symbol in telling and p.layer in _LOW_PRESSURE for p in values.values()):
            return []
        return [
            "Huron and Vidal's rule takes the excess Gibbs energy at infinite pressure, and these parameters come from low ones: fit them with it, or take MHV1 or MHV2."
        ]

    def vapor_notes_at(self, who: ComponentList, values: Parameters, T: Array) -> list[str]:
        """On dimers."""
        dimers = dimers_in_vapor(who, T)
        return [f"The vapor of {first_few(dimers)} is mostly dimers, which a cubic equation is without."] if dimers else []

    def notes_at(self, who: ComponentList, values: Parameters, T: Array) -> list[str]:
        """The liquid model's; near critical temperatures a constant translation is not enough (by the densities of 278 components, docs/validation.md)."""
        notes = [] if self._liquid is None else self._liquid.notes_at(who, values, T)
        notes += beyond_boyle(who, self.build(who, values), T) if self.mixing == "WS" else []
        near = [c.name for c in who if c.Tc is not None and ((T > _NEAR_CRITICAL * c.Tc) & (T < c.Tc)).any()]
        if values.of_symbol("translation") and near:
            notes.append(
                f"Near a critical temperature a constant translation leaves liquid densities too low, by 5 to 25 % in the last tenth below it: {first_few(near)}."
            )
        return notes


class PR(CubicEquation, name="PR"):
    """Peng and Robinson's equation (1976)."""

    equation, bank, family, has_aqueous = PengRobinson, "PR", "PR", True


class PR78(CubicEquation, name="PR78"):
    """Peng and Robinson's equation with the function of omega of 1978."""

    equation, bank, family = PengRobinson1978, "PR", "PR"


class SRK(CubicEquation, name="SRK"):
    """Soave's form of the Redlich-Kwong equation (1972)."""

    equation, bank, family = SoaveRedlichKwong, "SRK", "SRK"


class RK(CubicEquation, name="RK"):
    """Redlich and Kwong's equation (1949)."""

    equation, family, has_own_alpha = RedlichKwong, "SRK", False


@functools.lru_cache(maxsize=4096)
def _fitted(
    equation: type[CubicModel],
    function: str,
    Tc: float,
    Pc: float,
    omega: float,
    curve: LnVaporPressure | None,
) -> tuple[Array, str]:
    """Constants of a temperature function, fitted to a vapor pressure once for each component, and what they were fitted to."""
    fit = ALPHAS[function][1]
    if curve is not None:
        low, high = max(curve.T_min, 0.35 * Tc), min(curve.T_max, 0.98 * Tc)
        T = np.linspace(low, high, alpha_fitting.POINTS)
        P = np.exp(curve.value(T))
        found = alpha_fitting.alpha_at_saturation(equation, Tc, Pc, omega, T, P)
        known = np.isfinite(found)
        if high > low + 20.0 and known.sum() > 0.8 * len(T):
            return fit(Tc, T[known], found[known]), "fitted to the vapor pressure"
    T = np.linspace(0.45 * Tc, 0.98 * Tc, alpha_fitting.POINTS)
    return fit(Tc, T, alpha_fitting.soave_alpha(equation, Tc, omega, T)), "like the equation's own function"


# ---- water ----


def _aqueous(found: list[Parameter]) -> Iterator[Parameter]:
    """The second interaction parameters of pairs with water, which hold in water; a number that is given holds throughout, and so does the zero asked for."""
    for p in found:
        if "water" in p.of and p.source not in (GIVEN, ASKED_ZERO):
            other = p.of[0] if p.of[1] == "water" else p.of[1]
            numbers = in_water(other)
            if np.isfinite(numbers).all():
                words = "kij in water by temperature (docs/databank.md)"
                yield from (
                    Parameter(s.symbol, (other,), constant(v), words, "shipped") for s, v in zip(_AQUEOUS, numbers, strict=True)
                )


def _in_water(who: ComponentList, values: Parameters) -> AqueousInteractions | None:
    if not values.of_symbol(_AQUEOUS[0].symbol) or "water" not in who.names:
        return None
    coefficients = np.stack([values.column(s.symbol, who) for s in _AQUEOUS], axis=1)
    return AqueousInteractions(who.names.index("water"), coefficients)


def _water_notes(who: ComponentList, values: Parameters) -> list[str]:
    others = [p.of[0] for p in values.of_symbol(_AQUEOUS[0].symbol)]
    if others:
        in_order = ", ".join(n for n in who.names if n in others)
        return [
            f"Between water and {in_order} the interaction parameter goes from its value in phases without water to its value in water as the fraction of water rises."
        ]
    if "water" not in who.names:
        return []
    gases = [c.name for c in who if np.isfinite(in_water(c.name)).all() or set(elements(c.formula) or ()) == {"C", "H"}]
    if not gases:
        return []
    return [
        f"One interaction parameter cannot serve water and the other phase: what dissolves of {first_few(gases, 3)} in water is off "
        "by a factor of ten to a thousand. eos='PR' has a second one for water with light gases and alkanes."
    ]


def mixing_rules() -> list[str]:
    """Those by an excess Gibbs energy of all cubic equations."""
    families = [family for family in Recipe.registered["eos"].values() if issubclass(family, CubicEquation)]
    return list(dict.fromkeys(rule for family in families for rule in family.rules()))
