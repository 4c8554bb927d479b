"""The command line."""

import html
import json
import re
import shlex
import subprocess
import sys
from importlib import resources
from pathlib import Path

import pytest

import sleetfield as sl

from .commands import run

COMMANDS = [
    "flash",
    "bubble",
    "dew",
    "critical",
    "envelope",
    "table",
    "components find",
    "components show",
    "components audit",
    "components store",
    "components change",
    "components remove",
    "components write",
    "components estimate",
    "fit-correlation",
    "fit-pure",
    "pseudo-component",
    "split-plus-fraction",
    "saturation-curve",
    "interactions",
    "parameters",
    "check",
    "diagram",
    "liquid-map",
    "boiling-map",
    "azeotropes",
    "liquid-split",
    "system",
    "regress",
    "rank-models",
    "advise",
    "provenance",
    "compare",
    "flash-file",
    "new-study",
    "run",
    "lock",
    "compare-runs",
    "schema",
    "data list",
    "data show",
    "data consistency",
    "data convert",
    "data store",
    "pairs list",
    "pairs store",
    "pairs remove",
    "pairs write",
    "pairs store-file",
]
NEW = ["new-study", "drum.toml", "--components", "methane + n-decane", "--T", "300 K", "--P", "50 bar"]
NEEDED = {
    "run": [NEW],
    "lock": [NEW],
    "compare-runs": [
        NEW,
        ["run", "drum.toml", "--folder", "drum"],
        ["run", "drum.toml", "--folder", "drum-srk", "--model", "main: eos = SRK"],
    ],
    "pairs remove": [["pairs", "store", "NRTL", "ethanol / water = 1, 2", "--source", "x", "--layer", "case"]],
    "pairs store-file": [["pairs", "write", "ethanol", "--out", "ethanol_pairs.toml"]],
    "components remove": [["components", "change", "acetone", "--set", "Tc = 508.3 K", "--source", "x", "--layer", "case"]],
}
"""What has to be run before an example."""
WITH_DATA = ("fit-correlation", "regress", "rank-models", "data show", "data consistency", "data convert", "data store")
"""Commands whose examples are of the demo's measurements."""
GAS = "0.70 methane + 0.20 propane + 0.10 n-heptane"
PROGRAM = str(Path(sys.executable).parent / "sleetfield")


def measurements(folder="demo"):
    """The demo's measurements in a folder, without the rest of the demo."""
    Path(folder).mkdir(exist_ok=True)
    for source in resources.files("sleetfield.demo").iterdir():
        if source.name.endswith(".csv"):
            (Path(folder) / source.name).write_bytes(source.read_bytes())


def process(*arguments, cwd=None, status=0):
    """The same as a process of its own."""
    done = subprocess.run([PROGRAM, *arguments], capture_output=True, text=True, cwd=cwd, check=False, timeout=120)
    assert done.returncode == status, done.stdout + done.stderr
    assert "Traceback" not in done.stderr
    return done.stdout if status == 0 else done.stderr


@pytest.mark.parametrize("command", COMMANDS)
def test_the_example_in_every_help_works_when_pasted(command, tmp_path):
    text = re.sub(r"\s+", " ", run(*command.split(), "--help").replace("│", " "))
    example = re.search(r"Example: sleetfield (.*)", text)
    assert example, text
    (tmp_path / "my_solvents.csv").write_text(
        "name,Tc [degC],Pc [bar],omega,molar_mass [g/mol],Tb [degC]\npentyl sleetate,339,29.5,0.45,130.2,148\n"
    )
    if command in WITH_DATA:
        measurements(tmp_path / "marlwick-demo")
    (tmp_path / "feeds.csv").write_text("T [degC],P [bar],methane,propane,n-heptane\n-20,20,0.7,0.2,0.1\n20,20,0.7,0.2,0.1\n")
    for before in NEEDED.get(command, ()):
        run(*before, cwd=tmp_path)
    out = run(*shlex.split(example[1]), cwd=tmp_path)
    assert out.strip()


