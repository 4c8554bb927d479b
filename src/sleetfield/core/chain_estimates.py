"""Chains of PC-SAFT for hydrocarbons and petroleum cuts, from boiling point, molar mass and one liquid density.

The number of segments goes by molar mass (g/mol), between that of n-alkanes and that of benzene's derivatives by the Watson factor K = (1.8 T_b)^⅓/SG,

    m = 0.02569 M + 0.8709   (K = 12.7; Tihic, Kontogeorgis, von Solms and Michelsen, Fluid Phase Equilib. 248 (2006) 29-43)
    m = 0.0223 M + 0.751     (K = 10; Gonzalez, Hirasaki, Creek and Chapman, Energy Fuels 21 (2007) 1231-1242)

Diameter and energy of the segments are those with which the liquid has the density and boils at 1 atm where it does.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from scipy.optimize import root

from .constants import ATMOSPHERE, N_AVOGADRO, R
from .models.contract import LIQUID, VAPOR
from .models.pc_saft import PCSAFT

_PARAFFINIC, _AROMATIC = 12.7, 10.0
_PACKING = 0.44
"""Of the segments of a liquid, about."""


class Chain(NamedTuple):
    """Segments, their diameter, m, and the depth of their potential over k, K."""

    segments: float
    diameter: float
    energy: float


def chain(
    molar_mass: float, Tb: float, density: float, T: float, specific_gravity: float, Tc: float, Pc: float, omega: float
) -> Chain | None:
    """The chain of a substance with a liquid ``density``, mol/m3, at ``T``, and a specific gravity at 60 °F; None where there is none such.

    Examples
    --------
    >>> found = chain(0.114229, 398.8, 6180.0, 288.71, 0.7068, 568.7, 2.49e6, 0.4)  # n-octane
    >>> round(found.segments, 2), round(1e10 * found.diameter, 2), round(found.energy)
    (3.8, 3.83, 243)
    """
    watson = np.cbrt(1.8 * Tb) / specific_gravity
    share = float(np.clip((_PARAFFINIC - watson) / (_PARAFFINIC - _AROMATIC), 0.0, 1.0))
    M = 1e3 * molar_mass
    m = (1.0 - share) * (0.02569 * M + 0.8709) + share * (0.0223 * M + 0.751)
    one, at_T, at_Tb, P = np.ones((1, 1)), np.array([T]), np.array([Tb]), np.array([ATMOSPHERE])

    def model(logs: np.ndarray) -> PCSAFT:
        rest = np.zeros((1, 1)), np.array([Tc]), np.array([Pc]), np.array([omega]), np.array([molar_mass])
        return PCSAFT(np.array([m]), 1e-10 * np.exp(logs[:1]), np.exp(logs[1:]), *rest)

    def left(logs: np.ndarray) -> np.ndarray:
        fluid = model(logs)
        boiling, cold = fluid.at(at_Tb, P), fluid.at(at_T, P)
        volume = cold.describe(one, LIQUID).Z[0] * R * T / ATMOSPHERE
        return np.array([(boiling.ln_phi(one, LIQUID) - boiling.ln_phi(one, VAPOR))[0, 0], 10.0 * np.log(volume * density)])

    diameter = 1e10 * np.cbrt(_PACKING / density / (np.pi / 6.0 * N_AVOGADRO * m))
    energy = (1.0 - share) * np.exp(5.5769 - 9.523 / M) + share * 284.0
    found = root(left, np.log([diameter, energy]), tol=1e-10)
    at = model(found.x).at(at_Tb, P)
    apart = at.describe(one, VAPOR).Z[0] > 10.0 * at.describe(one, LIQUID).Z[0]
    if not found.success or np.abs(found.fun).max() > 1e-6 or not apart:
        return None
    return Chain(m, 1e-10 * float(np.exp(found.x[0])), float(np.exp(found.x[1])))
