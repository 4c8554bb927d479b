"""Viscosity of hydrocarbon fluids, gas or liquid, from methane's at corresponding states (Pedersen and Fredenslund, Chem. Eng. Sci. 42 (1987) 182-186).

    μ(T, P) = (Tc/Tc°)^(-1/6) (Pc/Pc°)^(2/3) (M/M°)^(1/2) (α/α°) μ°(T°, P°),   T° = T Tc° α°/(Tc α),   P° = P Pc° α°/(Pc α)
    α = 1 + 0.007378 ρr^1.847 M^0.5173,   α° = 1 + 0.031 ρr^1.847,   ρr methane's reduced density at T Tc°/Tc and P Pc°/Pc
    M = 1.304·10⁻⁴ (Mw^2.303 - Mn^2.303) + Mn,   Mw and Mn the means by mass and by number, g/mol

Tc and Pc are mixed over all pairs with weights ((Tc/Pc)ᵢ^(1/3) + (Tc/Pc)ⱼ^(1/3))³. Methane's viscosity is the equation of Hanley, McCarty and Haynes (Cryogenics 15 (1975) 413-417), and below
its melting point, where heavy liquids correspond to it, the one that Pedersen and Fredenslund give.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ..arrays import Array
from .constants import TransportConstants

_TC, _PC, _M, _RHO_C = 190.555, 4.595e6, 16.043, 0.16284
"""Methane's, K, Pa, g/mol and g/cm3, as these equations have them."""
_THIN = (-2.090975e5, 2.647269e5, -1.472818e5, 4.716740e4, -9.491872e3, 1.219979e3, -9.627993e1, 4.274152, -8.141531e-2)
_FIRST = (1.696985927, -0.133372346, 1.4, 168.0)
_DENSE = (-10.3506, 17.5716, -3019.39, 188.730, 0.0429036, 145.290, 6127.68)
_COLD = (-9.74602, 18.0834, -4126.66, 44.6055, 0.976544, 81.8134, 15649.9)
_FREEZES = 91.0
_DENSEST, _COLDEST = 60.0, 30.0
"""K; colder methane has no density by its reference equation, and keeps that; far colder its viscosity means nothing."""
_UNIT = 1e-7
"""10⁻⁴ cP in Pa s."""

Density = Callable[[Array, Array], Array]
"""Of methane, mol/m3 ``(N,)``, by temperature and pressure."""


def of_methane(T: Array, rho: Array) -> Array:
    """Its viscosity, Pa s ``(N,)``, at mol/m3 ``rho (N,)``."""
    density = 1e-6 * _M * rho
    thin = np.polynomial.polynomial.polyval(T ** (1.0 / 3.0), _THIN) / T
    a, b, c, f = _FIRST
    first = (a + b * (c - np.log(T / f)) ** 2) * density
    share = 0.5 * (1.0 + np.tanh(T - _FREEZES))
    return np.asarray(_UNIT * (thin + first + share * _excess(_DENSE, T, density) + (1.0 - share) * _excess(_COLD, T, density)))


def _excess(j: tuple[float, ...], T: Array, density: Array) -> Array:
    above = (density - _RHO_C) / _RHO_C
    inner = density**0.1 * (j[1] + j[2] / T**1.5) + above * np.sqrt(density) * (j[4] + j[5] / T + j[6] / T**2)
    return np.asarray(np.exp(j[0] + j[3] / T) * (np.exp(inner) - 1.0))


def viscosity(T: Array, P: Array, x: Array, c: TransportConstants, density: Density) -> Array:
    """Pa s ``(N,)`` at ``T (N,)``, ``P (N,)`` and mole fractions ``x (N, C)``, with methane's ``density``; NaN where it corresponds to methane colder than 30 K."""
    M = 1e3 * c.M
    size = np.cbrt(c.Tc / c.Pc)
    weight = x[:, :, None] * x[:, None, :] * (size[:, None] + size) ** 3
    total, by_T = weight.sum(axis=(1, 2)), (weight * np.sqrt(np.outer(c.Tc, c.Tc))).sum(axis=(1, 2))
    Tc, Pc = by_T / total, 8.0 * by_T / total**2
    number = x @ M
    mass = (x @ M**2) / number
    mean = 1.304e-4 * (mass**2.303 - number**2.303) + number
    reduced = (1e-6 * _M * density(T * _TC / Tc, P * _PC / Pc) / _RHO_C) ** 1.847
    alpha, own = 1.0 + 7.378e-3 * reduced * mean**0.5173, 1.0 + 0.031 * reduced
    T_methane, P_methane = T * _TC / Tc * own / alpha, P * _PC / Pc * own / alpha
    scale = (Tc / _TC) ** (-1.0 / 6.0) * (Pc / _PC) ** (2.0 / 3.0) * np.sqrt(mean / _M) * alpha / own
    found = scale * of_methane(T_methane, density(np.maximum(T_methane, _DENSEST), P_methane))
    return np.asarray(np.where(T_methane < _COLDEST, np.nan, found))
