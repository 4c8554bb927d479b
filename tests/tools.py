"""The scripts of tools/, as modules."""

import importlib
import sys
from pathlib import Path
from types import ModuleType

ROOT = Path(__file__).parent.parent


def tool(name: str) -> ModuleType:
    """A script of tools/ by its name, beside its neighbors as when it is run."""
    if str(ROOT / "tools") not in sys.path:
        sys.path.append(str(ROOT / "tools"))
    return importlib.import_module(name)
