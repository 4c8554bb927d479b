"""``sleetfield flash``."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from ..errors import InputError
from .options import Given, Pressures, Temperatures, on_mixture, series

EXAMPLE = 'Example: sleetfield flash "0.70 methane + 0.20 propane + 0.10 n-heptane" --eos PR --T -20degC --P 20bar'


@on_mixture
def flash(
    system: Any,
    z: Any,
    given: Given,
    T: Temperatures = None,
    P: Pressures = None,
    H: Annotated[str | None, typer.Option("--H", help="Molar enthalpy: '-5000 J/mol'.")] = None,
    S: Annotated[str | None, typer.Option("--S", help="Molar entropy: '-20 J/(mol K)'.")] = None,
    U: Annotated[str | None, typer.Option("--U", help="Molar internal energy.")] = None,
    V: Annotated[str | None, typer.Option("--V", help="Molar volume: '0.5 m3/kmol'.")] = None,
    density: Annotated[str | None, typer.Option("--density", help="Density of all phases together: '40 kg/m3'.")] = None,
    vapor_fraction: Annotated[
        str | None, typer.Option("--vapor-fraction", help="By mole: 0 at the bubble point, 1 at the dew point.")
    ] = None,
    flow: Annotated[str | None, typer.Option("--flow", help="Feed flow, such as '120 kmol/h' or '5 t/h', for phase flows.")] = None,
    then: Annotated[
        str | None, typer.Option("--to", help="Bring it to another state: 'T=-40degC, P=18bar', or 'P=5bar, duty=0'.")
    ] = None,
) -> Any:
    """Phases at equilibrium at two given quantities, one of them temperature or pressure."""
    from ..calculations.specifications import DIMENSIONS

    texts = {"T": T, "P": P, "H": H, "S": S, "U": U, "V": V, "density": density, "vapor_fraction": vapor_fraction}
    values = {name: series(text, DIMENSIONS[name], name) for name, text in texts.items()}
    state = system.flash(z, **values, flow=flow, basis=given.basis.value)
    return state if then is None else _brought(state, then)


def _brought(state: Any, then: str) -> Any:
    """The state that ``--to`` asks for."""
    if not hasattr(state, "to"):
        raise InputError("--to needs a single state to begin with, not a list or a range.")
    entries = [part.partition("=") for part in then.split(",")]
    wanted = {name.strip(): text.strip() for name, _, text in entries}
    if not all(wanted.values()) or not set(wanted) <= {"T", "P", "H", "S", "U", "V", "density", "vapor_fraction", "duty"}:
        raise InputError(f"--to {then!r} is not understood. Write it like 'T=-40degC, P=18bar' or 'P=5bar, duty=0'.")
    return state.to(**wanted)
