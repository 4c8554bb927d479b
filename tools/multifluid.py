"""Henry's constants of hydrogen and carbon monoxide in light alkanes by a wide-range equation for natural gases.

The reducing functions are those of Kunz and Wagner, J. Chem. Eng. Data 57 (2012) 3032-3091, over equations of the pure fluids: Span and Wagner, Int. J. Thermophys. 24 (2003)
41-109 (alkanes), Leachman, Jacobsen, Penoncello and Lemmon, J. Phys. Chem. Ref. Data 38 (2009) 721-748 (hydrogen), Lemmon and Span, J. Chem. Eng. Data 51 (2006) 785-850
(carbon monoxide). `derive_interactions` takes the parameters of cubic equations from them; all that both need is one gas at infinite dilution in a saturated liquid.
"""

from __future__ import annotations

import functools

import numpy as np
from scipy.optimize import brentq

R = 8.314472
STEP = 1e-25
"""Of derivatives along the imaginary axis, which have no rounding."""

SIMPLE = [(0.25, 1, 0), (1.125, 1, 0), (1.5, 1, 0), (1.375, 2, 0), (0.25, 3, 0), (0.875, 7, 0), (0.625, 2, 1), (1.75, 5, 1), (3.625, 1, 2), (3.625, 4, 2), (14.5, 3, 3),
          (12.0, 4, 3)]  # fmt: skip
"""Exponents of τ and δ, and of δ within exp(-δ^p), of fluids without strong dipoles."""
HYDROGEN = [
    (0.6844, 1, 0),
    (1.0, 4, 0),
    (0.989, 1, 0),
    (0.489, 1, 0),
    (0.803, 2, 0),
    (1.1444, 2, 0),
    (1.409, 3, 0),
    (1.754, 1, 1),
    (1.311, 3, 1),
]
AROUND_A_POINT = [(-0.0211716, 4.187, 2, -1.685, -0.171, 0.7164, 1.506), (0.0226312, 5.646, 1, -0.489, -0.2245, 1.3444, 0.156), (0.032187, 0.791, 3, -0.103, -0.1304, 1.4517, 1.736),
                  (-0.0231752, 7.249, 1, -2.506, -0.2785, 0.7204, 0.67), (0.0557346, 2.986, 1, -1.607, -0.3967, 1.5445, 1.662)]  # fmt: skip
"""Hydrogen's terms n δ^d τ^t exp(φ (δ - D)² + β (τ - γ)²): n, t, d, φ, β, γ, D."""

PURE = {
    "hydrogen": (33.145, 15508.0, [-6.93643, 0.01, 2.1101, 4.52059, 0.732564, -1.34086, 0.130985, -0.777414, 0.351944]),
    "carbon monoxide": (132.86, 10850.0, [0.90554, -2.4515, 0.53149, 0.024173, 0.072156, 0.00018818, 0.19405, -0.043268, -0.12778, -0.027896, -0.034154, 0.016329]),
    "methane": (190.564, 10139.1, [0.89269676, -2.5438282, 0.64980978, 0.020793471, 0.070189104, 0.00023700378, 0.16653334, -0.043855669, -0.15726780, -0.035311675, -0.029570024,
                0.014019842]),
    "ethane": (305.322, 6856.9, [0.97628068, -2.6905251, 0.73498222, -0.035366206, 0.084692031, 0.00024154594, 0.23964954, -0.042780093, -0.22308832, -0.051799954, -0.027178426,
               0.011246305]),
    "propane": (369.825, 5000.04, [1.0403973, -2.8318404, 0.84393810, -0.076559592, 0.094697373, 0.00024796475, 0.27743760, -0.043846001, -0.26991065, -0.069313413, -0.029632146,
                0.014040127]),
    "n-butane": (425.125, 3920.02, [1.0626277, -2.8620952, 0.88738233, -0.12570581, 0.10286309, 0.00025358041, 0.32325200, -0.037950761, -0.32534802, -0.079050969, -0.020636721,
                 0.0057053809]),
}  # fmt: skip
"""Critical temperature, K, and density, mol/m3, and coefficients."""

