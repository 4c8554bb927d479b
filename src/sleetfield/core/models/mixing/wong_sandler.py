"""Wong and Sandler's mixing rule: the excess Helmholtz energy of an activity model at infinite pressure, and second virial coefficients that are quadratic in composition.

With αᵢ = aᵢ/(bᵢRT), gᴱ the activity model's and q as in Huron and Vidal's rule,

    D = Σ xᵢαᵢ + gᴱ/(qRT),     Q = ΣΣ xᵢxⱼ ½(bᵢ(1 - αᵢ) + bⱼ(1 - αⱼ))(1 - kᵢⱼ(T)),     b = Q/(1 - D),     a = bRT D

The covolume depends on temperature, and there is none where it would be negative: between D = 1 and Q = 0, which are apart once a component is above its Boyle temperature, where αᵢ = 1.

Wong and Sandler, AIChE J. 38 (1992) 671-680; Wong, Orbey and Sandler, Ind. Eng. Chem. Res. 31 (1992) 2033-2039.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

import numpy as np

from ...arrays import Array, Index, Numbers
from ..activity.contract import ActivityModel
from ..attraction import Attraction
from .contract import BoundMixing
from .excess_gibbs import ByActivity, Roots

Kind = TypeVar("Kind", Array, Numbers)


class WongSandler(ByActivity):
    """The rule, with ``q`` of Huron and Vidal's and the interaction parameters of second virial coefficients: ``kij (C, C)`` or ``(K, C, C)``, coefficients of what they are by temperature (`temperature_terms`)."""

    def __init__(
        self, roots_a: Callable[[Array], Roots], b: Array, R: float, activity: ActivityModel, q: float, kij: Array
    ) -> None:
        super().__init__(roots_a, b, R, activity)
        self.q, self.pairs = q, Attraction(kij)

    def at(self, T: Array) -> BoundWongSandler:
        return BoundWongSandler(self, T)


