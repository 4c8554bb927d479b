"""``sleetfield diagram``, ``sleetfield melting-diagram``, ``sleetfield liquid-map`` and ``sleetfield boiling-map``."""

from __future__ import annotations

from enum import StrEnum
from pathlib import Path
from typing import Annotated, Any

import typer

from .options import on_components

EXAMPLE = 'Example: sleetfield diagram "1-butanol + water" --liquid NRTL --kind Txy --P 1atm --out txy.png'
MELTING_EXAMPLE = 'Example: sleetfield melting-diagram "naphthalene + benzene" --liquid UNIFAC --out melting.png'
FREEZING_MAP_EXAMPLE = 'Example: sleetfield freezing-map "o-xylene + m-xylene + p-xylene" --liquid ideal --out xylenes.png'
LIQUID_MAP_EXAMPLE = 'Example: sleetfield liquid-map "acetone + 1-butanol + water" --liquid NRTL --T 25degC --out liquids.png'
BOILING_MAP_EXAMPLE = 'Example: sleetfield boiling-map "acetone + chloroform + methanol" --liquid Wilson --P 1atm --out residue.png'


class Kind(StrEnum):
    """Diagrams of two components."""

    TXY = "Txy"
    PXY = "Pxy"
    XY = "xy"
    PRESSURES = "pressures"
    GAMMA = "gamma"
    GMIX = "Gmix"
    EXCESS = "excess"


@on_components
def diagram(
    system: Any,
    kind: Annotated[Kind, typer.Option("--kind", help="Which diagram.", case_sensitive=False)] = Kind.TXY,
    T: Annotated[str | None, typer.Option("--T", help="Temperature: '60degC'.")] = None,
    P: Annotated[str | None, typer.Option("--P", help="Absolute pressure: '1atm'.")] = None,
    points: Annotated[int, typer.Option("--points", help="How many points the curves have.")] = 101,
    data: Annotated[
        Path | None, typer.Option("--data", help="CSV or XLSX file of measured points: x (first component) beside y, T or P.")
    ] = None,
) -> Any:
    """A diagram of two components, with liquid splits and azeotropes in it."""
    return system.diagram(kind.value, T=T, P=P, points=points, data=data)


@on_components
def melting_diagram(
    system: Any,
    P: Annotated[str, typer.Option("--P", help="Absolute pressure: '1atm'.")] = "1 atm",
    points: Annotated[int, typer.Option("--points", help="How many points the curves have.")] = 101,
    data: Annotated[str | None, typer.Option("--data", help="Measured solubilities to draw over.")] = None,
) -> Any:
    """Where liquids of two components begin to freeze, with eutectics, and liquids that part while one of them freezes."""
    from ..data_sets import read_data

    return system.melting_diagram(P=P, points=points), {"data": None if data is None else read_data(data)}


@on_components
def liquid_map(
    system: Any,
    T: Annotated[str, typer.Option("--T", help="Temperature of the liquids.")] = "25 degC",
    P: Annotated[str, typer.Option("--P", help="Absolute pressure.")] = "1 atm",
) -> Any:
    """The liquids that three components form: binodal, tie lines, plait points."""
    return system.liquid_map(T=T, P=P)


@on_components
def freezing_map(system: Any, P: Annotated[str, typer.Option("--P", help="Absolute pressure.")] = "1 atm") -> Any:
    """How three components freeze: first solids over the triangle, valleys, the ternary eutectic."""
    return system.freezing_map(P=P)


@on_components
def boiling_map(system: Any, P: Annotated[str, typer.Option("--P", help="Absolute pressure.")] = "1 atm") -> Any:
    """How three components boil: residue curves, azeotropes, boundaries of distillation."""
    return system.boiling_map(P=P)
