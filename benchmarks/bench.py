"""What the calculations cost in both engines, as ratios against a scalar C loop compiled and run in the same minute.

    python benchmarks/bench.py

The yardstick, ``pr_flash.c``, does 20,000 T-P flashes of a ten-component lean gas with the Peng-Robinson equation, without a stability
test. Where there is no C compiler, times are printed alone.
"""

from __future__ import annotations

import json
import os
import re
import resource
import shutil
import statistics
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np

import sleetfield as sl
from sleetfield.core.compiled import ENGINE

HERE = Path(__file__).parent
GAS = {
    "nitrogen": (126.2, 34.0e5, 0.0377, 0.01),
    "carbon dioxide": (304.21, 73.83e5, 0.2236, 0.02),
    "methane": (190.56, 45.99e5, 0.0115, 0.70),
    "ethane": (305.32, 48.72e5, 0.0995, 0.09),
    "propane": (369.83, 42.48e5, 0.1523, 0.06),
    "isobutane": (407.8, 36.4e5, 0.1835, 0.02),
    "n-butane": (425.12, 37.96e5, 0.2002, 0.03),
    "isopentane": (460.4, 33.8e5, 0.2279, 0.02),
    "n-pentane": (469.7, 33.7e5, 0.2515, 0.02),
    "n-hexane": (507.6, 30.25e5, 0.3013, 0.03),
}
"""The yardstick's gas: Tc, K; Pc, Pa; omega; mole fraction."""


def yardstick() -> tuple[float, float, float] | None:
    """Microseconds per flash and per ln φ of the C loop, and the sum of its vapor fractions; None where it can't be had."""
    source, compiler = HERE / "pr_flash.c", shutil.which("cc") or shutil.which("gcc")
    if compiler is None or not source.exists():
        print("No C compiler, or no benchmarks/pr_flash.c: times alone, no ratios.")
        return None
    with tempfile.TemporaryDirectory() as folder:
        program = Path(folder) / "pr_flash"
        build = [compiler, "-O3", "-march=native", "-ffast-math", "-o", str(program), str(source), "-lm"]
        if subprocess.run(build, check=False, capture_output=True).returncode != 0:
            print("The C yardstick did not compile: times alone, no ratios.")
            return None
        runs = [subprocess.run([str(program)], check=True, capture_output=True, text=True).stdout for _ in range(5)]
    flash = statistics.median(float(re.search(r"([\d.]+) us/flash", r)[1]) for r in runs)
    kernel = statistics.median(float(re.search(r"kernel ([\d.]+) us", r)[1]) for r in runs)
    return flash, kernel, float(re.search(r"beta sum ([\d.]+)", runs[0])[1])


def median_time(work, repeats: int) -> float:
    """Median of the wall time of a call, seconds, after one call to warm up."""
    work()
    times = []
    for _ in range(repeats):
        began = time.perf_counter()
        work()
        times.append(time.perf_counter() - began)
    return statistics.median(times)


def interpreter_time(code: str) -> float:
    """Median wall time of a fresh interpreter running ``code``, seconds."""
    return median_time(lambda: subprocess.run([sys.executable, "-c", code], check=True), 7)


def processor_time(arguments: list[str] | None) -> float:
    """Least processor time of five processes, seconds: of the command with arguments, or of ``import numpy``."""
    program = (
        [sys.executable, "-c", "import numpy"]
        if arguments is None
        else [str(Path(sys.executable).parent / "sleetfield"), *arguments]
    )
    times = []
    for _ in range(5):
        before = resource.getrusage(resource.RUSAGE_CHILDREN)
        subprocess.run(program, check=True, capture_output=True)
        after = resource.getrusage(resource.RUSAGE_CHILDREN)
        times.append(after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime)
    return min(times)


def evaluations(system, z, count):
    """Single evaluations of ln φ with every derivative, as an envelope makes them: both phases of one point at once."""
    T, P, x = np.array([250.0, 250.0]), np.array([20e5, 20e5]), np.stack([z, z])
    for _ in range(count):
        _ = system.phase_model.at(T, P).evaluate(x).dn


def processes_time(system, z, T, P):
    """A batch given to a pool of two processes that is there already."""
    with ProcessPoolExecutor(2) as pool:
        return median_time(lambda: system.flash(z, T=T, P=P, executor=pool), 5)


def azeotropes_time():
    """All azeotropes of five components that split, boil together and both, seconds."""
    system = sl.System(["benzene", "water", "1-butanol", "ethyl acetate", "ethanol"], liquid="UNIQUAC")
    return median_time(lambda: system.azeotropes(P=101325.0), 5)


def table_time(system, z):
    """A table of 1000 temperatures by 1000 pressures, seconds."""
    began = time.perf_counter()
    options = {"T": np.linspace(220.0, 300.0, 1000), "P": np.linspace(5e5, 50e5, 1000), "properties": ["vapor_fraction", "density"]}
    system.table(z, **options)
    return time.perf_counter() - began


def envelope_anew(system, z, **options):
    """An envelope, with nothing remembered of an earlier one."""
    system.known_boundaries.clear()
    system.envelope(z, **options)


