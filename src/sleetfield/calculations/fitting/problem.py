"""Predictions of every data set, and their derivatives, as functions of the fitted parameters."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ...data_sets import KINDS, DataSet
from ...errors import InputError, SleetfieldError
from ...mixture import Mixture
from ...recipes.parameter import GIVEN
from ...recipes.solids import solid_parameters
from ..predictions import Predicted, Shifted
from .adjustable import Adjustable, bare
from .errors_in_variables import AllVariables
from .objectives import residuals_of
from .splitting import unstable_by

Array = NDArray[np.float64]

_STEP = 1e-5
MISSED = 30.0
"""Uncertainties that a point counts as missed by where the model has no answer."""
_SPLIT = 1e-3
"""How far inside a false liquid split counts as one uncertainty."""
_MARGIN = 0.01
"""How far from the limit of stability liquids are kept."""
SPLIT = "liquid split"
"""What the residuals against a false one are called."""


class Movable:
    """A system, or a part of it, with those of the parameters that it depends on."""

    def __init__(self, system: Mixture, adjustable: Adjustable) -> None:
        self.system, self.adjustable = system, adjustable
        own = system.model.parameters
        self.free = [k for k in range(len(adjustable.names)) if any(bare(n) in own for n in adjustable.followers(k))]
        self._settable = {n for k in self.free for n in adjustable.followers(k) if bare(n) in own}

    def at(self, values: Array) -> Mixture:
        """It with other parameters."""
        numbers = {n: v for n, v in self.adjustable.numbers(values).items() if n in self._settable}
        return with_numbers(self.system, numbers)

    def shifts(self, values: Array) -> list[Shifted]:
        """It with each of its parameters moved to either side."""
        return [self._shift(values, k) for k in self.free]

    def _shift(self, values: Array, k: int) -> Shifted:
        step = _STEP * max(self.adjustable.sizes[k], abs(float(values[k])))
        below, above = values.copy(), values.copy()
        below[k] -= step
        above[k] += step
        return Shifted(self.at(below), self.at(above), step)

    def spread(self, slopes: Array) -> Array:
        """Derivatives ``(M, ...)`` by its own parameters as those by all ``(M, K)``."""
        whole = np.zeros((len(slopes), len(self.adjustable.names)))
        whole[:, self.free] = slopes
        return whole


class Part:
    """One data set with the system of its components."""

    def __init__(self, system: Mixture, data: DataSet, adjustable: Adjustable, objective: str, forbid_split: bool) -> None:
        self.data, self.movable = data, Movable(system_of(system, data), adjustable)
        self.residuals = residuals_of(objective, self.movable.system, data)
        self.guards_split = forbid_split and data.kind in ("vapor-liquid", "azeotrope") and len(data.names) == 2

    def predicted(self, values: Array) -> list[Predicted]:
        """Every quantity of the set, with derivatives ``(M, K)`` by all free parameters."""
        m, shifts = self.movable.at(values), self.movable.shifts(values)
        found = self.residuals(m, shifts)
        if self.guards_split:
            found = [*found, self._against_split(m, shifts)]
        return [p._replace(slopes=self.movable.spread(p.slopes)) for p in found]

    def at_start(self) -> list[Predicted]:
        """What is measured, beside what the system as it is says of it."""
        m = self.movable.system
        found = self.residuals(m, [])
        if not found:
            says = " or ".join(KINDS[self.data.kind].says)
            raise InputError(f"{self.data.source} has no point with {says} that is not left out: there is nothing to compare.")
        return [*found, *([self._against_split(m, [])] if self.guards_split else [])]

    def _against_split(self, m: Mixture, shifts: Sequence[Shifted]) -> Predicted:
        T = self.data["T"][self.data.used]
        levels = np.unique([np.nanmin(T), np.nanmax(T)]) if np.isfinite(T).any() else np.array([298.15])
        value = unstable_by(m, levels, _MARGIN)
        slopes = [(unstable_by(s.above, levels, _MARGIN) - unstable_by(s.below, levels, _MARGIN)) / (2.0 * s.step) for s in shifts]
        none = np.zeros(len(levels))
        columns = np.stack(slopes, axis=1) if slopes else np.zeros((len(levels), 0))
        return Predicted(SPLIT, np.arange(len(levels)), none, none + _SPLIT, value, columns)


class Problem:
    """All data sets; the last evaluation is kept."""

    def __init__(
        self, system: Mixture, sets: Sequence[DataSet], adjustable: Adjustable, objective: str, forbid_split: bool
    ) -> None:
        self.system, self.adjustable = system, adjustable
        self.parts = [Part(system, data, adjustable, objective, forbid_split) for data in sets]
        parameters = system.model.parameters
        self.start = np.array([parameters.value(name) for name in adjustable.names])
        idle = [n for k, n in enumerate(adjustable.names) if not any(k in part.movable.free for part in self.parts)]
        if idle:
            raise InputError(f"No data set depends on {', '.join(idle)}; fit others, or give data of their components.")
        self.evaluations = 0
        self._last: tuple[bytes, list[list[Predicted]]] = (b"", [])
        with np.errstate(all="ignore"):
            rows = [p for part in self.parts for p in part.at_start()]
        self.measured = np.concatenate([p.measured for p in rows])
        self.uncertainty = np.concatenate([p.uncertainty for p in rows])
        self.without_freedom = sum(p.residuals.sought for p in self.parts if isinstance(p.residuals, AllVariables))
        self.without_freedom += sum(len(p.points) for p in rows if p.quantity == SPLIT)
        free = len(self.measured) - self.without_freedom
        if free <= len(adjustable.names):
            raise InputError(f"{free} measured values don't determine {len(adjustable.names)} parameters; fit fewer.")

    def at(self, values: Array) -> Mixture:
        """The system with other parameters."""
        return with_numbers(self.system, self.adjustable.numbers(values))

    def is_known(self, name: str) -> bool:
        """Whether a parameter's value came from somewhere."""
        parameters = self.system.model.parameters
        return parameters[bare(name)].known if bare(name) in parameters else True

    def predicted(self, values: Array) -> list[list[Predicted]]:
        """What the model says of every set; nothing where the numbers make no model."""
        key = values.tobytes()
        if self._last[0] != key:
            self.evaluations += 1
            try:
                with np.errstate(all="ignore"):
                    self._last = key, [part.predicted(values) for part in self.parts]
            except (SleetfieldError, np.linalg.LinAlgError):
                self._last = key, []
        return self._last[1]

    def residuals(self, values: Array) -> Array:
        """Fitted less measured over the uncertainties ``(N,)``; a point that there is no answer for counts as far off."""
        parts = [p.value for part in self.predicted(values) for p in part]
        value = np.concatenate(parts) if parts else np.full(len(self.measured), np.nan)
        r = (value - self.measured) / self.uncertainty
        return np.asarray(np.where(np.isfinite(r), r, MISSED))

    def jacobian(self, values: Array) -> Array:
        """Their derivatives ``(N, K)``."""
        parts = [p.slopes for part in self.predicted(values) for p in part]
        slopes = np.nan_to_num(np.concatenate(parts)) if parts else np.zeros((len(self.measured), len(values)))
        return np.asarray(slopes / self.uncertainty[:, None])


def system_of(system: Mixture, data: DataSet) -> Mixture:
    """The system of a set's components, with the solid that it is of.

    Raises
    ------
    InputError
        If the system lacks one of them.
    """
    if strange := [name for name in data.names if name not in system.names]:
        raise InputError(
            f"{data.source} is of {', '.join(data.names)}; the system has {', '.join(system.names)}, not {strange[0]}."
        )
    one = system if data.names == system.names else system.part(list(data.names))
    return beside_solid(one, data.solid) if data.kind == "solid-liquid" else one


def with_numbers(system: Mixture, numbers: dict[str, float], source: str = GIVEN) -> Mixture:
    """A system with other parameters."""
    return type(system).of(system.who, system.model.with_parameters(numbers, source), system.units)


def beside_solid(system: Mixture, name: str) -> Mixture:
    """A system with the solid of one component, where it does not have it already."""
    model = system.model
    if name in model.solids:
        return system
    parameters = type(model.parameters)([*model.parameters.values(), *solid_parameters(system.who, [name])])
    return type(system).of(system.who, type(model)(model.recipe, model.names, parameters), system.units)
