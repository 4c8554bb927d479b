"""Numbers that may depend on temperature: a value at a reference temperature T₀ and slopes in θ = T₀/T - 1.

    f(T) = value + slope θ + bend θ²

The first number is one that an engineer knows, and the others say how it changes towards lower temperatures; fitted, they are nearly
independent of each other. Inside, every function is a sum of the terms 1, 1/T, ln T, T and 1/T² (T in K), so that what the literature prints in
such terms is kept to the last digit; of such a function the value and the slopes at T₀ are its expansion there.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..core.arrays import Array
from ..core.models.temperature_terms import TERMS, VALUES as TERM_VALUES
from ..errors import InputError

T_REFERENCE = 298.15
"""T₀, K, where none is named."""

_NOISE = 1e-14
"""Share of the largest term below which a slope is rounding."""

_COLDEST, _HOTTEST, _APART, _HELD = 100.0, 600.0, 20.0, 0.01
"""Between which temperatures a function is held, K, how far from what is known that begins, and with what weight."""

PARTS = ("value", "slope", "bend")
"""What a function is told and adjusted by."""


@dataclass(frozen=True)
class OfTemperature:
    """A function of temperature, as coefficients of the terms 1, 1/T, ln T, T, 1/T².

    Examples
    --------
    >>> f = OfTemperature.read([0.12, -0.03], "kij")
    >>> f.at(298.15), round(f.at(350.0), 5)
    (0.12, 0.12444)
    >>> print(OfTemperature.read({"1": 0.2, "T": 1e-4}, "kij"))
    0.229815, slope -0.029815, bend 0.029815

    """

    coefficients: tuple[float, ...]

    @classmethod
    def read(cls, given: Any, what: str) -> OfTemperature:
        """A number; one to three numbers, which are value, slope and bend at 298.15 K; or a mapping of these names (and ``T0``), or of terms.

        Raises
        ------
        InputError
            If it is none of these, or not finite.
        """
        if isinstance(given, cls):
            return given
        if isinstance(given, Mapping):
            return cls._of_mapping(given, what)
        sequence = isinstance(given, Sequence) and not isinstance(given, str)
        numbers = [_finite(v, what) for v in (given if sequence or hasattr(given, "__len__") else [given])]
        if not 1 <= len(numbers) <= len(PARTS):
            raise InputError(
                f"{what} is {given!r}; it is a number, or value, slope and bend in T₀/T - 1 with T₀ = {T_REFERENCE} K, or a mapping of "
                f"the terms {', '.join(TERMS)}."
            )
        return cls.around(T_REFERENCE, *numbers)

    @classmethod
    def nearest(cls, T: Array, values: Array, weights: float | Array = 1.0) -> OfTemperature:
        """The sum of terms that is nearest to ``values`` at temperatures ``T``, K, both ``(N,)``, by least squares.

        Examples
        --------
        >>> import numpy as np
        >>> round(OfTemperature.nearest(np.linspace(250.0, 450.0, 9), np.linspace(0.1, 0.3, 9)).at(350.0), 6)
        0.2

        """
        terms = np.stack([value(np.asarray(T)) for value in TERM_VALUES], axis=1)
        size = np.abs(terms).max(axis=0)
        weighted = np.broadcast_to(weights, len(terms))
        found = np.linalg.lstsq(terms / size * weighted[:, None], values * weighted, rcond=None)[0] / size
        return cls(tuple(found.tolist()))

    @classmethod
    def staying(cls, T: Array, values: Array) -> OfTemperature:
        """The same, but beyond ``T``, from 100 to 600 K, about what it is at either end: terms alone run away where nothing holds them.

        Examples
        --------
        >>> import numpy as np
        >>> T = np.linspace(278.0, 423.0, 9)
        >>> free, held = (f(T, 1.0 - 280.0 / T) for f in (OfTemperature.nearest, OfTemperature.staying))
        >>> round(free.at(120.0), 2), round(held.at(120.0), 2), round(held.at(350.0), 2)
        (-1.33, -0.06, 0.2)

        """
        cold, hot = np.linspace(_COLDEST, min(T) - _APART, 17), np.linspace(max(T) + _APART, _HOTTEST, 4)
        every = np.concatenate([cold, T, hot])
        wanted = np.concatenate([np.full(len(cold), values[np.argmin(T)]), values, np.full(len(hot), values[np.argmax(T)])])
        return cls.nearest(every, wanted, np.where((every < min(T)) | (every > max(T)), _HELD, 1.0))

    @classmethod
    def _of_mapping(cls, given: Mapping[Any, Any], what: str) -> OfTemperature:
        if given and set(given) <= set(TERMS):
            return cls(tuple(_finite(given.get(term, 0.0), f"{what}, term {term},") for term in TERMS))
        if "value" in given and set(given) <= {*PARTS, "T0"}:
            T0 = _finite(given.get("T0", T_REFERENCE), f"T0 of {what}")
            if not T0 > 0.0:
                raise InputError(f"T0 of {what} is {T0:g} K; it must be positive.")
            return cls.around(T0, *(_finite(given.get(part, 0.0), f"{part} of {what}") for part in PARTS))
        raise InputError(
            f"{what} is {dict(given)!r}; as a mapping it has value, slope, bend and T0, or the terms {', '.join(TERMS)} of a published equation."
        )

    @classmethod
    def around(cls, T0: float, value: float, slope: float = 0.0, bend: float = 0.0) -> OfTemperature:
        """The function with a value and slopes at ``T0``, K."""
        return cls((value - slope + bend, T0 * (slope - 2.0 * bend), 0.0, 0.0, T0**2 * bend))

    # ---- what it says ----

    @property
    def varies(self) -> bool:
        """Whether it depends on temperature."""
        return any(self.coefficients[1:])

    def at(self, T: float) -> float:
        """The value at ``T``, K."""
        a, b, c, d, e = self.coefficients
        return a + b / T + (c * math.log(T) if c else 0.0) + d * T + e / T / T

    def parts(self, T0: float = T_REFERENCE) -> tuple[float, float, float]:
        """Value, slope and bend at ``T0``: exact for a function given so, else the beginning of its expansion."""
        a, b, c, d, e = self.coefficients
        by_term = (a, b / T0, c, d * T0, e / T0**2)
        _, by_inverse, by_log, by_T, by_square = by_term
        slope = by_inverse - by_log - by_T + 2.0 * by_square
        bend = 0.5 * by_log + by_T + by_square
        noise = _NOISE * max(abs(part) for part in by_term)
        return self.at(T0), 0.0 if abs(slope) <= noise else slope, 0.0 if abs(bend) <= noise else bend

    # ---- what else can be made of it ----

    def with_part(self, part: str, number: float, T0: float = T_REFERENCE) -> OfTemperature:
        """The same with another value, slope or bend at ``T0``; the other two stay, and whatever it has of higher order."""
        change = [0.0, 0.0, 0.0]
        change[PARTS.index(part)] = number - self.parts(T0)[PARTS.index(part)]
        return self + OfTemperature.around(T0, *change)

    def __add__(self, other: OfTemperature) -> OfTemperature:
        return OfTemperature(tuple(a + b for a, b in zip(self.coefficients, other.coefficients, strict=True)))

    def __mul__(self, factor: float) -> OfTemperature:
        return OfTemperature(tuple(factor * a for a in self.coefficients))

    def plain(self) -> float | dict[str, float]:
        """As files hold it: a number, or coefficients by term, to the last digit."""
        if not self.varies:
            return self.coefficients[0]
        return {term: c for term, c in zip(TERMS, self.coefficients, strict=True) if c}

    def __str__(self) -> str:
        value, slope, bend = self.parts()
        rest = f", slope {slope:.6g}" * bool(slope) + f", bend {bend:.6g}" * bool(bend)
        return f"{value:.6g}{rest}" if self.varies else f"{value:.6g}"


def _finite(value: Any, what: str) -> float:
    try:
        number = float(value)
    except (TypeError, ValueError):
        raise InputError(f"{what} is {value!r}, which is no number.") from None
    if not math.isfinite(number):
        raise InputError(f"{what} is {value!r}; it must be a finite number.")
    return number


def written(text: str) -> float | list[float] | dict[str, float]:
    """What a function of temperature is given by in text: ``0.12``; ``0.12, -0.03`` (value and slopes); ``1: 0.19; T: -1.6e-4`` (terms).

    Raises
    ------
    ValueError
        If it is none of these.
    """
    if ":" in text:
        return {term.strip(): float(number) for term, number in (part.split(":") for part in text.split(";"))}
    numbers = [float(part) for part in text.split(",")]
    return numbers[0] if len(numbers) == 1 else numbers


def in_writing(function: OfTemperature) -> str:
    """A function as the tables of pairs have it, which `written` reads.

    Examples
    --------
    >>> in_writing(OfTemperature.read({"1": 0.2, "T": 1e-4}, "kij"))
    '1: 0.2; T: 0.0001'

    """
    return "; ".join(f"{term}: {value:.8g}" for term, value in zip(TERMS, function.coefficients, strict=True) if value)


def constant(value: float) -> OfTemperature:
    """The function that is ``value`` at every temperature."""
    return OfTemperature((float(value), 0.0, 0.0, 0.0, 0.0))
