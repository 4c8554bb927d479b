"""``sleetfield envelope``."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from ..errors import InputError
from .options import Given, on_mixture

EXAMPLE = (
    'Example: sleetfield envelope "0.90 methane + 0.08 propane + 0.02 n-heptane" --quality 0.9 '
    '--mark "line: -25degC, 45bar" --out envelope.png --out envelope.csv'
)


@on_mixture
def envelope(
    system: Any,
    z: Any,
    given: Given,
    quality: Annotated[list[float] | None, typer.Option("--quality", help="Vapor fraction to draw a line for. Repeatable.")] = None,
    mark: Annotated[list[str] | None, typer.Option("--mark", help="A point to mark: 'name: -25degC, 45bar'. Repeatable.")] = None,
    log: Annotated[bool, typer.Option("--log", help="Logarithmic pressure axis.")] = False,
    from_pressure: Annotated[str, typer.Option("--from-P", help="Pressure that the lines start from.")] = "1 bar",
    to_pressure: Annotated[str | None, typer.Option("--to-P", help="Pressure at which an open envelope is cut off.")] = None,
) -> Any:
    """P-T envelope with critical point, cricondentherm, cricondenbar and quality lines."""
    points = dict(_marked(entry) for entry in mark or [])
    found = system.envelope(z, quality=tuple(quality or ()), P_min=from_pressure, P_max=to_pressure, basis=given.basis.value)
    return found, {"log": log, "points": points}


def _marked(entry: str) -> tuple[str, tuple[float, float]]:
    from ..units import to_si

    name, _, condition = entry.rpartition(":")
    T, comma, P = condition.partition(",")
    if not comma:
        raise InputError(f"--mark {entry!r} is not understood. Write it like 'line: -25degC, 45bar'.")
    return name.strip() or "point", (float(to_si(T.strip(), "temperature", "T")), float(to_si(P.strip(), "pressure", "P")))
