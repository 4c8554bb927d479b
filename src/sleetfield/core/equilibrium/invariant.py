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
from ..newton import solve

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
    problem = _Problem(model, given, value, kinds, many, c)
    start = np.append(np.log(phases).ravel(), np.log(guess))
    longest = np.append(np.full(many * c, _LONGEST), _LONGEST_Q)
    found = solve(problem.equations, start, longest=longest, steps=_STEPS, converged=_CONVERGED)
    if found is None:
        return None
    x, q = np.exp(found.u[:-1]).reshape(many, c), float(np.exp(found.u[-1]))
    T, P = (value, q) if given == "T" else (q, value)
    return InvariantPoint(T, P, x / x.sum(axis=1)[:, None])


class _Problem(NamedTuple):
    """Equal ln f of all phases, and the sums of their mole fractions; unknowns are ln x of all and ln T or ln P."""

    model: PhaseModel
    given: str
    value: float
    kinds: Kinds
    many: int
    c: int

    def equations(self, u: Array) -> tuple[Array, Array]:
        """Residuals and their derivatives, square."""
        many, c = self.many, self.c
        size, last = many * c + 1, slice((many - 1) * c, many * c)
        ln_x, q = u[:-1].reshape(many, c), np.full(many, np.exp(u[-1]))
        x, known = np.exp(ln_x), np.full(many, self.value)
        total = x.sum(axis=1)
        bound = self.model.at(known, q) if self.given == "T" else self.model.at(q, known)
        share = x / total[:, None]
        e = bound.evaluate(component_major(share), self.kinds)
        slope = (e.dP if self.given == "T" else e.dT) * q[:, None]
        ln_f = ln_x - np.log(total)[:, None] + e.ln_phi
        f, jacobian = np.zeros(size), np.zeros((size, size))
        own = np.eye(c) + (e.dn - 1.0) * share[:, None, :]
        for k in range(many - 1):
            rows = slice(k * c, (k + 1) * c)
            f[rows] = ln_f[k] - ln_f[-1]
            jacobian[rows, rows], jacobian[rows, last], jacobian[rows, -1] = own[k], -own[-1], slope[k] - slope[-1]
        for k in range(many):
            f[(many - 1) * c + k] = total[k] - 1.0
            jacobian[(many - 1) * c + k, k * c : (k + 1) * c] = x[k]
        return f, jacobian
