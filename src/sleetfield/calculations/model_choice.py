"""Which model a system uses, and the numbers that go into it: from the user, from the databank, or estimated."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..components import Component
from ..components.formula import elements
from ..components.interactions import in_water, published
from ..components.polar_terms import PolarTerms, polar_terms
from ..core.constants import R
from ..core.correlations import LiquidDensity
from ..core.correlations.liquid_density import generalized_rackett
from ..core.estimates.interaction import from_critical_volumes
from ..core.fitting import alpha as alpha_fitting
from ..core.models.alpha import AlphaFunction, MathiasCopeman, Twu
from ..core.models.alpha.with_water import WATER, WithWater
from ..core.models.aqueous import AqueousInteractions
from ..core.models.contract import PhaseModel
from ..core.models.cubic import CubicModel
from ..core.models.ideal_gas import IdealGas
from ..core.models.liquid import Liquid, VaporModel
from ..core.models.liquid_and_vapor import LiquidAndVapor
from ..core.models.peng_robinson import PengRobinson
from ..core.models.peng_robinson_1978 import PengRobinson1978
from ..core.models.redlich_kwong import RedlichKwong
from ..core.models.soave_redlich_kwong import SoaveRedlichKwong
from ..core.models.virial import Virial
from ..errors import InputError, UnknownComponentError
from ..results.text import first_few
from ..units import to_si
from . import translations
from .activity_choice import LIQUIDS, ActivityChoice

Array = NDArray[np.float64]
Pair = tuple[int, int]

KIJ_RULES = ("published", "estimated", "zero")
"""What is done about interaction parameters that are not given."""

GIVEN = "given in code"
ZERO = "none known: taken as zero"
ASKED_ZERO = "zero, as asked for"
ESTIMATED = "estimated: Chueh and Prausnitz (1967), from critical volumes"

EQUATIONS_OF_STATE: dict[str, type[CubicModel]] = {
    "PR": PengRobinson,
    "PR78": PengRobinson1978,
    "SRK": SoaveRedlichKwong,
    "RK": RedlichKwong,
}
"""Equations of state by name: a new one is one line here."""

ALPHAS: dict[str, tuple[type[AlphaFunction], Callable[..., Array]]] = {
    "Mathias-Copeman": (MathiasCopeman, alpha_fitting.mathias_copeman),
    "Twu": (Twu, alpha_fitting.twu),
}
"""Temperature functions other than the equation's own, and what fits their constants."""

_FAMILY = {"PR": "PR", "PR78": "PR", "SRK": "SRK", "RK": "SRK"}
"""Whose volume translation an equation takes."""

_KIJ_OF = {"PR": "PR", "PR78": "PR", "SRK": "SRK"}
"""Whose published interaction parameters an equation takes; none were fitted for the others."""

TRANSLATIONS = ("density", "Peneloux")
"""Where volume translations come from, besides numbers."""

VAPORS = ("ideal", "virial", *EQUATIONS_OF_STATE)

_T_SHOWN = 298.15
"""Where a kij that depends on temperature is shown."""


