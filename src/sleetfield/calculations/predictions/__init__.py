"""What a model says of measured points of every kind, and how that moves with its parameters: one batch for a data set."""

from __future__ import annotations

from collections.abc import Sequence

from ...data_sets import DataSet
from ...mixture import Mixture
from .contract import Predict, Predicted, Shifted
from .explicit import density, excess_enthalpy, henry, infinite_dilution
from .liquid_liquid import liquid_liquid
from .solid_liquid import solid_liquid
from .vapor_liquid import vapor_liquid

KINDS: dict[str, Predict] = {
    "vapor-liquid": vapor_liquid,
    "azeotrope": vapor_liquid,
    "vapor pressure": vapor_liquid,
    "liquid-liquid": liquid_liquid,
    "solid-liquid": solid_liquid,
    "infinite dilution": infinite_dilution,
    "excess enthalpy": excess_enthalpy,
    "Henry's constant": henry,
    "density": density,
}


def predict(system: Mixture, data: DataSet, shifts: Sequence[Shifted] = ()) -> list[Predicted]:
    """Every quantity of a set as the system's model has it; the system has the data's components in their order.

    Raises
    ------
    InputError
        If no point has what is needed.
    """
    return KINDS[data.kind](system, data, shifts)


__all__ = ["KINDS", "Predict", "Predicted", "Shifted", "predict"]
