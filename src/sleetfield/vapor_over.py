"""The vapor over a solution of salts and gases at a given pressure: gases and water by Soave's equation."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from .components.component_list import ComponentList
from .components.species import BAR, GAS, WATER, Species
from .core.constants import R
from .core.electrolyte.contract import M_WATER
from .core.electrolyte.speciation import Chemistry, Solution, Vapor, solve, would_be
from .core.electrolyte.water import density, vapor_pressure
from .core.models.contract import LIQUID, VAPOR
from .mixture import Mixture
from .recipes import recipe_of, settled

Array = NDArray[np.float64]

_WETTEST = 3.0, 0.75
"""Factor and power of water's vapor pressure over the pressure, by which its share is held: ten times the ideal one at 25 °C and 100 bar."""
_APART = 0.05
"""K, to either side of a temperature, between which slopes are taken."""


class VaporOver:
    """At ``T``, K, and ``P``, Pa, of ``gases`` and water; `names` are these together, water last."""

    def __init__(self, gases: Sequence[str], T: float, P: float) -> None:
        self.names, self.T, self.P = (*gases, "water"), T, P
        who = ComponentList(self.names)
        self._model = Mixture.of(who, settled(recipe_of(eos="SRK"), who, {})).phase_model
        alone = np.zeros(len(self.names))
        alone[-1] = 1.0
        boiling = float(vapor_pressure(T))
        ln_f = np.log(boiling) + self._ln_phi(alone[None], boiling)[0, -1]
        of_steam = WATER.mu_at(T) - ln_f + np.log(BAR)
        # in no phase is water below what it is in water itself: by the equation it would be, in one as dense
        self._least = ln_f + self._of_pressed_water() - np.log(P) if P > boiling else -np.inf
        # and no vapor has more of it than a few times what an ideal one would: on the way to one nothing is taken for it that is as dense as water
        self._most = min(1.0, _WETTEST[0] * (boiling / P) ** _WETTEST[1])
        # at this temperature alone, so that its enthalpy is another matter: Clausius and Clapeyron's
        self.steam = Species("water", WATER.atoms, 0, GAS, of_steam, 0.0, 0.0, ())
        rise = (np.log(vapor_pressure(T + _APART)) - np.log(vapor_pressure(T - _APART))) / (2.0 * _APART)
        water = -(WATER.mu_at(T + _APART) - WATER.mu_at(T - _APART)) / (2.0 * _APART)
        self._of_steam = float(R * T**2 * (water + rise))

    def _of_pressed_water(self) -> float:
        """What the pressure adds to the potential of liquid water, over RT."""
        return M_WATER / float(density(self.T)) * (self.P - float(vapor_pressure(self.T))) / (R * self.T)

    def _ln_phi(self, y: Array, P: float) -> Array:
        n = len(y)
        return self._model.at(np.full(n, self.T), np.full(n, P)).ln_phi(np.maximum(y, 1e-100), VAPOR)

    def _ln_phi_P(self, y: Array) -> Array:
        """Ln φP/P° of vapors ``(N, K)``, water no less than in water."""
        held = np.minimum(y[:, -1:], self._most)
        rest = y[:, :-1].sum(axis=1, keepdims=True)
        dry = y[:, :-1] * np.where(rest > 0.0, (1.0 - held) / np.where(rest > 0.0, rest, 1.0), 0.0)
        ln_phi = self._ln_phi(np.concatenate([dry, held], axis=1), self.P)
        ln_phi[:, -1] = np.maximum(ln_phi[:, -1], self._least)
        return np.asarray(ln_phi + np.log(self.P / BAR))

    def shares(self, fugacity: Array) -> Array:
        """Mole fractions that a vapor would have over these fugacities, Pa ``(K,)``: of a sum below one where none forms."""
        with np.errstate(all="ignore"):
            return np.asarray(would_be(fugacity[None] / BAR, self._ln_phi_P)[0])

    def pressed(self, chemistry: Chemistry, solutes: Sequence[Species]) -> Chemistry:
        """Potentials of dissolved gases, by their volumes, and of water under this pressure."""
        RT = R * self.T
        volumes = np.array([0.0 if s.dissolving is None else s.dissolving.volume for s in solutes])
        return chemistry._replace(
            mu_solutes=chemistry.mu_solutes + volumes * (self.P - BAR) / RT,
            mu_water=chemistry.mu_water + self._of_pressed_water(),
        )

    def beyond_ideal(self, amounts: Array, others: Sequence[str]) -> Array:
        """What the enthalpies of vapors are beyond those that potentials give, J ``(N,)``, of ``amounts (N, K)`` of ``others``: of gases that of the equation, of steam its heat of vaporization."""
        n, found = amounts[:, self._place(others)], np.zeros(len(amounts))
        there = np.flatnonzero(n.sum(axis=1) > 0.0)
        if there.size:
            own = n[there]
            bound = self._model.at(np.full(there.size, self.T), np.full(there.size, self.P))
            with np.errstate(all="ignore"):
                e = bound.evaluate(np.maximum(own / own.sum(axis=1, keepdims=True), 1e-100), VAPOR)
            found[there] = (own * np.where(own > 0.0, -R * self.T**2 * e.dT, 0.0)).sum(axis=1) + own[:, -1] * self._of_steam
        return found

    def _place(self, others: Sequence[str]) -> list[int]:
        """Where its gases stand among ``others``, of which steam is the last."""
        return [others.index(name) if name != "water" else len(others) - 1 for name in self.names]

    def is_dense(self, y: Mapping[str, float]) -> bool:
        """Whether a vapor of these amounts is as dense as a liquid."""
        amounts = np.array([[max(y.get(name, 0.0), 1e-100) for name in self.names]])
        kinds = self._model.at(np.array([self.T]), np.array([self.P])).describe(amounts / amounts.sum(), VAPOR).kinds
        return bool(kinds[0] == LIQUID)

    @property
    def boils_water(self) -> bool:
        """Whether water by itself would boil away."""
        return self.P < float(vapor_pressure(self.T))

    def solve(
        self,
        chemistry: Chemistry,
        totals: Array,
        may_form: NDArray[np.bool_],
        others: Sequence[str],
        feeds: Sequence[Mapping[str, float]],
    ) -> Solution:
        """The solution with its vapor, ``others`` the names of solids and gases."""
        place = self._place(others)
        which = np.zeros(len(others), dtype=bool)
        which[place] = True
        start = np.zeros((len(feeds), len(others)))
        for i, feed in enumerate(feeds):
            for name in self.names[:-1]:
                start[i, place[self.names.index(name)]] = feed.get(name, 0.0)
        wet = min(float(vapor_pressure(self.T)) / self.P, 0.5)
        start[:, place[-1]] = start.sum(axis=1) * wet / (1.0 - wet)

        def ln_phi_P(shares: Array) -> Array:
            found = np.zeros_like(shares)
            found[:, place] = self._ln_phi_P(shares[:, place])
            return found

        return solve(chemistry, totals, may_form, np.full(start.shape, np.nan), Vapor(which, start, ln_phi_P))


class BeforeVapor(VaporOver):
    """The same where no vapor may form yet."""

    def solve(
        self,
        chemistry: Chemistry,
        totals: Array,
        may_form: NDArray[np.bool_],
        others: Sequence[str],
        feeds: Sequence[Mapping[str, float]],
    ) -> Solution:
        return solve(chemistry, totals, may_form, np.full((len(feeds), len(others)), np.nan))
