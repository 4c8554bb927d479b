"""The vapor over a solution of salts and gases at a given pressure: gases and water by Soave's equation."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from .components.component_list import ComponentList
from .components.species import BAR, GAS, WATER, Species
from .core.constants import R
from .core.electrolyte.contract import M_WATER
from .core.electrolyte.speciation import Vapor, would_be
from .core.electrolyte.water import density, vapor_pressure
from .core.models.contract import LIQUID, VAPOR, PhaseModel
from .mixture import Mixture
from .recipes import recipe_of, settled

Array = NDArray[np.float64]

_WETTEST = 3.0, 0.75
"""Factor and power of water's vapor pressure over the pressure, by which its share is held: ten times the ideal one at 25 °C and 100 bar."""


class Steam:
    """Water as a gas beside others, by their ``model`` of which it is the last: its potential is that of water at its vapor pressure."""

    name, atoms, charge, kind, sources = "water", WATER.atoms, 0, GAS, ()

    def __init__(self, model: PhaseModel) -> None:
        self._model = model

    def ln_fugacity(self, T: float) -> float:
        """Of saturated water, Pa."""
        alone, boiling = np.full((1, self._model.n_components), 1e-100), float(vapor_pressure(T))
        alone[0, -1] = 1.0
        return float(np.log(boiling) + self._model.at(np.array([T]), np.array([boiling])).ln_phi(alone, VAPOR)[0, -1])

    def mu_at(self, T: float) -> float:
        """Standard potential over RT."""
        return WATER.mu_at(T) + _pressed_water(T, float(vapor_pressure(T))) - self.ln_fugacity(T) + float(np.log(BAR))


def _pressed_water(T: float, P: float) -> float:
    """What a pressure adds to the potential over RT that water has at 1 bar."""
    return M_WATER / float(density(T)) * (P - BAR) / (R * T)


class VaporOver:
    """At ``T``, K, and ``P``, Pa, of ``gases`` and water; `names` are these together, water last."""

    def __init__(self, gases: Sequence[str], T: float, P: float) -> None:
        self.names, self.T, self.P = (*gases, "water"), T, P
        who = ComponentList(self.names)
        self._model = Mixture.of(who, settled(recipe_of(eos="SRK"), who, {})).phase_model
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

    def _ln_phi_P(self, y: Array) -> Array:
        """Ln φP/P° of vapors ``(N, K)``, water no less than in water."""
        dry = y[:, :-1].sum(axis=1, keepdims=True)
        held = np.where(dry > 0.0, np.minimum(y[:, -1:], self._most), 1.0)
        gases = y[:, :-1] * (1.0 - held) / np.where(dry > 0.0, dry, 1.0)
        T, P = (np.full(len(y), value) for value in (self.T, self.P))
        ln_phi = self._model.at(T, P).ln_phi(np.maximum(np.concatenate([gases, held], axis=1), 1e-100), VAPOR)
        ln_phi[:, -1] = np.maximum(ln_phi[:, -1], self._least)
        return np.asarray(ln_phi + np.log(self.P / BAR))

    def place(self, others: Sequence[str]) -> list[int]:
        """Where its gases stand among ``others``, of which steam is the last."""
        return [others.index(name) if name != "water" else len(others) - 1 for name in self.names]

    def shares(self, amounts: Array, fugacity: Array) -> Array:
        """Mole fractions ``(N, K)`` of vapors by their ``amounts``; where there are none those that one would have over these fugacities, over P°: of a sum below one."""
        total = amounts.sum(axis=1)
        none = np.flatnonzero(total == 0.0)
        y = amounts / np.where(total > 0.0, total, 1.0)[:, None]
        with np.errstate(all="ignore"):
            y[none] = would_be(fugacity[none], self._ln_phi_P)
        return y

    def beyond_ideal(self, amounts: Array) -> Array:
        """What the enthalpies of vapors of ``amounts (N, K)`` are beyond those of ideal gases, J ``(N,)``."""
        found, there = np.zeros(len(amounts)), np.flatnonzero(amounts.any(axis=1))
        if there.size:
            n = amounts[there]
            T, P = (np.full(there.size, value) for value in (self.T, self.P))
            with np.errstate(all="ignore"):
                e = self._model.at(T, P).evaluate(np.maximum(n / n.sum(axis=1, keepdims=True), 1e-100), VAPOR)
            found[there] = (n * np.where(n > 0.0, -R * self.T**2 * e.dT, 0.0)).sum(axis=1)
        return found

    def is_dense(self, y: Sequence[float]) -> bool:
        """Whether a vapor of these mole fractions is as dense as a liquid."""
        found = self._model.at(np.array([self.T]), np.array([self.P])).describe(np.maximum([y], 1e-100), VAPOR)
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
