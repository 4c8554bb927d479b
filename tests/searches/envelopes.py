"""Envelopes of random databank mixtures, looking for gaps, wrong critical points, and boundaries that are none.

    python -m tests.searches.envelopes --mixtures 2000 --seed 1

An envelope is closed, or says that it is open or ends at a second liquid; neighboring points are close; every critical point equals the one
that the direct method finds from scratch; and beside each point that is stable a flash sees a phase more on one side than on the other.
"""

from __future__ import annotations

import sys
import warnings

import numpy as np

import sleetfield as sl
from sleetfield.core.equilibrium.phase_boundaries import forms_more

from .searching import search

warnings.simplefilter("error")

ASIDE = (2e-3, 2e-4, 2e-5, 2e-6, 2e-7, 2e-8)
"""Steps aside, in ln T: where both lines of a narrow-boiling mixture lie within one, a shorter one tells."""


def random_mixture(rng):
    """Names, an equation of state and one composition."""
    names = [c.name for c in sl.databank()]
    count = int(rng.integers(1, 9))
    chosen = [str(n) for n in rng.choice(names, count, replace=False)]
    return chosen, str(rng.choice(["PR", "SRK"])), rng.dirichlet(np.full(count, rng.choice([0.5, 1.0, 3.0])))


def gap(envelope):
    """The largest step between neighboring points of a line, in ln P and in ten times ln T."""
    steps = [0.0]
    for line in envelope.lines:
        steps += [float(np.abs(np.diff(np.log(line.P))).max()), 10.0 * float(np.abs(np.diff(np.log(line.T))).max())]
    return max(steps)


def not_boundaries(system, envelope, z):
    """How many points were looked at, and of how many the flash sees no difference of phases across the line.

    The step aside is along the line's normal in (ln T, ln P); points next to an end, to a critical point or in an unstable stretch say nothing.
    """
    looked, wrong = 0, []
    for line in envelope.lines:
        rows = np.arange(2, len(line.T) - 2)
        rows = rows[[min((abs(r - c) for c in line.critical), default=9) > 2 for r in rows]]
        if len(z) == 1 or not rows.size:
            continue
        tangent = np.stack([np.log(line.T[rows + 1] / line.T[rows - 1]), 0.1 * np.log(line.P[rows + 1] / line.P[rows - 1])])
        normal = np.stack([-tangent[1], tangent[0]]) / np.hypot(*tangent)
        kinds = line.roots[rows, 0]
        stable = ~forms_more(system.phase_model, z, line.T[rows], line.P[rows], kinds)
        curved = np.abs(np.diff(np.arctan2(tangent[1], tangent[0]), append=0.0)) > 0.15
        same = stable & ~curved
        for aside in ASIDE:
            left = np.flatnonzero(same)
            if not left.size:
                break
            sides = []
            for s in (aside, -aside):
                T, P = line.T[rows[left]] * np.exp(s * normal[0, left]), line.P[rows[left]] * np.exp(10.0 * s * normal[1, left])
                states = system.flash(z, T=T, P=P)
                # a vapor beside a liquid is something else than two liquids
                sides.append(np.stack([states.n_phases, states.slot("vapor") >= 0]))
            same[left] = (sides[0] == sides[1]).all(axis=0)
        looked += int((stable & ~curved).sum())
        wrong += [(line.T[r], line.P[r]) for r in rows[same]]
    return looked, wrong


def check(system, envelope, z, counts):
    """Count what is wrong with an envelope; returns what to show of it."""
    notes = " ".join(envelope.notes)
    counts["closed"] += envelope.closed
    counts["ends at a second liquid"] += "ends where" in notes
    counts["open"] += "is open" in notes
    counts["with a second liquid"] += bool(envelope.second_liquid)
    trouble = []
    if not (envelope.closed or "ends where" in notes or "is open" in notes):
        counts["neither closed nor said open"] += 1
        trouble.append("neither closed nor open")
    if gap(envelope) > 1.0:
        counts["gaps"] += 1
        trouble.append(f"gap {gap(envelope):.2f}")
    if envelope.critical_points:
        direct = system.critical(z).all
        for point in envelope.critical_points:
            counts["critical points"] += 1
            near = min(direct, key=lambda p: abs(p.T / point.T - 1.0) + abs(np.log(p.P / point.P)))
            if abs(near.T / point.T - 1.0) > 1e-6 or abs(near.P / point.P - 1.0) > 1e-5:
                counts["  not found directly"] += 1
                trouble.append(f"critical {point.T} {point.P}")
    looked, wrong = not_boundaries(system, envelope, z)
    counts["points looked at from both sides"] += looked
    counts["  no boundary there"] += len(wrong)
    return trouble + [f"no boundary at {T!r} {P!r}" for T, P in wrong[:3]]


def look(rng):
    """One mixture and its envelope."""
    names, eos, z = random_mixture(rng)

    def trouble(counts):
        system = sl.System(names, eos=eos)
        return check(system, system.envelope(z), z, counts)

    return f"System({names!r}, eos={eos!r}), z={z.tolist()!r}", trouble


if __name__ == "__main__":
    sys.exit(search(__doc__, "mixtures", 200, look))
