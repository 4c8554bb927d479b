"""Interaction parameters of Peng and Robinson's equation from groups, as functions of temperature.

    kᵢⱼ = [Eᵢⱼ - (δᵢ - δⱼ)²]/2δᵢδⱼ,     δ = √a/b,     Eᵢⱼ = -½ Σₖ Σₗ (αᵢₖ - αⱼₖ)(αᵢₗ - αⱼₗ) Aₖₗ (298.15/T)^(Bₖₗ/Aₖₗ - 1)

with αᵢₖ the share of group k among the groups of component i. Jaubert and Mutelet, Fluid Phase Equilib. 224 (2004) 285-304.
"""

from __future__ import annotations

import numpy as np

from ..arrays import Array

_T_REFERENCE = 298.15


def from_groups(T: Array, shares: Array, A: Array, B: Array, delta: Array) -> Array:
    """kᵢⱼ ``(N,)`` of two components at ``T (N,)``, from the shares of their groups ``(2, G)``, A and B ``(G, G)``, Pa, and δ ``(N, 2)``."""
    apart = shares[0] - shares[1]
    known = A != 0.0
    power = np.where(known, B / np.where(known, A, 1.0), 1.0) - 1.0
    terms = A * (_T_REFERENCE / T)[:, None, None] ** power
    E = -0.5 * np.einsum("k,l,nkl->n", apart, apart, terms)
    return np.asarray((E - (delta[:, 0] - delta[:, 1]) ** 2) / (2.0 * delta[:, 0] * delta[:, 1]))
