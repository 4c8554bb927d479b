"""Reference equations of pure fluids as the compiled engine takes them."""

from __future__ import annotations

from typing import Any, NamedTuple

from ..arrays import Array
from .layout import whole
from .loops import REFERENCE, Plain


class Branch(NamedTuple):
    """Densities over the critical one ``(K,)`` along which a branch of isotherms is followed; what each term gives there to δφ_δ and its derivative by ln δ, but for its weight ``(K, M)``."""

    delta: Array
    first: Array
    second: Array


class Fluid(NamedTuple):
    """Critical over closest density, ρ*, T*, the equation's gas constant over the universal one, and the molar mass."""

    critical_packing: float
    density: float
    temperature: float
    own: float
    scale: float


def plain(
    common: tuple[Any, ...],
    fluid: Fluid,
    closest: Array,
    terms: tuple[Array, Array, Array],
    branches: tuple[Branch, Branch],
) -> Plain:
    """The equation as the engine takes it: its smooth terms, bells and critical terms, a row each, and both branches."""
    up, down = (tuple(map(whole, branch)) for branch in branches)
    return Plain(REFERENCE, (*common, *fluid, tuple(map(len, terms)), whole(closest), *map(whole, terms), up, down), 1)
