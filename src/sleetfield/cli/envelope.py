"""``sleetfield envelope``."""

from __future__ import annotations

from typing import Annotated

import typer

from .options import (
    Basis,
    BasisOption,
    CompositionText,
    Eos,
    Json,
    Kij,
    Liquid,
    Normalize,
    Out,
    Overwrite,
    Units,
    UnitsOption,
    Vapor,
    deliver,
    fail,
    mixture,
)

EXAMPLE = (
    'Example: sleetfield envelope "0.90 methane + 0.08 propane + 0.02 n-heptane" --quality 0.9 '
    '--mark "line: -25degC, 45bar" --out envelope.png --out envelope.csv'
)


def envelope(
    composition: CompositionText,
    eos: Eos = None,
    liquid: Liquid = None,
    vapor: Vapor = None,
    kij: Kij = None,
    quality: Annotated[list[float] | None, typer.Option("--quality", help="Vapor fraction to draw a line for. Repeatable.")] = None,
    mark: Annotated[list[str] | None, typer.Option("--mark", help="A point to mark: 'name: -25degC, 45bar'. Repeatable.")] = None,
    log: Annotated[bool, typer.Option("--log", help="Logarithmic pressure axis.")] = False,
    p_min: Annotated[str, typer.Option("--from-P", help="Pressure that the lines start from.")] = "1 bar",
    p_max: Annotated[str | None, typer.Option("--to-P", help="Pressure at which an open envelope is cut off.")] = None,
    basis: BasisOption = Basis.MOLE,
    normalize: Normalize = False,
    units: UnitsOption = Units.ENGINEERING,
    out: Out = None,
    overwrite: Overwrite = False,
    as_json: Json = False,
) -> None:
    """P-T envelope with critical point, cricondentherm, cricondenbar and quality lines."""
    from ..errors import SleetfieldError

    try:
        points = dict(_marked(entry) for entry in mark or [])
    except SleetfieldError as error:
        fail(error)

    def work() -> object:
        system, z = mixture(composition, eos, liquid, vapor, kij, units, normalize)
        return system.envelope(z, quality=tuple(quality or ()), P_min=p_min, P_max=p_max, basis=basis.value)

    deliver(work, out, overwrite, as_json, log=log, points=points)


def _marked(entry: str) -> tuple[str, tuple[float, float]]:
    from ..errors import InputError
    from ..units import to_si

    name, _, condition = entry.rpartition(":")
    T, comma, P = condition.partition(",")
    if not comma:
        raise InputError(f"--mark {entry!r} is not understood. Write it like 'line: -25degC, 45bar'.")
    return name.strip() or "point", (float(to_si(T.strip(), "temperature", "T")), float(to_si(P.strip(), "pressure", "P")))
