"""``sleetfield compare``: the same calculation with several models."""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated, Any

import typer

from .options import GivenMixture, Specified, on_mixture

EXAMPLE = 'Example: sleetfield compare "0.4 acetone + 0.3 1-butanol + rest water" --liquid NRTL --with UNIQUAC --with PR --calculation bubble --P 1atm --out models.png'


class Calculation(StrEnum):
    """What is calculated."""

    FLASH = "flash"
    BUBBLE = "bubble"
    DEW = "dew"
    CRITICAL = "critical"
    ENVELOPE = "envelope"
    AZEOTROPES = "azeotropes"
    TABLE = "table"


@on_mixture
def compare(
    system: Any,
    z: Any,
    given: GivenMixture,
    specified: Specified,
    other: Annotated[
        list[str],
        typer.Option("--with", help="Another liquid model or equation of state; it has the bank's parameters. Repeatable."),
    ],
    calculation: Annotated[Calculation, typer.Option("--calculation", help="What is calculated.")] = Calculation.FLASH,
    limit: Annotated[float, typer.Option("--limit", help="Relative difference that is worth a note.")] = 0.02,
) -> Any:
    """The same calculation with several models: every number beside the first model's, and where they disagree."""
    from ..calculations.comparing import compare as run
    from ..recipes import names_of

    liquids = names_of("liquid")
    systems = {given.liquid or given.eos or system.model_title: system}
    for name in other:
        systems[name] = system.with_model(**({"liquid": name, "vapor": given.vapor} if name in liquids else {"eos": name}))
    values, basis = specified.values(), given.basis.value
    calls = {
        Calculation.CRITICAL: lambda s: s.critical(z, basis=basis),
        Calculation.ENVELOPE: lambda s: s.envelope(z, basis=basis).summary_frame("SI"),
        Calculation.AZEOTROPES: lambda s: s.azeotropes(**values),
    }
    return run(systems, calls.get(calculation, lambda s: getattr(s, calculation.value)(z, **values, basis=basis)), limit=limit)