@dataclass(frozen=True, eq=False)
class ModelChoice:
    """A model by name, and what the user gave for it; `System` explains each.

    ``position`` finds a component by any of its names.
    """

    components: tuple[Component, ...]
    position: Callable[[str], int]
    eos: str | None
    liquid: str | None
    vapor: str | None
    kij_given: Mapping[tuple[str, str], Any] | str | None
    lij_given: Mapping[tuple[str, str], float] | None
    alpha_name: str | None
    alpha_given: Mapping[str, Sequence[float]] | None
    translation_given: Mapping[str, Any] | str | None
    parameters_given: Mapping[tuple[str, str], Any] | None = None
    henry_given: Mapping[tuple[str, str], Any] | None = None
    q_residual: Mapping[str, float] | None = None
    poynting: bool = False

    # ---- names ----

    @cached_property
    def names(self) -> tuple[str, ...]:
        """Names of the components."""
        return tuple(c.name for c in self.components)

    @cached_property
    def equation(self) -> str | None:
        """The equation of state's name; None for a liquid model beside a vapor model.

        Raises
        ------
        InputError
            If there is no such model, or something was given that does not belong to it.
        """
        if (self.eos is None) == (self.liquid is None):
            raise InputError(
                f"Name one model: eos= ({', '.join(EQUATIONS_OF_STATE)}), or liquid= ({', '.join(LIQUIDS)}) with vapor= ({', '.join(VAPORS)})."
            )
        if self.eos is None:
            self._check_liquid()
            return None
        if self.vapor is not None:
            raise InputError("An equation of state describes the vapor too: leave out vapor=.")
        name = next((n for n in EQUATIONS_OF_STATE if n.lower() == self.eos.lower()), None)
        if name is None:
            raise InputError(f"There is no equation of state {self.eos!r}. Equations of state are {', '.join(EQUATIONS_OF_STATE)}.")
        return name

    def _check_liquid(self) -> None:
        for what, value, allowed in (("liquid", self.liquid, LIQUIDS), ("vapor", self.vapor or "ideal", VAPORS)):
            if str(value).lower() not in (name.lower() for name in allowed):
                raise InputError(f"There is no {what} {value!r}. For {what}= there are {', '.join(allowed)}.")
        for what, given in (("kij", self.kij_given), ("lij", self.lij_given), ("alpha", self.alpha_name)):
            if given and not (what == "kij" and self.vapor_model != "ideal"):
                raise InputError(f"{what} belongs to an equation of state; an activity model has parameters=, an ideal gas none.")
        if self.translation_given is not None:
            raise InputError("A volume translation belongs to an equation of state; these liquids have their own volumes.")

    @cached_property
    def vapor_model(self) -> str | None:
        """The vapor's model beside a liquid model; None where one equation of state describes both."""
        return None if self.eos is not None else next(v for v in VAPORS if v.lower() == str(self.vapor or "ideal").lower())

    @cached_property
    def cubic_name(self) -> str | None:
        """The equation of state, of all phases or of the vapor alone."""
        return self.equation or (self.vapor_model if self.vapor_model in EQUATIONS_OF_STATE else None)

    @cached_property
    def activity(self) -> ActivityChoice | None:
        """The liquid's activity model and its parameters; None where an equation of state describes it."""
        if self.equation is not None:
            for what, value in (
                ("parameters", self.parameters_given),
                ("henry", self.henry_given),
                ("q_residual", self.q_residual),
            ):
                if value:
                    raise InputError(f"{what} belongs to an activity model; an equation of state takes kij=.")
            if self.poynting:
                raise InputError("poynting belongs to an activity model; an equation of state has the pressure's effect in it.")
            return None
        name = next(n for n in LIQUIDS if n.lower() == str(self.liquid).lower())
        return ActivityChoice(
            self.components,
            self.position,
            name,
            self.parameters_given,
            self.henry_given,
            self.q_residual,
            lambda: self._liquid_correlations()[1],
        )

    @property
    def title(self) -> str:
        """The model, for headings."""
        if self.activity is not None:
            if self.activity.name == "ideal" and self.vapor_model == "ideal":
                return "ideal liquid and vapor"
            henry = ", Henry's law" if self.activity.solutes else ""
            return f"{self.activity.name} liquid{henry}, {self.vapor_model} vapor" + (", Poynting" if self.poynting else "")
        return str(self.equation) + (f", {self.alpha_function}" if self.alpha_function else "")

    # ---- constants ----

    def constants(self, key: str, needed_for: str) -> Array:
        """A constant of every component ``(C,)``; an error where one is missing."""
        return np.array([c.constant(key, needed_for) for c in self.components])

    def _critical(self) -> tuple[Array, Array, Array]:
        model = self.cubic_name or "the virial equation"
        Tc, Pc, omega = (self.constants(k, model) for k in ("Tc", "Pc", "omega"))
        return Tc, Pc, omega

    @cached_property
    def _polar_terms(self) -> PolarTerms:
        return polar_terms(self.components)

    def _critical_volumes(self) -> Array:
        """Critical volumes; where one is not known, from Tc, Pc and omega (Lee and Kesler, 1975)."""
        Tc, Pc, omega = (self.constants(k, "a critical volume") for k in ("Tc", "Pc", "omega"))
        known = np.array([np.nan if c.Vc is None else c.Vc for c in self.components])
        return np.where(np.isnan(known), (0.2905 - 0.085 * omega) * R * Tc / Pc, known)

    # ---- binary parameters ----

    @cached_property
    def rule(self) -> str:
        """What is done about pairs that are not given."""
        if not isinstance(self.kij_given, str):
            return "published"
        if self.kij_given not in KIJ_RULES:
            raise InputError(f"kij is {self.kij_given!r}; it is a mapping of pairs to numbers, or one of {', '.join(KIJ_RULES)}.")
        return self.kij_given

    @cached_property
    def interactions(self) -> tuple[Array, dict[Pair, str]]:
        """Coefficients of kij = a + bT + c/T ``(3, C, C)``, and where each pair's came from."""
        count = len(self.components)
        coefficients, sources = np.zeros((3, count, count)), {}
        given = self._pairs("kij", {} if self.kij_given is None or isinstance(self.kij_given, str) else self.kij_given)
        if self.vapor_model == "ideal":
            return coefficients, {}
        bank = published(_KIJ_OF[str(self.cubic_name)]) if self.rule != "zero" and self.cubic_name in _KIJ_OF else {}
        estimates = from_critical_volumes(self._critical_volumes()) if self.rule == "estimated" else None
        for i in range(count):
            for j in range(i + 1, count):
                pair = frozenset({self.names[i], self.names[j]})
                value: Any = 0.0
                if (i, j) in given:
                    value, source = given[i, j], GIVEN
                elif pair in bank:
                    value, source = bank[pair]
                elif estimates is not None:
                    value, source = float(estimates[i, j]), ESTIMATED
                else:
                    source = ASKED_ZERO if self.rule == "zero" else ZERO
                coefficients[: np.size(value), i, j] = coefficients[: np.size(value), j, i] = value
                sources[i, j] = source
        return coefficients, sources

    @cached_property
    def in_water(self) -> AqueousInteractions | None:
        """The second interaction parameters of pairs with water, which hold in water; None where there are none.

        A number that is given for a pair holds throughout, and so does the zero that was asked for.
        """
        if self.equation != "PR" or "water" not in self.names:
            return None
        water = self.names.index("water")
        coefficients = np.full((len(self.components), 4), np.nan)
        for (i, j), source in self.interactions[1].items():
            other = j if i == water else i
            if water in (i, j) and source not in (GIVEN, ASKED_ZERO):
                coefficients[other] = in_water(self.names[other])
        return AqueousInteractions(water, coefficients) if np.isfinite(coefficients).any() else None

    @property
    def kij(self) -> Array:
        """Interaction parameters ``(C, C)``; at 298.15 K where they depend on temperature."""
        a, b, c = self.interactions[0]
        return np.asarray(a + b * _T_SHOWN + c / _T_SHOWN)

    def _pairs(self, what: str, given: Mapping[tuple[str, str], Any]) -> dict[Pair, Array]:
        pairs: dict[Pair, Array] = {}
        for pair, value in given.items():
            if isinstance(pair, str) or len(pair) != 2:
                raise InputError(f"{what} is keyed by pairs of names, such as ('nitrogen', 'methane'); got {pair!r}.")
            i, j = sorted(self.position(name) for name in pair)
            if i == j:
                raise InputError(f"The pair {pair!r} is one component twice; {what} is between two.")
            number = np.atleast_1d(np.asarray(value, dtype=float))
            if number.shape not in ((1,), (3,)) or (what == "lij" and len(number) > 1):
                raise InputError(f"{what} of {self.names[i]} and {self.names[j]} is a number{self._or_three(what)}; got {value!r}.")
            if not np.isfinite(number).all():
                raise InputError(f"{what} of {self.names[i]} and {self.names[j]} is {value!r}; it must be a finite number.")
            if (i, j) in pairs and not np.array_equal(pairs[i, j], number):
                raise InputError(f"{what} of {self.names[i]} and {self.names[j]} is given twice, with different values.")
            pairs[i, j] = number
        return pairs

    @staticmethod
    def _or_three(what: str) -> str:
        return ", or three for a + b T + c/T (T in K)" if what == "kij" else ""

    @cached_property
    def lij(self) -> Array | None:
        """Parameters of the covolume ``(C, C)``, where any were given."""
        if not self.lij_given:
            return None
        matrix = np.zeros((len(self.components), len(self.components)))
        for (i, j), value in self._pairs("lij", self.lij_given).items():
            matrix[i, j] = matrix[j, i] = value[0]
        return matrix

    # ---- temperature function ----

    @cached_property
    def alpha_function(self) -> str | None:
        """The temperature function's name, where it is not the equation's own."""
        if self.alpha_name is None or self.alpha_name.lower() == "soave":
            if self.alpha_given:
                raise InputError(f"alpha_constants belong to one of the functions {', '.join(ALPHAS)}: name it with alpha=.")
            if self.alpha_name is not None and self.equation == "RK":
                raise InputError("RK with Soave's function is SRK: take eos='SRK'.")
            return None
        name = next((n for n in ALPHAS if n.lower() == self.alpha_name.lower()), None)
        if name is None:
            raise InputError(f"There is no temperature function {self.alpha_name!r}. There are Soave, {', '.join(ALPHAS)}.")
        return name

    @cached_property
    def alpha_constants(self) -> tuple[Array, dict[str, str]]:
        """Constants of the temperature function ``(3, C)``, and where each component's came from."""
        assert self.alpha_function is not None
        assert self.equation is not None
        given = {self.position(name): values for name, values in (self.alpha_given or {}).items()}
        columns, sources = [], {}
        for i, c in enumerate(self.components):
            if i in given:
                values = np.asarray(given[i], dtype=float)
                if values.shape != (3,) or not np.isfinite(values).all():
                    raise InputError(f"The constants of {c.name} are three numbers; got {given[i]!r}.")
                columns.append(values)
                sources[c.name] = GIVEN
            else:
                values, sources[c.name] = self._fitted_alpha(c)
                columns.append(values)
        return np.stack(columns, axis=1), sources

    def _fitted_alpha(self, c: Component) -> tuple[Array, str]:
        assert self.equation is not None
        equation, fit = EQUATIONS_OF_STATE[self.equation], ALPHAS[str(self.alpha_function)][1]
        Tc, Pc, omega = (c.constant(k, self.equation) for k in ("Tc", "Pc", "omega"))
        if c.vapor_pressure is not None:
            low, high = max(c.vapor_pressure.T_min, 0.35 * Tc), min(c.vapor_pressure.T_max, 0.98 * Tc)
            T = np.linspace(low, high, alpha_fitting.POINTS)
            found = alpha_fitting.alpha_at_saturation(equation, Tc, Pc, omega, T, np.exp(c.vapor_pressure.value(T)))
            known = np.isfinite(found)
            if high > low + 20.0 and known.sum() > 0.8 * len(T):
                return fit(Tc, T[known], found[known]), "fitted to the vapor pressure"
        T = np.linspace(0.45 * Tc, 0.98 * Tc, alpha_fitting.POINTS)
        return fit(Tc, T, alpha_fitting.soave_alpha(equation, Tc, omega, T)), "like the equation's own function"

    # ---- the model ----

    @cached_property
    def translation(self) -> Array | None:
        """What is taken off each component's molar volume ``(C,)``, m3/mol."""
        given = self.translation_given
        if given is None:
            return None
        assert self.equation is not None
        if not isinstance(given, str):
            values = np.zeros(len(self.components))
            for name, value in given.items():
                values[self.position(name)] = to_si(value, "molar_volume", f"the translation of {name}")
            return values
        rule = next((r for r in TRANSLATIONS if r.lower() == given.lower()), None)
        if rule is None:
            raise InputError(f"translation is {given!r}; it is a mapping of names to m3/mol, or one of {', '.join(TRANSLATIONS)}.")
        if rule == "density":
            return translations.from_density(self.components, self._cubic(None))
        return translations.peneloux(self.components, _FAMILY[self.equation])

    def _cubic(self, translation: Array | None) -> CubicModel:
        assert self.cubic_name is not None
        Tc, Pc, omega = self._critical()
        alpha = None
        if self.equation is not None and self.alpha_function is not None:
            alpha = ALPHAS[self.alpha_function][0](self.alpha_constants[0], Tc)
        elif self.in_water is not None:
            constants = np.stack([PengRobinson.m(omega), np.zeros(len(Tc)), np.zeros(len(Tc))])
            constants[:, self.in_water.water] = WATER
            alpha = WithWater(constants, Tc)
        return EQUATIONS_OF_STATE[self.cubic_name](
            Tc, Pc, omega, self._kij_of_T, translation, alpha, self.lij, self._molar_mass, self.in_water
        )

    @property
    def _kij_of_T(self) -> Array:
        """Interaction parameters ``(C, C)``, or ``(3, C, C)`` where one depends on temperature."""
        coefficients = self.interactions[0]
        return coefficients if coefficients[1:].any() else coefficients[0]

    @property
    def _molar_mass(self) -> Array | None:
        """kg/mol of each component; None where one is unknown."""
        known = [c.molar_mass for c in self.components]
        return None if None in known else np.array(known, dtype=float)

    @cached_property
    def model(self) -> PhaseModel:
        """The phase model."""
        if self.equation is not None:
            assert self.activity is None
            return self._cubic(self.translation)
        assert self.activity is not None
        vapor: VaporModel = IdealGas()
        if self.vapor_model == "virial":
            vapor = Virial(*self._critical(), self._critical_volumes(), self._kij_of_T, np.stack(self._polar_terms[:2]))
        elif self.cubic_name is not None:
            vapor = self._cubic(None)
        saturated = None if self.vapor_model == "ideal" else vapor
        liquid = Liquid(*self._liquid_correlations(), self.activity.model, saturated, self.poynting, self.activity.solutes)
        return LiquidAndVapor(liquid, vapor, self._molar_mass)

    def _liquid_correlations(self) -> tuple[list[Any], list[LiquidDensity]]:
        pressures = []
        for c in self.components:
            if c.vapor_pressure is None:
                raise UnknownComponentError(
                    f"{c.name} has no vapor-pressure correlation, which an ideal liquid needs. Give it with sl.Component(..., vapor_pressure=...)."
                )
            pressures.append(c.vapor_pressure)
        return pressures, [c.liquid_density or _estimated_density(c) for c in self.components]

    # ---- what there is to say about it ----

    @property
    def notes(self) -> list[str]:
        """What holds for every result by this model."""
        notes = self._interaction_notes() if self.vapor_model != "ideal" else []
        if self.activity is not None:
            notes += self.activity.notes()
            notes.append("The liquid's volume is that of the pure liquids and does not enter the fugacities.")
            guessed = [c.name for c in self.components if c.liquid_density is None]
            if guessed:
                notes.append(f"The liquid volume of {', '.join(guessed)} is from the generalized Rackett equation.")
        if self.vapor_model == "virial":
            plain = self._polar_terms.without
            if plain:
                notes.append(f"Polar, but without a polar term in the second virial coefficient: {', '.join(plain)}.")
        if self.alpha_function is not None:
            sources = self.alpha_constants[1]
            for source in dict.fromkeys(s for s in sources.values() if s != GIVEN):
                which = ", ".join(n for n, s in sources.items() if s == source)
                notes.append(f"The {self.alpha_function} constants are {source} for {which}.")
        if self.translation is not None:
            plain = [n for n, c in zip(self.names, self.translation, strict=True) if c == 0.0]
            without = f", not those of {', '.join(plain)}" if plain else ""
            notes.append(f"Volumes are translated{without}; equilibria are the same without.")
        return notes

    def _interaction_notes(self) -> list[str]:
        sources = self.interactions[1]
        zero = [f"{self.names[i]} - {self.names[j]}" for (i, j), source in sources.items() if source in (ZERO, ASKED_ZERO)]
        once = [f"{self.names[i]} - {self.names[j]}" for (i, j), source in sources.items() if source.startswith("derived")]
        count = sum(1 for source in sources.values() if source == ESTIMATED)
        notes = []
        water = self.in_water
        if water is not None:
            others = ", ".join(n for n, known in zip(self.names, np.isfinite(water.coefficients[:, 0]), strict=True) if known)
            notes.append(
                f"Between water and {others} the interaction parameter goes from its value in phases without water to its value in water as the fraction of water rises."
            )
        elif self.cubic_name is not None and "water" in self.names:
            gases = [c.name for c in self.components if np.isfinite(in_water(c.name)).all() or _is_hydrocarbon(c)]
            if gases:
                notes.append(
                    f"One interaction parameter cannot serve water and the other phase: what dissolves of {', '.join(gases[:3])}{' and others' if len(gases) > 3 else ''} in water is off "
                    "by a factor of ten to a thousand. eos='PR' has a second one for water with light gases and alkanes."
                )
        if count:
            are = "s are" if count > 1 else " is"
            notes.append(
                f"The interaction parameter{are} estimated from critical volumes for {count} pair{'s' if count > 1 else ''}."
            )
        if once:
            notes.append(
                f"The interaction parameter of {first_few(once)} was derived from one measurement, and is unsure far from it."
            )
        if zero:
            are = "parameters are" if len(zero) > 1 else "parameter is"
            notes.append(
                f"The interaction {are} taken as zero for {len(zero)} pair{'s' if len(zero) > 1 else ''}: {first_few(zero)}."
            )
        return notes


def _is_hydrocarbon(c: Component) -> bool:
    return set(elements(c.formula) or ()) == {"C", "H"}


def _estimated_density(c: Component) -> LiquidDensity:
    return generalized_rackett(*(c.constant(k, "the liquid volume") for k in ("Tc", "Pc", "omega")))
