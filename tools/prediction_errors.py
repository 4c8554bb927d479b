"""How far predictions from groups are from what was measured: `python tools/prediction_errors.py` prints the tables of docs/predictions.md.

Azeotropes of the handbook's table, which the prediction was held against by nobody when they were entered, stand apart from those that were kept because they agree.
"""

from __future__ import annotations

from collections import defaultdict
from typing import Any

import numpy as np

import sleetfield as sl
from sleetfield.components.classes import classes_of
from sleetfield.data_sets.shipped import MeasuredDilution, measured_azeotropes, measured_dilutions, measured_solubilities

FAMILIES = ("water", "alcohol", "halogenated", "amine", "acid", "hydrocarbon")


def family(name: str) -> str:
    """What kind of molecule a component is, in a word."""
    own = classes_of(sl.databank().find(name))
    return next((word for word in FAMILIES if word in own), "other polar")


def azeotropes(liquid: str) -> None:
    """By families of components."""
    found: dict[tuple[str, ...], list[tuple[float, float]]] = defaultdict(list)
    missed: dict[tuple[str, ...], int] = defaultdict(int)
    for a in measured_azeotropes():
        key = tuple(sorted((family(a.first), family(a.second)), key=(*FAMILIES, "other polar").index))
        try:
            pair = sl.System([a.first, a.second], liquid=liquid)
        except sl.UnknownComponentError:
            continue
        masses = [c.molar_mass for c in pair.components]
        x = a.mass_fraction / masses[0] / (a.mass_fraction / masses[0] + (1.0 - a.mass_fraction) / masses[1])
        near = [(abs(p.T - a.T), abs(p.composition[a.first] - x)) for p in pair.azeotropes(P=a.P)]
        if near:
            found[key].append(min(near))
        else:
            missed[key] += 1
    print("| families | azeotropes | not predicted | T, K | mole fraction |")
    print("|---|--:|--:|--:|--:|")
    for key in sorted({*found, *missed}):
        T, x = np.array(found[key] or [(np.nan, np.nan)]).mean(axis=0)
        print(f"| {key[0]} + {key[1]} | {len(found[key]) + missed[key]} | {missed[key] or ''} | {T:.1f} | {x:.3f} |")
    every = np.array([pair for pairs in found.values() for pair in pairs])
    print(
        f"| all | {len(every) + sum(missed.values())} | {sum(missed.values())} | {every[:, 0].mean():.2f} | {every[:, 1].mean():.3f} |"
    )


def mutual(liquid: str, s: Any) -> tuple[str, str]:
    """Mass percent of the second in the first, and of the first in the second."""
    try:
        pair = sl.System([s.first, s.second], liquid=liquid, units="SI")
    except sl.UnknownComponentError:
        return "", ""
    splits = (pair.liquid_split([x, 1.0 - x], T=s.T, P=1e6).state.phases for x in (0.5, 0.2, 0.1))
    phases = next((found for found in splits if len(found) == 2), ())
    shares = sorted(p.mass_composition[s.first] for p in phases)
    return (f"{100.0 * (1.0 - shares[1]):.3g}", f"{100.0 * shares[0]:.3g}") if shares else ("they mix", "they mix")


def solubilities() -> None:
    """Mutual ones, measured and predicted, in mass percent."""
    print("| liquids | °C | second in first, % | UNIFAC | liquid-liquid | first in second, % | UNIFAC | liquid-liquid |")
    print("|---|--:|--:|--:|--:|--:|--:|--:|")
    for s in measured_solubilities():
        plain, liquids = (mutual(liquid, s) for liquid in ("UNIFAC", "liquid-liquid UNIFAC"))
        ends = zip((s.second_in_first, s.first_in_second), plain, liquids, strict=True)
        numbers = " | ".join(f"{100.0 * known:.3g} | {one} | {other}" for known, one, other in ends)
        print(f"| {s.first} + {s.second} | {s.T - 273.15:.0f} | {numbers} |")


def ratio(liquid: str, d: MeasuredDilution) -> float:
    """Predicted over measured; NaN where a group is not known."""
    try:
        pair = sl.System([d.solute, "water"], liquid=liquid, units="SI")
    except sl.UnknownComponentError:
        return float("nan")
    return float(pair.dilution("water", T=d.T).gamma[0, 0]) / d.gamma


def dilutions() -> None:
    """Activity coefficients at infinite dilution in water."""
    liquids = ("UNIFAC", "liquid-liquid UNIFAC", "modified UNIFAC")
    print("| in water | °C | measured | UNIFAC | liquid-liquid | modified |")
    print("|---|--:|--:|--:|--:|--:|")
    for d in measured_dilutions():
        ratios = [ratio(liquid, d) for liquid in liquids]
        cells = " | ".join("" if np.isnan(r) else f"{r:.2g}" for r in ratios)
        print(f"| {d.solute} | {d.T - 273.15:.0f} | {float(f'{d.gamma:.3g}'):,.8g} | {cells} |")


def main() -> None:
    """Print the tables."""
    for liquid in ("UNIFAC", "modified UNIFAC"):
        azeotropes(liquid)
        print()
    solubilities()
    print()
    dilutions()


if __name__ == "__main__":
    main()
