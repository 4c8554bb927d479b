"""Newton's method for one system of equations, with one specification more where the system leaves one unknown open: what lines are followed by.

A problem is a function of its unknowns that gives residuals and their derivatives. Equal fugacities, balances and sums are the problem's; steps, limits, the row of the specification, convergence and the
tangent to the line are here.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

import numpy as np

from .arrays import Array

Equations = Callable[[Array], tuple[Array, Array]]
"""Residuals ``(M,)`` and their derivatives ``(M, N)`` at unknowns ``(N,)``."""


class Solved(NamedTuple):
    """Unknowns ``(N,)``, how they change with what is specified ``(N,)``, and how many steps it took."""

    u: Array
    tangent: Array
    steps: int


class Specified(NamedTuple):
    """That a combination of the unknowns, ``row @ u``, has a value."""

    row: Array
    value: float


def unit(size: int, index: int, value: float) -> Specified:
    """That one of ``size`` unknowns has a value."""
    row = np.zeros(size)
    row[index] = 1.0
    return Specified(row, value)


def solve(
    equations: Equations,
    u: Array,
    *,
    specified: Specified | None = None,
    longest: Array | float = 1.0,
    steps: int = 30,
    converged: float = 1e-10,
) -> Solved | None:
    """The solution near ``u (N,)``; None where there is none, a matrix is singular, or it takes more than so many steps.

    ``longest`` is how far each unknown, or any, may go in one step: longer steps are shortened, keeping their direction.
    """
    for step in range(steps):
        f, jacobian = equations(u)
        if specified is not None:
            f, jacobian = np.append(f, float(specified.row @ u) - specified.value), np.vstack([jacobian, specified.row])
        if not (np.isfinite(f).all() and np.isfinite(jacobian).all()):
            return None
        done = bool(np.abs(f).max() < converged)
        right = f
        if done:
            right = np.zeros(len(f))
            right[-1] = 1.0
        try:
            change = np.asarray(np.linalg.solve(jacobian, right), dtype=float)
        except np.linalg.LinAlgError:
            return None
        if done:
            return Solved(u, change, step)
        u = u - change / max(1.0, float((np.abs(change) / longest).max()))
    return None
