"""Parameters of electrolyte-NRTL for every salt of which Pitzer's are known: those by which osmotic and mean activity coefficients at 25 °C come nearest to his equation's, which is published to within 1 %.

    python tools/derive_local_composition.py

writes ``local_composition.csv`` of the package's data anew.
"""

from __future__ import annotations

import csv
import math
from pathlib import Path

import numpy as np
from scipy.optimize import least_squares

import sleetfield
from sleetfield.components.species import all_species
from sleetfield.core.constants import T_REFERENCE
from sleetfield.core.electrolyte.enrtl import ElectrolyteNRTL, LocalTerms
from sleetfield.core.electrolyte.water import debye_hueckel
from sleetfield.ions import ION_MODELS

DATA = Path(sleetfield.__file__).parent / "data"
HIGHEST = {1: 6.0, 2: 2.5, 4: 2.0}
"""Molality up to which salts are taken, by the product of their charges."""
LIMITS = {
    ("K+", "Cl-"): 4.8, ("K+", "SO4-2"): 0.7, ("Ca+2", "OH-"): 0.1, ("Na+", "HCO3-"): 1.2, ("K+", "HCO3-"): 3.0, ("K+", "NO3-"): 3.0,
    ("Ba+2", "Cl-"): 1.7, ("MgOH+", "Cl-"): 0.5,
}  # fmt: skip
"""Where they are saturated before that, or what is known of them ends."""
STARTS = ((8.0, -4.0), (9.0, -4.6), (7.0, -3.5), (10.0, -5.0))


def derived(cation: str, anion: str) -> tuple[float, float, float, float]:
    """Both parameters, up to which molality they hold, and how far the osmotic coefficient is off at most."""
    ions = [s for name in (cation, anion) for s in all_species() if s.name == name]
    z = np.array([float(s.charge) for s in ions])
    counts = np.abs(z[::-1]) / math.gcd(*(abs(s.charge) for s in ions))
    most = LIMITS.get((cation, anion), HIGHEST[int(abs(z[0] * z[1]))])
    m = np.geomspace(0.01, most, 25)[:, None] * counts
    target = ION_MODELS["Pitzer"].make(ions, T_REFERENCE, {}).activities(m)
    A, none = float(debye_hueckel(T_REFERENCE)), np.zeros((2, 2))

    def off(p: np.ndarray) -> np.ndarray:
        tables = [np.array([[0.0, value], [0.0, 0.0]]) for value in p]
        found = ElectrolyteNRTL(LocalTerms(z, *tables, none), A).activities(m)
        mean = ((found.ln_gamma - target.ln_gamma) * counts).sum(axis=1) / counts.sum()
        return np.concatenate([found.osmotic / target.osmotic - 1.0, mean])

    fits = [least_squares(off, start, bounds=((0.0, -15.0), (30.0, 0.0))) for start in STARTS]
    best = min(fits, key=lambda fit: fit.cost)
    return (*best.x, most, float(np.abs(off(best.x)[: len(m)]).max()))


def main() -> None:
    """Write the table."""
    with (DATA / "ion_pairs.csv").open(encoding="utf-8") as file:
        pairs = [(row["first"], row["second"]) for row in csv.DictReader(file)]
    with (DATA / "local_composition.csv").open("w", encoding="utf-8", newline="") as file:
        writer = csv.writer(file, lineterminator="\n")
        writer.writerow(["first", "second", "of_water", "of_salt", "most", "off", "source"])
        for cation, anion in pairs:
            of_water, of_salt, most, off = derived(cation, anion)
            writer.writerow([cation, anion, f"{of_water:.4f}", f"{of_salt:.4f}", f"{most:g}", f"{off:.3f}", "from-pitzer"])


if __name__ == "__main__":
    main()
