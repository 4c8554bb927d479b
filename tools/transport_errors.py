"""How far estimated conductivities and surface tensions of pure liquids are from the measured ones in the databank, by family: `python tools/transport_errors.py` prints the table of docs/guide/transport.md."""

from __future__ import annotations

from collections import defaultdict

import numpy as np

import sleetfield as sl
from sleetfield.components.classes import classes_of

FAMILIES = ("water", "alcohol", "acid", "amine", "halogenated", "hydrocarbon")
MEASURED = {"liquid_conductivity": "thermal_conductivity", "surface_tension": "surface_tension"}


def family(c: sl.Component) -> str:
    """What kind of molecule a component is, in a word."""
    own = classes_of(c)
    return next((word for word in FAMILIES if word in own), "other polar")


def errors() -> dict[tuple[str, str], list[float]]:
    """Estimated over measured, less 1, of each quantity and family, each component at one temperature."""
    found: dict[tuple[str, str], list[float]] = defaultdict(list)
    for c in sl.databank():
        for key, attribute in MEASURED.items():
            measured = getattr(c, key)
            if measured is None or c.Tc is None:
                continue
            T = min(max(298.15, measured.T_min), measured.T_max)
            bare = c.changed(**{key: None})
            (liquid, *_) = reversed(sl.System([bare], eos="PR").flash([1.0], T=T, vapor_fraction=0.0).phases)
            found[key, family(c)].append(getattr(liquid, attribute) / float(measured.value(np.array([T]))[0]) - 1.0)
    return found


def main() -> None:
    """Print the table."""
    found = errors()
    print("| quantity, estimated by | family | liquids | on average, % | at most, % |")
    print("|---|---|--:|--:|--:|")
    methods = {
        "liquid_conductivity": "thermal conductivity, Sato and Riedel",
        "surface_tension": "surface tension, Brock and Bird",
    }
    for key, words in methods.items():
        for name in (*FAMILIES, "other polar"):
            if values := found.get((key, name)):
                off = 100.0 * np.abs(values)
                print(f"| {words} | {name} | {len(values)} | {off.mean():.0f} | {off.max():.0f} |")


if __name__ == "__main__":
    main()
