"""Random feeds of random mixtures and models, with solids: flashes just above the temperature of `freezing` have no solid, just below they have the one that it says.

python -m tests.searches.freezing --feeds 10000 --seed 1
"""

from __future__ import annotations

import sys

import numpy as np

import sleetfield as sl

from .searching import search

ASIDE = 1e-4
"""Of the temperature, to either side."""
FREEZING = [c.name for c in sl.databank() if c.Tm is not None and c.heat_of_fusion is not None and c.Tm > 60.0]
MODELS = [{"eos": "PR"}, {"eos": "SRK"}, {"liquid": "ideal"}, {"liquid": "regular solution"}]


def eutectic_trouble(system, counts):
    """Just above a eutectic there is no solid in its liquid, just below it there are both."""
    found = []
    for e in system.melting_diagram(P=1e6, points=41).eutectics:
        counts["eutectics"] += 1
        above, below = (system.flash([e.x, 1.0 - e.x], T=e.T * (1.0 + side * ASIDE), P=1e6) for side in (1.0, -1.0))
        kinds = [[p.kind for p in state.phases] for state in (above, below)]
        if "solid" in kinds[0] or kinds[1].count("solid") != 2:
            found.append(f"eutectic {e!r}: {kinds}")
    return found


def look(rng):
    names = rng.choice(FREEZING, int(rng.integers(1, 5)), replace=False).tolist()
    model = MODELS[rng.integers(len(MODELS))]
    z = rng.dirichlet(np.full(len(names), 0.7))
    P = 10.0 ** rng.uniform(4.0, 7.0)

    def trouble_of(counts):
        try:
            system = sl.System(names, **model, solids="all")
        except sl.SleetfieldError:
            counts["no such system"] += 1
            return []
        try:
            point = system.freezing(z, P=P)
        except sl.CalculationError:
            counts["none forms"] += 1
            return []
        counts[f"beside {point.beside}"] += 1
        above, below = (system.flash(z, T=point.T * (1.0 + side * ASIDE), P=P) for side in (1.0, -1.0))
        found = []
        if any(p.kind == "solid" for p in above.phases):
            found.append(f"a solid above {point.T!r}")
        if len(names) == 2:
            found += eutectic_trouble(system, counts)
        solids = [p for p in below.phases if p.kind == "solid"]
        if not any(p.composition[point.solid.removeprefix("solid ")] == 1.0 for p in solids):
            found.append(f"no {point.solid} below {point.T!r}")
        return found

    return f"System({names!r}, **{model!r}, solids='all').freezing({z.tolist()!r}, P={P!r})", trouble_of


if __name__ == "__main__":
    sys.exit(search(__doc__, "feeds", 1000, look))
