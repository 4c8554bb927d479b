"""Studies: one text file, checked by line, done task by task, and told in a report."""

import json
import re
import signal
import subprocess
import time
import zipfile
from pathlib import Path

import pytest
from openpyxl import load_workbook

import sleetfield as sl
from sleetfield.studies.lines import line_of
from sleetfield.studies.running import fingerprint_of
from sleetfield.studies.tasks import KINDS

from .commands import run
from .test_cli import PROGRAM

ROOT = Path(__file__).parent.parent
DRUM = """\
study = 1
title = "A drum"
question = "How much liquid does it collect?"

[system.gas]
components = ["methane", "propane", "n-heptane"]
eos = "PR"
why = "Light hydrocarbons."

[feed.inlet]
composition = "0.7 methane + 0.2 propane + rest n-heptane"
flow = "120 kmol/h"

[[task]]
do = "flash"
name = "drum"
asks = "What leaves the drum?"
system = "gas"
feed = "inlet"
T = "-20 degC"
P = "20 bar"

[[task]]
do = "bubble"
name = "too hot"
system = "gas"
feed = "inlet"
T = "600 degC"

[[task]]
do = "table"
name = "isobars"
system = "gas"
feed = "inlet"
T = "-20 to 20 degC in 5"
P = "10, 20 bar"
largest = "liquid fraction"
properties = ["vapor_fraction", "fraction"]
figures = [{ x = "T", y = "liquid fraction", by = "P" }]
"""


def study_of(text, folder):
    (folder / "study.toml").write_text(text)
    return sl.read_study(folder / "study.toml")


def record(folder, name):
    return json.loads((folder / "kept" / f"{name}.json").read_text())


def test_a_study_does_its_tasks_and_a_failure_loses_none(tmp_path):
    done = study_of(DRUM, tmp_path).run(tmp_path / "out")
    assert [bool(r.failed) for r in done.records] == [False, True, False]
    direct = sl.System(["methane", "propane", "n-heptane"], eos="PR").flash(
        [0.7, 0.2, 0.1], T="-20 degC", P="20 bar", flow="120 kmol/h"
    )
    whole = done.records[0].whole.frame()
    assert whole.loc["share by mole", "vapor"] == pytest.approx(direct.vapor_fraction, rel=1e-12)
    assert "no bubble point at 600 °C" in done.records[1].failed
    assert "Two phases at -20 °C and 20 bar: 72.82 mol % vapor" in done.records[0].answer
    assert "largest" in done.records[2].answer
    assert {"drum.csv", "isobars.csv", "isobars.svg", "report.html", "report.md", "tables.xlsx"} <= {
        p.name for p in (tmp_path / "out").iterdir()
    }
    assert "1 of 3 tasks failed" in str(done)


def test_the_report_answers_with_sources_notes_versions_and_checksums(tmp_path):
    study = study_of(DRUM.replace("Light hydrocarbons.", "<b>Light</b> & dry"), tmp_path)
    study.run(tmp_path / "out")
    page = (tmp_path / "out" / "report.html").read_text(encoding="utf-8")
    for said in (
        "How much liquid does it collect?",
        "What leaves the drum?",
        "Knapp",
        study.checksum,
        "numpy",
        "&lt;b&gt;Light&lt;/b&gt; &amp; dry",
    ):
        assert said in page
    assert "<script" not in page
    assert "http" not in page.replace("http://www.w3.org", "")
    assert page.count("data:image/svg+xml;base64,") == 1
    plain = (tmp_path / "out" / "report.md").read_text(encoding="utf-8")
    assert "(isobars.svg)" in plain
    assert "## What to watch" in plain
    book = load_workbook(tmp_path / "out" / "tables.xlsx")
    assert {"Summary", "drum", "isobars", "Numbers of gas", "Inputs"} <= set(book.sheetnames)
    assert book["isobars"].freeze_panes
    assert book["Summary"]["C5"].value.startswith("Failed")


