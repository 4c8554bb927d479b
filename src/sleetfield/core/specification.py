"""Two quantities that fix a state of given composition, and how far a state is from them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from .arrays import ABSENT, Array, Index, component_major
from .compiled.ideal_gases import PlainGases
from .constants import P_REFERENCE, T_REFERENCE, R
from .correlations.together import together
from .equilibrium.flash import FlashResult
from .models.contract import VAPOR, Evaluation, PhaseModel
from .properties import HeatCapacities, IdealGases, PhaseProperties, value_of

FRACTION, MASS_FRACTION = "vapor_fraction", "vapor_mass_fraction"
FRACTIONS = (FRACTION, MASS_FRACTION)
"""Shares of vapor in the whole, by mole and by mass."""
CALORIC = ("H", "S", "U")
"""What rests on heat capacities."""


@dataclass(frozen=True)
class Thermodynamics:
    """What the properties of a state rest on; ``molar_mass (C,)`` is asked for by mass fractions alone."""

    model: PhaseModel
    heat_capacities: HeatCapacities
    molar_mass: Array

    @cached_property
    def plain_gases(self) -> PlainGases | None:
        """The heat capacities as the compiled engine takes them, where it has them all."""
        return together(tuple(self.heat_capacities), T_REFERENCE).plain

    def ideal(self, T: Array, x: Array) -> IdealGases:
        """The pure ideal gases at ``T``; for the components that ``x (N, C)`` has."""
        return IdealGases(self.heat_capacities, T, x)

    def phase_value(self, name: str, p: PhaseProperties, T: Array, P: Array) -> tuple[Array, Array, Array]:
        """One of the molar properties of phases and its derivatives by T and by P, composition fixed ``(N,)``."""
        if name == "V":
            return p.V, p.V_T, p.V_P
        if name == "S":
            return p.S, p.Cp / T, -p.V_T
        H_P = p.V - T * p.V_T
        if name == "H":
            return p.H, p.Cp, H_P
        return p.H - P * p.V, p.Cp - P * p.V_T, H_P - p.V - P * p.V_P

    def partial(self, name: str, e: Evaluation, T: Array, P: Array, x: Array, ideal: IdealGases) -> Array:
        """Partial molar values ``(N, C)``: M̄ᵢ = ∂(nM)/∂nᵢ."""
        t, p = T[:, None], P[:, None]
        V = R * t * (1.0 / p + e.dP)
        if name == "V":
            return np.asarray(V)
        H = ideal.h - R * t**2 * e.dT
        if name == "S":
            return np.asarray(ideal.s - R * (np.log(p / P_REFERENCE) + np.log(np.maximum(x, ABSENT)) + e.ln_phi + t * e.dT))
        return np.asarray(H if name == "H" else H - p * V)

    def total(self, name: str, T: Array, P: Array, result: FlashResult) -> Array:
        """A quantity of all phases together ``(N,)``."""
        if name in ("T", "P"):
            return T if name == "T" else P
        vapor = result.kinds == VAPOR
        if name == FRACTION:
            return np.asarray(np.where(vapor, result.amount, 0.0).sum(axis=1))
        if name == MASS_FRACTION:
            mass = np.nan_to_num(result.amount) * np.nan_to_num(result.x @ self.molar_mass)
            return np.asarray(np.where(vapor, mass, 0.0).sum(axis=1) / mass.sum(axis=1))
        # phase after phase, all states at once
        state, place = np.nonzero(np.isfinite(result.amount))
        own_T, own_P, x = T[state], P[state], component_major(np.maximum(result.x[state, place], ABSENT))
        e = self.model.at(own_T, own_P).evaluate(x, result.kinds[state, place])
        own = result.amount[state, place] * value_of(name, e, self.ideal(own_T, x), own_T, own_P, x)
        return np.asarray(np.bincount(state, own, minlength=len(T)), dtype=float)


@dataclass(frozen=True)
class Specification:
    """Two quantities with their values ``(N,)``, and the feeds ``z (N, C)``."""

    mixture: Thermodynamics
    given: Mapping[str, Array]
    z: Array

    def rows(self, index: Index) -> Specification:
        """The same for the states ``index``."""
        return Specification(self.mixture, {name: value[index] for name, value in self.given.items()}, self.z[index])

    def scale(self, name: str) -> Array:
        """What an error of a quantity is measured by."""
        target = self.given[name]
        if name in FRACTIONS:
            return np.ones_like(target)
        if name in ("T", "P", "V"):
            return np.abs(target)
        T = self.given.get("T", np.full_like(target, T_REFERENCE))
        return np.full_like(target, R) if name == "S" else R * T

    def error(self, name: str, T: Array, P: Array, result: FlashResult) -> Array:
        """How far a quantity of states is above its target, by its scale."""
        return np.asarray((self.mixture.total(name, T, P, result) - self.given[name]) / self.scale(name))
