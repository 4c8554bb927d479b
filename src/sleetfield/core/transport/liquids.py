"""Viscosity and thermal conductivity of liquid mixtures from those of the pure liquids.

ln μ = Σ xᵢ ln μᵢ                                         Grunberg and Nissan, Nature 164 (1949) 799, without interactions
λ = Σ Σ φᵢ φⱼ 2/(1/λᵢ + 1/λⱼ),  φ volume fractions        Li, AIChE J. 22 (1976) 927-930
μ ξ = f₀(Tr) + ω f₁(Tr) cP, Tr 0.76 to 0.98               Letsou and Stiel, AIChE J. 19 (1973) 409-411, of a pure liquid that nothing else is known of
"""

from __future__ import annotations

import numpy as np

from ..arrays import Array
from ..constants import ATMOSPHERE
from .constants import TransportConstants

LETSOU_STIEL = 0.76, 0.98
"""Reduced temperatures that the estimate is for."""


def grunberg_nissan(x: Array, pure: Array) -> Array:
    """Pa s ``(N,)`` from mole fractions and the pure liquids' viscosities ``(N, C)``."""
    return np.asarray(np.exp(np.where(x > 0.0, x * np.log(pure), 0.0).sum(axis=1)))


def li(x: Array, pure: Array, volumes: Array) -> Array:
    """W/(m K) ``(N,)`` from mole fractions, the pure liquids' conductivities and molar volumes ``(N, C)``."""
    phi = x * volumes
    phi /= phi.sum(axis=1, keepdims=True)
    own = phi * pure
    total = (phi * own).sum(axis=1)
    for i in range(x.shape[1] - 1):
        # each pair twice, 2/(1/λ + 1/λ') = 2 λ λ'/(λ + λ')
        total += 4.0 * own[:, i] * (own[:, i + 1 :] / (pure[:, i : i + 1] + pure[:, i + 1 :])).sum(axis=1)
    return np.asarray(total)


def letsou_stiel(T: Array, c: TransportConstants) -> Array:
    """Pa s ``(N, C)`` of the pure liquids; at the ends of its range outside of it."""
    Tr = np.clip(T[:, None] / c.Tc, *LETSOU_STIEL)
    of_form = 0.015174 - 0.02135 * Tr + 0.0075 * Tr**2 + c.omega * (0.042552 - 0.07674 * Tr + 0.0340 * Tr**2)
    xi = c.Tc ** (1.0 / 6.0) / (np.sqrt(1e3 * c.M) * (c.Pc / ATMOSPHERE) ** (2.0 / 3.0))
    return np.asarray(1e-3 * of_form / xi)
