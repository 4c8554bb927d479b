"""Which activity model a liquid has, and its parameters: from the user or from the bank, in one form."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..components import Component
from ..components.activity_bank import published_parameters
from ..components.pair_parameters import PairParameters, pair_parameters
from ..core.correlations import LiquidDensity
from ..core.models.activity import ActivityModel
from ..core.models.activity.dissolved import Dissolved
from ..core.models.activity.ideal import IdealSolution
from ..core.models.activity.nrtl import NRTL
from ..core.models.activity.pair_function import PairFunction
from ..core.models.activity.redlich_kister import RedlichKister
from ..core.models.activity.regular import ScatchardHildebrand, ThreePart
from ..core.models.activity.uniquac import UNIQUAC
from ..core.models.activity.van_laar import VanLaar
from ..core.models.activity.wilson import Wilson
from ..errors import InputError, UnknownComponentError
from ..results.text import first_few
from ..units import to_si

Array = NDArray[np.float64]
Pair = tuple[int, int]

GIVEN = "given in code"
MISSING = "none known: taken as ideal"

_T_VOLUME = 298.15
_CLOSE, _APART = 0.1, 0.25
"""How near ln γ comes to a published one where a set of parameters reproduces it, and how far off one is before it is refused."""


@dataclass(frozen=True, eq=False)
class ActivityChoice:
    """An activity model by name, and what the user gave for it; `System` explains each."""

    components: tuple[Component, ...]
    position: Callable[[str], int]
    name: str
    given: Mapping[tuple[str, str], Any] | None
    henry_given: Mapping[tuple[str, str], Any] | None
    q_residual: Mapping[str, float] | None
    densities: Callable[[], Sequence[LiquidDensity]]

    @cached_property
    def names(self) -> tuple[str, ...]:
        """Names of the components."""
        return tuple(c.name for c in self.components)

    # ---- parameters ----

    @cached_property
    def pairs(self) -> dict[Pair, PairParameters | None]:
        """The parameters of every pair ``(i, j)``, i < j, of components that are not dissolved gases; None where there are none."""
        found: dict[Pair, PairParameters | None] = {}
        for key, value in (self.given or {}).items():
            i, j = self._positions(key)
            parameters = pair_parameters(value, key)
            if i in self.solutes or j in self.solutes:
                raise InputError(f"{key!r} has a gas that is dissolved by henry=; it takes no parameters. Leave the pair out.")
            if (min(i, j), max(i, j)) in found:
                raise InputError(f"The parameters of {self.names[i]} and {self.names[j]} are given twice. Give each pair once.")
            self._check(parameters, i, j)
            found[min(i, j), max(i, j)] = parameters if i < j else parameters.swapped()
        if self.name not in PARAMETRIC:
            return {}
        bank = published_parameters(self.name)
        for i, first in enumerate(self.names):
            for j in range(i + 1, len(self.names)):
                second = self.names[j]
                if (i, j) in found or i in self.solutes or j in self.solutes:
                    continue
                if (first, second) in bank:
                    found[i, j] = bank[first, second][0]
                elif (second, first) in bank:
                    found[i, j] = bank[second, first][0].swapped()
                else:
                    found[i, j] = None
        return dict(sorted(found.items()))

    def _positions(self, key: Any) -> Pair:
        if isinstance(key, str) or len(key) != 2:
            raise InputError(f"Parameters are keyed by pairs of names, such as ('ethanol', 'water'); got {key!r}.")
        i, j = (self.position(name) for name in key)
        if i == j:
            raise InputError(f"The pair {key!r} is one component twice; parameters are between two.")
        if self.name not in PARAMETRIC:
            raise InputError(
                f"The model {self.name} has no binary parameters; leave out parameters=. {', '.join(PARAMETRIC)} have."
            )
        return i, j

    def coefficients(self, what: Callable[[PairParameters, bool], Array]) -> PairFunction:
        """One parameter of all ordered pairs; ``what`` gets a pair's set, and whether it is asked for the order 21."""
        count = len(self.names)
        result = np.zeros((4, count, count))
        for (i, j), one in self.pairs.items():
            if one is not None:
                result[:, i, j], result[:, j, i] = what(one, False), what(one, True)
        return PairFunction(result)

    def _both(self, sign: float) -> PairFunction:
        for (i, j), one in self.pairs.items():
            if one is not None and one.terms is not None:
                raise InputError(f"{self.name} takes a12 and a21, not terms, for {self.names[i]} and {self.names[j]}.")
        return self.coefficients(lambda p, other: p.coefficients(p.a21 if other else p.a12, sign, "a21" if other else "a12"))

    # ---- models ----

    @cached_property
    def model(self) -> ActivityModel:
        """The activity model, of all components or of those that are no dissolved gases."""
        if not self.solutes:
            return _MODELS[self.name](self)
        solvents = [i for i in range(len(self.names)) if i not in self.solutes]
        if not solvents:
            raise InputError("Every component is a dissolved gas by henry=; leave at least one solvent.")
        kept = [self.components[i] for i in solvents]
        own = {(self.names[i], self.names[j]): one for (i, j), one in self.pairs.items() if one is not None}
        densities = self.densities

        def position(name: str) -> int:
            return solvents.index(self.position(name))

        part = ActivityChoice(
            tuple(kept), position, self.name, own or None, None, self.q_residual, lambda: [densities()[i] for i in solvents]
        )
        is_solute = np.isin(np.arange(len(self.names)), self.solutes)
        return Dissolved(part.model, is_solute, self._ln_henry())

    @cached_property
    def solutes(self) -> list[int]:
        """Which components are dissolved gases."""
        return sorted({self.position(pair[0]) for pair in (self.henry_given or {})})

    def _ln_henry(self) -> PairFunction:
        count = len(self.names)
        result = np.zeros((4, count, count))
        known = np.zeros((count, count), dtype=bool)
        for (gas, solvent), value in (self.henry_given or {}).items():
            i, j = self.position(gas), self.position(solvent)
            if i == j or j in self.solutes:
                raise InputError(f"henry is keyed by pairs of gas and solvent; ({gas!r}, {solvent!r}) is none.")
            if np.ndim(value) and not isinstance(value, str):
                numbers = np.asarray(value, dtype=float)
                if numbers.ndim != 1 or not 1 <= len(numbers) <= 4 or not np.isfinite(numbers).all():
                    raise InputError(
                        f"Henry's constant of {gas} in {solvent} is {value!r}; give up to four numbers a, b, c, d of ln(H/Pa)."
                    )
                result[: len(numbers), i, j] = numbers
            else:
                constant = float(to_si(value, "pressure", f"Henry's constant of {gas} in {solvent}"))
                if not constant > 0.0:
                    raise InputError(f"Henry's constant of {gas} in {solvent} is {constant:g} Pa; it must be positive.")
                result[0, i, j] = math.log(constant)
            known[i, j] = True
        for i in self.solutes:
            for j in set(range(count)) - set(self.solutes):
                if not known[i, j]:
                    raise InputError(
                        f"There is no Henry's constant of {self.names[i]} in {self.names[j]}; a dissolved gas needs one for every solvent. Add it to henry=."
                    )
        return PairFunction(result)

    def constants(self, key: str) -> Array:
        """A constant of every component."""
        return np.array([c.constant(key, self.name) for c in self.components])

    def volumes(self) -> Array:
        """Molar volumes of the liquids at 25 °C ``(C,)``, m3/mol."""
        T = np.array([_T_VOLUME])
        return np.array([1.0 / float(d.value(T)[0]) for d in self.densities()])

    def _margules(self) -> RedlichKister:
        """Two parameters are the first two terms; a set with terms has as many as it likes."""
        count = max((len(p.terms) for p in self.pairs.values() if p is not None and p.terms is not None), default=2)
        expansions = {pair: _expansion(p) for pair, p in self.pairs.items() if p is not None}
        terms = []
        for k in range(max(count, 2)):
            A = np.zeros((4, len(self.names), len(self.names)))
            for (i, j), expansion in expansions.items():
                if k < len(expansion):
                    A[:, i, j], A[:, j, i] = expansion[k], (-1.0) ** k * expansion[k]
            terms.append(PairFunction(A))
        return RedlichKister(terms)

    def _van_laar(self) -> VanLaar:
        A = self._both(1.0)
        for i, j in self.pairs:
            both = A.coefficients[:, [i, j], [j, i]]
            if not both[1:].any() and (both[0, 0] * both[0, 1] < 0.0 or (both[0] == 0.0).sum() == 1):
                raise InputError(
                    f"Van Laar's parameters of {self.names[i]} and {self.names[j]} have different signs, or one is zero; both are above or both below zero."
                )
        return VanLaar(A)

    def _wilson(self) -> Wilson:
        at_T = [p for p in self.pairs.values() if p is not None and p.volumes == "at T"]
        t = self._both(-1.0).coefficients
        if at_T:
            if len(at_T) < sum(p is not None for p in self.pairs.values()):
                raise InputError(
                    "Wilson's parameters of some pairs have volumes='at T' and those of others do not; take one way for all."
                )
            return Wilson(PairFunction(t), self.densities())
        for (i, j), p in self.pairs.items():
            if p is not None and p.form != "ratio":
                v1, v2 = self.volumes()[[i, j]] if p.volumes is None else (to_si(v, "molar_volume", "volumes") for v in p.volumes)
                t[0, i, j] += math.log(v2 / v1)
                t[0, j, i] -= math.log(v2 / v1)
        return Wilson(PairFunction(t), np.zeros(len(self.names)))

    def _nrtl(self) -> NRTL:
        return NRTL(self._both(1.0), self.coefficients(lambda p, other: p.alpha_coefficients))

    def _uniquac(self) -> UNIQUAC:
        r, q = self.constants("uniquac_r"), self.constants("uniquac_q")
        q_residual = q.copy()
        for name, value in (self.q_residual or {}).items():
            q_residual[self.position(name)] = float(value)
        if not (q_residual > 0.0).all():
            raise InputError("Surfaces q' of the residual term must be positive.")
        return UNIQUAC(r, q, q_residual, self._both(-1.0))

    def _scatchard_hildebrand(self) -> ScatchardHildebrand:
        d, p, h = (self.constants(key) for key in ("delta_d", "delta_p", "delta_h"))
        return ScatchardHildebrand(self.volumes(), np.sqrt(d**2 + p**2 + h**2))

    def _three_part(self) -> ThreePart:
        return ThreePart(self.volumes(), np.stack([self.constants(key) for key in ("delta_d", "delta_p", "delta_h")]))

    # ---- checks ----

    def binary(self, parameters: PairParameters, i: int, j: int) -> ActivityModel:
        """The model of two components with one set of parameters for the pair ``(i, j)``."""
        densities = self.densities
        names = self.names[i], self.names[j]
        own = {name: q for name, q in (self.q_residual or {}).items() if self.position(name) in (i, j)}

        def position(name: str) -> int:
            return (i, j).index(self.position(name))

        bare = replace(parameters, gamma_infinity=None, azeotrope=None)
        choice = ActivityChoice(
            (self.components[i], self.components[j]),
            position,
            self.name,
            {names: bare},
            None,
            own,
            lambda: [densities()[i], densities()[j]],
        )
        return choice.model

    def _check(self, parameters: PairParameters, i: int, j: int) -> None:
        """Compare a set with what was published along with it; an error that says what would fit if it does not."""
        for tell, measured, described in self._published(parameters, i, j):
            own = tell(self.binary(parameters, i, j))
            if np.abs(own - measured).max() <= _APART:
                continue
            fitting = [words for words, other in _variants(parameters) if self._fits(tell, other, measured, i, j)]
            if len(own) > 1 and np.abs(own[::-1] - measured).max() < _CLOSE:
                fitting.insert(0, "with the two published numbers in the other order")
            hint = f" They would fit {' or '.join(fitting)}." if fitting else " No other sign, order or unit fits either."
            shown = " and ".join(f"{v:.3g}" for v in np.exp(own))
            raise InputError(
                f"The parameters of {self.names[i]} and {self.names[j]} do not give {described}: they give {shown}.{hint}"
            )

    def _fits(self, tell: Callable[[ActivityModel], Array], p: PairParameters, measured: Array, i: int, j: int) -> bool:
        """Whether a set, read in some other way, gives what was published."""
        with np.errstate(all="ignore"):
            try:
                return bool(np.abs(tell(self.binary(p, i, j)) - measured).max() < _CLOSE)
            except InputError:
                return False

    def _published(self, p: PairParameters, i: int, j: int) -> list[tuple[Callable[[ActivityModel], Array], Array, str]]:
        """What was published for a pair: how to get ln γ from a model, what it should be, and how to say so."""
        checks: list[tuple[Callable[[ActivityModel], Array], Array, str]] = []
        if p.gamma_infinity is not None:
            T = np.array([float(to_si(p.gamma_infinity[0], "temperature", "gamma_infinity"))])
            values = np.log(np.array(p.gamma_infinity[1:], dtype=float))
            words = f"the published γ∞ of {p.gamma_infinity[1]:g} and {p.gamma_infinity[2]:g} at {T[0]:g} K"
            checks.append((lambda model: ln_gamma_infinity(model, T)[:, 0], values, words))
        if p.azeotrope is not None:
            T = np.array([float(to_si(p.azeotrope[0], "temperature", "azeotrope"))])
            x = np.array([[float(p.azeotrope[1])], [1.0 - float(p.azeotrope[1])]])
            pressures = []
            for c in (self.components[i], self.components[j]):
                if c.vapor_pressure is None:
                    raise UnknownComponentError(f"{c.name} has no vapor-pressure correlation to check the azeotrope with.")
                pressures.append(float(c.vapor_pressure.value(T)[0]))
            ratio = np.array([pressures[1] - pressures[0]])
            words = f"the azeotrope at {x[0, 0]:g} and {T[0]:g} K, where γ₁/γ₂ is {math.exp(ratio[0]):.3g}"

            def quotient(model: ActivityModel, T: Array = T) -> Array:
                both = model.at(T).ln_gamma(x)
                return np.asarray(both[0] - both[1])

            checks.append((quotient, ratio, words))
        return checks

    # ---- what there is to say ----

    @property
    def missing(self) -> list[Pair]:
        """Pairs without parameters."""
        return [pair for pair, one in self.pairs.items() if one is None]

    def notes(self) -> list[str]:
        """What holds for every result by this model."""
        notes = []
        if self.missing:
            listed = [f"{self.names[i]} - {self.names[j]}" for i, j in self.missing]
            many = "s" if len(listed) > 1 else ""
            notes.append(f"There are no {self.name} parameters for {len(listed)} pair{many}, taken as ideal: {first_few(listed)}.")
        for origin, words in _ORIGINS.items():
            listed = [
                f"{self.names[i]} - {self.names[j]}" for (i, j), p in self.pairs.items() if p is not None and origin in p.source
            ]
            if listed:
                notes.append(
                    f"The {self.name} parameters of {first_few(listed)} were derived from {words}, and are unsure elsewhere."
                )
        if self.name == "Wilson" and len(self.names) > 1:
            notes.append("Wilson's equation cannot describe two liquids.")
        if self.solutes:
            gases = ", ".join(self.names[i] for i in self.solutes)
            notes.append(f"By Henry's law, good at small mole fractions in the liquid: {gases}.")
        return notes

    def outside(self, T: Array) -> list[str]:
        """Pairs whose parameters are used outside their range at temperatures ``T``."""
        known = T[np.isfinite(T)]
        listed = [
            f"{self.names[i]} - {self.names[j]} ({p.T_min:.0f} to {p.T_max:.0f} K)"
            for (i, j), p in self.pairs.items()
            if p is not None and p.T_min is not None and p.T_max is not None and not p.range_holds(known).all()
        ]
        if not listed:
            return []
        return [f"The {self.name} parameters are used outside their range for {first_few(listed)}."]


