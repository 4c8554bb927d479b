"""What may come out of fluids and is no fluid itself: the contract of pure solids, hydrates and whatever else crystallizes."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence

import numpy as np

from ..arrays import Array
from .contract import STABLE, Kind, PhaseModel

COMPRESSED = 1.3
"""To how many times its melting point pressure may raise that of a solid."""
_HIGHEST = 600.0
"""K: where nothing else is known of a crystal."""


class Crystal(ABC):
    """Something that forms where fluids hold more than it needs.

    It knows from the fugacities of the fluids at equilibrium whether it does; what amounts of it there are then is the matter of a flash.
    """

    @property
    def highest_T(self) -> float:
        """K: beyond it nothing of it is looked for."""
        return _HIGHEST

    @abstractmethod
    def supersaturation(self, fluid: PhaseModel, T: Array, P: Array, ln_f: Array) -> Array:
        """Logarithm ``(N,)`` of how many times over it is saturated at ``T``, ``P (N,)`` and the fluids' ``ln_f (N, C)``: positive where it forms.

        ``fluid`` is the model of the fluids, whose pure liquids its own fugacity may rest on.
        """

    @abstractmethod
    def composition(self, T: Array, ln_f: Array) -> Array:
        """Mole fractions ``(N, C)`` of the crystal beside such fluids."""


def supersaturations_at(fluid: PhaseModel, crystals: Sequence[Crystal], T: Array, P: Array, ln_f: Array) -> Array:
    """Of each crystal ``(N, crystals)`` where the fluids' fugacities are ``ln_f (N, C)``."""
    return np.stack([c.supersaturation(fluid, T, P, ln_f) for c in crystals], axis=1)


def ln_f_alone(fluid: PhaseModel, component: int, T: Array, P: Array, kind: Kind = STABLE) -> Array:
    """Ln(f/Pa) ``(N,)`` of a component as a pure fluid."""
    return np.asarray(fluid.select([component]).at(T, P).ln_phi(np.ones((len(T), 1)), kind)[:, 0] + np.log(P))
