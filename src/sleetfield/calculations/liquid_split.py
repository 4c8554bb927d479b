"""The liquids that a feed forms, and the way to them."""

from __future__ import annotations

from typing import Any

from ..composition import Composition
from ..core.restricted import restricted_flash
from ..errors import InputError
from ..mixture import Mixture
from ..results.liquid_split import LiquidSplit
from ..results.state import StateBatch
from .later import ANSWERS


def liquid_split(system: Mixture, z: Composition, T: Any, P: Any, basis: str) -> LiquidSplit:
    """The liquids of one feed, whatever vapor there might be.

    Raises
    ------
    InputError
        If there is more than one feed or condition.
    """
    steps: list[tuple[str, float, float]] = []
    values, batch, shape = system.conditions(z, basis, T=T, P=P)
    if shape:
        raise InputError("liquid_split takes one feed at one condition; for many, flash(..., phases='LL').")
    result = restricted_flash(
        system.thermodynamics,
        values["T"],
        values["P"],
        batch,
        "LL",
        lambda method, _, share, error: steps.append((method, float(share[0]), float(error[0]))),
    )
    state = StateBatch(system, values["T"], values["P"], batch, None, result, shape, ANSWERS)[0]
    return LiquidSplit(system, state, tuple(steps))
