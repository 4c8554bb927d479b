"""Two liquids in equilibrium: the compositions of both, from feeds between the measured ones."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ...core.equilibrium.parameter_derivatives import Phase, Shift, of_two_phases
from ...core.models.contract import LIQUID
from ...core.restricted import restricted_flash
from ...data_sets import DataSet
from ...errors import InputError
from ...mixture import Mixture
from .contract import Predicted, Shifted, liquid_pressure, predicted

Array = NDArray[np.float64]

_FEEDS = (0.5, 0.25, 0.75, 0.1, 0.9, 0.03, 0.97)
"""Fractions of the first of two components at which a split is looked for where none is between the measured liquids."""


def liquid_liquid(system: Mixture, data: DataSet, shifts: Sequence[Shifted]) -> list[Predicted]:
    """Mole fractions of both liquids; NaN where the model has one liquid."""
    first, second = data["x'"], data["x''"]
    points = np.flatnonzero(data.used & np.isfinite(data["T"]) & (np.isfinite(first) | np.isfinite(second)).all(axis=1))
    if not points.size:
        raise InputError(f"{data.source} has no point with T and a liquid's composition that is not left out.")
    T = data["T"][points]
    P = liquid_pressure(system, T, data["P"][points])
    one, two, amounts = liquids_near(system, T, P, first[points], second[points])
    slopes = np.zeros((2, len(points), len(shifts), len(system)))
    there = np.flatnonzero(np.isfinite(one).all(axis=1))
    if shifts and there.size:
        models = [Shift(s.below.phase_model, s.above.phase_model, s.step) for s in shifts]
        phases = Phase(one[there], LIQUID), Phase(two[there], LIQUID)
        _, *moved = of_two_phases(system.phase_model, models, T[there], P[there], amounts[there], *phases)
        slopes[0][there], slopes[1][there] = moved
    result: list[Predicted] = []
    for q, value, slope in (("x'", one, slopes[0]), ("x''", two, slopes[1])):
        for i in range(len(system) - 1):
            result += predicted(data, f"{q} {system.names[i]}", points, data[q][points, i], value[:, i], slope[:, :, i])
    return result


def liquids_near(system: Mixture, T: Array, P: Array, first: Array, second: Array) -> tuple[Array, Array, Array]:
    """The liquids ``(N, C)`` nearest to measured ones, of which one may be NaN, and their amounts ``(N, 2)``; NaN where there is one liquid."""
    n, c = first.shape
    one, two, amounts = np.full((n, c), np.nan), np.full((n, c), np.nan), np.full((n, 2), np.nan)
    both = np.isfinite(first + second).all(axis=1)
    feeds = [0.5 * (first + second)]
    if c == 2:
        feeds += [np.tile([f, 1.0 - f], (n, 1)) for f in _FEEDS]
    elif not both.all():
        raise InputError("Liquids of more than two components need the compositions of both.")
    left = np.arange(n)
    for feed in feeds:
        rows = left[np.isfinite(feed[left]).all(axis=1)]
        if not rows.size:
            continue
        found = restricted_flash(system.thermodynamics, T[rows], P[rows], feed[rows], "LL")
        split = np.flatnonzero((np.isfinite(found.amount).sum(axis=1) >= 2) & np.isfinite(found.residual))
        if split.size:
            at = rows[split]
            pick = _nearest(found.x[split], first[at], second[at])
            for k, into in enumerate((one, two)):
                into[at] = found.x[split, pick[:, k]]
                amounts[at, k] = found.amount[split, pick[:, k]]
        left = np.flatnonzero(np.isnan(one).any(axis=1))
        if not left.size:
            break
    return one, two, amounts


def _nearest(x: Array, first: Array, second: Array) -> NDArray[np.intp]:
    """Which phases ``(N, 2)`` of ``x (N, F, C)`` are the measured liquids: the pair that is the nearest, none of them twice."""
    phases = x.shape[1]
    apart = [
        np.nan_to_num(np.abs(np.log(np.maximum(x, 1e-12)) - np.log(np.maximum(m, 1e-12))[:, None]).sum(axis=2), nan=0.0)
        for m in (first, second)
    ]
    there = np.asarray(np.isfinite(x).all(axis=2))
    total = apart[0][:, :, None] + apart[1][:, None, :]
    total = np.where(there[:, :, None] & there[:, None, :] & ~np.eye(phases, dtype=bool), total, np.inf)
    best = total.reshape(len(x), -1).argmin(axis=1)
    return np.stack([best // phases, best % phases], axis=1)
