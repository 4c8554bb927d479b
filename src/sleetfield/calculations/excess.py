"""Activity coefficients and excess properties of liquids."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..core.constants import R
from ..core.models.activity import ActivityModel
from ..errors import InputError
from ..mixture import Mixture
from ..results.excess import Excess

Array = NDArray[np.float64]


def activity_model(system: Mixture) -> ActivityModel:
    """The activity model of a system.

    Raises
    ------
    InputError
        If it has none.
    """
    if system.activity is None:
        raise InputError(f"{system.title} has no activity coefficients; name a liquid model with liquid=.")
    return system.activity


def excess(system: Mixture, T: Array, x: Array) -> Excess:
    """Excess properties at ``T (N,)`` and ``x (N, C)``, from the activity model and its derivatives (Gibbs-Helmholtz)."""
    safe = np.maximum(x, 1e-100)
    e = activity_model(system).at(T).evaluate(np.ascontiguousarray(safe.T))
    ln_gamma = e.ln_gamma.T
    g, g_T = (x * ln_gamma).sum(axis=1), (x * e.dT.T).sum(axis=1)
    G, H = R * T * g, -R * T**2 * g_T
    Cp = -R * (2.0 * T * g_T + T**2 * e.g_TT)
    ideal = R * T * (x * np.log(safe)).sum(axis=1)
    return Excess(system, T, x, np.exp(ln_gamma), G, H, (H - G) / T, Cp, G + ideal)
