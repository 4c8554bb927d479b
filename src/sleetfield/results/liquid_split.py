"""Two liquids in equilibrium."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ..mixture import Mixture
from ..text import shown
from .base import Result
from .state import State

if TYPE_CHECKING:
    import pandas as pd


Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class LiquidSplit(Result):
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

    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """The liquids beside each other: amounts, mole fractions, distribution coefficients."""
        import pandas as pd

        labels = ["first liquid", "second liquid", "third liquid", "fourth liquid", "fifth liquid"]
        rows: dict[str, list[float]] = {"mole fraction": [1.0, *(p.fraction for p in self.state.phases)]}
        for i, name in enumerate(self.system.names):
            rows[f"x {name}"] = [float(self.state.z[i]), *(p.composition[name] for p in self.state.phases)]
        frame = pd.DataFrame.from_dict(rows, orient="index", columns=["feed", *labels[: self.state.n_phases]])
        if self.distribution:
            frame["first / second"] = [self.ratio, *self.distribution.values()]
        return frame

    @property
    def notes(self) -> list[str]:
        """Whether there is one liquid alone, and what the state has to say."""
        one = ["The feed is one liquid."] if self.state.n_phases == 1 else []
        return [*one, *self.state.notes]
