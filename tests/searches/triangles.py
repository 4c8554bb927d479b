"""Liquid maps of random triples that make three liquids, against the Gibbs energy of mixing on a grid.

    python -m tests.searches.triangles --triangles 100 --seed 1

No tie line may lie above the tangent plane of another liquid, no plait point in a region of three, and from each side of a triangle a branch leads away.
"""

from __future__ import annotations

import sys
from itertools import combinations

import numpy as np

import sleetfield as sl

from .searching import search

POOL = ("water", "1-butanol", "n-hexane", "acetonitrile", "benzene", "nitromethane", "n-heptane", "methanol", "aniline")
T = 320.0
ABOVE = 1e-6
GRID = np.array([(i, j, 60 - i - j) for i in range(61) for j in range(61 - i)], dtype=float) + 0.01
GRID /= GRID.sum(axis=1)[:, None]


def ln_activities(system, x):
    """Of liquids ``x (N, 3)``."""
    return np.log(x) + system.phase_model.liquid.activity.at(np.full(len(x), T)).ln_gamma(x.T).T


def below(system, x):
    """The lowest distance of the grid from the tangent planes of liquids ``x (N, 3)``."""
    mu = ln_activities(system, x)
    return (GRID * (ln_activities(system, GRID) - mu[:, None])).sum(axis=2).min(axis=1)


def drawn(rng):
    """Triples until one makes three liquids."""
    while True:
        names = [str(n) for n in rng.choice(POOL, 3, replace=False)]
        pairs = {
            pair: sl.PairParameters(a12=rng.uniform(500, 1500), a21=rng.uniform(300, 1200), alpha=0.25, form="K")
            for pair in combinations(names, 2)
        }
        system = sl.System(names, liquid="NRTL", parameters=pairs)
        found = system.liquid_map(T=T)
        if found.triangles:
            return names, pairs, system, found


def look(rng):
    """One triple and its map."""
    names, pairs, system, found = drawn(rng)

    def trouble(counts):
        wrong = []
        for branch in found.branches:
            counts["tie lines"] += len(branch.ties)
            bad = int((below(system, np.maximum(branch.ties[:, 0], 1e-12)) < -ABOVE).sum())
            counts["  not stable"] += bad
            wrong += [f"{bad} tie lines are not stable"] if bad else []
            for plait in branch.plaits:
                counts["plait points"] += 1
                if below(system, plait[None])[0] < -1e-4:
                    counts["  in a region of three"] += 1
                    wrong.append(f"plait point {plait.tolist()}")
        for triangle in found.triangles:
            counts["regions of three liquids"] += 1
            for i, j in combinations(range(3), 2):
                side, other = triangle[[i, j]], triangle[[j, i]]
                ends = [tie for branch in found.branches for tie in branch.ties[[0, -1]]]
                if not any(min(np.abs(tie - side).max(), np.abs(tie - other).max()) < 1e-6 for tie in ends):
                    counts["  sides without a branch"] += 1
                    wrong.append(f"no branch from side {i}, {j}")
        return wrong

    return f"{names}, { ({k: (p.a12, p.a21) for k, p in pairs.items()})!r}", trouble


if __name__ == "__main__":
    sys.exit(search(__doc__, "triangles", 50, look))
