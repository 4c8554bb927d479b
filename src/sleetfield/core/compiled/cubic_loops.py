"""Cubic equations of state as the compiled engine takes them."""

from __future__ import annotations

from typing import Any, NamedTuple

from ..arrays import Array
from .equation_loops import Plain
from .layout import whole
from .loops import CUBIC

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
    """What a mixing rule is to the loops: n²a = Σ nᵢnⱼ √(aᵢaⱼ)(1 - kᵢⱼ), nb = Σ nᵢbᵢ or Σ nᵢnⱼ bᵢⱼ/n, and what water adds to n²a.

    ``pairs (K, C, C)`` 1 - kᵢⱼ as coefficients of the ``terms`` of `models.temperature_terms`, the constant one first; ``b (C,)``; ``covolumes (C, C)`` where nb
    is not linear; ``water``, -1 where there is none, and the polynomials ``aqueous (4, C)`` of `models.mixing.in_water`, NaN where one kᵢ holds throughout.
    """

    terms: tuple[int, ...]
    pairs: Array
    b: Array
    covolumes: Array | None = None
    water: int = -1
    aqueous: Array | None = None


def plain(
    common: tuple[Any, ...], numbers: Numbers, temperature: Temperature, mixing: Quadratic, translation: Array | None
) -> Plain:
    """An equation as the engine takes it."""
    number, *roots = temperature
    terms, pairs, b, covolumes, water, aqueous = mixing
    own = number, *map(whole, roots), terms, whole(pairs), whole(b), whole(covolumes), water, whole(aqueous), whole(translation)
    return Plain(CUBIC, (*common, numbers, *own), len(b))
