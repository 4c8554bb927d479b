"""How results and errors leave the program."""

from __future__ import annotations

import functools
import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn, ParamSpec

import typer

if TYPE_CHECKING:
    import pandas as pd

    from ..text import Grid

P = ParamSpec("P")


def answering(work: Callable[P, None]) -> Callable[P, None]:
    """A command that says what was wrong, with exit status 1 or 2, where ``work`` raises an error of Sleetfield's."""

    @functools.wraps(work)
    def command(*arguments: P.args, **options: P.kwargs) -> None:
        from ..errors import SleetfieldError

        try:
            work(*arguments, **options)
        except SleetfieldError as error:
            fail(error)

    return command


def asked(given: str | None, option: str, question: str, example: str, default: str | None = None) -> str:
    """What was given, or an answer from the terminal.

    Raises
    ------
    InputError
        If there is neither.
    """
    from ..errors import InputError

    if given is not None:
        return given
    if not sys.stdin.isatty():
        raise InputError(f"{option} is missing. {example}")
    return str(typer.prompt(question, default=default))


@answering
def deliver(calculate: Callable[[], tuple[Any, dict[str, Any]]], out: list[Path] | None, overwrite: bool, as_json: bool) -> None:
    """Calculate, show the result and write the files asked for."""
    _refuse_existing(out, overwrite)
    result, drawing = calculate()
    if as_json:
        import json

        from ..export import as_plain

        typer.echo(json.dumps(as_plain(result), ensure_ascii=False))
    else:
        show(result)
    for path in out or []:
        from ..export import FIGURES, save

        save(result, path, overwrite=overwrite, **(drawing if path.suffix.lower() in FIGURES else {}))
        typer.echo(f"wrote {path}", err=True)


def _refuse_existing(out: list[Path] | None, overwrite: bool) -> None:
    """Before long work: a file that may not be replaced."""
    from ..errors import InputError

    for path in out or []:
        if path.exists() and not overwrite:
            raise InputError(f"{path} exists already. Choose another name, or ask to overwrite it with --overwrite.")


def fail(error: Exception) -> NoReturn:
    """Print an error and leave: status 1 where a calculation failed, 2 where the input was wrong."""
    from ..errors import CalculationError

    typer.secho(f"Error: {error}", fg="red", err=True)
    sys.exit(1 if isinstance(error, CalculationError) else 2)


def show(result: Any) -> None:
    """A result on the terminal: title, table, notes."""
    from ..mixture import Mixture
    from ..results.base import Shown

    if isinstance(result, Mixture):
        typer.echo(str(result.model))
    elif isinstance(result, Shown):
        show_table(result.title(), result.printed(), result.notes, result.sections())
    else:
        show_table(str(result.attrs.get("title", "")), result, result.attrs.get("notes", []))


def show_table(title: str, whole: pd.DataFrame | Grid, notes: list[str], sections: Sequence[tuple[str, pd.DataFrame]] = ()) -> None:
    """Tables on the terminal; what is too wide for it goes on below, with temperature and pressure repeated."""
    from rich.console import Console
    from rich.text import Text

    console = Console(highlight=False, width=None if sys.stdout.isatty() else 160)
    console.print(Text(title, style="bold"))
    for heading, one in [("", whole), *sections]:
        if heading:
            console.print(Text(heading, style="bold"))
        cells = _cells(one)
        for part in _parts(cells, console.width) if any(cells.values()) else ():
            console.print(_rich_table({name: cells[name] for name in part}))
    for note in notes:
        console.print(Text(f"Note: {note}", style="yellow"))


def _cells(whole: pd.DataFrame | Grid) -> dict[str, list[str]]:
    """Columns of text by heading; the names of rows, where there are any, have the empty heading."""
    from ..text import Grid, number
    from ..units import pretty_heading

    grid = Grid.of(whole)
    named = {"": [pretty_heading(name) for name in grid.names]} if grid.names is not None else {}
    return named | {pretty_heading(h): [number(row[j]) for row in grid.rows] for j, h in enumerate(grid.headings)}


def _parts(cells: dict[str, list[str]], width: int) -> list[list[str]]:
    """Headings of the columns that fit side by side."""
    from ..text import is_number

    keys = [h for h in cells if h == "" or h.startswith(("T [", "P ["))]
    wide = {h: max(len(part) for part in (*h.split(), *column, "")) + 4 for h, column in cells.items()}
    # long text is folded
    wide = {h: w if all(is_number(cell) for cell in cells[h]) else min(w, width // 2) for h, w in wide.items()}
    parts = [list(keys)]
    for heading in (h for h in cells if h not in keys):
        if sum(wide[h] for h in parts[-1]) + wide[heading] > width - 4 and len(parts[-1]) > len(keys):
            parts.append(list(keys))
        parts[-1].append(heading)
    return parts


def _rich_table(cells: dict[str, list[str]]) -> Any:
    from rich import box
    from rich.table import Table
    from rich.text import Text

    from ..text import is_number

    table = Table(box=box.SIMPLE_HEAD, pad_edge=False)
    for heading, column in cells.items():
        numbers = all(is_number(cell) for cell in column)
        table.add_column(
            Text(heading),
            justify="right" if numbers else "left",
            style="cyan" if heading == "" else "",
            overflow="fold",
            min_width=max((len(cell) for cell in column), default=0) if numbers else None,
        )
    for row in zip(*cells.values(), strict=True):
        table.add_row(*(Text(cell) for cell in row))
    return table
