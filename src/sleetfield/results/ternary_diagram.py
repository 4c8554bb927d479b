"""Diagrams of three components."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ..core.equilibrium.binodal import Branch
from ..mixture import Mixture
from ..text import heading, shown
from ..units import from_si
from .azeotropes import Azeotrope
from .base import Result

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes


Array = NDArray[np.float64]

_TIES_SHOWN = 12


@dataclass(frozen=True, eq=False)
class LiquidMap(Result):
    """The liquids that three components form at a temperature and pressure.

    Attributes
    ----------
    T, P : float
        K, Pa.
    branches : tuple of Branch
        Tie lines in order ``(M, 2, 3)`` along each binodal curve, with its plait points.
    triangles : tuple of (3, 3) arrays
        Three liquids that coexist.
    """

    system: Mixture
    T: float
    P: float
    branches: tuple[Branch, ...]
    triangles: tuple[Array, ...]

    @property
    def plait_points(self) -> Array:
        """Mole fractions ``(K, 3)`` where both liquids become one."""
        return np.concatenate([b.plaits for b in self.branches]) if self.branches else np.zeros((0, 3))

    def tie_lines(self, count: int = _TIES_SHOWN) -> Array:
        """Some tie lines of each branch, evenly along it ``(M, 2, 3)``."""
        chosen = []
        for b in self.branches:
            middle = b.ties.mean(axis=1)
            along = np.concatenate([[0.0], np.cumsum(np.abs(np.diff(middle, axis=0)).sum(axis=1))])
            chosen.append(b.ties[np.unique(np.searchsorted(along, np.linspace(0.0, along[-1], count)).clip(0, len(along) - 1))])
        return np.concatenate(chosen) if chosen else np.zeros((0, 2, 3))

    def title(self, units: str | None = None) -> str:
        """Of which system, and where."""
        return f"Liquids of {self.system.title} at {shown(self.T, 'temperature', self.unit_set(units))}"

    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """One row for each tie line: both liquids, and what each component prefers."""
        import pandas as pd

        ties = np.concatenate([b.ties for b in self.branches]) if self.branches else np.zeros((0, 2, 3))
        return self._frame(pd.DataFrame, ties)

    def _frame(self, frame: type[pd.DataFrame], ties: Array) -> pd.DataFrame:
        columns = {f"{n}, first liquid": ties[:, 0, i] for i, n in enumerate(self.system.names)}
        columns |= {f"{n}, second liquid": ties[:, 1, i] for i, n in enumerate(self.system.names)}
        with np.errstate(all="ignore"):
            columns |= {f"distribution of {n}": ties[:, 0, i] / ties[:, 1, i] for i, n in enumerate(self.system.names)}
        return frame(columns)

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """A dozen tie lines of each branch."""
        import pandas as pd

        return self._frame(pd.DataFrame, self.tie_lines())

    @property
    def notes(self) -> list[str]:
        """Plait points and triangles."""
        notes = []
        for x in self.plait_points:
            notes.append("Plait point: " + " + ".join(f"{v:.4f} {n}" for v, n in zip(x, self.system.names, strict=True)) + ".")
        for t in self.triangles:
            corners = "; ".join(" ".join(f"{v:.4f}" for v in x) for x in t)
            notes.append(f"Three liquids coexist: {corners} ({', '.join(self.system.names)}).")
        if not self.branches:
            notes.append("The three mix in all proportions: there is one liquid everywhere.")
        return [*notes, *self.system.notes, *self.system.range_notes(np.array([self.T]))]

    def plot(self, ax: Axes | None = None, *, units: str | None = None) -> Axes:
        """Draw it as a triangle."""
        from ..diagrams.ternary import draw_liquids

        return draw_liquids(self, ax, self.unit_set(units))


@dataclass(frozen=True, eq=False)
class BoilingMap(Result):
    """How three components boil at a pressure.

    Attributes
    ----------
    P : float
        Pa.
    x : (N, 3)
        Liquids over the triangle; ``T (N,)`` their bubble temperatures, K, ``y (N, 3)`` their vapors.
    residue_curves, boundaries : tuple of (M, 3) arrays
        From the lowest boiling mixtures to the highest; boundaries are those that pass a saddle.
    azeotropes : tuple of Azeotrope
    pure : tuple of str
        What each pure component is for residue curves: "unstable node", "stable node" or "saddle".
    pure_T : tuple of float
        Their boiling temperatures, K.
    """

    system: Mixture
    P: float
    x: Array
    T: Array
    y: Array
    residue_curves: tuple[Array, ...]
    boundaries: tuple[Array, ...]
    azeotropes: tuple[Azeotrope, ...]
    pure: tuple[str, ...]
    pure_T: tuple[float, ...]

    def title(self, units: str | None = None) -> str:
        """Of which system, and where."""
        return f"Residue curves of {self.system.title} at {shown(self.P, 'pressure', self.unit_set(units))}"

    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """One row for each liquid: its bubble temperature and vapor."""
        import pandas as pd

        unit_set = self.unit_set(units)
        columns = {f"x {n}": self.x[:, i] for i, n in enumerate(self.system.names)}
        columns[heading("T", "temperature", unit_set)] = from_si(self.T, "temperature", unit_set)
        return pd.DataFrame(columns | {f"y {n}": self.y[:, i] for i, n in enumerate(self.system.names)})

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """Every point at which residue curves begin, end or turn away."""
        import pandas as pd

        unit_set = self.unit_set(units)
        rows = []
        for i, node in enumerate(self.pure):
            rows.append((*np.eye(3)[i], self.pure_T[i], "pure", node))
        rows += [(*a.x, a.T, "two liquids" if a.heterogeneous else "azeotrope", a.node) for a in self.azeotropes]
        rows.sort(key=lambda row: row[3])
        frame = pd.DataFrame(rows, columns=[*(f"x {n}" for n in self.system.names), "T", "what", "node"])
        frame["T"] = from_si(frame["T"].to_numpy(), "temperature", unit_set)
        return frame.rename(columns={"T": heading("T", "temperature", unit_set)})

    @property
    def notes(self) -> list[str]:
        """About the system."""
        lacking = int(np.isnan(self.T).sum())
        notes = (
            [f"The boiling points of {lacking} of {len(self.T)} liquids were not found; three liquids may boil there."]
            if lacking
            else []
        )
        return [*notes, *self.system.notes, *self.system.range_notes(self.T)]

    def plot(self, ax: Axes | None = None, *, units: str | None = None) -> Axes:
        """Draw it as a triangle."""
        from ..diagrams.ternary import draw_boiling

        return draw_boiling(self, ax, self.unit_set(units))