def test_help_shows_units_in_brackets_and_the_families_that_there_are():
    for command in ("fit-correlation", "regress"):
        text = re.sub(r"\s+", " ", run(command, "--help").replace("│", " "))
        assert "'T [degC]'" in text
    text = re.sub(r"\s+", " ", run("flash", "--help").replace("│", " "))
    assert "PR, PR78, SRK, RK" in text
    assert not re.search("<(eos|liquid|vapor|alpha|translation|form)>", text)


def test_overview_and_version():
    overview = run("--help")
    assert all(command.split()[0] in overview for command in COMMANDS)
    assert re.match(r"sleetfield \d", run("--version"))


def test_flash_prints_a_table_and_notes():
    out = run("flash", GAS, "--eos", "PR", "--T", "-20degC", "--P", "20bar", "--flow", "120 kmol/h", "--kij", "zero")
    assert "vapor" in out
    assert "flow [kmol/h]" in out
    assert "taken as zero for 3 pairs" in out


def test_json_is_one_object_in_si():
    data = json.loads(run("flash", GAS, "--T", "-20degC", "--P", "20bar", "--kij", "zero", "--json"))
    assert data["T"] == pytest.approx(253.15)
    assert data["vapor_fraction"] == pytest.approx(0.72086, abs=1e-5)
    dew = json.loads(run("dew", GAS, "--P", "20bar", "--json"))
    assert dew["T"] > 350.0
    table = json.loads(run("table", GAS, "--T", "250, 260 K", "--P", "20bar", "--json"))
    assert [row["T [K]"] for row in table["rows"]] == [250.0, 260.0]
    batch = json.loads(run("bubble", GAS, "--T", "200 K to 240 K in 3", "--json"))
    assert len(batch["rows"]) == 3


def test_rest_normalize_basis_kij_and_models():
    one = json.loads(run("flash", "0.7 methane + rest propane", "--T", "250 K", "--P", "20bar", "--json"))
    other = json.loads(run("flash", "7 methane + 3 propane", "--normalize", "--T", "250 K", "--P", "20bar", "--json"))
    assert one["vapor_fraction"] == pytest.approx(other["vapor_fraction"], rel=1e-12)
    mass = json.loads(run("flash", "0.4667 methane + rest propane", "--basis", "mass", "--T", "250 K", "--P", "20bar", "--json"))
    assert mass["z"]["methane"] == pytest.approx(0.706, abs=1e-3)
    kij = json.loads(
        run(
            "flash",
            "0.7 methane + rest propane",
            "--kij",
            "methane / propane = 0.014",
            "--eos",
            "SRK",
            "--T",
            "250 K",
            "--P",
            "20bar",
            "--json",
        )
    )
    assert kij["system"] == {"components": ["methane", "propane"], "model": "SRK", "parameters": {"kij methane / propane": 0.014}}
    ideal = json.loads(run("bubble", "0.4 acetone + rest water", "--liquid", "ideal", "--P", "1 atm", "--json"))
    assert 340.0 < ideal["T"] < 360.0


def test_other_specifications_and_states_brought_to_others(tmp_path):
    state = json.loads(run("flash", GAS, "--T", "-20degC", "--P", "20bar", "--json"))
    again = json.loads(run("flash", GAS, "--P", "20bar", "--H", f"{state['H']} J/mol", "--json"))
    assert again["T"] == pytest.approx(253.15, rel=1e-8)
    half = json.loads(run("flash", GAS, "--P", "20bar", "--vapor-fraction", "0.5", "--json"))
    assert half["vapor_fraction"] == pytest.approx(0.5, abs=1e-8)
    out = run("flash", GAS, "--T", "30degC", "--P", "60bar", "--flow", "120 kmol/h", "--to", "P=5bar, duty=0")
    assert "duty [kW]" in out
    assert "not understood" in run("flash", GAS, "--T", "30degC", "--P", "60bar", "--to", "colder", status=2)
    assert "single state" in run("flash", GAS, "--T", "30degC, 40degC", "--P", "60bar", "--to", "P=5bar, duty=0", status=2)


