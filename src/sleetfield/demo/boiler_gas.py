"""The boiler-gas line of the Marlwick Works: a lean natural gas with a heavy tail. Does it drop liquid in winter?"""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np

from ..components import databank
from ..diagrams.curve import draw_curve
from ..diagrams.style import axis_label
from ..errors import CalculationError
from ..export import save
from ..heavy_ends import PlusFraction, split_plus_fraction
from ..results.envelope import Envelope, compare_envelopes
from ..results.state import State
from ..system import System
from ..text import note_lines, shown

if TYPE_CHECKING:
    from matplotlib.axes import Axes

GAS = {
    "nitrogen": 0.0120,
    "carbon dioxide": 0.0080,
    "methane": 0.9125,
    "ethane": 0.0430,
    "propane": 0.0150,
    "isobutane": 0.0025,
    "n-butane": 0.0030,
    "isopentane": 0.0010,
    "n-pentane": 0.0009,
    "n-hexane": 0.0009,
    "n-heptane": 0.0007,
    "n-octane": 0.0003,
    "n-nonane": 0.0001,
    "n-decane": 0.0001,
}
"""Made up: mole fractions of the boiler gas."""

SAMPLES = {
    "January": {
        "ethane": 0.0400,
        "propane": 0.0140,
        "n-heptane": 0.0005,
        "n-octane": 0.0001,
        "n-nonane": 0.0,
        "n-decane": 0.0,
    },
    "February": {
        "ethane": 0.0470,
        "propane": 0.0172,
        "n-hexane": 0.0012,
        "n-heptane": 0.0010,
        "n-octane": 0.0005,
        "n-decane": 0.0002,
    },
}
"""Made up: last winter's two samples, as far as they differ from the gas; methane takes up the rest."""

TAIL = ("n-heptane", "n-octane", "n-nonane", "n-decane")
"""What the laboratory would report as C7+, with a made-up specific gravity."""

TAIL_GRAVITY = 0.735
LINE_T = "-25 degC"
LINE_P = "45 bar"
FLOW = "600 kmol/h"
UNITS = "engineering"


def system() -> System:
    """The gas with the Peng-Robinson equation."""
    return System(list(GAS), eos="PR", units=UNITS)


def tail() -> PlusFraction:
    """The heavy tail as a plus fraction of the same amount and molar mass, in three cuts."""
    amount = sum(GAS[name] for name in TAIL)
    mass = sum(GAS[name] * float(databank().find(name).molar_mass or 0.0) for name in TAIL)
    return split_plus_fraction(molar_mass=mass / amount, specific_gravity=TAIL_GRAVITY, amount=amount).lump(3)


def run(folder: Path, overwrite: bool = False) -> str:
    """Write the line's state, envelope, drop-out and heavy tail into ``folder``, and return the summary."""
    gas = system()
    line = gas.flash(GAS, T=LINE_T, P=LINE_P, flow=FLOW)
    envelope = gas.envelope(GAS, quality=[0.99, 0.995])
    pressures = np.linspace(2e5, 100e5, 99)
    dropout = gas.table(
        GAS, T=[line.T], P=pressures, properties=["n_phases", "vapor_fraction", "density", "fraction", "molar_volume"]
    )
    liquid = 1.0 - dropout["vapor_fraction"].to_numpy()
    dropout.insert(3, "liquid mol %", 100.0 * liquid)

    save(line, folder / "line_state.csv", overwrite=overwrite)
    save(envelope, folder / "envelope.csv", overwrite=overwrite)
    save(envelope, folder / "envelope.png", overwrite=overwrite, points={"line in winter": (line.T, line.P)})
    save(dropout, folder / "dropout.csv", overwrite=overwrite)
    save(dropout, folder / "dropout.xlsx", overwrite=overwrite)
    marks = [("line in winter", line.P / 1e5, 100.0 * (1.0 - line.vapor_fraction))]
    labels = (axis_label("P", UNITS), "liquid in the line [mol % of the gas]")
    title = f"Liquid drop-out of the boiler gas at {shown(line.T, 'temperature', UNITS)}"
    save(draw_curve(_axes(), pressures / 1e5, 100.0 * liquid, labels, title, marks), folder / "dropout.png", overwrite=overwrite)
    samples = compare_envelopes({name: gas.envelope(sample(name)) for name in SAMPLES})
    save(samples, folder / "samples.csv", overwrite=overwrite)
    save(samples, folder / "samples.png", overwrite=overwrite, points={"line in winter": (line.T, line.P)})
    cuts = tail()
    save(cuts, folder / "tail.csv", overwrite=overwrite)
    save(cuts, folder / "tail.png", overwrite=overwrite)
    return _summary(gas, line, envelope, cuts, pressures, liquid)


