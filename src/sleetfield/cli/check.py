"""``sleetfield check``."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from .options import on_components

EXAMPLE = 'Example: sleetfield check "1-butanol + water" --liquid NRTL'


@on_components
def check(
    system: Any,
    T: Annotated[str, typer.Option("--T", help="Where pairs are looked at.")] = "25 degC",
    P: Annotated[str, typer.Option("--P", help="Where azeotropes are looked for.")] = "1 atm",
) -> Any:
    """What to look at before trusting a model: splits, azeotropes, infinite dilution, ranges, gaps."""
    return system.check(T=T, P=P)