def test_interactions(tmp_path):
    out = run("interactions", GAS, "--out", "kij.png", "--out", "kij.csv", cwd=tmp_path)
    assert "0.0352" in out
    assert "Knapp" in (tmp_path / "kij.csv").read_text()
    assert "estimated" in run("interactions", "0.5 methane + 0.5 n-dodecane", "--kij", "estimated")


def test_units():
    assert "[psi]" in run("table", GAS, "--T", "250 K", "--P", "20bar", "--units", "US")
    assert "[Pa]" in run("table", GAS, "--T", "250 K", "--P", "20bar", "--units", "SI")


def test_out_writes_every_format(tmp_path):
    suffixes = ["csv", "xlsx", "json", "md", "png", "svg", "pdf"]
    outs = [part for s in suffixes for part in ("--out", f"envelope.{s}")]
    run("envelope", GAS, "--quality", "0.5", "--mark", "line: -25degC, 45bar", "--log", *outs, cwd=tmp_path)
    assert {p.name for p in tmp_path.iterdir()} == {f"envelope.{s}" for s in suffixes}
    before = (tmp_path / "envelope.csv").read_bytes()
    assert "exists already" in run("envelope", GAS, "--out", "envelope.csv", cwd=tmp_path, status=2)
    assert (tmp_path / "envelope.csv").read_bytes() == before
    run("flash", GAS, "--T", "250 K", "--P", "20bar", "--out", "envelope.csv", "--overwrite", cwd=tmp_path)
    assert (tmp_path / "envelope.csv").read_bytes() != before


@pytest.mark.parametrize(
    ("arguments", "status", "message"),
    [(["flash", "0.7 methane + 0.2 propane", "--T", "250 K", "--P", "2e6 Pa"], 2, "sum to 0.9"),
     (["flash", "0.7 methane + 0.3 propan", "--T", "250 K", "--P", "2e6 Pa"], 2, "Did you mean propane"),
     (["flash", GAS, "--T", "250 K"], 2, "two of T, P"), (["flash", GAS, "--T", "250 K", "--P", "3 barg"], 2, "gauge"),
     (["flash", GAS, "--T", "250 K", "--P", "20bar", "--eos", "XX"], 2, "PR, PR78, SRK, RK"), (["dew", GAS, "--T", "800 K"], 1, "no dew point"),
     (["flash", GAS, "--T", "250 K", "--P", "20bar", "--kij", "nonsense"], 2, "published, predicted, estimated, zero"), (["table", GAS, "--T", "250 K"], 2, "table needs two of"),
     (["flash", GAS, "--T", "250 to 260 in 1", "--P", "20bar"], 2, "takes 2 to"), (["envelope", GAS, "--mark", "here"], 2, "--mark"),
     (["flash", "1 methane + rest propane", "--normalize", "--T", "250 K", "--P", "1e5 Pa"], 2, "exclude"), (["components", "show", "unobtainium"], 2, "no component"),
     (["components", "find", "zzzzzz"], 2, "Nothing"), (["flash", GAS, "--T", "250 K", "--P", "20bar", "--out", "x.doc"], 2, "no format"), (["nonsense"], 2, "No such command")],
)  # fmt: skip
def test_errors_have_a_status_and_a_message(arguments, status, message, tmp_path):
    assert message in re.sub(r"\s+", " ", run(*arguments, status=status, cwd=tmp_path).replace("│", " "))


def test_components():
    assert "isobutane" in run("components", "find", "C4H10")
    shown = run("components", "show", "MEK")
    assert "methyl ethyl ketone" in shown
    assert "Smith, Van Ness" in shown
    assert "0 findings" in run("components", "audit")
    assert "1 components audited: 0 findings" in run("components", "audit", "water")


