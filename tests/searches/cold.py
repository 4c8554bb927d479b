"""Cold wet mixtures: phases that have 10⁻⁵⁰ and less of some components, and answers that must not depend on what stands beside them in a batch.

    python -m tests.searches.cold --mixtures 100 --seed 1

Counted are states without an answer, loosely converged ones, those beside which a further phase would form, and those that alone have other phases.
"""

from __future__ import annotations

import sys

import numpy as np

import sleetfield as sl

from .searching import search

STATES = 100
ALONE = 5
NAMES = [c.name for c in sl.databank() if None not in (c.Tc, c.Pc, c.omega) and c.name != "water"]


def look(rng):
    """One mixture with water, a hundred states."""
    size = int(rng.integers(2, 9))
    names = ["water", *(str(n) for n in rng.choice(NAMES, size, replace=False))]
    eos = str(rng.choice(["PR", "SRK"]))
    z = rng.dirichlet(np.full(size + 1, rng.choice([0.3, 1.0, 3.0])), size=STATES)
    T, P = rng.uniform(120.0, 280.0, STATES), 10.0 ** rng.uniform(4.0, 7.6, STATES)
    some = rng.choice(STATES, ALONE, replace=False)

    def trouble(counts):
        system = sl.System(names, eos=eos)
        states = system.flash(z, T=T, P=P)
        found = []
        marks = {
            "no answer": states.failed,
            "loose": ~states.failed & ~states.result.converged,
            "further phase": ~states.failed & ~states.result.stable,
        }
        counts["states"] += STATES
        for words, where in marks.items():
            counts[f"  {words}"] += int(where.sum())
            found += [f"{words} at T={T[i]!r} P={P[i]!r} z={z[i].tolist()!r}" for i in np.flatnonzero(where)[:2]]
        for i in some:
            one = system.flash(z[i : i + 1], T=T[i : i + 1], P=P[i : i + 1])
            same = one.n_phases[0] == states.n_phases[i] and np.allclose(
                one.fractions[0], states.fractions[i], atol=1e-7, equal_nan=True
            )
            counts["alone"] += 1
            counts["  otherwise"] += not same
            if not same:
                found.append(f"otherwise alone at T={T[i]!r} P={P[i]!r} z={z[i].tolist()!r}")
        return found

    return f"System({names!r}, eos={eos!r})", trouble


if __name__ == "__main__":
    sys.exit(search(__doc__, "mixtures", 100, look))
