"""``sleetfield flash-file``: many states from a file."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Annotated, Any

import typer

from .options import Basis, on_components

EXAMPLE = 'Example: sleetfield flash-file "methane + propane + n-heptane" --eos PR --file feeds.csv --into states.csv'


@on_components
def flash_file(
    system: Any,
    *,
    file: Annotated[
        Path,
        typer.Option(
            "--file",
            help="A .csv, .xlsx or .parquet file: two of T, P, H, ... with units, 'T [degC]', and components by fraction or flow.",
        ),
    ],
    into: Annotated[Path, typer.Option("--into", help="The same rows with properties: .csv, .xlsx or .parquet.")],
    properties: Annotated[list[str] | None, typer.Option("--property", help="As for `sleetfield table`. Repeatable.")] = None,
    basis: Annotated[
        Basis, typer.Option("--basis", help="Whether fractions are by mole or mass.", case_sensitive=False)
    ] = Basis.MOLE,
    workers: Annotated[int, typer.Option("--workers", min=1, help="Processes that work on it.")] = 1,
    overwrite: bool,
) -> Any:
    """States of many feeds, a row each: the rows come back with properties, bad ones with their reason. Interrupted, it goes on where it was."""
    from concurrent.futures import ProcessPoolExecutor
    from contextlib import nullcontext

    from ..many_feeds import USUAL, flash_file as calculate

    with ProcessPoolExecutor(workers) if workers > 1 else nullcontext() as executor:
        return calculate(
            system,
            file,
            into,
            properties=properties or USUAL,
            basis=basis.value,
            executor=executor,
            overwrite=overwrite,
            progress=_progress if sys.stderr.isatty() else None,
        )


def _progress(rows: int) -> None:
    typer.echo(f"\r{rows} rows", err=True, nl=False)
