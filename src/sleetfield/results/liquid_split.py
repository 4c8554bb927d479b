"""Two liquids in equilibrium."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..mixture import Mixture
from ..text import shown
from .base import TableResult
from .columns import Column, frame
from .state import State

if TYPE_CHECKING:
    import pandas as pd


Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False, repr=False)
class LiquidSplit(TableResult):
    """The liquids that a feed forms, and how the flash came to them.

    Attributes
    ----------
    state : State
        One liquid or more, lightest first.
    steps : tuple of (method, share of the first liquid, largest difference of ln f)
        Every step of the two-liquid solution.
    """

    system: Mixture
    state: State
    steps: tuple[tuple[str, float, float], ...]

    @property
    def ratio(self) -> float:
        """Moles of the first liquid for one of the second; NaN where there is one liquid."""
        phases = self.state.phases
        return phases[0].fraction / phases[1].fraction if len(phases) > 1 else float("nan")

    @property
    def distribution(self) -> dict[str, float]:
        """Mole fraction in the first liquid over that in the second, by component; empty where there is one liquid."""
        if self.state.n_phases < 2:
            return {}
        first, second = (p.composition for p in self.state.phases[:2])
        return {name: first[name] / second[name] if second[name] > 0.0 else float("nan") for name in first}

    @property
    def history(self) -> pd.DataFrame:
        """One row for each step of the solution: the method, the share of the first liquid, the largest difference of ln f."""
        import pandas as pd

        return pd.DataFrame(self.steps, columns=["method", "share of first liquid", "residual"])

    def title(self, units: str | None = None) -> str:
        """Of which system, and where."""
        unit_set = self.unit_set(units)
        T, P = shown(self.state.T, "temperature", unit_set), shown(self.state.P, "pressure", unit_set)
        return f"Liquids of {self.system.title} at {T}, {P}"

    def in_short(self, units: str | None = None) -> str:
        """How many liquids there are, and who goes where."""
        if not self.distribution:
            return "The feed is one liquid."
        first, second = (p.fraction for p in self.state.phases[:2])
        sides = ", ".join(f"{name} {k:.3g}" for name, k in self.distribution.items())
        return f"{100.0 * first:.4g} mol % of the feed is the first liquid, {100.0 * second:.4g} % the second; shares in the first over the second: {sides}."

    word = "liquids"
    rows = "liquids"

    @guarded
    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """The liquids beside each other: amounts, mole fractions, distribution coefficients."""
        labels = ["first liquid", "second liquid", "third liquid", "fourth liquid", "fifth liquid"]
        table = frame(self.columns(), self.unit_set(units)).set_axis(["feed", *labels[: self.state.n_phases]]).T
        if self.distribution:
            table["first / second"] = [self.ratio, *self.distribution.values()]
        return table

    def columns(self) -> list[Column]:
        """Amount and mole fractions of the feed and of each liquid."""
        x = np.array([self.state.z, *(list(p.composition.values()) for p in self.state.phases)])
        return [
            Column("fraction", [1.0, *(p.fraction for p in self.state.phases)], label="share by mole"),
            Column("x", x, of=self.system.names),
        ]

    def facts(self) -> dict[str, Any]:
        """Where, and what each component prefers."""
        return {"T": self.state.T, "P": self.state.P, "ratio": self.ratio, "distribution": self.distribution}

    @property
    def notes(self) -> list[str]:
        """Whether there is one liquid alone, and what the state has to say."""
        one = ["The feed is one liquid."] if self.state.n_phases == 1 else []
        return [*one, *self.state.notes]
