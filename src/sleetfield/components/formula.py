"""Chemical formulas: elements and their counts, and the molar mass that follows."""

from __future__ import annotations

import re
from collections import Counter

ATOMIC_WEIGHTS = {
    "H": 1.008, "He": 4.0026, "Li": 6.94, "B": 10.81, "C": 12.011, "N": 14.007, "O": 15.999, "F": 18.998, "Ne": 20.180,
    "Na": 22.990, "Mg": 24.305, "Ca": 40.078, "Si": 28.085, "P": 30.974, "S": 32.06, "Cl": 35.45, "Ar": 39.95, "K": 39.098, "Br": 79.904, "Kr": 83.798, "Sr": 87.62, "Ba": 137.33,
    "I": 126.90, "Xe": 131.29,
}  # fmt: skip
"""Abridged standard atomic weights, g/mol: IUPAC 2021 (Prohaska et al., Pure Appl. Chem. 94 (2022) 573-600)."""

_PART = re.compile(r"([A-Z][a-z]?)(\d*)")


def elements(formula: str) -> Counter[str] | None:
    """The atoms of a formula such as ``C2H6O``; None where the text is no formula of known elements."""
    if not formula or _PART.sub("", formula):
        return None
    count: Counter[str] = Counter()
    for symbol, number in _PART.findall(formula):
        if symbol not in ATOMIC_WEIGHTS:
            return None
        count[symbol] += int(number or 1)
    return count


def molar_mass(formula: str) -> float | None:
    """Molar mass, kg/mol, or None where the text is no formula.

    >>> round(molar_mass("C2H6O"), 6)
    0.046069
    """
    count = elements(formula)
    if count is None:
        return None
    return sum(ATOMIC_WEIGHTS[symbol] * n for symbol, n in count.items()) / 1000.0
