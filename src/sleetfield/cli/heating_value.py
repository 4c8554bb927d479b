"""``sleetfield heating-value``: what a fuel gas gives when it is burnt."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from .options import GivenMixture, on_mixture

EXAMPLE = 'Example: sleetfield heating-value "0.93 methane + 0.04 ethane + 0.01 propane + 0.02 nitrogen" --eos PR'


@on_mixture
def heating_value(
    system: Any,
    z: Any,
    given: GivenMixture,
    T: Annotated[str, typer.Option("--T", help="Temperature that volumes are at.")] = "15 degC",
    P: Annotated[str, typer.Option("--P", help="Pressure that volumes are at.")] = "1 atm",
) -> Any:
    """Gross and net heating value of a fuel by mole, mass and volume, and its Wobbe index."""
    return system.heating_value(z, T=T, P=P, basis=given.basis.value)
