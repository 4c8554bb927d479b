"""Derive interaction parameters of refrigerants from the boiling points of their blends.

    python tools/derive_interactions.py

Prints the rows for ``src/sleetfield/data/kij.csv``: the parameter with which a blend boils at 1 atm where it does. Beside it stands the azeotrope that this makes, which is
published too for most of them, and was not used.
"""

from __future__ import annotations

import csv
import sys

import numpy as np
from scipy.optimize import brentq

import sleetfield as sl
from sleetfield.core.constants import ATMOSPHERE

BLENDS = [
    ("R-500", "dichlorodifluoromethane", "1,1-difluoroethane", 0.738, -33.6),
    ("R-502", "chlorodifluoromethane", "chloropentafluoroethane", 0.488, -45.3),
    ("R-503", "trifluoromethane", "chlorotrifluoromethane", 0.401, -88.7),
    ("R-507A", "pentafluoroethane", "1,1,1-trifluoroethane", 0.5, -46.7),
    ("R-508A", "trifluoromethane", "hexafluoroethane", 0.39, -87.4),
    ("R-410A", "difluoromethane", "pentafluoroethane", 0.5, -51.4),
]
"""Designation, components, mass fraction of the first, and normal bubble point, degrees Celsius: ASHRAE Standard 34 (2019), Table 4-2."""


def bubble(eos, pair, z, k):
    """The bubble temperature at 1 atm, K."""
    return sl.System(list(pair), eos=eos, kij={pair: k}).bubble(z, P=ATMOSPHERE, basis="mass").T


def main():
    """Print the rows."""
    out = csv.writer(sys.stdout, lineterminator="\n")
    for name, first, second, share, boiling in BLENDS:
        pair, z, T = (first, second), [share, 1.0 - share], boiling + 273.15
        for eos in ("PR", "SRK"):

            def off(k, eos=eos, pair=pair, z=z, T=T):
                return bubble(eos, pair, z, k) - T

            if np.sign(off(-0.1)) == np.sign(off(0.2)):
                print(name, eos, "none; at zero it boils", f"{off(0.0):+.2f} K off", file=sys.stderr)
                continue
            k = brentq(off, -0.1, 0.2, xtol=1e-6)
            system = sl.System(list(pair), eos=eos, kij={pair: k})
            azeotropes = [f"{a.x[0]:.3f} at {a.T:.2f} K" for a in system.azeotropes(P=ATMOSPHERE)]
            x = np.array(z) / system.molar_mass
            print(
                name,
                eos,
                f"k={k:.4f}; {off(0.0):+.2f} K off at zero; x = {x[0] / x.sum():.3f}; azeotropes:",
                azeotropes,
                file=sys.stderr,
            )
            out.writerow([first, second, eos, f"{k:.4f}", "blends"])


if __name__ == "__main__":
    main()
