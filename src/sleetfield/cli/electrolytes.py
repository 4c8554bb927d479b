"""Solutions of salts and gases in water: ``speciation``, ``bubble-pressure``, ``titration``, ``warming`` and ``fit-ions``."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterable
from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from .answers import answering, deliver
from .options import AsJson, OutFiles, Overwrite

if TYPE_CHECKING:
    from ..electrolyte import Electrolyte

SPECIATION_EXAMPLE = 'Example: sleetfield speciation "1.0 sodium chloride + 0.05 calcium sulfate + 0.01 sodium hydrogen carbonate" --gases "carbon dioxide = 1atm"'
TITRATION_EXAMPLE = (
    'Example: sleetfield titration "0.05 carbon dioxide" --added "sodium hydroxide" --amounts "0 to 0.15 mol/kg in 61" --out pH.png'
)

WARMING_EXAMPLE = (
    'Example: sleetfield warming "0.002 calcium hydrogen carbonate" --T "10 to 80 degC in 15" --figure solids --out scale.png'
)
BUBBLE_EXAMPLE = 'Example: sleetfield bubble-pressure "1.0 ammonia + 0.5 hydrogen sulfide" --T 80degC'

FIT_EXAMPLE = "Example: sleetfield fit-ions Na+ Cl- coefficients.csv --ions electrolyte-NRTL --out fit.png"


class IonModel(StrEnum):
    """Models of ions."""

    PITZER = "Pitzer"
    ELECTROLYTE_NRTL = "electrolyte-NRTL"
    DAVIES = "Davies"


Feed = Annotated[
    str,
    typer.Argument(
        metavar="FEED", help="What is in a kilogram of water, mol or with units: '0.5 sodium chloride + 2 g/kg gypsum'."
    ),
]
Gases = Annotated[
    list[str] | None, typer.Option("--gases", help="In place of --P a gas over the solution: 'carbon dioxide = 1atm'. Repeatable.")
]
IonsOption = Annotated[IonModel, typer.Option("--ions", help="Model of ions.", case_sensitive=False)]
At = Annotated[str, typer.Option("--T", help="Temperature, 0 to 100 °C: '60 degC'.")]
Under = Annotated[str | None, typer.Option("--P", help="Pressure at which a vapor may stand over the solution: '1.2 bar'.")]
OwnSpecies = Annotated[
    list[str] | None,
    typer.Option("--species", help="A further one: 'CaSO4(aq) = Ca+2 + SO4-2, -2.31', log10 K at 25 °C. Repeatable."),
]
Without = Annotated[list[str] | None, typer.Option("--without", help="A species or solid that is left out. Repeatable.")]
Figure = Annotated[str, typer.Option("--figure", help="What --out draws: pH, species, gases or solids.")]
Precipitation = Annotated[bool, typer.Option("--precipitation/--no-precipitation", help="Whether solids form.")]


@answering
def speciation(
    feed: Feed,
    T: At = "25 degC",
    P: Under = None,
    gases: Gases = None,
    ions: IonsOption = IonModel.PITZER,
    precipitation: Precipitation = True,
    species: OwnSpecies = None,
    without: Without = None,
    out: OutFiles = None,
    overwrite: Overwrite = False,
    as_json: AsJson = False,
) -> None:
    """Ions, pH, what precipitates and what gases stand over it: salts, acids, bases and carbon dioxide in water."""
    fed, over = _amounts(feed), _gases(gases)

    def calculate() -> tuple[Any, dict[str, Any]]:
        return _system(ions, species, without, fed, over).speciation(fed, T=T, P=P, gases=over, precipitation=precipitation), {}

    deliver(calculate, out, overwrite, as_json)


@answering
def bubble_pressure(
    feed: Feed,
    T: At = "25 degC",
    ions: IonsOption = IonModel.PITZER,
    precipitation: Precipitation = True,
    species: OwnSpecies = None,
    without: Without = None,
    out: OutFiles = None,
    overwrite: Overwrite = False,
    as_json: AsJson = False,
) -> None:
    """The pressure at which a vapor begins to form over salts, acids, bases and gases in water, and what that is made of."""
    fed = _amounts(feed)

    def calculate() -> tuple[Any, dict[str, Any]]:
        return _system(ions, species, without, fed).bubble_pressure(fed, T=T, precipitation=precipitation), {}

    deliver(calculate, out, overwrite, as_json)


@answering
def titration(
    feed: Feed,
    added: Annotated[str, typer.Option("--added", help="What is added.")],
    amounts: Annotated[str, typer.Option("--amounts", help="How much of it: '0 to 0.15 mol/kg in 61', or a list.")],
    T: At = "25 degC",
    P: Under = None,
    gases: Gases = None,
    ions: IonsOption = IonModel.PITZER,
    precipitation: Precipitation = True,
    species: OwnSpecies = None,
    without: Without = None,
    figure: Figure = "pH",
    out: OutFiles = None,
    overwrite: Overwrite = False,
    as_json: AsJson = False,
) -> None:
    """pH, species and solids of a solution to which something is added bit by bit."""
    fed, over = _amounts(feed), _gases(gases)

    def calculate() -> tuple[Any, dict[str, Any]]:
        system = _system(ions, species, without, fed, over, [added])
        return system.titration(fed, added, amounts, T=T, P=P, gases=over, precipitation=precipitation), {"figure": figure}

    deliver(calculate, out, overwrite, as_json)


@answering
def warming(
    feed: Feed,
    T: Annotated[str, typer.Option("--T", help="Temperatures: '0 to 60 degC in 13', or a list.")],
    P: Under = None,
    gases: Gases = None,
    ions: IonsOption = IonModel.PITZER,
    precipitation: Precipitation = True,
    species: OwnSpecies = None,
    without: Without = None,
    figure: Figure = "pH",
    out: OutFiles = None,
    overwrite: Overwrite = False,
    as_json: AsJson = False,
) -> None:
    """pH, species and solids of a solution at several temperatures: scale where it is heated, crystals where it cools."""
    fed, over = _amounts(feed), _gases(gases)

    def calculate() -> tuple[Any, dict[str, Any]]:
        return _system(ions, species, without, fed, over).warming(fed, T, P=P, gases=over, precipitation=precipitation), {
            "figure": figure
        }

    deliver(calculate, out, overwrite, as_json)


@answering
def fit_ions(
    cation: Annotated[str, typer.Argument(help="A cation: 'Na+'.")],
    anion: Annotated[str, typer.Argument(help="An anion: 'SO4-2'.")],
    file: Annotated[
        Path, typer.Argument(help="A table with columns molality, and osmotic_coefficient, mean_activity_coefficient or both.")
    ],
    T: At = "25 degC",
    ions: IonsOption = IonModel.PITZER,
    saturated: Annotated[
        list[str] | None,
        typer.Option(
            "--saturated", help="A solid and the molality of the solution beside it: 'halite = 6.146 mol/kg'. Repeatable."
        ),
    ] = None,
    out: OutFiles = None,
    overwrite: Overwrite = False,
    as_json: AsJson = False,
) -> None:
    """Parameters of two ions from measured osmotic or mean activity coefficients of their salt, and its solubilities."""
    from ..ion_fit import fit_ions as fit
    from ..tabular import as_number, read_rows

    (_, headings), *lines = read_rows(file)
    names = [str(name).strip() for name in headings]
    rows = [
        [as_number(str(cell), f"{file}, line {line}") if str(cell or "").strip() else float("nan") for cell in cells]
        for line, cells in lines
    ]
    data = {name: [row[k] if k < len(row) else float("nan") for row in rows] for k, name in enumerate(names)}

    beside = _by_name("--saturated", saturated, "halite = 6.146 mol/kg")

    def calculate() -> tuple[Any, dict[str, Any]]:
        return fit(cation, anion, data, ions=ions.value, T=T, saturated=beside), {}

    deliver(calculate, out, overwrite, as_json)


def _system(ions: IonModel, species: list[str] | None, without: list[str] | None, *named: Iterable[str]) -> Electrolyte:
    """Of everything that is named anywhere."""
    from ..electrolyte import Electrolyte

    added = list(dict.fromkeys(itertools.chain(*named)))
    return Electrolyte(added, ions=ions.value, species=species or (), without=without or ())


_ENTRY = re.compile(r"\s*([0-9][0-9.]*(?:[eE][+-]?\d+)?)\s*((?:m?mol|m?g)/(?:kg|[Ll]))?\s+(\S.*?)\s*")


def _amounts(text: str) -> dict[str, Any]:
    """Amounts by name, from ``0.5 sodium chloride + 2 g/kg gypsum``."""
    from ..errors import InputError

    found: dict[str, Any] = {}
    for part in text.split("+"):
        if not part.strip():
            continue
        match = _ENTRY.fullmatch(part)
        if match is None:
            raise InputError(
                f"{part.strip()!r} is not understood. Write amounts for a kilogram of water, or for a liter of solution: '0.5 sodium chloride + 2 g/kg gypsum', '0.1 mol/L sodium hydroxide'."
            )
        number, unit, name = match.groups()
        if name in found:
            raise InputError(f"{name} stands twice.")
        found[name] = f"{number} {unit}" if unit else float(number)
    return found


def _gases(entries: list[str] | None) -> dict[str, str]:
    """Pressures by name, each from ``carbon dioxide = 1atm``."""
    return _by_name("--gases", entries, "carbon dioxide = 1atm")


def _by_name(option: str, entries: list[str] | None, like: str) -> dict[str, str]:
    """What stands behind the equals signs of an option that may be repeated."""
    from ..errors import InputError

    found = {}
    for entry in entries or []:
        name, equals, value = entry.partition("=")
        if not equals or not value.strip():
            raise InputError(f"{option} {entry!r} is not understood. Write it like '{like}'.")
        found[name.strip()] = value.strip()
    return found
