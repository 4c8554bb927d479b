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

import numpy as np

from ..arrays import Array, Numbers
from .contract import M_WATER, Activities, IonModel

_RHO, ALPHA = 14.9, 0.2
_WATER = 1.0 / M_WATER
_STEP = 1e-30
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
        many, size = m.shape
        # every amount, water's last, moved by itself into the complex plane: derivatives to the last digit
        n = np.concatenate([m, np.full((many, 1), _WATER)], axis=1)
        moved = n[:, None, :] + 1j * _STEP * np.eye(size + 1)
        slopes = self._energy(moved.reshape(-1, size + 1)).imag.reshape(many, size + 1) / _STEP
        total = m.sum(axis=1)
        of_water = -np.log1p(M_WATER * total)
        salting = 2.0 * m @ self.terms.lambda_
        ln_gamma = slopes[:, :size] + of_water[:, None] + salting
        ln_water = slopes[:, size] + of_water - 0.5 * M_WATER * (m * salting).sum(axis=1)
        with np.errstate(all="ignore"):
            osmotic = np.where(total > 0.0, -ln_water / (M_WATER * total), 1.0)
        return Activities(ln_gamma, osmotic)

    def _energy(self, n: Numbers) -> Numbers:
        """Φ ``(N,)`` of amounts ``n (N, S + 1)``, water's last."""
        z, total = self.terms.z, n.sum(axis=1)
        strength = 0.5 * (n[:, :-1] @ z**2) / total
        root = np.sqrt(strength + _LEAST)
        charges = -total * np.sqrt(_WATER) * 4.0 * self.A / _RHO * strength * np.log(1.0 + _RHO * root)
        return np.asarray(charges + self._local(n))

    def _local(self, n: Numbers) -> Numbers:
        if not self.cations.size or not self.anions.size:
            return np.zeros(len(n), dtype=n.dtype)
        X = n[:, :-1] * np.abs(self.terms.z)
        c, a, w = X[:, self.cations], X[:, self.anions], n[:, -1:]
        Y_c, Y_a = (part / (part.sum(axis=1, keepdims=True) + _LEAST) for part in (c, a))
        # around water: the means over counter-ions
        G_c, G_a = Y_a @ self.G_s.T, Y_c @ self.G_s
        tau_c, tau_a = (-np.log(G) / ALPHA for G in (G_c, G_a))
        above = (c * G_c * tau_c).sum(axis=1) + (a * G_a * tau_a).sum(axis=1)
        below = w[:, 0] + (c * G_c).sum(axis=1) + (a * G_a).sum(axis=1)
        energy: Numbers = w[:, 0] * above / below - above
        for X_own, Y_other, tau, other, others in (
            (c, Y_a, tau_c, a, self.tau_w - self.tau_s),
            (a, Y_c, tau_a, c, (self.tau_w - self.tau_s).T),
        ):
            # water around each ion, beside each counter-ion
            around = tau[:, :, None] + others
            G = np.exp(-ALPHA * around)
            share = w[:, :, None] * G / (other.sum(axis=1)[:, None, None] + w[:, :, None] * G)
            energy = energy + (X_own[:, :, None] * Y_other[:, None, :] * (share - 1.0) * around).sum(axis=(1, 2))
        return energy
