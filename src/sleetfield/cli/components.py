"""``sleetfield components``: find, show, audit."""

from __future__ import annotations

from typing import Annotated

import typer

from .options import fail, show_table

app = typer.Typer(help="Look up pure components; check the databank.", no_args_is_help=True)

Text = Annotated[str, typer.Argument(metavar="NAME", help="A name, alias, CAS number or formula.")]


@app.command(epilog="Example: sleetfield components find butanol")
def find(text: Text) -> None:
    """Components that a name, part of a name, CAS number or formula could mean."""
    import pandas as pd

    from ..components import databank
    from ..errors import SleetfieldError

    found = databank().search(text)
    if not found:
        fail(SleetfieldError(f"Nothing in the databank is like {text!r}. It holds {len(databank())} components."))
    frame = pd.DataFrame(
        {
            "formula": [c.formula for c in found],
            "CAS": [c.cas for c in found],
            "Tc [K]": [c.Tc for c in found],
            "Pc [Pa]": [c.Pc for c in found],
            "omega": [c.omega for c in found],
            "Tb [K]": [c.Tb for c in found],
            "also": [", ".join(c.aliases) for c in found],
        },
        index=[c.name for c in found],
    )
    show_table(f"Components like {text}", frame, [])


@app.command(epilog='Example: sleetfield components show "n-heptane"')
def show(text: Text) -> None:
    """All that is known of one component, and where each number came from."""
    import pandas as pd

    from ..components import databank
    from ..errors import SleetfieldError

    try:
        component = databank().find(text)
    except SleetfieldError as error:
        fail(error)
    rows = component.rows()
    sources = list(dict.fromkeys(row[3] for row in rows))
    frame = pd.DataFrame(
        {
            "value": [row[1] for row in rows],
            "unit or range": [row[2] for row in rows],
            "source": [f"[{sources.index(row[3]) + 1}]" for row in rows],
        },
        index=[row[0] for row in rows],
    )
    also = f"; also {', '.join(component.aliases)}" if component.aliases else ""
    show_table(f"{component.name}, {component.formula}, CAS {component.cas}{also} ({component.layer} databank)", frame, [])
    for i, source in enumerate(sources, start=1):
        typer.echo(f"[{i}] {source}")


@app.command(epilog="Example: sleetfield components audit")
def audit() -> None:
    """Check every component against itself; exit status 1 where something does not agree."""
    from ..components import databank
    from ..components.audit import audit as run

    findings = run(databank())
    for f in findings:
        kind = f"exception: {f.reason}" if f.reason else "WRONG"
        typer.echo(f"{f.component}: {f.check}: {f.message} ({kind})")
    wrong = sum(1 for f in findings if not f.reason)
    typer.echo(f"{len(databank())} components audited: {wrong} findings, {len(findings) - wrong} recorded exceptions.")
    if wrong:
        raise typer.Exit(1)
