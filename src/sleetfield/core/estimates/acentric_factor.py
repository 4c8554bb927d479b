"""Acentric factor from boiling point and critical constants.

Lee and Kesler, AIChE J. 21 (1975) 510-527, with the form for heavy fractions of Kesler and Lee, Hydrocarbon Process. 55 (1976) no. 3,
153-158; Ambrose and Walton, Pure Appl. Chem. 61 (1989) 1395-1403.
"""

from __future__ import annotations

import numpy as np

from ..arrays import Array
from ..constants import ATMOSPHERE


def lee_kesler(Tb: Array, Tc: Array, Pc: Array) -> Array:
    """ω such that the Lee-Kesler vapor pressure at ``Tb`` is 1 atm; K and Pa."""
    t = Tb / Tc
    ln_p = np.log(ATMOSPHERE / Pc)
    above = ln_p - 5.92714 + 6.09648 / t + 1.28862 * np.log(t) - 0.169347 * t**6
    below = 15.2518 - 15.6875 / t - 13.4721 * np.log(t) + 0.43577 * t**6
    return np.asarray(above / below)


def kesler_lee_heavy(Tb: Array, Tc: Array, watson: Array) -> Array:
    """ω of petroleum cuts with Tb/Tc above 0.8, by their Watson factor."""
    t = Tb / Tc
    return np.asarray(-7.904 + 0.1352 * watson - 0.007465 * watson**2 + 8.359 * t + (1.408 - 0.01063 * watson) / t)


def ambrose_walton(Tb: Array, Tc: Array, Pc: Array) -> Array:
    """ω such that the Ambrose-Walton vapor pressure, to first order in ω, is 1 atm at ``Tb``."""
    t = Tb / Tc
    tau = 1.0 - t
    powers = np.stack([tau, tau**1.5, tau**2.5, tau**5])
    f0 = np.tensordot(np.array([-5.97616, 1.29874, -0.60394, -1.06841]), powers, axes=1) / t
    f1 = np.tensordot(np.array([-5.03365, 1.11505, -5.41217, -7.46628]), powers, axes=1) / t
    return np.asarray((np.log(ATMOSPHERE / Pc) - f0) / f1)
