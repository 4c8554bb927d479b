"""Critical constants and molar mass of petroleum cuts from boiling point and specific gravity.

Three published methods side by side, each a function of Tb (K) and specific gravity (60 °F/60 °F) that returns `Cut`.

- Riazi and Daubert, Ind. Eng. Chem. Res. 26 (1987) 755-759, in the SI form of Riazi, Characterization and Properties of Petroleum
  Fractions, ASTM (2005), eqs. 2.51, 2.56, 2.65, 2.66.
- Kesler and Lee, Hydrocarbon Process. 55 (1976) no. 3, 153-158.
- Twu, Fluid Phase Equilib. 16 (1984) 137-150.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

import numpy as np

from ..arrays import Array
from .acentric_factor import kesler_lee_heavy, lee_kesler

PSI = 6894.757293168


class Cut(NamedTuple):
    """Molar mass, kg/mol; Tc, K; Pc, Pa; each ``(N,)``."""

    molar_mass: Array
    Tc: Array
    Pc: Array


def riazi_daubert(Tb: Array, SG: Array) -> Cut:
    """Riazi and Daubert (1987): 300 to 620 K, molar mass 70 to 300 g/mol (up to 700 with less accuracy)."""
    M = 42.965 * np.exp(2.097e-4 * Tb - 7.78712 * SG + 2.08476e-3 * Tb * SG) * Tb**1.26007 * SG**4.98308
    Tc = 9.5233 * np.exp(-9.314e-4 * Tb - 0.544442 * SG + 6.4791e-4 * Tb * SG) * Tb**0.81067 * SG**0.53691
    Pc = 3.1958e5 * np.exp(-8.505e-3 * Tb - 4.8014 * SG + 5.749e-3 * Tb * SG) * Tb**-0.4844 * SG**4.0846
    return Cut(1e-3 * M, Tc, 1e5 * Pc)


def kesler_lee(Tb: Array, SG: Array) -> Cut:
    """Kesler and Lee (1976): molar mass 60 to 650 g/mol."""
    t = 1.8 * Tb
    M = (
        -12272.6
        + 9486.4 * SG
        + (4.6523 - 3.3287 * SG) * t
        + (1.0 - 0.77084 * SG - 0.02058 * SG**2) * (1.3437 - 720.79 / t) * 1e7 / t
        + (1.0 - 0.80882 * SG + 0.02226 * SG**2) * (1.8828 - 181.98 / t) * 1e12 / t**3
    )
    Tc = 341.7 + 811.0 * SG + (0.4244 + 0.1174 * SG) * t + (0.4669 - 3.2623 * SG) * 1e5 / t
    ln_Pc = (
        8.3634
        - 0.0566 / SG
        - (0.24244 + 2.2898 / SG + 0.11857 / SG**2) * 1e-3 * t
        + (1.4685 + 3.648 / SG + 0.47227 / SG**2) * 1e-7 * t**2
        - (0.42019 + 1.6977 / SG**2) * 1e-10 * t**3
    )
    return Cut(1e-3 * M, Tc / 1.8, PSI * np.exp(ln_Pc))


def twu(Tb: Array, SG: Array) -> Cut:
    """Twu (1984): a perturbation of the n-alkane of the same boiling point, up to 988 K."""
    root = np.sqrt(Tb)
    Tc0 = Tb / (0.533272 + 0.34383e-3 * Tb + 2.52617e-7 * Tb**2 - 1.65848e-10 * Tb**3 + 4.60774e24 * Tb**-13.0)
    a = 1.0 - Tb / Tc0
    Pc0 = (1.00661 + 0.31412 * np.sqrt(a) + 9.16106 * a + 9.5041 * a**2 + 27.35886 * a**4) ** 2
    Vc0 = (0.34602 + 0.30171 * a + 0.93307 * a**3 + 5655.414 * a**14) ** -8
    SG0 = 0.843593 - 0.128624 * a - 3.36159 * a**3 - 13749.5 * a**12

    def perturbed(f: Array) -> Array:
        return np.asarray(((1.0 + 2.0 * f) / (1.0 - 2.0 * f)) ** 2)

    d = np.exp(5.0 * (SG0 - SG)) - 1.0
    Tc = Tc0 * perturbed(d * (-0.27016 / root + (0.0398285 - 0.706691 / root) * d))
    v = np.exp(4.0 * (SG0**2 - SG**2)) - 1.0
    Vc = Vc0 * perturbed(v * (0.347776 / root + (-0.182421 + 2.24890 / root) * v))
    p = np.exp(0.5 * (SG0 - SG)) - 1.0
    first, second = 2.53262 - 34.4321 / root - 2.30193e-3 * Tb, -11.4277 + 187.934 / root + 4.14963e-3 * Tb
    Pc = Pc0 * (Tc / Tc0) * (Vc0 / Vc) * perturbed(p * (first + second * p))
    chi = np.abs(0.012342 - 0.244541 / root)
    ln_M = np.log(_alkane_molar_mass(Tb)) * perturbed(d * (chi + (-0.0175691 + 0.143979 / root) * d))
    return Cut(1e-3 * np.exp(ln_M), Tc, 1e5 * Pc)


def _alkane_molar_mass(Tb: Array) -> Array:
    """Molar mass, g/mol, of the n-alkane that boils at ``Tb``: Twu's implicit equation, by Newton's method."""
    b = np.log(Tb / (5.8 - 0.0052 * Tb))
    for _ in range(50):
        e = np.exp(5.12640 + 2.71579 * b - 0.286590 * b**2 - 39.8544 / b - 0.122488 / b**2)
        f = e - 13.7512 * b + 19.6197 * b**2 - Tb
        slope = e * (2.71579 - 0.573180 * b + 39.8544 / b**2 + 0.244976 / b**3) - 13.7512 + 39.2394 * b
        step = f / slope
        b = b - np.clip(step, -0.5, 0.5)
        if np.abs(step).max() < 1e-12:
            break
    return np.exp(b)


METHODS: dict[str, Callable[[Array, Array], Cut]] = {
    "Riazi-Daubert": riazi_daubert,
    "Kesler-Lee": kesler_lee,
    "Twu": twu,
}
"""The methods by the names of their authors."""


HEAVY = 0.300
"""Molar mass, kg/mol, above which boiling points are by Søreide."""


def boiling_point(molar_mass: Array, SG: Array) -> Array:
    """Tb, K, from molar mass, kg/mol, and specific gravity: Riazi and Daubert (1987), and Søreide above `HEAVY`.

    Søreide, Dr.ing. thesis, Norwegian Institute of Technology (1989), for plus fractions up to 560 g/mol; the two meet within 0.5 %.
    """
    M = 1e3 * molar_mass
    light = 3.76587 * np.exp(3.7741e-3 * M + 2.98404 * SG - 4.25288e-3 * M * SG) * M**0.40167 * SG**-1.58262
    heavy = 1928.3 - 1.695e5 * M**-0.03522 * SG**3.266 * np.exp(-4.922e-3 * M - 4.7685 * SG + 3.462e-3 * M * SG)
    return np.where(molar_mass <= HEAVY, light, heavy / 1.8)


def watson_factor(Tb: Array, SG: Array) -> Array:
    """Watson's characterization factor, (1.8 Tb)^(1/3)/SG (Watson and Nelson, Ind. Eng. Chem. 25 (1933) 880-887)."""
    return np.asarray(np.cbrt(1.8 * Tb) / SG)


def acentric_factor(Tb: Array, SG: Array, Tc: Array, Pc: Array) -> Array:
    """ω of cuts: Lee and Kesler below Tb/Tc = 0.8, Kesler and Lee above."""
    return np.where(Tb / Tc < 0.8, lee_kesler(Tb, Tc, Pc), kesler_lee_heavy(Tb, Tc, watson_factor(Tb, SG)))
