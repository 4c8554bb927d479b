"""What may come out of fluids and is no fluid itself: the contract of pure solids, hydrates and whatever else crystallizes."""

from __future__ import annotations

from abc import ABC, abstractmethod

from ..arrays import Array
from .contract import PhaseModel

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
