"""``sleetfield system``."""

from __future__ import annotations

from typing import Any

from .options import on_components

EXAMPLE = 'Example: sleetfield system "acetone + 1-butanol + water" --liquid NRTL --out broth.toml'


@on_components
def system(chosen: Any) -> Any:
    """A model with every parameter and its source; --out keeps it in a .toml or .json file, which --system takes in place of the model's options."""
    return chosen
