"""``sleetfield fit-pure``."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from .answers import answering, deliver
from .options import AsJson, Insist, OutFiles, Overwrite, StoreIn

EXAMPLE = "Example: sleetfield fit-pure 2-butanol --eos CPA --store case"


@answering
def fit_pure(
    component: Annotated[str, typer.Argument(metavar="COMPONENT", help="Name, formula or CAS number.")],
    eos: Annotated[str, typer.Option("--eos", help="CPA or PC-SAFT.")] = "CPA",
    sites: Annotated[
        str | None,
        typer.Option(
            "--sites", help="Donors, acceptors and, by CPA, sites that pair with any: '1, 1' or '0, 0, 1'. What is usual."
        ),
    ] = None,
    figure: Annotated[str, typer.Option("--figure", help="What --out draws: as for `sleetfield regress`.")] = "residuals",
    store_in: StoreIn = None,
    insist: Insist = False,
    out: OutFiles = None,
    overwrite: Overwrite = False,
    as_json: AsJson = False,
) -> None:
    """Parameters of a pure component for equations with chains or bonds, fitted to its vapor pressure and liquid density."""
    from ..components import store_component
    from ..errors import InputError
    from ..pure_fit import fit_pure as fitted

    try:
        numbers = None if sites is None else tuple(int(n) for n in sites.split(","))
    except ValueError:
        raise InputError(f"--sites is {sites!r}; it is whole numbers, such as '1, 1'.") from None
    kept: list[Any] = []

    def calculate() -> tuple[Any, dict[str, Any]]:
        kept.append(fitted(component, eos, sites=numbers))
        return kept[0], {"figure": figure}

    deliver(calculate, out, overwrite, as_json)
    if store_in is not None:
        path = store_component(kept[0].component(), store_in.value, insist=insist, overwrite=overwrite)
        typer.echo(f"wrote {path}", err=True)
