"""Whether a model splits the liquid of two components, and by how much it is stable or not."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...core.arrays import component_major
from ...core.models.contract import LIQUID
from ...mixture import Mixture
from ..predictions.contract import liquid_pressure

Array = NDArray[np.float64]

_X = np.concatenate([np.geomspace(1e-4, 0.05, 12), np.linspace(0.08, 0.92, 29), 1.0 - np.geomspace(0.05, 1e-4, 12)])


def can_be_liquid(pair: Mixture, T: Array) -> NDArray[np.bool_]:
    """Where both components can be a liquid ``(N,)``: by an equation of state none is above its critical temperature."""
    critical = [c.Tc for c in pair.components if c.Tc is not None and pair.eos is not None]
    return np.asarray(min(critical, default=np.inf) > T)


def unstable_by(pair: Mixture, T: Array, margin: float = 0.0) -> Array:
    """How far below a ``margin`` x₁x₂ ∂²(G/RT)/∂x² of the liquid comes at each temperature ``(N,)``; zero where it does not at any composition.

    Where one of both is no liquid, what divides is vapor and liquid.
    """
    many, x = np.repeat(T, len(_X)), np.tile(_X, len(T))
    P = liquid_pressure(pair, many, np.full(len(many), np.nan))
    z = component_major(np.stack([x, 1.0 - x], axis=1))
    dn = pair.phase_model.at(many, P).evaluate(z, LIQUID).dn
    by_x = dn[:, 0, 0] - dn[:, 0, 1] - dn[:, 1, 0] + dn[:, 1, 1]
    curvature = 1.0 + x * (1.0 - x) * by_x
    below = np.minimum(0.0, curvature.reshape(len(T), -1).min(axis=1) - margin)
    return np.where(can_be_liquid(pair, T), below, 0.0)
