"""Volume translations of a system's components: to known liquid densities, or from the Rackett factor."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ..components import Component
from ..core.constants import R
from ..core.correlations.liquid_density import rackett_through
from ..core.estimates import volume_translation
from ..core.models.contract import LIQUID, PhaseModel

Array = NDArray[np.float64]


def _reference(c: Component, Tc: float) -> float:
    """Where a liquid's density is taken: 298.15 K, or 0.7 Tc where that is lower; within the range of what is known."""
    assert c.liquid_density is not None
    return max(min(298.15, 0.7 * Tc), c.liquid_density.T_min)


def from_density(components: Sequence[Component], model: PhaseModel) -> Array:
    """Translations ``(C,)``, m3/mol, that give each component its liquid density by a ``model`` with its own volumes; zero where that is not known."""
    result = np.zeros(len(components))
    for i, c in enumerate(components):
        if c.liquid_density is None:
            continue
        T = np.array([_reference(c, c.constant("Tc", "a volume translation"))])
        pure = model.select([i])
        P = np.exp(pure.ln_saturation_guess(T)[:, 0] if c.vapor_pressure is None else c.vapor_pressure.value(T))
        # a little above saturation, where the equation has its liquid
        P = 1.2 * P + 1e3
        Z = float(pure.at(T, P).describe(np.ones((1, 1)), LIQUID)[0][0])
        result[i] = Z * R * T[0] / P[0] - 1.0 / float(c.liquid_density.value(T)[0])
    return result


def peneloux(components: Sequence[Component], family: str) -> Array:
    """Translations ``(C,)``, m3/mol, from the Rackett factor of the known density, or the one usual for omega (Yamada and Gunn, 1973)."""
    Tc, Pc, omega = (np.array([c.constant(k, "a volume translation") for c in components]) for k in ("Tc", "Pc", "omega"))
    Z_RA = 0.29056 - 0.08775 * omega
    for i, c in enumerate(components):
        if c.liquid_density is not None:
            T = _reference(c, Tc[i])
            density = float(c.liquid_density.value(np.array([T]))[0])
            Z_RA[i] = rackett_through(T, density, Tc[i], Pc[i], 1.0, Tc[i]).coefficients[1]
    return volume_translation.peneloux(family, Tc, Pc, Z_RA)
