"""Diagrams of three components."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..core.equilibrium.binodal import Branch
from ..mixture import Mixture
from ..text import counted, shown
from .azeotropes import Azeotrope, AzeotropeList
from .base import TableResult
from .columns import Column, frame, records

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes


Array = NDArray[np.float64]

_TIES_SHOWN = 12


@dataclass(frozen=True, eq=False, repr=False)
class LiquidMap(TableResult):
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

    has_picture = True

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

    def in_short(self, units: str | None = None) -> str:
        """How many regions of two and three liquids there are."""
        if not self.branches:
            return "The liquid is one throughout."
        parts = [counted(len(self.branches), "region of two liquids", "regions of two liquids")]
        parts += [counted(len(self.plait_points), "plait point")] if len(self.plait_points) else ["no plait point"]
        parts += [counted(len(self.triangles), "region of three liquids", "regions of three liquids")] if self.triangles else []
        return f"{', '.join(parts)}."

    word = "liquid map"
    rows = "tie_lines"

    def facts(self) -> dict[str, Any]:
        """Where it is, plait points and triangles."""
        return {
            "T": self.T,
            "P": self.P,
            "plait_points": self.plait_points.tolist(),
            "triangles": [t.tolist() for t in self.triangles],
        }

    def columns(self) -> list[Column]:
        """Both liquids of each tie line, and what each component prefers."""
        return self._columns(np.concatenate([b.ties for b in self.branches]) if self.branches else np.zeros((0, 2, 3)))

    def _columns(self, ties: Array) -> list[Column]:
        names = self.system.names
        with np.errstate(all="ignore"):
            distribution = ties[:, 0] / ties[:, 1]
        return [
            Column("first", ties[:, 0], of=names, label="first"),
            Column("second", ties[:, 1], of=names, label="second"),
            Column("distribution", distribution, of=names, label="first / second"),
        ]

    def compared_frame(self) -> pd.DataFrame:
        """Plait points; tie lines of two models are nowhere the same."""
        import pandas as pd

        names = [f"plait point {k + 1}" for k in range(len(self.plait_points))]
        return pd.DataFrame(self.plait_points, index=names, columns=[f"x {n}" for n in self.system.names])

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """A dozen tie lines of each branch."""
        return frame(self._columns(self.tie_lines()), self.unit_set(units))

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

    @guarded
    def plot(self, ax: Axes | None = None, *, units: str | None = None) -> Axes:
        """Draw it as a triangle."""
        from ..diagrams.ternary import draw_liquids

        return draw_liquids(self, ax, self.unit_set(units))


@dataclass(frozen=True, eq=False, repr=False)
class BoilingMap(TableResult):
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

    has_picture = True

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

    def in_short(self, units: str | None = None) -> str:
        """What boils first and last, and the azeotropes."""
        places = [*zip(self.pure_T, self.system.names, strict=True), *((a.T, " + ".join(a.components)) for a in self.azeotropes)]
        (cold, first), (hot, last) = min(places), max(places)
        T = [shown(v, "temperature", self.unit_set(units), 4) for v in (cold, hot)]
        return f"{counted(len(self.azeotropes), 'azeotrope')}; {first} boils first, at {T[0]}, and {last} last, at {T[1]}."

    word = "boiling map"

    def facts(self) -> dict[str, Any]:
        """The pressure, what the pure components and azeotropes are, and the curves."""
        found = AzeotropeList(self.system, "P", np.array([self.P]), self.azeotropes)
        return {
            "P": self.P,
            "pure": [
                {"component": n, "T": T, "node": node} for n, T, node in zip(self.system.names, self.pure_T, self.pure, strict=True)
            ],
            found.rows: records(found.columns()),
            "boundaries": [curve.tolist() for curve in self.boundaries],
            "residue_curves": [curve.tolist() for curve in self.residue_curves],
        }

    def columns(self) -> list[Column]:
        """Each liquid, its bubble temperature and vapor."""
        names = self.system.names
        return [Column("x", self.x, of=names), Column("T", self.T, "temperature"), Column("y", self.y, of=names)]

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """Every point at which residue curves begin, end or turn away."""
        rows = [(x, T, "pure", node) for x, T, node in zip(np.eye(3), self.pure_T, self.pure, strict=True)]
        rows += [(a.x, a.T, "two liquids" if a.heterogeneous else "azeotrope", a.node) for a in self.azeotropes]
        x, T, what, node = zip(*sorted(rows, key=lambda row: row[3]), strict=True)
        columns = [
            Column("x", np.array(x), of=self.system.names),
            Column("T", T, "temperature"),
            Column("what", what),
            Column("node", node),
        ]
        return frame(columns, self.unit_set(units))

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

    @guarded
    def plot(self, ax: Axes | None = None, *, units: str | None = None) -> Axes:
        """Draw it as a triangle."""
        from ..diagrams.ternary import draw_boiling

        return draw_boiling(self, ax, self.unit_set(units))
