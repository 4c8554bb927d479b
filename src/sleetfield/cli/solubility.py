"""``sleetfield solubility``: how much of a solid a solvent holds."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from .options import on_components

EXAMPLE = 'Example: sleetfield solubility "benzoic acid + ethanol + water" --of "benzoic acid" --solvent ethanol --liquid ideal --T "0degC to 60degC in 7" --out solubility.png'


@on_components
def solubility(
    system: Any,
    of: Annotated[str, typer.Option("--of", help="What dissolves.")],
    solvent: Annotated[str, typer.Option("--solvent", help="The solvent, or a mixture of some: '0.4 ethanol + rest water'.")],
    T: Annotated[str, typer.Option("--T", help="Temperature: '25degC', a list, or '0degC to 100degC in 5'.")],
    P: Annotated[str, typer.Option("--P", help="Absolute pressure.")] = "1 atm",
    figure: Annotated[str, typer.Option("--figure", help="T, or reciprocal: the logarithm against 1/T.")] = "T",
    data: Annotated[str | None, typer.Option("--data", help="Measured solubilities to draw over.")] = None,
) -> Any:
    """How much of a solid a solvent holds, in several measures, and how that answers to the numbers it rests on."""
    from ..composition import solvent_of
    from ..data_sets import read_data
    from ..specified import series_of

    drawing = {"figure": figure, "data": None if data is None else read_data(data)}
    return system.solubility(of, solvent_of(solvent), **series_of({"T": T}), P=P), drawing
