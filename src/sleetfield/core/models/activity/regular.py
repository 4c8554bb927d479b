"""Regular solutions from solubility parameters: ln γᵢ = (vᵢ/RT) Σₘ wₘ (δᵢₘ - δ̄ₘ)², δ̄ₘ the mean by volume fractions.

With one parameter, w = 1: Scatchard, Chem. Rev. 8 (1931) 321-333; Hildebrand and Wood, J. Chem. Phys. 1 (1933) 817-822. With those of dispersion,
polarity and hydrogen bonds, w = 1, ¼, ¼: the weights of Hansen, J. Paint Technol. 39 (1967) 104-117; there the Flory-Huggins term goes with it.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ...arrays import Array
from ...constants import R
from .combinatorial import FloryHuggins
from .contract import ActivityEvaluation, ActivityModel, Bound, Sum

THREE_PART_WEIGHTS = (1.0, 0.25, 0.25)


class ScatchardHildebrand(ActivityModel):
    """The equation.

    Parameters
    ----------
    volume : (C,)
        Molar volumes of the liquids, m3/mol.
    delta : (C,) or (M, C)
        Solubility parameters, √(J/m3).
    weights : sequence of M numbers
        What each kind of parameter counts.
    """

    n_bound = 1

    def __init__(self, volume: Array, delta: Array, weights: Sequence[float] = (1.0,)) -> None:
        self.volume, self.delta, self.weights = np.asarray(volume, dtype=float), np.atleast_2d(delta), tuple(weights)
        self.n_components = len(self.volume)

    def bind(self, T: Array) -> Bound:
        return (1.0 / (R * T),)

    def _away(self, x: Array) -> tuple[Array, Array]:
        """δᵢ - δ̄, each times √w ``(M, C, N)``, and the mean volume ``(N,)``."""
        volume = self.volume @ x
        mean = (self.delta * self.volume) @ x / volume
        root = np.sqrt(self.weights)[:, None, None]
        return (self.delta[:, :, None] - mean[:, None]) * root, volume

    def ln_gamma(self, x: Array, bound: Bound) -> Array:
        return np.asarray(self.volume[:, None] * (self._away(x)[0] ** 2).sum(axis=0) * bound[0])

    def evaluate(self, x: Array, T: Array, bound: Bound) -> ActivityEvaluation:
        away, volume = self._away(x)
        ln_gamma = self.volume[:, None] * (away**2).sum(axis=0) * bound[0]

        def by_mole_numbers() -> Array:
            scaled = away * self.volume[:, None]
            return np.asarray(-2.0 * np.einsum("min,mjn->ijn", scaled, scaled) * bound[0] / volume)

        return ActivityEvaluation(ln_gamma, -ln_gamma / T, 2.0 * (x * ln_gamma).sum(axis=0) / T**2, by_mole_numbers)

    def select(self, components: Sequence[int]) -> ScatchardHildebrand:
        i = list(components)
        return ScatchardHildebrand(self.volume[i], self.delta[:, i], self.weights)


class Hansen(Sum):
    """Three solubility parameters ``(3, C)`` and a Flory-Huggins term in the same volumes ``(C,)``."""

    def __init__(self, volume: Array, delta: Array) -> None:
        super().__init__([FloryHuggins(volume), ScatchardHildebrand(volume, delta, THREE_PART_WEIGHTS)])
