"""Where iterations start, from the critical constants of the components: rough saturation pressures, and where critical temperatures of mixtures lie."""

from __future__ import annotations

import numpy as np

from ..arrays import Array

_PRESENT = 1e-12


class FromCriticalConstants:
    """What models of components with critical constants ``Tc``, K, ``Pc``, Pa, and acentric factors ``omega`` ``(C,)`` begin with."""

    Tc: Array
    Pc: Array
    omega: Array

    def ln_saturation_guess(self, T: Array) -> Array:
        """Wilson's correlation (API-PVT meeting, 1968): ln P = ln P_c + 5.373(1 + ω)(1 - T_c/T), ``(N, C)``."""
        slope = 5.373 * (1.0 + self.omega)
        return np.asarray(((np.log(self.Pc) + slope)[:, None] - (slope * self.Tc)[:, None] / T).T)

    def temperature_scale(self, x: Array) -> tuple[float, float]:
        """Lower and upper bound, K, between which critical temperatures of mixtures ``x (N, C)`` are sought."""
        present = x.max(axis=0) > _PRESENT
        return 0.2 * float(self.Tc[present].min()), 3.0 * float(self.Tc[present].max())
