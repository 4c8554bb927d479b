"""Temperature correlations of pure components: one file each, all behind `Correlation`."""

from .contract import Correlation, HeatCapacity, HeatOfVaporization, LiquidDensity, LnVaporPressure

__all__ = ["Correlation", "HeatCapacity", "HeatOfVaporization", "LiquidDensity", "LnVaporPressure"]
