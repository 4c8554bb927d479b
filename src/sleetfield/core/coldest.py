"""How cold a state is sought where its temperature is not given: below this everything is frozen, and what models say of fluids means nothing."""

from __future__ import annotations

import numpy as np

from .arrays import Array
from .models.contract import PhaseModel

LEAST_T, FROZEN_T, FROZEN = 5.0, 60.0, -25.0
"""Between these temperatures it lies, in K: where the mean logarithm of the vapor pressures of a mixture, in Pa, is the third of these."""
_TEMPERATURES = np.geomspace(FROZEN_T, LEAST_T, 50)


def coldest(model: PhaseModel, z: Array) -> Array:
    """The lowest temperature, K, at which mixtures ``z (N, C)`` are sought ``(N,)``."""
    frozen = z @ model.ln_saturation_guess(_TEMPERATURES).T < FROZEN
    return np.where(frozen.any(axis=1), _TEMPERATURES[frozen.argmax(axis=1)], LEAST_T)
