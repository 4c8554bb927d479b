"""Tests see the shipped databank alone, whatever folder the user has, and leave no figure open behind them."""

import os
import sys
import tempfile

import pytest

for variable in ("SLEETFIELD_COMPONENTS", "SLEETFIELD_PAIRS", "SLEETFIELD_DATA"):
    os.environ[variable] = os.path.join(tempfile.mkdtemp(prefix="sleetfield-tests-"), "none")


# processes that tests start find what an earlier one has compiled
os.environ.pop("PYTHONDONTWRITEBYTECODE", None)


@pytest.fixture(autouse=True)
def _figures_are_closed():
    """Close what a test or an example drew; open figures would pile up in one process."""
    yield
    if "matplotlib.pyplot" in sys.modules:
        sys.modules["matplotlib.pyplot"].close("all")
