"""Correlations of many components at once: those of one equation as one correlation whose coefficients are arrays."""

from __future__ import annotations

import functools
from collections.abc import Iterator, Sequence
from functools import cached_property
from itertools import zip_longest
from typing import NamedTuple, TypeVar

import numpy as np

from ..arrays import Array, Index
from ..compiled.ideal_gases import PlainGases
from .contract import Correlation, HeatCapacity, LnVaporPressure

Kind = TypeVar("Kind", bound=Correlation)


def stacked(correlations: Sequence[Kind | None]) -> Iterator[tuple[Index, Kind]]:
    """The places of those of one equation, and them as one correlation, which gives ``(N, places)`` for temperatures ``(N, 1)``; equation after equation."""
    places: dict[type[Kind], list[int]] = {}
    for i, correlation in enumerate(correlations):
        if correlation is not None:
            places.setdefault(type(correlation), []).append(i)
    for kind, columns in places.items():
        own = [c for c in (correlations[i] for i in columns) if c is not None]
        # polynomials may have different numbers of coefficients: those that one lacks are zero
        coefficients = tuple(np.array(row) for row in zip_longest(*(c.coefficients for c in own), fillvalue=0.0))
        ends = np.array([c.T_min for c in own]), np.array([c.T_max for c in own])
        yield np.array(columns, dtype=np.intp), kind(coefficients, *ends)  # type: ignore[arg-type]


class VaporPressures:
    """Vapor pressures of many components."""

    def __init__(self, correlations: Sequence[LnVaporPressure]) -> None:
        self.count, self._groups = len(correlations), tuple(stacked(correlations))

    def with_derivatives(self, T: Array) -> tuple[Array, Array, Array]:
        """ln(P/Pa) and its first two derivatives by temperature ``(N, C)``."""
        found, column = np.empty((3, len(T), self.count)), T[:, None]
        for columns, correlation in self._groups:
            found[:, :, columns] = correlation.with_derivatives(column)
        value, slope, curvature = found
        return value, slope, curvature


class _Group(NamedTuple):
    """Components that follow one equation, and its integrals at the temperature that they begin at."""

    columns: Index
    correlation: HeatCapacity
    lower: tuple[Array, Array]


class Together:
    """Pure ideal gases of a mixture: enthalpy, entropy and heat capacity against temperature, zero enthalpy and entropy at ``T0``."""

    def __init__(self, correlations: Sequence[HeatCapacity | None], T0: float) -> None:
        self._correlations, self.count = tuple(correlations), len(correlations)
        self.missing = np.array([i for i, c in enumerate(correlations) if c is None], dtype=np.intp)
        self._groups = []
        for columns, correlation in stacked(correlations):
            energy, entropy = correlation.from_anywhere(np.array([[T0]]))
            self._groups.append(_Group(columns, correlation, (energy[0], entropy[0])))

    @cached_property
    def plain(self) -> PlainGases | None:
        """The same as the compiled engine takes it, where it has all the equations."""
        known = [(i, c) for i, c in enumerate(self._correlations) if c is not None]
        numbers = [c.number for _, c in known if c.number is not None]
        if len(numbers) < len(known):
            return None
        most = max((len(c.plain()) for _, c in known), default=1)
        kinds, values = np.full(self.count, -1, dtype=np.int8), np.zeros((self.count, most))
        ranges, references = np.zeros((self.count, 2)), np.zeros((self.count, 2))
        for number, (i, c) in zip(numbers, known, strict=True):
            kinds[i], ranges[i] = number, (c.T_min, c.T_max)
            values[i, : len(c.plain())] = c.plain()
        for columns, _, lower in self._groups:
            references[columns] = np.stack(lower, axis=1)
        return PlainGases(most, kinds, values, ranges, references)

    def integrals(self, T: Array) -> tuple[Array, Array]:
        """∫Cp dT, J/mol, and ∫Cp/T dT, J/(mol K), ``(N, C)``; NaN where a correlation is missing."""
        h, s, column = np.full((len(T), self.count), np.nan), np.full((len(T), self.count), np.nan), T[:, None]
        for columns, correlation, (energy, entropy) in self._groups:
            upper = correlation.from_anywhere(column)
            h[:, columns], s[:, columns] = upper[0] - energy, upper[1] - entropy
        return h, s

    def values(self, T: Array) -> Array:
        """Cp, J/(mol K), ``(N, C)``; NaN where a correlation is missing."""
        cp, column = np.full((len(T), self.count), np.nan), T[:, None]
        for columns, correlation, _ in self._groups:
            cp[:, columns] = correlation.value(column)
        return cp


@functools.lru_cache(maxsize=256)
def together(correlations: tuple[HeatCapacity | None, ...], T0: float) -> Together:
    """The same for the same correlations, made once."""
    return Together(correlations, T0)
