"""A liquid described by activity coefficients and the pure liquids' fugacities:

    ln φᵢ = ln γᵢ(T, x) + ln(Pˢᵃᵗᵢ φˢᵃᵗᵢ/P) + vᵢ(P - Pˢᵃᵗᵢ)/RT

φˢᵃᵗ is 1 beside an ideal gas; the last term, Poynting's, is there where it is asked for. What is reported as volume are the
components' saturated-liquid volumes, added by mole fractions.

Reference: Prausnitz, Lichtenthaler and de Azevedo, Molecular Thermodynamics of Fluid-Phase Equilibria, 3rd ed. (1999), ch. 6.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..arrays import Array, Index, rows as take_rows
from ..constants import R
from .activity import ActivityModel, BoundActivity
from .contract import LIQUID, STABLE, BoundModel, Description, Evaluation, Kind
from .pure_liquids import PureLiquids


class Liquid:
    """The liquid's side of a pair of models.

    Parameters
    ----------
    pure : PureLiquids
        Every component's own liquid.
    activity : ActivityModel
        What gives γ; of dissolved gases, `Dissolved`'s.

    """

    def __init__(self, pure: PureLiquids, activity: ActivityModel) -> None:
        self.pure, self.activity = pure, activity
        self.n_components = activity.n_components

    def at(self, T: Array, P: Array) -> BoundLiquid:
        """Bind to states."""
        return BoundLiquid(self, T, P, self.pure.over_ideal_gas(T, P), self.activity.at(T))

    def ln_saturation(self, T: Array) -> Array:
        """ln(P_sat/Pa) ``(N, C)``."""
        return self.pure.ln_saturation(T)

    def select(self, components: Sequence[int]) -> Liquid:
        """The same for those components."""
        return Liquid(self.pure.select(components), self.activity.select(components))


class BoundLiquid(BoundModel):
    """The liquid at given T and P."""

    def __init__(self, model: Liquid, T: Array, P: Array, pure: tuple[Array, Array, Array], activity: BoundActivity) -> None:
        self.model, self.T, self.P, self._pure, self.activity = model, T, P, pure, activity

    def rows(self, index: Index) -> BoundLiquid:
        value, slope, curvature = (take_rows(part, index) for part in self._pure)
        return BoundLiquid(self.model, self.T[index], self.P[index], (value, slope, curvature), self.activity.rows(index))

    def ln_phi(self, x: Array, kind: Kind = STABLE) -> Array:
        return self._pure[0] + self.activity.ln_gamma(x.T).T

    def describe(self, x: Array, kind: Kind = STABLE) -> Description:
        volume = (x * self.model.pure.molar_volume(self.T)).sum(axis=-1)
        return Description(self.P * volume / (R * self.T), np.full(len(x), LIQUID), np.ones(len(x)))

    def evaluate(self, x: Array, kind: Kind = STABLE) -> Evaluation:
        T, P, model = self.T, self.P, self.model.pure
        activity = self.activity.evaluate(x.T)
        pure, slope, curvature = self._pure
        dP = np.broadcast_to((-1.0 / P)[:, None], x.shape)
        volumes = model.molar_volume(T)
        if model.poynting:
            squeezed = volumes / (R * T)[:, None]
            squeezed[:, model.solutes] = 0.0
            dP = dP + squeezed
        volume, expansion = (x * volumes).sum(axis=-1), (x * model.expansion(T)).sum(axis=-1)
        per_volume = P / (R * T)
        return Evaluation(
            pure + activity.ln_gamma.T,
            slope + activity.dT.T,
            dP,
            (x * curvature).sum(axis=-1) + activity.g_TT,
            per_volume * volume,
            per_volume * (expansion - volume / T),
            volume / (R * T),
            lambda: np.moveaxis(activity.dn, -1, 0),
        )
