"""``sleetfield system``."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from ..errors import InputError
from .options import on_components

EXAMPLE = 'Example: sleetfield system "acetone + 1-butanol + water" --liquid NRTL --out broth.toml'
_FORM = "Write it like 'ethyl acetate / n-hexane: T=25degC, gamma_inf=2.9', or with x=0.39, P=1atm of their azeotrope at T in place of gamma_inf; source=lab 2 may follow."
_KNOWN = {"T", "gamma_inf", "x", "P", "source"}


@on_components
def system(
    chosen: Any,
    anchor: Annotated[
        list[str] | None,
        typer.Option(
            "--anchor",
            help="A measured point that the parameters of a pair are scaled to: 'ethyl acetate / n-hexane: T=25degC, gamma_inf=2.9'. Repeatable.",
        ),
    ] = None,
) -> Any:
    """A model with every parameter and its source; --out keeps it in a .toml or .json file, which --system takes in place of the model's options."""
    from ..anchoring import anchored_pair

    for entry in anchor or []:
        pair, _, rest = entry.partition(":")
        first, slash, second = (part.strip() for part in pair.partition(" / "))
        given = {name.strip(): text.strip() for name, _, text in (part.partition("=") for part in rest.split(","))}
        if not slash or "T" not in given or not set(given) <= _KNOWN or not all(given.values()):
            raise InputError(f"--anchor {entry!r} is not understood. {_FORM}")
        chosen = anchored_pair(chosen, first, second, **given)
    return chosen
