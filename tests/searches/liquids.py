"""Random liquid-liquid splits against a dense grid search of the Gibbs energy of mixing.

    python -m tests.searches.liquids --binaries 5000 --ternaries 1000 --seed 1

For each random parameter set of NRTL or UNIQUAC, the lower convex hull of the Gibbs energy of mixing on a grid says where the liquid splits; the
flash must say the same. Counts misses, and the steps of Newton's method that a flash took after its accelerated substitutions.
"""

from __future__ import annotations

import argparse
import time
from collections import Counter

import numpy as np
from scipy.spatial import ConvexHull

from sleetfield.core.correlations.liquid_density import generalized_rackett
from sleetfield.core.correlations.vapor_pressure import Antoine
from sleetfield.core.equilibrium import flash as engine
from sleetfield.core.models.activity.nrtl import NRTL
from sleetfield.core.models.activity.pair_function import PairFunction
from sleetfield.core.models.activity.uniquac import UNIQUAC
from sleetfield.core.models.contract import LIQUID
from sleetfield.core.models.ideal_gas import IdealGas
from sleetfield.core.models.liquid import Liquid
from sleetfield.core.models.liquid_and_vapor import LiquidAndVapor
from sleetfield.core.models.pure_liquids import PureLiquids
from sleetfield.core.restricted import OneKind

T = 320.0
GRID, FINE = 4000, 90
PRESSURE = Antoine((23.0, 3800.0, -45.0), 250.0, 450.0)
DENSITY = generalized_rackett(560.0, 40e5, 0.4)


def random_activity(rng, count):
    """A model with parameters between nearly ideal and nearly immiscible."""
    size = rng.choice([0.5, 1.5, 3.0])
    pairs = rng.normal(0.4 * size, size, (count, count))
    np.fill_diagonal(pairs, 0.0)
    coefficients = np.zeros((4, count, count))
    coefficients[0] = np.clip(pairs, -3.0, 7.0)
    if rng.random() < 0.6:
        alpha = np.zeros((4, count, count))
        upper = np.triu(rng.uniform(0.15, 0.45, (count, count)), 1)
        alpha[0] = upper + upper.T
        return NRTL(PairFunction(coefficients), PairFunction(alpha))
    coefficients[0] *= -0.5
    r = rng.uniform(0.9, 5.0, count)
    q = r * rng.uniform(0.75, 1.2, count)
    return UNIQUAC(r, q, q, PairFunction(coefficients))


def phase_model(activity):
    """The liquid as a phase model."""
    count = activity.n_components
    return OneKind(LiquidAndVapor(Liquid(PureLiquids([PRESSURE] * count, [DENSITY] * count), activity), IdealGas()), LIQUID)


def mixing(activity, x):
    """Gibbs energy of mixing over RT at compositions ``(N, C)``."""
    ln_gamma = activity.at(np.full(len(x), T)).ln_gamma(np.ascontiguousarray(x.T)).T
    return (x * (np.log(x) + ln_gamma)).sum(axis=1)


class Steps:
    """How many steps of Newton's method each state of a batch took."""

    def __init__(self):
        self.newton = Counter()

    def __call__(self, method, states, share, error):
        if method == "Newton":
            self.newton.update(states.tolist())


def gaps(x, g):
    """Stretches of a binary's composition that the lower convex hull bridges."""
    kept = [0]
    for k in range(1, len(x)):
        while len(kept) > 1:
            a, b = kept[-2], kept[-1]
            if (g[b] - g[a]) * (x[k] - x[a]) >= (g[k] - g[a]) * (x[b] - x[a]):
                kept.pop()
            else:
                break
        kept.append(k)
    ends = np.array(kept)
    wide = np.diff(x[ends]) > 6.0 / GRID
    return [(x[a], x[b]) for a, b in zip(ends[:-1][wide], ends[1:][wide], strict=True)]


