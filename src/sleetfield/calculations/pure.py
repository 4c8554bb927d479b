"""The saturation curve of a single component, by equal fugacity, for any model."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..core.correlations import Correlation
from ..core.equilibrium.critical import critical_points
from ..core.models.contract import LIQUID, VAPOR
from ..core.properties import phase_properties
from ..errors import CalculationError, InputError
from ..measurements import pure_measurements
from ..mixture import Mixture
from ..results.saturation_curve import Measured, SaturationCurve
from ..text import shown
from .later import ANSWERS
from .saturation import saturate

Array = NDArray[np.float64]

_POINTS = 60
_LOWEST = 0.5


def default_temperatures(system: Mixture) -> Array:
    """From half the critical temperature up to it; within its range for a correlation."""
    found = critical_points(system.phase_model, np.ones(1))
    if found:
        # equal steps in √(Tc - T), which the densities are nearly straight against, up to the tip
        depth = np.linspace(np.sqrt(1.0 - _LOWEST), 0.0, _POINTS + 1)
        return np.asarray(found[0].T * (1.0 - depth**2))
    correlation = system.components[0].vapor_pressure
    assert correlation is not None
    return np.linspace(correlation.T_min, correlation.T_max, _POINTS)


def saturation_curve(system: Mixture, T: Any, data: Any) -> SaturationCurve:
    """The curve of the only component at temperatures ``T``, or up to its critical point, with measured ``data`` beside it.

    Raises
    ------
    InputError
        If the system has more than one component, or the data can't be read.
    """
    if len(system) != 1:
        raise InputError(
            f"A saturation curve is of one component; this system has {len(system)}. For a mixture, draw its envelope."
        )
    measured = {} if data is None else pure_measurements(data)
    if T is None:
        return _curve(system, default_temperatures(system), measured)
    values, _, _ = system.conditions([1.0], "mole", T=T)
    return _curve(system, values["T"], measured)


def _curve(system: Mixture, T: Array, measured: Mapping[str, tuple[Array, Array]]) -> SaturationCurve:
    """Both phases at saturation at each temperature; NaN above the critical one. ``measured`` values stand beside the model's."""
    P, phases = _phases(system, T)
    beside = {}
    for name, (at, values) in measured.items():
        P_there, phases_there = _phases(system, at)
        model = P_there if name == "P" else system.molar_mass[0] / phases_there[1]["V"]
        beside[name] = Measured(at, values, model)
    return SaturationCurve(system, T, P, phases[0], phases[1], _references(system, T), beside, ANSWERS)


def _phases(system: Mixture, T: Array) -> tuple[Array, list[dict[str, Array]]]:
    """Saturation pressures, and properties of the vapor and of the liquid there."""
    ones = np.ones((len(T), 1))
    tip = _at_critical_point(system, T)
    P = np.where(np.isfinite(tip), tip, np.nan)
    below = np.flatnonzero(~np.isfinite(tip))
    P[below] = saturate(system, "bubble", "T", T[below], ones[below]).P
    there = np.isfinite(P)
    phases = []
    for kind in (VAPOR, LIQUID):
        found = phase_properties(
            system.phase_model, system.heat_capacities, T[there], P[there], ones[there], np.full(int(there.sum()), kind)
        )
        phases.append(
            {name: _spread(getattr(found, name), there) for name in ("Z", "V", "H", "S", "Cp", "H_residual", "S_residual")}
        )
    for phase in phases:
        # without bound at the tip
        phase["Cp"][np.isfinite(tip)] = np.nan
    return P, phases


def _at_critical_point(system: Mixture, T: Array) -> Array:
    """The critical pressure where ``T`` is the critical temperature; NaN elsewhere."""
    found = critical_points(system.phase_model, np.ones(1))
    return np.where(np.abs(T / found[0].T - 1.0) < 1e-12, found[0].P, np.nan) if found else np.full(len(T), np.nan)


def _references(system: Mixture, T: Array) -> dict[str, Array]:
    """What the databank's correlations give within their range, where the model does not rest on them itself."""
    component = system.components[0]
    known: dict[str, tuple[Correlation, Array]] = {}
    if system.eos is not None and component.vapor_pressure is not None:
        known["P"] = component.vapor_pressure, np.exp(component.vapor_pressure.value(T))
    if system.eos is not None and component.liquid_density is not None:
        known["density"] = component.liquid_density, component.liquid_density.value(T) * system.molar_mass[0]
    if component.heat_of_vaporization is not None:
        known["heat of vaporization"] = component.heat_of_vaporization, component.heat_of_vaporization.value(T)
    return {name: np.where(correlation.outside(T), np.nan, values) for name, (correlation, values) in known.items()}


def _spread(values: Array, there: NDArray[np.bool_]) -> Array:
    full = np.full(len(there), np.nan)
    full[there] = values
    return full


def fugacities_around_boiling(system: Mixture, P: float) -> tuple[Array, Array, Array, tuple[float, float]]:
    """Temperatures around boiling at ``P``, ln(f/Pa) of vapor and liquid there, and where these cross."""
    T_boil = float(saturate(system, "bubble", "P", np.array([P]), np.ones((1, 1))).T[0])
    if not np.isfinite(T_boil):
        raise CalculationError(f"{system.names[0]} does not boil at {shown(P, 'pressure', system.units)}.")
    T = np.linspace(0.9 * T_boil, 1.1 * T_boil, 81)
    return T, *ln_fugacities(system, T, P), (T_boil, float(ln_fugacities(system, np.array([T_boil]), P)[0][0]))


def ln_fugacities(system: Mixture, T: Array, P: float) -> tuple[Array, Array]:
    """ln(f/Pa) of the vapor and of the liquid at one pressure, against temperature; NaN where the phase has no root of its own."""
    ones, at_P = np.ones((len(T), 1)), np.full(len(T), P)
    with np.errstate(all="ignore"):
        bound = system.phase_model.at(T, at_P)
        Z = [bound.describe(ones, kind)[0] for kind in (VAPOR, LIQUID)]
        kinds = bound.describe(ones)[1]
        ln_f = [np.log(P) + bound.ln_phi(ones, kind)[:, 0] for kind in (VAPOR, LIQUID)]
    single = np.isclose(Z[0], Z[1], rtol=1e-9)
    vapor = np.where(single & (kinds == LIQUID), np.nan, ln_f[0])
    liquid = np.where(single & (kinds == VAPOR), np.nan, ln_f[1])
    return vapor, liquid
