"""``sleetfield table``."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from ..errors import InputError
from .options import Given, Pressures, Temperatures, on_mixture, series

EXAMPLE = (
    'Example: sleetfield table "0.90 methane + 0.08 propane + 0.02 n-heptane" --T "-40degC to 0degC in 5" --P "20bar, 40bar" '
    "--property vapor_fraction --property H --property density"
)


@on_mixture
def table(
    system: Any,
    z: Any,
    given: Given,
    T: Temperatures = None,
    P: Pressures = None,
    properties: Annotated[list[str] | None, typer.Option("--property", help="A property to tabulate. Repeatable.")] = None,
) -> Any:
    """Property table over temperatures and pressures.

    Properties: n_phases, vapor_fraction, H, S, Cp, molar_volume, density (of the whole); fraction, Z, molar_mass (of each phase, as
    are the former); composition, ln_phi (of each component in each phase).
    """
    if T is None or P is None:
        raise InputError("A table needs both --T and --P: single values, lists, or ranges such as '5bar to 60bar in 12'.")
    wanted = properties or ["n_phases", "vapor_fraction", "H", "S", "density"]
    temperatures, pressures = series(T, "temperature", "T"), series(P, "pressure", "P")
    units = "SI" if given.as_json else None
    return system.table(z, T=temperatures, P=pressures, properties=wanted, basis=given.basis.value, units=units)
