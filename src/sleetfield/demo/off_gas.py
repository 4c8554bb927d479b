"""The off-gas of the Marlwick Works: carbon dioxide and hydrogen carrying solvent vapors, chilled in a knock-out drum. What comes out, and what does it take?"""

from __future__ import annotations

from pathlib import Path

import numpy as np

from ..diagrams.table import draw_table
from ..export import save
from ..results.state import State
from ..system import System
from ..text import note_lines, shown

OFF_GAS = {
    "carbon dioxide": 0.580,
    "hydrogen": 0.330,
    "acetone": 0.012,
    "1-butanol": 0.020,
    "ethanol": 0.004,
    "n-butyl acetate": 0.020,
    "water": 0.034,
}
"""Made up: mole fractions of the off-gas."""

FLOW = "90 kmol/h"
WARM_T, BETWEEN_T, CHILLED_T, DRUM_P = "45 degC", "15 degC", "4 degC", "8 bar"
UNITS = "engineering"
_HOUR = 3600.0


def system() -> System:
    """The off-gas with the Peng-Robinson equation and vapor pressures as measured: water matters here."""
    return System(list(OFF_GAS), eos="PR", alpha="Mathias-Copeman", units=UNITS)


def run(folder: Path, overwrite: bool = False) -> str:
    """Write the drum's phases and what it collects against the chiller's temperature into ``folder``, and return the summary."""
    gas = system()
    warm = gas.flash(OFF_GAS, T=WARM_T, P=DRUM_P, flow=FLOW)
    drum = warm.to(T=CHILLED_T)
    table = gas.table(
        OFF_GAS, T=np.linspace(275.15, 318.15, 44), P=DRUM_P, properties=["n_phases", "mass_fraction", "H", "composition"]
    )
    save(drum, folder / "drum.csv", overwrite=overwrite)
    save(drum, folder / "drum.md", overwrite=overwrite)
    save(table, folder / "drum_against_temperature.csv", overwrite=overwrite)
    save(_figure(table), folder / "drum.png", overwrite=overwrite)
    return _summary(warm, drum)


def _figure(table: object) -> object:
    """Both liquids' shares of the mass against the drum's temperature."""
    import pandas as pd
    from matplotlib.figure import Figure

    assert isinstance(table, pd.DataFrame)
    parts = []
    for column, words in (("liquid mass_fraction", "organic liquid"), ("second liquid mass_fraction", "water")):
        # where there is one liquid only, it is the organic one
        parts.append(pd.DataFrame({"T [degC]": table["T [degC]"], "liquid [% of the mass]": 100.0 * table[column], "phase": words}))
    both = pd.concat(parts, ignore_index=True)
    both.attrs["title"] = f"Knock-out drum at {DRUM_P}: what the chilled off-gas leaves behind"
    ax = Figure(figsize=(9.6, 6.0), layout="constrained").add_subplot()
    draw_table(both, "T", "liquid", by="phase", ax=ax)
    ax.set_ylim(bottom=0.0)
    return ax


def _summary(warm: State, drum: State) -> str:
    def kilograms(k: int) -> str:
        phase = drum.phases[k]
        return f"{(phase.flow or 0.0) * phase.molar_mass * _HOUR:.0f} kg/h"

    cooler = warm.to(T=BETWEEN_T)
    rest = cooler.to(T=CHILLED_T)
    parts = ["# Marlwick's off-gas in the knock-out drum", ""]
    parts.append(
        f"Chilled from {shown(warm.T, 'temperature', UNITS, 4)} to {shown(drum.T, 'temperature', UNITS, 4)} at {DRUM_P}, {FLOW} of off-gas "
        f"become {drum.n_phases} phases; the chiller takes away {-drum.duty / 1e3:.0f} kW."
    )
    if drum.n_phases == 3:
        organic, water = drum.phases[1], drum.phases[2]
        acetate, butanol = (100.0 * organic.mass_composition[name] for name in ("n-butyl acetate", "1-butanol"))
        parts.append(
            f"The drum collects {kilograms(1)} of organic liquid ({acetate:.0f} % butyl acetate and {butanol:.0f} % 1-butanol by mass) and "
            f"{kilograms(2)} of water ({100.0 * water.mass_composition['water']:.1f} % by mass)."
        )
        kept = sum((p.flow or 0.0) * p.composition["n-butyl acetate"] for p in drum.phases[1:])
        parts.append(
            f"{100.0 * kept / ((drum.flow or 1.0) * OFF_GAS['n-butyl acetate']):.1f} % of the butyl acetate is kept back; "
            f"the gas leaves with {100.0 * drum.phases[0].composition['water']:.2f} mol % water."
        )
    parts.append(
        f"A cooler to {shown(cooler.T, 'temperature', UNITS, 3)} before the chiller would take {-cooler.duty / 1e3:.0f} kW of that, and leave {-rest.duty / 1e3:.0f} kW."
    )
    parts.append(
        "Alcohols and acetone mix with water better than an equation of state says that has no interaction parameters for them: "
        "take the water's purity as an upper bound."
    )
    return "\n".join([*parts, *note_lines(drum.notes), ""])
