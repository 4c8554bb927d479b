"""``sleetfield bubble`` and ``sleetfield dew``."""

from __future__ import annotations

from typing import Any

from .options import GivenMixture, Pressures, Temperatures, on_mixture

BUBBLE_EXAMPLE = 'Example: sleetfield bubble "0.4 acetone + 0.3 1-butanol + rest water" --liquid ideal --P 1atm'
DEW_EXAMPLE = 'Example: sleetfield dew "0.90 methane + 0.08 propane + 0.02 n-heptane" --eos SRK --P "10bar to 60bar in 6"'


@on_mixture
def bubble(system: Any, z: Any, given: GivenMixture, T: Temperatures = None, P: Pressures = None) -> Any:
    """Bubble point of a liquid at given temperature or pressure."""
    from ..specified import series_of

    return system.bubble(z, **series_of({"T": T, "P": P}), basis=given.basis.value)


@on_mixture
def dew(system: Any, z: Any, given: GivenMixture, T: Temperatures = None, P: Pressures = None) -> Any:
    """Dew point of a vapor at given temperature or pressure."""
    from ..specified import series_of

    return system.dew(z, **series_of({"T": T, "P": P}), basis=given.basis.value)