_ORIGINS = {
    "derived: both activity coefficients at the azeotrope": "one azeotrope",
    "derived: mutual solubilities": "the mutual solubilities at one temperature",
}
"""What a source says of parameters that were not regressed from data over a range."""

_MODELS: dict[str, Callable[[ActivityChoice], ActivityModel]] = {
    "ideal": lambda c: IdealSolution(len(c.names)),
    "Redlich-Kister": ActivityChoice._margules,
    "Margules": ActivityChoice._margules,
    "van Laar": ActivityChoice._van_laar,
    "Wilson": ActivityChoice._wilson,
    "NRTL": ActivityChoice._nrtl,
    "UNIQUAC": ActivityChoice._uniquac,
    "Scatchard-Hildebrand": ActivityChoice._scatchard_hildebrand,
    "three-part": ActivityChoice._three_part,
}

LIQUIDS = tuple(_MODELS)
"""Liquid models by name: a new one is one line above."""

PARAMETRIC = ("Redlich-Kister", "Margules", "van Laar", "Wilson", "NRTL", "UNIQUAC")
"""Those with binary parameters."""


def ln_gamma_infinity(model: ActivityModel, T: Array) -> Array:
    """Ln γ of each of two components at infinite dilution in the other ``(2, N)``."""
    trace = np.array([[1e-100], [1.0]]) * np.ones(len(T))
    bound = model.at(T)
    return np.stack([bound.ln_gamma(trace)[0], bound.ln_gamma(trace[::-1].copy())[1]])


