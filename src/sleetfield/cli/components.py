"""``sleetfield components``: find, show, audit; add, change, remove, export; estimate one that is missing."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from .answers import answering, deliver, show_table
from .options import AsJson, Insist, Layer, OutFiles, Overwrite, StoreIn

app = typer.Typer(help="Look up pure components, add your own, check the databank.", no_args_is_help=True)

UNREAD = "Shipped values are held against second relations, but were entered from memory and not proofread against the pages named."

if TYPE_CHECKING:
    from ..components import Component
    from ..components.component import Row

Text = Annotated[str, typer.Argument(metavar="NAME", help="A name, alias, CAS number or formula.")]
Which = Annotated[Layer, typer.Option("--layer", help="The user's folder, or this case's, which goes before it.")]


@app.command(epilog="Example: sleetfield components find butanol")
@answering
def find(text: Text) -> None:
    """Components that a name, part of a name, CAS number or formula could mean."""
    import pandas as pd

    from ..components import databank
    from ..errors import InputError

    found = databank().search(text)
    if not found:
        raise InputError(f"Nothing in the databank is like {text!r}. It holds {len(databank())} components.")
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
@answering
def show(text: Text) -> None:
    """All that is known of one component, and where each number came from."""
    from ..components import databank

    _show(databank().find(text))


def _show(component: Component) -> None:
    from ..text import Grid, numbered

    rows = component.rows()
    marks, sources = numbered([row.source for row in rows])
    cited = [row._replace(source=f"{row.layer} {mark}") for row, mark in zip(rows, marks, strict=True)]

    def table(rows: list[Row], label: str, *columns: str) -> Grid:
        return Grid(list(columns), [[getattr(row, c) for c in columns] for row in rows], [getattr(row, label) for row in rows])

    constants = table([row for row in cited if not row.equation], "quantity", "name", "value", "source")
    correlations = table([row for row in cited if row.equation], "name", "value", "equation", "range", "source")
    also = f"; also {', '.join(component.aliases)}" if component.aliases else ""
    structure = f"; {component.smiles}" if component.smiles else ""
    show_table(
        f"{component.name}, {component.formula}, CAS {component.cas or 'unknown'}{structure}{also}",
        constants,
        [],
        [("Equations", correlations)],
    )
    for source in sources:
        typer.echo(source)
    if any(row.layer == "shipped" for row in rows):
        typer.echo(UNREAD)


@app.command(epilog="Example: sleetfield components alike toluene --most 10 --out alike.png")
def alike(
    text: Annotated[
        str, typer.Argument(metavar="TARGET", help="A component, or dispersion, polar, hydrogen bonding: '18, 10, 8 MPa^0.5'.")
    ],
    among: Annotated[str | None, typer.Option("--among", help="What is ranked: 'acetone + ethanol + n-hexane'. Else all.")] = None,
    most: Annotated[int, typer.Option("--most", help="How many are listed.")] = 20,
    out: OutFiles = None,
    overwrite: Overwrite = False,
    as_json: AsJson = False,
) -> None:
    """Substances whose solubility parameters are nearest: what may stand in for a solvent, or dissolve something."""
    import sleetfield as sl

    chosen = None if among is None else [name.strip() for name in among.split("+")]
    deliver(lambda: (sl.alike(_target(text), among=chosen, most=most), {}), out, overwrite, as_json)


def _target(text: str) -> str | list[str]:
    """A name, or three parts of a solubility parameter where it ends in their unit."""
    *first, last = (part.strip() for part in text.split(","))
    unit = last.partition(" ")[2]
    return [*(f"{part} {unit}" for part in first), last] if unit.endswith("Pa^0.5") else text


@app.command(epilog="Example: sleetfield components audit")
@answering
def audit(
    names: Annotated[
        list[str] | None, typer.Argument(metavar="[NAME]...", help="Which components; all where none is named.")
    ] = None,
) -> None:
    """Check components against themselves; exit status 1 where something does not agree."""
    from ..components import databank
    from ..components.audit import audit as run

    bank = databank()
    chosen = [bank.find(name) for name in names] if names else list(bank)
    findings = run(chosen)
    for f in findings:
        kind = f"exception: {f.reason}" if f.reason else "WRONG"
        typer.echo(f"{f.component}: {f.check}: {f.message} ({kind})")
    wrong = sum(1 for f in findings if not f.reason)
    typer.echo(f"{len(chosen)} components audited: {wrong} findings, {len(findings) - wrong} recorded exceptions.")
    if wrong:
        raise typer.Exit(1)


@app.command(epilog="Example: sleetfield components store my_solvents.csv --layer case")
@answering
def store(
    file: Annotated[Path, typer.Argument(metavar="FILE", help="Components in a .toml, .csv or .xlsx file.")],
    layer: Which = Layer.USER,
    insist: Insist = False,
    overwrite: Overwrite = False,
) -> None:
    """Components from a file into your databank: all of them, or none where one is wrong."""
    from ..components import read_components, store_components

    for path in store_components(read_components(file), layer.value, insist=insist, overwrite=overwrite):
        typer.echo(f"wrote {path}")


@app.command(epilog='Example: sleetfield components change acetone --set "Tc = 508.3 K" --source "lab 2" --layer case')
@answering
def change(
    text: Text,
    source: Annotated[str, typer.Option("--source", help="Where the values came from.")],
    values: Annotated[list[str] | None, typer.Option("--set", help="A value, such as 'Tc = 508.3 K'. Repeatable.")] = None,
    anchor: Annotated[
        str | None,
        typer.Option("--anchor", help="A measured vapor pressure, '25degC, 30.8kPa', that the curve is shifted through."),
    ] = None,
    layer: Which = Layer.USER,
    insist: Insist = False,
) -> None:
    """Other values for a component, in your databank; the shipped one stays as it is below."""
    from ..anchoring import anchored
    from ..components import databank, store_component
    from ..errors import InputError

    if not values and anchor is None:
        raise InputError("Say what to change: --set 'Tc = 508.3 K', or --anchor '25degC, 30.8kPa'.")
    changes = {}
    for entry in values or []:
        key, equals, value = entry.partition("=")
        if not equals:
            raise InputError(f"--set {entry!r} is not understood. Write it like 'Tc = 508.3 K'.")
        changes[key.strip()] = value.strip()
    changed = databank().find(text).changed(source=source, **changes)
    if anchor is not None:
        at, _, pressure = anchor.partition(",")
        changed = anchored(changed, T=at.strip(), P=pressure.strip(), source=source)
    typer.echo(f"wrote {store_component(changed, layer.value, insist=insist, overwrite=True)}")


@app.command(epilog="Example: sleetfield components remove acetone --layer case")
@answering
def remove(text: Text, layer: Which = Layer.USER) -> None:
    """Take a component out of your databank; what is shipped holds again."""
    from ..components import remove_component

    typer.echo(f"removed {remove_component(text, layer.value)}")


@app.command(epilog="Example: sleetfield components write acetone ethanol --out solvents.csv")
@answering
def write(
    names: Annotated[list[str], typer.Argument(metavar="NAME...", help="Which components.")],
    out: Annotated[Path, typer.Option("--out", help="A .toml or .csv file.")],
    overwrite: Overwrite = False,
) -> None:
    """Components into a file, with every source, to be changed and added again."""
    from ..components import databank, write_components

    typer.echo(f"wrote {write_components([databank().find(n) for n in names], out, overwrite=overwrite)}")


@app.command(
    epilog='Example: sleetfield components estimate 2-ethylphenol --groups "CH3 + CH2 + 4 ring =CH + 2 ring =C + phenol OH" --Tb 477.7K'
)
@answering
def estimate(
    name: Annotated[str, typer.Argument(metavar="NAME", help="What to call it.")],
    groups: Annotated[str | None, typer.Option("--groups", help="Its groups: '2 CH3 + 3 CH2 + OH'.")] = None,
    smiles: Annotated[str | None, typer.Option("--smiles", help="Its structure instead: 'CCCCCO'. Needs RDKit.")] = None,
    boiling_point: Annotated[str | None, typer.Option("--Tb", help="Normal boiling point, if it was measured.")] = None,
    omega: Annotated[
        str, typer.Option("--omega", help="How the acentric factor follows: Lee-Kesler or Ambrose-Walton.")
    ] = "Lee-Kesler",
    method: Annotated[str, typer.Option("--method", help="Whose groups: Joback or Constantinou-Gani.")] = "Joback",
    store_in: StoreIn = None,
    insist: Insist = False,
    overwrite: Overwrite = False,
) -> None:
    """A component that no table has, from its groups or its structure (Joback and Reid; Constantinou and Gani)."""
    from ..components import estimate_from_groups, estimate_from_structure, store_component
    from ..errors import InputError

    if (groups is None) == (smiles is None):
        raise InputError("Give either --groups or --smiles.")
    if smiles is not None:
        made = estimate_from_structure(name, smiles, Tb=boiling_point, omega=omega, method=method)
    else:
        made = estimate_from_groups(name, groups or "", Tb=boiling_point, omega=omega, method=method)
    _show(made)
    if store_in is not None:
        typer.echo(f"wrote {store_component(made, store_in.value, insist=insist, overwrite=overwrite)}")
