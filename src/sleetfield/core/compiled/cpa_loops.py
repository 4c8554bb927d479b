"""Cubic plus association as the compiled engine takes it."""

from __future__ import annotations

from typing import Any, NamedTuple

from ..arrays import Array
from .association_loops import PlainSites
from .layout import whole
from .loops import CPA, Plain


class Soave(NamedTuple):
    """The physical part: √a₀, covolumes and slopes of √a ``(C,)``; 1 - kᵢⱼ as coefficients ``(K, C, C)`` of the ``terms`` of `models.temperature_terms`."""

    root: Array
    b: Array
    c1: Array
    terms: tuple[int, ...]
    pairs: Array


def plain(
    common: tuple[Any, ...], critical_packing: float, contact: float, soave: Soave, sites: PlainSites, packings: Array
) -> Plain:
    """The equation as the engine takes it."""
    root, b, c1, terms, pairs = soave
    own = whole(root), whole(b), whole(c1), terms, whole(pairs)
    return Plain(CPA, (*common, critical_packing, contact, *own, sites, whole(packings)), len(b))
