"""Pure liquids beside a vapor: their fugacities at saturation with pressure's effect, and their volumes. A liquid by activity coefficients rests on them.

Models that differ in their activity coefficients alone share one; what it worked out for the temperatures of late it keeps.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

import numpy as np

from ..arrays import Array
from ..compiled.pair_loops import PlainLiquids, equations
from ..constants import R
from ..correlations import LiquidDensity, LnVaporPressure
from ..correlations.together import VaporPressures
from ..recent import Recent
from .contract import VAPOR, BoundModel


class VaporModel(Protocol):
    """A model of vapors, whatever it says of liquids."""

    def at(self, T: Array, P: Array) -> BoundModel:
        """Bind to states."""

    def select(self, components: Sequence[int]) -> VaporModel:
        """The same for those components."""


class PureLiquids:
    """The liquids of every component by itself.

    Parameters
    ----------
    ln_vapor_pressure : sequence of LnVaporPressure
        ln(P_sat/Pa) against T, one for each component.
    density : sequence of LiquidDensity
        Molar density of the saturated liquid against T, one for each component.
    saturated_vapor : VaporModel, optional
        What gives φˢᵃᵗ.
    poynting : bool
        Whether the pressure's effect on the pure liquids is taken into account.
    solutes : sequence of int
        Dissolved gases: they have no pure liquid, and stand at 1 Pa.

    """

    def __init__(
        self,
        ln_vapor_pressure: Sequence[LnVaporPressure],
        density: Sequence[LiquidDensity],
        saturated_vapor: VaporModel | None = None,
        poynting: bool = False,
        solutes: Sequence[int] = (),
    ) -> None:
        self.ln_vapor_pressure, self.density = tuple(ln_vapor_pressure), tuple(density)
        self.saturated_vapor, self.poynting, self.solutes = saturated_vapor, poynting, list(solutes)
        self._recent, self._pressures = Recent(self._ln_fugacity), VaporPressures(self.ln_vapor_pressure)

    def over_ideal_gas(self, T: Array, P: Array) -> tuple[Array, Array, Array]:
        """ln φ of each, and its first two derivatives by temperature ``(N, C)``."""
        value, slope, curvature = self.ln_fugacity(T)
        if self.poynting:
            more = self._compressed(T, P)
            value, slope, curvature = value + more[0], slope + more[1], curvature + more[2]
        return (value.T - np.log(P)).T, slope, curvature

    def ln_fugacity(self, T: Array) -> tuple[Array, Array, Array]:
        """ln(P_sat φ_sat/Pa) and its first two derivatives by temperature ``(N, C)``."""
        return self._recent(T)

    def _ln_fugacity(self, T: Array) -> tuple[Array, Array, Array]:
        parts = self._vapor_pressures(T)
        if self.saturated_vapor is not None:
            value, slope, curvature = parts
            more = _ln_phi_at_saturation(self.saturated_vapor, T, np.exp(value), slope, curvature)
            parts = value + more[0], slope + more[1], curvature + more[2]
        return self._without_solutes(parts)

    def _without_solutes(self, parts: tuple[Array, Array, Array]) -> tuple[Array, Array, Array]:
        for part in parts:
            part[:, self.solutes] = 0.0
        return parts

    def _vapor_pressures(self, T: Array) -> tuple[Array, Array, Array]:
        return self._pressures.with_derivatives(T)

    def _compressed(self, T: Array, P: Array) -> tuple[Array, Array, Array]:
        """Poynting's term v(P - Pˢᵃᵗ)/RT and its first two derivatives by temperature ``(N, C)``."""
        ln_p, slope, curvature = self._vapor_pressures(T)
        t, saturated = T[:, None], np.exp(ln_p)
        u, u1, u2 = self.molar_volume(T), self.expansion(T), self._second_expansion(T)
        w, w1, w2 = P[:, None] - saturated, -saturated * slope, -saturated * (slope**2 + curvature)
        first = u1 * w + u * w1 - u * w / t
        second = u2 * w + 2.0 * u1 * w1 + u * w2 - 2.0 * (u1 * w + u * w1) / t + 2.0 * u * w / t**2
        return self._without_solutes((u * w / (R * t), first / (R * t), second / (R * t)))

    def ln_saturation(self, T: Array) -> Array:
        """ln(P_sat/Pa) ``(N, C)``."""
        return self._vapor_pressures(T)[0]

    def molar_volume(self, T: Array) -> Array:
        """Saturated-liquid molar volume of each component ``(N, C)``, m3/mol; the critical one above T_c."""
        return np.stack([1.0 / c.value(T) for c in self.density]).T

    def expansion(self, T: Array) -> Array:
        """Its derivative by temperature ``(N, C)``, m3/(mol K)."""
        return np.stack([-c.slope(T) / c.value(T) ** 2 for c in self.density]).T

    def _second_expansion(self, T: Array) -> Array:
        parts = [(c.value(T), c.slope(T), c.curvature(T)) for c in self.density]
        return np.stack([2.0 * rise**2 / rho**3 - bend / rho**2 for rho, rise, bend in parts]).T

    def plain(self) -> PlainLiquids | None:
        """The correlations as the compiled engine takes them, where it has all of them and every component is a liquid."""
        pressures, densities = equations(self.ln_vapor_pressure), equations(self.density)
        if self.solutes or pressures is None or densities is None:
            return None
        return PlainLiquids(pressures, np.array([(c.T_min, c.T_max) for c in self.ln_vapor_pressure]), densities)

    def without_vapor(self) -> PureLiquids:
        """The same beside an ideal gas, at any pressure."""
        plain = self.saturated_vapor is None and not self.poynting
        return self if plain else PureLiquids(self.ln_vapor_pressure, self.density, solutes=self.solutes)

    def select(self, components: Sequence[int]) -> PureLiquids:
        """The same for those components."""
        vapor = None if self.saturated_vapor is None else self.saturated_vapor.select(components)
        pressures, densities = [self.ln_vapor_pressure[k] for k in components], [self.density[k] for k in components]
        return PureLiquids(pressures, densities, vapor, self.poynting, [n for n, k in enumerate(components) if k in self.solutes])


def _ln_phi_at_saturation(vapor: VaporModel, T: Array, P: Array, slope: Array, curvature: Array) -> tuple[Array, Array, Array]:
    """Ln φ of each pure vapor at its vapor pressure ``P (N, C)``, and its first two derivatives along that curve.

    ``slope`` and ``curvature`` are those of ln P by temperature.
    """
    parts = []
    for i in range(P.shape[1]):
        p = P[:, i]
        p1, p2 = p * slope[:, i], p * (curvature[:, i] + slope[:, i] ** 2)
        e = vapor.select([i]).at(T, p).evaluate(np.ones((len(T), 1)), VAPOR)
        by_P, by_PP = (e.Z - 1.0) / p, (e.Z_P - (e.Z - 1.0) / p) / p
        first = e.dT[:, 0] + by_P * p1
        second = e.g_TT + 2.0 * e.Z_T / p * p1 + by_PP * p1**2 + by_P * p2
        parts.append((e.ln_phi[:, 0], first, second))
    value, first, second = (np.stack(part).T for part in zip(*parts, strict=True))
    return value, first, second
