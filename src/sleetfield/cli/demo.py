"""``sleetfield demo``."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from .options import Overwrite, fail

EXAMPLE = "Example: sleetfield demo --folder marlwick-demo"


def demo(
    folder: Annotated[Path, typer.Option("--folder", help="Folder to write tables, figures and the summary into.")] = Path(
        "marlwick-demo"
    ),
    overwrite: Overwrite = False,
) -> None:
    """The Marlwick boiler-gas line: will it drop liquid this winter?"""
    from ..demo.boiler_gas import run
    from ..errors import SleetfieldError

    try:
        typer.echo(run(folder, overwrite))
    except SleetfieldError as error:
        fail(error)
