"""Fit viscosities and thermal conductivities of gases to a handbook's values.

    python tools/fit_gas_transport.py viscosity
    python tools/fit_gas_transport.py conductivity

Prints the rows of ``gas_viscosity.csv`` or ``gas_conductivity.csv`` in ``src/sleetfield/data``, and how far each fit is from its values.
"""

from __future__ import annotations

import sys

import numpy as np

AT = (100.0, 200.0, 300.0, 400.0, 500.0, 600.0)
NONE = float("nan")

VISCOSITY = {
    "argon": (8.1, 15.9, 22.7, 28.6, 33.9, 38.8),
    "oxygen": (7.5, 14.6, 20.8, 26.1, 30.8, 35.1),
    "nitrogen": (NONE, 12.9, 17.9, 22.2, 26.1, 29.6),
    "carbon monoxide": (6.7, 12.9, 17.8, 22.1, 25.8, 29.1),
    "carbon dioxide": (NONE, 10.0, 15.0, 19.7, 24.0, 28.0),
    "nitrous oxide": (NONE, 10.0, 15.0, 19.4, 23.6, 27.4),
    "nitric oxide": (NONE, 13.8, 19.2, 23.8, 28.0, 31.9),
    "hydrogen": (4.2, 6.8, 9.0, 10.9, 12.7, 14.4),
    "helium": (9.7, 15.3, 20.0, 24.4, 28.4, 32.3),
    "neon": (14.4, 24.3, 32.1, 38.9, 45.0, 50.8),
    "krypton": (8.8, 17.1, 25.6, 33.1, 39.8, 45.9),
    "xenon": (8.3, 15.4, 23.2, 30.7, 37.6, 44.0),
    "hydrogen sulfide": (NONE, NONE, 12.5, 16.9, 21.2, 25.4),
    "sulfur dioxide": (NONE, NONE, 12.9, 17.5, 21.7, NONE),
    "hydrogen chloride": (NONE, NONE, 14.6, 19.7, 24.3, NONE),
    "ammonia": (NONE, NONE, 10.2, 14.0, 17.9, 21.7),
    "water": (NONE, NONE, 10.0, 13.3, 17.3, 21.4),
    "methane": (NONE, 7.7, 11.2, 14.3, 17.0, 19.4),
    "ethane": (NONE, 6.4, 9.5, 12.3, 14.9, 17.3),
    "propane": (NONE, NONE, 8.3, 10.9, 13.4, 15.8),
    "n-butane": (NONE, NONE, 7.5, 10.0, 12.3, 14.6),
    "isobutane": (NONE, NONE, 7.6, 10.0, 12.3, 14.6),
    "n-pentane": (NONE, NONE, 6.7, 9.2, 11.4, 13.4),
    "n-hexane": (NONE, NONE, NONE, 8.6, 10.8, 12.8),
    "ethylene": (NONE, 7.0, 10.4, 13.6, 16.5, 19.1),
    "acetylene": (NONE, NONE, 10.4, 13.5, 16.5, NONE),
    "chloroform": (NONE, NONE, 10.2, 13.7, 16.9, 20.1),
    "methanol": (NONE, NONE, NONE, 13.2, 16.5, 19.6),
    "ethanol": (NONE, NONE, NONE, 11.6, 14.5, 17.0),
    "diethyl ether": (NONE, NONE, 7.6, 10.1, 12.4, NONE),
}
"""µPa s: CRC Handbook of Chemistry and Physics, 84th ed. (2003), Section 6, viscosity of gases."""

