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
from ..models.contract import LIQUID, VAPOR, Evaluation, Kind, PhaseModel

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
    z, y = (component_major(np.maximum(phase.x, ABSENT)) for phase in (feed, incipient))
    J, _, _ = _saturation_system(model, given, T, P, z, y, (feed.kind, incipient.kind))
    right = np.zeros((*J.shape[:2], len(shifts)))
    by_feed, by_incipient = _slopes_of_ln_phi(shifts, T, P, [(z, feed.kind), (y, incipient.kind)])
    right[:, :-1] = by_feed - by_incipient
    return _moved(J, right, y)


def of_saturation_conditions(
    model: PhaseModel, given: str, T: Array, P: Array, feed: Phase, incipient: Phase
) -> tuple[Array, Array]:
    """How bubble and dew points move with what they were calculated at: the given T or P, and all mole fractions of the feed but the last's, which is the rest.

    Returns
    -------
    unknown : (N, C)
        ∂ln P/∂T or ∂ln T/∂P first, then ∂/∂z of each of the first C - 1 components.
    composition : (N, C, C)
        ∂y of the incipient phase by the same.
    """
    z, y = (component_major(np.maximum(phase.x, ABSENT)) for phase in (feed, incipient))
    J, own, other = _saturation_system(model, given, T, P, z, y, (feed.kind, incipient.kind))
    n, c = z.shape
    right = np.zeros((n, c + 1, c))
    right[:, :c, 0] = other.dT - own.dT if given == "T" else other.dP - own.dP
    by_fraction = other.dn.copy()
    by_fraction[:, range(c), range(c)] += 1.0 / z
    right[:, :c, 1:] = by_fraction[:, :, :-1] - by_fraction[:, :, -1:]
    return _moved(J, right, y)


def _saturation_system(
    model: PhaseModel, given: str, T: Array, P: Array, z: Array, y: Array, kinds: tuple[Kind, Kind]
) -> tuple[Array, Evaluation, Evaluation]:
    """∂F/∂u of saturation points, unknowns ln yᵢ and ln P or ln T, with what both phases are."""
    n, c = z.shape
    bound = model.at(T, P)
    own, other = bound.evaluate(y, kinds[1]), bound.evaluate(z, kinds[0])
    J = np.zeros((n, c + 1, c + 1))
    J[:, :c, :c] = own.dn * y[:, None, :]
    J[:, range(c), range(c)] += 1.0
    J[:, :c, c] = P[:, None] * (own.dP - other.dP) if given == "T" else T[:, None] * (own.dT - other.dT)
    J[:, c, :c] = y
    return J, own, other


def _moved(J: Array, right: Array, y: Array) -> tuple[Array, Array]:
    found = np.linalg.solve(J, right)
    return np.asarray(found[:, -1]), np.asarray((y[:, :, None] * found[:, :-1]).swapaxes(1, 2))


def of_split_saturation(
    model: PhaseModel, shifts: Sequence[Shift], given: str, T: Array, P: Array, y: Array, liquids: Array, amounts: Array
) -> tuple[Array, Array]:
    """Of bubble points of feeds that are two liquids ``liquids (N, 2, C)`` in the ``amounts (N, 2)``; ``y (N, C)`` is the vapor.

    Returns
    -------
    unknown : (N, K)
        ∂ln P/∂p at given T, ∂ln T/∂p at given P.
    composition : (N, K, C)
        ∂y/∂p.
    """
    n, c = y.shape
    v, one, two = (component_major(np.maximum(x, ABSENT)) for x in (y, liquids[:, 0], liquids[:, 1]))
    bound = model.at(T, P)
    vapor, first, second = bound.evaluate(v, VAPOR), bound.evaluate(one, LIQUID), bound.evaluate(two, LIQUID)
    by_vapor, by_first, by_second = _slopes_of_ln_phi(shifts, T, P, [(v, VAPOR), (one, LIQUID), (two, LIQUID)])
    by_q = [P[:, None] * e.dP if given == "T" else T[:, None] * e.dT for e in (vapor, first, second)]
    # unknowns: the first liquid's mole numbers over the square root of what both liquids have, ln yᵢ, and ln P or ln T
    mole = [beta[:, None] * x for beta, x in zip(amounts.T, (one, two), strict=True)]
    s = np.sqrt(mole[0] * mole[1])
    by_mole = []
    for e, m, beta in zip((first, second), mole, amounts.T, strict=True):
        H = (e.dn - 1.0) / beta[:, None, None]
        H[:, range(c), range(c)] += 1.0 / m
        by_mole.append(H * s[:, None, :])
    J, right = np.zeros((n, 2 * c + 1, 2 * c + 1)), np.zeros((n, 2 * c + 1, len(shifts)))
    J[:, :c, :c], J[:, c : 2 * c, :c] = -by_mole[0], by_mole[0] + by_mole[1]
    J[:, :c, c : 2 * c] = vapor.dn * v[:, None, :]
    J[:, range(c), range(c, 2 * c)] += 1.0
    J[:, :c, 2 * c], J[:, c : 2 * c, 2 * c] = by_q[0] - by_q[1], by_q[1] - by_q[2]
    J[:, 2 * c, c : 2 * c] = v
    right[:, :c], right[:, c : 2 * c] = by_first - by_vapor, by_second - by_first
    found = np.linalg.solve(J, right)
    return found[:, 2 * c], (v[:, :, None] * found[:, c : 2 * c]).swapaxes(1, 2)


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
    kinds = first.kind, second.kind
    by_first, by_second = _slopes_of_ln_phi(shifts, T, P, list(zip(parts, kinds, strict=True)))
    H, right = np.zeros((n, c, c)), by_second - by_first
    for beta, x, kind in zip(amounts.T, parts, kinds, strict=True):
        e = bound.evaluate(x, kind)
        # ∂ln fᵢ/∂nⱼ = δᵢⱼ/nᵢ + (n ∂ln φᵢ/∂nⱼ - 1)/n
        per = 1.0 / beta
        H += per[:, None, None] * (e.dn - 1.0)
        H[:, range(c), range(c)] += per[:, None] / x
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


def _slopes_of_ln_phi(shifts: Sequence[Shift], T: Array, P: Array, phases: Sequence[tuple[Array, Kind]]) -> list[Array]:
    """∂ln φ/∂p of phases as they stand, ``(N, C, K)`` each."""
    slopes = [np.zeros((*x.shape, len(shifts))) for x, _ in phases]
    for k, s in enumerate(shifts):
        above, below = s.above.at(T, P), s.below.at(T, P)
        for slope, (x, kind) in zip(slopes, phases, strict=True):
            slope[:, :, k] = (above.ln_phi(x, kind) - below.ln_phi(x, kind)) / (2.0 * s.step)
    return slopes
