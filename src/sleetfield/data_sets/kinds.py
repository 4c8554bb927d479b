"""Kinds of measurements, and the quantities that they are of: said once."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


class Quantity(NamedTuple):
    """Something that is measured.

    Attributes
    ----------
    words : str
    dimension : str
        See `sleetfield.units`.
    of_components : bool
        Whether there is a value for each component.
    absolute, relative : float
        What stands for a standard uncertainty that is not known: in SI, and as a share of the value.
    share : bool
        Whether ``relative`` is of a fraction, or of what it lacks to 1 where that is less.
    """

    words: str
    dimension: str
    of_components: bool = False
    absolute: float = 0.0
    relative: float = 0.0
    share: bool = False

    def usual_uncertainty(self, measured: Array) -> Array:
        """What stands for standard uncertainties that are not known, in SI."""
        size = np.abs(np.minimum(measured, 1.0 - measured) if self.share else measured)
        return np.asarray(np.maximum(self.absolute + self.relative * size, _LEAST))

    @property
    def usual(self) -> str:
        """The same in words: ``0.05 K``, ``2 %``."""
        unit = {"temperature": " K", "molar_energy": " J/mol"}.get(self.dimension, "")
        parts = [f"{self.absolute:g}{unit}"] * bool(self.absolute) + [f"{100.0 * self.relative:g} %"] * bool(self.relative)
        return " and ".join(parts)


_LEAST = 1e-12

_FRACTION = ("fraction", True)
QUANTITIES: dict[str, Quantity] = {
    "T": Quantity("temperature", "temperature", absolute=0.05),
    "P": Quantity("pressure", "pressure", relative=0.005),
    "x": Quantity("mole fraction of the liquid", *_FRACTION, absolute=0.002),
    "y": Quantity("mole fraction of the vapor", *_FRACTION, absolute=0.005),
    "x'": Quantity("mole fraction of the first liquid", *_FRACTION, relative=0.02, share=True),
    "x''": Quantity("mole fraction of the second liquid", *_FRACTION, relative=0.02, share=True),
    "gamma_inf": Quantity("activity coefficient at infinite dilution", "fraction", True, relative=0.03),
    "HE": Quantity("excess enthalpy", "molar_energy", absolute=5.0, relative=0.02),
    "Henry": Quantity("Henry's constant", "pressure", True, relative=0.03),
    "density": Quantity("density of the liquid", "density", relative=0.001),
}
"""By the symbol that headings have."""

FRACTIONS = ("x", "y", "x'", "x''")
"""Those of which the components' sum to 1."""


class Kind(NamedTuple):
    """A kind of measurement.

    Attributes
    ----------
    words : str
    needs : tuple of tuples of str
        Quantities; of each group one has to be there.
    says : tuple of str
        Quantities that parameters can be fitted to.
    """

    words: str
    needs: tuple[tuple[str, ...], ...]
    says: tuple[str, ...]


KINDS: dict[str, Kind] = {
    "vapor-liquid": Kind("vapor and liquid in equilibrium", (("T", "P"), ("x", "y")), ("P", "T", "y", "x")),
    "azeotrope": Kind("azeotropes", (("T",), ("P",), ("x",)), ("P", "T", "y")),
    "vapor pressure": Kind("vapor pressures of a pure component", (("T",), ("P",)), ("P",)),
    "liquid-liquid": Kind("two liquids in equilibrium", (("T",), ("x'", "x''")), ("x'", "x''")),
    "solid-liquid": Kind("liquids saturated with a solid", (("T",), ("x",)), ("x", "T")),
    "infinite dilution": Kind("activity coefficients at infinite dilution", (("T",), ("gamma_inf",)), ("gamma_inf",)),
    "excess enthalpy": Kind("excess enthalpies of liquids", (("T",), ("x",), ("HE",)), ("HE",)),
    "Henry's constant": Kind("Henry's constants of a gas in a solvent", (("T",), ("Henry",)), ("Henry",)),
    "density": Kind("densities of liquids", (("T",), ("density",)), ("density",)),
}
"""What data can be of."""

_TELLING = {"gamma_inf": "infinite dilution", "HE": "excess enthalpy", "Henry": "Henry's constant", "density": "density"}


def kind_of(quantities: set[str], components: int, solid: str) -> str:
    """The kind that columns speak of, where none is named."""
    for quantity, kind in _TELLING.items():
        if quantity in quantities:
            return kind
    if quantities & {"x'", "x''"}:
        return "liquid-liquid"
    if solid:
        return "solid-liquid"
    return "vapor pressure" if components == 1 else "vapor-liquid"
