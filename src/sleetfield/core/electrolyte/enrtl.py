"""Electrolyte NRTL: local compositions of ions and water beside Pitzer's form of Debye and Hückel's law.

    Φ = Σ n g, g = -(1000/M)^½ (4A Iₓ/ρ) ln(1 + ρ√Iₓ) + g_local - g_local at infinite dilution in water,    ln γᵢ = ∂Φ/∂nᵢ on mole fractions
    Φ_local = X_w Σⱼ Xⱼ Gⱼ τⱼ/Σₖ Xₖ Gₖ + Σ X_c Σ Y_a X_w G_ca τ_ca/(Σ X_a' + X_w G_ca) + the same of anions

with Xᵢ = |zᵢ|nᵢ of ions, n of water; Y shares among ions of one sign; G = exp(-ατ). Around water, a cation's G is the mean of those of its salts; around an ion, water's τ follows from both. Ions of one charge keep apart,
and nothing sets one salt apart from another but its own parameters. The infinite dilution is that in the proportions in which the ions are there, so that all ln γ are derivatives of one energy.

Chen, Britt, Boston and Evans, AIChE J. 28 (1982) 588-596; Chen and Evans, AIChE J. 32 (1986) 444-454; Pitzer, J. Am. Chem. Soc. 102 (1980) 2902-2906. ρ = 14.9, α = 0.2. Neutral solutes are there by mole fraction, with the salting-out of
`pitzer`.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from ..arrays import Array, Index
from .contract import M_WATER, Activities, IonModel

_RHO, ALPHA = 14.9, 0.2
_WATER = 1.0 / M_WATER
_LEAST = 1e-200


@dataclass(frozen=True, eq=False)
class LocalTerms:
    """Of ``S`` solutes: charges ``(S,)``; τ of water around a salt and of a salt around water ``(S, S)``, of pairs of cations, rows, and anions; λ of neutral solutes with ions ``(S, S)``, symmetric."""

    z: Array
    of_water: Array
    of_salt: Array
    lambda_: Array


class ElectrolyteNRTL(IonModel):
    """The equation with its terms and Debye and Hückel's constant ``A`` of osmotic coefficients."""

    def __init__(self, terms: LocalTerms, A: float) -> None:
        self.terms, self.A = terms, A
        z = terms.z
        self.cations, self.anions = np.flatnonzero(z > 0.0), np.flatnonzero(z < 0.0)
        pairs = np.ix_(self.cations, self.anions)
        self.tau_w, self.tau_s = terms.of_water[pairs], terms.of_salt[pairs]
        self.G_s = np.exp(-ALPHA * self.tau_s)

    def activities(self, m: Array) -> Activities:
        total = m.sum(axis=1)
        # of charges, and of local compositions
        of_ions, of_water = self._charges(m)
        near_ions, near_water = self._local(m)
        dilution = -np.log1p(M_WATER * total)
        salting = 2.0 * m @ self.terms.lambda_
        ln_gamma = of_ions + near_ions + dilution[:, None] + salting
        ln_water = of_water + near_water + dilution - 0.5 * M_WATER * (m * salting).sum(axis=1)
        with np.errstate(all="ignore"):
            osmotic = np.where(total > 0.0, -ln_water / (M_WATER * total), 1.0)
        return Activities(ln_gamma, osmotic)

    def _charges(self, m: Array) -> tuple[Array, Array]:
        """Derivatives of what charges add, by solutes ``(N, S)`` and by water ``(N,)``."""
        half = 0.5 * self.terms.z**2
        strength = m @ half / (m.sum(axis=1) + _WATER)
        root = np.sqrt(strength)
        log, rest = np.log1p(_RHO * root), 0.5 * _RHO * root / (1.0 + _RHO * root)
        scale = -np.sqrt(_WATER) * 4.0 * self.A / _RHO
        return scale * ((strength * log)[:, None] + (half - strength[:, None]) * (log + rest)[:, None]), -scale * strength * rest

    def _local(self, m: Array) -> tuple[Array, Array]:
        """The same of local compositions."""
        slopes, of_water = np.zeros_like(m), np.zeros(len(m))
        if not self.cations.size or not self.anions.size:
            return slopes, of_water
        X = np.maximum(m * np.abs(self.terms.z), _LEAST)
        off = self.tau_w - self.tau_s
        cations = _side(self.cations, X[:, self.cations], X[:, self.anions], self.G_s, off)
        anions = _side(self.anions, X[:, self.anions], X[:, self.cations], self.G_s.T, off.T)
        around_water = _around_water(cations, anions)
        for side, other, near_water in ((cations, anions, around_water[0]), (anions, cations, around_water[1])):
            here, there, water = _around_ions(side, other)
            slopes[:, side.place] += near_water + here
            slopes[:, other.place] += there
            of_water = of_water + water
        return slopes * np.abs(self.terms.z), of_water + around_water[2]


class _Side(NamedTuple):
    """Ions of one sign: where they stand; X, its sum, and shares; G and τ that they have around water, means over those of their salts, ``G_s``; and what τ of water around each salt is beyond that of the salt."""

    place: Index
    X: Array
    total: Array
    Y: Array
    G: Array
    tau: Array
    G_s: Array
    off: Array


def _side(place: Index, X: Array, other: Array, G_s: Array, off: Array) -> _Side:
    total = X.sum(axis=1)
    G = (other / other.sum(axis=1, keepdims=True)) @ G_s.T
    return _Side(place, X, total, X / total[:, None], G, -np.log(G) / ALPHA, G_s, off)


def _around_water(cations: _Side, anions: _Side) -> tuple[Array, Array, Array]:
    """Derivatives by X of both sides and by water of X_w Σ X G τ/(X_w + Σ X G) - Σ X G τ."""
    above = sum((side.X * side.G * side.tau).sum(axis=1) for side in (cations, anions))
    below = _WATER + sum((side.X * side.G).sum(axis=1) for side in (cations, anions))
    share = _WATER / below
    slopes = []
    for side, other in ((cations, anions), (anions, cations)):
        # what counter-ions have around water follows from these too

        def moved(weight: Array, side: _Side = side, other: _Side = other) -> Array:
            return np.asarray((weight @ side.G_s.T - (weight * other.G).sum(axis=1)[:, None]) / side.total[:, None])

        by_above = side.G * side.tau + moved(other.X * (other.tau - 1.0 / ALPHA))
        by_below = side.G + moved(other.X)
        slopes.append((share - 1.0)[:, None] * by_above - (share * above / below)[:, None] * by_below)
    return slopes[0], slopes[1], np.asarray(above / below * (1.0 - share))


def _around_ions(side: _Side, other: _Side) -> tuple[Array, Array, Array]:
    """Derivatives by X of a side and of the other one and by water of Σ X Σ Y (s - 1) τ, with water's share s around each ion beside each counter-ion."""
    t = side.tau[:, :, None] + side.off
    s = _WATER * np.exp(-ALPHA * t)
    s = s / (other.total[:, None, None] + s)
    both, F, Y = s * (1.0 - s), (s - 1.0) * t, other.Y[:, None, :]
    mean, bend = (Y * F).sum(axis=2), side.X * (Y * (s - 1.0 - ALPHA * t * both)).sum(axis=2)
    weight = (side.X[:, :, None] * Y * t * both).sum(axis=(1, 2))
    by_share = (side.X[:, :, None] * (F - mean[:, :, None])).sum(axis=1) - weight[:, None]
    by_tau = ((bend / side.G) @ side.G_s - bend.sum(axis=1)[:, None]) / -ALPHA
    return mean, (by_share + by_tau) / other.total[:, None], weight / _WATER
