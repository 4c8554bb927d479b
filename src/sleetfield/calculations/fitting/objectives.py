"""What a fit makes small: the residuals of measured quantities, of relative volatilities or activity coefficients, or of all variables at once."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from ...core.arrays import ABSENT, component_major
from ...core.models.contract import LIQUID, VAPOR
from ...data_sets import DataSet
from ...errors import InputError
from ...mixture import Mixture
from ..predictions import Predicted, Shifted, predictor
from ..predictions.contract import by_differences
from .errors_in_variables import AllVariables

Array = NDArray[np.float64]

Residuals = Callable[[Mixture, Sequence[Shifted]], list[Predicted]]

OBJECTIVES: dict[str, str] = {
    "measured": "measured quantities over their uncertainties",
    "relative volatility": "relative volatilities instead of the vapor's composition",
    "activity coefficients": "activity coefficients that the measured points imply",
    "all variables": "all measured variables, none taken as exact (maximum likelihood)",
}
"""What a fit can be asked to make small."""


def residuals_of(objective: str, system: Mixture, data: DataSet) -> Residuals:
    """How a set's residuals are worked out; what has no vapor and liquid in it is compared as measured in any case.

    Raises
    ------
    InputError
        If there is no such objective.
    """
    if objective not in OBJECTIVES:
        raise InputError(f"objective is {objective!r}; it is one of {', '.join(OBJECTIVES)}.")
    if data.kind == "vapor-liquid" and objective == "relative volatility":
        own = predictor(data)
        return lambda m, shifts: _relative_volatilities(own(m, shifts), data, m.names)
    if data.kind == "vapor-liquid" and objective == "activity coefficients" and complete(data).any():
        measured = implied_ln_gamma(system, data)
        return lambda m, shifts: _activity_coefficients(m, data, shifts, measured)
    if data.kind in ("vapor-liquid", "azeotrope") and objective == "all variables" and np.isfinite(data["x"]).any():
        return AllVariables(system, data)
    return predictor(data)


def complete(data: DataSet) -> NDArray[np.bool_]:
    """Points that are not left out and have T, P, x and y, none of them of a pure component."""
    x, y = data["x"], data["y"]
    there = np.isfinite(data["T"]) & np.isfinite(data["P"]) & np.isfinite(x).all(axis=1) & np.isfinite(y).all(axis=1)
    return np.asarray(data.used & there & (np.minimum(x, y) > 0.0).all(axis=1))


def off_equilibrium(system: Mixture, T: Array, P: Array, x: Array, y: Array, kinds: tuple[np.int8, np.int8]) -> Array:
    """Ln f of each component in the first phase less that in the second ``(N, C)``."""
    bound = system.phase_model.at(T, P)
    first, second = (component_major(np.maximum(v, ABSENT)) for v in (x, y))
    ln_f = [np.log(v) + bound.ln_phi(v, kind) for v, kind in zip((first, second), kinds, strict=True)]
    return np.asarray(ln_f[0] - ln_f[1])


# ---- activity coefficients ----


def _rows(data: DataSet) -> tuple[NDArray[np.intp], Array, Array, Array, Array]:
    points = np.flatnonzero(complete(data))
    return points, data["T"][points], data["P"][points], data["x"][points], data["y"][points]


def implied_ln_gamma(system: Mixture, data: DataSet) -> Array:
    """Ln γ that the measured points imply, the vapor and the pure liquids as the system has them ``(N, C)``."""
    _, T, P, x, y = _rows(data)
    own = _of_liquid(system, T, P, x)
    return own - off_equilibrium(system, T, P, x, y, (LIQUID, VAPOR))


def _of_liquid(system: Mixture, T: Array, P: Array, x: Array) -> Array:
    bound = system.phase_model.at(T, P)
    mixed = bound.ln_phi(component_major(np.maximum(x, ABSENT)), LIQUID)
    pure = []
    for i in range(len(system)):
        only = np.full_like(x, ABSENT)
        only[:, i] = 1.0
        pure.append(bound.ln_phi(component_major(only), LIQUID)[:, i])
    return np.asarray(mixed - np.stack(pure, axis=1))


def _activity_coefficients(m: Mixture, data: DataSet, shifts: Sequence[Shifted], measured: Array) -> list[Predicted]:
    points, T, P, x, y = _rows(data)

    def off(one: Mixture) -> Array:
        return off_equilibrium(one, T, P, x, y, (LIQUID, VAPOR)).T.ravel()

    value, slopes = off(m).reshape(x.shape[1], -1), by_differences(m, shifts, off).reshape(x.shape[1], len(points), -1)
    u_y = data.standard_uncertainty("y", y[:, 0], points)
    u_P = data.standard_uncertainty("P", P, points) / P
    found = []
    for i, name in enumerate(m.names):
        u = np.hypot(u_y / y[:, i], u_P)
        found.append(Predicted(f"ln_gamma {name}", points, measured[:, i], u, measured[:, i] + value[i], slopes[i]))
    return found


# ---- relative volatilities ----


def _relative_volatilities(parts: list[Predicted], data: DataSet, names: Sequence[str]) -> list[Predicted]:
    """Of two components ln(y₁x₂/(x₁y₂)) for y₁; of more, y stays."""
    if len(names) != 2 or not np.isfinite(data["x"]).any():
        return parts
    return [_as_volatility(p, data["x"][p.points, 0], names) if p.quantity.startswith("y ") else p for p in parts]


def _as_volatility(p: Predicted, x: Array, names: Sequence[str]) -> Predicted:
    ln_x = np.log(x / (1.0 - x))
    y, known = np.clip(p.value, 1e-12, 1.0 - 1e-12), np.clip(p.measured, 1e-12, 1.0 - 1e-12)
    steep = 1.0 / (y * (1.0 - y))
    return Predicted(
        f"ln_alpha {names[0]}",
        p.points,
        np.log(known / (1.0 - known)) - ln_x,
        p.uncertainty / (known * (1.0 - known)),
        np.log(y / (1.0 - y)) - ln_x,
        p.slopes * steep[:, None],
    )
