"""Parameters of a pair of ions that were fitted, beside what they were fitted to."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..text import shown
from .base import Table
from .columns import Column

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes

Array = NDArray[np.float64]

_LOOSE = 0.97
"""Of a correlation from which on two parameters hardly tell apart."""


@dataclass(frozen=True, eq=False, repr=False)
class IonFit(Table):
    """Fitted parameters of a cation and an anion; print it, plot it.

    Attributes
    ----------
    pair : tuple of str
    ions : str
        The model of ions.
    T : float
        K.
    names : tuple of str
        Of the parameters ``(M,)``; ``values``, ``standard_error`` and half widths of 95 % ``interval``s are theirs, ``correlation (M, M)``.
    molality : (N,)
        mol/kg of the salt.
    measured, fitted : (2, N)
        Osmotic and mean activity coefficients; NaN where there is none.
    line, drawn : (K,), (2, K)
        Molalities between these, and the coefficients there.
    over : dict of str to float
        Of each solid that was said to be in equilibrium: how far the fitted solution is supersaturated with it, as a share of the mean activity.
    """

    pair: tuple[str, str]
    ions: str
    T: float
    names: tuple[str, ...]
    values: Array
    standard_error: Array
    interval: Array
    correlation: Array
    molality: Array
    measured: Array
    fitted: Array
    line: Array
    drawn: Array
    over: dict[str, float]

    word = "ion fit"
    rows = "points"
    has_picture = True

    @property
    def parameters(self) -> dict[tuple[str, str], dict[str, float]]:
        """As `Electrolyte` takes them."""
        return {self.pair: dict(zip(self.names, self.values.tolist(), strict=True))}

    @property
    def deviations(self) -> Array:
        """Fitted less measured, over measured ``(2, N)``."""
        return np.asarray(self.fitted / self.measured - 1.0)

    def title(self, units: str | None = None) -> str:
        """Which ions by which model."""
        return f"{' and '.join(self.pair)} by {self.ions} at {shown(self.T, 'temperature', self.unit_set(units))}"

    def in_short(self, units: str | None = None) -> str:
        """The parameters, and how far they are off."""
        told = ", ".join(f"{n} {v:.5g}" for n, v in zip(self.names, self.values, strict=True))
        off = np.abs([*self.deviations[np.isfinite(self.deviations)], *self.over.values()]).max()
        return f"{told}; {100.0 * off:.2g} % off at most."

    def columns(self) -> list[Column]:
        """A row for each molality."""
        pairs = zip(("osmotic_coefficient", "mean_activity_coefficient"), self.measured, self.fitted, strict=True)
        told = [Column("molality", self.molality, "molality")]
        for name, measured, fitted in pairs:
            if np.isfinite(measured).any():
                told += [Column(name, measured), Column(f"{name}, fitted", fitted)]
        return told

    def facts(self) -> dict[str, Any]:
        """The parameters."""
        told = zip(self.names, self.values, self.standard_error, self.interval, strict=True)
        keys = "value", "standard_error", "interval"
        parameters = {name: dict(zip(keys, map(float, numbers), strict=True)) for name, *numbers in told}
        return {"parameters": parameters, **({"supersaturation": self.over} if self.over else {})}

    def sections(self, units: str | None = None) -> list[tuple[str, pd.DataFrame]]:
        """The parameters with their intervals."""
        import pandas as pd

        table = pd.DataFrame(
            {"value": self.values, "standard error": self.standard_error, "± 95 %": self.interval}, index=list(self.names)
        )
        beside = pd.DataFrame({"supersaturation": list(self.over.values())}, index=list(self.over))
        return [("Parameters", table), *([("Solids", beside)] if self.over else [])]

    @property
    def notes(self) -> list[str]:
        """What a careful colleague would point out."""
        close = np.abs(np.triu(self.correlation, 1)).max()
        said = f"Two parameters are correlated by {close:.3f}: other pairs of them are nearly as good." if close > _LOOSE else ""
        wide = [n for n, v, i in zip(self.names, self.values, self.interval, strict=True) if i > abs(v)]
        return [note for note in (said, f"Intervals of {', '.join(wide)} include zero." if wide else "") if note]

    @guarded
    def plot(self, ax: Axes | None = None, *, units: str | None = None) -> Axes:
        """Both coefficients over molality, measured ones as circles."""
        from ..diagrams.ion_fit import draw

        return draw(ax, self.molality, self.measured, self.line, self.drawn, self.title(units))
