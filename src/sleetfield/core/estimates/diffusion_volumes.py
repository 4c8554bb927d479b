"""Diffusion volumes of molecules from their atoms: Fuller, Ensley and Giddings, J. Phys. Chem. 73 (1969) 3679-3685, as in Poling, Prausnitz and O'Connell, The Properties of Gases and Liquids, 5th ed. (2001), Table 11-1."""

from __future__ import annotations

from collections.abc import Mapping

ATOMS = {"C": 15.9, "H": 2.31, "O": 6.11, "N": 4.54, "F": 14.7, "Cl": 21.0, "Br": 21.9, "I": 29.8, "S": 22.9}
RING = -18.3
"""Of each aromatic ring, and of each ring with another atom than carbon in it."""
MOLECULES = {
    "He": 2.67, "Ne": 5.98, "Ar": 16.2, "Kr": 24.5, "Xe": 32.7, "H2": 6.12, "N2": 18.5, "O2": 16.3, "CO": 18.0, "CO2": 26.9,
    "N2O": 35.9, "H3N": 20.7, "H2O": 13.1, "F6S": 71.3, "Cl2": 38.4, "Br2": 69.0, "O2S": 41.8,
}  # fmt: skip
"""Of simple molecules, by formula in Hill's order."""


def diffusion_volume(elements: Mapping[str, int], rings: int) -> float | None:
    """Of a molecule of ``elements``, with aromatic and heterocyclic ``rings``; None where an atom has none."""
    plain = "".join(f"{symbol}{count if count > 1 else ''}" for symbol, count in _hill(elements))
    if plain in MOLECULES:
        return MOLECULES[plain]
    if not set(elements) <= set(ATOMS):
        return None
    return sum(ATOMS[symbol] * count for symbol, count in elements.items()) + rings * RING


def _hill(elements: Mapping[str, int]) -> list[tuple[str, int]]:
    """Carbon, hydrogen beside it, then by the alphabet."""
    first = ["C", "H"] if "C" in elements else []
    return [(s, elements[s]) for s in (*[s for s in first if s in elements], *sorted(s for s in elements if s not in first))]
