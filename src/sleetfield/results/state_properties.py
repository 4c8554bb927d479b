"""Every property of a state: of the whole, of each phase, and of each component in each phase.

Said once, for tables, prints and files alike: a property is a name, a dimension and what gives it for a batch. The second derivatives
of the Gibbs energy that the model supplies give the rest:

    Cv = Cp + T (∂V/∂T)²/(∂V/∂P),   w² = -V² (Cp/Cv)/(M ∂V/∂P),   μ = (T ∂V/∂T - V)/Cp,   α = (∂V/∂T)/V,   κ = -(∂V/∂P)/V
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..core.models.contract import VAPOR

if TYPE_CHECKING:
    from .state import State, StateBatch

Array = NDArray[np.float64]


class Property(NamedTuple):
    """A property's dimension, what gives it, and what it is in words."""

    dimension: str
    of: Callable[[StateBatch], Array]
    words: str


def _energy(sign_ts: float, sign_pv: float) -> Callable[[StateBatch], Array]:
    """H - TS and H - PV and both, of each phase."""

    def of(b: StateBatch) -> Array:
        p = b.phase_properties
        return np.asarray(p.H - sign_ts * b.T[:, None] * p.S - sign_pv * b.P[:, None] * p.V)

    return of


def _g_residual(b: StateBatch) -> Array:
    p = b.phase_properties
    return np.asarray(p.H_residual - b.T[:, None] * p.S_residual)


def _cv(b: StateBatch) -> Array:
    p = b.phase_properties
    with np.errstate(all="ignore"):
        compressible = np.where(p.V_P < 0.0, p.Cp + b.T[:, None] * p.V_T**2 / p.V_P, np.nan)
        # a volume that does not depend on pressure: there is no path at constant volume
        return np.asarray(np.where(p.V_P == 0.0, p.Cp, compressible))


def _speed_of_sound(b: StateBatch) -> Array:
    p = b.phase_properties
    with np.errstate(all="ignore"):
        squared = -(p.V**2) * (p.Cp / _cv(b)) / (b.phase_molar_mass * p.V_P)
        return np.asarray(np.sqrt(np.where(squared > 0.0, squared, np.nan)))


def _throttling_coefficient(b: StateBatch) -> Array:
    p = b.phase_properties
    return np.asarray((b.T[:, None] * p.V_T - p.V) / p.Cp)


def _share(weight: Callable[[StateBatch], Array]) -> Callable[[StateBatch], Array]:
    """The share of each phase in the sum of amount times ``weight``."""

    def of(b: StateBatch) -> Array:
        part = b.fractions * weight(b)
        with np.errstate(all="ignore"):
            return np.asarray(part / np.nansum(part, axis=1)[:, None])

    return of


def _molar_mass(b: StateBatch) -> Array:
    return np.asarray(np.where(np.isfinite(b.fractions), b.phase_molar_mass, np.nan))


PER_PHASE: dict[str, Property] = {
    "fraction": Property("fraction", lambda b: b.fractions, "share of the feed's moles"),
    "mass_fraction": Property("fraction", _share(_molar_mass), "share of the mass"),
    "volume_fraction": Property("fraction", _share(lambda b: b.phase_volume), "share of the volume"),
    "Z": Property("fraction", lambda b: np.where(b.failed[:, None], np.nan, b.result.Z), "compressibility factor"),
    "molar_mass": Property("molar_mass", _molar_mass, "molar mass"),
    "molar_volume": Property("molar_volume", lambda b: b.phase_volume, "molar volume"),
    "density": Property("density", lambda b: b.phase_molar_mass / b.phase_volume, "density"),
    "H": Property("molar_energy", lambda b: b.phase_properties.H, "enthalpy"),
    "S": Property("molar_entropy", lambda b: b.phase_properties.S, "entropy"),
    "G": Property("molar_energy", _energy(1.0, 0.0), "Gibbs energy"),
    "A": Property("molar_energy", _energy(1.0, 1.0), "Helmholtz energy"),
    "U": Property("molar_energy", _energy(0.0, 1.0), "internal energy"),
    "H_residual": Property(
        "molar_energy", lambda b: b.phase_properties.H_residual, "enthalpy less that of the ideal gas at T and P"
    ),
    "S_residual": Property(
        "molar_entropy", lambda b: b.phase_properties.S_residual, "entropy less that of the ideal gas at T and P"
    ),
    "G_residual": Property("molar_energy", _g_residual, "Gibbs energy less that of the ideal gas at T and P"),
    "Cp": Property("molar_entropy", lambda b: b.phase_properties.Cp, "heat capacity at constant pressure"),
    "Cv": Property("molar_entropy", _cv, "heat capacity at constant volume (Cp of a liquid taken as incompressible)"),
    "speed_of_sound": Property("velocity", _speed_of_sound, "speed of sound"),
    "throttling_coefficient": Property("temperature_by_pressure", _throttling_coefficient, "Joule-Thomson coefficient"),
    "thermal_expansion": Property(
        "by_temperature", lambda b: b.phase_properties.V_T / b.phase_properties.V, "coefficient of thermal expansion"
    ),
    "isothermal_compressibility": Property(
        "by_pressure", lambda b: 0.0 - b.phase_properties.V_P / b.phase_properties.V, "isothermal compressibility"
    ),
}
"""Of each phase ``(N, F)``."""

