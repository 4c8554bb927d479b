"""Random gases with water: what a hydrate leaves of them is just saturated with it, in the composition that it has, and nothing is more than there was.

python -m tests.searches.amounts --gases 1000 --seed 1
"""

from __future__ import annotations

import sys

import numpy as np

import sleetfield as sl
from sleetfield.core.equilibrium.onset import ln_fugacities
from sleetfield.recipes.hydrates import hydrates

from .searching import search

GUESTS = ["methane", "ethane", "propane", "isobutane", "n-butane", "nitrogen", "carbon dioxide", "hydrogen sulfide"]
OTHERS = ["n-hexane", "hydrogen", "methanol"]


def look(rng):
    guests = rng.choice(GUESTS, int(rng.integers(1, 5)), replace=False).tolist()
    names = [*guests, *rng.choice(OTHERS, int(rng.integers(0, 2)), replace=False).tolist(), "water"]
    eos = str(rng.choice(["SRK", "CPA"]))
    z = rng.dirichlet(np.full(len(names), 0.6))
    T, P = rng.uniform(255.0, 295.0), 10.0 ** rng.uniform(5.5, 7.3)

    def trouble_of(counts):
        system = sl.System(names, eos=eos)
        found = system.hydrate_amount(z, T=T, P=P)
        kind = found.solids[0] or "none"
        counts[kind] += 1
        if kind == "none":
            return []
        moles = found.moles[0]
        if np.isnan(moles).any():
            counts["amount not found"] += 1
            return []
        crystal = dict(zip(*hydrates(system.who, system.model), strict=True))[kind]
        left = z - moles
        at = np.array([T]), np.array([P])
        ln_f = ln_fugacities(system.fluids, *at, np.maximum(left / left.sum(), 1e-100)[None])
        wrong = []
        if (moles < 0.0).any() or (left < 0.0).any():
            wrong.append(f"more than there was: {moles}")
        if not abs(crystal.supersaturation(system.fluids, *at, ln_f)[0]) < 1e-7:
            wrong.append("what is left is not saturated")
        if not np.abs(crystal.composition(at[0], ln_f)[0] - moles / moles.sum()).max() < 1e-6:
            wrong.append("not the composition beside what is left")
        return wrong

    return f"System({names!r}, eos={eos!r}).hydrate_amount({z.tolist()!r}, T={T!r}, P={P!r})", trouble_of


if __name__ == "__main__":
    sys.exit(search(__doc__, "gases", 1000, look))
