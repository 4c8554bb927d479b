"""Options that commands share, and how their results and errors leave the program."""

from __future__ import annotations

import functools
import inspect
import sys
from collections.abc import Callable
from dataclasses import dataclass, fields, is_dataclass
from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, NoReturn, ParamSpec, get_type_hints

import typer

if TYPE_CHECKING:
    import pandas as pd

    from ..system import System


P = ParamSpec("P")


class Units(StrEnum):
    """Sets of units."""

    SI = "SI"
    ENGINEERING = "engineering"
    US = "US"


class Basis(StrEnum):
    """What fractions are."""

    MOLE = "mole"
    MASS = "mass"


CompositionText = Annotated[
    str, typer.Argument(metavar="COMPOSITION", help="Such as '0.70 methane + 0.20 propane + rest n-heptane'.")
]
Overwrite = Annotated[bool, typer.Option("--overwrite", help="Let --out replace files that exist.")]
Temperatures = Annotated[
    str | None, typer.Option("--T", help="Temperature: '-20degC', a list '250K, 260K', or '-40degC to 0degC in 5'.")
]
Pressures = Annotated[str | None, typer.Option("--P", help="Absolute pressure: '20bar', a list, or '5bar to 60bar in 12'.")]


OutFiles = Annotated[list[Path] | None, typer.Option("--out", help="Write the result to a file, format by suffix. Repeatable.")]
AsJson = Annotated[bool, typer.Option("--json", help="Print one JSON object with full-precision SI numbers, for programs.")]


class Layer(StrEnum):
    """Layers of the databank that can be written to."""

    USER = "user"
    CASE = "case"


StoreIn = Annotated[
    Layer | None, typer.Option("--store", help="Keep the result in the databank: in the user's or this case's folder.")
]
Insist = Annotated[bool, typer.Option("--insist", help="Store it although the audit finds fault with it.")]


def _print_version(wanted: bool) -> None:
    if wanted:
        from .. import __version__

        typer.echo(f"sleetfield {__version__}")
        raise typer.Exit


def version(
    show: Annotated[
        bool, typer.Option("--version", help="Show the version and leave.", is_eager=True, callback=_print_version)
    ] = False,
) -> None:
    """Phase equilibria of mixtures: flash, bubble and dew points, envelopes, property tables."""


@dataclass(frozen=True)
class Given:
    """The options that every command on a mixture takes."""

    eos: Annotated[str | None, typer.Option("--eos", help="Equation of state: PR, PR78, SRK or RK.")] = None
    alpha: Annotated[
        str | None, typer.Option("--alpha", help="Temperature function of the equation of state: Soave, Mathias-Copeman or Twu.")
    ] = None
    liquid: Annotated[
        str | None,
        typer.Option(
            "--liquid",
            help="Liquid model instead of an equation of state: ideal, Margules, Redlich-Kister, van Laar, Wilson, NRTL, UNIQUAC, Scatchard-Hildebrand, three-part.",
        ),
    ] = None
    vapor: Annotated[
        str | None, typer.Option("--vapor", help="Vapor model beside --liquid: ideal, virial, or an equation of state.")
    ] = None
    pair: Annotated[
        list[str] | None,
        typer.Option(
            "--pair",
            help="Parameters of the liquid model, such as 'ethanol / water = 325.1, 953.3 cal/mol' (a12, a21, for NRTL alpha, then their form: plain, ratio, log10, K, J/mol, cal/mol). Repeatable.",
        ),
    ] = None
    henry: Annotated[
        list[str] | None,
        typer.Option("--henry", help="Henry's constant of a dissolved gas: 'hydrogen / water = 70000 bar'. Repeatable."),
    ] = None
    poynting: Annotated[bool, typer.Option("--poynting", help="Count the pressure's effect on the liquid's fugacities.")] = False
    kij: Annotated[
        list[str] | None,
        typer.Option(
            "--kij",
            help="Interaction parameter, such as 'nitrogen / methane = 0.031' or '= a, b, c' for a + bT + c/T, repeatable; or for all: published, estimated, zero.",
        ),
    ] = None
    lij: Annotated[
        list[str] | None, typer.Option("--lij", help="Parameter of the covolume, such as 'nitrogen / methane = 0.01'. Repeatable.")
    ] = None
    translation: Annotated[
        str | None, typer.Option("--translation", help="Volume translation of an equation of state: density or Peneloux.")
    ] = None
    basis: Annotated[Basis, typer.Option("--basis", help="Whether fractions are by mole or mass.", case_sensitive=False)] = (
        Basis.MOLE
    )
    normalize: Annotated[bool, typer.Option("--normalize", help="Scale the amounts so that they sum to 1.")] = False
    units: Annotated[Units, typer.Option("--units", help="Units that results are shown in.", case_sensitive=False)] = (
        Units.ENGINEERING
    )
    out: OutFiles = None
    overwrite: Overwrite = False
    as_json: AsJson = False

    def mixture(self, text: str) -> tuple[System, dict[str, Any]]:
        """The system and the composition that the command line describes; PR where no model is named."""
        from .. import composition
        from ..errors import InputError
        from ..system import System

        z = composition.parse(text)
        if self.normalize:
            if any(isinstance(v, str) for v in z.values()):
                raise InputError("--normalize and 'rest' exclude each other: with a rest the fractions sum to 1 already.")
            z = dict(composition.normalize({k: float(v) for k, v in z.items()}))
        eos = "PR" if self.eos is None and self.liquid is None else self.eos
        rule = len(self.kij or []) == 1 and "=" not in (self.kij or [""])[0]
        kij: Any = (self.kij or [""])[0] if rule else dict(_pair("--kij", entry) for entry in self.kij or []) or None
        system = System(
            list(z),
            eos=eos,
            liquid=self.liquid,
            vapor=self.vapor,
            kij=kij,
            lij={pair: value[0] for pair, value in (_pair("--lij", entry) for entry in self.lij or [])},
            alpha=self.alpha,
            translation=self.translation,
            parameters=dict(_parameters(entry) for entry in self.pair or []) or None,
            henry=dict(_henry(entry) for entry in self.henry or []) or None,
            poynting=self.poynting,
            units=self.units.value,
        )
        return system, dict(z)


