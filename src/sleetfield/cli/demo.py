"""``sleetfield demo``."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from .answers import answering
from .options import Overwrite

EXAMPLE = "Example: sleetfield demo --folder marlwick-demo"


@answering
def demo(
    folder: Annotated[Path, typer.Option("--folder", help="Folder to write tables, figures and the summary into.")] = Path(
        "marlwick-demo"
    ),
    overwrite: Overwrite = False,
) -> None:
    """The Marlwick Works: will the boiler-gas line drop liquid this winter, and what do the solvents' measurements say?"""
    from ..demo.marlwick import run

    typer.echo(run(folder, overwrite))
