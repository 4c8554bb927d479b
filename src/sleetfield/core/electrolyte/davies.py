"""Dilute solutions by charge alone (Davies, Ion Association, Butterworths (1962), p. 41).

    ln γᵢ = -3A zᵢ² (√I/(1 + √I) - 0.3 I)
    m(φ - 1) = Σ mᵢ ln γᵢ + 6A ∫ (√I/(1 + √I) - 0.3 I) dI

A is Debye and Hückel's constant of osmotic coefficients; to some 0.1 mol/kg of ionic strength.
"""

from __future__ import annotations

import numpy as np

from ..arrays import Array
from .contract import Activities, IonModel

_LINEAR = 0.3


class Davies(IonModel):
    """Of solutes with charges ``z (S,)`` and the constant ``A`` of osmotic coefficients."""

    def __init__(self, z: Array, A: float) -> None:
        self.z, self.A = z, A

    def activities(self, m: Array) -> Activities:
        strength = 0.5 * (m * self.z**2).sum(axis=1)
        root, total = np.sqrt(strength), m.sum(axis=1)
        f = root / (1.0 + root) - _LINEAR * strength
        # Σ m ln γ = -6A I f(I), and m(φ - 1) = Σ m ln γ less its integral along dilution, -6A ∫ f dI
        integral = strength - 2.0 * root + 2.0 * np.log1p(root) - 0.5 * _LINEAR * strength**2
        excess = -6.0 * self.A * (strength * f - integral)
        with np.errstate(all="ignore"):
            osmotic = np.where(total > 0.0, 1.0 + excess / total, 1.0)
        return Activities(-3.0 * self.A * f[:, None] * self.z**2, osmotic)
