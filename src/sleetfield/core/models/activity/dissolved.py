"""Gases dissolved in solvents, by Henry's law, beside any activity model of the solvents.

    ln fᵢ = ln xᵢ + Σⱼ wⱼ ln Hᵢⱼ(T)

for a solute i, with wⱼ the solvents' mole fractions among themselves; the unsymmetric activity coefficient is one. The solvents' excess
Gibbs energy is that of their mixture without solutes. Both follow from one Gibbs energy,

    n g = n_s gₛ(w) + Σᵢ nᵢ Σⱼ wⱼ ln Hᵢⱼ,

so the solvents feel the solutes too, through (xᵢ/xₛ)(ln Hᵢⱼ - Σₖ wₖ ln Hᵢₖ). The mean of ln H by mole fractions: Prausnitz,
Lichtenthaler and de Azevedo, Molecular Thermodynamics of Fluid-Phase Equilibria, 3rd ed. (1999), sec. 10.6.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ...arrays import Array
from .contract import ActivityEvaluation, ActivityModel, Bound
from .ideal import IdealSolution
from .pair_function import PairFunction

_OUT_OF_THE_QUESTION = 100.0
"""ln f/Pa of a liquid that there is none of."""


class Dissolved(ActivityModel):
    """Solutes in solvents; a solute's pure-liquid fugacity has to be given as 1 Pa.

    Parameters
    ----------
    solvents : ActivityModel
        The model of the solvents, in their order.
    is_solute : (C,) bool
        Which components are solutes.
    ln_henry : PairFunction
        ln(Hᵢⱼ/Pa) for solute i in solvent j; other entries don't matter.
    """

    def __init__(self, solvents: ActivityModel, is_solute: NDArray[np.bool_], ln_henry: PairFunction) -> None:
        self.solvents, self.is_solute, self.ln_henry = solvents, np.asarray(is_solute, dtype=bool), ln_henry
        self.n_components = len(self.is_solute)
        self.solutes, self.solvent = np.flatnonzero(self.is_solute), np.flatnonzero(~self.is_solute)
        self.n_bound = 1 + solvents.n_bound

    def _block(self, pairs: Array) -> Array:
        return pairs[np.ix_(self.solutes, self.solvent)]

    def bind(self, T: Array) -> Bound:
        return (self._block(self.ln_henry.value(T)), *self.solvents.bind(T))

    def _shares(self, x: Array) -> tuple[Array, Array, Array]:
        """Solutes' x, solvents' w, and the solvents' part of the whole."""
        solvent = x[self.solvent]
        total = solvent.sum(axis=0)
        return x[self.solutes], solvent / total, total

    def _spread(self, solutes: Array, solvents: Array) -> Array:
        whole = np.empty((self.n_components, *solutes.shape[1:]))
        whole[self.solutes], whole[self.solvent] = solutes, solvents
        return whole

    def _linear(self, x: Array, w: Array, total: Array, h: Array) -> tuple[Array, Array]:
        """What the term Σᵢ nᵢ Σⱼ wⱼhᵢⱼ gives to solutes and solvents."""
        mean = np.einsum("ijn,jn->in", h, w)
        return mean, np.einsum("in,ijn->jn", x / total, h - mean[:, None])

    def ln_gamma(self, x: Array, bound: Bound) -> Array:
        own, w, total = self._shares(x)
        solutes, shift = self._linear(own, w, total, bound[0])
        return self._spread(solutes, self.solvents.ln_gamma(w, bound[1:]) + shift)

    def evaluate(self, x: Array, T: Array, bound: Bound) -> ActivityEvaluation:
        own, w, total = self._shares(x)
        e = self.solvents.evaluate(w, T, bound[1:])
        solutes, shift = self._linear(own, w, total, bound[0])
        slopes, shift_slope = self._linear(own, w, total, self._block(self.ln_henry.slope(T)))
        curvature = np.einsum("in,ijn,jn->n", own, self._block(self.ln_henry.curvature(T)), w)

        def by_mole_numbers() -> Array:
            away = (bound[0] - solutes[:, None]) / total
            back = np.einsum("in,ijn->jn", own / total, away)
            dn = np.zeros((self.n_components, *x.shape))
            dn[np.ix_(self.solutes, self.solvent)] = away
            dn[np.ix_(self.solvent, self.solutes)] = away.swapaxes(0, 1)
            dn[np.ix_(self.solvent, self.solvent)] = e.dn / total - back[:, None] - back[None, :]
            return dn

        return ActivityEvaluation(
            self._spread(solutes, e.ln_gamma + shift),
            self._spread(slopes, e.dT + shift_slope),
            e.g_TT * total + curvature,
            by_mole_numbers,
        )

    def select(self, components: Sequence[int]) -> ActivityModel:
        i = list(components)
        if self.is_solute[i].all():
            return NoLiquid(len(i))
        place = {int(k): n for n, k in enumerate(self.solvent)}
        solvents = self.solvents.select([place[k] for k in i if k in place])
        return Dissolved(solvents, self.is_solute[i], self.ln_henry.select(i)) if self.is_solute[i].any() else solvents


class NoLiquid(IdealSolution):
    """Gases without a solvent: a liquid of them is out of the question."""

    def ln_gamma(self, x: Array, bound: Bound) -> Array:
        return np.full_like(x, _OUT_OF_THE_QUESTION)

    def evaluate(self, x: Array, T: Array, bound: Bound) -> ActivityEvaluation:
        ideal = super().evaluate(x, T, bound)
        return ActivityEvaluation(self.ln_gamma(x, bound), ideal.dT, ideal.g_TT, ideal.compute_dn)

    def select(self, components: Sequence[int]) -> NoLiquid:
        return NoLiquid(len(components))
