"""What a paper, a handbook or a fit gives for one pair of components, in the form that it gives it in.

A form says what the numbers of an activity model are:

- ``"plain"``: the parameter of the equation itself: τ of NRTL; ln(Λ vᵢ/vⱼ) of Wilson; ln τ of UNIQUAC; A of the others, so that ln γ = A.
- ``"ratio"``: Λ of Wilson, or τ of UNIQUAC, as plain numbers.
- ``"log10"``: A in decimal logarithms.
- ``"K"``, ``"J/mol"``, ``"cal/mol"``: energies (λ₁₂ - λ₁₁, g₁₂ - g₂₂, u₁₂ - u₂₂; or A·RT). One to three numbers are e₀ + e₁t + e₂t²;
  ``temperature="degC"`` says that t is in °C.

A plain parameter that depends on temperature is a value and slopes at 298.15 K, or the terms of a published equation, see `OfTemperature`.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, fields, replace
from typing import Any

import numpy as np

from ..arguments import expect_fields, short
from ..core.constants import CALORIE, R
from ..errors import InputError
from ..units import one_in_si
from .of_temperature import OfTemperature

_PER_KELVIN = {"K": R, "J/mol": 1.0, "cal/mol": CALORIE}
FORMS = ("plain", "ratio", "log10", *_PER_KELVIN)
_CELSIUS = 273.15
_USUAL_ALPHA = 0.3


@dataclass(frozen=True, kw_only=True)
class PairParameters:
    """What is known of a pair (1, 2), in the order of the names that it is given for.

    Parameters
    ----------
    a12, a21 : float or sequence of floats or mapping
        The parameters of an activity model; several numbers are a function of temperature, see ``form``.
    alpha : float or sequence or mapping, optional
        NRTL's α; several numbers are a function of temperature as a plain parameter is. 0.3 where it is not given.
    terms : sequence, optional
        Instead of ``a12`` and ``a21``: A₀, A₁, ... of the Redlich-Kister expansion, each like ``a12``.
    kij : float or sequence or mapping, optional
        Instead of these: the interaction parameter of an equation of state.
    form : {"plain", "ratio", "log10", "K", "J/mol", "cal/mol"}
        What the numbers are: the equation's own parameter, its exponential, its decimal logarithm, or an energy.
    temperature : {"K", "degC"}
        What temperature an energy depends on.
    volumes : two floats, or "at T", optional
        Wilson: the molar volumes that belong to the parameters, m3/mol or text with a unit; those of the databank at 25 °C by default, or "at T" those of its
        density correlation at each temperature.
    r, q : two floats, optional
        UNIQUAC: the sizes and surfaces of both components that the parameters were fitted with, where they are not the databank's.
    T_min, T_max : float or text, optional
        Range of validity.
    source : str, optional
    layer : str, optional
        Where a bank has it from: "shipped", "user" or "case"; "given" otherwise.
    date : str, optional
        When it was stored, as year-month-day.
    statistics : mapping of str to float, optional
        What a fit said of it, such as its mean deviation.
    gamma_infinity : (T, γ1, γ2), optional
        Published activity coefficients at infinite dilution, which the parameters are checked against.
    azeotrope : (T, x1), optional
        A published azeotrope, the same.

    Examples
    --------
    >>> import sleetfield as sl
    >>> pair = sl.PairParameters(a12=325.0757, a21=953.2792, form="cal/mol")
    >>> still = sl.System(["ethanol", "water"], liquid="Wilson", parameters={("ethanol", "water"): pair})
    >>> still.parameters.gamma_infinity("ethanol", "water", T=350.0)[0].round(2)
    np.float64(6.17)

    """

    a12: Any = None
    a21: Any = None
    alpha: Any = None
    terms: Sequence[Any] | None = None
    kij: Any = None
    form: str = "plain"
    temperature: str = "K"
    volumes: Any = None
    r: Sequence[float] | None = None
    q: Sequence[float] | None = None
    T_min: Any = None
    T_max: Any = None
    source: str = "given in code"
    layer: str = "given"
    date: str = ""
    statistics: Mapping[str, float] = field(default_factory=dict)
    gamma_infinity: tuple[Any, float, float] | None = None
    azeotrope: tuple[Any, float] | None = None

    def __post_init__(self) -> None:
        expect_fields(self)
        if self.form not in FORMS:
            raise InputError(f"There is no form {self.form!r} of parameters. Forms are {', '.join(FORMS)}.")
        if self.temperature not in ("K", "degC"):
            raise InputError(f"temperature is {self.temperature!r}; it is 'K' or 'degC'.")
        ways = [self.a12 is not None and self.a21 is not None, self.terms is not None, self.kij is not None]
        if sum(ways) != 1 or ((self.a12 is None) != (self.a21 is None)):
            raise InputError(
                "A pair has both a12 and a21, or terms of a Redlich-Kister expansion instead; or kij for an equation of state."
            )
        for name in ("T_min", "T_max"):
            value = getattr(self, name)
            if value is None:
                continue
            T = one_in_si(value, "temperature", name)
            if not 0.0 <= T < math.inf:
                raise InputError(f"{name} is {short(value)}; it is a temperature, finite, or left out.")
            object.__setattr__(self, name, T)
        if self.T_min is not None and self.T_max is not None and self.T_min > self.T_max:
            raise InputError(f"The range {self.T_min:g} to {self.T_max:g} K is empty: T_min is not to be above T_max.")
        if isinstance(self.volumes, str) and self.volumes != "at T":
            raise InputError(f"volumes is {self.volumes!r}; it is two molar volumes, or 'at T'.")
        for name in ("r", "q"):
            both = getattr(self, name)
            if both is not None and (len(both) != 2 or not all(math.isfinite(v) and v > 0.0 for v in both)):
                raise InputError(f"{name} is {both!r}; it is two positive numbers, one for each component.")

    def swapped(self) -> PairParameters:
        """The same parameters for the pair in the other order."""
        turned = None if self.terms is None else tuple(_scaled(t, (-1.0) ** k) for k, t in enumerate(self.terms))
        volumes = self.volumes if self.volumes is None or isinstance(self.volumes, str) else tuple(self.volumes)[::-1]
        r, q = (None if both is None else tuple(both)[::-1] for both in (self.r, self.q))
        return replace(
            self, a12=self.a21, a21=self.a12, terms=turned, volumes=volumes, r=r, q=q, gamma_infinity=None, azeotrope=None
        )

    # ---- conversion ----

    def function(self, value: Any, sign: float, what: str) -> OfTemperature:
        """The equation's own parameter; ``sign`` is that of an energy in it."""
        if self.form == "plain":
            return OfTemperature.read(value, what)
        numbers = np.atleast_1d(np.asarray(value, dtype=float)) if not isinstance(value, Mapping) else np.zeros(0)
        most = 3 if self.form in _PER_KELVIN else 1
        if numbers.ndim != 1 or not 1 <= len(numbers) <= most or not np.isfinite(numbers).all():
            raise InputError(f"{what} is {value!r}; in the form {self.form!r} it is one to {most} finite numbers.")
        result = np.zeros(5)
        if self.form == "log10":
            result[0] = numbers[0] * math.log(10.0)
        elif self.form == "ratio":
            if numbers[0] <= 0.0:
                raise InputError(f"{what} is {numbers[0]:g}; as a ratio it is positive.")
            result[0] = math.log(numbers[0])
        else:
            e0, e1, e2 = (*numbers, 0.0, 0.0)[:3]
            if self.temperature == "degC":
                e0, e1 = e0 - _CELSIUS * e1 + _CELSIUS**2 * e2, e1 - 2.0 * _CELSIUS * e2
            result[[1, 0, 3]] = np.array([e0, e1, e2]) * (sign * _PER_KELVIN[self.form] / R)
        return OfTemperature(tuple(result.tolist()))

    @property
    def alpha_function(self) -> OfTemperature:
        """α as a function of temperature."""
        return OfTemperature.read(_USUAL_ALPHA if self.alpha is None else self.alpha, "alpha")

    def checked(self) -> PairParameters:
        """The same, its numbers read.

        Raises
        ------
        InputError
            If one of them is none.
        """
        if self.kij is not None:
            OfTemperature.read(self.kij, "kij")
        elif self.terms is not None:
            for k, term in enumerate(self.terms):
                self.function(term, 1.0, f"term {k}")
        else:
            self.function(self.a12, 1.0, "a12")
            self.function(self.a21, 1.0, "a21")
        _ = self.alpha_function
        return self

    def in_form(self, form: str, sign: float = 1.0) -> PairParameters:
        """The same parameters written in another form; ``sign`` is that of an energy in the model's parameter (-1 of Wilson and UNIQUAC).

        Raises
        ------
        InputError
            If they depend on temperature in a way that the form can't say.

        Examples
        --------
        >>> PairParameters(a12=55.0, a21=670.0, alpha=0.3, form="K").in_form("cal/mol").a12
        [109.2...]

        """
        if self.kij is not None:
            raise InputError("An interaction parameter kij is printed as it is, in no other form.")
        if form not in FORMS:
            raise InputError(f"There is no form {form!r} of parameters. Forms are {', '.join(FORMS)}.")
        if form == self.form:
            return self
        values = [*self.terms] if self.terms is not None else [self.a12, self.a21]
        written = [_written(self.function(v, sign, "a parameter"), form, sign) for v in values]
        named = {"terms": written} if self.terms is not None else {"a12": written[0], "a21": written[1]}
        return replace(self, form=form, temperature="K", gamma_infinity=None, azeotrope=None, **named)

    def printed(self) -> tuple[str, str, str, str]:
        """The numbers of both orders, α and the unit, as a paper would print them; energies with their terms in T."""
        values = [*self.terms] if self.terms is not None else [self.a12, self.a21]
        texts = [_terms(v) if self.form in _PER_KELVIN else _text(v) for v in values]
        first, second = texts if len(texts) == 2 else (", ".join(texts), "")
        return first, second, "" if self.alpha is None else _text(self.alpha), self.form

    # ---- as text ----

    def __str__(self) -> str:
        if self.kij is not None:
            return _text(self.kij)
        values = [*self.terms] if self.terms is not None else [self.a12, self.a21]
        alpha = "" if self.alpha is None else f"; alpha {_text(self.alpha)}"
        return f"{', '.join(_text(v) for v in values)} ({self.form}){alpha}"

    def to_dict(self) -> dict[str, Any]:
        """What is not at its default, as plain values."""
        found = {}
        for f in fields(self):
            value = getattr(self, f.name)
            if f.name != "layer" and value is not None and value not in (f.default, {}):
                found[f.name] = _plain(value)
        return found


