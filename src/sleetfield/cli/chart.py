"""``sleetfield chart``: P-H, T-S and H-S charts of a fluid."""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated, Any

import typer

from .options import GivenMixture, Marks, marked, on_mixture

EXAMPLE = 'Example: sleetfield chart "propane" --kind PH --mark "outlet: 60degC, 20bar" --out propane.pdf'


class Kind(StrEnum):
    """Charts."""

    PH = "PH"
    TS = "TS"
    HS = "HS"


class Per(StrEnum):
    """What enthalpies and entropies are drawn per."""

    MASS = "mass"
    MOLE = "mole"


@on_mixture
def chart(
    system: Any,
    z: Any,
    given: GivenMixture,
    kind: Annotated[Kind, typer.Option("--kind", help="P over H, T over S, or H over S.", case_sensitive=False)] = Kind.PH,
    T: Annotated[str | None, typer.Option("--T", help="Range of temperature: '-40degC, 150degC'.")] = None,
    P: Annotated[str | None, typer.Option("--P", help="Range of pressure: '1bar, 100bar'.")] = None,
    line: Annotated[
        list[str] | None,
        typer.Option(
            "--line",
            help="Lines in place of round ones, of T, P, S, H, density or vapor_fraction: 'T = 0degC, 50degC', 'density = none'. Repeatable.",
        ),
    ] = None,
    per: Annotated[Per, typer.Option("--per", help="What enthalpies and entropies are drawn per.")] = Per.MASS,
    zero: Annotated[
        str | None,
        typer.Option("--zero", help="The state whose enthalpy and entropy are zero: 'T = 0.01degC, vapor_fraction = 0'."),
    ] = None,
    mark: Marks = None,
    joined: Annotated[bool, typer.Option("--joined", help="Draw lines from mark to mark, as a cycle runs.")] = False,
) -> Any:
    """A chart for the wall: P-H, T-S or H-S, with lines of constant temperature, pressure, entropy, enthalpy, density and share of vapor."""
    lines = {name: [] if text == "none" else text for name, text in (_named(entry, "--line") for entry in line or [])}
    state = None if zero is None else dict(_named(part, "--zero") for part in zero.split(","))
    options = {"T": T, "P": P, "lines": lines, "per": per.value, "zero": state, "basis": given.basis.value}
    return system.chart(kind.value, z, **options), {"marks": dict(marked(entry) for entry in mark or []), "joined": joined}


def _named(entry: str, option: str) -> tuple[str, str]:
    """A quantity and what is said of it.

    Raises
    ------
    InputError
        If it is not written so.
    """
    from ..errors import InputError

    name, equals, text = entry.partition("=")
    if not equals or not text.strip():
        raise InputError(f"{option} {entry.strip()!r} is not understood. Write it like 'T = 0degC'.")
    return name.strip(), text.strip()
