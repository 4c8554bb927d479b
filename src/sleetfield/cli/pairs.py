"""``sleetfield pairs``: binary parameters of every model family: list them, keep your own, take them out, hand them on."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

import typer

from .answers import answering, deliver, show_table
from .options import AsJson, Layer, OutFiles, Overwrite, pair_entry, parameters_entry

app = typer.Typer(help="Binary parameters: look them up, keep your own.", no_args_is_help=True)

ModelName = Annotated[str, typer.Argument(metavar="MODEL", help="Such as NRTL, or PR for interaction parameters.")]
Which = Annotated[Layer, typer.Option("--layer", help="The user's folder, or this case's, which goes before it.")]
Names = Annotated[list[str] | None, typer.Argument(metavar="[NAME]...", help="One component or two; all where none is named.")]
OneModel = Annotated[str | None, typer.Option("--model", help="Those of one model.")]


@app.command("list", epilog="Example: sleetfield pairs list ethanol water")
@answering
def list_pairs(names: Names = None, model: OneModel = None) -> None:
    """What the bank has of components: the numbers as published, range, layer and source; of several sets the first is taken."""
    import pandas as pd

    from ..pairs import pair_records
    from ..text import numbered

    found = pair_records(model, *(names or []))
    marks, sources = numbered([r.parameters.source for r in found])
    frame = pd.DataFrame(
        {
            "model": [r.model for r in found],
            "first": [r.first for r in found],
            "second": [r.second for r in found],
            "parameters": [str(r.parameters) for r in found],
            "from T [K]": [r.parameters.T_min for r in found],
            "to T [K]": [r.parameters.T_max for r in found],
            "layer": [r.parameters.layer for r in found],
            "source": marks,
        }
    )
    of = f" of {' and '.join(names)}" if names else ""
    show_table(f"Binary parameters{of}", frame, [] if found else ["The bank has none."])
    for source in sources:
        typer.echo(source)


@app.command(
    epilog="Example: sleetfield pairs store NRTL 'ethanol / water = -109.6, 1332.3, 0.303 cal/mol' --source 'lab 2' --layer case"
)
@answering
def store(
    model: ModelName,
    entry: Annotated[str, typer.Argument(metavar="PAIR", help="As for --parameters or --kij of other commands.")],
    source: Annotated[str, typer.Option("--source", help="Where the numbers came from.")],
    lowest: Annotated[str | None, typer.Option("--T-min", help="Lowest temperature that they hold at: '60degC'.")] = None,
    highest: Annotated[str | None, typer.Option("--T-max", help="Highest temperature.")] = None,
    layer: Which = Layer.USER,
    overwrite: Overwrite = False,
) -> None:
    """Keep a pair's parameters: every system that takes the bank's gets them."""
    from dataclasses import replace

    from ..errors import InputError
    from ..pairs import PairParameters, store_pair
    from ..recipes import names_of

    if model in names_of("eos"):
        pair, value = pair_entry("PAIR", entry)
        one = PairParameters(kij=value)
    elif model in names_of("liquid"):
        pair, one = parameters_entry(entry)
    else:
        raise InputError(f"There is no model {model!r}. There are {', '.join([*names_of('eos'), *names_of('liquid')])}.")
    one = replace(one, source=source, T_min=lowest, T_max=highest)
    typer.echo(f"wrote {store_pair(model, pair, one, layer.value, overwrite=overwrite)}")


@app.command(
    epilog="Example: sleetfield pairs readings NRTL 'ethanol / water = 1332.3, -109.6, 0.303 cal/mol' --gamma-infinity '70 degC: 5.4, 2.6'"
)
@answering
def readings(
    model: ModelName,
    entry: Annotated[str, typer.Argument(metavar="PAIR", help="The numbers as one would read them, as for --parameters.")],
    gamma_infinity: Annotated[
        str | None, typer.Option("--gamma-infinity", help="Published along, of both at infinite dilution: '70 degC: 5.4, 2.6'.")
    ] = None,
    azeotrope: Annotated[
        str | None, typer.Option("--azeotrope", help="Published along, fraction of the first: '78.2 degC: 0.9'.")
    ] = None,
    out: OutFiles = None,
    overwrite: Overwrite = False,
    as_json: AsJson = False,
) -> None:
    """Which order, sign and unit the numbers of a paper are in, by what was published along or by the bank's set."""
    from dataclasses import replace

    from ..calculations.pair_readings import pair_readings

    pair, one = parameters_entry(entry)
    along = {"gamma_infinity": _at(gamma_infinity, "--gamma-infinity", 2), "azeotrope": _at(azeotrope, "--azeotrope", 1)}
    deliver(lambda: (pair_readings(model, pair, replace(one, **along)), {}), out, overwrite, as_json)


def _at(entry: str | None, option: str, count: int) -> Any:
    """A temperature and numbers at it, from ``70 degC: 5.4, 2.6``."""
    from ..errors import InputError

    if entry is None:
        return None
    T, _, rest = entry.partition(":")
    try:
        numbers = [float(part) for part in rest.split(",")]
    except ValueError:
        numbers = []
    if len(numbers) != count:
        raise InputError(f"{option} {entry!r} is not understood. Write it like '70 degC: {'5.4, 2.6' if count == 2 else '0.9'}'.")
    return (T.strip(), *numbers)


@app.command(epilog="Example: sleetfield pairs remove NRTL ethanol water --layer case")
@answering
def remove(
    model: ModelName,
    first: Annotated[str, typer.Argument(metavar="NAME")],
    second: Annotated[str, typer.Argument(metavar="NAME")],
    layer: Which = Layer.USER,
) -> None:
    """Take a pair's parameters out of your bank; what is shipped holds again."""
    from ..pairs import remove_pair

    typer.echo(f"removed {remove_pair(model, (first, second), layer.value)}")


@app.command(epilog="Example: sleetfield pairs write ethanol --out ethanol_pairs.toml")
@answering
def write(
    out: Annotated[Path, typer.Option("--out", help="A .toml file.")],
    names: Names = None,
    model: OneModel = None,
    overwrite: Overwrite = False,
) -> None:
    """Parameters that are taken for each pair into a file, with every source, to be changed and added again."""
    from ..pairs import pair_records, write_pairs

    taken = {(r.model, frozenset((r.first, r.second))): r for r in reversed(pair_records(model, *(names or [])))}
    typer.echo(f"wrote {write_pairs(reversed(taken.values()), out, overwrite=overwrite)}")


@app.command(epilog="Example: sleetfield pairs store-file ethanol_pairs.toml --layer case")
@answering
def store_file(
    file: Annotated[Path, typer.Argument(metavar="FILE", help="Pairs in a .toml file.")],
    layer: Which = Layer.USER,
    overwrite: Overwrite = False,
) -> None:
    """Parameters from a file into your bank: all of them, or none where one is wrong."""
    from ..pairs import read_pairs, store_pairs

    for path in store_pairs(read_pairs(file), layer.value, overwrite=overwrite):
        typer.echo(f"wrote {path}")
