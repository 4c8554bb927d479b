"""The vapor over a solution of salts and gases at a given pressure: gases and water by Soave's equation."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from .components.species import BAR, GAS, WATER, Species
from .core.constants import R
from .core.electrolyte.contract import M_WATER
from .core.electrolyte.speciation import Chemistry, Solution, Vapor, solve
from .core.electrolyte.water import density, vapor_pressure
from .core.models.contract import VAPOR
from .system import System

Array = NDArray[np.float64]


class VaporOver:
    """At ``T``, K, and ``P``, Pa, of ``gases`` and water; `names` are these together, water last."""

    def __init__(self, gases: Sequence[str], T: float, P: float) -> None:
        self.names, self.T, self.P = (*gases, "water"), T, P
        self._model = System(list(self.names), eos="SRK").phase_model
        alone = np.zeros(len(self.names))
        alone[-1] = 1.0
        boiling = float(vapor_pressure(T))
        of_steam = WATER.mu_at(T) - np.log(boiling / BAR) - self._ln_phi(alone[None], boiling)[0, -1]
        # at this temperature alone
        self.steam = Species("water", WATER.atoms, 0, GAS, of_steam, 0.0, 0.0, ())

    def _ln_phi(self, y: Array, P: float) -> Array:
        n = len(y)
        return self._model.at(np.full(n, self.T), np.full(n, P)).ln_phi(np.maximum(y, 1e-100), VAPOR)

    def pressed(self, chemistry: Chemistry, solutes: Sequence[Species]) -> Chemistry:
        """Potentials of dissolved gases, by their volumes, and of water under this pressure."""
        RT = R * self.T
        volumes = np.array([0.0 if s.dissolving is None else s.dissolving.volume for s in solutes])
        of_water = M_WATER / float(density(self.T)) * (self.P - float(vapor_pressure(self.T))) / RT
        return chemistry._replace(
            mu_solutes=chemistry.mu_solutes + volumes * (self.P - BAR) / RT, mu_water=chemistry.mu_water + of_water
        )

    def boils_away(self, left: float) -> bool:
        """Whether nothing is ``left`` of the water because its vapor pressure is above this."""
        return not left > 1e-3 and self.P < 1.01 * float(vapor_pressure(self.T))

    def solve(
        self, chemistry: Chemistry, totals: Array, may_form: NDArray[np.bool_], others: Sequence[str], feeds: Sequence[Mapping[str, float]]
    ) -> Solution:
        """The solution with its vapor, ``others`` the names of solids and gases."""
        place = [others.index(name) if name != "water" else len(others) - 1 for name in self.names]
        which = np.zeros(len(others), dtype=bool)
        which[place] = True
        start = np.zeros((len(feeds), len(others)))
        for i, feed in enumerate(feeds):
            for name in self.names[:-1]:
                start[i, place[self.names.index(name)]] = feed.get(name, 0.0)
        wet = min(float(vapor_pressure(self.T)) / self.P, 0.5)
        start[:, place[-1]] = start.sum(axis=1) * wet / (1.0 - wet)
        nothing = np.full((len(feeds), len(others)), np.nan)

        def ln_phi_P(shares: Array) -> Array:
            found = np.zeros_like(shares)
            found[:, place] = self._ln_phi(shares[:, place], self.P) + np.log(self.P / BAR)
            return found

        return solve(chemistry, totals, may_form, nothing, Vapor(which, start, ln_phi_P))
