"""Surface tension of mixtures by parachors (Weinaug and Katz, Ind. Eng. Chem. 35 (1943) 239-246, after Macleod and Sugden).

    σ^(1/4) = Σ Pᵢ (ρ_L xᵢ - ρ_V yᵢ)

A parachor is σ^(1/4) over the density, mol/m3, of the pure liquid at its own known surface tension.
"""

from __future__ import annotations

import numpy as np

from ..arrays import Array


def parachors(sigma: Array, density: Array) -> Array:
    """From surface tensions, N/m, and densities of pure liquids far below their critical points, mol/m3."""
    return np.asarray(sigma**0.25 / density)


def surface_tension(P: Array, x: Array, rho_liquid: Array, y: Array, rho_vapor: Array) -> Array:
    """N/m ``(N,)`` between liquids ``x (N, C)`` and vapors ``y (N, C)`` of molar densities ``(N,)``."""
    root = ((x * rho_liquid[:, None] - y * rho_vapor[:, None]) * P).sum(axis=1)
    return np.asarray(np.maximum(root, 0.0) ** 4)
