"""Random mixtures by random methods, 250 states each, gases and liquids, thin and dense, some with absent and trace components: viscosities, conductivities and diffusion coefficients are positive numbers
of a size that something has, surface tensions are not negative, and they are finite wherever the state is.

python -m tests.searches.transport --mixtures 400 --seed 1
"""

from __future__ import annotations

import sys

import numpy as np

import sleetfield as sl
from sleetfield.core.models.contract import LIQUID, VAPOR
from sleetfield.core.transport.choices import CHOICES

from .searching import search

STATES = 250
BANK = [
    c.name
    for c in sl.databank()
    if c.heat_capacity is not None and c.Vc is not None and None not in (c.Tc, c.Pc, c.omega) and c.Tc > 30.0 and c.omega < 0.9
]
LARGEST = {"viscosity": 50.0, "thermal_conductivity": 5.0, "surface_tension": 0.3, "diffusion_coefficient": 1.0}


def look(rng):
    names = rng.choice(BANK, int(rng.integers(1, 5)), replace=False).tolist()
    methods = {what: str(rng.choice(choices)) for what, choices in CHOICES.items() if rng.random() < 0.5}
    z = rng.dirichlet(np.full(len(names), 0.4), STATES)
    if len(names) > 1:
        z[: STATES // 5, 0] = rng.choice([0.0, 1e-12])
        z /= z.sum(axis=1)[:, None]
    T, P = rng.uniform(200.0, 800.0, STATES), 10.0 ** rng.uniform(3.0, 8.0, STATES)

    def trouble_of(counts):
        states = sl.System(names, eos="PR", kij="zero", transport=methods).flash(z, T=T, P=P)
        kinds = np.where(np.isfinite(states.fractions), states.result.kinds, -1)
        counts["states"] += STATES
        wrong = []
        for what, largest in LARGEST.items():
            values = states.of_phases(what)
            meant = (kinds == LIQUID) if what == "surface_tension" else (kinds == LIQUID) | (kinds == VAPOR)
            if what == "diffusion_coefficient":
                # what is there beside others; of some elements no diffusion volumes are known
                present = (states.result.x > 0.0) & (states.result.x < 1.0)
                values, meant = values[meant & present.any(axis=2)][present[meant & present.any(axis=2)]], slice(None)
                values = values[np.isfinite(values)]
            own = values[meant]
            bad = ~(own >= 0.0) | (own > largest) | ((own == 0.0) & (what != "surface_tension"))
            counts[what] += own.size
            if bad.any():
                wrong.append(f"{what}: {int(bad.sum())} of {own.size}, such as {own[bad][0]:g}")
        return wrong

    return f"System({names!r}, eos='PR', kij='zero', transport={methods!r})", trouble_of


if __name__ == "__main__":
    sys.exit(search(__doc__, "mixtures", 400, look))
