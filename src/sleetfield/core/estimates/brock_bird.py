"""Surface tension of a liquid without hydrogen bonds from critical constants and boiling point (Brock and Bird, AIChE J. 1 (1955) 174-177; Miller, Ind. Eng. Chem. Fundam. 2 (1963) 78).

σ = Pc^(2/3) Tc^(1/3) Q (1 - Tr)^(11/9),  Q = 0.1196 (1 + Tbr ln Pc/(1 - Tbr)) - 0.279       mN/m, bar; Pc in Q in atm
"""

from __future__ import annotations

import numpy as np

from ..arrays import Array
from ..constants import ATMOSPHERE


def surface_tension(T: Array, Tb: float, Tc: float, Pc: float) -> Array:
    """N/m ``(N,)`` at ``T (N,)``; zero from the critical temperature on."""
    Tbr = Tb / Tc
    Q = 0.1196 * (1.0 + Tbr * np.log(Pc / ATMOSPHERE) / (1.0 - Tbr)) - 0.279
    depth = np.maximum(1.0 - T / Tc, 0.0)
    return np.asarray(1e-3 * (1e-5 * Pc) ** (2.0 / 3.0) * Tc ** (1.0 / 3.0) * Q * depth ** (11.0 / 9.0))
