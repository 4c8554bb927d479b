"""Viscosity of hydrocarbon fluids, gas or liquid, by their reduced density (Lohrenz, Bray and Clark, J. Petrol. Technol. 16 (1964) 1171-1176).

    ((μ - μ°) ξ + 10⁻⁴)^(1/4) = 0.1023 + 0.023364 ρr + 0.058533 ρr² - 0.040758 ρr³ + 0.0093324 ρr⁴       cP

μ° is Herning and Zipperer's mixture of Stiel and Thodos' thin gases, ξ = Tc^(1/6)/(M^(1/2) Pc^(2/3)) with K, g/mol and atm, ρr the density over that at the pseudocritical volume.
"""

from __future__ import annotations

import numpy as np

from ..arrays import Array
from ..constants import ATMOSPHERE
from .constants import TransportConstants

_SERIES = (0.1023, 0.023364, 0.058533, -0.040758, 0.0093324)


def viscosity(T: Array, rho: Array, x: Array, c: TransportConstants) -> Array:
    """Pa s ``(N,)`` at ``T (N,)``, mol/m3 ``rho (N,)`` and mole fractions ``x (N, C)``."""
    M, P = 1e3 * c.M, c.Pc / ATMOSPHERE
    own = c.Tc ** (1.0 / 6.0) / (np.sqrt(M) * P ** (2.0 / 3.0))
    Tr = T[:, None] / c.Tc
    thin = np.where(Tr <= 1.5, 34e-5 * Tr**0.94, 17.78e-5 * np.maximum(4.58 * Tr - 1.67, 0.1) ** 0.625) / own
    weight = x * np.sqrt(M)
    gas = (thin * weight).sum(axis=1) / weight.sum(axis=1)
    whole = (x @ c.Tc) ** (1.0 / 6.0) / (np.sqrt(x @ M) * (x @ P) ** (2.0 / 3.0))
    series = np.polynomial.polynomial.polyval(rho * (x @ c.Vc), _SERIES)
    return np.asarray(1e-3 * (gas + (series**4 - 1e-4) / whole))
