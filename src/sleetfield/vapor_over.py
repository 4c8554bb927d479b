"""The vapor over a solution of salts and gases at a given pressure, and a liquid of hydrocarbons beside it: gases, hydrocarbons and water by Soave's equation."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .components.component_list import ComponentList
from .components.species import BAR, GAS, WATER, Species
from .core.constants import R
from .core.electrolyte.contract import M_WATER
from .core.electrolyte.speciation import Vapor, would_be
from .core.electrolyte.water import density, vapor_pressure
from .core.equilibrium.flash import vapor_and_liquid
from .core.equilibrium.rachford_rice import split
from .core.models.contract import LIQUID, VAPOR, PhaseModel
from .core.models.soave_redlich_kwong import SoaveRedlichKwong
from .mixture import Mixture
from .pairs.bank import published_parameters, set_of
from .pairs.of_temperature import OfTemperature
from .recipes import recipe_of, settled

Array = NDArray[np.float64]

_WETTEST = 3.0, 0.75
"""Factor and power of water's vapor pressure over the pressure, by which its share is held: ten times the ideal one at 25 °C and 100 bar."""
_KIJ = 0.5
"""Of water with a hydrocarbon in what is no water (Soreide and Whitson, Fluid Phase Equilib. 77 (1992) 217-240), where the bank has no other."""
_VOLATILE = 3.0
"""Ln K of water, which in hydrocarbons is above them all, to begin with."""
_NO_LIQUID = 0.75
"""By how much less water attracts itself beside hydrocarbons, so that it is no liquid there by the equation: that is the solution. In what is hardly water at all little follows from it, 0.3 % in fugacities where there are 2.5 % of it."""
_NONE, _SAME, _ALIKE = 1e-100, 1e-6, 1e-3
"""Mole fraction of what is absent; ln K, and mole fractions, between which phases are the same."""


class Steam:
    """Water as a gas beside others, by their ``model`` of which it is the last: its potential is that of water at its vapor pressure."""

    name, atoms, charge, kind, sources = "water", WATER.atoms, 0, GAS, ()

    def __init__(self, model: PhaseModel) -> None:
        self._model = model

    def ln_fugacity(self, T: float) -> float:
        """Of saturated water, Pa."""
        alone, boiling = np.full((1, self._model.n_components), _NONE), float(vapor_pressure(T))
        alone[0, -1] = 1.0
        return float(np.log(boiling) + self._model.at(np.array([T]), np.array([boiling])).ln_phi(alone, VAPOR)[0, -1])

    def mu_at(self, T: float) -> float:
        """Standard potential over RT."""
        return WATER.mu_at(T) + _pressed_water(T, float(vapor_pressure(T))) - self.ln_fugacity(T) + float(np.log(BAR))


def _pressed_water(T: float, P: float) -> float:
    """What a pressure adds to the potential over RT that water has at 1 bar."""
    return M_WATER / float(density(T)) * (P - BAR) / (R * T)


class Parted(NamedTuple):
    """Vapor and liquid of what is no water: what there is of the former ``(N,)``, and mole fractions in it and in the latter ``(N, K)``."""

    vapor: Array
    y: Array
    x: Array