def _expansion(p: PairParameters) -> list[Array]:
    """A₀, A₁, ... of a pair's expansion, from its terms or from Margules' two parameters."""
    if p.terms is not None:
        return [p.coefficients(term, 1.0, f"term {k}") for k, term in enumerate(p.terms)]
    a12, a21 = p.coefficients(p.a12, 1.0, "a12"), p.coefficients(p.a21, 1.0, "a21")
    return [0.5 * (a12 + a21), 0.5 * (a21 - a12)]


def _variants(p: PairParameters) -> list[tuple[str, PairParameters]]:
    """The same numbers as somebody could have meant them."""
    turned = replace(p.swapped(), volumes=p.volumes)
    if p.terms is not None:
        negative = replace(p, terms=[_negative(t) for t in p.terms])
    else:
        negative = replace(p, a12=_negative(p.a12), a21=_negative(p.a21))
    options = [("in the other order of the pair", turned), ("with the other sign", negative)]
    for form in ("K", "J/mol", "cal/mol", "plain", "log10"):
        if form != p.form:
            options.append((f'in the form "{form}"', replace(p, form=form)))
            options.append((f'in the form "{form}" and the other order of the pair', replace(turned, form=form)))
    if p.form in ("K", "J/mol", "cal/mol"):
        other = "degC" if p.temperature == "K" else "K"
        options.append((f'with temperature="{other}"', replace(p, temperature=other)))
    return options


def _negative(value: Any) -> Any:
    return (-np.asarray(value, dtype=float)).tolist()
