"""Heating values of fuel gases from enthalpies of formation, with volumes by the system's own model.

gross = ΔH_f(fuel) - Σ products,  products CO2, liquid H2O, SO2, N2 at 298.15 K;  net takes the water as vapor
Wobbe index = gross by volume/√(relative density)                       (ISO 6976:2016, sections 6 to 9)
"""

from __future__ import annotations

from typing import Any

import numpy as np

from ..components.formula import elements
from ..composition import Composition
from ..core.constants import R
from ..core.equilibrium.flash import flash
from ..core.models.contract import VAPOR
from ..errors import InputError, UnknownComponentError
from ..mixture import Mixture
from ..results.heating_value import HeatingValue
from ..text import first_few

_FORMED = {"C": -393510.0, "S": -296810.0, "H": -285830.0 / 2.0}
"""J for each atom burnt, the water liquid: CODATA key values (Cox, Wagman and Medvedev, 1989)."""
_CONDENSED = 44004.0
"""J/mol, of water at 298.15 K, after the same."""
_INERT = {"O", "N", "He", "Ar", "Ne", "Kr", "Xe"}
_AIR, _Z_AIR = 0.0289626, 0.99958
"""kg/mol of dry air, and its compressibility at 15 °C and 1 atm: ISO 6976:2016."""


def heating_value(system: Mixture, z: Composition, T: Any, P: Any, basis: str) -> HeatingValue:
    """Of one fuel; `System.heating_value` says it all."""
    values, batch, shape = system.conditions(z, basis, T=T, P=P)
    if shape:
        raise InputError("heating_value is of one fuel; call it once for each.")
    x, at_T, at_P = batch[0], float(values["T"][0]), float(values["P"][0])
    gross, water = np.zeros(len(x)), np.zeros(len(x))
    unknown, foreign = [], []
    for i, c in enumerate(system.components):
        if x[i] == 0.0:
            continue
        atoms = elements(c.formula)
        if c.H_formation is None or atoms is None:
            unknown.append(c.name)
        elif set(atoms) - {*_FORMED, *_INERT}:
            foreign.append(c.name)
        else:
            gross[i] = c.H_formation - sum(n * _FORMED.get(element, 0.0) for element, n in atoms.items())
            water[i] = atoms["H"] / 2.0
    if unknown:
        raise UnknownComponentError(
            f"There is no enthalpy of formation, or no formula, of {first_few(unknown)}, so that it can't be burnt."
        )
    if foreign:
        raise InputError(f"{first_few(foreign)}: only what is made of carbon, hydrogen, sulfur, oxygen and nitrogen is burnt here.")
    molar = np.array([float(x @ gross), float(x @ (gross - _CONDENSED * water))])
    found = flash(system.fluids, values["T"], values["P"], batch)
    gas = bool(found.n_phases[0] == 1 and found.kinds[0, 0] == VAPOR)
    Z = float(found.Z[0, 0]) if gas else 1.0
    volume = Z * R * at_T / at_P
    mass = float(system.mean_molar_mass(batch)[0])
    density = mass / _AIR * _Z_AIR / Z
    remarks = (
        [] if gas else ["It is not all gas at the temperature and pressure of its volume: volumes are those of the ideal gas."]
    )
    return HeatingValue(system, at_T, at_P, x, molar, mass, volume, density, tuple(remarks))
