"""Water as the solvent of ions, from 0 to 100 °C beside its own vapor or 1 atm: density, dielectric constant, vapor pressure, Debye and Hückel's constant."""

from __future__ import annotations

import numpy as np

from ..arrays import Array
from ..constants import BOLTZMANN, ELEMENTARY_CHARGE, N_AVOGADRO, VACUUM_PERMITTIVITY

_KELL = 999.83952, 16.945176, -7.9870401e-3, -46.170461e-6, 105.56302e-9, -280.54253e-12
_KELL_BELOW = 16.879850e-3
_DIELECTRIC = 3.4279e2, -5.0866e-3, 9.4690e-7, -2.0525, 3.1159e3, -1.8289e2, -8.0325e3, 4.2142e6, 2.1417
_WAGNER = ((1.0, -7.85951783), (1.5, 1.84408259), (3.0, -11.7866497), (3.5, 22.6807411), (4.0, -15.9618719), (7.5, 1.80122502))
CRITICAL_TEMPERATURE, _PC = 647.096, 22.064e6


def density(T: Array | float) -> Array:
    """kg/m³ at 1 atm (Kell, J. Chem. Eng. Data 20 (1975) 97-105).

    Examples
    --------
    >>> round(float(density(298.15)), 3)
    997.045

    """
    t = np.asarray(T) - 273.15
    return np.asarray(sum(c * t**i for i, c in enumerate(_KELL)) / (1.0 + _KELL_BELOW * t))


def dielectric_constant(T: Array | float) -> Array:
    """At 1 bar (Bradley and Pitzer, J. Phys. Chem. 83 (1979) 1599-1603).

    Examples
    --------
    >>> round(float(dielectric_constant(298.15)), 1)
    78.4

    """
    T = np.asarray(T)
    u = _DIELECTRIC
    at_1000_bar = u[0] * np.exp(u[1] * T + u[2] * T**2)
    B, C = u[6] + u[7] / T + u[8] * T, u[3] + u[4] / (u[5] + T)
    return np.asarray(at_1000_bar + C * np.log((B + 1.0) / (B + 1000.0)))


def debye_hueckel(T: Array | float) -> Array:
    """A of osmotic coefficients, (2πNρ)^½ (e²/4πε₀DkT)^1.5/3, on molality.

    Examples
    --------
    >>> round(float(debye_hueckel(298.15)), 4)
    0.3914

    """
    length = ELEMENTARY_CHARGE**2 / (4.0 * np.pi * VACUUM_PERMITTIVITY * dielectric_constant(T) * BOLTZMANN * np.asarray(T))
    return np.asarray(np.sqrt(2.0 * np.pi * N_AVOGADRO * density(T)) * length**1.5 / 3.0)


def vapor_pressure(T: Array | float) -> Array:
    """Pa (Wagner and Pruss, J. Phys. Chem. Ref. Data 22 (1993) 783-787; IAPWS SR1-86).

    Examples
    --------
    >>> round(float(vapor_pressure(298.15)), 1)
    3169.8

    """
    left = 1.0 - np.asarray(T) / CRITICAL_TEMPERATURE
    return np.asarray(_PC * np.exp(sum(a * left**power for power, a in _WAGNER) / (1.0 - left)))
