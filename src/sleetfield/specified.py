"""Quantities that a state can be specified by: their dimensions, and what values they can have."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .core.specification import FRACTIONS

Array = NDArray[np.float64]

DIMENSIONS = {
    "T": "temperature",
    "P": "pressure",
    "H": "molar_energy",
    "S": "molar_entropy",
    "U": "molar_energy",
    "V": "molar_volume",
    "density": "density",
    "vapor_fraction": "fraction",
    "vapor_mass_fraction": "fraction",
    "flow": "molar_flow",
    "mass_flow": "mass_flow",
}
"""What can be given, with its dimension."""

RULES = {
    "T": "absolute temperatures are positive and finite",
    "P": "pressures are absolute and positive and finite",
    "V": "volumes are positive and finite",
    "density": "densities are positive and finite",
    "flow": "flows are positive and finite",
    "mass_flow": "flows are positive and finite",
    "vapor_fraction": "it lies between 0 and 1",
    "vapor_mass_fraction": "it lies between 0 and 1",
}
"""What a value has to be."""


def possible(name: str, value: Array) -> NDArray[np.bool_]:
    """Whether a quantity can have a value."""
    if name in FRACTIONS:
        return np.asarray((value >= 0.0) & (value <= 1.0))
    return np.asarray((value > 0.0) | (name not in RULES))
