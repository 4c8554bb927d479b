"""The contract between phase models and everything that calculates with them.

Whoever adds a phase model writes one file with one subclass of `PhaseModel`. The engine in ``core.equilibrium`` uses nothing
but what stands here, and never asks which model it has.

1. A model is built once, from arrays of constants, for a fixed list of ``C`` components. It does not change afterwards.
2. ``model.at(T, P)`` binds it to ``N`` states (``T``, ``P`` of shape ``(N,)``) and returns a `BoundModel`, which precomputes what
   does not depend on composition.
3. ``bound.ln_phi(x, kind)`` gives ln φ ``(N, C)`` for mole fractions ``x (N, C)``, all positive, each row summing to 1.
4. ``kind`` says which phase is asked for: `VAPOR`, `LIQUID`, or `STABLE`: the one of lower Gibbs energy at that composition.
   It is one number for all rows or an array ``(N,)``. A model that has a single root there answers with that root.
5. ``bound.evaluate(x, kind)`` gives the same ln φ and its analytic derivatives, see `Evaluation`.
6. The derivatives satisfy the Gibbs-Duhem relations: the model is the derivative of one Gibbs energy.
7. ``model.select(components)`` is the same model with only those components.
8. ``model.ln_saturation_guess(T)`` is a rough ln(P_sat/Pa) ``(N, C)``; it only starts iterations (K ≈ P_sat/P), so it may be crude,
   but must be finite and rise with ``T``.
9. A model that is one equation of state for vapor and liquid alike also answers in volume: see `VolumeModel`. Only such a model
   can have critical points.
10. Below ``P_limit`` (Pa) results mean something; tracing stops there.
11. A model may have pure solids: ``model.solids`` lists the component of each, and ``bound.solids()`` gives their ln φ. A solid is asked for by its kind, ``SOLID`` + its
    position in that list; all it has to do with other components is a ln φ so large that none are in it.
12. Of several fluid phases the one of least `Description.packing` comes first; it is the vapor where ``bound.is_vapor`` says so, and all others are
    liquids. A phase keeps its name along any path on which it changes steadily and does not come to the limit of its kind.
13. ``model.liquids_alone()`` may be a simpler model by which liquids among themselves have the same phases, where no vapor is asked for.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Index, Kinds
from ..compiled import ENGINE
from ..compiled.equation_loops import EquationLoops
from ..compiled.loops import ModelLoops, Plain

STABLE, VAPOR, LIQUID, SOLID = np.int8(-1), np.int8(0), np.int8(1), np.int8(2)
"""Kinds; from `SOLID` on, kind - `SOLID` is a position in the model's list of pure solids, `PhaseModel.solids`."""
Kind = np.int8 | Kinds


@dataclass(frozen=True, eq=False)
class Evaluation:
    """A phase model and its derivatives at ``N`` states.

    Attributes
    ----------
    ln_phi : (N, C)
        ln φ_i.
    dT : (N, C)
        ∂ln φ_i/∂T at constant P and composition, 1/K.
    dP : (N, C)
        ∂ln φ_i/∂P at constant T and composition, 1/Pa.
    g_TT : (N,)
        Σ x_i ∂²ln φ_i/∂T² at constant P, 1/K².
    Z : (N,)
        Compressibility factor PV/RT of the phase, as the model states volume.
    Z_T, Z_P : (N,)
        ∂Z/∂T at constant P, 1/K, and ∂Z/∂P at constant T, 1/Pa.
    compute_dn : callable
        What gives `dn`, which costs the most and is not always asked for.
    """

    ln_phi: Array
    dT: Array
    dP: Array
    g_TT: Array
    Z: Array
    Z_T: Array
    Z_P: Array
    compute_dn: Callable[[], Array]

    @cached_property
    def dn(self) -> Array:
        """n ∂ln φ_i/∂n_j at constant T and P ``(N, C, C)``."""
        return self.compute_dn()


class Description(NamedTuple):
    """What a phase is like, one entry for each of ``N``.

    Attributes
    ----------
    Z : (N,)
        Compressibility factor.
    kinds : (N,)
        `VAPOR` or `LIQUID`, by density alone, or a solid.
    packing : (N,)
        Covolume over volume: how densely the molecules are packed. Unlike molar volumes and mass densities, which cross at high pressures, it tells a
        vapor from the liquid beside it up to the critical point.

    """

    Z: Array
    kinds: Kinds
    packing: Array


UNSETTLED, SETTLED, UNNAMED, NOWHERE, LOOSE = 0, 1, 2, 3, 4
"""What became of a state in the compiled engine: it is for the reference engine, done, done but for the question whether its first phase is a vapor, not
there, or as far as it could be had beside a further phase that could not."""


NO_POINT, POINT, BESIDE_CRITICAL = 0, 1, 2
"""What came of a point of a line: Newton's method leads nowhere, or to it, or it is so close to a critical point that it is for the reference engine."""


