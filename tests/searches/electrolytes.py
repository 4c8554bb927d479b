"""Random feeds of salts, acids, bases and carbon dioxide, from nothing to far beyond saturation, some with a gas at a given pressure, at 0 to 100 °C: all converge, charges and elements balance, no solid is supersaturated, none that is
there is undersaturated, and the other solids' amounts are none.

python -m tests.searches.electrolytes --feeds 10000 --seed 1
"""

from __future__ import annotations

import functools
import sys

import numpy as np

import sleetfield as sl
from sleetfield.components.species import all_species, reagent

from .searching import search

REAGENTS = [
    "sodium chloride", "potassium chloride", "magnesium chloride", "calcium chloride", "sodium sulfate", "potassium sulfate", "magnesium sulfate",
    "calcium sulfate", "sodium hydroxide", "potassium hydroxide", "hydrogen chloride", "sulfuric acid", "carbon dioxide", "sodium carbonate",
    "sodium hydrogen carbonate", "calcium carbonate", "potassium carbonate", "ammonia", "ammonium chloride", "hydrogen sulfide", "sulfur dioxide", "barium chloride", "calcium nitrate",
]  # fmt: skip
ATOMS = {s.name: s.atoms for s in all_species()}


@functools.lru_cache(maxsize=512)
def system_of(names, ions):
    return sl.Electrolyte(list(names), ions=ions)


def look(rng):
    names = tuple(sorted(rng.choice(REAGENTS, int(rng.integers(1, 5)), replace=False).tolist()))
    ions = "Pitzer" if rng.random() < 0.8 else "Davies"
    most = 1.0 if ions == "Pitzer" else -1.0
    feed = {name: float(rng.choice([0.0, 1e-12, 10.0 ** rng.uniform(-6.0, most)], p=[0.05, 0.05, 0.9])) for name in names}
    gases = {"carbon dioxide": 10.0 ** rng.uniform(1.0, 5.5)} if "carbon dioxide" in names and rng.random() < 0.4 else {}

    T = 298.15 if rng.random() < 0.3 else float(rng.uniform(273.15, 373.15))

    def trouble_of(counts):
        system = system_of(names, ions)
        try:
            found = system.speciation(feed, T=T, gases=gases)
        except sl.CalculationError as error:
            said = [why for why in ("take up the water", "ionic strength comes out above") if why in str(error)]
            counts.update(said)
            return [] if said else [str(error)[-40:]]
        wrong = [] if found.water > 1e-6 else ["no water left"]
        counts["with solids"] += bool(found.solids)
        m = found.molality
        if not abs(m @ found.charges) <= 1e-11 * (m @ np.abs(found.charges)):
            wrong.append(f"charge {m @ found.charges:g}")
        for element in system.elements:
            fed = (
                sum(amount * reagent(name).atoms.get(element, 0) for name, amount in feed.items())
                + {"H": 2.0, "O": 1.0}.get(element, 0.0) / 0.01801528
            )
            fed += sum(amount * ATOMS[name].get(element, 0) for name, amount in found.taken_up.items())
            there = sum(v * found.water * ATOMS[name].get(element, 0) for name, v in zip(found.names, m, strict=True))
            there += sum(amount * ATOMS[name].get(element, 0) for name, amount in found.solids.items())
            there += {"H": 2.0, "O": 1.0}.get(element, 0.0) * found.water / 0.01801528
            if not abs(there - fed) <= 1e-9 * max(fed, abs(there), 1e-12):
                wrong.append(f"{element}: {there:g} of {fed:g}")
        if any(v > 1e-8 for v in found.saturation.values()):
            wrong.append(f"supersaturated: {max(found.saturation, key=found.saturation.get)}")
        if any(v < 0.0 for v in found.solids.values()):
            wrong.append("less than nothing of a solid")
        for name, P in gases.items():
            if not abs(found.pressures[name] / P - 1.0) < 1e-8:
                wrong.append("another pressure")
        return wrong

    return f"Electrolyte({list(names)!r}, ions={ions!r}).speciation({feed!r}, T={T!r}, gases={gases!r})", trouble_of


if __name__ == "__main__":
    sys.exit(search(__doc__, "feeds", 10000, look))
