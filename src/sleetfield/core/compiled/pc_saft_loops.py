"""PC-SAFT as the compiled engine takes it."""

from __future__ import annotations

from typing import Any, NamedTuple

from ..arrays import Array
from .association_loops import PlainSites
from .layout import whole
from .loops import PC_SAFT, Plain


class Segments(NamedTuple):
    """Number of segments, their diameters, m, and energies over k, K, and volumes of closest packing, m3/mol ``(C,)``."""

    m: Array
    sigma: Array
    epsilon: Array
    closest: Array


class Attractions(NamedTuple):
    """What both sums of attractions are made of ``(C, C)``; and 1 - kᵢⱼ as coefficients ``(K, C, C)`` of the ``terms`` of `models.temperature_terms`.

    Where that is constant it stands in both already, and there are no terms.
    """

    w1: Array
    w2: Array
    terms: tuple[int, ...]
    pairs: Array | None


class Tables(NamedTuple):
    """Constants of both integrals ``(3, 7)``, of the series along isotherms ``(5, 8, 3)`` and of the fractions of 1/C₁ ``(6, 5)``, and where isotherms are looked at first."""

    a: Array
    b: Array
    series: Array
    fractions: Array
    packings: Array


def plain(
    common: tuple[Any, ...],
    avogadro: float,
    critical_packing: float,
    segments: Segments,
    attractions: Attractions,
    tables: Tables,
    sites: PlainSites,
) -> Plain:
    """The equation as the engine takes it."""
    w1, w2, terms, pairs = attractions
    rest = *map(whole, segments), whole(w1), whole(w2), terms, whole(pairs), *map(whole, tables), sites
    return Plain(PC_SAFT, (*common, avogadro, critical_packing, *rest), len(segments.m))
