"""``sleetfield datasheet``: everything of a state, or of several, on one formatted sheet."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from .options import GivenMixture, Phases, Specified, on_mixture

EXAMPLE = (
    'Example: sleetfield datasheet "0.70 methane + 0.20 propane + 0.10 n-heptane" --eos PR --T -20degC --P 20bar '
    '--flow "120 kmol/h" --title "Knock-out drum" --out drum.xlsx --out drum.html'
)


@on_mixture
def datasheet(
    system: Any,
    z: Any,
    given: GivenMixture,
    specified: Specified,
    flow: Annotated[str | None, typer.Option("--flow", help="Feed flow: '120 kmol/h', '5 t/h', '3000 Nm3/h'.")] = None,
    phases: Phases = None,
    title: Annotated[str | None, typer.Option("--title", help="What stands above it.")] = None,
) -> Any:
    """Condition, amounts, thermal and transport properties, compositions and sources of a state on one sheet; lists give several states beside each other."""
    from ..results.datasheet import datasheet as sheet_of

    return sheet_of(system.flash(z, **specified.values(), flow=flow, phases=phases, basis=given.basis.value), title=title)
