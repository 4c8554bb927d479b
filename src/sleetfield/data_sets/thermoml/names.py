"""What ThermoML calls things, and what they are here."""

from __future__ import annotations

from typing import NamedTuple

NAMESPACE = "http://www.iupac.org/namespaces/ThermoML"
KILO = 1e3

FIRST, SECOND = "Liquid mixture 1", "Liquid mixture 2"


class Property(NamedTuple):
    """A property's group and name in ThermoML, its quantity here, its unit in SI, and the phase that it is told of."""

    group: str
    name: str
    quantity: str
    unit: float
    phase: str


_MIXED = "Excess molar enthalpy (molar enthalpy of mixing), kJ/mol"
PROPERTIES = (
    Property("VaporPBoilTAzeotropTandP", "Vapor or sublimation pressure, kPa", "P", KILO, "Liquid"),
    Property("VaporPBoilTAzeotropTandP", "Boiling temperature at pressure P, K", "T", 1.0, "Liquid"),
    Property("VaporPBoilTAzeotropTandP", "Azeotropic pressure, kPa", "P", KILO, "Liquid"),
    Property("VaporPBoilTAzeotropTandP", "Azeotropic temperature, K", "T", 1.0, "Liquid"),
    Property("CompositionAtPhaseEquilibrium", "Mole fraction", "x", 1.0, "Liquid"),
    Property("CompositionAtPhaseEquilibrium", "Azeotropic composition: mole fraction", "x", 1.0, "Liquid"),
    Property("CompositionAtPhaseEquilibrium", "Henry's Law constant (mole fraction scale), kPa", "Henry", KILO, "Liquid"),
    Property("PhaseTransition", "Solid-liquid equilibrium temperature, K", "T", 1.0, "Liquid"),
    Property("PhaseTransition", "Liquid-liquid equilibrium temperature, K", "T", 1.0, "Liquid"),
    Property("ActivityFugacityOsmoticProp", "Activity coefficient", "gamma_inf", 1.0, "Liquid"),
    Property("ExcessPartialApparentEnergyProp", _MIXED, "HE", KILO, "Liquid"),
    Property("VolumetricProp", "Mass density, kg/m3", "density", 1.0, "Liquid"),
)
BY_NAME = {p.name: p for p in PROPERTIES}
CONDITIONS = {"Temperature, K": ("T", 1.0), "Pressure, kPa": ("P", KILO), "Mole fraction": ("x", 1.0)}
