"""Binary parameters as a function of temperature: a sum of the terms of `temperature_terms`."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ...arrays import Array
from ...compiled.pair_loops import OfTemperature
from ..temperature_terms import CURVATURES, SLOPES, VALUES, Function, varying


class PairFunction:
    """One quantity of every ordered pair.

    Parameters
    ----------
    coefficients : (K, C, C)
        Of the first K terms of `temperature_terms.TERMS`.
    """

    def __init__(self, coefficients: Array) -> None:
        self.coefficients = np.asarray(coefficients, dtype=float)
        self._terms = varying(self.coefficients)

    @property
    def plain(self) -> OfTemperature:
        """The sum as the compiled engine takes it."""
        which = (0, *self._terms)
        return which, self.coefficients[list(which)]

    @property
    def densities(self) -> None:
        """Densities of liquids that it rests on: none."""
        return

    def _sum(self, T: Array, functions: Sequence[Function], start: Array) -> Array:
        value = np.repeat(start[:, :, None], len(T), axis=2)
        for k in self._terms:
            value += self.coefficients[k][:, :, None] * functions[k](T)
        return value

    def value(self, T: Array) -> Array:
        """``(C, C, N)``."""
        return self._sum(T, VALUES, self.coefficients[0])

    def slope(self, T: Array) -> Array:
        """Its derivative by temperature ``(C, C, N)``, 1/K."""
        return self._sum(T, SLOPES, np.zeros_like(self.coefficients[0]))

    def curvature(self, T: Array) -> Array:
        """Its second derivative by temperature ``(C, C, N)``, 1/K²."""
        return self._sum(T, CURVATURES, np.zeros_like(self.coefficients[0]))

    def select(self, components: Sequence[int]) -> PairFunction:
        """The same for those components."""
        i = np.asarray(components)
        return PairFunction(self.coefficients[:, i[:, None], i])
