"""The lowest version that each dependency's range allows, as constraints for pip.

python tools/lowest.py > lowest.txt
"""

import re
import sys
import tomllib
from pathlib import Path

NEEDED_FOR_TESTS = ("pytest", "hypothesis", "pytest-xdist")


def lowest(requirements):
    """``name==lower bound`` of each requirement that has one."""
    for requirement in requirements:
        match = re.match(r"([A-Za-z0-9_.-]+)(?:\[[^\]]*\])?>=([0-9.]+)", requirement)
        if match:
            yield match[1], match[2]


def main():
    """Write the constraints."""
    project = tomllib.loads((Path(__file__).parent.parent / "pyproject.toml").read_text(encoding="utf-8"))["project"]
    for name, version in lowest(project["dependencies"]):
        sys.stdout.write(f"{name}=={version}\n")
    for name, version in lowest(project["optional-dependencies"]["dev"]):
        if name in NEEDED_FOR_TESTS:
            sys.stdout.write(f"{name}>={version}\n")


main()
