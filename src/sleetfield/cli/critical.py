"""``sleetfield critical``."""

from __future__ import annotations

from typing import Any

from .options import GivenMixture, on_mixture

EXAMPLE = 'Example: sleetfield critical "0.70 methane + 0.20 propane + 0.10 n-heptane" --eos PR'


@on_mixture
def critical(system: Any, z: Any, given: GivenMixture) -> Any:
    """Critical points of a mixture, directly."""
    return system.critical(z, basis=given.basis.value)
