"""``sleetfield flash``."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from .options import Given, Pressures, Temperatures, on_mixture, series

EXAMPLE = 'Example: sleetfield flash "0.70 methane + 0.20 propane + 0.10 n-heptane" --eos PR --T -20degC --P 20bar'


@on_mixture
def flash(
    system: Any,
    z: Any,
    given: Given,
    T: Temperatures = None,
    P: Pressures = None,
    flow: Annotated[str | None, typer.Option("--flow", help="Feed flow, such as '120 kmol/h', for phase flows.")] = None,
) -> Any:
    """Phases at equilibrium at given temperature and pressure."""
    return system.flash(z, T=series(T, "temperature", "T"), P=series(P, "pressure", "P"), flow=flow, basis=given.basis.value)