class VaporOver:
    """At ``T``, K, and ``P``, Pa, of ``gases``, ``hydrocarbons`` and water; `names` are these together, water last."""

    def __init__(self, gases: Sequence[str], hydrocarbons: Sequence[str], T: float, P: float) -> None:
        self.names, self.T, self.P = (*gases, *hydrocarbons, "water"), T, P
        who = ComponentList(self.names)
        kij = {(name, "water"): _beside_water(name) for name in hydrocarbons}
        self._model = Mixture.of(who, settled(recipe_of(eos="SRK"), who, {"kij": kij})).phase_model
        self._parts = bool(hydrocarbons)
        if self._parts:
            self._model = _without_liquid_water(self._model)
        self.steam = Steam(self._model)
        boiling = float(vapor_pressure(T))
        # in no phase is water below what it is in water itself: by the equation it would be, in one as dense
        beyond = _pressed_water(T, P) - _pressed_water(T, boiling)
        self._least = self.steam.ln_fugacity(T) + beyond - np.log(P) if P > boiling else -np.inf
        # and no vapor has more of it than a few times what an ideal one would: on the way to one nothing is taken for it that is as dense as water
        self._most = min(1.0, _WETTEST[0] * (boiling / P) ** _WETTEST[1])

    def pressed(self, T: float, solutes: Sequence[Species]) -> tuple[Array, float]:
        """What the pressure adds at ``T`` to the potentials over RT of dissolved gases, by their volumes ``(S,)``, and to that of water."""
        volumes = np.array([0.0 if s.dissolving is None else s.dissolving.volume for s in solutes])
        return volumes * (self.P - BAR) / (R * T), _pressed_water(T, self.P)

    def _ln_phi_P(self, z: Array) -> Array:
        """Ln φP/P° of mixtures ``(N, K)``; of one that parts, φ are those that its overall mole fractions have the same fugacities with."""
        z = self._damp(z)
        found = self.parted(z)
        ln_phi, some = self._ln_phi(z, VAPOR), np.flatnonzero(found.vapor < 1.0)
        ln_phi[some] = (self._ln_phi(found.x, LIQUID) + np.log(np.maximum(found.x, _NONE)) - np.log(z))[some]
        return self._over_water(ln_phi)

    def _of_vapor(self, y: Array) -> Array:
        """The same of vapors."""
        return self._over_water(self._ln_phi(self._damp(y), VAPOR))

    def _damp(self, z: Array) -> Array:
        """Mixtures with no more water than there can be."""
        dry = z[:, :-1].sum(axis=1, keepdims=True)
        held = np.where(dry > 0.0, np.minimum(z[:, -1:], self._most), 1.0)
        gases = z[:, :-1] * (1.0 - held) / np.where(dry > 0.0, dry, 1.0)
        return np.asarray(np.maximum(np.concatenate([gases, held], axis=1), _NONE))

    def _over_water(self, ln_phi: Array) -> Array:
        """With the pressure, over P°, and water no less than in water."""
        ln_phi[:, -1] = np.maximum(ln_phi[:, -1], self._least)
        return np.asarray(ln_phi + np.log(self.P / BAR))

    def _ln_phi(self, z: Array, kind: np.int8) -> Array:
        T, P = (np.full(len(z), value) for value in (self.T, self.P))
        ln_phi: Array = self._model.at(T, P).ln_phi(np.maximum(z, _NONE), kind)
        return ln_phi

    def parted(self, z: Array) -> Parted:
        """Mixtures ``(N, K)`` as a vapor and a liquid, of which one may not be there."""
        if not self._parts:
            return Parted(np.ones(len(z)), z, z)
        T, P, z = np.full(len(z), self.T), np.full(len(z), self.P), np.maximum(z, _NONE)
        bound, ln_k = self._model.at(T, P), self._model.ln_saturation_guess(T) - np.log(self.P)
        ln_k[:, -1] = _VOLATILE
        with np.errstate(all="ignore"):
            ln_k, vapor, change = vapor_and_liquid(bound, z, ln_k)
        other = np.abs(ln_k).max(axis=1) > _SAME
        two = np.isfinite(change) & (vapor > 0.0) & (vapor < 1.0) & other
        some, whole = np.flatnonzero(two), np.flatnonzero(~two)
        # where there is no split, the kind that is the stable one
        parted = Parted(np.zeros(len(z)), z.copy(), z.copy())
        parted.vapor[whole] = bound.rows(whole).is_vapor(z[whole])
        if some.size:
            apart = split(z[some], np.exp(ln_k[some]), vapor[some])
            parted.vapor[some], parted.x[some], parted.y[some] = apart.vapor, apart.x, apart.y
        return parted

    def place(self, others: Sequence[str]) -> list[int]:
        """Where its gases stand among ``others``, of which steam is the last."""
        return [others.index(name) if name != "water" else len(others) - 1 for name in self.names]

    def amounts(self, total: Array) -> tuple[Array, Array]:
        """Mol ``(N, K)`` of vapors and of liquids, of what there is of both together."""
        n = total.sum(axis=1, keepdims=True)
        if not self._parts:
            return total, np.zeros_like(total)
        found = self.parted(total / np.where(n > 0.0, n, 1.0))
        vapor = np.minimum(n * found.vapor[:, None] * found.y, total)
        vapor = np.where((found.vapor == 1.0)[:, None], total, vapor)
        return vapor, total - vapor

    def shares(self, vapor: Array, liquid: Array, fugacity: Array) -> Array:
        """Mole fractions ``(N, K)`` of vapors; where there are none those that one would have over these fugacities, over P°: of a sum below one, and zero where it would be the liquid itself."""
        total = vapor.sum(axis=1)
        none = np.flatnonzero(total == 0.0)
        y = vapor / np.where(total > 0.0, total, 1.0)[:, None]
        if none.size:
            with np.errstate(all="ignore"):
                trial = would_be(fugacity[none], self._of_vapor)
                x = liquid[none] / liquid[none].sum(axis=1, keepdims=True)
            y[none] = np.where((np.abs(trial - x) < _ALIKE).all(axis=1, keepdims=True), 0.0, trial)
        return y

    def beyond_ideal(self, amounts: Array) -> Array:
        """What the enthalpies of vapors and liquids of ``amounts (N, K)`` together are beyond those of ideal gases, J ``(N,)``."""
        return sum(
            (self._beyond_ideal(part, kind) for part, kind in zip(self.amounts(amounts), (VAPOR, LIQUID), strict=True)),
            start=np.zeros(len(amounts)),
        )

    def _beyond_ideal(self, amounts: Array, kind: np.int8) -> Array:
        found, there = np.zeros(len(amounts)), np.flatnonzero(amounts.any(axis=1))
        if there.size:
            n = amounts[there]
            T, P = (np.full(there.size, value) for value in (self.T, self.P))
            with np.errstate(all="ignore"):
                e = self._model.at(T, P).evaluate(np.maximum(n / n.sum(axis=1, keepdims=True), _NONE), kind)
            found[there] = (n * np.where(n > 0.0, -R * self.T**2 * e.dT, 0.0)).sum(axis=1)
        return found

    def holds_too_much_water(self, liquid: Mapping[str, float]) -> bool:
        """Whether there is more water in a liquid than its fugacities are of."""
        return bool(liquid.get("water", 0.0) > self._most * sum(liquid.values()))

    def is_dense(self, y: Sequence[float]) -> bool:
        """Whether a vapor of these mole fractions is as dense as a liquid."""
        found = self._model.at(np.array([self.T]), np.array([self.P])).describe(np.maximum([y], _NONE), VAPOR)
        return bool(found.kinds[0] == LIQUID)

    @property
    def boils_water(self) -> bool:
        """Whether water by itself would boil away."""
        return self.P < float(vapor_pressure(self.T))

    def vapor(self, others: Sequence[str], feeds: Sequence[Mapping[str, float]]) -> Vapor | None:
        """What may form over solutions of ``feeds``, among ``others``, which are solids and gases: to begin with what was fed as gas, and wet."""
        place, shape = self.place(others), (len(feeds), len(others))
        which, start = np.zeros(len(others), dtype=bool), np.zeros(shape)
        which[place] = True
        start[:, place[:-1]] = [[feed.get(name, 0.0) for name in self.names[:-1]] for feed in feeds]
        wet = min(float(vapor_pressure(self.T)) / self.P, 0.5)
        start[:, place[-1]] = start.sum(axis=1) * wet / (1.0 - wet)

        def ln_phi_P(shares: Array) -> Array:
            found = np.zeros_like(shares)
            found[:, place] = self._ln_phi_P(shares[:, place])
            return found

        return Vapor(which, start, ln_phi_P)


class BeforeVapor(VaporOver):
    """The same where none may form yet."""

    def vapor(self, others: Sequence[str], feeds: Sequence[Mapping[str, float]]) -> Vapor | None:
        return None


def _without_liquid_water(model: PhaseModel) -> PhaseModel:
    assert isinstance(model, SoaveRedlichKwong)
    kij = model.kij.copy()
    kij[(0,) * (kij.ndim - 2) + (-1, -1)] = _NO_LIQUID
    return SoaveRedlichKwong(model.Tc, model.Pc, model.omega, kij, molar_mass=model.molar_mass)


def _beside_water(hydrocarbon: str) -> OfTemperature | float:
    known = set_of(published_parameters("PR"), hydrocarbon, "water")
    return _KIJ if known is None else OfTemperature.read(known.kij, "kij")
