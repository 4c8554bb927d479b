"""Ideal liquid (Raoult's law): ln φᵢ = ln(Pˢᵃᵗᵢ φˢᵃᵗᵢ/P), activity coefficients one, no Poynting correction; φˢᵃᵗ is 1 beside an ideal gas.

The liquid's volume does not enter the fugacities (they imply none); what is reported are the components' saturated-liquid volumes, added
by mole fractions.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

import numpy as np

from ..arrays import Array, Index, Kinds
from ..arrays import rows as take_rows
from ..constants import R
from ..correlations import LiquidDensity, LnVaporPressure
from .contract import LIQUID, STABLE, BoundModel, Evaluation, Kind


class SaturatedVapor(Protocol):
    """A vapor model that knows its pure components at their vapor pressures."""

    def at_saturation(self, T: Array, P: Array, slope: Array, curvature: Array) -> tuple[Array, Array, Array]:
        """ln φ at the vapor pressures ``P (N, C)`` and its first two derivatives along them, from those of ln P."""

    def select(self, components: Sequence[int]) -> SaturatedVapor:
        """The same for those components."""


class IdealLiquid:
    """Pure-component vapor pressures, and volumes, of an ideal liquid.

    Parameters
    ----------
    ln_vapor_pressure : sequence of LnVaporPressure
        ln(P_sat/Pa) against T, one for each component.
    density : sequence of LiquidDensity
        Molar density of the saturated liquid against T, one for each component.
    saturated_vapor : SaturatedVapor, optional
        What gives φˢᵃᵗ.

    """

    def __init__(
        self,
        ln_vapor_pressure: Sequence[LnVaporPressure],
        density: Sequence[LiquidDensity],
        saturated_vapor: SaturatedVapor | None = None,
    ) -> None:
        self.ln_vapor_pressure, self.density, self.saturated_vapor = tuple(ln_vapor_pressure), tuple(density), saturated_vapor
        self.n_components = len(self.density)

    def at(self, T: Array, P: Array) -> BoundIdealLiquid:
        ln_f = self.ln_saturation(T) if self.saturated_vapor is None else self.ln_fugacity(T)[0]
        return BoundIdealLiquid(self, T, P, (ln_f.T - np.log(P)).T)

    def ln_fugacity(self, T: Array) -> tuple[Array, Array, Array]:
        """ln(P_sat φ_sat/Pa) and its first two derivatives by temperature ``(N, C)``."""
        parts = [(c.value(T), c.slope(T), c.curvature(T)) for c in self.ln_vapor_pressure]
        value, slope, curvature = (np.stack(part).T for part in zip(*parts, strict=True))
        if self.saturated_vapor is None:
            return value, slope, curvature
        more = self.saturated_vapor.at_saturation(T, np.exp(value), slope, curvature)
        return value + more[0], slope + more[1], curvature + more[2]

    def ln_saturation(self, T: Array) -> Array:
        """ln(P_sat/Pa) ``(N, C)``."""
        return np.stack([c.value(T) for c in self.ln_vapor_pressure]).T

    def molar_volume(self, T: Array) -> Array:
        """Saturated-liquid molar volume of each component ``(N, C)``, m3/mol; the critical one above T_c."""
        return np.stack([1.0 / c.value(T) for c in self.density]).T

    def expansion(self, T: Array) -> Array:
        """Its derivative by temperature ``(N, C)``, m3/(mol K)."""
        return np.stack([-c.slope(T) / c.value(T) ** 2 for c in self.density]).T

    def select(self, components: Sequence[int]) -> IdealLiquid:
        vapor = None if self.saturated_vapor is None else self.saturated_vapor.select(components)
        return IdealLiquid([self.ln_vapor_pressure[k] for k in components], [self.density[k] for k in components], vapor)


class BoundIdealLiquid(BoundModel):
    """An ideal liquid at given T and P."""

    def __init__(self, model: IdealLiquid, T: Array, P: Array, ln_phi: Array) -> None:
        self.model, self.T, self.P, self._ln_phi = model, T, P, ln_phi

    def rows(self, index: Index) -> BoundIdealLiquid:
        return BoundIdealLiquid(self.model, self.T[index], self.P[index], take_rows(self._ln_phi, index))

    def ln_phi(self, x: Array, kind: Kind = STABLE) -> Array:
        return self._ln_phi.copy()

    def describe(self, x: Array, kind: Kind = STABLE) -> tuple[Array, Kinds]:
        volume = (x * self.model.molar_volume(self.T)).sum(axis=-1)
        return self.P * volume / (R * self.T), np.full(len(x), LIQUID)

    def evaluate(self, x: Array, kind: Kind = STABLE) -> Evaluation:
        T = self.T
        _, dT, curvature = self.model.ln_fugacity(T)
        dP = np.broadcast_to((-1.0 / self.P)[:, None], x.shape)
        volume, expansion = (x * self.model.molar_volume(T)).sum(axis=-1), (x * self.model.expansion(T)).sum(axis=-1)
        per_volume = self.P / (R * T)
        volumes = per_volume * volume, per_volume * (expansion - volume / T), volume / (R * T)
        return Evaluation(
            self._ln_phi.copy(), dT, dP, (x * curvature).sum(axis=-1), *volumes, lambda: np.zeros((*x.shape, x.shape[1]))
        )
