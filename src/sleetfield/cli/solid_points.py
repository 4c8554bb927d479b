"""``sleetfield freezing``, ``sleetfield hydrate``, ``sleetfield hydrate-amount`` and ``sleetfield inhibitor-dose``."""

from __future__ import annotations

from typing import Annotated, Any

import typer

from .options import GivenMixture, Marks, Pressures, Temperatures, marked, on_mixture

FREEZING_EXAMPLE = 'Example: sleetfield freezing "0.50 hydrogen + 0.48 carbon dioxide + 0.02 water" --eos PR --P "5bar to 40bar in 8" --out line.png'
HYDRATE_EXAMPLE = (
    'Example: sleetfield hydrate "0.85 methane + 0.05 propane + 0.10 water" --eos CPA --P "10bar to 100bar in 10" '
    '--mark "line: 8degC, 45bar" --out line.png'
)

AMOUNT_EXAMPLE = (
    'Example: sleetfield hydrate-amount "0.85 methane + 0.05 propane + 0.10 water" --eos CPA --T "-5degC to 15degC in 5" --P 40bar'
)
DOSE_EXAMPLE = 'Example: sleetfield inhibitor-dose "0.90 methane + 0.05 propane + 0.05 water + 0 methanol" --of methanol --eos CPA --T 2degC --P 45bar'

Log = Annotated[bool, typer.Option("--log", help="Logarithmic pressures in the figure.")]
OverEnvelope = Annotated[bool, typer.Option("--envelope", help="Draw the line over the envelope of the feed.")]

Salty = Annotated[str | None, typer.Option("--brine", help="Salt water beside it, by mass: 'sodium chloride: 3.5 %'.")]


@on_mixture
def freezing(
    system: Any, z: Any, given: GivenMixture, T: Temperatures = None, P: Pressures = None, mark: Marks = None, log: Log = False,
    over_envelope: OverEnvelope = False, brine: Salty = None,
) -> Any:  # fmt: skip
    """Where the first pure solid forms, on cooling at given pressure or on compression at given temperature; a list or range makes a line."""
    return _points(system, system.freezing, z, given, T, P, mark, log, over_envelope, brine)


@on_mixture
def hydrate(
    system: Any, z: Any, given: GivenMixture, T: Temperatures = None, P: Pressures = None, mark: Marks = None, log: Log = False,
    over_envelope: OverEnvelope = False, brine: Salty = None,
) -> Any:  # fmt: skip
    """Where the first gas hydrate forms, with the water and the inhibitors that the feed has; a list or range makes a line."""
    return _points(system, system.hydrate, z, given, T, P, mark, log, over_envelope, brine)


@on_mixture
def hydrate_amount(
    system: Any,
    z: Any,
    given: GivenMixture,
    T: Annotated[str, typer.Option("--T", help="Temperature: '2degC', a list, or a range.")],
    P: Annotated[str, typer.Option("--P", help="Absolute pressure.")],
) -> Any:
    """How much of a feed becomes gas hydrate, and what it takes along."""
    from ..specified import series_of

    return system.hydrate_amount(z, **series_of({"T": T, "P": P}), basis=given.basis.value)


@on_mixture
def inhibitor_dose(
    system: Any,
    z: Any,
    given: GivenMixture,
    of: Annotated[
        str, typer.Option("--of", help="The inhibitor, a component of the feed: write '+ 0 methanol' where it has none.")
    ],
    T: Annotated[str, typer.Option("--T", help="Temperature: '2degC', a list, or a range.")],
    P: Annotated[str, typer.Option("--P", help="Absolute pressure.")],
) -> Any:
    """How much of an inhibitor keeps hydrates away at a state, and how much of it is lost to the gas."""
    from ..specified import series_of

    return system.inhibitor_dose(of, z, **series_of({"T": T, "P": P}), basis=given.basis.value)


def _points(
    system: Any, own: Any, z: Any, given: GivenMixture, T: str | None, P: str | None, mark: list[str] | None, log: bool, over_envelope: bool,
    brine: str | None,
) -> Any:  # fmt: skip
    from ..errors import InputError
    from ..specified import series_of

    salt, _, amount = (brine or "").partition(":")
    salty = {"brine": {salt.strip(): amount.strip()}} if brine else {}
    found = own(z, **series_of({"T": T, "P": P}), basis=given.basis.value, **salty)
    if not hasattr(found, "plot"):
        if mark or log or over_envelope:
            raise InputError("--mark, --log and --envelope draw along a list or a range: give --T or --P as one.")
        return found
    envelope = system.envelope(z, basis=given.basis.value) if over_envelope else None
    return found, {"log": log, "marks": dict(marked(entry) for entry in mark or []), "beside": envelope}
