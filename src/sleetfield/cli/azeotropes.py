"""``sleetfield azeotropes``."""

from __future__ import annotations

from typing import Any

from .options import Given, Pressures, Temperatures, on_mixture, series

EXAMPLE = 'Example: sleetfield azeotropes "0.3 acetone + 0.3 chloroform + 0.4 methanol" --liquid Wilson --P 1atm'


@on_mixture
def azeotropes(system: Any, z: Any, given: Given, T: Temperatures = None, P: Pressures = None) -> Any:
    """All azeotropes of a mixture's components at temperatures or pressures; the amounts don't matter."""
    return system.azeotropes(T=series(T, "temperature", "T"), P=series(P, "pressure", "P"))
