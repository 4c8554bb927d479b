"""Flashes next to critical points, against a dense grid search of the tangent-plane distance.

    python -m tests.searches.critical_region --mixtures 2000 --seed 1

Two or three light substances with random interaction parameters, at temperatures and pressures about the critical ones of one of them. From an answer
that is said to be stable, no composition of a grid may lie below the tangent plane; where one does, a phase was missed.
"""

from __future__ import annotations

import sys
import warnings
from itertools import combinations

import numpy as np

import sleetfield as sl
from sleetfield.calculations.stability import feed_stability
from sleetfield.core.arrays import ABSENT

from .searching import search

warnings.simplefilter("error")

STATES = 20
FINEST, BELOW = 1e-7, -1e-6
"""The smallest mole fraction of a grid, and how far below the plane a composition counts as missed."""


def grid(count):
    """Compositions of two or three components, dense towards the corners."""
    if count == 2:
        edge = np.geomspace(FINEST, 0.02, 120)
        x = np.concatenate([edge, np.linspace(0.02, 0.98, 400)[1:-1], 1.0 - edge[::-1]])
        return np.stack([x, 1.0 - x], axis=1)
    steps = np.array([(i, j) for i in range(71) for j in range(71 - i)]) / 70.0
    x = np.column_stack([steps, np.clip(1.0 - steps.sum(axis=1), 0.0, 1.0)])
    x = np.maximum(0.5 * (1.0 - np.cos(np.pi * x)), 1e-5)
    return x / x.sum(axis=1, keepdims=True)


GRIDS = {count: grid(count) for count in (2, 3)}


def below_the_plane(model, T, P, x):
    """The lowest tangent-plane distance of the grid from phases ``x (N, C)``."""
    points, n = GRIDS[x.shape[1]], len(T)
    with np.errstate(all="ignore"):
        d = np.log(np.maximum(x, ABSENT)) + model.at(T, P).ln_phi(np.maximum(x, ABSENT))
        ln_phi = model.at(np.repeat(T, len(points)), np.repeat(P, len(points))).ln_phi(np.tile(points, (n, 1)))
    g = np.log(points) + ln_phi.reshape(n, len(points), -1) - d[:, None, :]
    return (points * g).sum(axis=2).min(axis=1)


def look(rng):
    """One mixture at states about the critical point of one of its components."""
    names = [c.name for c in sl.databank() if 60.0 < c.Tc < 480.0]
    count = int(rng.integers(2, 4))
    chosen = [str(n) for n in rng.choice(names, count, replace=False)]
    kij = {pair: float(rng.uniform(-0.03, 0.2)) for pair in combinations(chosen, 2)}
    system = sl.System(chosen, eos=str(rng.choice(["PR", "SRK"])), kij=kij)
    of = rng.integers(count, size=STATES)
    critical_T, critical_P = (np.array([getattr(c, name) for c in system.components])[of] for name in ("Tc", "Pc"))
    T = critical_T * rng.uniform(0.75, 1.03, STATES)
    P = critical_P * np.exp(rng.uniform(-2.0, 0.6, STATES))
    z = np.maximum(rng.dirichlet(np.full(count, 0.7), STATES), FINEST)
    z /= z.sum(axis=1, keepdims=True)

    def trouble(counts):
        states = system.flash(z, T=T, P=P)
        tm = feed_stability(system, T, P, z).tm
        for n in (1, 2, 3):
            counts[f"{n} phases"] += int((states.n_phases == n).sum())
        counts["not converged"] += int(states.failed.sum())
        lower = below_the_plane(system.phase_model, T, P, np.where(states.failed[:, None], z, states.result.x[:, 0]))
        missed = states.result.stable & ~states.failed & (lower < BELOW)
        unseen = (below_the_plane(system.phase_model, T, P, z) < BELOW) & (tm > 0.1 * BELOW)
        counts["phases missed by the flash"] += int(missed.sum())
        counts["unstable feeds taken for stable"] += int(unseen.sum())
        wrong = np.flatnonzero(missed | unseen | states.failed)
        return [f"T={T[i]!r} P={P[i]!r} z={z[i].tolist()!r} n={states.n_phases[i]} {lower[i]:.1e} {tm[i]:.1e}" for i in wrong]

    return f"System({chosen!r}, eos={system.eos!r}, kij={kij!r})", trouble


if __name__ == "__main__":
    sys.exit(search(__doc__, "mixtures", 200, look))
