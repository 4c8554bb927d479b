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

from ..arrays import Array
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
        slopes = np.zeros_like(m)
        if not self.cations.size or not self.anions.size:
            return slopes, np.zeros(len(m))
        X = np.maximum(m * np.abs(self.terms.z), _LEAST)
        c, a = X[:, self.cations], X[:, self.anions]
        Sc, Sa = c.sum(axis=1), a.sum(axis=1)
        Y_c, Y_a = c / Sc[:, None], a / Sa[:, None]
        # around water: the means over counter-ions
        G_c, G_a = Y_a @ self.G_s.T, Y_c @ self.G_s
        tau_c, tau_a = -np.log(G_c) / ALPHA, -np.log(G_a) / ALPHA
        above = (c * G_c * tau_c).sum(axis=1) + (a * G_a * tau_a).sum(axis=1)
        below = _WATER + (c * G_c).sum(axis=1) + (a * G_a).sum(axis=1)
        share = _WATER / below
        of_water = above / below * (1.0 - share)
        around = (
            (c, Sc, Y_c, G_c, tau_c, a, Sa, Y_a, G_a, tau_a, self.G_s),
            (a, Sa, Y_a, G_a, tau_a, c, Sc, Y_c, G_c, tau_c, self.G_s.T),
        )
        for (own, S, _, G, tau, other, _, _, G_other, tau_other, Gs), place in zip(
            around, (self.cations, self.anions), strict=True
        ):
            # what counter-ions have around water follows from these too
            moved = (other * (tau_other - 1.0 / ALPHA)) @ Gs.T - (other * (tau_other - 1.0 / ALPHA) * G_other).sum(axis=1)[:, None]
            counted = other @ Gs.T - (other * G_other).sum(axis=1)[:, None]
            by_above, by_below = G * tau + moved / S[:, None], G + counted / S[:, None]
            slopes[:, place] += (share - 1.0)[:, None] * by_above - (share * above / below)[:, None] * by_below
        tables = (self.tau_w - self.tau_s, (self.tau_w - self.tau_s).T)
        places = ((self.cations, self.anions), (self.anions, self.cations))
        for (own, _, _, G, tau, _, S, Y, _, _, Gs), k, (here, there) in zip(around, tables, places, strict=True):
            # water around each ion, beside each counter-ion
            t = tau[:, :, None] + k
            s = _WATER * np.exp(-ALPHA * t)
            s = s / (S[:, None, None] + s)
            both, F = s * (1.0 - s), (s - 1.0) * t
            mean = (Y[:, None, :] * F).sum(axis=2)
            bend = (Y[:, None, :] * (s - 1.0 - ALPHA * t * both)).sum(axis=2)
            weight = own[:, :, None] * Y[:, None, :] * t * both
            of_water = of_water + weight.sum(axis=(1, 2)) / _WATER
            slopes[:, here] += mean
            by_share = (own[:, :, None] * (F - mean[:, :, None])).sum(axis=1)
            by_tau = (own * bend / (-ALPHA * G)) @ Gs - (own * bend / -ALPHA).sum(axis=1)[:, None]
            slopes[:, there] += (by_share - weight.sum(axis=(1, 2))[:, None] + by_tau) / S[:, None]
        return slopes * np.abs(self.terms.z), of_water
