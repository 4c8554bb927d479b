"""Viscosity and thermal conductivity of thin gas mixtures from those of the pure gases.

μ = Σ xᵢ μᵢ/Σ xⱼ φᵢⱼ,   φᵢⱼ = (1 + (μᵢ/μⱼ)^½ (Mⱼ/Mᵢ)^¼)²/(8(1 + Mᵢ/Mⱼ))^½       Wilke, J. Chem. Phys. 18 (1950) 517-519
λ = Σ xᵢ λᵢ/Σ xⱼ φᵢⱼ, with the same φᵢⱼ                                           Mason and Saxena, Phys. Fluids 1 (1958) 361-369
"""

from __future__ import annotations

import numpy as np

from ..arrays import Array


def mixed(x: Array, values: Array, viscosities: Array, M: Array) -> Array:
    """``values (N, C)`` of the pure gases, viscosities or conductivities, in mixtures ``x (N, C)``; molar masses ``M (C,)``."""
    ratio, mass = viscosities[:, :, None] / viscosities[:, None, :], M[None, :] / M[:, None]
    phi = (1.0 + np.sqrt(ratio) * mass**0.25) ** 2 / np.sqrt(8.0 * (1.0 + 1.0 / mass))
    return np.asarray((x * values / (x[:, None, :] * phi).sum(axis=2)).sum(axis=1))
