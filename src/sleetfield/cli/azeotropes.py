"""``sleetfield azeotropes``."""

from __future__ import annotations

from typing import Any

from .options import Pressures, Temperatures, on_components, series

EXAMPLE = 'Example: sleetfield azeotropes "acetone + chloroform + methanol" --liquid Wilson --P 1atm'


@on_components
def azeotropes(system: Any, T: Temperatures = None, P: Pressures = None) -> Any:
    """All azeotropes of a mixture's components at temperatures or pressures."""
    return system.azeotropes(T=series(T, "temperature", "T"), P=series(P, "pressure", "P"))
