"""Viscosity and thermal conductivity of water and steam (IAPWS R12-08 and R15-11, both without their terms for the critical region).

    μ = √T̄ 10⁻⁴/(Σ Hᵢ/T̄ⁱ) exp[ρ̄ Σ Σ (1/T̄ - 1)ⁱ Hᵢⱼ (ρ̄ - 1)ʲ]           Pa s
    λ = √T̄ 10⁻³/(Σ Lᵢ/T̄ⁱ) exp[ρ̄ Σ Σ (1/T̄ - 1)ⁱ Lᵢⱼ (ρ̄ - 1)ʲ]           W/(m K)

T̄ = T/647.096 K, ρ̄ = ρ/(322 kg/m3).
"""

from __future__ import annotations

import numpy as np

from ..arrays import Array

_T, _RHO = 647.096, 322.0
_H = (1.67752, 2.20462, 0.6366564, -0.241605)
_L = (2.443221e-3, 1.323095e-2, 6.770357e-3, -3.454586e-3, 4.096266e-4)
_HIJ = np.array([
    [0.520094, 0.222531, -0.281378, 0.161913, -0.0325372, 0.0, 0.0],
    [0.0850895, 0.999115, -0.906851, 0.257399, 0.0, 0.0, 0.0],
    [-1.08374, 1.88797, -0.772479, 0.0, 0.0, 0.0, 0.0],
    [-0.289555, 1.26613, -0.489837, 0.0, 0.0698452, 0.0, -0.00435673],
    [0.0, 0.0, -0.257040, 0.0, 0.0, 0.00872102, 0.0],
    [0.0, 0.120573, 0.0, 0.0, 0.0, 0.0, -0.000593264],
])  # fmt: skip
_LIJ = np.array([
    [1.60397357, -0.646013523, 0.111443906, 0.102997357, -0.0504123634, 0.00609859258],
    [2.33771842, -2.78843778, 1.53616167, -0.463045512, 0.0832827019, -0.00719201245],
    [2.19650529, -4.54580785, 3.55777244, -1.40944978, 0.275418278, -0.0205938816],
    [-1.21051378, 1.60812989, -0.621178141, 0.0716373224, 0.0, 0.0],
    [-2.7203370, 4.57586331, -3.18369245, 1.1168348, -0.19268305, 0.012913842],
])  # fmt: skip


def _of(T: Array, density: Array, thin: tuple[float, ...], dense: Array) -> Array:
    t, rho = T / _T, density / _RHO
    return np.asarray(
        np.sqrt(t)
        / np.polynomial.polynomial.polyval(1.0 / t, thin)
        * np.exp(rho * np.polynomial.polynomial.polyval2d(1.0 / t - 1.0, rho - 1.0, dense))
    )


def viscosity(T: Array, density: Array) -> Array:
    """Pa s ``(N,)`` at ``T (N,)`` and kg/m3 ``density (N,)``."""
    return np.asarray(1e-4 * _of(T, density, _H, _HIJ))


def conductivity(T: Array, density: Array) -> Array:
    """W/(m K) ``(N,)``."""
    return np.asarray(1e-3 * _of(T, density, _L, _LIJ))
