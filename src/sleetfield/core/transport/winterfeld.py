"""Surface tension of liquid mixtures from those of the pure liquids by their shares of the volume (Winterfeld, Scriven and Davis, AIChE J. 24 (1978) 1010-1014).

σ = Σ Σ (xᵢ/ρᵢ)(xⱼ/ρⱼ) (σᵢ σⱼ)^½/(Σ xᵢ/ρᵢ)²
"""

from __future__ import annotations

import numpy as np

from ..arrays import Array


def surface_tension(x: Array, pure: Array, density: Array) -> Array:
    """N/m ``(N,)`` from mole fractions, the pure liquids' surface tensions and molar densities ``(N, C)``."""
    volumes = np.where(x > 0.0, x / density, 0.0)
    root = np.where(x > 0.0, volumes * np.sqrt(np.maximum(pure, 0.0)), 0.0).sum(axis=1) / volumes.sum(axis=1)
    return np.asarray(root**2)
