"""What a model says of measured points of every kind, and how that moves with its parameters: one batch for a data set."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ...data_sets import DataSet
from ...mixture import Mixture
from .contract import Predict, Predicted, Shifted, remembering_nothing
from .explicit import density, excess_enthalpy, henry, infinite_dilution
from .liquid_liquid import liquid_liquid
from .solid_liquid import solid_liquid
from .vapor_liquid import BoilingPoints

KINDS: dict[str, Callable[[DataSet], Predict]] = {
    **dict.fromkeys(("vapor-liquid", "azeotrope", "vapor pressure"), BoilingPoints),
    "liquid-liquid": remembering_nothing(liquid_liquid),
    "solid-liquid": remembering_nothing(solid_liquid),
    "infinite dilution": remembering_nothing(infinite_dilution),
    "excess enthalpy": remembering_nothing(excess_enthalpy),
    "Henry's constant": remembering_nothing(henry),
    "density": remembering_nothing(density),
}


def predictor(data: DataSet) -> Predict:
    """What gives every quantity of a set as a system's model has it; the system has the data's components in their order."""
    return KINDS[data.kind](data)


def predict(system: Mixture, data: DataSet, shifts: Sequence[Shifted] = ()) -> list[Predicted]:
    """The same for one system.

    Raises
    ------
    InputError
        If no point has what is needed.
    """
    return predictor(data)(system, shifts)


__all__ = ["KINDS", "Predict", "Predicted", "Shifted", "predict", "predictor"]