TOTALS = ("H", "S", "G", "A", "U", "Cp", "molar_volume")
"""Molar properties that add up over the phases, by their amounts."""


def _total(name: str) -> Callable[[StateBatch], Array]:
    def of(b: StateBatch) -> Array:
        per_phase = PER_PHASE[name].of(b)
        whole = np.nansum(b.fractions * per_phase, axis=1)
        lacking = (np.isnan(per_phase) & np.isfinite(b.fractions)).any(axis=1)
        return np.asarray(np.where(b.failed | lacking, np.nan, whole))

    return of


def _vapor(share: str) -> Callable[[StateBatch], Array]:
    """The share of the vapor in the whole."""

    def of(b: StateBatch) -> Array:
        parts = PER_PHASE[share].of(b)
        vapor = np.where((b.result.kinds == VAPOR) & np.isfinite(parts), parts, 0.0).sum(axis=1)
        return np.asarray(np.where(b.failed, np.nan, vapor))

    return of


def _heat_of_vaporization(b: StateBatch) -> Array:
    """Molar enthalpy of the vapor less that of the liquid, where there are both."""
    H, row = PER_PHASE["H"].of(b), np.arange(len(b))
    vapor, liquid = b.slot("vapor"), b.slot("liquid")
    return np.where((vapor >= 0) & (liquid >= 0), H[row, vapor] - H[row, liquid], np.nan)


class OfWhole:
    """An attribute of a state that is a property of all phases together, by its name in `OVERALL`."""

    def __set_name__(self, owner: type, name: str) -> None:
        self.name = name

    def __get__(self, state: State, owner: type | None = None) -> float:
        return float(getattr(state.batch, self.name)[0])


class OfBoundary(OfWhole):
    """An attribute of a state that is worked out when it is asked for, by its name in `BOUNDARIES`."""

    def __get__(self, state: State, owner: type | None = None) -> float:
        return float(BOUNDARIES[self.name].of(state.batch)[0])


class OfEachWhole:
    """The same of a batch ``(N,)``, worked out once."""

    def __set_name__(self, owner: type, name: str) -> None:
        self.name = name

    def __get__(self, batch: StateBatch, owner: type | None = None) -> Array:
        values = OVERALL[self.name].of(batch)
        # found in the instance from now on
        batch.__dict__[self.name] = values
        return values


OVERALL: dict[str, Property] = {
    "vapor_fraction": Property("fraction", _vapor("fraction"), "vapor by mole"),
    "vapor_mass_fraction": Property("fraction", _vapor("mass_fraction"), "vapor by mass"),
    "vapor_volume_fraction": Property("fraction", _vapor("volume_fraction"), "vapor by volume"),
    **{name: Property(PER_PHASE[name].dimension, _total(name), PER_PHASE[name].words) for name in TOTALS},
    "density": Property("density", lambda b: (b.z @ b.system.molar_mass) / _total("molar_volume")(b), "density"),
    "heat_of_vaporization": Property("molar_energy", _heat_of_vaporization, "enthalpy of the vapor less that of the liquid"),
}
"""Of all phases together ``(N,)``."""


def _composition(b: StateBatch) -> Array:
    return np.asarray(np.where(b.failed[:, None, None], np.nan, b.result.x))


def _mass_composition(b: StateBatch) -> Array:
    mass = _composition(b) * b.system.molar_mass
    return np.asarray(mass / mass.sum(axis=2)[:, :, None])


def _fugacity(b: StateBatch) -> Array:
    return np.asarray(_composition(b) * np.exp(b.phase_properties.ln_phi) * b.P[:, None, None])


