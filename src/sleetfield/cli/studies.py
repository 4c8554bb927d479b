"""``sleetfield new-study``, ``run``, ``lock``, ``compare-runs`` and ``schema``: work that is kept in one file."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from .answers import answering, asked, deliver, show
from .options import AsJson, OutFiles, Overwrite, Units

if TYPE_CHECKING:
    from ..studies import Study
    from ..studies.running import Progress

NEW_EXAMPLE = 'Example: sleetfield new-study column.toml --components "1-butanol + water" --T "25 to 95 degC in 2" --P 1atm --purpose distillation'
RUN_EXAMPLE = "Example: sleetfield run drum.toml --folder drum"
LOCK_EXAMPLE = "Example: sleetfield lock drum.toml --out locked.toml"
COMPARE_EXAMPLE = "Example: sleetfield compare-runs drum drum-srk --out differences.xlsx"
SCHEMA_EXAMPLE = "Example: sleetfield schema --out study.schema.json"

File = Annotated[Path, typer.Argument(metavar="STUDY", help="A study's file.")]


@answering
def new_study(
    file: Annotated[Path, typer.Argument(metavar="FILE", help="The study's file that is to be written.")],
    components: Annotated[str | None, typer.Option("--components", help="Such as 'acetone + 1-butanol + water'.")] = None,
    T: Annotated[str | None, typer.Option("--T", help="Temperature, or '20 to 100 degC in 2'.")] = None,
    P: Annotated[str | None, typer.Option("--P", help="Pressure, or a range.")] = None,
    purpose: Annotated[
        str | None,
        typer.Option("--purpose", help="vapor-liquid, liquid-liquid, distillation, enthalpy, density, envelope or solids."),
    ] = None,
    feed: Annotated[str | None, typer.Option("--feed", help="Composition: '0.2 acetone + rest water'.")] = None,
    flow: Annotated[str | None, typer.Option("--flow", help="Feed flow: '25 kmol/h'.")] = None,
    title: Annotated[str | None, typer.Option("--title", help="Of the study.")] = None,
    units: Annotated[Units, typer.Option("--units", help="Units that results are shown in.", case_sensitive=False)] = Units.METRIC,
    overwrite: Annotated[bool, typer.Option("--overwrite", help="Replace the file if it exists.")] = False,
) -> None:
    """A commented study to begin with: a model with its reasons, and the usual tasks. What is not given is asked for."""
    from ..composition import parse, parse_names
    from ..studies import new_study as started

    alone = components is None and feed is None
    names = (
        list(parse(feed))
        if feed and not components
        else parse_names(asked(components, "--components", "Which components ('acetone + water')?", NEW_EXAMPLE))
    )
    where = {
        "T": asked(T, "--T", "At which temperature, or from which to which ('20 to 100 degC in 2')?", NEW_EXAMPLE),
        "P": asked(P, "--P", "At which pressure?", NEW_EXAMPLE),
    }
    wanted = purpose or (
        asked(None, "--purpose", "What for?", NEW_EXAMPLE, "vapor-liquid") if alone and sys.stdin.isatty() else "vapor-liquid"
    )
    study = started(names, **where, purpose=wanted, feed=feed, flow=flow, title=title, units=units.value, name=file.name)
    typer.echo(f"wrote {study.save(file, overwrite=overwrite)}; read it, then: sleetfield run {file}")


@answering
def run(
    file: File,
    folder: Annotated[
        Path | None, typer.Option("--folder", help="Folder for results; the study's name without .toml by default.")
    ] = None,
    changed_only: Annotated[
        bool, typer.Option("--changed-only", help="Calculate again only what has changed since the last run.")
    ] = False,
    swap: Annotated[
        list[str] | None,
        typer.Option(
            "--model", help="Another model in one of the systems: 'column: liquid = UNIQUAC, vapor = virial'. Repeatable."
        ),
    ] = None,
    overwrite: Annotated[
        bool, typer.Option("--overwrite", help="Do everything again, and replace results that are there.")
    ] = False,
    as_json: AsJson = False,
) -> None:
    """Do all that a study says: tables, figures, a report and a workbook, in one folder."""
    from ..studies import read_study

    study = _with_models(read_study(file), swap or [])
    into = folder or file.with_suffix("")
    done = study.run(into, changed_only=changed_only, overwrite=overwrite, progress=progress())
    if as_json:
        import json

        typer.echo(json.dumps(done.to_dict(), ensure_ascii=False))
    else:
        show(done)
    if done.failed:
        raise typer.Exit(1)


@answering
def lock(
    file: File,
    out: Annotated[Path | None, typer.Option("--out", help="Where to; the study's own file by default.")] = None,
    overwrite: Overwrite = False,
) -> None:
    """Write the numbers themselves into a study, so that a later databank can't change it unnoticed."""
    from ..studies import read_study

    locked = read_study(file).locked()
    typer.echo(f"wrote {locked.save(out or file, overwrite=overwrite or out is None)}")


@answering
def compare_runs(
    first: Annotated[Path, typer.Argument(metavar="FOLDER", help="Of a run.")],
    second: Annotated[Path, typer.Argument(metavar="FOLDER", help="Of another: with another model, or of last year.")],
    out: OutFiles = None,
    overwrite: Overwrite = False,
    as_json: AsJson = False,
) -> None:
    """What differs between two runs of a study, number by number."""
    from ..studies import compare_runs as compared

    deliver(lambda: (compared(first, second), {}), out, overwrite, as_json)


@answering
def schema(
    out: Annotated[Path | None, typer.Option("--out", help="Where to; printed otherwise.")] = None, overwrite: Overwrite = False
) -> None:
    """The JSON Schema of studies, for editors that complete and check as one types."""
    from ..files import write_whole
    from ..studies import schema_text

    if out is None:
        typer.echo(schema_text(), nl=False)
        return
    write_whole(out, schema_text().encode(), overwrite)
    typer.echo(f"wrote {out}")


def _with_models(study: Study, swaps: list[str]) -> Study:
    """The study with other models, from entries such as ``column: liquid = UNIQUAC``."""
    from ..errors import InputError

    for entry in swaps:
        name, colon, rest = entry.partition(":")
        options = dict(part.partition("=")[::2] for part in rest.split(","))
        options = {k.strip(): v.strip() for k, v in options.items()}
        if not colon or not all(options.values()):
            raise InputError(f"--model {entry!r} is not understood. Write it like 'column: liquid = UNIQUAC, vapor = virial'.")
        study = study.with_model(name.strip(), **options)
    return study


def progress() -> Progress | None:
    """Whose turn it is, on standard error, where that is a terminal."""
    if not sys.stderr.isatty():
        return None
    return lambda done, count, name: typer.echo(f"{done + 1} of {count}: {name}" if name else f"all {count} done", err=True)


__all__: list[Any] = ["compare_runs", "lock", "new_study", "progress", "run", "schema"]
