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
def deliver(
    calculate: Callable[[], tuple[Any, dict[str, Any]]],
    out: list[Path] | None,
    overwrite: bool,
    as_json: bool,
    digits: int | None = None,
) -> None:
    """Calculate, show the result and write the files asked for."""
    _refuse_existing(out, overwrite)
    result, drawing = calculate()
    if as_json:
        import json

        from ..export import as_plain

        typer.echo(json.dumps(as_plain(result), ensure_ascii=False))
    else:
        show(result, digits)
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


def show(result: Any, digits: int | None = None) -> None:
    """A result on the terminal: title, table, notes."""
    from ..mixture import Mixture
    from ..results.base import Shown

    if isinstance(result, Mixture):
        typer.echo(str(result.model))
    elif isinstance(result, Shown):
        show_table(result.title(), result.printed(), result.notes, result.sections(), digits)
    else:
        show_table(str(result.attrs.get("title", "")), result, result.attrs.get("notes", []), digits=digits)


def show_table(
    title: str,
    whole: pd.DataFrame | Grid,
    notes: list[str],
    sections: Sequence[tuple[str, pd.DataFrame | Grid]] = (),
    digits: int | None = None,
) -> None:
    """Tables on the terminal; what is too wide for it goes on below, with temperature and pressure repeated."""
    from rich.console import Console
    from rich.text import Text

    from ..text import DIGITS, WIDTH, cells_of, parts_of, rich_table

    console = Console(highlight=False, width=None if sys.stdout.isatty() else WIDTH)
    console.print(Text(title, style="bold"))
    for heading, one in [("", whole), *sections]:
        if heading:
            console.print(Text(heading, style="bold"))
        cells = cells_of(one, digits or DIGITS)
        for part in parts_of(cells, console.width) if any(cells.values()) else ():
            console.print(rich_table(part, console.width))
    for note in notes:
        console.print(Text(f"Note: {note}", style="yellow"))