def test_components_of_ones_own(tmp_path):
    def here(*arguments, status=0):
        return run(*arguments, cwd=tmp_path, status=status)

    assert "acentric factor" in here(
        "components", "change", "ethanol", "--set", "Tc = 700 K", "--source", "x", "--layer", "case", status=2
    )
    assert "not understood" in here("components", "change", "ethanol", "--set", "Tc 700 K", "--source", "x", status=2)
    here(
        "components", "change", "ethanol", "--set", "Tc = 514 K", "--set", "Tm = -114 degC", "--source", "lab 2", "--layer", "case"
    )
    assert re.search(r"Tc\s+514 K\s+case", here("components", "show", "ethanol"))
    assert "Tc of ethanol" in here("flash", "0.5 ethanol + 0.5 methane", "--T", "300 K", "--P", "10bar")
    here("components", "change", "acetone", "--anchor", "25degC, 30.9kPa", "--source", "lab 2", "--layer", "case")
    shown = re.sub(r"\s+", " ", here("components", "show", "acetone"))
    assert "shifted by +0.482 % to go through 30900 Pa at 298.15 K (lab 2)" in shown
    here("components", "remove", "acetone", "--layer", "case")
    assert "Say what to change" in here("components", "change", "acetone", "--source", "lab 2", status=2)
    here("components", "write", "ethanol", "water", "--out", "two.toml")
    assert "exists already" in here("components", "write", "ethanol", "--out", "two.toml", status=2)
    here("components", "remove", "ethanol", "--layer", "case")
    assert "case" not in here("components", "show", "ethanol")
    here("components", "store", "two.toml", "--layer", "case")
    assert "case" in here("components", "show", "ethanol")
    here("components", "estimate", "2-ethylphenol", "--smiles", "CCc1ccccc1O", "--Tb", "204.5degC", "--store", "case")
    here(
        "split-plus-fraction",
        "--molar-mass",
        "125g/mol",
        "--specific-gravity",
        "0.76",
        "--amount",
        "0.01",
        "--lump",
        "2",
        "--store",
        "case",
        "--out",
        "tail.png",
    )
    names = {p.stem for p in (tmp_path / "sleetfield-components").glob("*.toml")}
    assert {"2-ethylphenol", "ethanol"} < names
    assert len(names) == 4
    cut = next(n for n in names if n.startswith("c7"))
    out = here("dew", f"0.98 methane + 0.01 2-ethylphenol + rest {cut.replace('-', ' ')}", "--T", "300 K")
    assert "case layer" in out
    assert "Estimated, not measured" in out


def test_a_fit_is_stored(tmp_path):
    measurements(tmp_path / "marlwick-demo")
    still = "marlwick-demo/bench_still_acetone.csv"
    data = json.loads(run("fit-correlation", still, "--form", "antoine", "--uncertainty", "0.003", "--json", cwd=tmp_path))
    assert data["parameters"]["B"]["value"] == pytest.approx(2784.3, rel=1e-3)
    assert "--component" in run("fit-correlation", still, "--form", "antoine", "--store", "case", cwd=tmp_path, status=2)
    run("fit-correlation", still, "--form", "antoine", "--component", "acetone", "--store", "case", cwd=tmp_path)
    assert "fitted to 22 measurements" in run("components", "show", "acetone", cwd=tmp_path)
    lab = "marlwick-demo/lab_2_density_of_1-butanol.csv"
    assert "Rackett form fit" in run("fit-correlation", lab, "--form", "rackett form", "--component", "1-butanol", cwd=tmp_path)
    assert "22 measured values" in run("saturation-curve", "acetone", "--data", still, "--T", "20degC", cwd=tmp_path)


def test_demo_answers_the_question_and_writes_everything(tmp_path, monkeypatch):
    # as after a plain installation, which has no RDKit
    monkeypatch.setitem(sys.modules, "rdkit", None)
    assert "Example: sleetfield demo" in run("demo", "--help")
    out = " ".join(run("demo", "--folder", "winter", cwd=tmp_path).split())
    assert "0.7135 mol % liquid" in out
    assert out.index("winter/results/report.html") < out.index("winter/results/report.md")
    folder = tmp_path / "winter" / "results"
    names = {p.name for p in folder.iterdir()}
    assert {"report.html", "report.md", "tables.xlsx", "envelope.png", "dropout.csv", "still_fit.svg", "crystallizer.csv"} <= names
    study = sl.read_study(tmp_path / "winter" / "marlwick.toml")
    assert {task.name.replace(" ", "_") + ".csv" for task in study.form.task} <= names
    page = (folder / "report.html").read_text(encoding="utf-8")
    assert all(html.escape(task.asks, quote=True).replace("&#x27;", "&#39;") in page for task in study.form.task)
    assert "exists already" in run("demo", "--folder", "winter", cwd=tmp_path, status=2)


