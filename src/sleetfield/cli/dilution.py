"""``sleetfield dilution``: solutes at infinite dilution."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from .options import on_components

EXAMPLE = 'Example: sleetfield dilution "ethanol + acetone + water + n-hexane" --solvent water --against n-hexane --liquid UNIFAC --T 25degC'


@on_components
def dilution(
    system: Any,
    solvent: Annotated[str, typer.Option("--solvent", help="The solvent, or a mixture of some: '0.4 ethanol + rest water'.")],
    T: Annotated[str, typer.Option("--T", help="Temperature: '25degC', a list, or '0degC to 100degC in 5'.")],
    against: Annotated[
        str | None, typer.Option("--against", help="Another solvent, for partition coefficients between both.")
    ] = None,
    mutual: Annotated[bool, typer.Option("--mutual", help="Both solvents are saturated with each other.")] = False,
) -> Any:
    """Activity coefficients of solutes at infinite dilution in a solvent, and how they share out between two."""
    from ..composition import solvent_of
    from ..specified import series_of

    given = {key: solvent_of(text) for key, text in {"solvent": solvent, "against": against}.items() if text is not None}
    return system.dilution(given.pop("solvent"), **series_of({"T": T}), mutual=mutual, **given)
