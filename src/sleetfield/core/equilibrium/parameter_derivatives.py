"""How converged states move with the parameters of their model, by the implicit-function theorem.

With F(u, p) = 0 solved for the unknowns u at parameters p,

    ∂u/∂p = -(∂F/∂u)⁻¹ ∂F/∂p.

∂F/∂u is what Newton's method solves the state with, from the model's own derivatives; ∂F/∂p is the change of ln φ at the state as it
stands, by central differences between two models, which need no state to be solved again. All states and parameters are one batch.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from ..arrays import ABSENT, Array, component_major
from ..models.contract import Kind, PhaseModel

_TRACE = 1e-50
"""A component of which a phase has less is not compared."""


class Shift(NamedTuple):
    """Two models that differ in one parameter by ``step`` to either side."""

    below: PhaseModel
    above: PhaseModel
    step: float


class Phase(NamedTuple):
    """Compositions ``(N, C)`` of one phase of ``N`` states, and its kind."""

    x: Array
    kind: Kind


def of_saturation(
    model: PhaseModel, shifts: Sequence[Shift], given: str, T: Array, P: Array, feed: Phase, incipient: Phase
) -> tuple[Array, Array]:
    """Of bubble and dew points at given temperatures (``given="T"``) or pressures (``"P"``).

    Returns
    -------
    unknown : (N, K)
        ∂ln P/∂p at given T, ∂ln T/∂p at given P.
    composition : (N, K, C)
        ∂y/∂p of the incipient phase.
    """
    n, c = feed.x.shape
    z, y = (component_major(np.maximum(phase.x, ABSENT)) for phase in (feed, incipient))
    bound = model.at(T, P)
    own, other = bound.evaluate(y, incipient.kind), bound.evaluate(z, feed.kind)
    J = np.zeros((n, c + 1, c + 1))
    # unknowns: ln yᵢ, and ln P or ln T
    J[:, :c, :c] = own.dn * y[:, None, :]
    J[:, range(c), range(c)] += 1.0
    J[:, :c, c] = P[:, None] * (own.dP - other.dP) if given == "T" else T[:, None] * (own.dT - other.dT)
    J[:, c, :c] = y
    right = np.zeros((n, c + 1, len(shifts)))
    right[:, :c] = _slope_of_ln_phi(shifts, T, P, z, feed.kind) - _slope_of_ln_phi(shifts, T, P, y, incipient.kind)
    found = np.linalg.solve(J, right)
    return found[:, c], (y[:, :, None] * found[:, :c]).swapaxes(1, 2)


def of_two_phases(
    model: PhaseModel, shifts: Sequence[Shift], T: Array, P: Array, amounts: Array, first: Phase, second: Phase
) -> tuple[Array, Array, Array]:
    """Of two phases at given temperature and pressure; ``amounts (N, 2)`` are their shares in the feed.

    Returns
    -------
    share : (N, K)
        ∂β/∂p of the first phase.
    first, second : (N, K, C)
        ∂x/∂p of both.
    """
    n, c = first.x.shape
    parts = [component_major(np.maximum(phase.x, ABSENT)) for phase in (first, second)]
    bound = model.at(T, P)
    H, right = np.zeros((n, c, c)), np.zeros((n, c, len(shifts)))
    for sign, beta, x, kind in zip((-1.0, 1.0), amounts.T, parts, (first.kind, second.kind), strict=True):
        e = bound.evaluate(x, kind)
        # ∂ln fᵢ/∂nⱼ = δᵢⱼ/nᵢ + (n ∂ln φᵢ/∂nⱼ - 1)/n
        per = 1.0 / beta
        H += per[:, None, None] * (e.dn - 1.0)
        H[:, range(c), range(c)] += per[:, None] / x
        right += sign * _slope_of_ln_phi(shifts, T, P, x, kind)
    # scaled, so that traces don't spoil the solution: unknowns are the changes of the first phase's mole numbers over √(x₁x₂)
    s = np.sqrt(parts[0] * parts[1])
    moved = s[:, :, None] * np.linalg.solve(H * s[:, :, None] * s[:, None, :], right * s[:, :, None])
    share = moved.sum(axis=1)
    changes = [
        ((sign * moved - x[:, :, None] * (sign * share)[:, None]) / beta[:, None, None]).swapaxes(1, 2)
        for sign, beta, x in zip((1.0, -1.0), amounts.T, parts, strict=True)
    ]
    return share, changes[0], changes[1]


def unequal_fugacities(model: PhaseModel, T: Array, P: Array, first: Phase, second: Phase) -> Array:
    """The largest difference of ln f between two phases, of components that both have ``(N,)``."""
    x, y = (component_major(np.maximum(phase.x, ABSENT)) for phase in (first, second))
    bound = model.at(T, P)
    off = np.abs(np.log(x) + bound.ln_phi(x, first.kind) - np.log(y) - bound.ln_phi(y, second.kind))
    return np.asarray(np.where((x > _TRACE) & (y > _TRACE), off, 0.0).max(axis=1))


def _slope_of_ln_phi(shifts: Sequence[Shift], T: Array, P: Array, x: Array, kind: Kind) -> Array:
    """∂ln φ/∂p of phases as they stand ``(N, C, K)``."""
    columns = [(s.above.at(T, P).ln_phi(x, kind) - s.below.at(T, P).ln_phi(x, kind)) / (2.0 * s.step) for s in shifts]
    return np.stack(columns, axis=2) if columns else np.zeros((*x.shape, 0))
