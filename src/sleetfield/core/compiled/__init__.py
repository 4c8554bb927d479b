"""The compiled engine: hot loops over single states in C, where it was built.

It holds no physics of which the reference engine in NumPy has none, and hands back to that whatever it does not settle. The environment variable
``SLEETFIELD_ENGINE=numpy`` turns it off.
"""

from __future__ import annotations

import importlib
import os
from types import ModuleType


def _found() -> tuple[ModuleType | None, str]:
    wanted = os.environ.get("SLEETFIELD_ENGINE", "")
    if wanted == "numpy":
        return None, "NumPy, as SLEETFIELD_ENGINE=numpy asks for"
    try:
        return importlib.import_module("._engine", __name__), "compiled"
    except ImportError:
        return None, "NumPy; the compiled one was not built when Sleetfield was installed"


ENGINE, WHICH = _found()
"""The module of compiled loops, or None; and which engine runs, and why, in words."""

__all__ = ["ENGINE", "WHICH"]
