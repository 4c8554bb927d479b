"""``sleetfield interactions``, ``parameters`` and ``provenance``: the numbers behind a model."""

from __future__ import annotations

from typing import Any

from .options import on_components

EXAMPLE = 'Example: sleetfield interactions "methane + carbon dioxide + n-heptane" --eos SRK --out kij.png'


@on_components
def interactions(system: Any) -> Any:
    """Interaction parameters that a mixture is calculated with, and where each came from."""
    return system.interactions


PARAMETERS_EXAMPLE = 'Example: sleetfield parameters "ethanol + water" --liquid Wilson'


@on_components
def parameters(system: Any) -> Any:
    """Every adjustable number of a model, what they come to, and where each came from."""
    return system.parameters


PROVENANCE_EXAMPLE = 'Example: sleetfield provenance "acetone + water" --liquid NRTL --out numbers.xlsx'


@on_components
def provenance(system: Any) -> Any:
    """Every constant and parameter that a mixture is calculated with: value, unit, range, layer, source."""
    return system.provenance()
