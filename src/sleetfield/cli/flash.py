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
        str | None,
        typer.Option(
            "--to",
            help="Bring it to another state: 'T=-40degC, P=18bar'; 'P=5bar, duty=0'; through a machine 'P=60bar, S=same, efficiency=0.75'.",
        ),
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
    wanted: dict[str, Any] = {name.strip(): text.strip() for name, _, text in entries}
    known = {"duty", "efficiency", *(f.name for f in fields(Specified))}
    if not all(wanted.values()) or not set(wanted) <= known:
        raise InputError(
            f"--to {then!r} is not understood. Write it like 'T=-40degC, P=18bar', 'P=5bar, duty=0', or 'P=60bar, S=same, efficiency=0.75'."
        )
    for name in ("H", "S", "U"):
        if wanted.get(name) == "same":
            wanted[name] = getattr(state, name)
    if "efficiency" in wanted:
        from ..units import one_in_si

        wanted["efficiency"] = one_in_si(wanted["efficiency"], "fraction", "efficiency")
    return state.to(**wanted)
