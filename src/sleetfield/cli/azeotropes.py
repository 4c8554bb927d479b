"""``sleetfield azeotropes``."""

from __future__ import annotations

from typing import Any

from .options import Pressures, Temperatures, on_components

EXAMPLE = 'Example: sleetfield azeotropes "acetone + chloroform + methanol" --liquid Wilson --P 1atm'


@on_components
def azeotropes(system: Any, T: Temperatures = None, P: Pressures = None) -> Any:
    """All azeotropes of a mixture's components at temperatures or pressures."""
    from ..specified import series_of

    return system.azeotropes(**series_of({"T": T, "P": P}))
