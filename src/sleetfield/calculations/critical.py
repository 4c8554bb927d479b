"""Critical points, directly."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ..composition import Composition
from ..core.equilibrium.critical import CriticalPoint as DirectPoint, critical_points
from ..core.equilibrium.phase_boundaries import stable_critical
from ..core.models.contract import VolumeModel
from ..errors import CalculationError, InputError
from ..mixture import Mixture
from ..results.critical import CriticalPoint

Array = NDArray[np.float64]


def critical(system: Mixture, z: Composition, basis: str) -> CriticalPoint:
    """The stable critical point of a mixture, with all of them in ``.all``.

    Raises
    ------
    InputError
        If there are several compositions.
    CalculationError
        If the model has none, or none is found.
    """
    _, batch, shape = system.conditions(z, basis)
    if shape:
        raise InputError("A critical point is of one composition; call it once for each.")
    if not isinstance(system.phase_model, VolumeModel):
        raise CalculationError(
            f"The model {system.model_title} has no critical points: it needs one equation of state for both phases."
        )
    present, model = system.present(batch[0])
    found = critical_points(model, batch[0][present])
    if not found:
        raise CalculationError("No critical point with positive pressure was found for this mixture.")
    points = checked_critical(system, found, batch[0])
    best = next((p for p in points if p.stable), points[0])
    return CriticalPoint(system, best.T, best.P, best.molar_volume, best.stable, tuple(points))


def checked_critical(system: Mixture, found: Sequence[tuple[float, float, float]], z: Array) -> list[CriticalPoint]:
    """Critical points (T, P, V) with the word on whether their phase is stable."""
    present, model = system.present(z)
    with np.errstate(all="ignore"):
        stable = stable_critical(model, z[present], [DirectPoint(*p) for p in found])
    return [CriticalPoint(system, *p, fine) for p, fine in zip(found, stable, strict=True)]
