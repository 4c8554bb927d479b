"""The examples, and the Python in the README, run as they stand."""

import re
import subprocess
import sys
from pathlib import Path

import pytest

from .test_cli import measurements

ROOT = Path(__file__).parent.parent
EXAMPLES = sorted((ROOT / "examples").glob("*.py"))


def execute(arguments, folder):
    done = subprocess.run(
        [sys.executable, "-W", "error", *arguments], capture_output=True, text=True, cwd=folder, check=False, timeout=180
    )
    assert done.returncode == 0, done.stderr
    return done.stdout


@pytest.mark.parametrize("path", EXAMPLES, ids=lambda p: p.name)
def test_example(path, tmp_path):
    assert execute([str(path)], tmp_path).strip()


def test_there_are_at_least_three_examples():
    assert len(EXAMPLES) >= 3


PAGES = ("README.md", "docs/regression.md")


def demo_for(page, folder):
    """What a page begins with: the whole demo, or its measurements alone."""
    if page == "README.md":
        subprocess.run([Path(sys.executable).parent / "sleetfield", "demo"], cwd=folder, check=True, capture_output=True)
    else:
        measurements(folder / "marlwick-demo")


@pytest.mark.parametrize("page", PAGES)
def test_python_in_the_pages(page, tmp_path, monkeypatch):
    for variable in ("SLEETFIELD_PAIRS", "SLEETFIELD_DATA"):
        monkeypatch.setenv(variable, str(tmp_path / variable))
    blocks = re.findall(r"```python\n(.*?)```", (ROOT / page).read_text(encoding="utf-8"), flags=re.DOTALL)
    assert blocks
    demo_for(page, tmp_path)
    execute(["-c", "\n".join(blocks)], tmp_path)


@pytest.mark.parametrize("page", PAGES)
def test_commands_in_the_pages(page, tmp_path, monkeypatch):
    for variable in ("SLEETFIELD_PAIRS", "SLEETFIELD_DATA"):
        monkeypatch.setenv(variable, str(tmp_path / variable))
    text = (ROOT / page).read_text(encoding="utf-8")
    if page != "README.md":
        demo_for(page, tmp_path)
    commands = [
        line for block in re.findall(r"```sh\n(.*?)```", text, flags=re.DOTALL) for line in block.replace("\\\n", " ").splitlines()
    ]
    program = Path(sys.executable).parent / "sleetfield"
    ours = [c for c in commands if c.startswith("sleetfield ")]
    assert ours
    for command in ours:
        done = subprocess.run(
            command.replace("sleetfield", str(program), 1), shell=True, capture_output=True, text=True, cwd=tmp_path, check=False
        )
        assert done.returncode == 0, f"{command}\n{done.stderr}"
