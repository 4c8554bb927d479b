"""Damaged, foreign and hostile files given to every command that reads one: a result or a message, never a traceback, and within seconds.

python -m tests.searches.files --files 2000
"""

from __future__ import annotations

import contextlib
import io
import random
import sys
import tempfile
import traceback
import warnings
from importlib import resources
from pathlib import Path

import sleetfield as sl
from sleetfield.cli.app import app

from .searching import own_folders, search

COMMANDS = [
    "components store FILE --layer case --overwrite --insist", "pairs store-file FILE --layer case --overwrite", "data show FILE", "data show FILE --components 'acetone + 1-butanol'", "data convert FILE out.csv --overwrite",
    "data store FILE --layer case --overwrite", "fit-correlation FILE --form antoine", "fit-correlation FILE --form linear --of heat_capacity", "saturation-curve propane --eos PR --data FILE", "flash-file 'methane + propane' --file FILE --into rows.csv --overwrite --eos PR",
    "run FILE --folder out --overwrite", "lock FILE", "compare-runs FILE FILE", "flash '0.5 methane + rest propane' --system FILE --T '250 K' --P '10 bar'", "regress 'acetone + 1-butanol' --liquid NRTL --data FILE",
    "data consistency 'acetone + 1-butanol' --liquid ideal --data FILE", "diagram 'acetone + 1-butanol' --liquid NRTL --P '1 atm' --data FILE", "data list", "components find acetone",
]  # fmt: skip
JUNK = [
    b"", b"\x00" * 100, b"\xff\xfe\x00\x01", b"a,b\n1,2\n", b"[[component]]\n", b"[[pair]]\n", b"study = 1\n", b"{}", b"[]", b"{\"a\": 1e999}", b"<x>", b"<?xml version='1.0'?><!DOCTYPE x [<!ENTITY a SYSTEM 'file:///etc/passwd'>]><x>&a;</x>",
    b"T [K],P [Pa]\n=1+1,2\n", b"T [K],P [Pa]\nnan,inf\n", b"T [K];P [Pa]\n300;1e5\n" * 3, b"T [K],P [Pa],methane,propane\n250,1e6,0.5,0.5\n", "T [°C]\tP [bar]\n20\t1\n".encode(), b"x" * 100_000, b"\n" * 10_000, b'"' * 999, b"PK\x03\x04",
    b"study = 1\n[[task]]\ndo = 'flash'\n", b"[[component]]\nname = 'x'\nTc = 1e400\n", b"[[pair]]\nmodel = 'NRTL'\ncomponents = ['ethanol', 'water']\na12 = nan\na21 = 1.0\n", b"name,Tc [K]\nx,hot\n", b"name,Tc [K]\n,,,,\n",
]  # fmt: skip
SUFFIXES = [".csv", ".tsv", ".txt", ".xlsx", ".toml", ".json", ".xml", ".parquet", "", ".png"]


def good_files(folder):
    """Files that some command reads: what damaged ones are made of."""
    gas = sl.System(["methane", "propane"], eos="PR")
    for suffix in (".toml", ".json"):
        sl.save(gas, folder / f"system{suffix}")
    for suffix in (".csv", ".xlsx", ".json"):
        sl.save(gas.table([0.5, 0.5], T=[250.0, 260.0], P=1e6), folder / f"table{suffix}")
    sl.write_components([sl.databank().find("acetone")], folder / "components.toml")
    sl.write_pairs(sl.pair_records("NRTL", "ethanol", "water"), folder / "pairs.toml")
    for source in resources.files("sleetfield.demo").iterdir():
        if source.name.endswith(".csv"):
            (folder / source.name).write_bytes(source.read_bytes())
    data = sl.read_data(folder / "bench_still_acetone_1-butanol.csv")
    sl.write_thermoml([data], folder / "still.xml")
    return [p.read_bytes() for p in sorted(folder.iterdir())]


def damaged(content, draw):
    """The bytes with something taken out, doubled, changed or put in."""
    found = bytearray(content)
    for _ in range(draw.choice([1, 2, 5])):
        if not found:
            break
        i, j = sorted(draw.randrange(len(found)) for _ in range(2))
        what = draw.choice(["cut", "double", "change", "insert", "end"])
        if what == "cut":
            del found[i : min(j, i + 50)]
        elif what == "double":
            found[i:i] = found[i : min(j, i + 200)]
        elif what == "change":
            found[i] = draw.randrange(256)
        elif what == "insert":
            found[i:i] = draw.choice(
                [b"=1+1", b"nan", b"-", b"1e999", b"\x00", b",,,", b"[[", b'"', b"\n", "µ".encode(), b"methane"]
            )
        else:
            del found[j:]
    return bytes(found)


def look_with(good):
    def look(rng):
        draw = random.Random(int(rng.integers(2**62)))
        content = draw.choice(JUNK) if draw.random() < 0.3 else damaged(draw.choice(good), draw)
        suffix, command = draw.choice(SUFFIXES), draw.choice(COMMANDS)
        label = f"{command} ({suffix}, {len(content)} bytes: {content[:80]!r})"

        def trouble_of(counts):
            import shlex

            path = Path(f"given{suffix}")
            path.write_bytes(content)
            if not command.count("FILE"):
                for folder in ("sleetfield-components", "sleetfield-data"):
                    Path(folder).mkdir(exist_ok=True)
                    (Path(folder) / f"bad{suffix}").write_bytes(content)
            arguments = [part.replace("FILE", str(path)) for part in shlex.split(command)]
            out, err = io.StringIO(), io.StringIO()
            trouble = []
            try:
                with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err), warnings.catch_warnings():
                    warnings.simplefilter("ignore")
                    app(arguments, prog_name="sleetfield")
            except SystemExit as ended:
                counts["answered" if not ended.code else "refused"] += 1
                if ended.code and not err.getvalue().strip():
                    trouble.append("refused without a word")
                if "Usage: sleetfield" in err.getvalue():
                    trouble.append("not a command, or not its options")
            except BaseException as error:
                where = traceback.extract_tb(error.__traceback__)[-1]
                trouble.append(f"{type(error).__name__} at {Path(where.filename).name}:{where.lineno}: {str(error)[:150]}")
            return trouble

        return label, trouble_of

    return look


if __name__ == "__main__":
    with own_folders(), tempfile.TemporaryDirectory() as name:
        sys.exit(search(__doc__, "files", 2000, look_with(good_files(Path(name))), seconds=10.0))
