"""``sleetfield pseudo-component`` and ``sleetfield split-plus-fraction``."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from .answers import answering, deliver, show_table
from .options import AsJson, Insist, OutFiles, Overwrite, StoreIn

CUT_EXAMPLE = 'Example: sleetfield pseudo-component "light naphtha" --Tb 90degC --specific-gravity 0.72'
PLUS_EXAMPLE = (
    "Example: sleetfield split-plus-fraction --molar-mass 145g/mol --specific-gravity 0.78 --amount 0.004 --lump 3 --out tail.png"
)

Gravity = Annotated[float | None, typer.Option("--specific-gravity", help="Specific gravity, 60 °F/60 °F.")]
Mass = Annotated[str | None, typer.Option("--molar-mass", help="Molar mass: '145 g/mol'.")]
Method = Annotated[str, typer.Option("--method", help="Riazi-Daubert, Kesler-Lee or Twu.")]


@answering
def pseudo_component(
    name: Annotated[str, typer.Argument(metavar="NAME", help="What to call it.")],
    Tb: Annotated[str | None, typer.Option("--Tb", help="Normal boiling point: '90degC'.")] = None,
    specific_gravity: Gravity = None,
    molar_mass: Mass = None,
    method: Method = "Twu",
    store_in: StoreIn = None,
    insist: Insist = False,
    overwrite: Overwrite = False,
) -> None:
    """A petroleum cut as a component, from two of boiling point, specific gravity and molar mass."""
    from .. import heavy_ends
    from ..components import store_component

    given = {"Tb": Tb, "specific_gravity": specific_gravity, "molar_mass": molar_mass}
    made = heavy_ends.pseudo_component(name, **given, method=method)
    show_table(f"{name}, by every method", heavy_ends.compare_methods(**given), [f"{method} is the one used."])
    if store_in is not None:
        typer.echo(f"wrote {store_component(made, store_in.value, insist=insist, overwrite=overwrite)}")


@answering
def split_plus_fraction(
    molar_mass: Annotated[str, typer.Option("--molar-mass", help="Of the whole: '145 g/mol'.")],
    specific_gravity: Annotated[float, typer.Option("--specific-gravity", help="Of the whole, 60 °F/60 °F.")],
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
    from .. import heavy_ends
    from ..components import store_components

    kept: list[Any] = []

    def calculate() -> tuple[Any, dict[str, Any]]:
        split = heavy_ends.split_plus_fraction(
            molar_mass=molar_mass, specific_gravity=specific_gravity, amount=amount, first=first, last=last, distribution=distribution,
            alpha=alpha, method=method,
        )  # fmt: skip
        kept.append(split if lump is None else split.lump(lump))
        return kept[0], {}

    deliver(calculate, out, overwrite, as_json)
    if store_in is not None:
        for path in store_components(kept[0].components, store_in.value, insist=insist, overwrite=overwrite):
            typer.echo(f"wrote {path}", err=True)
