"""Cubic equations of state as the compiled engine takes them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

from ..arrays import Array
from .layout import whole
from .loops import CUBIC, Plain
from .pair_loops import Term

SOAVE, REDLICH_KWONG, TWU, MATHIAS_COPEMAN, WITH_WATER = range(5)
"""The temperature functions, as the engine numbers them."""

Numbers = tuple[float, float, float, float]
"""δ₁, δ₂, V_c/b of a pure component, and a/bRT of one at its critical temperature."""


class Temperature(NamedTuple):
    """√aᵢ by temperature: which function, its constants ``(n, C)``, the critical temperatures and √aᵢ there ``(C,)``."""

    number: int
    constants: Array
    Tc: Array
    root_ac: Array


class Quadratic(NamedTuple):
    """Van der Waals' mixing rule as the loops have it: n²a = Σ nᵢnⱼ √(aᵢaⱼ)(1 - kᵢⱼ), nb = Σ nᵢbᵢ or Σ nᵢnⱼ bᵢⱼ/n, and what water adds to n²a.

    ``pairs (K, C, C)`` 1 - kᵢⱼ as coefficients of the ``terms`` of `models.temperature_terms`, the constant one first; ``covolumes (C, C)`` where nb
    is not linear; ``water``, -1 where there is none, and the polynomials ``aqueous (4, C)`` of `models.mixing.in_water`, NaN where one kᵢ holds throughout.
    """

    terms: tuple[int, ...]
    pairs: Array
    covolumes: Array | None = None
    water: int = -1
    aqueous: Array | None = None

    def plain(self) -> tuple[Any, ...]:
        """As the engine takes it."""
        return self.terms, whole(self.pairs), whole(self.covolumes), self.water, whole(self.aqueous)


class Excess(NamedTuple):
    """A mixing rule with an excess Gibbs energy, `models.mixing.excess_gibbs`: q₁, q₂ and s, and the terms of that energy."""

    q1: float
    q2: float
    s: float
    terms: Sequence[Term]

    def plain(self) -> tuple[Any, ...]:
        """As the engine takes it."""
        return self.q1, self.q2, self.s, tuple(term.plain() for term in self.terms)


Mixing = Quadratic | Excess


def plain(
    common: tuple[Any, ...], numbers: Numbers, temperature: Temperature, b: Array, mixing: Mixing, translation: Array | None
) -> Plain:
    """An equation of covolumes ``b (C,)`` as the engine takes it."""
    number, *roots = temperature
    own = number, *map(whole, roots), whole(b), mixing.plain(), whole(translation)
    return Plain(CUBIC, (*common, numbers, *own), len(b))
