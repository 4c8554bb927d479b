"""Viscosity of gases at any pressure by corresponding states (Lucas, Chem. Ing. Tech. 53 (1981) 959; in Poling, Prausnitz and O'Connell, The Properties of Gases and Liquids, 5th ed. (2001), 9-4.16 to 9-4.20 and 9-6.1 to 9-6.12).

    μ° ξ = (0.807 Tr^0.618 - 0.357 exp(-0.449 Tr) + 0.340 exp(-4.058 Tr) + 0.018) F_P F_Q
    ξ = 0.176 (Tc/(M³ Pc⁴))^(1/6)                                 1/μP with K, g/mol, bar

Mixtures have mean critical temperatures, masses and factors, Pc = R Tc Σ x Zc/Σ x Vc. F_P is the polar factor; F_Q, the quantum factor of hydrogen and helium. With pressure Z₁ = μ° ξ
becomes Z₂, and both factors become less.
"""

from __future__ import annotations

import numpy as np

from ..arrays import Array
from ..constants import R
from .constants import TransportConstants

_QUANTUM = {0.002016: 0.76, 0.0040026: 1.38}
"""Of hydrogen and helium, by their molar masses, kg/mol."""


def viscosity(T: Array, P: Array, x: Array, c: TransportConstants) -> Array:
    """Pa s ``(N,)`` at ``T`` and ``P (N,)`` and mole fractions ``x (N, C)``."""
    M, Zc = 1e3 * c.M, c.Pc * c.Vc / (R * c.Tc)
    Tc, mass = x @ c.Tc, x @ M
    Pc = R * Tc * (x @ Zc) / (x @ c.Vc)
    Tr, Pr = T / Tc, P / Pc
    thin = 0.807 * Tr**0.618 - 0.357 * np.exp(-0.449 * Tr) + 0.340 * np.exp(-4.058 * Tr) + 0.018
    polar, quantum = (x * _polar(T, c, Zc)).sum(axis=1), _quantum(T, x, c)
    z1 = thin * polar * quantum
    z2 = np.where(Tr <= 1.0, _below(thin, np.minimum(Tr, 1.0), Pr), _above(z1, np.maximum(Tr, 1.0), Pr))
    y = z2 / z1
    polar_there = (1.0 + (polar - 1.0) / y**3) / polar
    quantum_there = (1.0 + (quantum - 1.0) * (1.0 / y - 0.007 * np.log(y) ** 4)) / quantum
    xi = 0.176 * (Tc / (mass**3 * (1e-5 * Pc) ** 4)) ** (1.0 / 6.0)
    return np.asarray(1e-7 * z2 * polar_there * quantum_there / xi)


def _polar(T: Array, c: TransportConstants, Zc: Array) -> Array:
    """F_P of each component ``(N, C)``."""
    reduced = 52.46 * c.dipole**2 * 1e-5 * c.Pc / c.Tc**2
    strong = 30.55 * np.maximum(0.292 - Zc, 0.0) ** 1.72
    hot = np.abs(0.96 + 0.1 * (T[:, None] / c.Tc - 0.7))
    return np.asarray(1.0 + np.where(reduced < 0.022, 0.0, np.where(reduced < 0.075, strong, strong * hot)))


def _quantum(T: Array, x: Array, c: TransportConstants) -> Array:
    """F_Q of mixtures ``(N,)``."""
    M, Tr = 1e3 * c.M, T[:, None] / c.Tc
    factors = np.ones_like(x)
    for i, mass in enumerate(c.M):
        q = next((q for known, q in _QUANTUM.items() if abs(mass / known - 1.0) < 1e-3), None)
        if q is not None:
            away = Tr[:, i] - 12.0
            factors[:, i] = 1.22 * q**0.15 * (1.0 + 0.00385 * (away**2) ** (1.0 / M[i]) * np.sign(away))
    heavy, light = int(np.argmax(M)), int(np.argmin(M))
    ratio, share = M[heavy] / M[light], x[:, heavy]
    apart = np.where((ratio > 9.0) & (share > 0.05) & (share < 0.7), 1.0 - 0.01 * ratio**0.87, 1.0)
    return np.asarray((x * factors).sum(axis=1) * apart)


def _below(z: Array, Tr: Array, Pr: Array) -> Array:
    """Z₂ below the critical temperature, where a gas is below the critical pressure."""
    Pr = np.minimum(Pr, 1.0)
    alpha, beta = 3.262 + 14.98 * Pr**5.508, 1.390 + 5.746 * Pr
    with np.errstate(all="ignore"):
        return np.maximum(z, 0.600 + 0.760 * Pr**alpha + (6.990 * Pr**beta - 0.6) * (1.0 - Tr))


def _above(z: Array, Tr: Array, Pr: Array) -> Array:
    """Z₂ above it."""
    a = 1.245e-3 / Tr * np.exp(5.1726 * Tr**-0.3286)
    b = a * (1.6553 * Tr - 1.2723)
    c = 0.4489 / Tr * np.exp(3.0578 * Tr**-37.7332)
    d = 1.7368 / Tr * np.exp(2.2310 * Tr**-7.6351)
    f = 0.9425 * np.exp(-0.1853 * Tr**0.4489)
    return np.asarray(z * (1.0 + a * Pr**1.3088 / (b * Pr**f + 1.0 / (1.0 + c * Pr**d))))
