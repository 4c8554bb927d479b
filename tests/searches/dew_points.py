"""Dew points of vapors over two liquids that hardly mix, and of gas condensates: every one is there, stable, found again from its pressure, and the one of several that is meant.

python -m tests.searches.dew_points --mixtures 500 --seed 1
"""

from __future__ import annotations

import sys
import warnings
from itertools import combinations

import numpy as np

import sleetfield as sl

from .searching import search

warnings.simplefilter("ignore")

LIQUIDS = (
    "water",
    "1-butanol",
    "n-hexane",
    "ethyl acetate",
    "benzene",
    "1-pentanol",
    "toluene",
    "ethanol",
    "n-butyl acetate",
    "methanol",
    "acetonitrile",
)
GASES = ("methane", "ethane", "propane", "n-butane", "n-hexane", "n-decane", "nitrogen", "carbon dioxide")
VAPORS, ALL_OF = 12, 2


def look(rng):
    """A dozen vapors of a mixture at one temperature."""
    liquids = rng.random() < 0.6
    names = [str(n) for n in rng.choice(LIQUIDS if liquids else GASES, int(rng.integers(2, 4)), replace=False)]
    pairs = {
        pair: sl.PairParameters(a12=rng.normal(500.0, 500.0), a21=rng.normal(500.0, 500.0), alpha=0.3, form="K")
        for pair in combinations(names, 2)
    }
    model = {"liquid": "NRTL", "parameters": pairs} if liquids else {"eos": "PR"}
    T = rng.uniform(300.0, 400.0) if liquids else rng.uniform(200.0, 420.0)
    z = rng.dirichlet(np.ones(len(names)), VAPORS)

    def trouble(counts):
        system = sl.System(names, **model)
        found = system.dew(z, T=T)
        there = np.isfinite(found.P)
        counts["vapors"] += VAPORS
        counts["dew points"] += int(there.sum())
        wrong = there & ~found.stable
        if liquids:
            back = system.dew(z[there], P=found.P[there])
            wrong |= ~there
            wrong[there] |= ~(np.abs(back.T / T - 1.0) < 1e-6)
        else:
            for i in np.flatnonzero(there)[:ALL_OF]:
                lowest = min(point.P for point in system.dew(z[i], T=T).all if point.stable)
                wrong[i] |= abs(lowest / found.P[i] - 1.0) > 1e-6
        counts["wrong"] += int(wrong.sum())
        return [f"T={T!r} z={z[i].tolist()!r}: {found.P[i]!r}" for i in np.flatnonzero(wrong)[:2]]

    return f"System({names!r}, **{model!r})", trouble


if __name__ == "__main__":
    sys.exit(search(__doc__, "mixtures", 500, look))
