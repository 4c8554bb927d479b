"""``sleetfield check``."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from .options import Given, on_mixture

EXAMPLE = 'Example: sleetfield check "0.3 1-butanol + 0.7 water" --liquid NRTL'


@on_mixture
def check(
    system: Any,
    z: Any,
    given: Given,
    T: Annotated[str, typer.Option("--T", help="Where pairs are looked at.")] = "25 degC",
    P: Annotated[str, typer.Option("--P", help="Where azeotropes are looked for.")] = "1 atm",
) -> Any:
    """What to look at before trusting a model: splits, azeotropes, infinite dilution, ranges, gaps; the amounts don't matter."""
    return system.check(T=T, P=P)
