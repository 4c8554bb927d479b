"""Thermal conductivity of liquid mixtures from those of the pure liquids by mass fractions (Filippov, Vest. Mosk. Univ. Ser. Fiz. Mat. Estestv. Nauk 10(8) (1955) 67-69), pair by pair.

λ = Σ wᵢ λᵢ - 0.72 Σ wᵢ wⱼ |λⱼ - λᵢ|,  i < j
"""

from __future__ import annotations

import numpy as np

from ..arrays import Array


def conductivity(x: Array, pure: Array, M: Array) -> Array:
    """W/(m K) ``(N,)`` from mole fractions and the pure liquids' conductivities ``(N, C)``, and molar masses ``(C,)``."""
    w = x * M / (x @ M)[:, None]
    apart = np.abs(pure[:, :, None] - pure[:, None, :])
    return np.asarray((w * pure).sum(axis=1) - 0.36 * (w[:, None] @ apart @ w[:, :, None])[:, 0, 0])
