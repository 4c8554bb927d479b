"""Second virial coefficients of polar and associating vapors, from the size, shape and dipole moment of molecules and how they associate.

    B = B_free + B_bound and metastable + B_chem                                           b₀ = (2π/3) N σ³
    B_free  = b₀ (0.94 - 1.47 u - 0.85 u² + 1.015 u³) - b₀ μ*′ (0.74 - 3.0 u + 2.1 u² + 2.1 u³),   u = ε/kT - 1.6 ω′
    B_bound = b₀ A exp(ΔH ε/kT),   A = -0.3 - 0.05 μ*,   ΔH = 1.99 + 0.20 μ*²
    B_chem  = b₀ exp[η (650/(ε/k + 300 K) - 4.27)] (1 - exp(1500 K η/T))
    μ* = μ²/(ε σ³),   μ*′ = μ* below 0.04, 0 below 0.25, μ* - 0.25 from there on

Of a pure substance, with the radius of gyration R in angstrom and P_c in atm:

    ω′ = 0.006 R + 0.02087 R² - 0.00136 R³,   σ′ = (2.44 - ω′)(T_c/P_c)^⅓,   ε′/k = T_c [0.748 + 0.91 ω′ - 0.4 η/(2 + 20 ω′)]

and where μ is 1.45 debye or more, with n = 10 + 400 ω′, c₁ = (n + 6)/n, c₂ = 3/n and ξ = μ⁴/(3 kT_c ε′ σ′⁶ [2.882 - 1.882 ω′/(0.03 + ω′)]),

    ε = ε′ [1 - ξ c₁ (1 - ξ (1 + c₁)/2)],   σ³ = σ′³ (1 + ξ c₂)

Of a pair: ε = 0.7 √(εᵢεⱼ) + 0.6/(1/εᵢ + 1/εⱼ), σ = √(σᵢσⱼ), ω′ the mean, μ² = μᵢμⱼ; where one is without a dipole moment and the other's is 2 debye or
more, ε rises by 1 + ξ′c₁ and σ³ by 1 - ξ′c₂, ξ′ = μᵢ² εⱼ^⅔ σⱼ⁴/(ε σ⁶), ε/k in K, σ in angstrom, μ in debye. Each pair has its η.

Hayden and O'Connell, Ind. Eng. Chem. Process Des. Dev. 14 (1975) 209-216; Prausnitz, Anderson, Grens, Eckert, Hsieh and O'Connell, Computer Calculations for
Multicomponent Vapor-Liquid and Liquid-Liquid Equilibria, Prentice-Hall (1980), chapter 3. Substances with η of 4.5 and more, carboxylic acids, are none of this
equation's: their vapors are `dimers`.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..arrays import Array
from ..constants import ATMOSPHERE, N_AVOGADRO
from .virial import Given, SecondVirial

_FREE = np.array([0.94, -1.47, -0.85, 1.015])
_POLAR = np.array([0.74, -3.0, 2.1, 2.1])
_DIPOLES = 7243.8
"""K angstrom³/debye²: μ²/k over 4π times the permittivity of vacuum."""
_POLAR_FROM, _INDUCING_FROM = 1.45, 2.0
"""Debye."""


class HaydenOConnell(SecondVirial):
    """Second virial coefficients by Hayden and O'Connell.

    Parameters
    ----------
    Tc, Pc : (C,)
        Critical temperature, K, and pressure, Pa.
    radius : (C,)
        Radius of gyration, m.
    dipole : (C,)
        Dipole moment, debye.
    eta : (C, C)
        How strongly pairs associate, zero where they do not.
    given : Given, optional
        Coefficients that are known.
    """

    def __init__(self, Tc: Array, Pc: Array, radius: Array, dipole: Array, eta: Array, given: Given | None = None) -> None:
        super().__init__(len(Tc), given)
        self.Tc, self.Pc, self.radius, self.dipole, self.eta = Tc, Pc, radius, dipole, eta
        self._powers, self._exponentials = self._series()

    def select(self, components: Sequence[int]) -> HaydenOConnell:
        i = np.asarray(components)
        return HaydenOConnell(self.Tc[i], self.Pc[i], self.radius[i], self.dipole[i], self.eta[i[:, None], i], self.given_of(i))

    def correlated(self, T: Array) -> tuple[Array, Array, Array]:
        t = 1.0 / T[:, None, None]
        # by 1/T: a polynomial and some exponentials
        value, first, second = (np.zeros((len(T), self.n_components, self.n_components)) for _ in range(3))
        for k, factor in enumerate(self._powers):
            value += factor * t**k
            first += k * factor * t ** max(k - 1, 0)
            second += k * (k - 1) * factor * t ** max(k - 2, 0)
        for factor, rate in self._exponentials:
            term = factor * np.exp(rate * t)
            value += term
            first += rate * term
            second += rate**2 * term
        return value, -(t**2) * first, t**4 * second + 2.0 * t**3 * first

    def _series(self) -> tuple[Array, list[tuple[Array, Array]]]:
        """What powers of 1/T are multiplied by ``(4, C, C)``, and factor and rate of each exponential of 1/T, ``(C, C)`` each."""
        shape, cube, energy = self._of_pairs()
        moment = _DIPOLES * self.dipole[:, None] * self.dipole / (cube * energy)
        effective = np.where(moment < 0.04, moment, np.maximum(moment - 0.25, 0.0))
        volume = 2.0 / 3.0 * np.pi * N_AVOGADRO * 1e-30 * cube
        # polynomials in ε/kT - 1.6 ω′ become such in 1/T
        in_u = volume * (_FREE[:, None, None] - effective * _POLAR[:, None, None])
        powers = np.zeros_like(in_u)
        for k in range(4):
            for j in range(k + 1):
                powers[j] += _BINOMIAL[k][j] * in_u[k] * (-1.6 * shape) ** (k - j) * energy**j
        chemical = volume * np.exp(self.eta * (650.0 / (energy + 300.0) - 4.27)) * (self.eta > 0.0)
        powers[0] += chemical
        bound = volume * (-0.3 - 0.05 * moment)
        return powers, [(bound, (1.99 + 0.2 * moment**2) * energy), (-chemical, 1500.0 * self.eta)]

    def _of_pairs(self) -> tuple[Array, Array, Array]:
        """ω′, σ³ (cubic angstrom) and ε/k (K) of every pair ``(C, C)``."""
        R, mu, Tc = 1e10 * self.radius, self.dipole, self.Tc
        shape = 0.006 * R + 0.02087 * R**2 - 0.00136 * R**3
        cube = (2.44 - shape) ** 3 * Tc * ATMOSPHERE / self.Pc
        energy = Tc * (0.748 + 0.91 * shape - 0.4 * np.diag(self.eta) / (2.0 + 20.0 * shape))
        bracket = 2.882 - 1.882 * shape / (0.03 + shape)
        xi = np.where(mu >= _POLAR_FROM, _DIPOLES**2 * mu**4 / (3.0 * bracket * Tc * energy * cube**2), 0.0)
        c1, c2 = _steepness(shape)
        cube, energy = cube * (1.0 + xi * c2), energy * (1.0 - xi * c1 * (1.0 - 0.5 * xi * (1.0 + c1)))
        return self._mixed(shape, cube, energy)

    def _mixed(self, shape: Array, cube: Array, energy: Array) -> tuple[Array, Array, Array]:
        """Those of pairs, from those of the pure substances ``(C,)``."""
        shapes = 0.5 * (shape[:, None] + shape)
        energies = 0.7 * np.sqrt(energy[:, None] * energy) + 0.6 / (1.0 / energy[:, None] + 1.0 / energy)
        cubes = np.sqrt(cube[:, None] * cube)
        inducing = (self.dipole[:, None] >= _INDUCING_FROM) & (self.dipole == 0.0)
        xi = np.where(
            inducing, self.dipole[:, None] ** 2 * energy ** (2.0 / 3.0) * cube ** (4.0 / 3.0) / (energies * cubes**2), 0.0
        )
        xi = xi + xi.T
        c1, c2 = _steepness(shapes)
        return shapes, cubes * (1.0 - xi * c2), energies * (1.0 + xi * c1)


_BINOMIAL = ((1,), (1, 1), (1, 2, 1), (1, 3, 3, 1))


def _steepness(shape: Array) -> tuple[Array, Array]:
    """c₁ and c₂, from the steepness of the repulsion."""
    n = 10.0 + 400.0 * shape
    return (n + 6.0) / n, 3.0 / n
