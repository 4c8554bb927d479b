"""``sleetfield regress`` and ``sleetfield rank-models``: parameters of one model, or of several, from measurements."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Annotated, Any

import typer

from .data import left_out
from .options import StoreIn, on_components

EXAMPLE = 'Example: sleetfield regress "acetone + 1-butanol" --liquid NRTL --data marlwick-demo/bench_still_acetone_1-butanol.csv --fit tau --out fit.png'
RANK_EXAMPLE = 'Example: sleetfield rank-models "acetone + 1-butanol" --liquid NRTL --data marlwick-demo/bench_still_acetone_1-butanol.csv --model Wilson --model NRTL --out models.png'

Data = Annotated[
    list[Path],
    typer.Option(
        "--data",
        help="Measured points of any kind: a .csv, .tsv, .txt or .xlsx file with columns such as 'T [degC]', 'P [kPa]', 'x acetone', 'y acetone', or a ThermoML file. Repeatable.",
    ),
]
Loss = Annotated[str, typer.Option("--loss", help="squares; stray points, which then pull less; or absolute.")]
Objective = Annotated[
    str, typer.Option("--objective", help="measured, relative volatility, activity coefficients, or all variables.")
]
Without = Annotated[
    list[str] | None,
    typer.Option("--without", help="Points of the first file to leave out, with a reason: '3, 7: stray'. Repeatable."),
]
Uncertainty = Annotated[
    list[str] | None,
    typer.Option("--uncertainty", help="Of a quantity: 'P = 0.5 %', 'T = 0.1 K'; 'y = none' leaves it out. Repeatable."),
]
ForbidSplit = Annotated[
    bool, typer.Option("--forbid-split", help="Keep parameters from splitting a liquid that was measured to be one.")
]


@on_components
def regress(
    chosen: Any,
    *,
    data: Data,
    fit: Annotated[
        list[str] | None,
        typer.Option(
            "--fit",
            help="A parameter, as `sleetfield parameters` names it, or a symbol for all of its kind: 'tau', 'kij', 'tau slope', 'tau 1/T'. Repeatable.",
        ),
    ] = None,
    tied: Annotated[
        list[str] | None, typer.Option("--tied", help="A parameter that is another: 'kij a / c = kij a / b'. Repeatable.")
    ] = None,
    bounds: Annotated[list[str] | None, typer.Option("--bound", help="'tau a / b = -1 to 3'. Repeatable.")] = None,
    objective: Objective = "measured",
    loss: Loss = "squares",
    uncertainty: Uncertainty = None,
    without: Without = None,
    forbid_split: ForbidSplit = False,
    figure: Annotated[str, typer.Option("--figure", help="What --out draws: data, residuals, parity or ellipses.")] = "data",
    against: Annotated[str, typer.Option("--against", help="What residuals are drawn against: point, x, T or P.")] = "point",
    form: Annotated[
        str | None, typer.Option("--form", help="Print the pairs as papers do too: plain, ratio, log10, K, J/mol or cal/mol.")
    ] = None,
    store_in: StoreIn = None,
) -> Any:
    """Parameters of a model fitted to measurements of any kind, with how sure they are, how well they follow the points, and what they come to."""
    from ..calculations.fitting import regress as run

    options = _options(objective, loss, uncertainty, forbid_split)
    ties = dict(map(_equal, tied or []))
    limits = {name: _limits(text) for name, text in map(_equal, bounds or [])}
    found = run(chosen, _sets(chosen, data, without), fit=fit, tied=ties, bounds=limits, **options)
    if form is not None:
        typer.echo(found.forms_frame(form).to_string(index=False))
    if store_in is not None:
        for path in found.store(store_in.value):
            typer.echo(f"wrote {path}", err=True)
    return found, {"figure": figure, "against": against}


@on_components
def rank_models(
    chosen: Any,
    *,
    data: Data,
    model: Annotated[
        list[str] | None,
        typer.Option(
            "--model", help="A liquid model or equation of state to fit. Repeatable; five liquid models where none is named."
        ),
    ] = None,
    beside: Annotated[
        list[str] | None, typer.Option("--beside", help="A model that is not fitted, but compared and drawn. Repeatable.")
    ] = None,
    objective: Objective = "measured",
    loss: Loss = "squares",
    uncertainty: Uncertainty = None,
    without: Without = None,
    forbid_split: ForbidSplit = False,
) -> Any:
    """Several models fitted to the same measurements and ranked, with a recommendation; the vapor is that of --vapor."""
    from ..calculations.fitting import USUAL, rank_models

    options = _options(objective, loss, uncertainty, forbid_split)
    found = rank_models(chosen, _sets(chosen, data, without), model or USUAL, beside=beside or (), progress=_progress(), **options)
    return found, {}


def _sets(chosen: Any, paths: list[Path], without: list[str] | None) -> list[Any]:
    from ..data_sets import read_data, read_thermoml

    sets: list[Any] = []
    for path in paths:
        if path.suffix.lower() == ".xml":
            sets += read_thermoml(path).sets
        else:
            sets.append(read_data(path, chosen.names if len(chosen) == 2 else None))
    sets[0] = left_out(sets[0], without)
    return sets


def _options(objective: str, loss: str, uncertainty: list[str] | None, forbid_split: bool) -> dict[str, Any]:
    doubts = {q: None if u.lower() == "none" else u for q, u in map(_equal, uncertainty or [])}
    return {"objective": objective, "loss": loss, "uncertainty": doubts, "forbid_split": forbid_split}


def _equal(entry: str) -> tuple[str, str]:
    from ..errors import InputError

    name, sign, value = entry.partition("=")
    if not sign or not name.strip() or not value.strip():
        raise InputError(f"{entry!r} is not understood. Write it like 'name = value'.")
    return name.strip(), value.strip()


def _limits(text: str) -> tuple[float, float]:
    from ..errors import InputError

    low, _, high = text.partition(" to ")
    try:
        return float(low), float(high)
    except ValueError:
        raise InputError(f"The bounds {text!r} are not understood. Write them like '-1 to 3'.") from None


def _progress() -> Any:
    """Whose turn it is, on standard error, where that is a terminal."""
    if not sys.stderr.isatty():
        return None
    return lambda done, count, label: typer.echo(f"fitting {label} ({done + 1} of {count})", err=True)
