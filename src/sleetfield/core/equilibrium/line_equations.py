"""The equations of saturation and quality lines, and Newton's method for one point.

Unknowns X = (ln K, ln T, ln P) at a constant fraction β of the first phase, by mole or, with all amounts in mass, by mass; equations of equal
fugacity, Σ(y - x) = 0, and a specified value S of one of the unknowns (Michelsen, Fluid Phase Equilib. 4 (1980) 1-10).
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array
from ..models.contract import BESIDE_CRITICAL, LIQUID, POINT, VAPOR, PhaseModel

_ITERATIONS = 12
_TOLERANCE = 1e-12
_ACCEPT = 1e-10
_TRIVIAL = 1e-8


class Limits(NamedTuple):
    """Where tracing ends."""

    P_min: float
    P_max: float
    T_min: float
    T_max: float

    def left(self, X: Array, c: int) -> bool:
        """Whether a point is outside, or at an extreme that says nothing more."""
        T, P = np.exp(X[c]), np.exp(X[c + 1])
        return bool(not (self.P_min <= P <= self.P_max and self.T_min <= T <= self.T_max))


class Point(NamedTuple):
    """One converged point of a line; ``roots`` are the kinds that both phases were asked for as, ``crossed`` whether a critical point lies before it."""

    X: Array
    tangent: Array
    S: int
    Z: Array
    iterations: int
    crossed: bool
    roots: NDArray[np.int8]
    packing: Array


@dataclass
class Tracer:
    """The equations of one mixture ``z (C,)``, all fractions positive, at one fraction ``beta`` of phase y.

    ``z``, ``beta`` and K are by mole; where ``weights (C,)`` are given, moles per unit of another amount such as mass, they are by that.
    """

    model: PhaseModel
    z: Array
    beta: float
    weights: Array | None = None
    roots: NDArray[np.int8] = field(default_factory=lambda: np.array([VAPOR, LIQUID], dtype=np.int8))

    @property
    def size(self) -> int:
        return len(self.z) + 2

    def system(self, X: Array) -> tuple[Array, Array, Array]:
        """Residuals and Jacobian without the specification's row, and both compressibility factors."""
        c = len(self.z)
        k, T, P = np.exp(X[:c]), np.exp(X[c]), np.exp(X[c + 1])
        x = self.z / (1.0 - self.beta + self.beta * k)
        y = k * x
        slope = x * y / self.z
        moles_y, moles_x, moles_slope = (y, x, slope) if self.weights is None else (a * self.weights for a in (y, x, slope))
        total_y, total_x = moles_y.sum(), moles_x.sum()
        phases = np.stack([moles_y / total_y, moles_x / total_x])
        e = self.model.at(np.array([T, T]), np.array([P, P])).evaluate(phases, self.roots)
        residual = np.empty(c + 1)
        residual[:c] = X[:c] + e.ln_phi[0] - e.ln_phi[1]
        residual[c] = (y - x).sum()
        jacobian = np.zeros((c + 2, c + 2))
        by_y, by_x = (1.0 - self.beta) * moles_slope / total_y, self.beta * moles_slope / total_x
        jacobian[:c, :c] = e.dn[0] * by_y + e.dn[1] * by_x
        if self.weights is not None:
            residual[:c] += np.log(total_x / total_y)
            jacobian[:c, :c] -= by_x + by_y
        jacobian[np.arange(c), np.arange(c)] += 1.0
        jacobian[:c, c] = T * (e.dT[0] - e.dT[1])
        jacobian[:c, c + 1] = P * (e.dP[0] - e.dP[1])
        jacobian[c, :c] = slope
        return residual, jacobian, e.Z

    def solve(self, X: Array, S: int, value: float, crossed: bool = False) -> Point | None:
        """The point with ``X[S] = value``, by Newton's method from ``X``; None where it does not converge."""
        loops = self.model.free_loops()
        if loops is not None:
            roots = int(self.roots[0]), int(self.roots[1])
            how, steps, u, tangent, (Z, packing) = loops.line_point(self.z, self.weights, self.beta, roots, S, value, X)
            if how != BESIDE_CRITICAL:
                return Point(u, tangent, S, Z, steps, crossed, self.roots, packing) if how == POINT else None
        return self._by_arrays(X, S, value, crossed)

    def _by_arrays(self, X: Array, S: int, value: float, crossed: bool) -> Point | None:
        """In the reference engine."""
        X = X.copy()
        X[S] = value
        c = len(self.z)
        right = np.zeros(c + 2)
        last = np.inf
        for iteration in range(1, _ITERATIONS + 1):
            residual, jacobian, Z = self.system(X)
            jacobian[c + 1, S] = 1.0
            right[: c + 1], right[c + 1] = residual, X[S] - value
            size = float(np.abs(right).max())
            if not np.isfinite(size) or not np.isfinite(jacobian).all() or size > 50.0:
                return None
            try:
                step = _newton_step(jacobian, right, X[:c], Z)
            except np.linalg.LinAlgError:
                return None
            if size < _TOLERANCE or (size < _ACCEPT and size >= last):
                unit = np.zeros(c + 2)
                unit[c + 1] = 1.0
                tangent = _newton_step(jacobian, unit, X[:c], Z)
                if np.abs(X[:c]).max() < _TRIVIAL and abs(Z[0] / Z[1] - 1.0) < 1e-6:
                    return None
                return Point(X, tangent, S, Z, iteration, crossed, self.roots, self.packing(X))
            last = size
            biggest = float(np.abs(step).max())
            X -= step * min(1.0, 1.5 / biggest if biggest > 0.0 else 1.0)
        return None

    def phases(self, X: Array) -> Array:
        """Mole fractions of y and x ``(2, C)``."""
        c = len(self.z)
        k = np.exp(X[:c])
        x = self.z / (1.0 - self.beta + self.beta * k)
        both = np.stack([k * x, x]) * (1.0 if self.weights is None else self.weights)
        return np.asarray(both / both.sum(axis=1)[:, None])

    def packing(self, X: Array) -> Array:
        """Of both phases ``(2,)``."""
        T, P = np.exp(X[-2:])
        return self.model.at(np.array([T, T]), np.array([P, P])).describe(self.phases(X), self.roots).packing

    def in_moles(self, X: Array) -> tuple[Array, float]:
        """ln K and β by mole."""
        c = len(self.z)
        if self.weights is None:
            return X[:c], self.beta
        x = self.z / (1.0 - self.beta + self.beta * np.exp(X[:c]))
        moles_y, moles_x = float((np.exp(X[:c]) * x) @ self.weights), float(x @ self.weights)
        return X[:c] + np.log(moles_x / moles_y), self.beta * moles_y / (self.beta * moles_y + (1.0 - self.beta) * moles_x)

    def from_moles(self, ln_k: Array, beta: float) -> Array:
        """The line's own ln K, of K-values by mole at the mole fraction ``beta`` of y."""
        if self.weights is None:
            return ln_k
        z = self.z * self.weights / (self.z @ self.weights)
        x = z / (1.0 - beta + beta * np.exp(ln_k))
        y = np.exp(ln_k) * x
        mass_y, mass_x = (float(phase @ (1.0 / self.weights) / phase.sum()) for phase in (y, x))
        return np.asarray(ln_k + np.log(mass_x / mass_y))

    def swap(self) -> None:
        """Past a critical point each phase is on the other root."""
        self.roots = self.roots[::-1].copy()


def _newton_step(jacobian: Array, right: Array, ln_k: Array, Z: Array) -> Array:
    """Solution of the linear system; next to a critical point the smallest one, for there the equations hardly tell T and P apart."""
    if float(np.abs(ln_k).max()) < 5e-3 and abs(np.log(Z[0] / Z[1])) < 0.05:
        return np.asarray(np.linalg.lstsq(jacobian, right, rcond=1e-9)[0], dtype=float)
    return np.asarray(np.linalg.solve(jacobian, right), dtype=float)