def _written(f: OfTemperature, form: str, sign: float) -> Any:
    """A function of temperature in a form."""
    a, b, c, d, e = f.coefficients
    if form == "plain":
        return f
    if form in _PER_KELVIN:
        if c or e:
            raise InputError(
                f"A parameter {f} has terms in ln T or 1/T², which an energy e0 + e1 T + e2 T² has not; take the form 'plain'."
            )
        energy = np.array([b, a, d]) * (sign * R / _PER_KELVIN[form])
        return np.trim_zeros(energy, "b").tolist() or [0.0]
    if f.varies:
        raise InputError(f"A parameter {f} depends on temperature, which the form {form!r} can't say; take 'plain' or an energy.")
    return [a / math.log(10.0) if form == "log10" else math.exp(a)]


def _terms(value: Any) -> str:
    """``e0 + e1 T + e2 T²``."""
    numbers = np.atleast_1d(np.asarray(value, dtype=float))
    words = ["", " T", " T²"]
    parts = [f"{v:.6g}{w}" for v, w in zip(numbers, words, strict=False) if v]
    return " + ".join(parts).replace("+ -", "- ") or "0"


def _text(value: Any) -> str:
    if isinstance(value, Mapping):
        return ", ".join(f"{k}: {v:g}" for k, v in value.items())
    if isinstance(value, OfTemperature):
        return str(value)
    return " ".join(f"{v:g}" for v in np.atleast_1d(np.asarray(value, dtype=float)))


