"""Boiling diagrams of random pairs, looking for curves that end in nothing, gaps, and azeotropes that are none.

    python -m tests.searches.diagrams --pairs 500 --seed 1

Every connected part of a boiling curve runs from a pure component or a critical point to another; neighboring points are close; the liquid at
each point and its vapor have equal fugacities, and a flash between them has both; and where the volatility changes sides there is an azeotrope.
"""

from __future__ import annotations

import sys
import warnings

import numpy as np

import sleetfield as sl

from .searching import search

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
            if end not in d.open_ends:
                continue
            nearly = min(d.y[end], 1.0 - d.y[end]) < 1e-9 or min(d.x[end], 1.0 - d.x[end]) < 1e-9
            known = nearly or d.P[end] > 3e8
            counts["open ends" if known else "ends in nothing"] += 1
            if not known:
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


def look(rng):
    """One pair and its boiling diagram."""
    names, model = random_system(rng)

    def trouble(counts):
        system = sl.System(names, **model)
        condition = random_condition(rng, system)
        found = check(system, system.diagram("Txy" if "P" in condition else "Pxy", **condition), counts)
        return [f"{condition!r}: {text}" for text in found]

    return f"{names!r} {model!r}", trouble


if __name__ == "__main__":
    sys.exit(search(__doc__, "pairs", 500, look))
