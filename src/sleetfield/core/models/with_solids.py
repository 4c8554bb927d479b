"""Fluids of any model beside pure solids, answering as a single model.

A solid is asked for by its kind. At the composition of a pure component `STABLE` is whichever of its solid and its fluid has the lower Gibbs energy; at any other
composition there is no solid.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Index, Kinds
from .contract import SOLID, STABLE, BoundModel, Description, Evaluation, Kind, PhaseModel, VolumeModel
from .pure_solid import Solid, SolidStates

_PURE = 1e-12
"""What a composition may have of other components and still be that of a solid."""
_OUTSIDE = 150.0
"""ln φ of other components in a solid: what equilibrium leaves of them there is next to nothing."""
_PACKED = 1e3
"""Packing of solids, beyond that of any fluid."""


class WithSolids(PhaseModel):
    """A model of fluids with solids beside it; made by `with_solids`."""

    def __init__(self, fluid: PhaseModel, solids: Sequence[Solid]) -> None:
        self.fluid, self.pure_solids = fluid, tuple(solids)
        self.solids = tuple(s.component for s in solids)
        self.n_components, self.P_limit, self.molar_mass = fluid.n_components, fluid.P_limit, fluid.molar_mass

    def at(self, T: Array, P: Array) -> BoundWithSolids:
        return BoundWithSolids(self, self.fluid.at(T, P), [s.at(self.fluid, T, P) for s in self.pure_solids])

    def ln_saturation_guess(self, T: Array) -> Array:
        return self.fluid.ln_saturation_guess(T)

    def free_sites(self, T: Array, rho: Array, kind: Kind = STABLE) -> Array:
        return self.fluid.free_sites(T, rho, kind)

    def select(self, components: Sequence[int]) -> PhaseModel:
        place = {int(c): k for k, c in enumerate(components)}
        kept = [s.of(place[s.component]) for s in self.pure_solids if s.component in place]
        return with_solids(self.fluid.select(components), kept)


class WithSolidsInVolume(WithSolids, VolumeModel):
    """The same beside an equation of state, whose critical points are those of its fluids."""

    fluid: VolumeModel

    def helmholtz_hessian(self, T: Array, V: Array, n: NDArray[np.inexact]) -> NDArray[np.inexact]:
        return self.fluid.helmholtz_hessian(T, V, n)

    def pressure(self, T: Array, V: Array, n: Array) -> Array:
        return self.fluid.pressure(T, V, n)

    def volume_shift(self, x: Array) -> Array:
        return self.fluid.volume_shift(x)

    def covolume(self, T: Array, n: Array) -> Array:
        return self.fluid.covolume(T, n)

    def has_branches(self, T: Array, x: Array) -> NDArray[np.bool_]:
        return self.fluid.has_branches(T, x)

    def temperature_scale(self, x: Array) -> tuple[float, float]:
        return self.fluid.temperature_scale(x)


def with_solids(fluid: PhaseModel, solids: Sequence[Solid]) -> PhaseModel:
    """A model of fluids with pure solids beside it; the fluid's own where there are none."""
    if not solids:
        return fluid
    if isinstance(fluid, WithSolids):
        return with_solids(fluid.fluid, [*fluid.pure_solids, *solids])
    return WithSolidsInVolume(fluid, solids) if isinstance(fluid, VolumeModel) else WithSolids(fluid, solids)


