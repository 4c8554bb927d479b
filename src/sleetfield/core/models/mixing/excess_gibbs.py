"""Mixing rules that give an equation of state the excess Gibbs energy of an activity model.

With αᵢ = aᵢ/(bᵢRT), b = Σ xᵢbᵢ and gᴱ the activity model's,

    q₁α + q₂α² = q₁ Σ xᵢαᵢ + q₂ Σ xᵢαᵢ² + gᴱ/RT + s Σ xᵢ ln(b/bᵢ),     n²a = nb RT nα

- **HV**: at infinite pressure, q₁ = -ln[(1 + δ₁)/(1 + δ₂)]/(δ₁ - δ₂), q₂ = s = 0. Huron and Vidal, Fluid Phase Equilib. 3 (1979) 255-271.
- **MHV1**, **MHV2**: at zero pressure, to the first and second order, s = 1. Michelsen, Fluid Phase Equilib. 60 (1990) 213-219; Dahl and Michelsen, AIChE J. 36 (1990) 1829-1836;
  for Peng and Robinson's equation Huang and Sandler, Ind. Eng. Chem. Res. 32 (1993) 1498-1503.
- **PSRK**: at the pressure of the atmosphere, q₁ = -0.64663, s = 1. Holderbaum and Gmehling, Fluid Phase Equilib. 70 (1991) 251-265.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

import numpy as np

from ...arrays import Array, Index, Numbers
from ...compiled.cubic_loops import Excess
from ...compiled.pair_loops import MOST_TERMS
from ..activity.contract import ActivityModel
from .contract import LinearCovolume, MixingRule

Roots = tuple[Array, Array, Array]


class Reference(NamedTuple):
    """Where both excess Gibbs energies are the same: q₁, q₂ and s."""

    q1: float
    q2: float = 0.0
    s: float = 1.0


class ByActivity(MixingRule):
    """What rules with an activity model have in common.

    Parameters
    ----------
    roots_a : callable
        √aᵢ and its first two derivatives by temperature ``(N, C)``.
    b : (C,)
        Covolumes, m3/mol.
    R : float
        J/(mol K).
    activity : ActivityModel
    """

    def __init__(self, roots_a: Callable[[Array], Roots], b: Array, R: float, activity: ActivityModel) -> None:
        self.roots_a, self.b, self.R, self.activity = roots_a, b, R, activity

    def reduced_attractions(self, T: Array) -> Roots:
        """The αᵢ of pure components and their first two derivatives by temperature ``(N, C)``."""
        (root, root1, root2), t, bR = self.roots_a(T), T[:, None], self.b * self.R
        a, a1, a2 = root * root, 2.0 * root * root1, 2.0 * (root1 * root1 + root * root2)
        return a / (bR * t), (a1 - a / t) / (bR * t), (a2 - 2.0 * a1 / t + 2.0 * a / t**2) / (bR * t)


class ExcessGibbs(ByActivity):
    """The rule, with a ``reference``."""

    linear_covolume = True

    def __init__(
        self, roots_a: Callable[[Array], Roots], b: Array, R: float, activity: ActivityModel, reference: Reference
    ) -> None:
        super().__init__(roots_a, b, R, activity)
        self.reference = reference

    def at(self, T: Array) -> BoundExcessGibbs:
        return BoundExcessGibbs(self, T)

    def plain(self) -> Excess | None:
        terms = self.activity.plain_terms()
        return None if terms is None or len(terms) > MOST_TERMS else Excess(*self.reference, terms)


class BoundExcessGibbs(LinearCovolume):
    """The rule at given temperatures; pure components' αᵢ with two derivatives ``(N, C)``."""

    def __init__(self, rule: ExcessGibbs, T: Array) -> None:
        self.rule, self.T = rule, T
        self.activity = rule.activity.at(T)
        self.alpha, self.alpha1, self.alpha2 = rule.reduced_attractions(T)

    def rows(self, index: Index) -> BoundExcessGibbs:
        return BoundExcessGibbs(self.rule, self.T[index])

    def _pure(self) -> Array:
        """What each pure component adds to q₁α + q₂α² ``(N, C)``."""
        q1, q2, _ = self.rule.reference
        return np.asarray((q1 + q2 * self.alpha) * self.alpha)

    def _solved(self, r: Numbers) -> tuple[Numbers, Numbers, Numbers]:
        """α from q₁α + q₂α² = r, and its first two derivatives by r."""
        q1, q2, _ = self.rule.reference
        if q2 == 0.0:
            return r / q1, np.full_like(r, 1.0 / q1), np.zeros_like(r)
        root = np.sqrt(q1 * q1 + 4.0 * q2 * r)
        # the smaller one, which is 1/q₁ r where r is small; q₁ is negative
        return -2.0 * r / (root - q1), -1.0 / root, 2.0 * q2 / root**3

    def _sizes(self, n: Numbers, total: Numbers) -> Numbers:
        """Derivatives of Σ nᵢ ln(b/bᵢ) by mole numbers ``(N, C)``, without s."""
        b = self.rule.b
        mean = ((n @ b) / total)[:, None]
        return np.asarray(np.log(mean / b) + b / mean - 1.0)

    def _rho(self, n: Numbers, ln_gamma: Numbers, total: Numbers) -> Numbers:
        """Derivatives of n(q₁α + q₂α²) by mole numbers ``(N, C)``."""
        rho_i = self._pure() + ln_gamma
        return rho_i + self.rule.reference.s * self._sizes(n, total) if self.rule.reference.s else rho_i

    def attraction(self, n: Array) -> tuple[Array, Array]:
        total, B, RT = n.sum(axis=-1), n @ self.rule.b, self.rule.R * self.T
        rho_i = self._rho(n, self.activity.ln_gamma((n / total[:, None]).T).T, total)
        r = (n * rho_i).sum(axis=-1) / total
        alpha, slope, _ = self._solved(r)
        D, D_i = total * alpha, alpha[:, None] + slope[:, None] * (rho_i - r[:, None])
        half = 0.5 * RT[:, None] * (self.rule.b * D[:, None] + B[:, None] * D_i)
        return RT * B * D, half.T

    def by_temperature(self, n: Array) -> tuple[Array, Array, Array]:
        q1, q2, _ = self.rule.reference
        total, B, R, T, b = n.sum(axis=-1), n @ self.rule.b, self.rule.R, self.T, self.rule.b
        e = self.activity.evaluate((n / total[:, None]).T)
        rho_i = self._rho(n, e.ln_gamma.T, total)
        rho_iT = (q1 + 2.0 * q2 * self.alpha) * self.alpha1 + e.dT.T
        bent = (q1 + 2.0 * q2 * self.alpha) * self.alpha2 + 2.0 * q2 * self.alpha1**2
        r, r_T = (n * rho_i).sum(axis=-1) / total, (n * rho_iT).sum(axis=-1) / total
        r_TT = (n * bent).sum(axis=-1) / total + e.g_TT
        alpha, slope, curve = self._solved(r)
        D, D_T, D_TT = total * alpha, total * slope * r_T, total * (curve * r_T**2 + slope * r_TT)
        D_i = alpha[:, None] + slope[:, None] * (rho_i - r[:, None])
        D_iT = (slope * r_T)[:, None] + (curve * r_T)[:, None] * (rho_i - r[:, None]) + slope[:, None] * (rho_iT - r_T[:, None])
        first, second = R * B * (D + T * D_T), R * B * (2.0 * D_T + T * D_TT)
        own, rest = b * D[:, None] + B[:, None] * D_i, b * D_T[:, None] + B[:, None] * D_iT
        return first, second, R * (own + T[:, None] * rest)

    def second(self, n: Numbers) -> tuple[Numbers, Numbers, Numbers]:
        total, B, RT, b = n.sum(axis=-1), n @ self.rule.b, self.rule.R * self.T, self.rule.b
        e = self.activity.evaluate((n / total[:, None]).T)
        rho_i = self._rho(n, e.ln_gamma.T, total)
        rho_ij = np.moveaxis(e.dn, -1, 0) / total[:, None, None]
        if self.rule.reference.s:
            share = b / B[:, None]
            apart = share[:, :, None] + share[:, None, :] - total[:, None, None] * share[:, :, None] * share[:, None, :]
            rho_ij = rho_ij + self.rule.reference.s * (apart - (1.0 / total)[:, None, None])
        r = (n * rho_i).sum(axis=-1) / total
        alpha, slope, curve = self._solved(r)
        off = rho_i - r[:, None]
        D, D_i = total * alpha, alpha[:, None] + slope[:, None] * off
        D_ij = (curve / total)[:, None, None] * off[:, :, None] * off[:, None, :] + slope[:, None, None] * rho_ij
        a_i = RT[:, None] * (b * D[:, None] + B[:, None] * D_i)
        across = b[:, None] * D_i[:, None, :]
        return RT * B * D, a_i, RT[:, None, None] * (across + np.swapaxes(across, 1, 2) + B[:, None, None] * D_ij)