REDUCING = {
    ("methane", "hydrogen"): (1.0, 1.018702573, 1.0, 1.352643115),
    ("ethane", "hydrogen"): (0.925367171, 1.106072040, 0.932969831, 1.902008495),
    ("propane", "hydrogen"): (1.0, 1.074006110, 1.0, 2.308215191),
    ("n-butane", "hydrogen"): (1.0, 1.232939523, 1.0, 2.509259945),
    ("ethane", "carbon monoxide"): (1.0, 1.201417898, 1.0, 1.069224728),
    ("propane", "carbon monoxide"): (1.0, 1.108143673, 1.0, 1.197564208),
}
"""β and γ of the volumes, then of the temperatures."""
DEPARTURE = {
    ("methane", "hydrogen"): [(-0.25157134971934, 2.0, 1), (-0.0062203841111983, -1.0, 3), (0.088850315184396, 1.75, 3), (-0.035592212573239, 1.4, 4)]
}  # fmt: skip
"""What is added, times both mole fractions: n, exponents of τ and δ."""


def residual(name, delta, tau):
    """The residual Helmholtz energy over RT of a pure fluid."""
    exponents = HYDROGEN if name == "hydrogen" else SIMPLE
    total = sum(
        n * delta**d * tau**t * (np.exp(-(delta**p)) if p else 1.0) for n, (t, d, p) in zip(PURE[name][2], exponents, strict=True)
    )
    if name == "hydrogen":
        total += sum(
            n * delta**d * tau**t * np.exp(f * (delta - at) ** 2 + b * (tau - g) ** 2) for n, t, d, f, b, g, at in AROUND_A_POINT
        )
    return total


def of_mixture(pair, n, V, T):
    """The same of amounts ``n``, mol, of two in a volume, m3."""
    (T1, rho1, _), (T2, rho2, _) = (PURE[name] for name in pair)
    volume_beta, volume_gamma, beta, gamma = REDUCING[pair]
    x, y = n[0] / (n[0] + n[1]), n[1] / (n[0] + n[1])

    def reducing(first, second, mean, b, g):
        return x**2 * first + y**2 * second + 2.0 * x * y * b * g / (b**2 * x + y) * mean

    mean_volume = (rho1 ** (-1.0 / 3.0) + rho2 ** (-1.0 / 3.0)) ** 3 / 8.0
    delta = (n[0] + n[1]) / V * reducing(1.0 / rho1, 1.0 / rho2, mean_volume, volume_beta, volume_gamma)
    tau = reducing(T1, T2, np.sqrt(T1 * T2), beta, gamma) / T
    departure = sum(k * delta**d * tau**t for k, t, d in DEPARTURE.get(pair, ()))
    return (n[0] + n[1]) * (x * residual(pair[0], delta, tau) + y * residual(pair[1], delta, tau) + x * y * departure)


def pressure(name, rho, T):
    """Of a pure fluid, Pa."""
    Tc, rhoc, _ = PURE[name]
    return rho * R * T * (1.0 + rho / rhoc * np.imag(residual(name, rho / rhoc + 1j * STEP, Tc / T)) / STEP)


def ln_phi(name, rho, T):
    """Of a pure fluid."""
    Tc, rhoc, _ = PURE[name]
    Z = pressure(name, rho, T) / (rho * R * T)
    return residual(name, rho / rhoc, Tc / T) + Z - 1.0 - np.log(Z)


def boiling(name, T):
    """Vapor pressure, Pa, and density of the liquid, mol/m3."""
    Tc, rhoc, _ = PURE[name]
    dense = np.linspace(3.2, 1.3, 400) * rhoc
    along = pressure(name, dense, T)
    # Guggenheim's rule is near enough to begin with, and the ratio of fugacities leads on
    P = 0.25 * R * Tc * rhoc * np.exp(5.4 * (1.0 - Tc / T))
    vapor = P / (R * T)
    for _ in range(100):
        i = np.flatnonzero((along[:-1] > P) & (along[1:] <= P))[0]
        liquid = brentq(lambda rho, P=P: pressure(name, rho, T) - P, dense[i + 1], dense[i])
        for _ in range(50):
            step = np.sqrt(P / pressure(name, vapor, T))
            vapor *= step
            if abs(step - 1.0) < 1e-13:
                break
        ratio = np.exp(ln_phi(name, liquid, T) - ln_phi(name, vapor, T))
        P *= ratio
        if abs(ratio - 1.0) < 1e-11:
            break
    return P, liquid


@functools.cache
def ln_henry(solvent, gas, T):
    """ln of Henry's constant, Pa, and the vapor pressure of the solvent, Pa, at which it holds."""
    P, rho = boiling(solvent, T)
    slope = np.imag(of_mixture((solvent, gas), (1.0, 1e-12 + 1j * STEP), 1.0 / rho, T)) / STEP
    return slope + np.log(rho * R * T), P
