"""Measurements of Marlwick's lab 2, and what is fitted to them: 1-butanol and water, their mutual solubility and boiling points in one regression; how much
benzoic acid ethanol dissolves; and several models on the bench still's boiling points.

The measurements are synthetic, and the files say so.
"""

from __future__ import annotations

from importlib import resources
from pathlib import Path

from ..calculations.consistency import consistency
from ..calculations.fitting import rank_models, regress
from ..data_sets import read_data
from ..export import save
from ..files import write_whole
from ..results.regression import Regression
from ..system import System
from ..text import note_lines

SOLUBILITY, BOILING = "lab_2_1-butanol_water_solubility.csv", "lab_2_1-butanol_water_boiling.csv"
ACID = "lab_2_benzoic_acid_in_ethanol.csv"
STILL = "bench_still_acetone_1-butanol.csv"
STRAY = (7, 13)
MODELS = ("Margules", "van Laar", "Wilson", "NRTL", "UNIQUAC")
UNITS = "engineering"


def run(folder: Path, overwrite: bool = False) -> str:
    """Write the measurements, their fits and the figures into ``folder``, and return the summary."""
    for name in (SOLUBILITY, BOILING, ACID):
        write_whole(folder / name, resources.files("sleetfield.demo").joinpath(name).read_bytes(), overwrite)
    broth, acid = _broth(folder), _acid(folder)
    still = System(["acetone", "1-butanol"], liquid="NRTL", vapor="virial", units=UNITS)
    points = read_data(folder / STILL).without(STRAY, "far off")
    tests = consistency(still, points)
    models = rank_models(still, points, MODELS, beside=["ideal"])
    for result, name in (
        (broth, "1-butanol_water_fit.csv"),
        (broth, "1-butanol_water_solubility.png"),
        (acid, "benzoic_acid_fit.csv"),
        (acid, "benzoic_acid_solubility.png"),
        (tests, "acetone_1-butanol_consistency.csv"),
        (tests, "acetone_1-butanol_consistency.png"),
        (models, "acetone_1-butanol_models.csv"),
        (models, "acetone_1-butanol_models.png"),
    ):
        save(result, folder / name, overwrite=overwrite)
    save(broth, folder / "1-butanol_water_boiling.png", overwrite=overwrite, of=1)
    verdicts = ", ".join(
        f"{v.test} {'passed' if v.passed else 'not possible' if v.passed is None else 'failed'}" for v in tests.verdicts
    )
    return "\n".join(
        [
            "",
            "# Marlwick's lab 2",
            "",
            *_told(broth),
            *_told(acid),
            f"Consistency of the bench still's points: {verdicts}.",
            *note_lines(models.notes),
            "",
        ]
    )


def _broth(folder: Path) -> Regression:
    """NRTL's energies, proportional to 1/T, from two liquids and from boiling points together."""
    system = System(["1-butanol", "water"], liquid="NRTL", vapor="virial", units=UNITS)
    return regress(system, [read_data(folder / SOLUBILITY), read_data(folder / BOILING)], fit="tau 1/T")


def _acid(folder: Path) -> Regression:
    system = System(["benzoic acid", "ethanol"], liquid="NRTL", solids=["benzoic acid"], units=UNITS)
    return regress(system, read_data(folder / ACID), fit="tau")


def _told(fit: Regression) -> list[str]:
    values = ", ".join(f"{n} = {v:.4g} ± {w:.2g}" for n, v, w in zip(fit.names, fit.values, fit.interval, strict=True))
    return [f"{fit.title()}: {values} (95 %).", *note_lines(fit.notes), ""]
