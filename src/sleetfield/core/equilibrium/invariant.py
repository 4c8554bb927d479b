"""Points at which as many phases coexist as can: C + 1 of them for C components, at given temperature or pressure.

    ln xᵢ + ln φᵢ the same in every phase for every i,   Σ xᵢ = 1 in each

in the logarithms of all mole fractions and of the unknown temperature or pressure, by Newton's method. Two liquids and a vapor of a binary are
the line on which a liquid-liquid split meets the boiling curve.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ..arrays import Array, Kinds, component_major
from ..models.contract import PhaseModel

_STEPS = 50
_CONVERGED = 1e-10
_LONGEST, _LONGEST_Q = 1.0, 0.1


class InvariantPoint(NamedTuple):
    """T, P and the phases ``(C + 1, C)``, mole fractions."""

    T: float
    P: float
    x: Array


def invariant_point(
    model: PhaseModel, given: str, value: float, guess: float, phases: Array, kinds: Kinds
) -> InvariantPoint | None:
    """The point near ``phases (C + 1, C)`` of the given ``kinds``; ``given`` is "T" or "P", ``guess`` is of the other. None where there is none."""
    many, c = phases.shape
    u, ln_q = np.log(phases), float(np.log(guess))
    size = many * c + 1
    for _ in range(_STEPS):
        x = np.exp(u)
        q = np.full(many, np.exp(ln_q))
        known = np.full(many, value)
        total = x.sum(axis=1)
        bound = model.at(known, q) if given == "T" else model.at(q, known)
        e = bound.evaluate(component_major(x / total[:, None]), kinds)
        slope = (e.dP if given == "T" else e.dT) * q[:, None]
        ln_f = u - np.log(total)[:, None] + e.ln_phi
        f, jacobian = np.zeros(size), np.zeros((size, size))
        share = x / total[:, None]
        own = np.eye(c) + (e.dn - 1.0) * share[:, None, :]
        last = slice((many - 1) * c, many * c)
        for k in range(many - 1):
            rows = slice(k * c, (k + 1) * c)
            f[rows] = ln_f[k] - ln_f[-1]
            jacobian[rows, rows], jacobian[rows, last], jacobian[rows, -1] = own[k], -own[-1], slope[k] - slope[-1]
        for k in range(many):
            f[(many - 1) * c + k] = total[k] - 1.0
            jacobian[(many - 1) * c + k, k * c : (k + 1) * c] = x[k]
        if not (np.isfinite(f).all() and np.isfinite(jacobian).all()):
            return None
        if np.abs(f).max() < _CONVERGED:
            T, P = (value, float(np.exp(ln_q))) if given == "T" else (float(np.exp(ln_q)), value)
            return InvariantPoint(T, P, x / total[:, None])
        try:
            step = np.linalg.solve(jacobian, f)
        except np.linalg.LinAlgError:
            return None
        step /= max(1.0, np.abs(step[:-1]).max() / _LONGEST, abs(step[-1]) / _LONGEST_Q)
        u -= step[:-1].reshape(many, c)
        ln_q -= step[-1]
    return None
