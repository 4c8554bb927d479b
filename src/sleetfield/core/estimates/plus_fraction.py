"""A plus fraction as a distribution over single carbon numbers, and lumps of them.

- Exponential: ln z falls linearly with the carbon number, M = 14 n - 4 g/mol (Pedersen, Thomassen and Fredenslund, SPE 14487, 1985).
- Gamma: a three-parameter gamma distribution of molar mass (Whitson, SPE J. 23 (1983) 683-694).
- Specific gravities: one Watson factor for all cuts, chosen so that the volume of the whole is kept (Whitson, ibid., with
  SG = 6.0108 M^0.17947 Kw^-1.18241).
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ..arrays import Array, Index


class Distribution(NamedTuple):
    """Share of the plus fraction's moles and molar mass (kg/mol) by carbon number, ``(N,)`` each; the shares sum to 1."""

    carbon_number: Index
    share: Array
    molar_mass: Array


def molar_mass_of(carbon_number: Index) -> Array:
    """Molar mass of a single-carbon-number cut, kg/mol."""
    return (14.0 * np.asarray(carbon_number, dtype=float) - 4.0) * 1e-3


def exponential(molar_mass: float, first: int, last: int) -> Distribution:
    """Shares exp(A + B n), with B such that the mean molar mass is ``molar_mass`` (kg/mol).

    Raises
    ------
    ValueError
        If the mean lies outside of what these carbon numbers can have.
    """
    from scipy.optimize import brentq

    n = np.arange(first, last + 1)
    M = molar_mass_of(n)

    def shares(B: float) -> Array:
        weights = np.exp(B * (n - first) - max(B * (last - first), 0.0))
        return np.asarray(weights / weights.sum())

    def excess(B: float) -> float:
        return float((shares(B) * M).sum() - molar_mass)

    if not excess(-20.0) < 0.0 < excess(5.0):
        raise ValueError(f"between {1e3 * M[0]:g} and {1e3 * M[-1]:g} g/mol")
    return Distribution(n, shares(float(brentq(excess, -20.0, 5.0, xtol=1e-14))), M)


def gamma(molar_mass: float, first: int, last: int, alpha: float = 1.0) -> Distribution:
    """A gamma distribution of shape ``alpha`` that begins at Whitson's lightest molar mass; the last cut takes all that is heavier.

    Raises
    ------
    ValueError
        If the mean is below the lightest molar mass.
    """
    from scipy.special import gammainc

    lightest = 0.110 * (1.0 - 1.0 / (1.0 + 4.043 * alpha**-0.723))
    if not lightest < molar_mass:
        raise ValueError(f"above {1e3 * lightest:g} g/mol, where the distribution begins")
    n = np.arange(first, last + 1)
    scale = (molar_mass - lightest) / alpha
    edges = np.concatenate([[0.0], (molar_mass_of(n)[:-1] + 0.007 - lightest) / scale, [np.inf]])
    edges = np.maximum(edges, 0.0)
    share = np.diff(gammainc(alpha, edges))
    moment = np.diff(gammainc(alpha + 1.0, edges))
    held = share > 0.0
    M = np.where(held, lightest + alpha * scale * moment / np.where(held, share, 1.0), molar_mass_of(n))
    return Distribution(n, share, M)


def specific_gravities(share: Array, molar_mass: Array, gravity: float) -> Array:
    """Specific gravity of each cut ``(N,)`` at one Watson factor, such that all of them together have ``gravity``."""
    shape = (1e3 * molar_mass) ** 0.17947
    mass = share * molar_mass
    return np.asarray(shape * gravity * (mass / shape).sum() / mass.sum())


def equal_mass_groups(share: Array, molar_mass: Array, count: int) -> list[Index]:
    """Positions of neighboring cuts in ``count`` groups of nearly equal mass, none of them empty."""
    mass = np.cumsum(share * molar_mass)
    middle = (mass - 0.5 * share * molar_mass) / mass[-1]
    group = np.minimum((middle * count).astype(int), count - 1)
    group = np.maximum.accumulate(group)
    # no group may be left out: bring later groups forward
    for k in range(len(group)):
        group[k] = min(group[k], (group[k - 1] + 1) if k else 0)
    short = count - 1 - int(group[-1])
    for k in range(short):
        group[len(group) - short + k :] += 1
    return [np.flatnonzero(group == k) for k in range(count)]


def lumped(share: Array, molar_mass: Array, gravity: Array, groups: list[Index]) -> tuple[Array, Array, Array]:
    """Share, molar mass and specific gravity of each group: moles, mass and volume are kept."""
    moles = np.array([share[g].sum() for g in groups])
    mass = np.array([(share[g] * molar_mass[g]).sum() for g in groups])
    volume = np.array([(share[g] * molar_mass[g] / gravity[g]).sum() for g in groups])
    return moles, mass / moles, mass / volume
