"""Temperature correlations of pure components: one file each, all behind `Correlation`."""

from .contract import (
    Correlation,
    HeatCapacity,
    HeatOfVaporization,
    LiquidConductivity,
    LiquidDensity,
    LiquidViscosity,
    LnVaporPressure,
    OfThinGas,
    SurfaceTension,
)

__all__ = [
    "Correlation",
    "HeatCapacity",
    "HeatOfVaporization",
    "LiquidConductivity",
    "LiquidDensity",
    "LiquidViscosity",
    "LnVaporPressure",
    "OfThinGas",
    "SurfaceTension",
]
