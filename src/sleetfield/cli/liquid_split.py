"""``sleetfield liquid-split``: the liquids of a feed."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from .options import GivenMixture, on_mixture

EXAMPLE = 'Example: sleetfield liquid-split "0.02 acetone + 0.24 1-butanol + rest water" --liquid NRTL --T 30degC'


@on_mixture
def liquid_split(
    system: Any,
    z: Any,
    given: GivenMixture,
    T: Annotated[str, typer.Option("--T", help="Temperature: '30degC'.")],
    P: Annotated[str, typer.Option("--P", help="Absolute pressure.")] = "1 atm",
) -> Any:
    """The liquids that a feed forms, whatever vapor there might be: compositions, ratio, distribution coefficients."""
    return system.liquid_split(z, T=T, P=P, basis=given.basis.value)