CONDUCTIVITY = {
    "argon": (6.3, 12.4, 17.7, 22.4, 26.5, 30.3),
    "oxygen": (9.3, 18.4, 26.3, 33.7, 41.0, 48.1),
    "nitrogen": (9.8, 18.7, 26.0, 32.3, 38.3, 44.0),
    "carbon monoxide": (NONE, NONE, 25.0, 32.3, 39.2, 45.7),
    "carbon dioxide": (NONE, 9.6, 16.8, 25.1, 33.5, 41.6),
    "nitrous oxide": (NONE, 9.8, 17.4, 26.0, 34.1, 41.8),
    "nitric oxide": (NONE, 17.8, 25.9, 33.1, 39.6, 46.2),
    "hydrogen": (68.6, 131.7, 186.9, 230.4, NONE, NONE),
    "helium": (75.5, 119.3, 156.7, 190.6, 222.3, 252.4),
    "neon": (22.3, 37.6, 49.8, 60.3, 69.9, 78.7),
    "krypton": (3.3, 6.4, 9.5, 12.3, 14.8, 17.1),
    "xenon": (2.0, 3.6, 5.5, 7.3, 8.9, 10.4),
    "hydrogen sulfide": (NONE, NONE, 14.6, 20.5, 26.4, 32.4),
    "sulfur dioxide": (NONE, NONE, 9.6, 14.3, 20.0, 25.6),
    "hydrogen chloride": (NONE, 9.2, 14.5, 19.5, 24.0, 28.1),
    "ammonia": (NONE, NONE, 24.4, 37.4, 51.6, 66.8),
    "water": (NONE, NONE, 18.7, 27.1, 35.7, 47.1),
    "methane": (NONE, 22.5, 34.1, 49.1, 66.5, 84.1),
    "ethane": (NONE, 11.0, 21.3, 35.4, 52.2, 70.5),
    "propane": (NONE, NONE, 18.0, 30.6, 45.5, 61.9),
    "n-butane": (NONE, NONE, 16.4, 28.4, 43.0, 59.1),
    "isobutane": (NONE, NONE, 16.1, 27.9, 42.1, 57.6),
    "n-pentane": (NONE, NONE, 14.4, 24.9, 37.8, 52.7),
    "n-hexane": (NONE, NONE, NONE, 23.4, 35.4, 48.7),
    "ethylene": (NONE, NONE, 20.5, 34.6, 49.9, 68.6),
    "acetylene": (NONE, NONE, 21.4, 33.3, 45.4, 56.8),
    "chloroform": (NONE, NONE, 7.5, 11.1, 15.1, NONE),
    "dichlorodifluoromethane": (NONE, NONE, 9.9, 15.0, 20.1, 25.2),
    "tetrafluoromethane": (NONE, NONE, 16.0, 24.1, 32.2, 39.9),
    "methanol": (NONE, NONE, NONE, 26.2, 38.6, 53.0),
    "ethanol": (NONE, NONE, 14.4, 25.8, 38.4, 53.2),
}
"""mW/(m K): the same, thermal conductivity of gases."""

TABLES = {"viscosity": (VISCOSITY, 1e-6, "crc-gas-viscosity"), "conductivity": (CONDUCTIVITY, 1e-3, "crc-gas-conductivity")}


def main() -> None:
    """Print the rows."""
    table, unit, source = TABLES[sys.argv[1]]
    print("name,equation,c1,c2,c3,c4,T_min,T_max,source")
    for name, values in table.items():
        there = np.isfinite(values)
        T, ln = np.array(AT)[there], np.log(unit * np.array(values)[there])
        # a fourth coefficient only where there are points enough to see it
        terms = [np.ones_like(T), np.log(T), 1.0 / T, 1.0 / T**2][: 4 if len(T) > 4 else 3]
        c = np.linalg.lstsq(np.stack(terms, axis=1), ln, rcond=None)[0]
        written = [float(f"{v:.7g}") for v in c]
        off = np.expm1(sum(v * term for v, term in zip(written, terms, strict=True)) - ln)
        print(
            f"{name},logarithmic_form,{','.join(f'{v:.7g}' for v in written)}{',' * (4 - len(written))},{T[0]:g},{T[-1]:g},{source}"
        )
        print(f"{name:24} {100.0 * np.abs(off).max():.2f} %", file=sys.stderr)


if __name__ == "__main__":
    main()
