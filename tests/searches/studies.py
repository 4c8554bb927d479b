"""Studies with one or two entries replaced by something clumsy or hostile: each is refused with line and field, or its tasks say what was wrong; nothing else comes out.

python -m tests.searches.studies --studies 2000
"""

from __future__ import annotations

import copy
import random
import sys
import tempfile
import tomllib
from importlib import resources
from pathlib import Path

import tomli_w

import sleetfield as sl
from sleetfield.studies.running import run_tasks

from .searching import search

HOSTILE = [
    -1, 0, 1e308, float("nan"), float("inf"), True, "", " ", "x", "=1+1", "300 K**9**9**9", "1 to 2 in 1000000000 bar", "1e400 K", "20 bar!", "-5 degC to", "\u2028",
    [], [[]], {}, {"x": 1}, ["x"] * 5, "a" * 10_000, "../../etc/passwd", "/dev/zero", "con", "methane", "0.5 methane", "rest", ["rest"], {"methane": "rest", "propane": "rest"},
    {"methane / methane": 0.1}, {"methane / propane": "x"}, "1 bar, 2 bar", "0 to 0 K in 3", "flash", ["gas", "gas"],
]  # fmt: skip
SMALL = """
study = 1
title = "Small"
[[component]]
name = "pentyl sleetate"
formula = "C7H14O2"
Tc = "612 K"
Pc = "29.5 bar"
omega = 0.45
[plus_fraction.tail]
molar_mass = "125 g/mol"
specific_gravity = 0.76
lump = 2
[system.gas]
components = ["methane", "propane", "pentyl sleetate", "tail"]
eos = "PR"
kij = { "methane / propane" = 0.02 }
[system.pair]
components = ["acetone", "1-butanol"]
liquid = "NRTL"
parameters = { "acetone / 1-butanol" = { a12 = 120.0, a21 = 150.0, form = "cal/mol" } }
[system.wet]
components = ["hydrogen", "water"]
liquid = "ideal"
henry = { "hydrogen / water" = "70000 bar" }
[feed.gas]
composition = "0.7 methane + 0.2 propane + 0.01 tail + rest pentyl sleetate"
flow = "120 kmol/h"
[feed.pair]
flows = { acetone = "4 kmol/h", 1-butanol = "5 t/h" }
[feed.wet]
composition = { hydrogen = 0.5, water = "rest" }
basis = "mass"
[data.still]
file = "bench_still_acetone_1-butanol.csv"
without = [{ points = [7], because = "stray" }]
[[task]]
do = "flash"
name = "drum"
system = "gas"
feed = "gas"
T = "-20 degC"
P = "20 bar"
then = [{ T = "0 degC" }, { P = "5 bar", duty = 0 }]
[[task]]
do = "bubble"
name = "pair"
system = "pair"
feed = "pair"
P = "1 bar"
[[task]]
do = "dew"
name = "wet"
system = "wet"
feed = "wet"
P = "1 bar"
[[task]]
do = "table"
name = "table"
system = "pair"
feed = "pair"
T = "300 to 360 K in 4"
P = "1 bar"
properties = ["vapor_fraction", "H"]
largest = "H"
figures = [{ x = "T", y = "H" }]
[[task]]
do = "azeotropes"
name = "azeotropes"
system = "pair"
P = "1 bar"
[[task]]
do = "consistency"
name = "consistency"
system = "pair"
data = ["still"]
[[task]]
do = "compare"
name = "compare"
systems = ["pair", "pair"]
calculation = { do = "bubble", system = "pair", feed = "pair", P = "1 bar" }
"""


def places(content, path=()):
    """Every place in a study."""
    if path:
        yield path
    entries = content.items() if isinstance(content, dict) else enumerate(content) if isinstance(content, list) else ()
    for key, value in entries:
        yield from places(value, (*path, key))


def changed(content, rng):
    """The study with an entry replaced, taken out, doubled or renamed."""
    found = copy.deepcopy(content)
    for _ in range(rng.choice([1, 1, 1, 2])):
        path = rng.choice(list(places(found)))
        parent = found
        for key in path[:-1]:
            parent = parent[key]
        what = rng.choice(["replace", "replace", "replace", "remove", "rename"])
        if what == "remove":
            del parent[path[-1]]
        elif what == "rename" and isinstance(parent, dict):
            parent[str(path[-1]) + "x"] = parent.pop(path[-1])
        else:
            parent[path[-1]] = copy.deepcopy(rng.choice(HOSTILE))
    return found


def look_into(folder):
    content = tomllib.loads(SMALL)

    def look(rng):
        draw = random.Random(int(rng.integers(2**62)))
        text = tomli_w.dumps(changed(content, draw))

        def trouble_of(counts):
            trouble = []
            try:
                study = sl.Study.of(text, folder)
                records = run_tasks(study.case(), folder / "out", changed_only=True, overwrite=True)
            except sl.SleetfieldError as error:
                counts["refused"] += 1
                if "line" not in str(error):
                    trouble.append(f"refused without a line: {error}")
            else:
                counts["done"] += 1
                counts["failed tasks"] += sum(bool(r.failed) for r in records)
                trouble += [f"{r.name}: {r.failed}" for r in records if "should not be" in r.failed]
            return trouble

        return text if len(text) < 4000 else text[:4000], trouble_of

    return look


def look_into_a_copy(folder):
    """The same with the demo's measurements beside."""
    for source in resources.files("sleetfield.demo").iterdir():
        if source.name.endswith(".csv"):
            (folder / source.name).write_bytes(source.read_bytes())
    return look_into(folder)


if __name__ == "__main__":
    with tempfile.TemporaryDirectory() as name:
        sys.exit(search(__doc__, "studies", 2000, look_into_a_copy(Path(name)), seconds=10.0))