def test_the_same_study_gives_the_same_bytes(tmp_path):
    study = study_of(DRUM, tmp_path)
    for name in ("one", "two"):
        study.run(tmp_path / name)
    files = {p.relative_to(tmp_path / "one") for p in (tmp_path / "one").rglob("*") if p.is_file()}
    assert len(files) >= 10
    for file in files:
        assert (tmp_path / "one" / file).read_bytes() == (tmp_path / "two" / file).read_bytes(), file


def test_only_what_has_changed_is_calculated_again(tmp_path):
    out = tmp_path / "out"
    study_of(DRUM, tmp_path).run(out)
    with pytest.raises(sl.InputError, match="--changed-only"):
        study_of(DRUM, tmp_path).run(out)
    before = {p.name: p.stat().st_mtime_ns for p in (out / "kept").glob("*.json")}
    again = study_of(DRUM.replace('P = "10, 20 bar"', 'P = "10, 30 bar"'), tmp_path).run(out, changed_only=True)
    after = {p.name: p.stat().st_mtime_ns for p in (out / "kept").glob("*.json")}
    assert {name for name in after if after[name] != before[name]} == {"isobars.json"}
    assert again.records[0].answer
    fewer = study_of(DRUM[: DRUM.index('[[task]]\ndo = "table"')], tmp_path).run(out, changed_only=True)
    assert len(fewer.records) == 2
    assert not (out / "isobars.csv").exists()
    (out / "drum.csv").unlink()
    study_of(DRUM, tmp_path).run(out, changed_only=True)
    assert (out / "drum.csv").exists()


@pytest.fixture(scope="module")
def whole(tmp_path_factory):
    """The folder of a run that nothing interrupted."""
    folder = tmp_path_factory.mktemp("uninterrupted")
    study_of(DRUM, folder)
    run("run", "study.toml", "--folder", "whole", cwd=folder, status=1)
    return folder / "whole"


@pytest.mark.parametrize("wait", [0.9, 1.6, 2.4, 3.2])
def test_killed_anywhere_it_leaves_no_half_written_file_and_goes_on(tmp_path, whole, wait):
    study_of(DRUM, tmp_path)
    started = subprocess.Popen(
        [PROGRAM, "run", "study.toml", "--folder", "out"], cwd=tmp_path, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
    )
    time.sleep(wait)
    started.send_signal(signal.SIGKILL)
    started.wait()
    for path in (tmp_path / "out").rglob("*.json"):
        json.loads(path.read_text())
    run("run", "study.toml", "--folder", "out", "--changed-only", cwd=tmp_path, status=1)
    for path in whole.glob("*.*"):
        assert (tmp_path / "out" / path.name).read_bytes() == path.read_bytes()


# ---- what is wrong in a file ----


@pytest.mark.parametrize(
    ("old", "new", "line", "message"),
    [
        ('feed = "inlet"\nT = "-20', 'feed = "inlat"\nT = "-20', 14, "no feed 'inlat' here. Did you mean 'inlet'"),
        ('T = "-20 degC"', "T = 253", 20, "253 is a bare number"),
        ('T = "-20 degC"', 'T = "-20"', 20, "without a unit"),
        ('P = "20 bar"', 'P = "20 baar"', 21, "'baar' is not known"),
        ('P = "20 bar"', 'P = "20 bar"\npressure = 3', 22, "no key 'pressure' here"),
        ('do = "flash"', 'do = "flsh"', 15, "Did you mean 'flash'"),
        ('do = "flash"\n', "", 14, "'do' is missing"),
        ('name = "too hot"', 'name = "drum"', 25, "a task 'drum' already"),
        ('name = "too hot"', 'name = "a/b"', 25, "no name that files can have"),
        ('flow = "120 kmol/h"', 'flow = "120 bar"', 12, "not a mass flow"),
        ('eos = "PR"', 'eos = "PR"\nlambda = 1', 8, "no key 'lambda'"),
        ("study = 1", "study = 2", 1, "2 is not 1"),
        ('components = ["methane", "propane", "n-heptane"]\n', "", 5, "needs components, or a file"),
        ('title = "A drum"\n', "", 1, "'title' is missing"),
    ],
)
def test_faults_are_told_with_line_and_field(tmp_path, old, new, line, message):
    assert old in DRUM
    with pytest.raises(sl.InputError) as caught:
        study_of(DRUM.replace(old, new, 1), tmp_path)
    assert f"study.toml, line {line}" in str(caught.value), str(caught.value)
    assert message in str(caught.value)


