"""Ideal-gas heat capacity of petroleum cuts: Kesler and Lee, Hydrocarbon Process. 55 (1976) no. 3, 153-158.

In the SI form of Riazi, Characterization and Properties of Petroleum Fractions, ASTM (2005), eq. 6.72, for 255 to 922 K.
"""

from __future__ import annotations

T_MIN, T_MAX = 255.0, 922.0


def coefficients(molar_mass: float, watson: float, omega: float) -> tuple[float, float, float]:
    """c1, c2, c3 of Cp = c1 + c2 T + c3 T², J/(mol K); ``molar_mass`` in kg/mol."""
    a = (-1.41779 + 0.11828 * watson, -(6.99724 - 8.69326 * watson + 0.27715 * watson**2) * 1e-4, -2.2582e-6)
    b = (1.09223 - 2.48245 * omega, -(3.434 - 7.14 * omega) * 1e-3, -(7.2661 - 9.2561 * omega) * 1e-7)
    c = ((12.8 - watson) * (10.0 - watson) / (10.0 * omega)) ** 2
    M = 1e3 * molar_mass
    first, second, third = (M * (ai - c * bi) for ai, bi in zip(a, b, strict=True))
    return first, second, third
