"""Interaction parameters that are others in water than elsewhere.

Between water (w) and another component i, kᵢ goes from its value in phases without water to that in water as the mole fraction of water rises:

    kᵢ = k⁰ᵢ - xᵥ lᵢ,   lᵢ = k⁰ᵢ - kᵃᵢ,   so that   n²a = Σ nⱼ nᵢ aⱼᵢ + (2/n) nᵥ² √aᵥ Σ nᵢ √aᵢ lᵢ

which gives kᵃᵢ to a trace of i in water and k⁰ᵢ to a trace of water elsewhere, within one Helmholtz energy, so that Gibbs-Duhem's equation
holds; a component divided into two equal ones gives the same. kᵃᵢ is a polynomial of the third degree in θ = t/(1 + t⁸)^⅛ with the reduced temperature t of
water, which is t up to where water is no liquid and goes to 1 beyond. The two values are what Soreide and Whitson, Fluid Phase Equilib. 77
(1992) 217-240, take for two phases apart.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import cached_property
from typing import NamedTuple

import numpy as np

from ...arrays import Array, Index, Numbers
from ...compiled.cubic_loops import Quadratic
from .van_der_waals import BoundVanDerWaals, Roots, VanDerWaals


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


class InWater(VanDerWaals):
    """Van der Waals' rule with what water's second interaction parameters add to n²a."""

    def __init__(
        self,
        root_a: Callable[[Array], Array],
        roots_a: Callable[[Array], Roots],
        kij: Array,
        b: Array,
        lij: Array | None,
        interactions: AqueousInteractions,
        Tc: Array,
    ) -> None:
        super().__init__(root_a, roots_a, kij, b, lij)
        self.water, self._Tc = interactions.water, float(Tc[interactions.water])
        self._known = np.isfinite(interactions.coefficients[:, 0])
        self._c = np.where(self._known[:, None], interactions.coefficients, 0.0).T

    def at(self, T: Array) -> BoundInWater:
        return BoundInWater(self, T, self.root_a(T))

    def plain(self) -> Quadratic:
        return super().plain()._replace(water=self.water, aqueous=np.where(self._known, self._c, np.nan))

    def differences(self, T: Array) -> tuple[Array, Array, Array]:
        """The lᵢ and their first and second derivative by temperature, ``(N, C)`` each."""
        c1, c2, c3, c4 = self._c
        t, t1, t2 = (part[:, None] for part in saturating(T / self._Tc))
        by_t, by_tt = c2 + 2.0 * c3 * t + 3.0 * c4 * t**2, 2.0 * c3 + 6.0 * c4 * t
        here = np.asarray(self.pairs.matrix(T)[..., self.water, :], dtype=float)
        by_T, by_TT = (np.asarray(part[:, self.water], dtype=float) for part in self.pairs.slopes(T))
        value = 1.0 - here - (c1 + (c2 + (c3 + c4 * t) * t) * t)
        slope = -by_T - by_t * t1 / self._Tc
        curvature = -by_TT - (by_tt * t1**2 + by_t * t2) / self._Tc**2
        value, slope, curvature = (np.where(self._known, part, 0.0) for part in (value, slope, curvature))
        return value, slope, curvature


class BoundInWater(BoundVanDerWaals):
    """The rule at given temperatures."""

    rule: InWater

    def rows(self, index: Index) -> BoundInWater:
        return BoundInWater(self.rule, self.T[index], np.take(self.root, index, axis=1))

    @cached_property
    def _differences(self) -> tuple[Array, Array, Array]:
        return self.rule.differences(self.T)

    def attraction(self, n: Array) -> tuple[Array, Array]:
        a, half = super().attraction(n)
        E, E_i, total = self._numerator(n)
        added = E / total
        return np.asarray(a + added, dtype=float), np.asarray(half + 0.5 * ((E_i - added[:, None]) / total[:, None]).T, dtype=float)

    def second(self, n: Numbers) -> tuple[Numbers, Numbers, Numbers]:
        a, a_i, a_ij = super().second(n)
        E, E_i, total = self._numerator(n)
        s, w = self.root.T, self.rule.water
        c = s * self._differences[0]
        E_ij = np.zeros((*n.shape, n.shape[1]), dtype=n.dtype)
        along = 4.0 * (s[:, w] * n[:, w])[:, None] * c
        E_ij[:, w] += along
        E_ij[:, :, w] += along
        E_ij[:, w, w] += 4.0 * s[:, w] * (n * c).sum(axis=-1)
        added, all_ = E / total, total[:, None, None]
        added_ij = (E_ij - (E_i[:, :, None] + E_i[:, None, :]) / all_ + 2.0 * E[:, None, None] / all_**2) / all_
        return a + added, a_i + (E_i - added[:, None]) / total[:, None], a_ij + added_ij

    def by_temperature(self, n: Array) -> tuple[Array, Array, Array]:
        """Of one mole, whose total is not in the additions."""
        first, second, of_each = super().by_temperature(n)
        (s, s1, s2), (l0, l1, l2), w = self.rule.roots_a(self.T), self._differences, self.rule.water
        c, c1, c2 = s * l0, s1 * l0 + s * l1, s2 * l0 + 2.0 * s1 * l1 + s * l2
        p, p1, p2 = ((n * part).sum(axis=-1) for part in (c, c1, c2))
        square = 2.0 * n[:, w] ** 2
        added = square * (s1[:, w] * p + s[:, w] * p1)
        added_i = square[:, None] * (s1[:, w, None] * c + s[:, w, None] * c1)
        added_i[:, w] += 4.0 * n[:, w] * (s1[:, w] * p + s[:, w] * p1)
        more = square * (s2[:, w] * p + 2.0 * s1[:, w] * p1 + s[:, w] * p2)
        return first + added, second + more, of_each + added_i - added[:, None]

    def _numerator(self, n: Numbers) -> tuple[Numbers, Numbers, Numbers]:
        """2 nᵥ² √aᵥ Σ nᵢ √aᵢ lᵢ and its derivatives by mole numbers; and n."""
        s, w = self.root.T, self.rule.water
        c = s * self._differences[0]
        p = (n * c).sum(axis=-1)
        square = 2.0 * s[:, w] * n[:, w] ** 2
        E_i = square[:, None] * c
        E_i[:, w] += 4.0 * s[:, w] * n[:, w] * p
        return square * p, E_i, n.sum(axis=-1)
