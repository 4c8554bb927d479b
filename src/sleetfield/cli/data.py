"""``sleetfield data``: measurements: look at them, test them, keep them, change their form."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

import typer

from .answers import answering, deliver, show_table
from .options import AsJson, Layer, OutFiles, Overwrite, Told, on_components

app = typer.Typer(help="Measurements: list, show, test, convert, keep.", no_args_is_help=True)

File = Annotated[Path, typer.Argument(metavar="FILE", help="A .csv, .tsv, .txt, .xlsx or ThermoML (.xml) file.")]
Components = Annotated[
    str | None,
    typer.Option(
        "--components", help="All components, where the file does not name the one that is the rest: 'acetone + 1-butanol'."
    ),
]
Names = Annotated[list[str] | None, typer.Argument(metavar="[NAME]...", help="Components; all where none is named.")]


@app.command("list", epilog="Example: sleetfield data list acetone --kind vapor-liquid")
@answering
def list_data(
    names: Names = None,
    kind: Annotated[str | None, typer.Option("--kind", help="Those of one kind, such as liquid-liquid.")] = None,
) -> None:
    """What is kept in the user's and the case's folder, and what is shipped: components, kind, number of points, ranges, source."""
    import pandas as pd

    from ..data_sets import data_records
    from ..text import numbered
    from ..units import from_si

    found = data_records(*(names or []), kind=kind)
    marks, sources = numbered([r.source for r in found])
    frame = pd.DataFrame(
        {
            "components": [" + ".join(r.names) for r in found],
            "kind": [r.kind for r in found],
            "points": [str(r.points) for r in found],
            "T [degC]": [_range(r.T, "temperature", from_si) for r in found],
            "P [bar]": [_range(r.P, "pressure", from_si) for r in found],
            "layer": [r.layer for r in found],
            "name": [r.name for r in found],
            "source": marks,
        }
    )
    of = f" of {' and '.join(names)}" if names else ""
    show_table(f"Measurements{of}", frame, [] if found else ["There are none; keep some with `sleetfield data store FILE`."])
    for source in sources:
        typer.echo(source)


def _range(ends: tuple[float, float], dimension: str, convert: Any) -> str:
    low, high = (f"{float(v):.4g}" for v in convert(list(ends), dimension, "metric"))
    return "" if low == "nan" else low if low == high else f"{low} to {high}"


@app.command(epilog="Example: sleetfield data show marlwick-demo/lab_2_1-butanol_water_solubility.csv --out solubility.png")
@answering
def show(
    files: Annotated[list[Path], typer.Argument(metavar="FILE...", help="Files of one kind and of the same components.")],
    components: Components = None,
    out: OutFiles = None,
    overwrite: Overwrite = False,
    as_json: AsJson = False,
) -> None:
    """The points of files as they are understood."""
    from ..calculations.fitting import data_table

    deliver(lambda: (data_table([read_file(file, components) for file in files]), {}), out, overwrite, as_json)


CONSISTENCY_EXAMPLE = 'Example: sleetfield data consistency "acetone + 1-butanol" --liquid ideal --vapor virial --data marlwick-demo/bench_still_acetone_1-butanol.csv --out area.png'


@on_components
def consistency(
    chosen: Any,
    *,
    data: Annotated[Path, typer.Option("--data", help="Vapor and liquid of two components, with T, P, x and y.")],
    excess_enthalpy: Annotated[
        Path | None, typer.Option("--excess-enthalpy", help="Measured excess enthalpies, for the area test of an isobar.")
    ] = None,
    without: Annotated[
        list[str] | None, typer.Option("--without", help="Points to leave out, with a reason: '3, 7: stray'.")
    ] = None,
    figure: Annotated[str, typer.Option("--figure", help="What --out draws: area or points.")] = "area",
) -> Any:
    """Thermodynamic consistency of measured boiling points: area, point to point, infinite dilution, pure ends."""
    from ..calculations.consistency import consistency as calculate

    enthalpies = None if excess_enthalpy is None else read_file(excess_enthalpy, None, chosen.names)
    return calculate(chosen, left_out(read_file(data, None, chosen.names), without), excess_enthalpy=enthalpies), {"figure": figure}


app.command("consistency", cls=Told, epilog=CONSISTENCY_EXAMPLE)(consistency)


@app.command(epilog="Example: sleetfield data convert marlwick-demo/bench_still_acetone_1-butanol.csv bench_still.xml")
@answering
def convert(
    file: File,
    to: Annotated[Path, typer.Argument(metavar="TO", help="A .csv or ThermoML (.xml) file.")],
    components: Components = None,
    overwrite: Overwrite = False,
) -> None:
    """The points of a file in another form; of a ThermoML file with several sets, each into a file of its own."""
    from ..data_sets import read_thermoml, write_data

    if file.suffix.lower() != ".xml":
        typer.echo(f"wrote {write_data(read_file(file, components), to, overwrite=overwrite)}")
        return
    found = read_thermoml(file)
    for reason in found.skipped:
        typer.echo(f"skipped {reason}", err=True)
    for i, data in enumerate(found.sets, start=1):
        path = to if len(found.sets) == 1 else to.with_name(f"{to.stem}_{i}{to.suffix}")
        typer.echo(f"wrote {write_data(data, path, overwrite=overwrite)}")


@app.command(epilog="Example: sleetfield data store marlwick-demo/lab_2_benzoic_acid_in_ethanol.csv --layer case")
@answering
def store(
    file: File,
    components: Components = None,
    layer: Annotated[Layer, typer.Option("--layer", help="The user's folder, or this case's.")] = Layer.USER,
    overwrite: Overwrite = False,
) -> None:
    """Keep the points of a file."""
    from ..data_sets import read_thermoml, store_data

    sets = read_thermoml(file).sets if file.suffix.lower() == ".xml" else [read_file(file, components)]
    for data in sets:
        typer.echo(f"wrote {store_data(data, layer.value, overwrite=overwrite)}")


@app.command(epilog="Example: sleetfield data remove benzoic-acid-ethanol--solid-liquid--lab-2 --layer case")
@answering
def remove(
    name: Annotated[str, typer.Argument(metavar="NAME", help="Its name in `sleetfield data list`.")],
    layer: Annotated[Layer, typer.Option("--layer", help="The user's folder, or this case's.")] = Layer.USER,
) -> None:
    """Take kept points out of a folder again."""
    from ..data_sets import remove_data

    typer.echo(f"removed {remove_data(name, layer.value)}")


def read_file(path: Path, components: str | None, names: Any = None) -> Any:
    """The set of a file, its components as written on the command line or those of a system."""
    from ..composition import parse_names
    from ..data_sets import read_data

    return read_data(path, names if components is None else parse_names(components))


def left_out(data: Any, without: list[str] | None) -> Any:
    """A set without the points of entries such as ``3, 7: stray``.

    Raises
    ------
    InputError
        If one is not understood.
    """
    from ..errors import InputError

    for entry in without or []:
        numbers, _, reason = entry.partition(":")
        try:
            points = [int(part) for part in numbers.split(",")]
        except ValueError:
            raise InputError(f"--without {entry!r} is not understood. Write it like '3, 7: stray'.") from None
        data = data.without(points, reason.strip() or "left out by hand")
    return data
