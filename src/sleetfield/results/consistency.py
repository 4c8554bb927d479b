"""Whether measured vapor-liquid equilibria can be true: what tests of thermodynamic consistency found."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..data_sets import DataSet
from ..mixture import Mixture
from .base import TableResult
from .columns import Column

if TYPE_CHECKING:
    from matplotlib.axes import Axes

Array = NDArray[np.float64]


_VERDICTS = {True: "passed", False: "failed", None: "not possible"}


class Verdict(NamedTuple):
    """A test's name, its number, what that may be at most, and in words what it means; the number is NaN where the data don't allow the test."""

    test: str
    number: float
    limit: float
    text: str

    @property
    def passed(self) -> bool | None:
        """Whether the number is within its limit; None where there is none."""
        return None if np.isnan(self.number) else self.number <= self.limit


@dataclass(frozen=True, eq=False, repr=False)
class Consistency(TableResult):
    """Tests of thermodynamic consistency; a test that fails blocks nothing.

    Attributes
    ----------
    data : DataSet
    verdicts : tuple of Verdict
    x, ln_gamma : (N,), (N, 2)
        Liquids, and the activity coefficients that their points imply.
    smooth_x, smooth_ratio : (M,)
        The curve of ln γ₁/γ₂ that areas are of.
    y_off : (N,)
        Measured less calculated y of the point-to-point test, NaN where it was not possible.
    """

    system: Mixture
    data: DataSet
    verdicts: tuple[Verdict, ...]
    x: Array
    ln_gamma: Array
    smooth_x: Array
    smooth_ratio: Array
    y_off: Array

    def in_short(self, units: str | None = None) -> str:
        """Every verdict."""
        return f"{'; '.join(f'{v.test}: {_VERDICTS[v.passed]}' for v in self.verdicts)}."

    word = "consistency"
    rows = "tests"
    named_by = "test"

    def title(self, units: str | None = None) -> str:
        """Of which data."""
        return f"Consistency of {self.data.title()}"

    def columns(self) -> list[Column]:
        """Each test with its number, limit and verdict."""
        return [
            Column("test", [v.test for v in self.verdicts]),
            Column("number", [v.number for v in self.verdicts]),
            Column("limit", [v.limit for v in self.verdicts]),
            Column("verdict", [_VERDICTS[v.passed] for v in self.verdicts]),
        ]

    def facts(self) -> dict[str, Any]:
        """What is behind the numbers, point by point."""
        return {
            "x": self.x.tolist(),
            "ln_gamma": self.ln_gamma.tolist(),
            "y_off": self.y_off.tolist(),
            "words": [v.text for v in self.verdicts],
        }

    @property
    def notes(self) -> list[str]:
        """What each number means."""
        return [f"{v.test}: {v.text}" for v in self.verdicts]

    @guarded
    def plot(self, ax: Axes | None = None, *, figure: str = "area", units: str | None = None) -> Axes:
        """Draw ln γ₁/γ₂ with the areas ("area"), or measured less calculated y ("points").

        Raises
        ------
        InputError
            If there is no such figure.
        """
        from ..diagrams.regression import draw_consistency

        return draw_consistency(ax, self, figure)
