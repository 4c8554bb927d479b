"""Pitzer's equation of mixed electrolytes, as Harvie, Møller and Weare write it (Geochim. Cosmochim. Acta 48 (1984) 723-751).

    m(φ - 1)/2 = -A I^1.5/(1 + b√I) + Σ mc ma (Bφ + Z C) + Σ mc mc' (Φφ + Σ ma ψ) + Σ ma ma' (Φφ + Σ mc ψ) + Σ mn mi λ
    ln γᵢ from the same excess Gibbs energy

with B of a pair of opposite charges a function of ionic strength with β₀, β₁, β₂; Φ of a pair of like charges a constant θ and, where the charges differ, what electrostatics alone adds
(Pitzer, J. Solution Chem. 4 (1975) 249-265). b = 1.2; α₁ = 2, and 1.4 beside α₂ = 12 where both ions have two charges or more.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..arrays import Array
from .contract import Activities, IonModel

_B = 1.2
_J = 4.581, 0.7237, 0.0120, 0.528


@dataclass(frozen=True, eq=False)
class PitzerTerms:
    """Of ``S`` solutes: charges ``(S,)``; β₀, β₁, β₂ and C = Cφ/2√|z z'| of pairs of opposite charges, θ of like charges, λ of neutral solutes with others, all symmetric ``(S, S)``; ψ of three ``(S, S, S)``."""

    z: Array
    beta0: Array
    beta1: Array
    beta2: Array
    C: Array
    theta: Array
    lambda_: Array
    psi: Array


class Pitzer(IonModel):
    """The equation with its terms and Debye and Hückel's constant ``A`` of osmotic coefficients."""

    def __init__(self, terms: PitzerTerms, A: float) -> None:
        self.terms, self.A = terms, A
        z, size = terms.z, len(terms.z)
        product = np.outer(z, z)
        opposite, like = product < 0.0, (product > 0.0) & ~np.eye(size, dtype=bool)
        both = np.minimum(np.abs(z)[:, None], np.abs(z)) >= 2.0
        # matrices by which molalities are multiplied: of what does not depend on ionic strength, and of each function of it with its α
        self.constant = np.where(opposite, terms.beta0, 0.0) + np.where(like, terms.theta, 0.0)
        bent = ((2.0, terms.beta1 * ~both), (1.4, terms.beta1 * both), (12.0, terms.beta2))
        self.bent = [(alpha, np.where(opposite, table, 0.0)) for alpha, table in bent if (opposite & (table != 0.0)).any()]
        self.C = np.where(opposite, terms.C, 0.0)
        charges = sorted({abs(float(v)) for v in z if v})
        self.unlike = []
        for i, one in enumerate(charges):
            for other in charges[i + 1 :]:
                pair = like & (np.minimum.outer(np.abs(z), np.abs(z)) == one) & (np.maximum.outer(np.abs(z), np.abs(z)) == other)
                if pair.any():
                    self.unlike.append((one, other, pair.astype(float)))
        self.psi = terms.psi.reshape(size, size * size).T

    def activities(self, m: Array) -> Activities:
        z, size = self.terms.z, len(self.terms.z)
        strength, total, Z = 0.5 * (m @ z**2), m.sum(axis=1), m @ np.abs(z)
        at = np.maximum(strength, 1e-12)
        root = np.sqrt(strength)

        def each(values: Array) -> Array:
            return values[:, None]

        # sums over one partner of pairs, and over both, each pair once: of the pairs' values and of their slopes by ionic strength
        one = m @ self.constant
        slope = np.zeros(len(m))
        for alpha, table in self.bent:
            own, x = m @ table, alpha * np.sqrt(at)
            one = one + each(_g(x)) * own
            slope = slope + 0.5 * _g_slope(x) / at * (m * own).sum(axis=1)
        for first, second, table in self.unlike:
            theta, theta_slope = self._electrostatic(first, second, at)
            own = m @ table
            one = one + each(theta) * own
            slope = slope + 0.5 * theta_slope * (m * own).sum(axis=1)
        of_C, neutral = m @ self.C, m @ self.terms.lambda_
        CC = 0.5 * (m * of_C).sum(axis=1)
        three = (m[:, :, None] * m[:, None, :]).reshape(len(m), size * size) @ self.psi
        F = slope - self.A * (root / (1.0 + _B * root) + 2.0 / _B * np.log1p(_B * root))
        ln_gamma = z**2 * each(F) + 2.0 * one + each(Z) * of_C + np.abs(z) * each(CC) + 0.5 * three + 2.0 * neutral
        excess = 0.5 * (m * one).sum(axis=1) + strength * slope - self.A * strength * root / (1.0 + _B * root)
        excess = excess + Z * CC + (m * three).sum(axis=1) / 6.0 + 0.5 * (m * neutral).sum(axis=1)
        with np.errstate(all="ignore"):
            osmotic = np.where(total > 0.0, 1.0 + 2.0 * excess / total, 1.0)
        return Activities(ln_gamma, osmotic)

    def _electrostatic(self, one: float, other: float, strength: Array) -> tuple[Array, Array]:
        """What charges of one sign but different size add to Φ, and its derivative by ionic strength ``(N,)``."""
        J, slopes = zip(
            *(_integral(6.0 * product * self.A * np.sqrt(strength)) for product in (one * other, one**2, other**2)), strict=True
        )
        theta = one * other / (4.0 * strength) * (J[0] - 0.5 * J[1] - 0.5 * J[2])
        return theta, -theta / strength + one * other / (8.0 * strength**2) * (slopes[0] - 0.5 * slopes[1] - 0.5 * slopes[2])


def _g(x: Array) -> Array:
    """2(1 - (1 + x) e⁻ˣ)/x², by its series where that is small."""
    small = x < 1e-3
    at = np.where(small, 1.0, x)
    return np.where(small, 1.0 - 2.0 / 3.0 * x + 0.25 * x**2, 2.0 * (1.0 - (1.0 + at) * np.exp(-at)) / at**2)


def _g_slope(x: Array) -> Array:
    """-2(1 - (1 + x + x²/2) e⁻ˣ)/x²: I times the derivative of g by strength."""
    small = x < 1e-3
    at = np.where(small, 1.0, x)
    return np.where(small, -x / 3.0 + 0.25 * x**2, -2.0 * (1.0 - (1.0 + at + 0.5 * at**2) * np.exp(-at)) / at**2)


def _integral(x: Array) -> tuple[Array, Array]:
    """J and x times its derivative, by Pitzer's fit (1975, eq. 47)."""
    c1, c2, c3, c4 = _J
    power, inner = x**-c2, c3 * x**c4
    rest = 4.0 + c1 * power * np.exp(-inner)
    rest_slope = c1 * power * np.exp(-inner) * (-c2 / x - c4 * inner / x)
    return x / rest, x / rest - x**2 * rest_slope / rest**2