def test_every_fault_is_told_at_once(tmp_path):
    with pytest.raises(sl.InputError) as caught:
        study_of(DRUM.replace('"-20 degC"', "3").replace('"600 degC"', '"600 K2"').replace('"120 kmol/h"', '"x"'), tmp_path)
    assert len(str(caught.value).splitlines()) == 3


def test_text_that_is_no_toml(tmp_path):
    with pytest.raises(sl.InputError, match="Unterminated"):
        study_of('study = 1\ntitle = "', tmp_path)
    with pytest.raises(sl.InputError, match="can't be read"):
        sl.read_study(tmp_path / "none.toml")


def test_lines_of_nested_and_long_entries():
    text = 'a = 1\n\n[[t]]\nx = [\n 1,\n 2,\n]\n# remark\ny = """\nlong\n"""\n[[t]]\nx = { z = 3 }\n'
    assert [line_of(text, p) for p in (("a",), ("t", 0, "x"), ("t", 0, "y"), ("t", 1, "x", "z"), ("t", 1, "q"), ("q",))] == [
        1,
        4,
        9,
        13,
        12,
        1,
    ]


def test_a_wrong_system_is_that_tasks_failure(tmp_path):
    done = study_of(DRUM.replace('"n-heptane"]', '"n-heptone"]').replace("rest n-heptane", "rest n-heptone"), tmp_path).run(
        tmp_path / "out"
    )
    assert all("n-heptane" in r.failed for r in done.records)
    assert (tmp_path / "out" / "report.html").exists()


def test_the_published_schema_is_the_one_that_is_checked():
    published = (ROOT / "docs" / "study.schema.json").read_text(encoding="utf-8")
    assert published == run("schema")
    does = [k["properties"]["do"] for k in json.loads(published)["$defs"].values() if "do" in k.get("properties", {})]
    assert {name for do in does for name in do.get("enum", [do.get("const")])} == set(KINDS)


# ---- fits, own components, heavy tails ----

BROTH = """\
study = 1
title = "Broth"

[[component]]
name = "pentyl sleetate"
formula = "C7H14O2"
source = "lab 2"
Tc = "612 K"
Pc = "29.5 bar"
omega = 0.45

[plus_fraction.tail]
molar_mass = "125 g/mol"
specific_gravity = 0.76
lump = 2

[system.still]
components = ["acetone", "1-butanol"]
liquid = "NRTL"
vapor = "virial"

[system.broth]
components = ["water", "1-butanol", "acetone"]
liquid = "NRTL"
fits = ["still fit"]

[system.ester]
components = ["ethane", "pentyl sleetate"]
eos = "SRK"
kij = { "ethane / pentyl sleetate" = 0.02 }

[system.lean]
components = ["methane", "tail"]
eos = "PR"

[feed.broth]
flows = { water = "10 kmol/h", acetone = "500 kg/h", 1-butanol = "5 kmol/h" }

[feed.ester]
composition = { ethane = 0.4, "pentyl sleetate" = "rest" }

[feed.lean]
composition = "rest methane + 0.01 tail"

[data.still]
file = "bench_still_acetone_1-butanol.csv"
without = [{ points = [7, 13], because = "far off" }]

[[task]]
do = "regress"
name = "still fit"
system = "still"
data = ["still"]
fit = "tau"

[[task]]
do = "bubble"
name = "broth"
system = "broth"
feed = "broth"
P = "1 atm"

[[task]]
do = "bubble"
name = "ester"
system = "ester"
feed = "ester"
T = "30 degC"

[[task]]
do = "dew"
name = "lean"
system = "lean"
feed = "lean"
P = "40 bar"

[[task]]
do = "consistency"
name = "consistency"
system = "still"
data = ["still"]
"""


