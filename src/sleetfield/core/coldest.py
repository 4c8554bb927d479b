"""How cold a state is sought where its temperature is not given: below this everything is frozen, and what models say of fluids means nothing."""

from __future__ import annotations

import numpy as np

from .arrays import Array
from .models.contract import PhaseModel

LEAST_T, FROZEN_T, FROZEN = 5.0, 60.0, -25.0
"""Between these temperatures it lies, in K: where the mean logarithm of the vapor pressures of a mixture, in Pa, is the third of these."""
_STEPS = 50


def coldest(model: PhaseModel, z: Array, frozen: float = FROZEN_T) -> Array:
    """The lowest temperature, K, at which mixtures ``z (N, C)`` are sought ``(N,)``: at most ``frozen``."""
    T = np.geomspace(frozen, LEAST_T, _STEPS)
    below = z @ model.ln_saturation_guess(T).T < FROZEN
    return np.where(below.any(axis=1), T[below.argmax(axis=1)], LEAST_T)
