"""``sleetfield flash``."""

from __future__ import annotations

from dataclasses import fields
from typing import Annotated, Any

import typer

from ..errors import InputError
from .options import GivenMixture, Phases, Specified, on_mixture

EXAMPLE = 'Example: sleetfield flash "0.70 methane + 0.20 propane + 0.10 n-heptane" --eos PR --T -20degC --P 20bar'


@on_mixture
def flash(
    system: Any,
    z: Any,
    given: GivenMixture,
    specified: Specified,
    flow: Annotated[
        str | None, typer.Option("--flow", help="Feed flow for phase flows: '120 kmol/h', '5 t/h', '3000 Nm3/h', '2 MMscf/day'.")
    ] = None,
    phases: Phases = None,
    then: Annotated[
        str | None, typer.Option("--to", help="Bring it to another state: 'T=-40degC, P=18bar', or 'P=5bar, duty=0'.")
    ] = None,
) -> Any:
    """Phases at equilibrium, one to four, at any two given quantities."""
    state = system.flash(z, **specified.values(), flow=flow, phases=phases, basis=given.basis.value)
    return state if then is None else _brought(state, then)


def _brought(state: Any, then: str) -> Any:
    """The state that ``--to`` asks for."""
    if not hasattr(state, "to"):
        raise InputError("--to needs a single state to begin with, not a list or a range.")
    entries = [part.partition("=") for part in then.split(",")]
    wanted = {name.strip(): text.strip() for name, _, text in entries}
    if not all(wanted.values()) or not set(wanted) <= {"duty", *(f.name for f in fields(Specified))}:
        raise InputError(f"--to {then!r} is not understood. Write it like 'T=-40degC, P=18bar' or 'P=5bar, duty=0'.")
    return state.to(**wanted)
