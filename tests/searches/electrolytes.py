"""Random feeds of salts, acids, bases and gases, from nothing to far beyond saturation, some with a gas at a given pressure, some under a pressure with a vapor, at 0 to 100 °C: all converge, charges and elements balance, no solid is supersaturated, none that is
there is undersaturated, and the other solids' amounts are none; a vapor has the fugacities of the solution, and where there is none these are less than it would take. Some with hydrocarbons: vapor and liquid beside the water have the same
fugacities, and are what the library's own flash makes of them without water, where there is little of it.

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
    "sodium hydrogen carbonate", "calcium carbonate", "potassium carbonate", "ammonia", "ammonium chloride", "hydrogen sulfide", "sulfur dioxide", "barium chloride", "calcium nitrate", "methane", "nitrogen", "oxygen", "hydrogen",
]  # fmt: skip
HYDROCARBONS = [
    "ethane",
    "propane",
    "n-butane",
    "n-hexane",
    "n-octane",
    "n-decane",
    "n-hexadecane",
    "cyclohexane",
    "benzene",
    "toluene",
]
ATOMS = {name: {name: 1} for name in HYDROCARBONS} | {s.name: s.atoms for s in all_species()} | {"water": {"H": 2, "O": 1}}


@functools.lru_cache(maxsize=512)
def system_of(names, ions):
    return sl.Electrolyte(list(names), ions=ions)


@functools.lru_cache(maxsize=512)
def fluid_of(names):
    return sl.System(list(names), eos="SRK").phase_model


@functools.lru_cache(maxsize=512)
def fluid_beside(names):
    """With Peng and Robinson's interaction parameters of hydrocarbons with water, 0.5 where there is none."""
    known = {h: sl.System([h, "water"], eos="PR").interactions.kij[0, 1] for h in names if h in HYDROCARBONS}
    return sl.System(list(names), eos="SRK", kij={(h, "water"): k or 0.5 for h, k in known.items()}).phase_model


LITTLE, APART = 0.02, 0.03
"""Of water in a vapor, and how far amounts of vapor may then be apart from those without it."""


def parts_trouble(found):
    """Whether fugacities in vapor and liquid are the same, and these what becomes of the same without water."""
    names = [name for name in found.pressures if name != "water"]
    model, T, P = fluid_beside((*names, "water")), np.array([found.T]), np.array([found.P])
    fugacity = np.array([found.pressures[name] for name in names])
    wrong = []
    for part, kind in ((found.vapor, 0), (found.liquid, 1)):
        if not part:
            continue
        z = np.array([part.get(name, 0.0) for name in (*names, "water")])
        z /= z.sum()
        if kind and z[-1] > 3.0 * (found.P_water / found.P) ** 0.75:
            # hydrogen sulfide as a liquid takes up more water than it is told of
            wrong += [] if any("and is rough" in note for note in found.notes) else ["too much water without a word"]
            continue
        own = np.exp(model.at(T, P).ln_phi(np.maximum(z, 1e-100)[None], np.int8(kind))[0]) * z * found.P
        # in a wet vapor water attracts itself, and what is beside it, otherwise by the equation
        apart = np.abs(own[:-1] / fugacity - 1.0)[z[:-1] > 1e-12].max(initial=0.0)
        if apart > 1e-6 + 0.1 * z[-1]:
            wrong.append(f"fugacities of a {'liquid' if kind else 'vapor'} differ by {apart:g}")
    total = np.array([found.vapor.get(name, 0.0) + found.liquid.get(name, 0.0) for name in names])
    gas = np.array([found.vapor.get(name, 0.0) for name in names]).sum() / total.sum()
    if found.vapor.get("water", 0.0) <= LITTLE * sum(found.vapor.values()):
        whole = sl.System(names, eos="SRK").flash(total / total.sum(), T=found.T, P=found.P)
        if abs(whole.vapor_fraction - gas) > APART:
            wrong.append(f"{gas:g} of it is vapor, without water {whole.vapor_fraction:g}")
    return wrong


