"""Diagrams of two components."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..mixture import Mixture
from ..text import shown
from .azeotropes import Azeotrope, AzeotropeList
from .base import TableResult
from .columns import Column, records
from .excess import Excess

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes


Array = NDArray[np.float64]
Measured = dict[str, Array]
"""Measured points in SI: ``x`` beside ``y``, ``T`` or ``P``."""


class ThreePhaseLine(NamedTuple):
    """Two liquids that boil together: T, K; P, Pa; mole fractions of the first component in both liquids, and in the vapor."""

    T: float
    P: float
    x: tuple[float, float]
    y: float


class LiquidCurves(NamedTuple):
    """Both liquids of a split, mole fractions of the first component, against T, K (at given P) or P, Pa (at given T)."""

    level: Array
    first: Array
    second: Array


@dataclass(frozen=True, eq=False, repr=False)
class BinaryDiagram(TableResult):
    """A diagram of two components, with the table behind it.

    Attributes
    ----------
    kind : str
        "Txy", "Pxy", "xy", "pressures", "gamma", "Gmix" or "excess".
    given, value : str, float
        "T" or "P", and at which, in SI.
    x, y : (N,)
        Mole fractions of the first component in the liquid and in its vapor.
    T, P : (N,)
        Along the boiling curve.
    gamma, phi, K : (N, 2)
        Activity coefficients, fugacity coefficients of the vapor, and y/x or its limit where a component is absent.
    branch : (N,)
        Which connected part of the boiling curve a point belongs to: beyond critical points nothing boils.
    three_phase : tuple of ThreePhaseLine
    azeotropes : tuple of Azeotrope
    liquids : tuple of LiquidCurves
        Liquid-liquid splits below the boiling curve.
    excess : Excess, optional
        At given T, for the diagrams of the liquid alone.
    measured : dict
        Measured points drawn over.

    """

    has_picture = True

    system: Mixture
    kind: str
    given: str
    value: float
    x: Array
    T: Array
    P: Array
    y: Array
    gamma: Array
    phi: Array
    K: Array
    branch: NDArray[np.intp]
    three_phase: tuple[ThreePhaseLine, ...]
    azeotropes: tuple[Azeotrope, ...]
    liquids: tuple[LiquidCurves, ...]
    excess: Excess | None
    measured: Measured

    def title(self, units: str | None = None) -> str:
        """Which diagram, of which system, at which condition."""
        dimension = "temperature" if self.given == "T" else "pressure"
        return f"{_NAMES[self.kind]} of {self.system.title} at {shown(self.value, dimension, self.unit_set(units))}"

    def in_short(self, units: str | None = None) -> str:
        """Azeotropes and two liquids that boil together."""
        found = [f"Azeotrope {a}." for a in self.azeotropes]
        found += [
            f"Two liquids, {100.0 * min(line.x):.3g} and {100.0 * max(line.x):.3g} mol % {self.system.names[0]}, boil together at "
            f"{shown(line.T, 'temperature', self.unit_set(units), 5)} and {shown(line.P, 'pressure', self.unit_set(units), 5)}."
            for line in self.three_phase
        ]
        usual = self.kind in ("Txy", "Pxy", "xy", "pressures")
        return " ".join(found) or ("No azeotrope, and one liquid throughout." if usual and not self.liquids else "")

    @property
    def word(self) -> str:
        """Which diagram."""
        return f"{self.kind} diagram"

    rows = "curve"

    def columns(self) -> list[Column]:
        """T, P, x, y, γ, φ, K of each point; or excess properties."""
        if self.excess is not None:
            return self.excess.columns()
        names = self.system.names
        return [
            Column("T", self.T, "temperature"),
            Column("P", self.P, "pressure"),
            Column("x", self.x[:, None], of=names[:1]),
            Column("y", self.y[:, None], of=names[:1]),
            Column("gamma", self.gamma, of=names),
            Column("phi", self.phi, of=names, label="phi vapor"),
            Column("K", self.K, of=names),
            Column("branch", self.branch),
        ]

    def facts(self) -> dict[str, Any]:
        """The condition, and what was found along the curve."""
        found = AzeotropeList(self.system, self.given, np.array([self.value]), self.azeotropes)
        return {
            self.given: self.value,
            "three_phase": [line._asdict() for line in self.three_phase],
            found.rows: records(found.columns()),
        }

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """Some twenty rows of it, without what the title says and a phase's own fugacity coefficients."""
        frame = self.to_frame(units)
        said = "branch", "phi vapor ", f"{self.given} ["
        frame = frame[[c for c in frame.columns if not c.startswith(said)]]
        step = max(1, len(frame) // 20)
        rows = sorted({*range(0, len(frame), step), len(frame) - 1})
        return frame.iloc[rows].reset_index(drop=True)

    def compared_frame(self) -> pd.DataFrame:
        """T, P, y and γ at twenty-one compositions, where the boiling curve has one point for each; azeotropes and three-phase lines beside."""
        import pandas as pd

        first = self.system.names[0]
        parts = [AzeotropeList(self.system, self.given, np.array([self.value]), self.azeotropes).compared_frame()]
        for line in self.three_phase:
            parts.append(pd.DataFrame([line.T, line.P, line.y], ["T [K]", "P [Pa]", f"y {first}"], ["two liquids and vapor"]).T)
        if self.excess is None and (np.diff(self.x) > 0.0).all():
            at = np.linspace(0.0, 1.0, 21)
            values = {"T [K]": self.T, "P [Pa]": self.P, f"y {first}": self.y}
            values |= {f"gamma {name}": self.gamma[:, i] for i, name in enumerate(self.system.names)}
            grid = pd.DataFrame({name: np.interp(at, self.x, v) for name, v in values.items()}, [f"x {x:.2f}" for x in at])
            # between two liquids there is no activity coefficient of the whole
            split = (
                np.any([(at > min(line.x)) & (at < max(line.x)) for line in self.three_phase], axis=0)
                if self.three_phase
                else at > 1.0
            )
            grid.loc[split, [name for name in values if name.startswith("gamma")]] = np.nan
            parts.append(grid)
        return pd.concat(parts)

    @property
    def critical_points(self) -> NDArray[np.intp]:
        """Rows of the points at which liquid and vapor become one, the critical points of mixtures."""
        return np.flatnonzero((self.x == self.y) & (self.x > 0.0) & (self.x < 1.0))

    @property
    def open_ends(self) -> NDArray[np.intp]:
        """Rows at which the boiling curve is left, though it does not end there: at very low temperature or high pressure."""
        if self.excess is not None:
            return np.zeros(0, dtype=np.intp)
        change = np.flatnonzero(np.diff(self.branch))
        ends = np.concatenate([[0], change, change + 1, [len(self.x) - 1]])
        inside = (self.x[ends] > 0.0) & (self.x[ends] < 1.0)
        return np.setdiff1d(ends[inside], self.critical_points)

    @property
    def notes(self) -> list[str]:
        """Azeotropes, splits, critical points, and what the system has to say."""
        units, (first, _) = self.system.units, self.system.names
        notes = [f"Azeotrope: {a}." for a in self.azeotropes]
        for line in self.three_phase:
            T, P = shown(line.T, "temperature", units, 5), shown(line.P, "pressure", units, 5)
            notes.append(
                f"Two liquids boil together at {T}, {P}: x of {first} is {line.x[0]:.4g} and {line.x[1]:.4g}, in the vapor {line.y:.4g}."
            )
        for k in self.critical_points:
            T, P = shown(self.T[k], "temperature", units, 5), shown(self.P[k], "pressure", units, 5)
            notes.append(f"The boiling curve ends at a critical point: x of {first} is {self.x[k]:.4g}, {T}, {P}.")
        for k in self.open_ends:
            T, P = shown(self.T[k], "temperature", units, 5), shown(self.P[k], "pressure", units, 5)
            notes.append(
                f"The boiling curve is not followed beyond {T}, {P}, where x of {first} is {self.x[k]:.4g}, y {self.y[k]:.4g}."
            )
        if self.liquids and not self.three_phase:
            notes.append("The liquid splits in two in a part of this diagram.")
        if self.kind in ("Txy", "Pxy", "xy") and self._heavier_first():
            notes.append(f"{first} is the less volatile of the two; name the other first to see the curves the other way round.")
        return [*notes, *self.system.notes, *self.system.range_notes(self.T)]

    def _heavier_first(self) -> bool:
        ends = self.T if self.given == "P" else -self.P
        return bool(ends[-1] > ends[0])

    @guarded
    def plot(self, ax: Axes | None = None, *, units: str | None = None) -> Axes:
        """Draw it."""
        from ..diagrams.binary import draw_binary

        return draw_binary(self, ax, self.unit_set(units))


_NAMES = {
    "Txy": "T-x-y diagram",
    "Pxy": "P-x-y diagram",
    "xy": "x-y diagram",
    "pressures": "Partial pressures",
    "gamma": "Activity coefficients",
    "Gmix": "Gibbs energy of mixing",
    "excess": "Excess properties",
}
