"""``sleetfield regress``."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

import typer

from .options import StoreIn, on_components

EXAMPLE = 'Example: sleetfield regress "acetone + 1-butanol" --liquid NRTL --data marlwick-demo/bench_still_acetone_1-butanol.csv --fit tau --out fit.png'


@on_components
def regress(
    chosen: Any,
    *,
    data: Annotated[
        list[Path],
        typer.Option(
            "--data",
            help="Measured points: a .csv or .xlsx file with columns such as 'T [degC]', 'P [kPa]', 'x acetone', 'y acetone'. Repeatable.",
        ),
    ],
    fit: Annotated[
        list[str],
        typer.Option(
            "--fit",
            help="A parameter, as `sleetfield parameters` names it, or a symbol for all of its kind: 'tau', 'kij', 'tau slope'. Repeatable.",
        ),
    ],
    loss: Annotated[str, typer.Option("--loss", help="squares; or stray points, which then pull less.")] = "squares",
    leave_out: Annotated[
        list[str] | None,
        typer.Option("--leave-out", help="Points of the first file to leave out, with a reason: '3, 7: stray'. Repeatable."),
    ] = None,
    figure: Annotated[str, typer.Option("--figure", help="What --out draws: data or residuals.")] = "data",
    store_in: StoreIn = None,
) -> Any:
    """Parameters of a model fitted to measured vapor-liquid equilibria, with how sure they are and how well they follow the points."""
    from ..calculations.fitting import regress as run
    from ..data_sets import read_data

    sets = [read_data(path, chosen.names) for path in data]
    for entry in leave_out or []:
        sets[0] = sets[0].without(*_points(entry))
    found = run(chosen, sets, fit=fit, loss=loss)
    if store_in is not None:
        for path in found.store(store_in.value):
            typer.echo(f"wrote {path}", err=True)
    return found, {"figure": figure}


def _points(entry: str) -> tuple[list[int], str]:
    """Numbers of points and the reason, from ``3, 7: stray``."""
    from ..errors import InputError

    numbers, _, reason = entry.partition(":")
    try:
        return [int(part) for part in numbers.split(",")], reason.strip() or "left out by hand"
    except ValueError:
        raise InputError(f"--leave-out {entry!r} is not understood. Write it like '3, 7: stray'.") from None
