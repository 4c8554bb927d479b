"""``sleetfield bubble`` and ``sleetfield dew``."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from .options import GivenMixture, Pressures, Temperatures, on_mixture

BUBBLE_EXAMPLE = 'Example: sleetfield bubble "0.4 acetone + 0.3 1-butanol + rest water" --liquid ideal --P 1atm'
DEW_EXAMPLE = 'Example: sleetfield dew "0.90 methane + 0.08 propane + 0.02 n-heptane" --eos SRK --P "10bar to 60bar in 6"'


Both = Annotated[bool, typer.Option("--both", help="Draw bubble and dew points into one figure.")]


@on_mixture
def bubble(system: Any, z: Any, given: GivenMixture, T: Temperatures = None, P: Pressures = None, both: Both = False) -> Any:
    """Bubble point of a liquid at given temperature or pressure."""
    return _points(system.bubble, system.dew, z, given, T, P, both)


@on_mixture
def dew(system: Any, z: Any, given: GivenMixture, T: Temperatures = None, P: Pressures = None, both: Both = False) -> Any:
    """Dew point of a vapor at given temperature or pressure."""
    return _points(system.dew, system.bubble, z, given, T, P, both)


def _points(own: Any, other: Any, z: Any, given: GivenMixture, T: str | None, P: str | None, both: bool) -> Any:
    """One kind of points, and what draws them: with the other kind where both are asked for."""
    from ..errors import InputError
    from ..specified import series_of

    conditions = {**series_of({"T": T, "P": P}), "basis": given.basis.value}
    found = own(z, **conditions)
    if both and not hasattr(found, "plot"):
        raise InputError("--both draws points along a list or a range: give --T or --P as one.")
    return found, {"beside": other(z, **conditions)} if both else {}
