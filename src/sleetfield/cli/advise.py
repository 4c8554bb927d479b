"""``sleetfield advise``: which model to take; asked for what is not given, where there is a terminal."""

from __future__ import annotations

import sys
from typing import Annotated, Any

import typer

from .answers import answering, asked, deliver
from .options import AsJson, OutFiles, Overwrite

EXAMPLE = 'Example: sleetfield advise "acetone + 1-butanol + water" --T "20degC to 100degC" --P 1atm --purpose distillation'


@answering
def advise(
    components: Annotated[str | None, typer.Argument(metavar="COMPONENTS", help="Such as 'acetone + 1-butanol + water'.")] = None,
    T: Annotated[str | None, typer.Option("--T", help="Temperature, or a range: '20degC to 100degC'.")] = None,
    P: Annotated[str | None, typer.Option("--P", help="Pressure, or a range.")] = None,
    purpose: Annotated[
        str | None,
        typer.Option("--purpose", help="vapor-liquid, liquid-liquid, distillation, enthalpy, density, envelope or solids."),
    ] = None,
    explain: Annotated[bool, typer.Option("--explain", help="Print every rule that fired, with its reference.")] = False,
    out: OutFiles = None,
    overwrite: Overwrite = False,
    as_json: AsJson = False,
) -> None:
    """Models for a mixture and a question, ranked, with reasons. What is not given is asked for."""
    from ..choosing import advise as run
    from ..composition import parse_names

    names = parse_names(asked(components, "COMPONENTS", "Which components ('acetone + water')?", EXAMPLE))
    where = {"T": _ends(asked(T, "--T", "At which temperature, or from which to which ('20degC to 100degC')?", EXAMPLE))}
    where["P"] = _ends(asked(P, "--P", "At which pressure, or from which to which?", EXAMPLE))
    wanted = purpose or (
        asked(None, "--purpose", "What for?", EXAMPLE, "vapor-liquid")
        if sys.stdin.isatty() and components is None
        else "vapor-liquid"
    )
    found = run(names, **where, purpose=wanted)
    if explain and not as_json:
        typer.echo(found.explain())
    deliver(lambda: (found, {}), out, overwrite, as_json)


def _ends(text: str) -> Any:
    """One value, or two."""
    low, to, high = text.partition(" to ")
    return [low.strip(), high.strip()] if to else text
