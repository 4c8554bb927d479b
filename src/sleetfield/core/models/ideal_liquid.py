"""Ideal liquid (Raoult's law): ln φᵢ = ln(Pˢᵃᵗᵢ(T)/P), activity coefficients one, no Poynting or saturation-fugacity correction.

The liquid's volume does not enter the fugacities (they imply none); what is reported are the components' saturated-liquid volumes, added
by mole fractions.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..arrays import Array, Index, Kinds
from ..arrays import rows as take_rows
from ..constants import R
from ..correlations import LiquidDensity, LnVaporPressure
from .contract import LIQUID, STABLE, BoundModel, Evaluation, Kind


class IdealLiquid:
    """Pure-component vapor pressures, and volumes, of an ideal liquid.

    Parameters
    ----------
    ln_vapor_pressure : sequence of LnVaporPressure
        ln(P_sat/Pa) against T, one for each component.
    density : sequence of LiquidDensity
        Molar density of the saturated liquid against T, one for each component.

    """

    def __init__(self, ln_vapor_pressure: Sequence[LnVaporPressure], density: Sequence[LiquidDensity]) -> None:
        self.ln_vapor_pressure, self.density = tuple(ln_vapor_pressure), tuple(density)
        self.n_components = len(self.density)

    def at(self, T: Array, P: Array) -> BoundIdealLiquid:
        return BoundIdealLiquid(self, T, P, (self.ln_saturation(T).T - np.log(P)).T)

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
        return IdealLiquid([self.ln_vapor_pressure[k] for k in components], [self.density[k] for k in components])


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
        correlations = self.model.ln_vapor_pressure
        dT = np.stack([c.slope(T) for c in correlations]).T
        curvature = np.stack([c.curvature(T) for c in correlations]).T
        dP = np.broadcast_to((-1.0 / self.P)[:, None], x.shape)
        volume, expansion = (x * self.model.molar_volume(T)).sum(axis=-1), (x * self.model.expansion(T)).sum(axis=-1)
        per_volume = self.P / (R * T)
        volumes = per_volume * volume, per_volume * (expansion - volume / T), volume / (R * T)
        return Evaluation(
            self._ln_phi.copy(), dT, dP, (x * curvature).sum(axis=-1), *volumes, lambda: np.zeros((*x.shape, x.shape[1]))
        )
