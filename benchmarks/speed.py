"""Flashes a second: one at a time, in a batch, on two processes, and by the scalar C loop; as a figure.

    python benchmarks/speed.py speed.png

Every flash of Sleetfield tests its phases for a further one; the C loop does not.
"""

from __future__ import annotations

import sys
from concurrent.futures import ProcessPoolExecutor

import matplotlib.pyplot as plt
import numpy as np
from bench import GAS, median_time, yardstick

import sleetfield as sl
from sleetfield.diagrams.style import BLUE, GREY, INK, set_title

COUNT = 20_000


def system() -> tuple[sl.System, np.ndarray]:
    """The yardstick's gas."""
    made = [sl.Component(name=name, Tc=Tc, Pc=Pc, omega=omega, molar_mass=0.03) for name, (Tc, Pc, omega, _) in GAS.items()]
    return sl.System(made, eos="PR", kij="zero"), np.array([row[3] for row in GAS.values()])


def measured() -> dict[str, float]:
    """States a second, by how they were made."""
    gas, z = system()
    rng = np.random.default_rng(1)
    T, P = rng.uniform(220.0, 300.0, COUNT), rng.uniform(5e5, 50e5, COUNT)
    found = {"one at a time": 1.0 / median_time(lambda: gas.flash(z, T=250.0, P=20e5), 50)}
    found["one batch of 20,000"] = COUNT / median_time(lambda: gas.flash(z, T=T, P=P), 5)
    with ProcessPoolExecutor(2) as pool:
        found["the batch on two processes"] = COUNT / median_time(lambda: gas.flash(z, T=T, P=P, executor=pool), 5)
    c = yardstick()
    if c is not None:
        found["scalar C loop, without stability tests"] = 1e6 / c[0]
    return found


def main() -> None:
    """Measure and draw."""
    found = measured()
    figure, ax = plt.subplots(figsize=(9.6, 3.2), layout="constrained")
    names = list(found)[::-1]
    ax.barh(names, [found[n] for n in names], color=[GREY if "C loop" in n else BLUE for n in names], height=0.6)
    for i, name in enumerate(names):
        ax.annotate(
            f"{float(f'{found[name]:.2g}'):,.0f} states a second",
            (found[name], i),
            xytext=(6, 0),
            textcoords="offset points",
            va="center",
            fontsize=10,
            color=INK,
        )
    ax.set_xscale("log")
    ax.set_xlim(10.0, 20.0 * max(found.values()))
    ax.set_xlabel("flashes a second")
    set_title(ax, "T-P flashes of a gas of ten components (PR), each tested for a further phase")
    for side in ("top", "right"):
        ax.spines[side].set_visible(False)
    figure.savefig(sys.argv[1], dpi=133)
    for name, value in found.items():
        print(f"{name}: {value:,.0f} states a second")


if __name__ == "__main__":
    main()
