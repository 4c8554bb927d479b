"""``sleetfield saturation-curve``."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

import typer

from ..errors import InputError
from .options import GivenMixture, Temperatures, on_mixture

EXAMPLE = "Example: sleetfield saturation-curve propane --eos PR --out propane.png"


@on_mixture
def saturation_curve(
    system: Any,
    z: Any,
    given: GivenMixture,
    T: Temperatures = None,
    figure: Annotated[str, typer.Option("--figure", help="What --out draws: pressure, density or fugacity.")] = "pressure",
    data: Annotated[Path | None, typer.Option("--data", help="Measured values: columns T and P or density, with units.")] = None,
) -> Any:
    """Vapor pressure, densities and heat of vaporization of one component; write its name alone for COMPOSITION."""
    from ..specified import series_of

    if len(system) != 1:
        raise InputError("A saturation curve is of one component: write its name alone, such as 'propane'.")
    return system.saturation_curve(**series_of({"T": T}), data=data), {"figure": figure}
