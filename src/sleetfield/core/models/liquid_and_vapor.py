"""Two phase models side by side, one for the liquid and one for the vapor, answering as a single one.

The phase asked for decides which of them answers; `STABLE` is whichever has the lower Gibbs energy at that composition.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Index, Kinds
from ..compiled.loops import Plain
from ..compiled.pair_loops import MOST_TERMS, PlainVapor, plain
from ..constants import R
from .by_loops import ByLoops
from .contract import LIQUID, STABLE, VAPOR, BoundModel, Description, Evaluation, Kind, PhaseModel
from .ideal_gas import IdealGas
from .liquid import BoundLiquid, Liquid
from .no_vapor import OUT_OF_THE_QUESTION, NoVapor
from .pure_liquids import VaporModel
from .virial import LEAST_Z, Virial


class LiquidAndVapor(PhaseModel):
    """A liquid beside a vapor; the liquid's saturation fugacities have to be those of that vapor."""

    P_limit = 5.0e6

    def __init__(self, liquid: Liquid, vapor: VaporModel, molar_mass: Array | None = None) -> None:
        self.liquid, self.vapor = liquid, vapor
        self.n_components, self.molar_mass = liquid.n_components, molar_mass

    def at(self, T: Array, P: Array) -> BoundLiquidAndVapor:
        return BoundLiquidAndVapor(self, T, P)

    def compiled(self) -> Plain | None:
        vapor, pure, terms = plain_vapor(self.vapor), self.liquid.pure, self.liquid.activity.plain_terms()
        liquids, saturated = pure.plain(), pure.saturated_vapor is not None
        if vapor is None or (saturated and (vapor.virial is None or type(pure.saturated_vapor) is not type(self.vapor))):
            return None
        if liquids is None or terms is None or len(terms) > MOST_TERMS:
            return None
        return plain(R, pure.poynting, saturated, liquids, terms, vapor)

    def ln_saturation_guess(self, T: Array) -> Array:
        return self.liquid.ln_saturation(T)

    def free_sites(self, T: Array, rho: Array, kind: Kind = STABLE) -> Array:
        """The vapor's; activity coefficients know of none."""
        if not isinstance(self.vapor, PhaseModel):
            return super().free_sites(T, rho, kind)
        in_vapor = np.broadcast_to(np.asarray(kind) == VAPOR, len(T))
        return np.where(in_vapor[:, None], self.vapor.free_sites(T, rho, VAPOR), np.nan)

    def liquids_alone(self) -> LiquidAndVapor:
        # how liquids split is a matter of γ: the pure liquids' fugacities are the same for all
        return LiquidAndVapor(Liquid(self.liquid.pure.without_vapor(), self.liquid.activity), NoVapor(), self.molar_mass)

    def select(self, components: Sequence[int]) -> LiquidAndVapor:
        molar_mass = None if self.molar_mass is None else self.molar_mass[np.asarray(components)]
        return LiquidAndVapor(self.liquid.select(components), self.vapor.select(components), molar_mass)


def plain_vapor(model: VaporModel) -> PlainVapor | None:
    """A vapor as the compiled engine takes it; None of a model that it has not, as of a subclass of one that it has."""
    if type(model) is IdealGas:
        return PlainVapor()
    if type(model) is NoVapor:
        return PlainVapor(np.inf, OUT_OF_THE_QUESTION)
    return PlainVapor(LEAST_Z, virial=model.plain()) if type(model) is Virial else None


