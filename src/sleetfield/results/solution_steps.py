"""A solution of salts and gases in water in several steps: with more and more of something, or at several temperatures."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..errors import InputError
from ..text import first_few, heading, shown
from ..units import from_si
from .base import Table
from .columns import Column
from .speciation import SHOWN_PRESSURE, Speciation, together

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False, repr=False)
class Steps(Table):
    """A solution in several steps: print it, plot it."""

    has_picture = True

    steps: tuple[Speciation, ...]

    @property
    def pH(self) -> Array:
        """At each step ``(N,)``."""
        return np.array([step.pH for step in self.steps])

    def molality(self, species: str) -> Array:
        """Of a solute at each step, mol/kg ``(N,)``.

        Raises
        ------
        InputError
            If it is none.
        """
        names = self.steps[0].names
        if species not in names:
            raise InputError(f"There is no {species!r} in the solution. It has {', '.join(names)}.")
        return np.array([step.molality[names.index(species)] for step in self.steps])

    @property
    def precipitated(self) -> tuple[str, ...]:
        """Every solid that there is at some step."""
        return tuple(dict.fromkeys(name for step in self.steps for name in step.solids))

    def _axis(self) -> Column:
        raise NotImplementedError

    def _told(self, over: str) -> str:
        made = f"; {first_few(self.precipitated)} precipitates" if self.precipitated else ""
        return f"pH {self.pH[0]:.2f} to {self.pH[-1]:.2f} {over}{made}."

    def columns(self) -> list[Column]:
        """pH, solids and molalities at each step."""
        gases = [n for n in self.steps[0].pressures if max(s.pressures.get(n, 0.0) for s in self.steps) > SHOWN_PRESSURE]
        vapors, liquids = (list(dict.fromkeys(n for step in self.steps for n in getattr(step, w))) for w in ("vapor", "liquid"))
        return [
            self._axis(),
            Column("pH", self.pH),
            Column("ionic_strength", [s.ionic_strength for s in self.steps], "molality"),
            *(Column(f"{n} [mol]", [s.solids.get(n, 0.0) for s in self.steps]) for n in self.precipitated),
            *(Column(f"{n} in vapor [mol]", [s.vapor.get(n, 0.0) for s in self.steps]) for n in vapors),
            *(Column(f"{n} in liquid beside [mol]", [s.liquid.get(n, 0.0) for s in self.steps]) for n in liquids),
            *(
                Column(f"{self.steps[0].pressures_word} of {n}", [s.pressures.get(n, 0.0) for s in self.steps], "pressure")
                for n in gases
            ),
            Column("molality", np.array([s.molality for s in self.steps]), "molality", of=self.steps[0].names),
        ]

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """pH, ionic strength and solids, a dozen rows."""
        frame = self.to_frame(units)
        kept = [c for c in frame.columns if not str(c).startswith("molality")]
        return frame[kept].iloc[:: max(1, len(frame) // 12)].reset_index(drop=True)

    @property
    def notes(self) -> list[str]:
        """Of every step, each once."""
        return together(remark for step in self.steps for remark in step.remarks)

    def _label(self, units: str | None) -> str:
        raise NotImplementedError

    def _pressures(self, gas: str, units: str | None) -> Array:
        """Partial pressures of a gas at each step ``(N,)``, as they are shown; none of what only just is there."""
        pressures = np.array([step.pressures.get(gas, 0.0) for step in self.steps])
        return np.asarray(from_si(np.where(pressures > SHOWN_PRESSURE, pressures, 0.0), "pressure", self.unit_set(units)))

    @guarded
    def plot(self, ax: Axes | None = None, *, figure: str = "pH", units: str | None = None) -> Axes:
        """pH at each step; with ``figure="species"`` the molalities that matter, or with ``"gases"`` those of gases, on a logarithmic axis; with ``figure="solids"`` what has precipitated.

        Raises
        ------
        InputError
            If there is no such figure.
        """
        from ..diagrams.titration import draw_decades, draw_pH, draw_solids

        at = self.to_frame(units).iloc[:, 0].to_numpy(dtype=float)
        label, title = self._label(units), self.title(units)
        if figure == "pH":
            return draw_pH(ax, label, at, self.pH, title)
        if figure == "solids":
            amounts = {name: np.array([step.solids.get(name, 0.0) for step in self.steps]) for name in self.precipitated}
            return draw_solids(ax, label, at, amounts, title)
        if figure == "gases":
            curves = {name: self._pressures(name, units) for name in self.steps[0].pressures}
            there = {name: P for name, P in curves.items() if P.max() > 0.0}
            return draw_decades(
                ax, label, at, there, title, heading(self.steps[0].pressures_word, "pressure", self.unit_set(units))
            )
        if figure != "species":
            raise InputError(f"There is no figure {figure!r} of a solution. Figures are pH, species, gases, solids.")
        names = self.steps[0].names
        curves = {name: self.molality(name) for name in names if self.molality(name).max() > 1e-6 and name not in ("H+", "OH-")}
        return draw_decades(ax, label, at, curves, title)


@dataclass(frozen=True, eq=False, repr=False)
class Titration(Steps):
    """A solution to which something is added bit by bit.

    Attributes
    ----------
    steps : tuple of Speciation
    added : str
        What.
    amounts : (N,)
        mol of it.
    """

    added: str
    amounts: Array

    word = "titration"

    def title(self, units: str | None = None) -> str:
        """What to what."""
        first = self.steps[0]
        before = {name: amount for name, amount in first.feed.items() if name != self.added}
        parts = " + ".join(f"{amount:.4g} {name}" for name, amount in before.items())
        return f"{self.added} to {parts or 'water'}, mol in 1 kg of water at {first.conditions(units)} ({first.ions})"

    def in_short(self, units: str | None = None) -> str:
        """From which pH to which."""
        return self._told(f"with {self.amounts[0]:.4g} to {self.amounts[-1]:.4g} mol of {self.added}")

    def _axis(self) -> Column:
        return Column(f"{self.added} [mol]", self.amounts)

    def _label(self, units: str | None) -> str:
        return f"{self.added} added [mol for 1 kg of water]"


@dataclass(frozen=True, eq=False, repr=False)
class Warming(Steps):
    """A solution at several temperatures.

    Attributes
    ----------
    steps : tuple of Speciation
    """

    word = "warming"

    @property
    def T(self) -> Array:
        """K ``(N,)``."""
        return np.array([step.T for step in self.steps])

    def title(self, units: str | None = None) -> str:
        """What is in the water."""
        first = self.steps[0]
        parts = " + ".join(f"{amount:.4g} {name}" for name, amount in first.feed.items())
        at = "" if first.P is None else f" at {shown(first.P, 'pressure', self.unit_set(units))}"
        return f"{parts or 'nothing'}, mol in 1 kg of water{at}, over temperature ({first.ions})"

    def in_short(self, units: str | None = None) -> str:
        """From which pH to which."""
        low, high = (shown(T, "temperature", self.unit_set(units)) for T in (self.T[0], self.T[-1]))
        return self._told(f"from {low} to {high}")

    def _axis(self) -> Column:
        return Column("T", self.T, "temperature")

    def _label(self, units: str | None) -> str:
        from ..diagrams.style import axis_label

        return axis_label("T", self.unit_set(units))
