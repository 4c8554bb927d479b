"""Sleetfield: phase equilibria of mixtures for process engineers.

    >>> import sleetfield as sl
    >>> gas = sl.System(["methane", "propane", "n-heptane"], eos="PR")
    >>> gas.flash([0.70, 0.20, 0.10], T="-20 degC", P="20 bar").n_phases
    2

Everything named in ``__all__`` is imported when it is first used.
"""

from __future__ import annotations

import importlib
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from .components import Component, databank
    from .composition import normalize
    from .errors import CalculationError, InputError, SleetfieldError, UnknownComponentError
    from .export import save
    from .system import System
    from .units import UNIT_SETS, quantity

__version__ = "0.1.0"

_HOME = {
    "System": "system",
    "Component": "components",
    "databank": "components",
    "normalize": "composition",
    "save": "export",
    "quantity": "units",
    "UNIT_SETS": "units",
    "SleetfieldError": "errors",
    "InputError": "errors",
    "UnknownComponentError": "errors",
    "CalculationError": "errors",
}

__all__ = [
    "UNIT_SETS",
    "CalculationError",
    "Component",
    "InputError",
    "SleetfieldError",
    "System",
    "UnknownComponentError",
    "databank",
    "normalize",
    "quantity",
    "save",
]


def __getattr__(name: str) -> Any:
    if name in _HOME:
        return getattr(importlib.import_module(f".{_HOME[name]}", __name__), name)
    raise AttributeError(f"module 'sleetfield' has no attribute {name!r}; it has {', '.join(__all__)}")


def __dir__() -> list[str]:
    return sorted([*globals(), *__all__])
