"""Van Laar: A of both orders of a pair."""

from __future__ import annotations

from dataclasses import dataclass

from ..components.component_list import ComponentList
from ..core.models.activity.pair_function import PairFunction
from ..core.models.activity.van_laar import VanLaar
from ..errors import InputError
from .paired_liquid import PairedLiquid
from .parameter import Parameters, Symbol


@dataclass(frozen=True)
class VanLaarRecipe(PairedLiquid, name="van Laar"):
    """Van Laar's equation (1910)."""

    symbols = (Symbol("A", "ln γ at infinite dilution, of the first in the second", low=-8.0, high=12.0),)

    def build(self, who: ComponentList, values: Parameters) -> VanLaar:
        """The equation with its numbers."""
        A = values.pairs("A", who)
        for i in range(len(who)):
            for j in range(i):
                both = A[:, [i, j], [j, i]]
                if not both[1:].any() and (both[0, 0] * both[0, 1] < 0.0 or (both[0] == 0.0).sum() == 1):
                    raise InputError(
                        f"Van Laar's parameters of {who.names[j]} and {who.names[i]} have different signs, or one is zero; both are above or both below zero."
                    )
        return VanLaar(PairFunction(A))
