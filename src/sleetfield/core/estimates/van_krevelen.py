"""Solubility parameters in three parts from group contributions: van Krevelen and Hoftyzer, Properties of Polymers, 2nd ed. (1976), ch. 7; volumes by Fedors, Polym. Eng. Sci. 14 (1974) 147-154.

    δd = ΣF_d/V,     δp = √(ΣF_p²)/V,     δh = √(ΣE_h/V)

A ring of five members or more adds to F_d and V, an aromatic one has an F_p. CH and C of aromatic rings are what phenyl and phenylene come to: F_d 1430 and 1270, V 71.4 and 52.4.
"""

from __future__ import annotations

import math
from typing import NamedTuple

_RING_F, _RING_V, _AROMATIC_P = 190.0, 16.0, 110.0
_PER_CM3 = 1e3
"""(J/cm3)^½ in Pa^½."""


class SolubilityParts(NamedTuple):
    """Pa^½; NaN where a contribution is not known."""

    delta_d: float
    delta_p: float
    delta_h: float


def van_krevelen(
    F_d: float, squared_F_p: float, E_h: float, V: float, *, rings: int = 0, aromatic_rings: int = 0
) -> SolubilityParts:
    """From sums over groups, (J cm3)^½/mol, its squares, J/mol and cm3/mol, and the rings that are not aromatic and that are.

    Examples
    --------
    >>> [round(part / 1e3, 1) for part in van_krevelen(970.0, 500.0**2, 20000.0, 59.6 + 16.1)]
    [12.8, 6.6, 16.3]

    """
    volume = V + _RING_V * rings
    squares = squared_F_p + aromatic_rings * _AROMATIC_P**2
    parts = (F_d + _RING_F * rings) / volume, math.sqrt(squares) / volume, math.sqrt(E_h / volume)
    return SolubilityParts(*(_PER_CM3 * part for part in parts))
