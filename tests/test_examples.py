"""The examples, and what the pages say, run as they stand; what pages print is what comes out."""

import contextlib
import doctest
import io
import re
import shlex
import subprocess
import sys
import warnings
from pathlib import Path

import pytest

from .commands import call, run
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


PAGES = ("README.md", "docs/regression.md")


def demo_for(page, folder):
    """What a page begins with: the whole demo, or its measurements alone."""
    if page == "README.md":
        run("demo", cwd=folder)
    else:
        measurements(folder / "marlwick-demo")


@pytest.mark.parametrize("page", PAGES)
def test_python_in_the_pages(page, tmp_path, monkeypatch):
    for variable in ("SLEETFIELD_PAIRS", "SLEETFIELD_DATA"):
        monkeypatch.setenv(variable, str(tmp_path / variable))
    blocks = re.findall(r"```python\n(.*?)```", (ROOT / page).read_text(encoding="utf-8"), flags=re.DOTALL)
    assert blocks
    demo_for(page, tmp_path)
    execute("\n".join(blocks), tmp_path)


@pytest.mark.parametrize("page", PAGES)
def test_commands_in_the_pages(page, tmp_path, monkeypatch):
    for variable in ("SLEETFIELD_PAIRS", "SLEETFIELD_DATA"):
        monkeypatch.setenv(variable, str(tmp_path / variable))
    text = (ROOT / page).read_text(encoding="utf-8")
    if page != "README.md":
        demo_for(page, tmp_path)
    run_commands(text, tmp_path)


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