@dataclass(frozen=True)
class Specified:
    """The options that name two quantities of a state."""

    T: Temperatures = None
    P: Pressures = None
    H: Annotated[str | None, typer.Option("--H", help="Molar enthalpy: '-5000 J/mol'.")] = None
    S: Annotated[str | None, typer.Option("--S", help="Molar entropy: '-20 J/(mol K)'.")] = None
    U: Annotated[str | None, typer.Option("--U", help="Molar internal energy.")] = None
    V: Annotated[str | None, typer.Option("--V", help="Molar volume: '0.5 m3/kmol'.")] = None
    density: Annotated[str | None, typer.Option("--density", help="Density of all phases together: '40 kg/m3'.")] = None
    vapor_fraction: Annotated[
        str | None, typer.Option("--vapor-fraction", help="By mole: 0 at the bubble point, 1 at the dew point.")
    ] = None
    vapor_mass_fraction: Annotated[str | None, typer.Option("--vapor-mass-fraction", help="The same by mass.")] = None

    def values(self) -> dict[str, Any]:
        """What was given, in SI: a number, a list or a range each."""
        from ..calculations.specifications import DIMENSIONS

        return {f.name: series(getattr(self, f.name), DIMENSIONS[f.name], f.name) for f in fields(self) if getattr(self, f.name)}


def _options_of(group: Any) -> list[inspect.Parameter]:
    """The options that a dataclass of them stands for."""
    hints = get_type_hints(group, include_extras=True)
    return [
        inspect.Parameter(f.name, inspect.Parameter.KEYWORD_ONLY, default=f.default, annotation=hints[f.name])
        for f in fields(group)
    ]


def on_mixture(work: Callable[..., Any]) -> Callable[..., None]:
    """A command from ``work(system, z, given, **own options)``, with the composition and the options of `Given` added.

    An own option whose type is a dataclass of options stands for all of them. ``work`` returns a result, or a result and the options
    for drawing it.
    """
    own = list(inspect.signature(work, eval_str=True).parameters.values())[3:]
    groups: dict[str, Any] = {p.name: p.annotation for p in own if is_dataclass(p.annotation)}
    parameters = [inspect.Parameter("composition", inspect.Parameter.POSITIONAL_OR_KEYWORD, annotation=CompositionText)]
    for p in own:
        parameters += _options_of(groups[p.name]) if p.name in groups else [p.replace(kind=inspect.Parameter.KEYWORD_ONLY)]
    parameters += _options_of(Given)

    def command(composition: str, **options: Any) -> None:
        given = Given(**{f.name: options.pop(f.name) for f in fields(Given)})
        for name, group in groups.items():
            options[name] = group(**{f.name: options.pop(f.name) for f in fields(group)})

        def calculate() -> tuple[Any, dict[str, Any]]:
            system, z = given.mixture(composition)
            outcome = work(system, z, given, **options)
            return outcome if isinstance(outcome, tuple) else (outcome, {})

        deliver(calculate, given.out, given.overwrite, given.as_json)

    command.__doc__ = work.__doc__
    command.__signature__ = inspect.Signature(parameters)  # type: ignore[attr-defined]
    command.__annotations__ = {p.name: p.annotation for p in parameters}
    return command


