"""What a model of ions answers."""

from __future__ import annotations

from abc import ABC, abstractmethod
from typing import NamedTuple

import numpy as np

from ..arrays import Array

M_WATER = 0.01801528
"""Kg/mol."""


class Activities(NamedTuple):
    """Logarithms of the activity coefficients of solutes on molalities ``(N, S)``, and the osmotic coefficient ``(N,)``."""

    ln_gamma: Array
    osmotic: Array

    def ln_water(self, m: Array) -> Array:
        """Logarithm of the activity of water ``(N,)`` beside molalities ``m (N, S)``, mol/kg."""
        return np.asarray(-M_WATER * m.sum(axis=1) * self.osmotic)


class IonModel(ABC):
    """Activity coefficients of solutes in water.

    1. ``m (N, S)`` are molalities, mol/kg, of the solutes that it was made for, in their order; zero where there is none.
    2. Infinitely diluted solutes have an activity coefficient of 1, and water an osmotic coefficient of 1.
    3. Both follow from one excess Gibbs energy: Σ mᵢ d ln γᵢ = d(m(φ - 1)), m = Σ mᵢ.
    """

    @abstractmethod
    def activities(self, m: Array) -> Activities:
        """At molalities ``m (N, S)``."""
