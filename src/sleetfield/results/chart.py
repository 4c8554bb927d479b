"""P-H, T-S and H-S charts of a fluid."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded, short
from ..diagrams.style import A4, AXES, full_title
from ..errors import InputError
from ..mixture import Mixture
from ..text import shown
from ..units import from_si, pretty_unit, unit_of
from .base import TableResult
from .columns import Column
from .later import Later
from .state import State

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes

    from ..diagrams.chart import Axis, Curve

Array = NDArray[np.float64]

Columns = dict[str, Array]
"""States by the names of `QUANTITIES`, each ``(N,)``."""

KINDS = {"PH": ("H", "P"), "TS": ("S", "T"), "HS": ("S", "H")}
"""Charts: what their x and y are."""
LINES = {
    "PH": ("T", "S", "density", "vapor_fraction"),
    "TS": ("P", "H", "density", "vapor_fraction"),
    "HS": ("P", "T", "vapor_fraction"),
}
"""Which quantities charts have lines of."""
QUANTITIES = {
    "T": "temperature",
    "P": "pressure",
    "H": "molar_energy",
    "S": "molar_entropy",
    "density": "density",
    "vapor_fraction": "fraction",
}
"""What is known of every point, with its dimension."""
PER: dict[str, dict[str, str]] = {"mass": {"H": "specific_energy", "S": "specific_entropy"}, "mole": {}}
"""What enthalpies and entropies can be drawn per, with the dimensions that they have then."""
WORDS = {
    "T": "temperature",
    "P": "pressure",
    "H": "enthalpy",
    "S": "entropy",
    "density": "density",
    "vapor_fraction": "share of vapor",
}


_BELOW = 0.1
"""Of the height of an H-S chart, that it has below the critical point."""


class ChartLine(NamedTuple):
    """A line: of constant what (a name of `QUANTITIES`) or what boundary ("bubble", "dew", "liquid-liquid"), at which value, and its states, SI by mole."""

    of: str
    value: float
    states: Columns


class Scale(NamedTuple):
    """How enthalpies and entropies are drawn: their dimensions where they are not molar, what they are divided by, kg/mol or 1, and molar ones that count as zero."""

    dimensions: Mapping[str, str]
    by: float
    H: float
    S: float

    def dimension(self, quantity: str) -> str:
        """Of a quantity as it is drawn."""
        return self.dimensions.get(quantity, QUANTITIES[quantity])

    def drawn(self, quantity: str, values: Any) -> Array:
        """Values, SI by mole, as they are drawn, in SI."""
        return (np.asarray(values) - getattr(self, quantity)) / self.by if quantity in ("H", "S") else np.asarray(values)

    def by_mole(self, quantity: str, drawn: Any) -> Array:
        """The reverse."""
        return np.asarray(drawn) * self.by + getattr(self, quantity) if quantity in ("H", "S") else np.asarray(drawn)


class Mark(NamedTuple):
    """A point of the boundary with a name: K, Pa."""

    name: str
    T: float
    P: float


@dataclass(frozen=True, eq=False, repr=False)
class Chart(TableResult):
    """A chart of a fluid: print it, plot it, save it as a figure or a table of its lines.

    Attributes
    ----------
    z : (C,)
        Mole fractions.
    kind : str
        "PH", "TS" or "HS".
    scale : Scale
        How enthalpies and entropies are drawn.
    T, P : tuple of float
        Its range, K and Pa.
    boundary, lines : tuple of ChartLine
        The boundary of two phases with the shares of vapor between; and lines of constant quantities.
    marks : tuple of Mark
        Critical points.
    zero : str
        At which state enthalpies and entropies are zero, in words; nothing where they are as everywhere.
    later : Later
        What is asked only now and then.

    """

    has_picture = True
    figure_size = A4

    system: Mixture
    z: Array
    kind: str
    scale: Scale
    T: tuple[float, float]
    P: tuple[float, float]
    boundary: tuple[ChartLine, ...]
    lines: tuple[ChartLine, ...]
    marks: tuple[Mark, ...]
    zero: str
    later: Later

    word = "chart"

    def title(self, units: str | None = None) -> str:
        """Which chart of which system."""
        return f"{self.kind[0]}-{self.kind[1]} chart of {self.system.title}"

    def in_short(self, units: str | None = None) -> str:
        """Its range, and its critical point."""
        unit_set = self.unit_set(units)
        T, P = (
            " to ".join(shown(v, dimension, unit_set, 4) for v in ends)
            for ends, dimension in ((self.T, "temperature"), (self.P, "pressure"))
        )
        critical = [f"{shown(m.T, 'temperature', unit_set, 4)} and {shown(m.P, 'pressure', unit_set, 4)}" for m in self.marks]
        where = f"critical at {', '.join(critical)}" if critical else "no critical point"
        return f"From {T} and from {P}; {where}."

    @property
    def every(self) -> tuple[ChartLine, ...]:
        """The boundary and all lines."""
        return self.boundary + self.lines

    def words_of(self, line: ChartLine, units: str | None = None) -> str:
        """What a line is called."""
        if line.of not in QUANTITIES:
            return line.of
        return f"{line.of} = {shown(float(self.scale.drawn(line.of, line.value)), self.scale.dimension(line.of), self.unit_set(units), 6)}"

    def columns(self) -> list[Column]:
        """Every point of every line: which line, and the state."""
        names = [self.words_of(line) for line in self.every]
        lengths = [len(line.states["T"]) for line in self.every]
        states = [
            Column(q, self.scale.drawn(q, np.concatenate([line.states[q] for line in self.every])), self.scale.dimension(q))
            for q in QUANTITIES
        ]
        return [Column("line", list(np.repeat(names, lengths))), *states]

    def facts(self) -> dict[str, Any]:
        """What it is of."""
        mixture = dict(zip(self.system.names, self.z.tolist(), strict=True))
        return {"z": mixture, "kind": self.kind, "zero": self.zero, "T": list(self.T), "P": list(self.P)}

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """Which lines there are."""
        import pandas as pd

        unit_set = self.unit_set(units)
        rows = []
        for of in LINES[self.kind]:
            values = sorted({line.value for line in self.every if line.of == of})
            if values:
                ends = [
                    shown(float(self.scale.drawn(of, v)), self.scale.dimension(of), unit_set, 6) for v in (values[0], values[-1])
                ]
                rows.append({"lines of constant": WORDS[of], "from": ends[0], "to": ends[1], "number": len(values)})
        return pd.DataFrame(rows)

    @property
    def notes(self) -> list[str]:
        """About the system and the range."""
        T = np.array(self.T)
        notes = [*self.system.notes, *self.system.vapor_pressure_notes(T)]
        if self.zero:
            notes.append(f"Enthalpies and entropies count from: {self.zero}.")
        melting = [c.Tm for c in self.system.components if c.Tm is not None]
        if len(self.system) == 1 and melting and melting[0] > self.T[0] * (1.0 + 1e-9):
            freezes = shown(melting[0], "temperature", self.system.units, 4)
            notes.append(f"It freezes at {freezes}: colder states are of the subcooled liquid; solids are not drawn.")
        return notes

    @guarded
    def plot(
        self,
        ax: Axes | None = None,
        *,
        units: str | None = None,
        marks: Mapping[str, Any] | None = None,
        joined: bool = False,
    ) -> Axes:
        """Draw it, of the size of a sheet A4.

        ``marks`` are states to mark by name: `State` objects, temperatures and pressures such as ``{"pump": ("20 degC", "20 bar")}``, or any two quantities,
        ``{"drum": {"P": "5 bar", "vapor_fraction": 0.3}}``; ``joined`` draws a line from each to the next and from the last to the first, as a cycle runs.

        Examples
        --------
        >>> import sleetfield as sl
        >>> propane = sl.System(["propane"], eos="PR", units="metric")
        >>> drawn = propane.chart("PH").plot(marks={"outlet": ("60 degC", "20 bar")})

        """
        from ..diagrams.chart import draw_chart

        unit_set = self.unit_set(units)
        x, y = KINDS[self.kind]
        curves = [self._curve(line, unit_set) for line in self.every]
        key = {of: f"{WORDS[of]} {_bracketed(self.scale.dimension(of), unit_set)}".strip() for of in LINES[self.kind]}
        key |= {"bubble": "saturated liquid", "dew": "saturated vapor"}
        marked = [
            (kind, name, float(self._on(x, state[x], unit_set)), float(self._on(y, state[y], unit_set)))
            for kind, name, state in self._marked(marks)
        ]
        axes = self._axis(x, unit_set), self._axis(y, unit_set)
        return draw_chart(ax, curves, axes, key, marked, joined, full_title(self, units))

    def _on(self, quantity: str, values: Any, units: str) -> Array:
        """Values, SI by mole, in the unit that they are drawn in."""
        return from_si(self.scale.drawn(quantity, values), self.scale.dimension(quantity), units)

    def _curve(self, line: ChartLine, units: str) -> Curve:
        from ..diagrams.chart import Curve

        number = f"{float(self._on(line.of, line.value, units)):.4g}" if line.of in QUANTITIES else ""
        return Curve(line.of, number, *(self._on(q, line.states[q], units) for q in KINDS[self.kind]))

    def _axis(self, quantity: str, units: str) -> Axis:
        """As far as the lines go."""
        from ..diagrams.chart import Axis

        if quantity in ("T", "P"):
            low, high = getattr(self, quantity)
        else:
            values = np.concatenate([line.states[quantity] for line in self.lines or self.boundary])
            low, high = float(np.nanmin(values)), float(np.nanmax(values))
            if self.kind == "HS":
                # of the liquid, whose lines lie upon each other, as much as there is of its boiling
                critical = [state[quantity] for _, _, state in self._marked(None)]
                low = max(low, min(critical, default=low) - _BELOW * (high - low) * (quantity == "H"))
        symbol, name, _ = AXES[quantity]
        first, last = (float(self._on(quantity, v, units)) for v in (low, high))
        return Axis(f"${symbol}$, {name} {_bracketed(self.scale.dimension(quantity), units)}", first, last, quantity == "P")

    def _marked(self, marks: Mapping[str, Any] | None) -> Iterator[tuple[str, str, dict[str, float]]]:
        """Marks: their kind, name and state; critical points before the user's."""
        sides = [line.states for line in self.boundary if line.of in ("bubble", "dew")]
        for mark in self.marks:
            every = {q: np.concatenate([states[q] for states in sides]) for q in QUANTITIES}
            i = int(np.argmin(np.abs(every["T"] / mark.T - 1.0) + np.abs(every["P"] / mark.P - 1.0)))
            yield "critical", mark.name, {q: float(every[q][i]) for q in QUANTITIES}
        for name, given in (marks or {}).items():
            state = state_of(given, f"The mark {name!r}", self.system, self.z, self.later)
            yield "operating", name, {q: float(getattr(state, q)) for q in QUANTITIES}


def state_of(given: Any, words: str, system: Mixture, z: Array, later: Later) -> State:
    """A state that is given as it is, as a temperature and a pressure, or by any two quantities.

    Raises
    ------
    InputError
        If it is none of these.
    """
    if isinstance(given, State):
        return given
    try:
        two = dict(given) if isinstance(given, Mapping) else dict(zip(("T", "P"), given, strict=True))
        known = all(isinstance(name, str) for name in two)
    except (TypeError, ValueError):
        known = False
    if not known:
        raise InputError(
            f"{words} is {short(given)}; it takes a state, a temperature and a pressure, ('20 degC', '5 bar'), or two quantities by name."
        )
    found = later.flash(system, z, **two)
    if not isinstance(found, State):
        raise InputError(f"{words} is {short(given)}, which are several states; it takes one.")
    return found


def _bracketed(dimension: str, units: str) -> str:
    """A unit as it stands behind a name."""
    unit = pretty_unit(unit_of(dimension, units))
    return f"[{unit}]" if unit else ""
