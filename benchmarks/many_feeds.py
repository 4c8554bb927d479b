"""A long file of feeds against the same flashes in one call: time, memory, and whether the answers are the same.

python benchmarks/many_feeds.py --rows 1000000
"""

from __future__ import annotations

import argparse
import resource
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

import sleetfield as sl
from sleetfield.many_feeds import flash_file

NAMES = ["nitrogen", "methane", "ethane", "propane", "n-butane", "n-heptane"]


def states(rows: int):
    rng = np.random.default_rng(7)
    z = rng.dirichlet([1.0, 8.0, 2.0, 2.0, 1.0, 1.0], rows).round(9)
    z[:, 1] += 1.0 - z.sum(axis=1)
    return z, rng.uniform(220.0, 400.0, rows).round(3), rng.uniform(2e5, 80e5, rows).round(0)


def system():
    return sl.System(NAMES, eos="PR")


def write(path: Path, rows: int) -> None:
    z, T, P = states(rows)
    with path.open("w") as file:
        file.write(f"number,T [K],P [Pa],{','.join(NAMES)}\n")
        for i in range(0, rows, 50_000):
            block = zip(range(i, min(i + 50_000, rows)), T[i:].tolist(), P[i:].tolist(), z[i:].tolist(), strict=False)
            file.writelines(f"{n},{t!r},{p!r},{','.join(map(repr, row))}\n" for n, t, p, row in block)


def in_one_call(rows: int) -> None:
    z, T, P = states(rows)
    s = system()
    start = time.perf_counter()
    batch = s.flash(z, T=T, P=P)
    print(time.perf_counter() - start, float(np.nansum(batch.vapor_fraction)))


def from_file(path: Path) -> None:
    out = path.with_suffix(".out.csv")
    s = system()
    start = time.perf_counter()
    run = flash_file(s, path, out, properties=["n_phases", "vapor_fraction"])
    took = time.perf_counter() - start
    with out.open() as file:
        place = next(file).split(",").index("vapor_fraction")
        total = sum(float(line.split(",")[place]) for line in file)
    print(took, total, run.failed, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1e3)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--rows", type=int, default=1_000_000)
    parser.add_argument("--part", choices=["write", "call", "file"])
    parser.add_argument("--file", type=Path)
    given = parser.parse_args()
    if given.part == "write":
        write(given.file, given.rows)
    elif given.part == "call":
        in_one_call(given.rows)
    elif given.part == "file":
        from_file(given.file)
    else:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "feeds.csv"
            # each in a process of its own, so that none has another's memory
            _, call, file = (
                [
                    float(v)
                    for v in subprocess.run(
                        [sys.executable, __file__, "--rows", str(given.rows), "--part", part, "--file", str(path)],
                        check=True,
                        capture_output=True,
                        text=True,
                    ).stdout.split()
                ]
                for part in ("write", "call", "file")
            )
            print(
                f"{given.rows} rows: in one call {call[0]:.1f} s, from the file {file[0]:.1f} s (ratio {file[0] / call[0]:.2f}), {file[3]:.0f} MB, {file[2]:.0f} failed"
            )
            print(f"sum of vapor fractions {call[1]!r} and {file[1]!r}")


if __name__ == "__main__":
    main()
