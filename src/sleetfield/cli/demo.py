"""``sleetfield demo``."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from .answers import answering, show
from .options import Overwrite
from .studies import progress

EXAMPLE = "Example: sleetfield demo --folder marlwick-demo"


@answering
def demo(
    folder: Annotated[Path, typer.Option("--folder", help="Folder for the study, its measurements and its results.")] = Path(
        "marlwick-demo"
    ),
    overwrite: Overwrite = False,
) -> None:
    """The Marlwick Works as one study: which model, how sure, what columns, decanter, drum, gas line and crystallizer do."""
    from ..demo.marlwick import run

    done = run(folder, overwrite, progress())
    show(done)
    if done.failed:
        raise typer.Exit(1)
