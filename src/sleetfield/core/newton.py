"""Newton's method, for one system of equations and for batches of them.

A problem is a function of its unknowns that gives residuals and their derivatives. Equal fugacities, balances and sums are the problem's; steps, limits, convergence, and what to do where it does not come
are here. For one system there may be one specification more, where the equations leave an unknown open: lines are followed by that, along the tangent that comes with the answer.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .arrays import Array, Index

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


class Batch(NamedTuple):
    """Residuals ``(N, M)`` and derivatives ``(N, M, M)``, the error of each state ``(N,)``, and which unknowns a step's length is measured by ``(N, M)``."""

    f: Array
    jacobian: Array
    error: Array
    counted: NDArray[np.bool_]


_WENT = 0.5
"""Of the longest step."""

Problems = Callable[[Array, Index], Batch]
"""At unknowns ``(N, M)`` of the states ``index (N,)``."""


def solve_many(
    problems: Problems,
    u: Array,
    *,
    longest: Array | float,
    enough: float,
    steps: int,
    patience: int,
    low: Array | float = -np.inf,
    high: Array | float = np.inf,
    lost: Callable[[Array, Index], NDArray[np.bool_]] | None = None,
) -> tuple[Array, Array]:
    """The best unknowns ``(N, M)`` met on the way from ``u``, and their errors ``(N,)``; infinite where there was none.

    A state goes on until its error is ``enough``, or ``patience`` whole steps have not halved it, or ``lost`` says that it leads nowhere. ``longest`` is how far each unknown may go in one step,
    ``low`` and ``high`` are what it is kept within.
    """
    u, best = u.copy(), u.copy()
    least, halved, since = np.full(len(u), np.inf), np.full(len(u), np.inf), np.zeros(len(u), dtype=int)
    bounds = [np.broadcast_to(bound, u.shape) for bound in (low, high)]
    active = np.arange(len(u))
    for _ in range(steps):
        f, jacobian, error, counted = problems(u[active], active)
        better = error < least[active]
        best[active[better]], least[active[better]] = u[active[better]], error[better]
        gained = error < 0.5 * halved[active]
        halved[active] = np.where(gained, error, halved[active])
        since[active] = np.where(gained, 0, since[active] + 1)
        going = (least[active] > enough) & (since[active] < patience)
        if lost is not None:
            going &= ~lost(u[active], active)
        some = np.flatnonzero(going)
        active = active[some]
        if not active.size:
            break
        step = -solve_rows(jacobian[some], f[some])
        size = (np.abs(np.where(counted[some], step, 0.0)) / longest).max(axis=1)
        here = u[active]
        u[active] = np.clip(here + step / np.maximum(1.0, size)[:, None], *(bound[active] for bound in bounds))
        # a step that was shortened is on its way, unless a bound holds it
        went = (np.abs(np.where(counted[some], u[active] - here, 0.0)) / longest).max(axis=1)
        since[active] -= (size > 1.0) & (went > _WENT)
    return best, least


def solve_rows(jacobian: Array, right: Array) -> Array:
    """Linear systems, one for each row; zero where a matrix is not finite, least squares where one is singular."""
    usable = np.asarray(np.isfinite(jacobian).all(axis=(1, 2)) & np.isfinite(right).all(axis=1))
    matrices = np.where(usable[:, None, None], jacobian, np.eye(jacobian.shape[1]))
    right = np.where(usable[:, None], right, 0.0)
    try:
        return np.asarray(np.linalg.solve(matrices, right[:, :, None])[:, :, 0])
    except np.linalg.LinAlgError:
        return np.stack([_solve_row(m, r) for m, r in zip(matrices, right, strict=True)])


def _solve_row(matrix: Array, right: Array) -> Array:
    try:
        return np.asarray(np.linalg.solve(matrix, right))
    except np.linalg.LinAlgError:
        return np.asarray(np.linalg.lstsq(matrix, right, rcond=None)[0])
