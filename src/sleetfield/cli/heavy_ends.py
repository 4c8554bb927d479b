"""``sleetfield cut`` and ``sleetfield plus``."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from .answers import answering, deliver, show_table
from .options import AsJson, Insist, OutFiles, Overwrite, StoreIn

CUT_EXAMPLE = 'Example: sleetfield cut "light naphtha" --Tb 90degC --SG 0.72'
PLUS_EXAMPLE = "Example: sleetfield plus --molar-mass 145g/mol --SG 0.78 --amount 0.004 --lump 3 --out tail.png"

Gravity = Annotated[float | None, typer.Option("--SG", help="Specific gravity, 60 °F/60 °F.")]
Mass = Annotated[str | None, typer.Option("--molar-mass", help="Molar mass: '145 g/mol'.")]
Method = Annotated[str, typer.Option("--method", help="Riazi-Daubert, Kesler-Lee or Twu.")]


@answering
def cut(
    name: Annotated[str, typer.Argument(metavar="NAME", help="What to call it.")],
    boiling_point: Annotated[str | None, typer.Option("--Tb", help="Normal boiling point: '90degC'.")] = None,
    gravity: Gravity = None,
    molar_mass: Mass = None,
    method: Method = "Twu",
    store_in: StoreIn = None,
    insist: Insist = False,
    overwrite: Overwrite = False,
) -> None:
    """A petroleum cut as a component, from two of boiling point, specific gravity and molar mass."""
    from ..components import store
    from ..heavy_ends import compare_methods, pseudo_component

    given = {"Tb": boiling_point, "specific_gravity": gravity, "molar_mass": molar_mass}
    made = pseudo_component(name, **given, method=method)
    show_table(f"{name}, by every method", compare_methods(**given), [f"{method} is the one used."])
    if store_in is not None:
        typer.echo(f"wrote {store(made, store_in.value, insist=insist, overwrite=overwrite)}")


@answering
def plus(
    molar_mass: Annotated[str, typer.Option("--molar-mass", help="Of the whole: '145 g/mol'.")],
    gravity: Annotated[float, typer.Option("--SG", help="Of the whole, 60 °F/60 °F.")],
    amount: Annotated[float, typer.Option("--amount", help="Its mole fraction in the mixture.")] = 1.0,
    first: Annotated[int, typer.Option("--first", help="First carbon number: 7 for C7+.")] = 7,
    last: Annotated[int, typer.Option("--last", help="Last carbon number.")] = 40,
    distribution: Annotated[str, typer.Option("--distribution", help="exponential or gamma.")] = "exponential",
    alpha: Annotated[float, typer.Option("--alpha", help="Shape of the gamma distribution.")] = 1.0,
    lump: Annotated[int | None, typer.Option("--lump", help="How many pseudo-components to put the cuts into.")] = None,
    method: Method = "Twu",
    store_in: StoreIn = None,
    insist: Insist = False,
    out: OutFiles = None,
    overwrite: Overwrite = False,
    as_json: AsJson = False,
) -> None:
    """A plus fraction split into single carbon numbers, and lumped."""
    from ..components import store_all
    from ..heavy_ends import split_plus_fraction

    kept: list[Any] = []

    def calculate() -> tuple[Any, dict[str, Any]]:
        split = split_plus_fraction(
            molar_mass=molar_mass, specific_gravity=gravity, amount=amount, first=first, last=last, distribution=distribution,
            alpha=alpha, method=method,
        )  # fmt: skip
        kept.append(split if lump is None else split.lump(lump))
        return kept[0], {}

    deliver(calculate, out, overwrite, as_json)
    if store_in is not None:
        for path in store_all(kept[0].components, store_in.value, insist=insist, overwrite=overwrite):
            typer.echo(f"wrote {path}", err=True)
