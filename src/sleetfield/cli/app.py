"""All commands, in the order of the work; each is imported and made when it is asked for, so that the program starts fast."""

from __future__ import annotations

import importlib
from collections.abc import Iterator, Mapping
from typing import Any

import typer
from typer.core import TyperGroup

from .options import Told, version

_GROUPS = ("components", "pairs", "data")
_EXAMPLES = {
    "advise": "advise.EXAMPLE",
    "system": "system.EXAMPLE",
    "fit-ions": "electrolytes.FIT_EXAMPLE",
    "fit-correlation": "fit_correlation.EXAMPLE",
    "fit-pure": "fit_pure.EXAMPLE",
    "pseudo-component": "heavy_ends.CUT_EXAMPLE",
    "split-plus-fraction": "heavy_ends.PLUS_EXAMPLE",
    "saturation-curve": "saturation_curve.EXAMPLE",
    "interactions": "interactions.EXAMPLE",
    "provenance": "interactions.PROVENANCE_EXAMPLE",
    "parameters": "interactions.PARAMETERS_EXAMPLE",
    "regress": "regress.EXAMPLE",
    "rank-models": "regress.RANK_EXAMPLE",
    "check": "check.EXAMPLE",
    "flash": "flash.EXAMPLE",
    "heating-value": "heating_value.EXAMPLE",
    "transport": "transport.EXAMPLE",
    "bubble": "saturation.BUBBLE_EXAMPLE",
    "dew": "saturation.DEW_EXAMPLE",
    "speciation": "electrolytes.SPECIATION_EXAMPLE",
    "bubble-pressure": "electrolytes.BUBBLE_EXAMPLE",
    "titration": "electrolytes.TITRATION_EXAMPLE",
    "warming": "electrolytes.WARMING_EXAMPLE",
    "k-values": "k_values.EXAMPLE",
    "diagram": "diagram.EXAMPLE",
    "melting-diagram": "diagram.MELTING_EXAMPLE",
    "freezing-map": "diagram.FREEZING_MAP_EXAMPLE",
    "liquid-map": "diagram.LIQUID_MAP_EXAMPLE",
    "boiling-map": "diagram.BOILING_MAP_EXAMPLE",
    "liquid-split": "liquid_split.EXAMPLE",
    "dilution": "dilution.EXAMPLE",
    "azeotropes": "azeotropes.EXAMPLE",
    "solubility": "solubility.EXAMPLE",
    "freezing": "solid_points.FREEZING_EXAMPLE",
    "hydrate": "solid_points.HYDRATE_EXAMPLE",
    "hydrate-amount": "solid_points.AMOUNT_EXAMPLE",
    "inhibitor-dose": "solid_points.DOSE_EXAMPLE",
    "critical": "critical.EXAMPLE",
    "envelope": "envelope.EXAMPLE",
    "chart": "chart.EXAMPLE",
    "datasheet": "datasheet.EXAMPLE",
    "table": "table.EXAMPLE",
    "flash-file": "flash_file.EXAMPLE",
    "compare": "compare.EXAMPLE",
    "new-study": "studies.NEW_EXAMPLE",
    "run": "studies.RUN_EXAMPLE",
    "lock": "studies.LOCK_EXAMPLE",
    "compare-runs": "studies.COMPARE_EXAMPLE",
    "schema": "studies.SCHEMA_EXAMPLE",
    "demo": "demo.EXAMPLE",
}
"""By commands: their files, and what in them is the example of each."""


class Commands(Mapping[str, Any]):
    """Commands by their names, made when they are asked for."""

    def __getitem__(self, name: str) -> Any:
        if name in _GROUPS:
            group = typer.main.get_group(_file(name).app)
            group.name = name
            return group
        file, example = _EXAMPLES[name].split(".")
        alone = typer.Typer(add_completion=False)
        alone.command(name, cls=Told, epilog=getattr(_file(file), example))(getattr(_file(file), name.replace("-", "_")))
        return typer.main.get_command(alone)

    def __iter__(self) -> Iterator[str]:
        return iter((*_GROUPS, *_EXAMPLES))

    def __len__(self) -> int:
        return len(_GROUPS) + len(_EXAMPLES)


def _file(name: str) -> Any:
    return importlib.import_module(f"{__package__}.{name}")


class OnDemand(TyperGroup):
    """The program."""

    def __init__(self, **settings: Any) -> None:
        super().__init__(**settings)
        self.commands = Commands()  # type: ignore[assignment]


app = typer.Typer(
    name="sleetfield",
    cls=OnDemand,
    help="Phase equilibria of mixtures: flash, bubble and dew points, envelopes, property tables.",
    epilog="A composition is written '0.70 methane + 0.20 propane + rest n-heptane'. "
    "Every command has its own --help, with an example.",
    no_args_is_help=True,
    add_completion=True,
    pretty_exceptions_enable=False,
    callback=version,
    invoke_without_command=False,
)
