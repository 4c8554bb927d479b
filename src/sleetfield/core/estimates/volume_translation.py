"""Volume translations of cubic equations of state from the Rackett compressibility factor.

SRK:  c = 0.40768 (R Tc/Pc)(0.29441 - Z_RA)   Péneloux, Rauzy and Fréze, Fluid Phase Equilib. 8 (1982) 7-23
PR:   c = 0.50033 (R Tc/Pc)(0.25969 - Z_RA)   Jhaveri and Youngren, SPE Reservoir Eng. 3 (1988) 1033-1040
"""

from __future__ import annotations

from ..arrays import Array
from ..constants import R

PENELOUX = {"SRK": (0.40768, 0.29441), "PR": (0.50033, 0.25969)}
"""Factor and offset by equation."""


def peneloux(equation: str, Tc: Array, Pc: Array, Z_RA: Array) -> Array:
    """What is taken off each molar volume ``(C,)``, m3/mol."""
    factor, offset = PENELOUX[equation]
    return factor * R * Tc / Pc * (offset - Z_RA)
