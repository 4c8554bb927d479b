"""How flashes grow with the number of states and of components, in both engines and beside the scalar C loop; as a figure.

    python benchmarks/speed.py speed.png

Every flash of Sleetfield tests its phases for a further one; the C loop does not.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
from concurrent.futures import ProcessPoolExecutor

import matplotlib.pyplot as plt
import numpy as np
from bench import GAS, median_time, yardstick

import sleetfield as sl
from sleetfield.core.compiled import ENGINE
from sleetfield.diagrams.style import BLUE, CRIMSON, GREY, set_title

COUNTS = (1, 10, 100, 1_000, 10_000, 100_000, 1_000_000)
SIZES = (2, 5, 10, 20, 40)
AT_ONCE = 2_000
SLOW = 100_000
"""The most states that the engine of NumPy is asked for."""


def gas() -> tuple[sl.System, np.ndarray]:
    """The yardstick's."""
    made = [sl.Component(name=name, Tc=Tc, Pc=Pc, omega=omega, molar_mass=0.03) for name, (Tc, Pc, omega, _) in GAS.items()]
    return sl.System(made, eos="PR", kij="zero"), np.array([row[3] for row in GAS.values()])


def states(count: int) -> tuple[np.ndarray, np.ndarray]:
    """Temperatures and pressures at random."""
    rng = np.random.default_rng(1)
    return rng.uniform(220.0, 300.0, count), rng.uniform(5e5, 50e5, count)


def by_states() -> dict[int, float]:
    """States a second, by how many there are in the call."""
    system, z = gas()
    found = {}
    for count in COUNTS if ENGINE is not None else [n for n in COUNTS if n <= SLOW]:
        T, P = (250.0, 20e5) if count == 1 else states(count)
        found[count] = count / median_time(lambda T=T, P=P: system.flash(z, T=T, P=P), 30 if count < 1_000 else 2)
    return found


def on_processes() -> float:
    """States a second of a large batch that two processes share."""
    system, z = gas()
    T, P = states(SLOW)
    with ProcessPoolExecutor(2) as pool:
        return SLOW / median_time(lambda: system.flash(z, T=T, P=P, executor=pool), 2)


def by_components() -> dict[int, float]:
    """Microseconds a state, by the number of components: equal shares of the lightest of the databank."""
    known = sorted((c for c in sl.databank() if None not in (c.Tc, c.Pc, c.omega, c.Tb)), key=lambda c: c.Tb)[8:]
    T, P = states(AT_ONCE)
    found = {}
    for size in SIZES:
        names = [known[i].name for i in np.linspace(0, 119, size).astype(int)]
        system = sl.System(names, eos="PR", kij="zero")
        found[size] = median_time(lambda s=system, n=size: s.flash(np.full(n, 1.0 / n), T=T + 80.0, P=P), 3) / AT_ONCE * 1e6
    return found


def measured(engine: str) -> tuple[dict[int, float], dict[int, float], float]:
    """All of them, in a process of its own with that engine."""
    environment = {**os.environ, "SLEETFIELD_ENGINE": engine}
    done = subprocess.run([sys.executable, __file__], env=environment, check=True, capture_output=True, text=True)
    states, components, processes = json.loads(done.stdout)
    return {int(k): v for k, v in states.items()}, {int(k): v for k, v in components.items()}, processes


def main(path: str) -> None:
    """Measure and draw."""
    c = yardstick()
    figure, (left, right) = plt.subplots(1, 2, figsize=(12.8, 4.4), layout="constrained")
    for engine, color, label in (("compiled", BLUE, "compiled engine, all cores"), ("numpy", CRIMSON, "NumPy engine")):
        grown, sizes, shared = measured(engine)
        left.plot(list(grown), list(grown.values()), "o-", color=color, label=label)
        right.plot(list(sizes), list(sizes.values()), "o-", color=color, label=label)
        if engine == "numpy":
            left.plot([SLOW], [shared], "s", color=color, label="the same on two processes")
        print(engine, *(f"{n}: {value:,.0f}/s" for n, value in grown.items()), f"two processes: {shared:,.0f}/s")
        print(*(f"{n} components: {value:.1f} us" for n, value in sizes.items()))
    if c is not None:
        left.axhline(1e6 / c[0], color=GREY, linewidth=1.2, label="scalar C loop without stability tests")
    left.set(xscale="log", yscale="log", ylim=(40.0, None), xlabel="states in a call", ylabel="states a second")
    right.set(xscale="log", yscale="log", xlabel="components", ylabel="microseconds a state")
    left.set_xticks(COUNTS, [f"{n:,}" for n in COUNTS])
    right.set_xticks(SIZES, [str(n) for n in SIZES])
    right.set_yticks((10, 30, 100, 300), ["10", "30", "100", "300"])
    for ax in (left, right):
        ax.minorticks_off()
        ax.legend(frameon=False, loc="lower right")
    set_title(left, "A gas of ten components by PR, flashed at T and P")
    set_title(right, f"{AT_ONCE:,} states of 2 to 40 components")
    for ax in (left, right):
        ax.spines[["top", "right"]].set_visible(False)
    figure.savefig(path, dpi=100)


if __name__ == "__main__":
    if len(sys.argv) > 1:
        main(sys.argv[1])
    else:
        print(json.dumps([by_states(), by_components(), on_processes()]))