def _plain(value: Any) -> Any:
    if isinstance(value, OfTemperature):
        return value.plain()
    if isinstance(value, Mapping):
        return {str(k): _plain(v) for k, v in value.items()}
    if isinstance(value, (tuple, list, np.ndarray)):
        return [_plain(v) for v in value]
    return value.item() if isinstance(value, np.generic) else value


def _scaled(value: Any, factor: float) -> Any:
    if isinstance(value, OfTemperature):
        return value * factor
    if isinstance(value, Mapping):
        return {k: v if k == "T0" else v * factor for k, v in value.items()}
    return (np.asarray(value, dtype=float) * factor).tolist()


def negative(value: Any) -> Any:
    """A parameter with the other sign."""
    return _scaled(value, -1.0)


def pair_parameters(given: Any, pair: tuple[str, str]) -> PairParameters:
    """What the user gave for a pair: `PairParameters`, or a mapping of its fields.

    Raises
    ------
    InputError
        If it is neither.

    """
    if isinstance(given, PairParameters):
        return given
    known = [f.name for f in fields(PairParameters)]
    if isinstance(given, Mapping):
        unknown = [key for key in given if key not in known]
        if unknown:
            raise InputError(f"Parameters of {' and '.join(pair)} have no field {unknown[0]!r}; fields are {', '.join(known)}.")
        return PairParameters(**given)
    raise InputError(
        f"The parameters of {' and '.join(pair)} are {given!r}; give sl.PairParameters(a12=..., a21=..., form=...), so that it is clear what the numbers are."
    )
