"""Where iterations start, from the critical constants of the components: rough saturation pressures, and where critical temperatures of mixtures lie."""

from __future__ import annotations

import numpy as np

from ..arrays import Array

_PRESENT = 1e-12


def ln_saturation(T: Array, Tc: Array, Pc: Array, omega: Array) -> Array:
    """Wilson's correlation (API-PVT meeting, 1968): ln P = ln P_c + 5.373(1 + ω)(1 - T_c/T), ``(N, C)``."""
    slope = 5.373 * (1.0 + omega)
    return np.asarray(((np.log(Pc) + slope)[:, None] - (slope * Tc)[:, None] / T).T)


def critical_range(x: Array, Tc: Array) -> tuple[float, float]:
    """Lower and upper bound, K, between which critical temperatures of mixtures ``x (N, C)`` are sought."""
    present = x.max(axis=0) > _PRESENT
    return 0.2 * float(Tc[present].min()), 3.0 * float(Tc[present].max())