def vapor_trouble(found):
    """Whether fugacities over the solution are those of its vapor, or too little for one."""
    names = (*found.pressures, "water")
    fugacity = np.array([*found.pressures.values(), np.nan])
    alone = np.zeros((1, len(names)))
    alone[0, -1] = 1.0
    model, T, P = fluid_of(names), np.array([found.T]), np.array([found.P])
    boiling = np.array([found.P_water])
    liquid = 0.01801528 / 997.0 * (found.P - found.P_water) / 8.314462618 / found.T
    fugacity[-1] = found.water_activity * found.P_water * np.exp(model.at(T, boiling).ln_phi(alone, np.int8(0))[0, -1] + liquid)
    y = fugacity / fugacity.sum()
    if found.vapor:
        y = np.array([found.y.get(name, 0.0) for name in names])
        if y[-1] > 3.0 * (found.P_water / found.P) ** 0.75:
            return []  # sulfur dioxide as a liquid, which takes up more water than it is told of: the result says that it is rough
        over = np.exp(model.at(T, P).ln_phi(np.maximum(y, 1e-100)[None], np.int8(0))[0]) * y * found.P
        apart = over / fugacity - 1.0
        # water is in no phase below what it is in water itself, whatever the equation says of a dense one
        apart = max(np.abs(apart[:-1])[y[:-1] > 1e-15].max(initial=0.0), float(apart[-1]))
        # densities of water at other temperatures are up to 4 % less
        return [f"fugacities differ by {apart:g}"] if apart > 1e-6 + 0.05 * abs(liquid) else []
    for _ in range(20):
        y = fugacity * np.exp(-model.at(T, P).ln_phi(np.maximum(y / y.sum(), 1e-100)[None], np.int8(0))[0]) / found.P
    # what is as dense as a liquid is none that is looked for
    dense = model.at(T, P).describe(np.maximum(y / y.sum(), 1e-100)[None], np.int8(0)).kinds[0] == 1
    return [f"a vapor would form: {y.sum():g}"] if not dense and y.sum() > 1.0 + 1e-6 + 0.05 * abs(liquid) else []


def look(rng):
    names = tuple(sorted(rng.choice(REAGENTS, int(rng.integers(1, 5)), replace=False).tolist()))
    ions = str(rng.choice(["Pitzer", "electrolyte-NRTL", "Davies"], p=[0.6, 0.25, 0.15]))
    most = -1.0 if ions == "Davies" else 1.0
    feed = {name: float(rng.choice([0.0, 1e-12, 10.0 ** rng.uniform(-6.0, most)], p=[0.05, 0.05, 0.9])) for name in names}
    P = 10.0 ** rng.uniform(4.5, 7.0) if rng.random() < 0.4 else None
    gases = (
        {"carbon dioxide": 10.0 ** rng.uniform(1.0, 5.5)} if P is None and "carbon dioxide" in names and rng.random() < 0.4 else {}
    )
    # sulfur dioxide as a liquid takes up water, which the equation does not tell from water itself
    if P is not None and "sulfur dioxide" not in names and rng.random() < 0.4:
        beside = tuple(rng.choice(HYDROCARBONS, int(rng.integers(1, 4)), replace=False).tolist())
        names += beside
        feed |= {name: 10.0 ** rng.uniform(-6.0, 0.8) for name in beside}
    T = 298.15 if rng.random() < 0.3 else float(rng.uniform(273.15, 373.15))

    def trouble_of(counts):
        system = system_of(names, ions)
        try:
            found = system.speciation(feed, T=T, P=P, gases=gases)
        except sl.CalculationError as error:
            said = [why for why in ("take up the water", "ionic strength comes out above", "boil away") if why in str(error)]
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
            there += sum(
                amount * ATOMS[name].get(element, 0) for part in (found.vapor, found.liquid) for name, amount in part.items()
            )
            there += {"H": 2.0, "O": 1.0}.get(element, 0.0) * found.water / 0.01801528
            if not abs(there - fed) <= 1e-9 * max(fed, abs(there), 1e-12):
                wrong.append(f"{element}: {there:g} of {fed:g}")
        if any(v > 1e-8 for v in found.saturation.values()):
            wrong.append(f"supersaturated: {max(found.saturation, key=found.saturation.get)}")
        if any(v < 0.0 for v in found.solids.values()):
            wrong.append("less than nothing of a solid")
        for name, pressure in gases.items():
            if not abs(found.pressures[name] / pressure - 1.0) < 1e-8:
                wrong.append("another pressure")
        if P is not None:
            counts["under a pressure"] += 1
            counts["with vapor"] += bool(found.vapor)
            counts["with a liquid of hydrocarbons"] += bool(found.liquid)
            wrong += parts_trouble(found) if system.hydrocarbons else vapor_trouble(found)
        return wrong

    return f"Electrolyte({list(names)!r}, ions={ions!r}).speciation({feed!r}, T={T!r}, P={P!r}, gases={gases!r})", trouble_of


if __name__ == "__main__":
    sys.exit(search(__doc__, "feeds", 10000, look))
