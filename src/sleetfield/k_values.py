"""K-values that are given as numbers: the phases of a feed by Rachford and Rice, without any model."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .arguments import as_numbers, guarded, short
from .composition import mole_fractions
from .core.equilibrium.k_values import split_by_k
from .errors import InputError, UnknownComponentError
from .results.base import Table
from .results.columns import Column
from .specified import value_of
from .text import shown

Array = NDArray[np.float64]


class KValues:
    """Components with K-values, y = K x, for work with a chart's or a book's numbers; the components need not be in the databank.

    Parameters
    ----------
    K : mapping of names to positive numbers

    Raises
    ------
    InputError
        If there is none, or one is not a positive number.

    Examples
    --------
    >>> import sleetfield as sl
    >>> drum = sl.KValues({"propane": 1.8, "n-butane": 0.65, "n-pentane": 0.23})
    >>> found = drum.flash({"propane": 0.3, "n-butane": 0.4, "n-pentane": 0.3})
    >>> found.vapor_fraction, round(drum.bubble_sum([0.3, 0.4, 0.3]), 3)
    (0.0, 0.869)

    """

    @guarded
    def __init__(self, K: Mapping[str, float]) -> None:
        if not K:
            raise InputError("There is no K-value. Give a mapping of names to numbers.")
        self.names = tuple(name.strip() for name in K)
        try:
            self.K = as_numbers(list(K.values()))
        except ValueError:
            raise InputError(f"The K-values are {short(dict(K))}; they are numbers.") from None
        bad = [name for name, value in zip(self.names, self.K, strict=True) if not 0.0 < value < np.inf]
        if bad:
            raise InputError(
                f"The K-value of {bad[0]} is {float(self.K[self.names.index(bad[0])]):g}; it must be a positive number."
            )
        self.K.flags.writeable = False

    def __repr__(self) -> str:
        return f"<KValues {', '.join(f'{n} {v:g}' for n, v in zip(self.names, self.K, strict=True))}>"

    def _find(self, name: str) -> int:
        for i, own in enumerate(self.names):
            if own.lower() == str(name).strip().lower():
                return i
        raise UnknownComponentError(f"{name!r} has no K-value here; there are those of {', '.join(self.names)}.")

    def _fractions(self, z: Any) -> Array:
        found = mole_fractions(z, self.names, self._find, np.full(len(self.names), np.nan), "mole")
        if found.ndim != 1:
            raise InputError("K-values split one feed at a time; call it once for each.")
        return found

    def flash(self, z: Any, *, flow: Any = None) -> KSplit:
        """Vapor and liquid of a feed by mole, with their flows where the feed's is given.

        Raises
        ------
        InputError
            As `System.flash` does of a composition or a flow.
        """
        fractions = self._fractions(z)
        found = split_by_k(fractions[None], self.K[None])
        moles = None if flow is None else value_of(flow, "flow")
        return KSplit(self.names, self.K, fractions, float(found.vapor[0]), found.x[0], found.y[0], moles)

    def bubble_sum(self, z: Any) -> float:
        """Σ z K: 1 at the bubble point, below 1 of a liquid beneath it."""
        return float((self._fractions(z) * self.K).sum())

    def dew_sum(self, z: Any) -> float:
        """Σ z/K: 1 at the dew point, below 1 of a vapor beyond it."""
        return float((self._fractions(z) / self.K).sum())


@dataclass(frozen=True, eq=False, repr=False)
class KSplit(Table):
    """What given K-values make of a feed.

    Attributes
    ----------
    names : tuple of str
    K, z, x, y : (C,)
        K-values, and mole fractions of feed, liquid and vapor; of a single phase the other one's are those that would form first.
    vapor_fraction : float
        By mole.
    flow : float or None
        Of the feed, mol/s.
    """

    names: tuple[str, ...]
    K: Array
    z: Array
    vapor_fraction: float
    x: Array
    y: Array
    flow: float | None

    word = "split by K-values"
    rows = "components"
    named_by = "component"

    def title(self, units: str | None = None) -> str:
        """What the feed becomes."""
        if not 0.0 < self.vapor_fraction < 1.0:
            return f"One phase by the given K-values: all {'vapor' if self.vapor_fraction else 'liquid'}"
        return f"Vapor and liquid by the given K-values: {self.vapor_fraction:.6g} of the moles are vapor"

    def columns(self) -> list[Column]:
        """Feed, liquid, vapor and K-value of each component, and its flows."""
        own = [
            Column("component", list(self.names)),
            Column("K", self.K),
            Column("z", self.z),
            Column("x", self.x, label="x (liquid)"),
            Column("y", self.y, label="y (vapor)"),
        ]
        if self.flow is not None:
            own.append(Column("liquid flow", self.flow * (1.0 - self.vapor_fraction) * self.x, "molar_flow"))
            own.append(Column("vapor flow", self.flow * self.vapor_fraction * self.y, "molar_flow"))
        return own

    def facts(self) -> dict[str, Any]:
        """How much is vapor."""
        return {"vapor_fraction": self.vapor_fraction, "flow": self.flow}

    @property
    def notes(self) -> list[str]:
        """On which side of which point a single phase lies, and the flows of both."""
        bubble, dew = float((self.z * self.K).sum()), float((self.z / self.K).sum())
        if bubble <= 1.0:
            return [f"Σ zK is {bubble:.4g}: at or below the bubble point; y is of the first bubble."]
        if dew <= 1.0:
            return [f"Σ z/K is {dew:.4g}: at or above the dew point; x is of the first drop."]
        if self.flow is None:
            return []
        vapor = shown(self.flow * self.vapor_fraction, "molar_flow", "metric")
        return [f"{vapor} of vapor and {shown(self.flow * (1.0 - self.vapor_fraction), 'molar_flow', 'metric')} of liquid."]
