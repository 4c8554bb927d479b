"""``sleetfield transport``: what a datasheet asks for of each phase."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from .options import GivenMixture, on_mixture

EXAMPLE = 'Example: sleetfield transport "0.70 methane + 0.20 propane + 0.10 n-heptane" --eos PR --T -20degC --P 20bar'


@on_mixture
def transport(
    system: Any,
    z: Any,
    given: GivenMixture,
    T: Annotated[str, typer.Option("--T", help="Temperature: '30degC'.")],
    P: Annotated[str, typer.Option("--P", help="Absolute pressure.")],
) -> Any:
    """Viscosity, thermal conductivity, surface tension and what goes with them, of each phase of a flash; a property table has them over lists."""
    return system.transport(z, T=T, P=P, basis=given.basis.value)
