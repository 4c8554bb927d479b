"""Bubble points of feeds that are two liquids there: three phases, the vapor in no amount yet.

The state with a trace of vapor is found first (`specified_flash`); then the vapor is left out of the balances and the sum of its mole
fractions set to one, with everything solved at once (`simultaneous`).
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from .arrays import Array
from .blocks import take_rows
from .equilibrium.flash import flash
from .equilibrium.saturation import SaturationResult
from .equilibrium.stability import UNSTABLE
from .models.contract import LIQUID, VAPOR
from .simultaneous import INCIPIENT, solve_together
from .specification import FRACTION, Mixture, Specification
from .specified_flash import flash_to

_WHERE_LIQUID = {"T": (3e7,), "P": (220.0, 280.0, 340.0)}
_TRACE = 1e-4
_PHASES = 3


def split_bubble(mixture: Mixture, known: str, given: Array, z: Array) -> SaturationResult:
    """Bubble points at given ``known`` ("T" or "P") ``(N,)`` of feeds ``z (N, C)`` that boil as two liquids; NaN for others."""
    n, c = z.shape
    T, P, tm, residual = (np.full(n, np.nan) for _ in range(4))
    incipient = np.full((n, c), np.nan)
    split = np.flatnonzero(_two_liquids(mixture, known, given, z))
    if split.size:
        near = flash_to(mixture, known, given[split], FRACTION, np.full(split.size, _TRACE), z[split])
        boiling = near.found & (near.result.n_phases == _PHASES) & (near.result.kinds[:, 0] == VAPOR)
        three, at = split[boiling], take_rows(near, np.flatnonzero(boiling))
    if split.size and three.size:
        named: Mapping[str, Array] = {known: given[three], INCIPIENT: np.ones(three.size)}
        liquids = at.result.amount[:, 1:_PHASES, None] * at.result.x[:, 1:_PHASES] / (1.0 - _TRACE)
        moles = np.concatenate([at.result.x[:, :1], liquids], axis=1)
        kinds = np.tile(np.array([VAPOR, LIQUID, LIQUID], dtype=np.int8), (three.size, 1))
        with np.errstate(all="ignore"):
            solved = solve_together(Specification(mixture, named, z[three]), at.T, at.P, moles, kinds)
        good = np.flatnonzero(solved.sound & (at.result.tm >= UNSTABLE))
        rows = three[good]
        T[rows], P[rows], tm[rows], residual[rows] = solved.T[good], solved.P[good], 0.0, solved.residual[good]
        incipient[rows] = np.where(z[rows] > 0.0, solved.n[good, 0] / solved.n[good, 0].sum(axis=1)[:, None], 0.0)
    return SaturationResult(T, P, incipient, residual, tm)


def _two_liquids(mixture: Mixture, known: str, given: Array, z: Array) -> NDArray[np.bool_]:
    """Which feeds are two liquids under high pressure at their temperature, or in the cold at their pressure; only those can boil as two."""
    found = np.zeros(len(z), dtype=bool)
    for other in _WHERE_LIQUID[known]:
        there = np.full(len(z), other)
        T, P = (given, there) if known == "T" else (there, given)
        found |= flash(mixture.model, T, P, z).n_phases > 1
    return found
