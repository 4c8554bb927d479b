"""Boiling diagrams of random pairs, looking for curves that end in nothing, gaps, and azeotropes that are none.

    python benchmarks/fuzz_diagrams.py --pairs 500 --seed 1

Every connected part of a boiling curve runs from a pure component or a critical point to another; neighboring points are close; the liquid at
each point and its vapor have equal fugacities, and a flash between them has both; and where the volatility changes sides there is an azeotrope.
"""

from __future__ import annotations

import argparse
import sys
import time
import warnings
from collections import Counter

import numpy as np

import sleetfield as sl

warnings.simplefilter("error")


def random_system(rng):
    """Two components with an equation of state, or an NRTL liquid of random parameters."""
    names = [str(n) for n in rng.choice([c.name for c in sl.databank()], 2, replace=False)]
    kind = str(rng.choice(["PR", "SRK", "NRTL"], p=[0.4, 0.4, 0.2]))
    if kind != "NRTL":
        return names, {"eos": kind}
    own = sl.PairParameters(a12=rng.normal(250.0, 300.0), a21=rng.normal(250.0, 300.0), alpha=rng.uniform(0.2, 0.45), form="K")
    return names, {"liquid": "NRTL", "parameters": {tuple(names): own}}


def random_condition(rng, system):
    """A temperature or pressure at which one of the two boils below its critical point."""
    pure = system.components[int(rng.integers(2))]
    T = float(rng.uniform(0.55, 0.99) * pure.Tc)
    if rng.random() < 0.5:
        return {"T": T}
    P = system.bubble({pure.name: 1.0}, T=T).P
    return {"P": float(P)}


def step(values):
    """Steps between neighbors, as parts of the whole range."""
    return np.abs(np.diff(values)) / max(float(np.ptp(values)), 1e-12)


def check(system, d, counts):
    """What is wrong with a diagram."""
    trouble = []
    q = d.P if d.given == "T" else d.T
    critical = set(d.critical_points.tolist())
    for k in range(int(d.branch.max()) + 1):
        rows = np.flatnonzero(d.branch == k)
        for end in (rows[0], rows[-1]):
            pure = d.x[end] in (0.0, 1.0)
            counts["ends at a pure component"] += pure
            counts["ends at a critical point"] += int(end in critical)
            if end in d.open_ends:
                nearly = min(d.y[end], 1.0 - d.y[end]) < 1e-9 or min(d.x[end], 1.0 - d.x[end]) < 1e-9
                known = nearly or d.P[end] > 3e8
                counts["open ends" if known else "ends in nothing"] += 1
            if end in d.open_ends and not known:
                trouble.append(f"ends at x={d.x[end]:.6g} y={d.y[end]:.6g} T={d.T[end]:.6g} P={d.P[end]:.6g}")
        if len(rows) > 1:
            jump = np.minimum(step(q[rows]), 1.0) + np.abs(np.diff(d.y[rows]))
            for line in d.three_phase:
                jump[(d.x[rows][:-1] == line.x[0]) & (d.x[rows][1:] == line.x[1])] = 0.0
            if jump.max() > 0.35:
                counts["gaps"] += 1
                at = int(jump.argmax())
                trouble.append(f"gap {jump.max():.2f} after x={d.x[rows][at]:.6g}")
        turns = np.flatnonzero(np.diff(np.sign(np.where(np.abs(d.y - d.x) > 1e-9, d.y - d.x, 0.0)[rows])) == 2)
        turns = np.concatenate([turns, np.flatnonzero(np.diff(np.sign(d.y - d.x)[rows]) == -2)])
        for t in turns:
            low, high = sorted(d.x[rows][[t, t + 1]])
            counts["volatility changes sides"] += 1
            if not any(low - 1e-6 <= a.x[0] <= high + 1e-6 for a in d.azeotropes):
                counts["  without an azeotrope"] += 1
                trouble.append(f"no azeotrope between {low:.6g} and {high:.6g}")
    counts["azeotropes"] += len(d.azeotropes)
    counts["three-phase lines"] += len(d.three_phase)
    inside = np.flatnonzero((np.abs(d.y - d.x) > 1e-4) & (d.x > 0.0) & (d.x < 1.0))[::7]
    if inside.size:
        middle = 0.5 * (d.x[inside] + d.y[inside])
        states = system.flash(np.stack([middle, 1.0 - middle], axis=1), T=d.T[inside], P=d.P[inside])
        counts["points flashed"] += inside.size
        one = states.n_phases < 2
        counts["  with one phase"] += int(one.sum())
        trouble += [f"one phase between x={d.x[i]:.8g} y={d.y[i]:.8g} T={d.T[i]!r} P={d.P[i]!r}" for i in inside[one]]
    return trouble


def main() -> int:
    """Run, and report; status 1 where anything was wrong."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--pairs", type=int, default=500)
    parser.add_argument("--seed", type=int, default=1)
    args = parser.parse_args()
    rng = np.random.default_rng(args.seed)
    counts: Counter[str] = Counter()
    examples: list[str] = []
    began = time.perf_counter()
    while counts["pairs"] < args.pairs:
        names, model = random_system(rng)
        counts["pairs"] += 1
        label = f"{names!r} {model!r}"
        try:
            system = sl.System(names, **model)
            condition = random_condition(rng, system)
            label += f" {condition!r}"
            trouble = check(system, system.diagram("Txy" if "P" in condition else "Pxy", **condition), counts)
        except Exception as error:  # whatever it is, it is what we look for
            counts["exceptions"] += 1
            trouble = [f"{type(error).__name__}: {error}"]
        examples += [f"{label}: {t}" for t in trouble]
    for key, value in counts.items():
        print(f"{key:28s} {value}")
    print(f"{'seconds':28s} {time.perf_counter() - began:.0f}")
    for example in examples[:60]:
        print(example)
    return 1 if examples else 0


if __name__ == "__main__":
    sys.exit(main())