class BoundWongSandler(BoundMixing):
    """The rule at given temperatures; pure components' αᵢ with two derivatives ``(N, C)``.

    Every mixture is (Q, S, B): nQ, nD and nb, of the first degree in mole numbers, with B(1 - S/n) = Q.
    """

    def __init__(self, rule: WongSandler, T: Array) -> None:
        self.rule, self.T = rule, T
        self.activity = rule.activity.at(T)
        self.alpha, self.alpha1, self.alpha2 = rule.reduced_attractions(T)
        self.virial = rule.b * (1.0 - self.alpha)

    def rows(self, index: Index) -> BoundWongSandler:
        return BoundWongSandler(self.rule, self.T[index])

    def attraction(self, n: Array) -> tuple[Array, Array]:
        D, D_i = self._energy(n)
        B, B_i = self._covolume(n, D, D_i)
        S, S_i = _times_total(n, D, D_i)
        RT = self.rule.R * self.T
        return RT * B * S, 0.5 * (RT[:, None] * (B_i * S[:, None] + B[:, None] * S_i)).T

    def covolume(self, n: Array) -> tuple[Array, Array]:
        B, B_i = self._covolume(n, *self._energy(n))
        return B, B_i.T

    def by_temperature(self, n: Array) -> tuple[Array, Array, Array]:
        D, D_i = self._energy(n)
        slope, bend, across = self._energy_by_temperature(n)
        B, B_i = self._covolume(n, D, D_i)
        B_T, B_TT, B_iT = self.covolume_by_temperature(n)
        (S, S_i), (S_T, S_iT) = _times_total(n, D, D_i), _times_total(n, slope, across)
        S_TT = n.sum(axis=-1) * bend
        T, R = self.T, self.rule.R
        # n²a = RT BS
        BS_T, BS_TT = B_T * S + B * S_T, B_TT * S + 2.0 * B_T * S_T + B * S_TT
        BS_i = B_i * S[:, None] + B[:, None] * S_i
        BS_iT = B_iT * S[:, None] + B_i * S_T[:, None] + B_T[:, None] * S_i + B[:, None] * S_iT
        return R * (B * S + T * BS_T), R * (2.0 * BS_T + T * BS_TT), R * (BS_i + T[:, None] * BS_iT)

    def covolume_by_temperature(self, n: Array) -> tuple[Array, Array, Array]:
        D, D_i = self._energy(n)
        D_T, D_TT, D_iT = self._energy_by_temperature(n)
        B, B_i = self._covolume(n, D, D_i)
        Q_T, Q_TT, Q_iT = self._second_virial_by_temperature(n)
        rest = 1.0 - D
        B_T = (Q_T + B * D_T) / rest
        B_TT = (Q_TT + 2.0 * B_T * D_T + B * D_TT) / rest
        B_iT = (Q_iT + B_T[:, None] * D_i + B_i * D_T[:, None] + B[:, None] * D_iT) / rest[:, None]
        return B_T, B_TT, B_iT

    def second(self, n: Numbers) -> tuple[Numbers, Numbers, Numbers]:
        D, D_i, D_ij = self._energy_second(n)
        B, B_i, B_ij = self._covolume_second(n, D, D_i, D_ij)
        S, S_i = _times_total(n, D, D_i)
        S_ij = D_i[:, :, None] + D_i[:, None, :] + n.sum(axis=-1)[:, None, None] * D_ij
        RT, across = self.rule.R * self.T, B_i[:, :, None] * S_i[:, None, :]
        a_ij = B_ij * S[:, None, None] + across + np.swapaxes(across, 1, 2) + B[:, None, None] * S_ij
        return RT * B * S, RT[:, None] * (B_i * S[:, None] + B[:, None] * S_i), RT[:, None, None] * a_ij

    def covolume_second(self, n: Numbers) -> tuple[Numbers, Numbers, Numbers]:
        return self._covolume_second(n, *self._energy_second(n))

    # ---- D, of one mole ----

    def _energy(self, n: Array) -> tuple[Array, Array]:
        total = n.sum(axis=-1)[:, None]
        own = self.alpha + self.activity.ln_gamma((n / total).T).T / self.rule.q
        D = (n * own).sum(axis=-1) / total[:, 0]
        return D, (own - D[:, None]) / total

    def _energy_by_temperature(self, n: Array) -> tuple[Array, Array, Array]:
        total, q = n.sum(axis=-1)[:, None], self.rule.q
        e = self.activity.evaluate((n / total).T)
        own = self.alpha1 + e.dT.T / q
        slope = (n * own).sum(axis=-1) / total[:, 0]
        return slope, (n * self.alpha2).sum(axis=-1) / total[:, 0] + e.g_TT / q, (own - slope[:, None]) / total

    def _energy_second(self, n: Numbers) -> tuple[Numbers, Numbers, Numbers]:
        total, q = n.sum(axis=-1)[:, None], self.rule.q
        e = self.activity.evaluate((n / total).T)
        own = self.alpha + e.ln_gamma.T / q
        D = (n * own).sum(axis=-1) / total[:, 0]
        D_i = (own - D[:, None]) / total
        own_ij = np.moveaxis(e.dn, -1, 0) / (q * total[:, :, None])
        return D, D_i, (own_ij - D_i[:, :, None] - D_i[:, None, :]) / total[:, :, None]

    # ---- nQ ----

    def _second_virial(self, n: Kind) -> tuple[Kind, Kind]:
        """With its derivatives by mole numbers ``(N, C)``."""
        return _quadratic(n, self._joined(n, self.rule.pairs.matrix(self.T), self.virial))

    def _second_virial_by_temperature(self, n: Array) -> tuple[Array, Array, Array]:
        K, (K1, K2) = self.rule.pairs.matrix(self.T), self.rule.pairs.slopes(self.T)
        m, m1, m2 = self.virial, -self.rule.b * self.alpha1, -self.rule.b * self.alpha2
        first = _quadratic(n, self._joined(n, K, m1) + self._joined(n, K1, m))
        bend = self._joined(n, K, m2) + 2.0 * self._joined(n, K1, m1) + self._joined(n, K2, m)
        return first[0], _quadratic(n, bend)[0], first[1]

    @staticmethod
    def _joined(n: Kind, K: Any, m: Array) -> Kind:
        """Σ nⱼ ½(mᵢ + mⱼ)Kᵢⱼ ``(N, C)``."""
        joined: Kind = 0.5 * (m * np.einsum("...ij,...j->...i", K, n) + np.einsum("...ij,...j->...i", K, n * m))
        return joined

    # ---- nb ----

    def _covolume(self, n: Array, D: Array, D_i: Array) -> tuple[Array, Array]:
        Q, Q_i = self._second_virial(n)
        B = Q / (1.0 - D)
        B = np.where(B > 0.0, B, np.nan)
        return B, (Q_i + B[:, None] * D_i) / (1.0 - D)[:, None]

    def _covolume_second(self, n: Numbers, D: Numbers, D_i: Numbers, D_ij: Numbers) -> tuple[Numbers, Numbers, Numbers]:
        total = n.sum(axis=-1)[:, None, None]
        Q, Q_i = self._second_virial(n)
        K, m = self.rule.pairs.matrix(self.T), self.virial
        Q_ij = ((m[:, :, None] + m[:, None, :]) * K - Q_i[:, :, None] - Q_i[:, None, :]) / total
        rest = (1.0 - D)[:, None]
        B = Q / rest[:, 0]
        B = np.where(B.real > 0.0, B, np.nan)
        B_i = (Q_i + B[:, None] * D_i) / rest
        across = B_i[:, :, None] * D_i[:, None, :]
        return B, B_i, (Q_ij + across + np.swapaxes(across, 1, 2) + B[:, None, None] * D_ij) / rest[:, :, None]


def _times_total(n: Kind, D: Kind, D_i: Kind) -> tuple[Kind, Kind]:
    """ND and its derivatives by mole numbers, from those of D."""
    total = n.sum(axis=-1)
    return total * D, D[:, None] + total[:, None] * D_i


def _quadratic(n: Kind, u: Kind) -> tuple[Kind, Kind]:
    """Σ nᵢuᵢ/n of linear u, and its derivatives by mole numbers ``(N, C)``."""
    total = n.sum(axis=-1)
    Q = (n * u).sum(axis=-1) / total
    return Q, (2.0 * u - Q[:, None]) / total[:, None]