def _k_values(b: StateBatch) -> Array:
    """yᵢ/xᵢ with the vapor's composition over each other phase's; NaN for the vapor itself, and where there is none."""
    x, row, vapor = _composition(b), np.arange(len(b)), b.slot("vapor")
    with np.errstate(all="ignore"):
        ratio = x[row, vapor][:, None, :] / x
    there = (vapor >= 0)[:, None] & (np.arange(x.shape[1]) != vapor[:, None])
    return np.asarray(np.where(there[:, :, None], ratio, np.nan))


PER_COMPONENT: dict[str, Property] = {
    "composition": Property("fraction", _composition, "mole fractions"),
    "mass_composition": Property("fraction", _mass_composition, "mass fractions"),
    "ln_phi": Property("fraction", lambda b: b.phase_properties.ln_phi, "logarithms of the fugacity coefficients"),
    "fugacity": Property("pressure", _fugacity, "fugacities"),
    "K": Property("fraction", _k_values, "vapor's mole fraction over the phase's own"),
}
"""Of each component in each phase ``(N, F, C)``."""


def _partial(name: str) -> Callable[[StateBatch], Array]:
    def of(b: StateBatch) -> Array:
        return np.asarray(getattr(b.partials, name))

    return of


def _gamma(b: StateBatch) -> Array:
    return np.asarray(np.exp(b.ln_gamma))


PARTIAL: dict[str, Property] = {
    "partial_molar_volume": Property("molar_volume", _partial("V"), "partial molar volumes"),
    "partial_molar_enthalpy": Property("molar_energy", _partial("H"), "partial molar enthalpies"),
    "partial_molar_entropy": Property("molar_entropy", _partial("S"), "partial molar entropies"),
    "activity_coefficient": Property("fraction", _gamma, "activity coefficients against the pure liquids at T and P"),
    "activity": Property("fraction", lambda b: _composition(b) * _gamma(b), "activities against the pure liquids at T and P"),
    "diffusion_coefficient": Property("kinematic_viscosity", lambda b: b.diffusion, "diffusion coefficients in the phase's others"),
}
"""Of each component in each phase ``(N, F, C)``, worked out where they are asked for."""


def _boundary(kind: str) -> Callable[[StateBatch], Array]:
    return lambda b: np.asarray(b.boundaries[kind])


BOUNDARIES: dict[str, Property] = {
    "bubble_point": Property("temperature", _boundary("bubble"), "bubble point at the pressure"),
    "dew_point": Property("temperature", _boundary("dew"), "dew point at the pressure"),
    "subcooling": Property(
        "temperature_difference", lambda b: b.boundaries["bubble"] - b.T, "subcooling: bubble point less temperature"
    ),
    "superheat": Property("temperature_difference", lambda b: b.T - b.boundaries["dew"], "superheat: temperature less dew point"),
}
"""Of the whole ``(N,)``, worked out where they are asked for; NaN where there is no such point."""


def _density(b: StateBatch) -> Array:
    return np.asarray(b.phase_molar_mass / b.phase_volume)


def _mass_Cp(b: StateBatch) -> Array:
    return np.asarray(b.phase_properties.Cp / b.phase_molar_mass)


def _heat_capacity_ratio(b: StateBatch) -> Array:
    return np.asarray(b.phase_properties.Cp / _cv(b))


TRANSPORT: dict[str, Property] = {
    "viscosity": Property("viscosity", lambda b: b.transport.viscosity, "viscosity"),
    "kinematic_viscosity": Property("kinematic_viscosity", lambda b: b.transport.viscosity / _density(b), "viscosity over density"),
    "thermal_conductivity": Property("thermal_conductivity", lambda b: b.transport.thermal_conductivity, "thermal conductivity"),
    "thermal_diffusivity": Property(
        "kinematic_viscosity", lambda b: b.transport.thermal_conductivity / (_density(b) * _mass_Cp(b)), "thermal diffusivity"
    ),
    "prandtl_number": Property(
        "fraction", lambda b: _mass_Cp(b) * b.transport.viscosity / b.transport.thermal_conductivity, "Prandtl number"
    ),
    "heat_capacity_ratio": Property("fraction", _heat_capacity_ratio, "Cp over Cv"),
    "surface_tension": Property("surface_tension", lambda b: b.transport.surface_tension, "surface tension of a liquid"),
}
"""Of each phase ``(N, F)``, worked out where they are asked for."""

PROPERTIES = tuple(dict.fromkeys(("n_phases", *OVERALL, *BOUNDARIES, *PER_PHASE, *TRANSPORT, *PER_COMPONENT, *PARTIAL, "exergy")))
"""Every property that a table can have."""
