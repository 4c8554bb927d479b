"""Viscosity and thermal conductivity of gases and dense vapors (Chung, Ajlan, Lee and Starling, Ind. Eng. Chem. Res. 27 (1988) 671-679).

    μ = 36.344 √(M Tc)/Vc^(2/3) [ √T* F/Ω (1/G₂ + E₆ y) + μ** ]        μP, g/mol, K, cm3/mol
    λ = 31.2 μ° Ψ/M (1/G₂ + B₆ y) + q B₇ y² √Tr G₂                     W/(m K)

y = ρ Vc/6 is how densely the molecules stand; at y = 0 both are those of the thin gas. Mixtures are one fluid with mean size, energy, mass, acentric factor and dipole
moment. What density adds is that of a fluid without dipole: in mixtures of polar with light gases the polar terms of E and B have poles.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ..arrays import Array
from ..constants import R
from .constants import TransportConstants

_E = np.array([
    [6.324, 50.412], [1.210e-3, -1.154e-3], [5.283, 254.209], [6.623, 38.096], [19.745, 7.630], [-1.900, -12.537], [24.275, 3.450],
    [0.7972, 1.117], [-0.2382, 0.0677], [0.06863, 0.3479],
])  # fmt: skip
_B = np.array([
    [2.4166, 0.74824], [-0.50924, -1.5094], [6.6107, 5.6207], [14.543, -8.9139], [0.79274, 0.82019], [-5.8634, 12.801], [91.089, 128.11],
])  # fmt: skip


class OneFluid(NamedTuple):
    """The fluid that a mixture is taken for ``(N,)``: g/mol, K, cm3/mol, acentric factor, reduced dipole moment to the fourth, association factor."""

    M: Array
    Tc: Array
    Vc: Array
    omega: Array
    dipole4: Array
    association: Array


def one_fluid(x: Array, c: TransportConstants) -> OneFluid:
    """Mean constants of mixtures ``x (N, C)``."""
    M, sigma, epsilon = 1e3 * c.M, 0.809 * (1e6 * c.Vc) ** (1.0 / 3.0), c.Tc / 1.2593
    s, e = np.sqrt(np.outer(sigma, sigma)), np.sqrt(np.outer(epsilon, epsilon))
    w, m = 0.5 * np.add.outer(c.omega, c.omega), 2.0 * np.outer(M, M) / np.add.outer(M, M)
    k, d = np.sqrt(np.outer(c.association, c.association)), np.outer(c.dipole**2, c.dipole**2)

    pairs = np.stack([s**3, e * s**3, e * s**2 * np.sqrt(m), d / s**3, w * s**3, k])
    size3, energy, mass, dipole, shape, association = ((x @ pairs) * x).sum(axis=2)
    energy /= size3
    mass = (mass / (energy * size3 ** (2.0 / 3.0))) ** 2
    Vc, Tc = size3 / 0.809**3, 1.2593 * energy
    dipole4 = 131.3**4 * size3 * dipole / (Vc * Tc) ** 2
    return OneFluid(mass, Tc, Vc, shape / size3, dipole4, association)


def each_alone(c: TransportConstants) -> OneFluid:
    """The constants of the pure fluids ``(C,)``, which are what `one_fluid` makes of each."""
    Vc = 1e6 * c.Vc
    return OneFluid(1e3 * c.M, c.Tc, Vc, c.omega, (131.3 * c.dipole) ** 4 / (Vc * c.Tc) ** 2, c.association)


def _collisions(T: Array) -> Array:
    """The collision integral of viscosity at reduced temperatures (Neufeld, Janzen and Aziz, J. Chem. Phys. 57 (1972) 1100)."""
    return np.asarray(1.16145 * T**-0.14874 + 0.52487 * np.exp(-0.7732 * T) + 2.16178 * np.exp(-2.43787 * T))


def _thin(T: Array, f: OneFluid) -> Array:
    """Viscosity of the thin gas, μP."""
    t = 1.2593 * T / f.Tc
    form = 1.0 - 0.2756 * f.omega + 0.059035 * f.dipole4 + f.association
    return np.asarray(40.785 * form * np.sqrt(f.M * T) / (f.Vc ** (2.0 / 3.0) * _collisions(t)))


def _of_shape(table: Array, f: OneFluid) -> Array:
    """Coefficients ``(K, N)`` for the fluids' shapes; below an acentric factor of zero they are a ball's."""
    return np.asarray(table @ np.stack([np.ones_like(f.omega), np.maximum(f.omega, 0.0)]))


def _dense(k: Array, y: Array) -> Array:
    """G₂ ``(N,)``; 1 in the thin gas."""
    g1 = (1.0 - 0.5 * y) / (1.0 - y) ** 3
    with np.errstate(all="ignore"):
        first = np.where(y > 0.0, k[0] * -np.expm1(-k[3] * y) / np.where(y > 0.0, y, 1.0), k[0] * k[3])
    return np.asarray((first + k[1] * g1 * np.exp(k[4] * y) + k[2] * g1) / (k[0] * k[3] + k[1] + k[2]))


def viscosity(T: Array, rho: Array, x: Array, c: TransportConstants) -> Array:
    """Pa s ``(N,)`` at ``T (N,)``, mol/m3 ``rho (N,)`` and mole fractions ``x (N, C)``."""
    return _viscosity(T, rho, one_fluid(x, c))


def thin_viscosities(T: Array, c: TransportConstants) -> Array:
    """Of the thin pure gases, Pa s ``(N, C)``."""
    return _viscosity(T[:, None], np.zeros(1), each_alone(c))


def conductivity(T: Array, rho: Array, x: Array, c: TransportConstants, Cv: Array) -> Array:
    """W/(m K) ``(N,)``; ``Cv (N,)`` is that of the ideal gas, J/(mol K)."""
    return _conductivity(T, rho, one_fluid(x, c), Cv)


def thin_conductivities(T: Array, c: TransportConstants, Cv: Array) -> Array:
    """Of the thin pure gases, W/(m K) ``(N, C)``, as ``Cv`` is of each."""
    return _conductivity(T[:, None], np.zeros(1), each_alone(c), Cv)


def _viscosity(T: Array, rho: Array, f: OneFluid) -> Array:
    y = 1e-6 * rho * f.Vc / 6.0
    E, t = _of_shape(_E, f), 1.2593 * T / f.Tc
    g2 = _dense(E, y)
    further = E[6] * y**2 * g2 * np.exp(E[7] + E[8] / t + E[9] / t**2)
    scale = 36.344 * np.sqrt(f.M * f.Tc) / f.Vc ** (2.0 / 3.0)
    return np.asarray(1e-7 * (_thin(T, f) * (1.0 / g2 + E[5] * y) + scale * further))


def _conductivity(T: Array, rho: Array, f: OneFluid, Cv: Array) -> Array:
    y = 1e-6 * rho * f.Vc / 6.0
    B, Tr = _of_shape(_B, f), T / f.Tc
    alpha, beta, Z = Cv / R - 1.5, 0.7862 - 0.7109 * f.omega + 1.3168 * f.omega**2, 2.0 + 10.5 * Tr**2
    psi = 1.0 + alpha * (0.215 + 0.28288 * alpha - 1.061 * beta + 0.26665 * Z) / (0.6366 + beta * Z + 1.061 * alpha * beta)
    q = 3.586e-3 * np.sqrt(f.Tc / (1e-3 * f.M)) / f.Vc ** (2.0 / 3.0)
    g2 = _dense(B, y)
    thin = 31.2 * 1e-7 * _thin(T, f) * psi / (1e-3 * f.M)
    return np.asarray(thin * (1.0 / g2 + B[5] * y) + q * B[6] * y**2 * np.sqrt(Tr) * g2)
