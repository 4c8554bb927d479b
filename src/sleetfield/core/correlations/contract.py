"""The contract of temperature correlations."""

from __future__ import annotations

import functools
from abc import ABC, abstractmethod
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array
from ..compiled.numbered import Numbered


@dataclass(frozen=True)
class Correlation(ABC):
    """A quantity against temperature, with its coefficients and the range that they were fitted in.

    Values are given at any temperature; outside the range the subclass says how it goes on.

    Attributes
    ----------
    coefficients : tuple of float
        In the order and units of the subclass's equation.
    T_min, T_max : float
        Range of validity, K.

    """

    coefficients: tuple[float, ...]
    T_min: float
    T_max: float

    @abstractmethod
    def value(self, T: Array) -> Array:
        """The quantity ``(N,)``."""

    @abstractmethod
    def slope(self, T: Array) -> Array:
        """Its derivative by temperature ``(N,)``, 1/K times its unit."""

    def outside(self, T: Array) -> NDArray[np.bool_]:
        """Where a temperature is outside the range ``(N,)``."""
        return np.asarray((T < self.T_min) | (T > self.T_max))


class LnVaporPressure(Numbered, Correlation):
    """ln(P/Pa) against T. Outside the range ln P goes on as a straight line in 1/T, with the slope of the range's end."""

    @abstractmethod
    def inside(self, T: Array) -> tuple[Array, Array, Array]:
        """Value and first two derivatives of the equation itself."""

    def with_derivatives(self, T: Array) -> tuple[Array, Array, Array]:
        """Value, slope and curvature, each as below."""
        edge = np.clip(T, self.T_min, self.T_max)
        value, slope, curvature = self.inside(edge)
        out = edge != T
        rise = np.where(out, slope * edge**2, 0.0)
        return (
            value + rise * (1.0 / edge - 1.0 / T),
            np.where(out, rise / T**2, slope),
            np.where(out, -2.0 * rise / T**3, curvature),
        )

    def value(self, T: Array) -> Array:
        return self.with_derivatives(T)[0]

    def slope(self, T: Array) -> Array:
        """D ln P/dT, 1/K."""
        return self.with_derivatives(T)[1]

    def curvature(self, T: Array) -> Array:
        """d² ln P/dT², 1/K²."""
        return self.with_derivatives(T)[2]


class HeatCapacity(Numbered, Correlation):
    """Heat capacity, J/(mol K), against T. Outside the range it keeps the value of the range's end."""

    def plain(self) -> tuple[float, ...]:
        """The coefficients as the compiled engine takes them, in J/(mol K)."""
        return self.coefficients

    @abstractmethod
    def inside(self, T: Array) -> tuple[Array, Array]:
        """Value and derivative of the equation itself."""

    @abstractmethod
    def antiderivatives(self, T: Array) -> tuple[Array, Array]:
        """∫Cp dT and ∫Cp/T dT of the equation itself, each to an arbitrary constant."""

    def value(self, T: Array) -> Array:
        return self.inside(np.clip(T, self.T_min, self.T_max))[0]

    def slope(self, T: Array) -> Array:
        return np.where(self.outside(T), 0.0, self.inside(np.clip(T, self.T_min, self.T_max))[1])

    def integrals(self, T: Array, T0: float) -> tuple[Array, Array]:
        """∫Cp dT (J/mol) and ∫Cp/T dT (J/(mol K)) from ``T0`` to ``T``."""
        upper, lower = self.from_anywhere(T), _lower_limit(self, T0)
        return upper[0] - lower[0], upper[1] - lower[1]

    def from_anywhere(self, T: Array) -> tuple[Array, Array]:
        """∫Cp dT and ∫Cp/T dT, each to an arbitrary constant."""
        edge = np.clip(T, self.T_min, self.T_max)
        energy, entropy = self.antiderivatives(edge)
        if not self.outside(T).any():
            return energy, entropy
        level = self.inside(edge)[0]
        return energy + level * (T - edge), entropy + level * np.log(T / edge)


@functools.lru_cache(maxsize=4096)
def _lower_limit(correlation: HeatCapacity, T0: float) -> tuple[float, float]:
    """Antiderivatives at the temperature that integrals begin at, which hardly ever changes."""
    energy, entropy = correlation.from_anywhere(np.array([T0]))
    return float(energy[0]), float(entropy[0])


class LiquidDensity(Numbered, Correlation):
    """Molar density of the saturated liquid, mol/m3, against T.

    Outside the range the equation itself goes on, up to the critical temperature; from there on it keeps the critical density.
    """

    @abstractmethod
    def curvature(self, T: Array) -> Array:
        """Its second derivative by temperature ``(N,)``."""


class HeatOfVaporization(Correlation):
    """Heat of vaporization, J/mol, against T. Outside the range the equation itself goes on; from the critical temperature on it is zero."""


class LiquidViscosity(Correlation):
    """Viscosity of a liquid, Pa s, against T. Outside the range its logarithm goes on as a straight line in 1/T."""


class SurfaceTension(Correlation):
    """Surface tension of a liquid under its own vapor, N/m, against T; zero from the critical temperature on."""


class LiquidConductivity(Correlation):
    """Thermal conductivity of a liquid, W/(m K), against T."""


class OfThinGas(Correlation):
    """Viscosity, Pa s, or thermal conductivity, W/(m K), of a thin gas against T. Outside the range it goes on as the power of T that it is at the range's end."""
