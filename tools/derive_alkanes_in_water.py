"""Derive the interaction parameters of water with alkanes, CPA, from how little of them dissolves in water.

    python tools/derive_alkanes_in_water.py

Prints the rows for ``src/sleetfield/data/kij.csv``. n-Hexane and n-octane at six temperatures; of the others the value at 25 °C, and the mean change with temperature of those two.
What water dissolves in the alkane was not used.
"""

from __future__ import annotations

import csv
import sys

import numpy as np
from scipy.optimize import brentq

import sleetfield as sl
from sleetfield.core.constants import ATMOSPHERE
from sleetfield.pairs.of_temperature import OfTemperature, in_writing

OVER_TEMPERATURE = {"n-hexane": (-367.98497, 16128.646, 52.82081), "n-octane": (-415.7563, 17975.386, 59.55451)}
"""ln of the mole fraction in water = a + b/T + c ln T, beside the liquid: Tsonopoulos, Fluid Phase Equilib. 156 (1999) 21-33."""
AT_25 = {"n-pentane": 38.5, "n-heptane": 2.93}
"""mg/kg, beside the liquid: McAuliffe, J. Phys. Chem. 70 (1966) 1267-1275."""
OF_GASES = {"propane": 2.732e-5, "n-butane": 2.244e-5}
"""Mole fraction at 25 °C under 1 atm of the gas: Wilhelm, Battino and Wilcock, Chem. Rev. 77 (1977) 219-262."""
TEMPERATURES = np.array([278.15, 298.15, 323.15, 348.15, 373.15, 423.15])
WATER = "water"


def dissolved(name: str, k: float, T: float, P: float | None = None) -> float:
    """The alkane's mole fraction in water beside a phase of its own; where ``P`` is None at a pressure that keeps both liquid."""
    system = sl.System([name, WATER], eos="CPA", kij={(name, WATER): k})
    pressure = max(5e5, 2.0 * system.bubble([0.5, 0.5], T=T).P) if P is None else P
    phases = system.flash([0.5, 0.5], T=T, P=pressure).phases
    return max(phases, key=lambda p: p.composition[WATER]).composition[name]


def parameter(name: str, x: float, T: float, P: float | None = None) -> float:
    """The parameter with which so much dissolves."""
    return float(brentq(lambda k: np.log(dissolved(name, k, T, P) / x), -0.3, 0.3, xtol=1e-5))


def derived() -> dict[str, OfTemperature]:
    """Functions of temperature by name."""
    measured = {
        name: np.array([parameter(name, np.exp(a + b / T + c * np.log(T)), T) for T in TEMPERATURES])
        for name, (a, b, c) in OVER_TEMPERATURE.items()
    }
    change = np.mean(list(measured.values()), axis=0) - np.mean([k[TEMPERATURES == 298.15] for k in measured.values()])
    for name in (*OF_GASES, *AT_25):
        if name in OF_GASES:
            k = parameter(name, OF_GASES[name], 298.15, ATMOSPHERE)
        else:
            ratio = AT_25[name] * 1e-6 / sl.databank().find(name).molar_mass * sl.databank().find(WATER).molar_mass
            k = parameter(name, ratio / (1.0 + ratio), 298.15)
        measured[name] = change + k
    return {name: OfTemperature.staying(TEMPERATURES, k) for name, k in measured.items()}


def main() -> None:
    """Print the rows."""
    out = csv.writer(sys.stdout, lineterminator="\n")
    for name, function in derived().items():
        out.writerow([WATER, name, "CPA | CPA-ECR", in_writing(function), "alkanes-in-water"])


if __name__ == "__main__":
    main()