@pytest.fixture(scope="module")
def broth(tmp_path_factory):
    from .test_cli import measurements

    folder = tmp_path_factory.mktemp("broth")
    measurements(folder)
    return study_of(BROTH, folder).run(folder / "out")


def test_a_fit_goes_into_later_systems(broth):
    assert not broth.failed
    data = sl.read_data(broth.study.folder / "bench_still_acetone_1-butanol.csv").without([7, 13], "far off")
    fit = sl.regress(sl.System(["acetone", "1-butanol"], liquid="NRTL", vapor="virial"), data, fit="tau")
    system = sl.System(["water", "1-butanol", "acetone"], liquid="NRTL").taking(fit.system)
    z, _ = system.feed_of_flows({"water": "10 kmol/h", "acetone": "500 kg/h", "1-butanol": "5 kmol/h"})
    direct = system.with_units("metric").bubble(z, P="1 atm")
    assert broth.records[1].whole.frame().loc["T [degC]", "vapor"] == pytest.approx(direct.T - 273.15, abs=1e-6)
    page = (broth.folder / "report.html").read_text(encoding="utf-8")
    assert "fitted to bench still" in page
    assert "7, 13: far off" in page


def test_own_components_and_heavy_tails(broth):
    ester, lean = (next(r for r in broth.records if r.name == n) for n in ("ester", "lean"))
    own = sl.Component(name="pentyl sleetate", Tc="612 K", Pc="29.5 bar", omega=0.45, formula="C7H14O2")
    direct = sl.System(["ethane", own], eos="SRK", kij={("ethane", "pentyl sleetate"): 0.02}).bubble([0.4, 0.6], T="30 degC")
    assert ester.whole.frame().loc["P [bar]", "vapor"] == pytest.approx(direct.P / 1e5, rel=1e-9)
    tail = sl.split_plus_fraction(molar_mass="125 g/mol", specific_gravity=0.76, amount=0.01).lump(2)
    gas = sl.System(["methane", *tail.components], eos="PR").dew({"methane": "rest", **tail.fractions}, P="40 bar")
    assert lean.whole.frame().loc["T [degC]", "vapor"] == pytest.approx(gas.T - 273.15, abs=1e-6)


def test_a_failed_fit_fails_what_rests_on_it(tmp_path):
    done = study_of(BROTH, tmp_path).run(tmp_path / "out")
    failed = {r.name: r.failed for r in done.failed}
    assert set(failed) == {"still fit", "broth", "consistency"}
    assert "still fit" in failed["broth"]


# ---- another model, a lock, a comparison of runs ----


def test_another_model_leaves_all_else_and_the_difference_is_listed(tmp_path):
    study = study_of(DRUM, tmp_path)
    other = study.with_model("gas", eos="SRK")
    assert other.form.system["gas"].eos == "SRK"
    same = {line for line in study.text.splitlines() if not line.startswith(("eos", "why"))}
    assert same == {line for line in other.text.splitlines() if not line.startswith(("eos", "why"))}
    assert other.form.system["gas"].why == "In place of PR, to see what it changes."
    study.run(tmp_path / "pr")
    other.run(tmp_path / "srk")
    found = sl.compare_runs(tmp_path / "pr", tmp_path / "srk")
    by_number = {(line.task, line.number): line for line in found.lines}
    line = by_number["drum", "vapor, x propane"]
    states = [
        sl.System(["methane", "propane", "n-heptane"], eos=e).flash([0.7, 0.2, 0.1], T="-20 degC", P="20 bar")
        for e in ("PR", "SRK")
    ]
    assert (line.first, line.second) == pytest.approx(tuple(s.phases[0].composition["propane"] for s in states), rel=1e-10)
    assert ("drum", "overall, x propane") not in by_number
    assert any("failed in" in remark for remark in found.remarks)
    assert not sl.compare_runs(tmp_path / "pr", tmp_path / "pr").lines
    told = run("compare-runs", "pr", "srk", "--out", "d.csv", cwd=tmp_path)
    assert "numbers differ" in told
    with pytest.raises(sl.InputError, match="no system 'gaz'"):
        study.with_model("gaz", eos="SRK")
    with pytest.raises(sl.InputError, match="holds no results"):
        sl.compare_runs(tmp_path / "pr", tmp_path / "none")