def test_importing_is_light():
    code = "import sys, sleetfield; print(sorted({'numpy','pandas','matplotlib','pint','scipy','typer'} & set(sys.modules)))"
    assert subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout.strip() == "[]"
    code = "import sys, sleetfield.cli.app; print(sorted({'numpy','pandas','matplotlib','pint','scipy'} & set(sys.modules)))"
    assert subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout.strip() == "[]"


BUTANOL = "0.3 1-butanol + 0.7 water"


def test_parameters_of_a_pair_are_taken_in_their_form():
    out = run(
        "parameters",
        "0.5 ethanol + 0.5 water",
        "--liquid",
        "Wilson",
        "--parameters",
        "ethanol / water = 325.0757, 953.2792 cal/mol",
        "--json",
    )
    answer = json.loads(out)
    assert answer["pairs"][0]["written"] == "325.076, 953.279 (cal/mol)"
    assert [p["of"] for p in answer["parameters"]] == [["ethanol", "water"], ["water", "ethanol"]]


@pytest.mark.parametrize(
    ("option", "value", "hint"),
    [
        ("--parameters", "ethanol water 3", "like 'ethanol / water"),
        ("--parameters", "ethanol / water = 1, 2 kJ", "There is no form"),
        ("--parameters", "ethanol / methane = 1, 2", "not in this system"),
        ("--henry", "hydrogen = 3", "like 'hydrogen / water"),
        ("--liquid", "NRLT", "There is no liquid"),
    ],
)
def test_bad_options_of_liquids_say_what_is_allowed(option, value, hint):
    arguments = ["bubble", "0.5 ethanol + 0.5 water", "--P", "1atm", option, value]
    arguments += [] if option == "--liquid" else ["--liquid", "NRTL"]
    assert hint in re.sub(r"\s+", " ", run(*arguments, status=2))


def test_a_restricted_flash_and_a_check_on_the_command_line():
    out = re.sub(r"\s+", " ", run("flash", BUTANOL, "--liquid", "NRTL", "--T", "25degC", "--P", "1atm", "--phases", "L"))
    assert "not the equilibrium state" in out
    out = re.sub(r"\s+", " ", run("check", BUTANOL, "--liquid", "Wilson"))
    assert "do not mix in all proportions" in out


def test_diagrams_are_written_and_azeotropes_are_in_the_json(tmp_path):
    run("diagram", BUTANOL, "--liquid", "NRTL", "--P", "1atm", "--out", "txy.png", "--out", "txy.csv", cwd=tmp_path)
    assert (tmp_path / "txy.png").stat().st_size > 10_000
    assert (tmp_path / "txy.csv").read_text(encoding="utf-8").count("\n") > 60
    found = json.loads(run("azeotropes", BUTANOL, "--liquid", "NRTL", "--P", "1atm", "--json"))["azeotropes"]
    assert found[0]["heterogeneous"] is True


def test_what_a_flash_does_without_is_not_loaded():
    """The command starts in three times what numpy takes, because nothing that it does without is imported."""
    program = (
        "import sys; from sleetfield.cli.app import app\n"
        "try: app(['flash', '0.7 methane + rest propane', '--T', '-20 degC', '--P', '20 bara'])\n"
        "except SystemExit: pass\n"
        "print(sorted({'pandas', 'scipy', 'pint', 'matplotlib', 'openpyxl', 'jinja2'} & set(sys.modules)))"
    )
    done = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=True)
    assert "methane + propane (PR) at -20 °C, 20 bar" in done.stdout
    assert done.stdout.splitlines()[-1] == "[]"
