"""Constants a, b of the polar and associating term of second virial coefficients, f² = a/T_r⁶ - b/T_r⁸.

Tsonopoulos, AIChE J. 20 (1974) 263-272 and 21 (1975) 827-829, as tabulated by Poling, Prausnitz and O'Connell, The Properties of Gases and Liquids,
5th ed. (2001), Table 4-5, from the reduced dipole moment μ_r = 10⁵ μ² P_c/T_c² (debye, atm, K).
"""

from __future__ import annotations

from ..constants import ATMOSPHERE

WATER = -0.0109, 0.0
METHANOL = 0.0878, 0.0525


def reduced_dipole(mu: float, Tc: float, Pc: float) -> float:
    """μ_r, of a dipole moment in debye, K and Pa."""
    return 1e5 * mu**2 * (Pc / ATMOSPHERE) / Tc**2


def oxygen_or_nitrile(mu_r: float) -> tuple[float, float]:
    """Ketones, aldehydes, nitriles, ethers and esters; ammonia, hydrogen sulfide and hydrogen cyanide."""
    return -2.14e-4 * mu_r - 4.308e-21 * mu_r**8, 0.0


def alkanol(mu_r: float) -> tuple[float, float]:
    """1-alkanols other than methanol."""
    return 0.0878, 0.00908 + 0.0006957 * mu_r
