"""``sleetfield envelope``."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from ..errors import InputError
from .options import Basis, GivenMixture, Marks, marked, on_mixture

EXAMPLE = (
    'Example: sleetfield envelope "0.90 methane + 0.08 propane + 0.02 n-heptane" --quality 0.9 '
    '--mark "line: -25degC, 45bar" --out envelope.png --out envelope.csv'
)


@on_mixture
def envelope(
    system: Any,
    z: Any,
    given: GivenMixture,
    quality: Annotated[
        list[str] | None, typer.Option("--quality", help="Vapor fractions to draw lines for: '0.9', '0.5, 0.9'. Repeatable.")
    ] = None,
    quality_basis: Annotated[Basis, typer.Option("--quality-basis", help="Whether --quality is by mole or mass.")] = Basis.MOLE,
    also: Annotated[
        list[str] | None,
        typer.Option("--also", help="A further mixture in the same figure: 'rich: 0.8 methane + 0.2 propane'. Repeatable."),
    ] = None,
    name: Annotated[str, typer.Option("--name", help="What the first mixture is called beside --also.")] = "first",
    mark: Marks = None,
    x: Annotated[str, typer.Option("--x", help="Horizontal axis: T, P, H, S, density or molar_volume.")] = "T",
    y: Annotated[str, typer.Option("--y", help="Vertical axis.")] = "P",
    log: Annotated[bool, typer.Option("--log", help="Logarithmic vertical axis.")] = False,
    P_min: Annotated[str, typer.Option("--P-min", help="Pressure that the lines start from.")] = "1 bar",
    P_max: Annotated[str | None, typer.Option("--P-max", help="Pressure at which an open envelope is cut off.")] = None,
    T_min: Annotated[str | None, typer.Option("--T-min", help="Temperature below which lines end.")] = None,
    T_max: Annotated[str | None, typer.Option("--T-max", help="Temperature above which lines end.")] = None,
) -> Any:
    """Phase envelope with critical point, cricondentherm, cricondenbar and quality lines; of several mixtures, too."""
    import numpy as np

    from ..results.envelope import compare_envelopes
    from ..specified import series

    marks = dict(marked(entry) for entry in mark or [])
    shares = tuple(float(v) for text in quality or () for v in np.atleast_1d(series(text, "fraction", "quality")))
    options: dict[str, Any] = {"quality": shares, "quality_basis": quality_basis.value, "basis": given.basis.value}
    options |= {"P_min": P_min, "P_max": P_max, "T_min": T_min, "T_max": T_max}
    found = system.envelope(z, **options)
    for entry in also or []:
        other_name, colon, text = entry.partition(":")
        if not colon:
            raise InputError(f"--also {entry!r} is not understood. Write it like 'rich: 0.8 methane + 0.2 propane'.")
        if not isinstance(found, dict):
            found = {name: found}
        other, fractions = given.mixture(text)
        found[other_name.strip()] = other.envelope(fractions, **options)
    return compare_envelopes(found) if also else found, {"log": log, "marks": marks, "x": x, "y": y}
