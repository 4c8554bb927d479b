"""Stability of mixtures, over every start that the engine has."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ..core.arrays import ABSENT, component_major
from ..core.equilibrium import stability as engine
from ..core.equilibrium.stability import Stability

if TYPE_CHECKING:
    from ..system import System

Array = NDArray[np.float64]

MARGINAL = -1e-7
"""On a phase boundary the feed is marginal: only a tangent-plane distance below this means a further phase."""


def feed_stability(system: System, T: Array, P: Array, z: Array) -> Stability:
    """The lowest tangent-plane distance from feeds ``z (N, C)`` as single phases."""
    with np.errstate(all="ignore"):
        feed = component_major(np.maximum(z, ABSENT))
        bound = system.model.at(T, P)
        d = np.log(feed) + bound.ln_phi(feed)
        ln_k = (system.model.ln_saturation_guess(T).T - np.log(P)).T
        return engine.feed_stability(bound, feed, d, ln_k)
