"""Where a fit begins: from what is known; where parameters of pairs are not, from several starts that equal fugacities at the measured points choose among.

Fugacities of the measured phases need no equilibrium to be solved, and are defined where the model has no second liquid too, so that a search through them
finds its way from anywhere.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import product

import numpy as np
from numpy.typing import NDArray

from ...core.arrays import ABSENT, component_major, normalized
from ...core.equilibrium.solid_saturation import imbalance
from ...core.models.contract import LIQUID, VAPOR
from ...data_sets import DataSet
from ...errors import SleetfieldError
from ...mixture import Mixture
from ..predictions import predict
from ..predictions.contract import liquid_pressure
from .objectives import complete, off_equilibrium
from .problem import MISSED, Problem

Array = NDArray[np.float64]

_GRID = (-0.5, 0.5, 1.5, 3.0)
"""Values that parameters without a known one are begun from, all combinations of up to three of them."""
_GRID_OF_EQUATIONS = (-0.05, 0.05, 0.15)
"""The same of an equation of state, whose parameters of pairs are small."""
_BEST, _FITTED = 2, 2
"""How many of them are followed by equal fugacities, and how many of these are fitted from."""
_UNEQUAL = 0.05
"""Difference of ln f that counts as one."""
_STEPS = 40
_ROUGH = 1e-2
_STEP = 1e-5
_SAME = 0.02
_HOPELESS = 20.0
_MISSED = 100.0


def starts(problem: Problem) -> list[Array]:
    """Values to begin from, the most promising first: the known ones, or of those that are not known, or say nothing of the data, the best of several."""
    known = problem.adjustable.inside(problem.start)
    everything = _far(problem, known)
    unknown = [k for k, name in enumerate(problem.adjustable.names) if everything or not problem.is_known(name)]
    return searched(problem, unknown) or [known]


def searched(problem: Problem, unknown: Sequence[int]) -> list[Array]:
    """The best of several starts of the parameters ``unknown`` of pairs, the others as they are; none where there are only slopes."""
    adjustable = problem.adjustable
    known = adjustable.inside(problem.start)
    parameters = problem.system.model.parameters
    free = [k for k in unknown if (p := parameters.get(adjustable.names[k])) is not None and len(p.of) == 2][:3]
    if not free:
        return []
    rough = _Rough(problem)
    candidates = [known]
    for values in product(_GRID if problem.system.activity is not None else _GRID_OF_EQUATIONS, repeat=len(free)):
        one = known.copy()
        one[free] = values
        candidates.append(adjustable.inside(one))
    followed = [rough.followed(v) for v in sorted(candidates, key=rough.cost)[:_BEST]]
    distinct: list[Array] = []
    for v in sorted(followed, key=rough.cost):
        if not any(np.allclose(v, other, atol=_SAME) for other in distinct):
            distinct.append(v)
    return distinct[:_FITTED]


def _far(problem: Problem, values: Array) -> bool:
    """Whether values say so little of the data that they are no better than none."""
    r = problem.residuals(values)
    return bool((r == MISSED).any() or (r**2).mean() > _HOPELESS**2)


class _Rough:
    """Differences of ln f between measured phases; of quantities that need none, what they are off."""

    def __init__(self, problem: Problem) -> None:
        self.problem = problem
        with np.errstate(all="ignore"):
            self.sizes = [len(_of_set(part.movable.system, part.data)) for part in problem.parts]

    def unequal(self, values: Array) -> Array:
        found = []
        with np.errstate(all="ignore"):
            for part, size in zip(self.problem.parts, self.sizes, strict=True):
                try:
                    found.append(_of_set(part.movable.at(values), part.data))
                except SleetfieldError:
                    found.append(np.full(size, _MISSED))
        return np.clip(np.nan_to_num(np.concatenate(found), nan=_MISSED), -1e4, 1e4)

    def cost(self, values: Array) -> float:
        """A stray point doesn't decide."""
        return float(np.minimum(self.unequal(values) ** 2, 1e4).sum())

    def followed(self, start: Array) -> Array:
        """Where equal fugacities lead from a start; how parameters depend on temperature is left as it is."""
        from scipy.optimize import least_squares

        a = self.problem.adjustable
        moving = np.array([not name.endswith((" slope", " bend")) for name in a.names])
        scale = np.maximum(a.sizes, np.abs(start))[moving]

        def whole(u: Array) -> Array:
            values = start.copy()
            values[moving] = u * scale
            return values

        def of(u: Array) -> Array:
            return self.unequal(whole(u))

        with np.errstate(all="ignore"):
            found = least_squares(
                of,
                start[moving] / scale,
                bounds=(a.low[moving] / scale, a.high[moving] / scale),
                loss="soft_l1",
                max_nfev=_STEPS,
                diff_step=[_STEP],
                ftol=_ROUGH,
                xtol=_ROUGH,
            )
        return a.inside(whole(found.x))


def _of_set(m: Mixture, data: DataSet) -> Array:
    rows = np.flatnonzero(data.used)
    T = data["T"][rows]
    if data.kind == "vapor-liquid" and complete(data).any():
        rows = np.flatnonzero(complete(data))
        phases = data["x"][rows], data["y"][rows]
        return (off_equilibrium(m, data["T"][rows], data["P"][rows], *phases, (LIQUID, VAPOR)) / _UNEQUAL).ravel()
    boiling = np.flatnonzero(data.used & np.isfinite(data["T"]) & np.isfinite(data["P"]) & np.isfinite(data["x"]).all(axis=1))
    if data.kind in ("vapor-liquid", "azeotrope") and boiling.size and len(m) > 1:
        return _unboiled(m, data["T"][boiling], data["P"][boiling], np.maximum(data["x"][boiling], ABSENT)) / _UNEQUAL
    if data.kind == "liquid-liquid":
        first, second = data["x'"][rows], data["x''"][rows]
        both = np.isfinite(first + second).all(axis=1) & np.isfinite(T)
        if both.any():
            P = liquid_pressure(m, T[both], data["P"][rows][both])
            shares = np.maximum(first[both], ABSENT), np.maximum(second[both], ABSENT)
            return (off_equilibrium(m, T[both], P, *shares, (LIQUID, LIQUID)) / _UNEQUAL).ravel()
        return np.zeros(len(rows))
    if data.kind == "solid-liquid":
        P = liquid_pressure(m, T, data["P"][rows])
        component = data.names.index(data.solid)
        return np.asarray(imbalance(m.phase_model, component, T, P, np.maximum(data["x"][rows], ABSENT)) / _UNEQUAL)
    return np.concatenate([_relative(p.value, p.measured, p.uncertainty) for p in predict(m, data)])


def _unboiled(m: Mixture, T: Array, P: Array, x: Array) -> Array:
    """Ln Σ Kᵢxᵢ of liquids that are said to boil, K by the vapor that they give."""
    bound, liquid = m.phase_model.at(T, P), component_major(x)
    fugacities = np.log(liquid) + bound.ln_phi(liquid, LIQUID)
    amounts = np.exp(fugacities)
    for _ in range(2):
        vapor = component_major(np.maximum(normalized(amounts), ABSENT))
        amounts = np.exp(fugacities - bound.ln_phi(vapor, VAPOR))
    return np.asarray(np.log(amounts.sum(axis=1)))


def _relative(value: Array, measured: Array, uncertainty: Array) -> Array:
    return np.asarray((value - measured) / (10.0 * uncertainty))
