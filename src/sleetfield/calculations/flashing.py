"""Phases at equilibrium at any two given quantities: what was asked for is checked, solved, and told."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..composition import Composition, is_flows
from ..errors import CalculationError, InputError
from ..mixture import Mixture
from ..results.state import State, StateBatch
from ..units import dimension_of
from . import specifications
from .later import ANSWERS
from .workers import whole_workers

if TYPE_CHECKING:
    from concurrent.futures import Executor

Array = NDArray[np.float64]

QUANTITIES = ("T", "P", "H", "S", "U", "V", "density", "vapor_fraction", "vapor_mass_fraction")
"""What two are given of."""


_ADDED_UP = "The liquid's volume is that of the pure liquids, added up."

_MEANT = {
    "Q": "vapor_fraction, or duty in state.to(P=..., duty=...)",
    "q": "vapor_fraction, or duty in state.to(P=..., duty=...)",
    "quality": "vapor_fraction",
    "beta": "vapor_fraction",
    "rho": "density",
    "duty": "duty in state.to(P=..., duty=...)",
    "pressure": "P",
    "temperature": "T",
}
"""What other names for quantities stand for here."""


def flash(
    system: Mixture,
    z: Composition,
    *,
    flow: Any = None,
    phases: str | None = None,
    basis: str = "mole",
    executor: Executor | None = None,
    **specified: Any,
) -> Any:
    """A State, or a StateBatch where any of the two quantities and z is an array; `System.flash` says it all."""
    given = two_of("flash", specified)
    if is_flows(z):
        if flow is not None:
            raise InputError("The feed's flow is given by component already; leave out flow=.")
        z, given["flow"] = system.feed_of_flows(z)  # type: ignore[arg-type]
        basis = "mole"
    elif flow is not None:
        given[_FLOWS[dimension_of(flow, *_FLOWS)]] = flow
    values, batch, shape = system.conditions(z, basis, **given)
    flows = {name: values.pop(name) for name in _FLOWS.values() if name in values}
    with whole_workers(executor):
        if phases is not None:
            T, P, result = specifications.solve_restricted(system, values, batch, phases, executor)
        else:
            T, P, result = specifications.solve(system, values, batch, executor)
    states = StateBatch(system, T, P, batch, None, result, shape, ANSWERS)
    if flows:
        states = replace(states, flow=_moles(states, flows))
    if shape:
        return states
    if states.failed[0]:
        raise CalculationError(specifications.why_none(system, values, batch))
    volumes = (_ADDED_UP,) if system.activity is not None and {"V", "density"} & set(values) else ()
    return State(states, given={name: float(value[0]) for name, value in values.items()}, remarks=volumes)


_FLOWS = {"molar_flow": "flow", "mass_flow": "mass_flow", "volume_flow": "volume_flow"}
"""What a flow can be given in, and what it is called then; volumes are those at the state's own temperature and pressure."""


def _moles(states: StateBatch, flows: dict[str, Array]) -> Array:
    """The feed's molar flow ``(N,)`` from whichever flow was given."""
    (name,) = flows
    if name == "flow":
        return flows[name]
    by = states.system.mean_molar_mass(states.z) if name == "mass_flow" else states.molar_volume
    return np.asarray(flows[name] / by)


def two_of(call: str, specified: dict[str, Any]) -> dict[str, Any]:
    """What was given of all that can be: two quantities that say different things.

    Raises
    ------
    InputError
        If it is not two, or both say the same thing, or there is no such quantity.
    """
    strange = [name for name in specified if name not in QUANTITIES]
    if strange:
        hint = f" Did you mean {_MEANT[strange[0]]}?" if strange[0] in _MEANT else ""
        raise InputError(f"{call} knows no {strange[0]!r}; it needs two of {', '.join(QUANTITIES)}.{hint}")
    given = {name: value for name, value in specified.items() if value is not None}
    same = any(pair <= set(given) for pair in specifications.SAME)
    if len(given) != 2 or same:
        which = "; these two say the same thing" if same else ""
        raise InputError(f"{call} needs two of {', '.join(QUANTITIES)}; got {' and '.join(given) or 'none'}{which}.")
    return given
