"""``sleetfield interactions``."""

from __future__ import annotations

from typing import Any

from .options import Given, on_mixture

EXAMPLE = 'Example: sleetfield interactions "0.70 methane + 0.20 carbon dioxide + 0.10 n-heptane" --eos SRK --out kij.png'


@on_mixture
def interactions(system: Any, z: Any, given: Given) -> Any:
    """Interaction parameters that a mixture is calculated with, and where each came from; the amounts don't matter."""
    return system.interactions


PARAMETERS_EXAMPLE = 'Example: sleetfield parameters "0.5 ethanol + 0.5 water" --liquid Wilson'


@on_mixture
def parameters(system: Any, z: Any, given: Given) -> Any:
    """Parameters of a liquid model's pairs, what they come to at infinite dilution, and where each came from; the amounts don't matter."""
    return system.parameters