def binary(rng, counts):
    """One random binary: the feeds in every gap must split, into liquids where the hull has them, and those outside must not."""
    activity = random_activity(rng, 2)
    x1 = 0.5 * (1.0 - np.cos(np.pi * (np.arange(GRID) + 0.5) / GRID))
    x = np.stack([x1, 1.0 - x1], axis=1)
    with np.errstate(all="ignore"):
        bridged = gaps(x1, mixing(activity, x))
    feeds = np.array([0.02, 0.1, 0.25, 0.4, 0.5, 0.6, 0.75, 0.9, 0.98, *(0.5 * (a + b) for a, b in bridged)])
    near = [any(abs(z - end) < 0.004 for gap in bridged for end in gap) for z in feeds]
    feeds = feeds[~np.array(near)]
    steps, many = Steps(), np.full(len(feeds), 1.0)
    r = engine.flash(phase_model(activity), T * many, 1e5 * many, np.stack([feeds, 1.0 - feeds], axis=1), watch=steps)
    taken = list(steps.newton.values())
    counts["most Newton steps"] = max([counts["most Newton steps"], *taken])
    counts["states with more than 10 Newton steps"] += sum(n > 10 for n in taken)
    counts["flashes"] += len(feeds)
    for k, z in enumerate(feeds):
        gap = next(((a, b) for a, b in bridged if a < z < b), None)
        counts["splits"] += gap is not None
        if not (r.converged[k] and r.stable[k]):
            counts["not converged or not stable"] += 1
        if (gap is not None) != (r.n_phases[k] > 1):
            counts["missed or invented"] += 1
            print("binary:", type(activity).__name__, z, gap, r.n_phases[k])
        elif gap is not None and np.abs(np.sort(r.x[k, :2, 0]) - gap).max() > 0.004:
            counts["liquids elsewhere"] += 1
            print("binary:", type(activity).__name__, z, gap, np.sort(r.x[k, :2, 0]))


def ternary(rng, counts):
    """One random ternary: no feed on the grid that the hull says is split may come out as one liquid."""
    activity = random_activity(rng, 3)
    i, j = np.meshgrid(np.arange(1, FINE), np.arange(1, FINE), indexing="ij")
    inside = i + j < FINE
    x = np.stack([i[inside], j[inside], FINE - i[inside] - j[inside]], axis=1) / FINE
    with np.errstate(all="ignore"):
        g = mixing(activity, x)
        hull = ConvexHull(np.column_stack([x[:, :2], g]))
        lower = hull.equations[hull.equations[:, 2] < 0.0]
        depth = np.array([(-(lower[:, :2] @ p + lower[:, 3]) / lower[:, 2]).max() for p in x[:, :2]])
        # how far below the curve the hull passes: a split beyond what the grid itself makes
        chosen = rng.choice(len(x), 12, replace=False)
        r = engine.flash(phase_model(activity), np.full(12, T), np.full(12, 1e5), x[chosen])
    for k, at in enumerate(chosen):
        split = g[at] - depth[at] > 2e-4
        counts["ternary flashes"] += 1
        counts["ternary splits"] += bool(split)
        counts["three liquids"] += r.n_phases[k] == 3
        if not (r.converged[k] and r.stable[k]):
            counts["ternary not converged or not stable"] += 1
        if split and r.n_phases[k] == 1:
            counts["ternary missed"] += 1
            print("ternary:", type(activity).__name__, x[at], g[at] - depth[at])


def main():
    """Run and count."""
    options = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    options.add_argument("--binaries", type=int, default=5000)
    options.add_argument("--ternaries", type=int, default=1000)
    options.add_argument("--seed", type=int, default=1)
    given = options.parse_args()
    rng, counts, began = np.random.default_rng(given.seed), Counter(), time.perf_counter()
    for _ in range(given.binaries):
        binary(rng, counts)
    for _ in range(given.ternaries):
        ternary(rng, counts)
    for name, count in counts.items():
        print(f"{name:40s} {count}")
    print(f"{time.perf_counter() - began:.0f} s")


if __name__ == "__main__":
    main()