def sample(name: str) -> dict[str, float]:
    """One of last winter's samples, whole."""
    whole = {**GAS, **SAMPLES[name]}
    return {**whole, "methane": 1.0 - sum(share for other, share in whole.items() if other != "methane")}


def _axes() -> Axes:
    from matplotlib.figure import Figure

    return Figure(figsize=(9.6, 6.0), layout="constrained").add_subplot()


def _summary(gas: System, line: State, envelope: Envelope, cuts: PlusFraction, pressures: np.ndarray, liquid: np.ndarray) -> str:
    def pressure(value: float) -> str:
        return shown(value, "pressure", UNITS, 4)

    def temperature(value: float) -> str:
        return shown(value, "temperature", UNITS, 4)

    parts = ["# Marlwick boiler-gas line in winter", ""]
    if line.n_phases == 2:
        wet = next(p for p in line.phases if p.kind == "liquid")
        per_hour = wet.flow * 3600.0 * wet.molar_mass if wet.flow is not None else float("nan")
        volume = 1e3 * per_hour / wet.density
        parts.append(
            f"Yes: at {temperature(line.T)} and {pressure(line.P)} the line drops liquid, {100.0 * wet.fraction:.2f} mol % of the gas. "
            f"Of {FLOW} that is {per_hour:.0f} kg or {volume:.0f} liters an hour."
        )
    else:
        parts.append(f"No: at {temperature(line.T)} and {pressure(line.P)} the gas stays dry.")
    dew = gas.dew(GAS, P=line.P)
    parts.append(f"The dew point at line pressure is {temperature(dew.T)}; above it the line is dry.")
    for name in SAMPLES:
        at_line = gas.dew(sample(name), P=line.P).T
        parts.append(f"Last winter's sample of {name} had its dew point at line pressure at {temperature(at_line)}.")
    light = {name: share for name, share in GAS.items() if name not in TAIL}
    split = System([*light, *cuts.components], eos="PR", units=UNITS).dew({**light, **cuts.fractions}, P=line.P)
    parts.append(
        f"With the C7+ tail known only by amount, molar mass and specific gravity, and split into {len(cuts)} cuts, "
        f"it would be put at {temperature(split.T)}."
    )
    try:
        at_line_T = [s.P for s in gas.dew(GAS, T=line.T).all]
        first = " and ".join(pressure(p) for p in at_line_T)
        parts.append(f"At {temperature(line.T)} the dew pressures are {first}: liquid forms between.")
    except CalculationError as error:
        parts.append(str(error))
    worst = int(liquid.argmax())
    parts.append(
        f"Along that isotherm the drop-out is largest at {pressure(float(pressures[worst]))}: {100.0 * liquid[worst]:.2f} mol %."
    )
    t, b = envelope.cricondentherm, envelope.cricondenbar
    if t is not None and b is not None:
        parts.append(f"The gas can be two-phase up to {temperature(t.T)} (cricondentherm) and {pressure(b.P)} (cricondenbar).")
    return "\n".join([*parts, *note_lines(list(dict.fromkeys([*line.notes, *envelope.notes]))), ""])