def test_a_lock_holds_the_numbers_and_says_what_differs(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    study = study_of(DRUM, tmp_path)
    locked = study.locked()
    assert locked.text.startswith(DRUM.rstrip())
    study.run(tmp_path / "before")
    sl.store_component(sl.databank().find("propane").changed(Tc="371.0 K", source="lab 2"), "case", insist=True)
    study.run(tmp_path / "changed")
    done = locked.run(tmp_path / "locked")
    assert not sl.compare_runs(tmp_path / "before", tmp_path / "locked").lines
    assert sl.compare_runs(tmp_path / "before", tmp_path / "changed").lines
    page = (tmp_path / "locked" / "report.html").read_text(encoding="utf-8")
    assert "Tc of propane: 369.83 K here, 371 K there" in page
    assert done.study.differences_from_today()["gas"]
    again = locked.with_model("gas", eos="SRK")
    assert "gas" not in again.form.lock
    with pytest.raises(sl.InputError, match="Lock it again"):
        sl.Study.of(locked.text.replace('eos = "PR"\nwhy', 'eos = "SRK"\nwhy', 1), tmp_path).case().system("gas")


# ---- a study to begin with ----


@pytest.mark.parametrize(
    ("components", "T", "P", "purpose"),
    [
        (["methane", "propane", "n-heptane"], "-20 degC", "20 bar", "envelope"),
        (["1-butanol", "water"], "25 to 95 degC in 2", "1 atm", "distillation"),
        (["acetone", "1-butanol", "water"], "25 degC", "1 atm", "liquid-liquid"),
        (["benzoic acid", "ethanol"], "5 to 50 degC in 2", "1 atm", "solids"),
        (["propane"], "20 degC", "5 bar", "density"),
    ],
)
def test_a_starter_file_runs_as_it_is(tmp_path, components, T, P, purpose):
    study = sl.new_study(components, T=T, P=P, purpose=purpose, title='Ours: "the" best')
    done = study.run(tmp_path / "out")
    assert not done.failed, [r.failed for r in done.failed]
    assert done.title() == 'Ours: "the" best'


def test_new_is_asked_for_and_never_overwrites(tmp_path):
    arguments = [
        "new-study",
        "s.toml",
        "--components",
        "acetone + water",
        "--T",
        "60degC",
        "--P",
        "1 atm",
        "--feed",
        "0.3 acetone + rest water",
    ]
    run(*arguments, cwd=tmp_path)
    assert "exists already" in run(*arguments, cwd=tmp_path, status=2)
    assert "--components is missing" in run("new-study", "t.toml", cwd=tmp_path, status=2)
    out = json.loads(run("run", "s.toml", "--json", cwd=tmp_path))
    assert out["tasks"][0]["do"] == "advise"
    assert run("run", "s.toml", "--folder", "again", "--model", "main: liquid = Wilson", cwd=tmp_path)


def test_workbooks_keep_text_as_text(tmp_path):
    done = study_of(DRUM.replace('asks = "What leaves the drum?"', 'asks = "=1+1"'), tmp_path).run(tmp_path / "out")
    sheet = load_workbook(done.folder / "tables.xlsx")["Summary"]
    assert (sheet["B4"].value, sheet["B4"].data_type) == ("=1+1", "s")
    with zipfile.ZipFile(done.folder / "tables.xlsx") as archive:
        assert {part.date_time[0] for part in archive.infolist()} == {1980}


# ---- every kind of task ----

SINK = """\
study = 1
title = "Everything"
units = "SI"
formats = ["csv", "json", "md", "xlsx", "svg", "pdf"]

[system."wet gas"]
components = ["methane", "propane", "water"]
eos = "SRK"

[feed."wet gas"]
composition = "0.85 methane + 0.05 propane + 0.10 water"

[system.broth]
components = ["acetone", "1-butanol", "water"]
liquid = "NRTL"
poynting = true
parameters = { "acetone / 1-butanol" = { a12 = 120.0, a21 = 150.0, form = "cal/mol", source = "lab 2" } }

[system.kept]
file = "kept.toml"

[system.three]
components = ["acetone", "chloroform", "methanol"]
liquid = "Wilson"

[system.gas]
components = ["methane", "propane"]
eos = "SRK"
kij = "zero"
translation = "density"

[system.one]
components = ["propane"]
eos = "PR"

[system.wet]
components = ["hydrogen", "water"]
liquid = "ideal"
henry = { "hydrogen / water" = "70000 bar" }

[feed.broth]
composition = "0.02 acetone + 0.24 1-butanol + rest water"

[feed.gas]
composition = { methane = 0.7, propane = "rest" }
basis = "mass"

[feed.wet]
composition = "0.5 hydrogen + rest water"

[[task]]
do = "liquid split"
name = "split"
system = "broth"
feed = "broth"
T = "25 degC"

[[task]]
do = "melting diagram"
name = "melting"
system = "wet gas"
components = ["propane", "water"]
P = "20 bar"

[[task]]
do = "freezing map"
name = "freezing of the broth"
system = "broth"

[[task]]
do = "hydrate amount"
name = "plug"
system = "wet gas"
feed = "wet gas"
T = "5 degC, 10 degC"
P = "40 bar"

[[task]]
do = "hydrate"
name = "hydrate over sea water"
system = "wet gas"
feed = "wet gas"
P = "40 bar"
brine = { "sodium chloride" = "3.5 %" }

[[task]]
do = "liquid map"
name = "map"
system = "kept"
T = "25 degC"

[[task]]
do = "boiling map"
name = "boiling"
system = "three"

[[task]]
do = "critical"
name = "critical"
system = "gas"
feed = "gas"

[[task]]
do = "envelope"
name = "envelope"
system = "gas"
feed = "gas"
quality = [0.5]
figures = [{}, { x = "H", y = "P", log = true }]

[[task]]
do = "flash file"
name = "feeds"
system = "gas"
file = "feeds.csv"

[[task]]
do = "saturation curve"
name = "curve"
system = "one"
T = "250 to 350 K in 5"
figures = [{ figure = "density" }]

[[task]]
do = "dew"
name = "wet"
system = "wet"
feed = "wet"
P = "1 bar"

[[task]]
do = "compare"
name = "both"
systems = ["broth", "kept"]
calculation = { do = "diagram", system = "broth", kind = "Txy", first = "1-butanol", second = "water", P = "1 atm" }

[[task]]
do = "bubble pressure"
name = "sour"
amounts = { ammonia = 1.0, "hydrogen sulfide" = 0.5 }
T = "80 degC"

[[task]]
do = "bubble"
name = "many"
system = "broth"
feed = "broth"
P = "0.5, 1, 2 bar"
figures = [{ nonsense = 1 }]
"""


def test_every_kind_of_task(tmp_path, broth):
    sl.save(sl.System(["acetone", "1-butanol", "water"], liquid="UNIQUAC"), tmp_path / "kept.toml")
    (tmp_path / "feeds.csv").write_text("T [K],P [bar],methane,propane\n250,20,0.5,0.5\n250,x,0.5,0.5\n")
    done = study_of(SINK, tmp_path).run(tmp_path / "out")
    assert not done.failed, [(r.name, r.failed) for r in done.failed]
    demo = sl.read_study(ROOT / "src" / "sleetfield" / "demo" / "marlwick.toml")
    texts = [sl.Study.of(DRUM), broth.study, demo, done.study]
    assert {task.do for study in texts for task in study.form.task} == set(KINDS)
    names = {p.name for p in (tmp_path / "out").iterdir()}
    assert {"envelope_2.svg", "envelope.pdf", "split.md", "critical.json", "feeds.xlsx"} <= names
    feeds = next(r for r in done.records if r.name == "feeds").whole.frame()
    assert "no number" in feeds["problem"].iloc[1]
    mass = sl.System(["methane", "propane"], eos="SRK", kij="zero").critical([0.7, 0.3], basis="mass")
    critical = next(r for r in done.records if r.name == "critical").whole.frame()
    assert critical["T [K]"].iloc[0] == pytest.approx(mass.T, rel=1e-9)
    page = (tmp_path / "out" / "report.html").read_text(encoding="utf-8")
    assert "lab 2" in page
    assert done.study.case().inputs().keys() == {"kept.toml", "feeds.csv"}


def test_a_missing_file_is_that_tasks_failure(tmp_path):
    head, *tasks = SINK.split("[[task]]")
    some = [task for task in tasks if re.search(r'name = "(map|feeds|both|critical)"', task)]
    done = study_of("[[task]]".join([head, *some]), tmp_path).run(tmp_path / "out")
    failed = {r.name: r.failed for r in done.failed}
    assert set(failed) == {"map", "feeds", "both"}
    assert all("can't be read" in why or "no such" in why.lower() for why in failed.values()), failed
    assert "missing" in (tmp_path / "out" / "report.html").read_text(encoding="utf-8")


# ---- nothing stale, nothing lost ----


def test_what_failed_is_tried_again(tmp_path):
    out = tmp_path / "out"
    study_of(DRUM, tmp_path).run(out)
    path = out / "kept" / "too_hot.json"
    kept = json.loads(path.read_text())
    path.write_text(json.dumps({**kept, "failed": "of old"}))
    study_of(DRUM, tmp_path).run(out, changed_only=True)
    assert record(out, "too_hot")["failed"] == kept["failed"]


def test_a_task_that_fails_now_leaves_no_file_of_then(tmp_path):
    out = tmp_path / "out"
    study_of(DRUM, tmp_path).run(out)
    assert (out / "drum.csv").exists()
    study_of(DRUM.replace('P = "20 bar"', 'H = "1e9 J/mol"'), tmp_path).run(out, changed_only=True)
    assert record(out, "drum")["failed"]
    assert not (out / "drum.csv").exists()
    study_of(DRUM.replace("figures = [{ x", "figures = [] # [{ x"), tmp_path).run(out, changed_only=True)
    assert (out / "isobars.csv").exists()
    assert not (out / "isobars.svg").exists()


def test_words_can_be_changed_without_a_calculation(tmp_path, monkeypatch):
    out = tmp_path / "out"
    study_of(DRUM, tmp_path).run(out)
    monkeypatch.setattr("sleetfield.studies.running._calculated", lambda *given: pytest.fail("calculated again"))
    text = DRUM.replace("What leaves the drum?", "What comes out?").split('[[task]]\ndo = "bubble"', maxsplit=1)[0]
    study_of(text, tmp_path).run(out, changed_only=True)
    page = (out / "report.html").read_text(encoding="utf-8")
    assert "What comes out?" in page
    assert "72.82 mol % vapor" in page


@pytest.mark.parametrize(
    ("old", "new", "message"),
    [
        ('name = "too hot"', 'name = "DRUM"', "whose files are called drum too"),
        ('name = "too hot"', 'name = "isobars_2"', "isobars_2"),
        ('name = "too hot"', 'name = "report"', "called report too"),
        ('name = "too hot"', 'name = "tables"', "called tables too"),
    ],
)
def test_files_of_two_tasks_never_meet(tmp_path, old, new, message):
    text = DRUM.replace(old, new).replace('by = "P" }]', 'by = "P" }, { x = "T", y = "vapor_fraction" }]')
    with pytest.raises(sl.InputError, match=message):
        study_of(text, tmp_path)


def test_a_fit_is_not_called_as_a_system(tmp_path):
    with pytest.raises(sl.InputError, match="there is a system 'still' already"):
        study_of(BROTH.replace('name = "still fit"', 'name = "still"'), tmp_path)


def test_a_change_in_a_tail_or_in_a_nested_file_is_a_change(tmp_path):
    study = study_of(BROTH, tmp_path)
    other = study_of(BROTH.replace("lump = 2", 'lump = 2\ndistribution = "gamma"\nalpha = 1.4'), tmp_path)
    lean = next(t for t in study.form.task if t.name == "lean")
    assert fingerprint_of(study.case(), lean) != fingerprint_of(other.case(), lean)
    text = SINK.replace('kind = "Txy"', 'kind = "Txy", measured = "points.csv"')
    sl.save(sl.System(["acetone", "1-butanol", "water"], liquid="UNIQUAC"), tmp_path / "kept.toml")
    sink = study_of(text, tmp_path)
    both = next(t for t in sink.form.task if t.name == "both")
    assert "points.csv" in sink.case().inputs()
    before = fingerprint_of(sink.case(), both)
    (tmp_path / "points.csv").write_text("x,T [degC]\n0.1,92.9\n")
    assert fingerprint_of(sink.case(), both) != before


def test_a_lock_needs_no_databank_and_is_written_once(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    sl.store_component(
        sl.Component(name="pentyl sleetate", Tc="612 K", Pc="29.5 bar", omega=0.45, formula="C7H14O2"), "case", insist=True
    )
    text = DRUM.replace('"n-heptane"]', '"pentyl sleetate"]').replace("rest n-heptane", "rest pentyl sleetate")
    locked = study_of(text, tmp_path).locked()
    assert locked.locked().text == locked.text
    locked.run(tmp_path / "with")
    sl.remove_component("pentyl sleetate", "case")
    done = locked.run(tmp_path / "without")
    assert not done.records[0].failed
    assert not sl.compare_runs(tmp_path / "with", tmp_path / "without").lines
    assert "no component" in (tmp_path / "without" / "report.html").read_text(encoding="utf-8")


def test_a_lock_of_another_model_fails_its_tasks_and_still_reports(tmp_path):
    locked = study_of(DRUM, tmp_path).locked()
    done = sl.Study.of(locked.text.replace('eos = "PR"\nwhy', 'eos = "SRK"\nwhy', 1), tmp_path).run(tmp_path / "out")
    assert all("Lock it again" in r.failed for r in done.records)
    assert "Lock it again" in (tmp_path / "out" / "report.html").read_text(encoding="utf-8")


def test_what_is_no_part_of_a_model_stays_when_it_is_swapped(tmp_path):
    study = study_of(SINK, tmp_path)
    wet = study.with_model("wet", liquid="NRTL").form.system["wet"]
    assert wet.henry == study.form.system["wet"].henry
    broth = study.with_model("broth", eos="PR").form.system["broth"]
    assert (broth.liquid, broth.parameters, broth.poynting) == (None, None, False)
    with pytest.raises(sl.InputError, match=r"comes from kept\.toml"):
        study.with_model("kept", eos="PR")
    solid = sl.new_study(["benzoic acid", "ethanol"], T="25 degC", P="1 atm", purpose="solids")
    kept = solid.form.system["main"].solids
    assert kept
    assert solid.with_model("main", liquid="ideal").form.system["main"].solids == kept
