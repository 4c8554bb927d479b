"""Constants of temperature functions from vapor pressures.

At each temperature the α at which an equation of state has equal fugacities of vapor and liquid at the known vapor pressure is unique; the
function is then fitted to these, each weighted by 1/T, which is about how the logarithm of the vapor pressure answers to it.
"""

from __future__ import annotations

import numpy as np

from ..arrays import Array
from ..models.alpha import AlphaFunction
from ..models.contract import LIQUID, VAPOR
from ..models.cubic import CubicModel

POINTS = 30


class _Given(AlphaFunction):
    """√α that is given for each state, of one component."""

    def root(self, T: Array) -> tuple[Array, Array, Array]:
        nothing = np.zeros_like(self.constants)
        return self.constants, nothing, nothing


def alpha_at_saturation(equation: type[CubicModel], Tc: float, Pc: float, omega: float, T: Array, P: Array) -> Array:
    """α ``(N,)`` with which the equation boils at ``T``, ``P``; NaN where there is none within a factor of 2 of its own."""
    from scipy.optimize.elementwise import find_root

    constants = np.array([Tc]), np.array([Pc]), np.array([omega]), np.zeros((1, 1))
    own = equation(*constants).alpha.value(T)[0] ** 2

    def difference(alpha: Array, which: Array) -> Array:
        rows = np.ravel(which).astype(np.intp)
        function = _Given(np.sqrt(np.ravel(alpha))[None], constants[0])
        bound = equation(*constants, alpha=function).at(T[rows], P[rows])
        x = np.ones((len(rows), 1))
        gap = (bound.ln_phi(x, VAPOR) - bound.ln_phi(x, LIQUID))[:, 0]
        # with one root only there is no contest: too little attraction where it is a vapor, too much where it is a liquid
        single = np.where(bound.describe(x)[1] == VAPOR, -1.0, 1.0)
        return np.where(gap == 0.0, single, gap).reshape(alpha.shape)

    with np.errstate(all="ignore"):
        found = find_root(difference, (0.5 * own, 2.0 * own), args=(np.arange(len(T), dtype=float),), maxiter=200)
        sound = found.success & (np.abs(difference(found.x, np.arange(len(T), dtype=float))) < 1e-6)
    return np.asarray(np.where(sound, found.x, np.nan))


def soave_alpha(equation: type[CubicModel], Tc: float, omega: float, T: Array) -> Array:
    """The equation's own α ``(N,)``."""
    return np.asarray(equation.own_alpha(np.array([Tc]), np.array([omega])).value(T)[0] ** 2)


def mathias_copeman(Tc: float, T: Array, alpha: Array) -> Array:
    """c₁, c₂, c₃ for α known at temperatures below the critical one: a linear least-squares problem in √α."""
    t = 1.0 - np.sqrt(T / Tc)
    weight = Tc / T
    matrix = np.stack([t, t**2, t**3], axis=1) * weight[:, None]
    return np.asarray(np.linalg.lstsq(matrix, (np.sqrt(alpha) - 1.0) * weight, rcond=None)[0])


def twu(Tc: float, T: Array, alpha: Array) -> Array:
    """L, M, N for α known at temperatures below the critical one.

    They keep α positive, falling and convex at all temperatures: N(M - 1) ≤ 0, LNM ≥ 0, NM ≤ 1 - N(M - 1) (Le Guennec, Privat and Jaubert, Fluid
    Phase Equilib. 429 (2016) 301-312, of whose conditions these are the first).
    """
    from scipy.optimize import least_squares

    ln_T = np.log(T / Tc)

    def error(p: Array) -> Array:
        delta, L, gamma = p
        return np.asarray((delta * ln_T + L * (1.0 - np.exp(gamma * ln_T)) - np.log(alpha)) * Tc / T)

    starts = [np.array([-0.2, 0.4, 1.2]), np.array([-0.5, 0.2, 2.0]), np.array([-0.05, 0.9, 0.7])]
    fits = [least_squares(error, start, bounds=([-3.0, 0.0, 0.05], [0.0, 5.0, 4.0])) for start in starts]
    delta, L, gamma = min(fits, key=lambda f: float(f.cost)).x
    # N(M - 1) = delta and NM = gamma
    N = gamma - delta
    return np.array([L, gamma / N, N])
