"""Liquids by activity coefficients beside vapors in the compiled engine."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple, Protocol

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Kinds
from .layout import whole
from .loops import PAIR, Plain

NRTL, WEIGHTED_LOGARITHM, FLORY_HUGGINS, GUGGENHEIM, OF_GROUPS = range(5)
"""The terms of an excess Gibbs energy, as the engine numbers them."""
MOST_TERMS, MOST_GROUPS = 3, 40
RIEDEL, ANTOINE, WAGNER = range(3)
"""The equations of vapor pressures, as the engine numbers them."""
RACKETT, POWER_SERIES = range(2)
"""Those of liquid densities."""
LIQUID_NUMBERS, VIRIAL_POWERS = 6, (0, 1, 2, 3, 6, 8)
"""How many coefficients such an equation has at most; the powers of reduced 1/T in second virial coefficients."""

OfTemperature = tuple[tuple[int, ...], Array]
"""A quantity of ordered pairs: which terms of `models.temperature_terms` it is a sum of, the constant one first, and their coefficients ``(K, C, C)``."""
NOTHING: tuple[tuple[int, ...], None] = (), None


class NumberedCorrelation(Protocol):
    """A correlation that the engine may have."""

    @property
    def number(self) -> int | None:
        """Which one."""

    @property
    def coefficients(self) -> tuple[float, ...]:
        """What it is made of."""


class Equations(NamedTuple):
    """One equation of temperature for each component: which ``(C,)``, and the coefficients ``(C, 6)``."""

    numbers: Kinds
    coefficients: Array


def equations(correlations: Sequence[NumberedCorrelation]) -> Equations | None:
    """Correlations as the engine takes them, where it has them all."""
    numbers = [c.number for c in correlations if c.number is not None]
    if len(numbers) < len(correlations):
        return None
    coefficients = np.zeros((len(correlations), LIQUID_NUMBERS))
    for row, correlation in zip(coefficients, correlations, strict=True):
        row[: len(correlation.coefficients)] = correlation.coefficients
    return Equations(np.array(numbers, dtype=np.int8), coefficients)


class Term(NamedTuple):
    """A term of an excess Gibbs energy.

    ``pairs`` τ of NRTL or ln L, ``alpha`` of NRTL; ``own`` weights ``(C,)`` or sizes, ``other`` surfaces; of groups weights ``(G,)`` and ``counts (G, C)``;
    ``densities`` of liquids whose ratios of volumes are in L.
    """

    kind: int
    pairs: OfTemperature | None = None
    alpha: OfTemperature | None = None
    own: Array | None = None
    other: Array | None = None
    counts: Array | None = None
    densities: Equations | None = None

    def plain(self) -> tuple[Any, ...]:
        """As the engine takes it."""
        functions = [NOTHING if f is None else (f[0], whole(f[1])) for f in (self.pairs, self.alpha)]
        groups = 0 if self.counts is None else len(self.counts)
        numbers = whole(self.own), whole(self.other), groups, whole(self.counts)
        return self.kind, *functions, *numbers, *(self.densities or (None, None))


class PlainLiquids(NamedTuple):
    """The vapor pressures of pure liquids, the ranges of these ``(C, 2)``, and the densities."""

    pressures: Equations
    ranges: Array
    densities: Equations


class PlainVirial(NamedTuple):
    """Second virial coefficients Σ Kₙ (means·factors/T)ⁿ by `VIRIAL_POWERS`: ``means (C, C)``, K, and their factors by temperature; and what those of some
    pairs are instead, ``own``, where ``given (C, C)`` says so.
    """  # fmt: skip

    means: Array
    factors: OfTemperature
    series: Array
    given: NDArray[np.bool_] | None = None
    own: OfTemperature | tuple[tuple[int, ...], None] = NOTHING

    def plain(self) -> tuple[Any, ...]:
        """As the engine takes it."""
        factors, own = ((terms, whole(coefficients)) for terms, coefficients in (self.factors, self.own))
        given = None if self.given is None else np.ascontiguousarray(self.given, dtype=np.int8)
        return whole(self.means), *factors, whole(self.series), given, *own


class PlainVapor(NamedTuple):
    """The least Z that there is a vapor with, and ln φ of all that is in it where it has no virial coefficients."""

    least_Z: float = 0.0
    ln_phi: float = 0.0
    virial: PlainVirial | None = None

    def plain(self) -> tuple[Any, ...]:
        """As the engine takes it."""
        return self.least_Z, self.ln_phi, () if self.virial is None else self.virial.plain()


def plain(R: float, poynting: bool, saturated: bool, liquids: PlainLiquids, terms: Sequence[Term], vapor: PlainVapor) -> Plain:
    """A liquid beside a vapor as the engine takes it; ``poynting`` and ``saturated`` say whether pressure acts on pure liquids, and whether their own vapors are as ``vapor`` has them."""
    own = (*liquids.pressures, liquids.ranges, *liquids.densities), tuple(term.plain() for term in terms), vapor.plain()
    return Plain(PAIR, (R, poynting, saturated, *own), len(liquids.ranges))