def rows() -> dict[str, float]:
    """Seconds of every calculation, in the engine of this process."""
    constants = [sl.Component(name=n, Tc=Tc, Pc=Pc, omega=w, molar_mass=0.03) for n, (Tc, Pc, w, _) in GAS.items()]
    system, known = sl.System(constants, eos="PR", kij="zero"), sl.System(list(GAS), eos="PR", kij="zero")
    splitting = sl.System(["1-butanol", "water"], liquid="NRTL")
    z = np.array([f for *_, f in GAS.values()])
    k = np.arange(20000)
    T, P = 220.0 + (k % 1000) * 0.08, (5.0 + 45.0 * ((k // 1000) % 20) / 20.0) * 1e5
    state = known.flash(z, T=250.0, P=20e5)
    pressures, enthalpies = np.linspace(5e5, 50e5, 2000), np.linspace(-9000.0, 2000.0, 2000)
    return {
        "T-P flash": median_time(lambda: system.flash(z, T=250.0, P=20e5), 50),
        "bubble point at P": median_time(lambda: system.bubble(z, P=20e5), 20),
        "bubble point at T": median_time(lambda: system.bubble(z, T=220.0), 20),
        "dew point at P": median_time(lambda: system.dew(z, P=20e5), 20),
        "P-H flash": median_time(lambda: known.flash(z, P=20e5, H=state.H), 20),
        "P-S flash": median_time(lambda: known.flash(z, P=20e5, S=state.S), 20),
        "T with vapor fraction": median_time(lambda: known.flash(z, T=250.0, vapor_fraction=0.5), 7),
        "P with vapor fraction": median_time(lambda: known.flash(z, P=20e5, vapor_fraction=0.5), 7),
        "critical point": median_time(lambda: system.critical(z), 7),
        "envelope": median_time(lambda: envelope_anew(system, z), 7),
        "envelope and three quality lines": median_time(lambda: envelope_anew(system, z, quality=[0.25, 0.5, 0.75]), 5),
        "500 evaluations of ln phi, all derivatives": median_time(lambda: evaluations(system, z, 500), 5),
        "T-x-y diagram of 101 points, with a split": median_time(lambda: splitting.diagram("Txy", P=101325.0), 7),
        "batch of 20,000 flashes, per state": median_time(lambda: system.flash(z, T=T, P=P), 5) / len(T),
        "the same on one core": on_one_core(lambda: median_time(lambda: system.flash(z, T=T, P=P), 5)) / len(T),
        "the same on two processes": processes_time(system, z, T, P) / len(T),
        "batch of 2,000 bubble points, per state": median_time(lambda: system.bubble(z, T=T[:2000]), 3) / 2000,
        "batch of 2,000 P-H flashes, per state": median_time(lambda: known.flash(z, P=pressures, H=enthalpies), 3) / 2000,
        "table of 1,000,000 states, per state": table_time(system, z) / 1e6,
        "five components' azeotropes": azeotropes_time(),
    }


def on_one_core(work):
    """What ``work`` gives with this process held to one core, where the system can do that."""
    if not hasattr(os, "sched_setaffinity"):
        return work()
    cores = os.sched_getaffinity(0)
    os.sched_setaffinity(0, {min(cores)})
    try:
        return work()
    finally:
        os.sched_setaffinity(0, cores)


def by_engine(engine: str) -> dict[str, float]:
    """The rows in a process of its own with that engine."""
    environment = {**os.environ, "SLEETFIELD_ENGINE": engine}
    done = subprocess.run([sys.executable, __file__, "rows"], env=environment, check=True, capture_output=True, text=True)
    found: dict[str, float] = json.loads(done.stdout)
    return found


def start_up() -> None:
    """What a command and an import take beside ``import numpy``."""
    numpy, ours = interpreter_time("import numpy"), interpreter_time("import sleetfield")
    flashed = processor_time(["flash", "0.7 methane + rest propane", "--T", "260 K", "--P", "20 bar"])
    bare = processor_time(None)
    print(f"sleetfield flash: {flashed / bare:.2f} times the processor time of import numpy ({bare * 1e3:.0f} ms)")
    helped = median_time(
        lambda: subprocess.run([str(Path(sys.executable).parent / "sleetfield"), "--help"], check=True, capture_output=True), 7
    )
    print(
        f"import sleetfield: {ours / numpy:.2f} times import numpy ({numpy * 1e3:.0f} ms); sleetfield --help: {helped / numpy:.2f} times"
    )


def main() -> None:
    """Measure and print."""
    c = yardstick()
    numpy, compiled = by_engine("numpy"), by_engine("compiled") if ENGINE is not None else {}
    print(f"{'':42s} {'NumPy engine':>24s} {'compiled engine':>24s}")
    print(f"{'':42s} {'':>14s} {'C flashes' if c else '':>9s} {'':>14s} {'C flashes' if c else '':>9s}")
    for name in numpy:
        cells = [_cell(found[name], c[0] if c else None) for found in (numpy, compiled) if found]
        print(f"{name:42s} {' '.join(cells)}")
    if c:
        print(f"C loop: {c[0]:.2f} us per flash, {c[1]:.3f} us per ln phi")
    start_up()


def _cell(seconds: float, flash: float | None) -> str:
    ratio = f"{seconds * 1e6 / flash:9.1f}" if flash else ""
    return f"{seconds * 1e6:11.1f} us {ratio:>9s}"


if __name__ == "__main__":
    if sys.argv[1:] == ["rows"]:
        print(json.dumps(rows()))
    else:
        main()
