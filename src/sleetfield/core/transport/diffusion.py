"""Diffusion coefficients of components, each against all the others of its phase.

Gas:    D = 1.013e-2 T^1.75 (10⁻³(1/Mᵢ + 1/Mⱼ))^½/(P (vᵢ^⅓ + vⱼ^⅓)²)       m²/s, g/mol, Pa; Fuller, Ensley and Giddings, J. Phys. Chem. 73 (1969) 3679-3685
        1/D = Σ xⱼ/Dᵢⱼ/(1 - xᵢ)                                               Blanc, J. Phys. 7 (1908) 825-839
Liquid: D = 7.4e-12 (φM)^½ T/(μ V^0.6), φM = Σ xⱼ φⱼ Mⱼ                       m²/s, g/mol, mPa s, cm³/mol; Wilke and Chang, AIChE J. 1 (1955) 264-270;
                                                                              Perkins and Geankoplis, Chem. Eng. Sci. 24 (1969) 1035-1042
        V = 0.285 Vc^1.048                                                    at the boiling point, cm³/mol; Tyn and Calus, Processing 21(4) (1975) 16-17

A gas's pressure stands for its density, ρRT, so that dense gases hinder diffusion as they do. What is alone in its phase has none.
"""

from __future__ import annotations

import numpy as np

from ..arrays import Array
from ..constants import R

_FULLER = 1.013e-2
_WILKE_CHANG = 7.4e-12


def of_gas(T: Array, rho: Array, x: Array, M: Array, volumes: Array) -> Array:
    """m2/s ``(N, C)`` at ``T``, K, and ``rho (N,)``, mol/m3; ``M``, kg/mol, and diffusion ``volumes (C,)``."""
    mass, root = 1e3 * M, np.cbrt(volumes)
    pairs = np.sqrt(1.0 / mass[:, None] + 1.0 / mass) / (root[:, None] + root) ** 2
    pressure = rho * R * T
    binary = _FULLER * (T**1.75 / pressure)[:, None, None] * pairs
    return _against_the_others(x, 1.0 / binary)


def _against_the_others(x: Array, resistance: Array) -> Array:
    """By Blanc's law."""
    off = ~np.eye(x.shape[1], dtype=bool)
    others = np.where(off, x[:, None, :], 0.0)
    with np.errstate(all="ignore"):
        return np.asarray(others.sum(axis=2) / np.where(off, x[:, None, :] * resistance, 0.0).sum(axis=2))


def boiling_volumes(Vc: Array) -> Array:
    """m3/mol of liquids at their boiling points from their critical volumes."""
    return np.asarray(0.285e-6 * (1e6 * Vc) ** 1.048)


def of_liquid(T: Array, viscosity: Array, x: Array, M: Array, association: Array, volumes: Array) -> Array:
    """m2/s ``(N, C)`` at ``T``, K, and viscosities ``(N,)``, Pa s; ``M``, kg/mol, Wilke and Chang's ``association`` factors and boiling ``volumes``, m3/mol, ``(C,)``."""
    off = ~np.eye(x.shape[1], dtype=bool)
    others = np.where(off, x[:, None, :], 0.0)
    with np.errstate(all="ignore"):
        solvent = (others * association * 1e3 * M).sum(axis=2) / others.sum(axis=2)
        return np.asarray(_WILKE_CHANG * np.sqrt(solvent) * (T / (1e3 * viscosity))[:, None] / (1e6 * volumes) ** 0.6)
