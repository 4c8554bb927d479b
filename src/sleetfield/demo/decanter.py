"""The solvent column and the decanter of the Marlwick Works: what can be distilled apart, and what the decanter takes apart instead.

The broth's solvents are acetone, ethanol, 1-butanol and water. 1-Butanol and water boil together and fall apart into two liquids when they are
cold, which the decanter makes use of; acetone in it brings the liquids closer together.
"""

from __future__ import annotations

from pathlib import Path

from ..export import save
from ..system import System
from ..text import note_lines, shown

FEED = {"acetone": 0.16, "1-butanol": 0.34, "ethanol": 0.04, "water": 0.46}
"""Made up: mole fractions of what goes to the solvent column."""

DECANTER = {"acetone": 0.02, "1-butanol": 0.24, "water": 0.74}
"""Made up: mole fractions of what goes to the decanter."""

COLUMN_P, DECANTER_T = "1.1 bar", "30 degC"
FLOW = "25 kmol/h"
UNITS = "engineering"


def system() -> System:
    """The solvents with NRTL, on published parameters and on those from azeotropes and solubilities."""
    return System(list(FEED), liquid="NRTL", units=UNITS)


def run(folder: Path, overwrite: bool = False) -> str:
    """Write the check, the azeotropes, the diagrams and the decanter's liquids into ``folder``, and return the summary."""
    solvents = system()
    check = solvents.check(P=COLUMN_P)
    azeotropes = solvents.azeotropes(P=COLUMN_P)
    feed = solvents.bubble(FEED, P=COLUMN_P)
    txy = solvents.diagram("Txy", "water", "1-butanol", P=COLUMN_P)
    decanter = solvents.part(list(DECANTER))
    liquids = decanter.liquid_map(T=DECANTER_T)
    split = decanter.flash(DECANTER, T=DECANTER_T, P=COLUMN_P, flow=FLOW)
    for result, name in (
        (check, "solvents_check.md"),
        (azeotropes, "solvents_azeotropes.csv"),
        (txy, "butanol_water.csv"),
        (txy, "butanol_water.png"),
        (liquids, "decanter_tie_lines.csv"),
        (liquids, "decanter.png"),
        (split, "decanter.csv"),
    ):
        save(result, folder / name, overwrite=overwrite)
    lowest = azeotropes[0] if len(azeotropes) else None
    organic, water = split.phases[0], split.phases[1]
    lines = [
        "# Marlwick's solvent column and decanter",
        "",
        f"The column's feed boils at {shown(feed.T, 'temperature', UNITS, 4)} and {COLUMN_P}; its first vapor is {100.0 * feed.y[0]:.0f} % acetone.",
        f"There are {len(azeotropes)} azeotropes, the lowest boiling: {lowest}.",
        f"At {DECANTER_T.replace('degC', '°C')} the decanter's feed is {100.0 * organic.fraction:.0f} % organic liquid with {100.0 * organic.composition['1-butanol']:.1f} % of"
        f" 1-butanol, and water with {100.0 * water.composition['1-butanol']:.2f} % of it (by mole).",
        f"Acetone is {organic.composition['acetone'] / water.composition['acetone']:.1f} times as concentrated in the organic liquid.",
        f"The check marks {len(check.doubts)} findings to look at:",
        *(f"- {' + '.join(f.components)}: {f.about}: {f.text}" for f in check.doubts),
        *note_lines(split.notes),
        "",
    ]
    return "\n".join(lines)
