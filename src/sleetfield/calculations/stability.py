"""Stability of mixtures, over every start that the engine has."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..composition import Composition
from ..core.arrays import ABSENT, component_major
from ..core.equilibrium import stability as engine
from ..core.equilibrium.stability import UNSTABLE, Stability
from ..errors import InputError
from ..mixture import Mixture
from ..results.critical import StabilityTest

Array = NDArray[np.float64]


def feed_stability(system: Mixture, T: Array, P: Array, z: Array) -> Stability:
    """The lowest tangent-plane distance from feeds ``z (N, C)`` as single phases."""
    with np.errstate(all="ignore"):
        return engine.of_feeds(system.phase_model, T, P, z)


def lowest_distance(system: Mixture, T: Array, P: Array, z: Array) -> Stability:
    """The same, with the trial phases of unstable feeds at their minima."""
    found = feed_stability(system, T, P, z)
    index = np.flatnonzero(found.tm < UNSTABLE)
    if not index.size:
        return found
    with np.errstate(all="ignore"):
        feed = component_major(np.maximum(z[index], ABSENT))
        bound = system.phase_model.at(T[index], P[index])
        low = engine.lowest(bound, np.log(feed) + bound.ln_phi(feed), component_major(found.trial[index]))
    lower = low.tm < found.tm[index]
    found.tm[index[lower]], found.trial[index[lower]] = low.tm[lower], low.trial[lower]
    return found


def stability_test(system: Mixture, z: Composition, T: Any, P: Any, basis: str) -> StabilityTest:
    """Whether one mixture stays one phase.

    Raises
    ------
    InputError
        If there are several states.
    """
    values, batch, shape = system.conditions(z, basis, T=T, P=P)
    if shape:
        raise InputError("The stability test takes one state; for many, flash them and read n_phases.")
    found = lowest_distance(system, values["T"], values["P"], batch)
    there = (batch[0] > 0.0) & (found.trial[0] > ABSENT)
    trial = dict(zip(system.names, np.where(there, found.trial[0], 0.0).tolist(), strict=True))
    tm = float(found.tm[0])
    return StabilityTest(system, float(values["T"][0]), float(values["P"][0]), batch[0], tm >= UNSTABLE, tm, trial)
