"""``sleetfield k-values``: the phases of a feed whose K-values are given."""

from __future__ import annotations

from typing import Annotated

import typer

from .answers import answering, deliver
from .options import AsJson, CompositionText, OutFiles, Overwrite

EXAMPLE = 'Example: sleetfield k-values "0.3 propane + 0.4 n-butane + rest n-pentane" --K "propane = 2.4" --K "n-butane = 0.9" --K "n-pentane = 0.35"'


@answering
def k_values(
    composition: CompositionText,
    K: Annotated[list[str], typer.Option("--K", help="A component's K-value, y/x: 'propane = 1.8'. Repeatable.")],
    flow: Annotated[str | None, typer.Option("--flow", help="Feed flow by mole: '120 kmol/h'.")] = None,
    out: OutFiles = None,
    overwrite: Overwrite = False,
    as_json: AsJson = False,
) -> None:
    """Vapor and liquid of a feed by K-values from a chart or a book, without any model."""
    from ..composition import parse
    from ..k_values import KValues

    deliver(lambda: (KValues(dict(_entry(entry) for entry in K)).flash(parse(composition), flow=flow), {}), out, overwrite, as_json)


def _entry(entry: str) -> tuple[str, float]:
    """A component and its K-value, from ``propane = 1.8``."""
    from ..errors import InputError

    name, _, value = entry.partition("=")
    try:
        return name.strip(), float(value)
    except ValueError:
        raise InputError(f"--K {entry!r} is not understood. Write it like 'propane = 1.8'.") from None
