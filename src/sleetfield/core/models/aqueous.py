"""Interaction parameters that are others in water than elsewhere.

Between water (w) and another component i, kᵢ goes from its value in phases without water to that in water as the mole fraction of water rises:

    kᵢ = k⁰ᵢ - xᵥ lᵢ,   lᵢ = k⁰ᵢ - kᵃᵢ,   so that   n²a = Σ nⱼ nᵢ aⱼᵢ + (2/n) nᵥ² √aᵥ Σ nᵢ √aᵢ lᵢ

which gives kᵃᵢ to a trace of i in water and k⁰ᵢ to a trace of water elsewhere, within one Helmholtz energy, so that Gibbs-Duhem's equation
holds; a component divided into two equal ones gives the same. kᵃᵢ is a polynomial of the third degree in θ = t/(1 + t⁸)^⅛ with the reduced temperature t of
water, which is t up to where water is no liquid and goes to 1 beyond. The two values are what Soreide and Whitson, Fluid Phase Equilib. 77
(1992) 217-240, take for two phases apart.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array
from .attraction import Attraction

Numbers = NDArray[Any]
"""Mole numbers, or what follows from them: complex where a derivative is taken by a complex step."""


class AqueousInteractions(NamedTuple):
    """The position of water, and the coefficients of each component's polynomial ``(C, 4)``; NaN for those with one kᵢ throughout."""

    water: int
    coefficients: Array

    def select(self, components: Sequence[int]) -> AqueousInteractions | None:
        """For some of the components; None where water is not among them."""
        if self.water not in components:
            return None
        return AqueousInteractions(list(components).index(self.water), self.coefficients[np.asarray(components)])


def saturating(t: Array) -> tuple[Array, Array, Array]:
    """θ = t/(1 + t⁸)^⅛ and its first and second derivative."""
    power = 1.0 + t**8
    return t * power**-0.125, power**-1.125, -9.0 * t**7 * power**-2.125


class Aqueous:
    """What water's second interaction parameters add to n²a."""

    def __init__(self, pairs: AqueousInteractions, Tc: Array, attraction: Attraction) -> None:
        self.water, self._attraction, self._Tc = pairs.water, attraction, float(Tc[pairs.water])
        self._known = np.isfinite(pairs.coefficients[:, 0])
        self._c = np.where(self._known[:, None], pairs.coefficients, 0.0).T

    def differences(self, T: Array) -> tuple[Array, Array, Array]:
        """The lᵢ and their first and second derivative by temperature, ``(N, C)`` each."""
        c1, c2, c3, c4 = self._c
        t, t1, t2 = (part[:, None] for part in saturating(T / self._Tc))
        by_t, by_tt = c2 + 2.0 * c3 * t + 3.0 * c4 * t**2, 2.0 * c3 + 6.0 * c4 * t
        here = self._attraction.matrix(T)[..., self.water, :]
        by_T, by_TT = (part[:, self.water] for part in self._attraction.slopes(T))
        value = 1.0 - here - (c1 + (c2 + (c3 + c4 * t) * t) * t)
        slope = -by_T - by_t * t1 / self._Tc
        curvature = -by_TT - (by_tt * t1**2 + by_t * t2) / self._Tc**2
        value, slope, curvature = (np.where(self._known, part, 0.0) for part in (value, slope, curvature))
        return value, slope, curvature

    def first(self, n: Numbers, s: Array, apart: Array) -> tuple[Numbers, Numbers]:
        """The addition ``(N,)``, and its derivatives by mole numbers ``(N, C)``; ``s`` are the √aᵢ, or multiples, ``apart`` the differences."""
        E, E_i, total = self._numerator(n, s, apart)
        D = E / total
        return D, (E_i - D[:, None]) / total[:, None]

    def second(self, n: Numbers, s: Array, apart: Array) -> Numbers:
        """The second derivatives by mole numbers ``(N, C, C)``."""
        E, E_i, total = self._numerator(n, s, apart)
        w, c = self.water, s * apart
        E_ij = np.zeros((*n.shape, n.shape[1]), dtype=n.dtype)
        along = 4.0 * (s[:, w] * n[:, w])[:, None] * c
        E_ij[:, w] += along
        E_ij[:, :, w] += along
        E_ij[:, w, w] += 4.0 * s[:, w] * (n * c).sum(axis=-1)
        total = total[:, None, None]
        return np.asarray((E_ij - (E_i[:, :, None] + E_i[:, None, :]) / total + 2.0 * E[:, None, None] / total**2) / total)

    def by_T(
        self, x: Array, roots: tuple[Array, Array, Array], differences: tuple[Array, Array, Array]
    ) -> tuple[Array, Array, Array]:
        """The first and second derivative by temperature ``(N,)``, and the first of those by mole numbers ``(N, C)``, of one mole."""
        (s, s1, s2), (l0, l1, l2), w = roots, differences, self.water
        c, c1, c2 = s * l0, s1 * l0 + s * l1, s2 * l0 + 2.0 * s1 * l1 + s * l2
        p, p1, p2 = ((x * part).sum(axis=-1) for part in (c, c1, c2))
        square = 2.0 * x[:, w] ** 2
        first = square * (s1[:, w] * p + s[:, w] * p1)
        of_each = square[:, None] * (s1[:, w, None] * c + s[:, w, None] * c1)
        of_each[:, w] += 4.0 * x[:, w] * (s1[:, w] * p + s[:, w] * p1)
        return first, square * (s2[:, w] * p + 2.0 * s1[:, w] * p1 + s[:, w] * p2), of_each - first[:, None]

    def _numerator(self, n: Numbers, s: Array, apart: Array) -> tuple[Numbers, Numbers, Numbers]:
        """2 nᵥ² √aᵥ Σ nᵢ √aᵢ lᵢ and its derivatives by mole numbers; and n."""
        w, c = self.water, s * apart
        p = (n * c).sum(axis=-1)
        square = 2.0 * s[:, w] * n[:, w] ** 2
        E_i = square[:, None] * c
        E_i[:, w] += 4.0 * s[:, w] * n[:, w] * p
        return square * p, E_i, n.sum(axis=-1)
