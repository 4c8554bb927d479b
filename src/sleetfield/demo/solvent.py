"""Measurements of Marlwick's solvents, fitted: vapor pressures of acetone and boiling points of acetone and 1-butanol from the bench still, densities of
1-butanol from lab 2.

The measurements are synthetic, and the files say so.
"""

from __future__ import annotations

from importlib import resources
from pathlib import Path

from ..calculations.fitting import regress
from ..components import databank
from ..correlation_fit import CorrelationFit, fit_correlation
from ..data_sets import read_data
from ..export import save
from ..files import write_whole
from ..system import System
from ..text import note_lines, shown

STILL = "bench_still_acetone.csv"
MIXTURES = "bench_still_acetone_1-butanol.csv"
LAB = "lab_2_density_of_1-butanol.csv"
UNCERTAINTY = 0.003
"""Of the bench still's pressures, relative."""

SPOILED = 6.0
"""Uncertainties from which a point counts as spoiled."""

FEED = {"acetone": 0.6, "1-butanol": 0.4}
UNITS = "engineering"


def run(folder: Path, overwrite: bool = False) -> str:
    """Write the measurements, their fits and the figures into ``folder``, and return the summary."""
    for name in (STILL, LAB, MIXTURES):
        write_whole(folder / name, resources.files("sleetfield.demo").joinpath(name).read_bytes(), overwrite)
    pressures = fit_correlation(folder / STILL, "antoine", component=databank().find("acetone"), uncertainty=UNCERTAINTY)
    densities = fit_correlation(folder / LAB, "rackett form", component=databank().find("1-butanol"))
    for name, fit in (("acetone_vapor_pressure", pressures), ("1-butanol_density", densities)):
        save(fit, folder / f"{name}.csv", overwrite=overwrite)
        save(fit, folder / f"{name}.png", overwrite=overwrite)
        save(fit, folder / f"{name}_residuals.png", overwrite=overwrite, figure="residuals")
    curve = System([databank().find("acetone")], eos="PR", units=UNITS).saturation_curve(data=folder / STILL)
    save(curve, folder / "acetone_saturation.png", overwrite=overwrite)
    return _summary(pressures, densities) + _mixtures(folder, overwrite)


def _mixtures(folder: Path, overwrite: bool) -> str:
    """NRTL's parameters from the boiling points, the spoiled ones left out."""
    start = System(["acetone", "1-butanol"], liquid="NRTL", vapor="virial", units=UNITS)
    data = read_data(folder / MIXTURES, start.names)
    first = regress(start, data, fit="tau", loss="stray points")
    stray = {int(i) for q in first.quantities for i in q.points[abs(q.value - q.measured) > SPOILED * q.uncertainty]}
    fitted = regress(start, data.without(stray, "far off"), fit="tau")
    save(fitted, folder / "acetone_1-butanol.csv", overwrite=overwrite)
    save(fitted, folder / "acetone_1-butanol.png", overwrite=overwrite)
    save(fitted, folder / "acetone_1-butanol_residuals.png", overwrite=overwrite, figure="residuals")
    values = ", ".join(f"{n} = {v:.3f} ± {w:.3f}" for n, v, w in zip(fitted.names, fitted.values, fitted.interval, strict=True))
    left = f"Points {', '.join(str(i) for i in sorted(stray))} are far off and left out."
    return "\n".join(["", f"{fitted.title()}: {values} (95 %). {left}", *note_lines(fitted.notes), ""])


def _summary(pressures: CorrelationFit, densities: CorrelationFit) -> str:
    plain = databank().find("acetone")
    before, after = (
        System([acetone, "1-butanol"], liquid="ideal", units=UNITS).bubble(FEED, P="1 atm").T
        for acetone in (plain, pressures.applied_to(plain))
    )
    parts = ["# Marlwick's solvents as measured", ""]
    for fit in (pressures, densities):
        values = ", ".join(f"{k} = {v:.5g}" for k, v in fit.parameters.items())
        parts.append(f"{fit.title()}: {values}.")
        parts += [*note_lines(fit.notes), ""]
    parts.append(
        f"With the measured vapor pressure of acetone, a feed of 0.6 acetone + 0.4 1-butanol boils at {shown(after, 'temperature', UNITS, 4)}; "
        f"with the databank's at {shown(before, 'temperature', UNITS, 4)} (ideal liquid, 1 atm)."
    )
    return "\n".join([*parts, ""])