class BoundModel(ABC):
    """A phase model at given ``T`` and ``P``."""

    T: Array
    P: Array

    @abstractmethod
    def ln_phi(self, x: Array, kind: Kind = STABLE) -> Array:
        """Ln φ ``(N, C)``."""

    @abstractmethod
    def evaluate(self, x: Array, kind: Kind = STABLE) -> Evaluation:
        """Ln φ with its derivatives."""

    def solids(self) -> list[tuple[int, Array]]:
        """The component of each pure solid, and its ln φ there ``(N,)``."""
        return []

    @abstractmethod
    def describe(self, x: Array, kind: Kind = STABLE) -> Description:
        """Compressibility factor, kind by density and packing."""

    def is_vapor(self, x: Array, kind: Kind = STABLE) -> NDArray[np.bool_]:
        """Where a phase is to be called a vapor, alone or as the least packed of several ``(N,)``."""
        return np.asarray(self.describe(x, kind).kinds == VAPOR)

    def loops(self) -> ModelLoops | None:
        """The same for the compiled engine, where that has it."""
        return None

    @abstractmethod
    def rows(self, index: Index) -> BoundModel:
        """The same for the states ``index`` (repeats allowed)."""


class PhaseModel(ABC):
    """What every phase model answers; the numbered list is in the module's docstring."""

    n_components: int
    solids: tuple[int, ...] = ()
    """The component of each pure solid."""
    P_limit: float = 2.0e8
    molar_mass: Array | None = None
    """kg/mol ``(C,)``, for putting liquids in the order of their mass densities; of their molar ones where it is not known."""

    @abstractmethod
    def at(self, T: Array, P: Array) -> BoundModel:
        """Bind to states; ``T`` in K and ``P`` in Pa, both ``(N,)``."""

    @abstractmethod
    def ln_saturation_guess(self, T: Array) -> Array:
        """Rough ln(P_sat/Pa) ``(N, C)``."""

    def free_sites(self, T: Array, rho: Array, kind: Kind = STABLE) -> Array:
        """Of fluids of a kind and densities ``rho (N, C)``, mol/m3: the fraction of each component's sites that is not bound ``(N, C)``; NaN of what has none."""
        return np.full(rho.shape, np.nan)

    def compiled(self) -> Plain | None:
        """The model as the compiled engine takes it to bind it itself; None where that has not all its parts."""
        return None

    @cached_property
    def plain(self) -> Plain | None:
        """The same where there is such an engine."""
        return None if ENGINE is None or self.n_components > ENGINE.MOST_COMPONENTS else self.compiled()

    def free_loops(self) -> EquationLoops | None:
        """The same for the compiled engine, where that has it and can bind it itself."""
        return None if self.plain is None else EquationLoops(self.plain)

    def costs_by_state(self) -> bool:
        """Whether a batch of states costs as much as one after the other, as in the compiled engine; else hardly more than a single one."""
        return self.plain is not None

    def liquids_alone(self) -> PhaseModel | None:
        """The same of which no vapor forms, where that is a simpler model: liquids among themselves have the same phases by it."""
        return None

    @abstractmethod
    def select(self, components: Sequence[int]) -> PhaseModel:
        """The model restricted to ``components``."""


class VolumeModel(PhaseModel):
    """A phase model that is one equation of state, explicit in T, V and mole numbers.

    V here is the equation's own volume; what it states as the volume of a phase is that less `volume_shift`.

    Both methods must accept complex ``n`` (and be analytic in it), which gives exact directional derivatives.
    """

    @abstractmethod
    def helmholtz_hessian(self, T: Array, V: Array, n: NDArray[np.inexact]) -> NDArray[np.inexact]:
        """∂²(Aᴿ/RT)/∂n_i∂n_j at constant T and V, ``(N, C, C)``, with Aᴿ relative to the ideal gas at T, V."""

    @abstractmethod
    def pressure(self, T: Array, V: Array, n: Array) -> Array:
        """P ``(N,)`` for volume ``V`` (m3) holding ``n`` (mol)."""

    @abstractmethod
    def volume_shift(self, x: Array) -> Array:
        """What is taken off the equation's own molar volume ``(N,)``, m3/mol."""

    @abstractmethod
    def covolume(self, T: Array, n: Array) -> Array:
        """Smallest possible volume of ``n (N, C)`` mol ``(N,)``, m3; one that is not possible is NaN."""

    @abstractmethod
    def has_branches(self, T: Array, x: Array) -> NDArray[np.bool_]:
        """Where at ``T`` and fixed composition pressure falls and rises with density, so that a vapor and a liquid branch lie apart ``(N,)``."""

    @abstractmethod
    def temperature_scale(self, x: Array) -> tuple[float, float]:
        """Lower and upper bound, K, between which critical temperatures of these mixtures are sought."""