def _pair(option: str, entry: str) -> tuple[tuple[str, str], list[float]]:
    from ..errors import InputError

    names, _, value = entry.partition("=")
    first, _, second = names.partition("/")
    try:
        return (first.strip(), second.strip()), [float(part) for part in value.split(",")]
    except ValueError:
        raise InputError(f"{option} {entry!r} is not understood. Write it like 'nitrogen / methane = 0.031'.") from None


def _parameters(entry: str) -> tuple[tuple[str, str], Any]:
    """A pair and its `PairParameters`, from ``first / second = a12, a21, alpha form``."""
    import re

    from ..components import PairParameters
    from ..errors import InputError

    match = re.fullmatch(r"\s*(.+?)\s*/\s*(.+?)\s*=\s*([-+0-9.eE,\s]+?)\s*([A-Za-z][A-Za-z0-9/]*)?\s*", entry)
    numbers = [part.strip() for part in match[3].split(",")] if match else []
    try:
        values = [float(part) for part in numbers]
    except ValueError:
        values = []
    if match is None or len(values) not in (2, 3):
        raise InputError(f"--pair {entry!r} is not understood. Write it like 'ethanol / water = 325.1, 953.3 cal/mol'.")
    alpha = values[2] if len(values) == 3 else None
    return (match[1], match[2]), PairParameters(a12=values[0], a21=values[1], alpha=alpha, form=match[4] or "plain", source="given")


def _henry(entry: str) -> tuple[tuple[str, str], str]:
    from ..errors import InputError

    names, _, value = entry.partition("=")
    gas, _, solvent = names.partition("/")
    if not (gas.strip() and solvent.strip() and value.strip()):
        raise InputError(f"--henry {entry!r} is not understood. Write it like 'hydrogen / water = 70000 bar'.")
    return (gas.strip(), solvent.strip()), value.strip()


def series(text: str | None, dimension: str, name: str) -> Any:
    """One value, or an array: a list with commas, or ``A to B in N``."""
    import re

    import numpy as np

    from ..errors import InputError
    from ..units import to_si

    if text is None:
        return None
    match = re.fullmatch(r"\s*(.+?)\s+to\s+(.+?)\s+in\s+(\d+)\s*", text)
    if match:
        count = int(match[3])
        if count < 2:
            raise InputError(f"{name} is {text!r}: a range takes at least 2 values.")
        return np.linspace(float(to_si(match[1], dimension, name)), float(to_si(match[2], dimension, name)), count)
    if "," in text:
        return to_si([part.strip() for part in text.split(",")], dimension, name)
    return to_si(text, dimension, name)


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
    import pandas as pd

    if isinstance(result, pd.DataFrame):
        show_table(str(result.attrs.get("title", "")), result, result.attrs.get("notes", []))
    else:
        show_table(result.title(), result.summary_frame(), result.notes)


def show_table(title: str, frame: pd.DataFrame, notes: list[str]) -> None:
    """A data frame on the terminal; what is too wide for it goes on below, with temperature and pressure repeated."""
    from rich.console import Console
    from rich.text import Text

    console = Console(highlight=False, width=None if sys.stdout.isatty() else 160)
    console.print(Text(title, style="bold"))
    if not frame.empty:
        cells = _cells(frame)
        for part in _parts(cells, console.width):
            console.print(_rich_table({heading: cells[heading] for heading in part}))
    for note in notes:
        console.print(Text(f"Note: {note}", style="yellow"))


def _cells(frame: pd.DataFrame) -> dict[str, list[str]]:
    """Columns of text by heading; the names of rows, where there are any, have the empty heading."""
    from ..results.text import has_names, number
    from ..units import pretty_heading

    named = {"": [pretty_heading(str(i)) for i in frame.index]} if has_names(frame) else {}
    return named | {pretty_heading(str(heading)): [number(v) for v in frame[heading].tolist()] for heading in frame.columns}


def _parts(cells: dict[str, list[str]], width: int) -> list[list[str]]:
    """Headings of the columns that fit side by side."""
    keys = [h for h in cells if h == "" or h.startswith(("T [", "P ["))]
    wide = {h: max(len(part) for part in (*h.split(), *column, "")) + 4 for h, column in cells.items()}
    # long text is folded
    wide = {h: w if all(_is_number(cell) for cell in cells[h]) else min(w, width // 2) for h, w in wide.items()}
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

    table = Table(box=box.SIMPLE_HEAD, pad_edge=False)
    for heading, column in cells.items():
        numbers = all(_is_number(cell) for cell in column)
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


def _is_number(cell: str) -> bool:
    try:
        float(cell or "0")
    except ValueError:
        return False
    return True
