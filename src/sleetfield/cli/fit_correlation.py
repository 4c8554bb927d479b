"""``sleetfield fit-correlation``."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

import typer

from .answers import answering, deliver
from .options import AsJson, Insist, OutFiles, Overwrite, StoreIn

EXAMPLE = (
    "Example: sleetfield fit-correlation marlwick-demo/bench_still_acetone.csv --form antoine --component acetone --out fit.png"
)


@answering
def fit_correlation(
    data: Annotated[
        Path, typer.Argument(metavar="DATA", help="A .csv or .xlsx file with columns such as 'T [degC]' and 'P [kPa]'.")
    ],
    form: Annotated[
        str,
        typer.Option(
            "--form",
            help="Of vapor pressures antoine, riedel form, wagner; of densities modified rackett, rackett form, extended rackett form; of viscosities vogel, andrade; of surface "
            "tensions guggenheim, guggenheim with exponent; riedel conductivity; of gases logarithmic; of heat capacities linear, quadratic, cubic.",
        ),
    ],
    of: Annotated[
        str | None,
        typer.Option(
            "--of",
            help="For a polynomial: heat_capacity (ideal gas) or liquid_heat_capacity; for a gas gas_viscosity or gas_conductivity.",
        ),
    ] = None,
    name: Annotated[str | None, typer.Option("--component", help="Whose data they are: gives Tc, Pc and molar mass.")] = None,
    uncertainty: Annotated[
        float | None, typer.Option("--uncertainty", help="Of each measurement: relative for pressures and viscosities, else in SI.")
    ] = None,
    figure: Annotated[str, typer.Option("--figure", help="What --out draws: data or residuals.")] = "data",
    style: Annotated[
        str | None, typer.Option("--style", help="Print the equation in another form too: paper (Antoine in log10, mmHg, °C).")
    ] = None,
    store_in: StoreIn = None,
    insist: Insist = False,
    out: OutFiles = None,
    overwrite: Overwrite = False,
    as_json: AsJson = False,
) -> None:
    """A correlation of vapor pressure, heat capacity, a liquid's density or surface tension, or the viscosity or conductivity of a liquid or a gas fitted to measurements."""
    from ..components import databank, store_component
    from ..correlation_fit import fit_correlation as fitted
    from ..errors import InputError

    component = None if name is None else databank().find(name)
    if store_in is not None and component is None:
        raise InputError("--store needs --component: whose correlation it is.")
    kept: list[Any] = []

    def calculate() -> tuple[Any, dict[str, Any]]:
        kept.append(fitted(data, form, of=of, component=component, uncertainty=uncertainty))
        return kept[0], {"figure": figure}

    deliver(calculate, out, overwrite, as_json)
    if style is not None:
        typer.echo(kept[0].equation(style))
    if store_in is not None and component is not None:
        path = store_component(kept[0].applied_to(component), store_in.value, insist=insist, overwrite=overwrite)
        typer.echo(f"wrote {path}", err=True)