class BoundWithSolids(BoundModel):
    """Fluids and solids at given T and P."""

    def __init__(self, model: WithSolids, fluid: BoundModel, states: list[SolidStates]) -> None:
        self.model, self.fluid, self.states, self.T, self.P = model, fluid, states, fluid.T, fluid.P

    def rows(self, index: Index) -> BoundWithSolids:
        return BoundWithSolids(self.model, self.fluid.rows(index), [SolidStates(*(v[index] for v in s)) for s in self.states])

    def solids(self) -> list[tuple[int, Array]]:
        return [(i, s.ln_phi) for i, s in zip(self.model.solids, self.states, strict=True)]

    def _kinds(self, x: Array, kind: Kind, fluid: Array) -> Kinds | None:
        """Each row's kind with solids found where they are stable; None where there is none among them."""
        kinds = np.broadcast_to(np.asarray(kind, dtype=np.int8), (len(x),))
        pure = (kinds == STABLE) & (x.max(axis=1) > 1.0 - _PURE)
        if not pure.any():
            return kinds if (kinds >= SOLID).any() else None
        kinds = kinds.copy()
        for k, (i, own) in enumerate(self.solids()):
            kinds[pure & (x[:, i] > 1.0 - _PURE) & (own < fluid[:, i])] = SOLID + k
        return kinds if (kinds >= SOLID).any() else None

    def ln_phi(self, x: Array, kind: Kind = STABLE) -> Array:
        fluid = self.fluid.ln_phi(x, _of_fluids(kind))
        kinds = self._kinds(x, kind, fluid)
        return fluid if kinds is None else self._put(fluid, kinds, "ln_phi", _OUTSIDE)

    def _put(self, values: Array, kinds: Kinds, name: str, outside: float) -> Array:
        """Values of fluids with those of solids in their rows."""
        values = values.copy(order="K")
        for k, (i, states) in enumerate(zip(self.model.solids, self.states, strict=True)):
            mine = np.flatnonzero(kinds == SOLID + k)
            values[mine] = outside
            if values.ndim == 1:
                values[mine] = getattr(states, name)[mine]
            else:
                values[mine, i] = getattr(states, name)[mine]
        return values

    def evaluate(self, x: Array, kind: Kind = STABLE) -> Evaluation:
        e = self.fluid.evaluate(x, _of_fluids(kind))
        kinds = self._kinds(x, kind, e.ln_phi)
        if kinds is None:
            return e
        solid = np.flatnonzero(kinds >= SOLID)

        def by_mole_numbers() -> Array:
            dn = e.dn.copy()
            dn[solid] = 0.0
            return dn

        Z = self._put(e.Z, kinds, "Z", 0.0)
        Z_T, Z_P = e.Z_T.copy(), e.Z_P.copy()
        Z_T[solid], Z_P[solid] = -Z[solid] / self.T[solid], Z[solid] / self.P[solid]
        return Evaluation(
            self._put(e.ln_phi, kinds, "ln_phi", _OUTSIDE),
            self._put(e.dT, kinds, "dT", 0.0),
            self._put(e.dP, kinds, "dP", 0.0),
            self._put(e.g_TT, kinds, "g_TT", 0.0),
            Z,
            Z_T,
            Z_P,
            by_mole_numbers,
        )

    def describe(self, x: Array, kind: Kind = STABLE) -> Description:
        fluid = self.fluid.describe(x, _of_fluids(kind))
        pure = x.max(axis=1) > 1.0 - _PURE
        some = np.zeros_like(x)
        some[pure] = self.fluid.rows(np.flatnonzero(pure)).ln_phi(x[pure], _of_fluids(_some(kind, pure)))
        kinds = self._kinds(x, kind, some)
        if kinds is None:
            return fluid
        solid = kinds >= SOLID
        return Description(
            self._put(fluid.Z, kinds, "Z", 0.0),
            np.where(solid, kinds, fluid.kinds).astype(np.int8),
            np.where(solid, _PACKED + kinds, fluid.packing),
        )

    def is_vapor(self, x: Array, kind: Kind = STABLE) -> NDArray[np.bool_]:
        return np.asarray(self.fluid.is_vapor(x, _of_fluids(kind)) & (self.describe(x, kind).kinds < SOLID))


def _of_fluids(kind: Kind) -> Kind:
    """The kind to ask a fluid for where a solid is meant, whose answer is not looked at."""
    return (
        np.where(np.asarray(kind) >= SOLID, STABLE, kind).astype(np.int8) if np.ndim(kind) else (STABLE if kind >= SOLID else kind)
    )


def _some(kind: Kind, which: NDArray[np.bool_]) -> Kind:
    return np.asarray(kind)[which] if np.ndim(kind) else kind
