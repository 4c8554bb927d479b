"""The examples, and what the pages say, run as they stand; what pages print is what comes out."""

import contextlib
import doctest
import io
import re
import shlex
import subprocess
import sys
import tomllib
import warnings
from pathlib import Path

import pytest

import sleetfield as sl
from sleetfield.components.quantities import CONSTANTS, CORRELATIONS

from .commands import call
from .test_cli import measurements

ROOT = Path(__file__).parent.parent
EXAMPLES = sorted((ROOT / "examples").glob("*.py"))


def execute(code, folder):
    """What a program prints that is run in a folder, every warning an error."""
    out = io.StringIO()
    with contextlib.chdir(folder), contextlib.redirect_stdout(out), warnings.catch_warnings():
        warnings.simplefilter("error")
        exec(compile(code, "<page>", "exec"), {"__name__": "__main__"})
    return out.getvalue()


@pytest.mark.parametrize("path", EXAMPLES, ids=lambda p: p.name)
def test_example(path, tmp_path):
    program = [sys.executable, "-W", "error", str(path)]
    done = subprocess.run(program, capture_output=True, text=True, cwd=tmp_path, check=False, timeout=180)
    assert done.returncode == 0, done.stderr
    assert done.stdout.strip()
    if path.name == "flash_by_hand.py":
        assert done.stdout.rstrip() in README, "the first page says something else"


def test_there_are_at_least_three_examples():
    assert len(EXAMPLES) >= 3


GUIDE = sorted(p.relative_to(ROOT / "docs") for p in (ROOT / "docs").rglob("*.md") if ">>> " in p.read_text(encoding="utf-8"))


@pytest.mark.parametrize("page", GUIDE, ids=str)
def test_what_the_guide_prints_is_what_comes_out(page, tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    text = (ROOT / "docs" / page).read_text(encoding="utf-8")
    told = []
    examples = doctest.DocTestParser().get_doctest(text, {}, str(page), str(page), 0)
    result = doctest.DocTestRunner(verbose=False).run(examples, out=told.append)
    assert result.attempted > 1
    assert not result.failed, "".join(told)
    if page.parts[0] == "guide":
        run_commands(text, tmp_path)


def test_every_model_has_a_page():
    from sleetfield.recipes.contract import Recipe

    pages = " ".join(p.read_text(encoding="utf-8") for p in (ROOT / "docs" / "models").glob("*.md"))
    for role in ("eos", "liquid", "vapor"):
        for name, family in Recipe.registered[role].items():
            # others are made by tests
            if family.__module__.startswith("sleetfield."):
                assert f'"{name}"' in pages or f"({name})" in pages, name


PAGES = ("README.md", "docs/tour.md", "docs/regression.md")
TOUR = "docs/tour.md"


@pytest.mark.parametrize("page", PAGES)
def test_python_in_the_pages(page, tmp_path, monkeypatch):
    for variable in ("SLEETFIELD_PAIRS", "SLEETFIELD_DATA"):
        monkeypatch.setenv(variable, str(tmp_path / variable))
    blocks = re.findall(r"```python\n(.*?)```", (ROOT / page).read_text(encoding="utf-8"), flags=re.DOTALL)
    assert blocks
    measurements(tmp_path / "marlwick-demo")
    execute("\n".join(blocks), tmp_path)


README = (ROOT / "README.md").read_text(encoding="utf-8")


def test_the_first_page_prints_what_it_says(tmp_path):
    (code,) = re.findall(r"```python\n(.*?)```", README, flags=re.DOTALL)
    first, _ = re.findall(r"```text\n(.*?)```", README, flags=re.DOTALL)
    assert execute(code, tmp_path).rstrip() == first.rstrip()


def test_the_first_page_counts_right():
    components = list(sl.databank())
    values = sum(getattr(c, key) is not None for c in components for key in (*CONSTANTS, *CORRELATIONS))
    pairs = {frozenset((r.first, r.second)) for r in sl.pair_records()}
    said = [
        int(n.replace(",", "")) for n in re.search(r"([\d,]+) constants and equations of (\d+) .* of (\d+) pairs", README).groups()
    ]
    assert said == [values, len(components), len(pairs)]
    with (ROOT / "pyproject.toml").open("rb") as file:
        project = tomllib.load(file)["project"]
    versions = [c.rpartition(" ")[2] for c in project["classifiers"] if "Python :: 3." in c]
    assert " | ".join(versions) in (ROOT / "docs" / "assets" / "python.svg").read_text()
    assert f"version: {sl.__version__}" in (ROOT / "CITATION.cff").read_text()


@pytest.mark.parametrize("page", ["README.md", TOUR, "docs/index.md", "CONTRIBUTING.md"])
def test_blocks_fit_a_page(page):
    text = (ROOT / page).read_text(encoding="utf-8")
    blocks = re.findall(r"```\w*\n(.*?)```", text, flags=re.DOTALL)
    assert max((len(line) for block in blocks for line in block.splitlines()), default=0) <= 100


@pytest.mark.parametrize("page", PAGES)
def test_commands_in_the_pages(page, tmp_path, monkeypatch):
    for variable in ("SLEETFIELD_PAIRS", "SLEETFIELD_DATA"):
        monkeypatch.setenv(variable, str(tmp_path / variable))
    text = (ROOT / page).read_text(encoding="utf-8")
    measurements(tmp_path / "marlwick-demo")
    # the demo is a test of its own
    run_commands(text.replace("sleetfield demo\n", ""), tmp_path)


def run_commands(text, folder):
    """Every command that a page has, one after the other."""
    commands = [
        line for block in re.findall(r"```sh\n(.*?)```", text, flags=re.DOTALL) for line in block.replace("\\\n", " ").splitlines()
    ]
    ours = [c for c in commands if c.startswith("sleetfield ")]
    assert ours or "```sh" not in text
    for command in ours:
        done = call(*shlex.split(command)[1:], cwd=folder)
        assert done.status == 0, f"{command}\n{done.stderr}"