class BoundLiquidAndVapor(ByLoops[LiquidAndVapor]):
    """Both models at given T and P."""

    @cached_property
    def liquid(self) -> BoundLiquid:
        """The liquid's model there."""
        return self.model.liquid.at(self.T, self.P)

    @cached_property
    def vapor(self) -> BoundModel:
        """The vapor's."""
        return self.model.vapor.at(self.T, self.P)

    def rows(self, index: Index) -> BoundLiquidAndVapor:
        some = BoundLiquidAndVapor(self.model, self.T[index], self.P[index])
        # what is known of both need not be worked out again
        some.__dict__.update({name: self.__dict__[name].rows(index) for name in ("liquid", "vapor") if name in self.__dict__})
        return some

    def _kinds(self, x: Array, kind: Kind) -> Kinds:
        """Each row's kind, the stable one found where it was left open."""
        kinds = np.broadcast_to(np.asarray(kind, dtype=np.int8), (len(x),)).copy()
        is_open = np.flatnonzero(kinds == STABLE)
        if is_open.size:
            some, liquid, vapor = x[is_open], self.liquid.rows(is_open), self.vapor.rows(is_open)
            wet = _wet(some, liquid.ln_phi(some), vapor.ln_phi(some, VAPOR), vapor)
            kinds[is_open] = np.where(wet, LIQUID, VAPOR)
        return kinds

    def _parts(self, x: Array, kinds: Kinds) -> list[tuple[Index, BoundModel, Array, np.int8]]:
        """The rows of each kind, the model that answers for them, their compositions, and the kind."""
        index = [np.flatnonzero(kinds == k) for k in (VAPOR, LIQUID)]
        parts = [(i, m.rows(i), x[i], k) for i, m, k in zip(index, (self.vapor, self.liquid), (VAPOR, LIQUID), strict=True)]
        # of no states there is one part that has none
        return [part for part in parts if part[0].size] or parts[:1]

    def ln_phi_by_arrays(self, x: Array, kind: Kind) -> Array:
        if np.ndim(kind) == 0 and kind != STABLE:
            return (self.liquid if kind == LIQUID else self.vapor).ln_phi(x, kind)
        liquid, vapor = self.liquid.ln_phi(x), self.vapor.ln_phi(x, VAPOR)
        wet = np.where(np.asarray(kind) == STABLE, _wet(x, liquid, vapor, self.vapor), np.asarray(kind) == LIQUID)
        return np.asarray(np.where(wet, liquid.T, vapor.T).T)

    def describe_by_arrays(self, x: Array, kind: Kind) -> Description:
        kinds = self._kinds(x, kind)
        Z = np.empty(len(x))
        for index, model, some, own in self._parts(x, kinds):
            Z[index] = model.describe(some, own).Z
        # a vapor comes first, whatever its own model says of its density
        return Description(Z, kinds, (kinds == LIQUID).astype(float))

    def is_vapor(self, x: Array, kind: Kind = STABLE) -> NDArray[np.bool_]:
        """Where a vapor is meant, and its model has one."""
        if self._loops is not None:
            return np.asarray(self._loops.describe(x, kind)[2][1] == 1)
        meant = self._kinds(x, kind) == VAPOR
        return np.asarray(meant & (self.vapor.describe(x, VAPOR).kinds == VAPOR))

    def evaluate_by_arrays(self, x: Array, kind: Kind) -> Evaluation:
        if np.ndim(kind) == 0 and kind != STABLE:
            return (self.liquid if kind == LIQUID else self.vapor).evaluate(x, kind)
        parts = self._parts(x, self._kinds(x, kind))
        each = [(index, model.evaluate(some, own)) for index, model, some, own in parts]

        def joined(name: str) -> Array:
            whole = np.empty((len(x), *getattr(each[0][1], name).shape[1:]))
            for index, e in each:
                whole[index] = getattr(e, name)
            return whole

        ln_phi, dT, dP, g_TT, Z, Z_T, Z_P = (joined(name) for name in ("ln_phi", "dT", "dP", "g_TT", "Z", "Z_T", "Z_P"))
        return Evaluation(ln_phi, dT, dP, g_TT, Z, Z_T, Z_P, lambda: joined("dn"))


def _wet(x: Array, liquid: Array, vapor: Array, model: BoundModel) -> NDArray[np.bool_]:
    """Where the liquid of composition ``x`` has the lower Gibbs energy, or the vapor's model has no vapor to offer, only something as dense as a liquid."""
    dense = model.describe(x, VAPOR).kinds == LIQUID
    return np.asarray(((x * (liquid - vapor)).sum(axis=-1) < 0.0) | dense)
