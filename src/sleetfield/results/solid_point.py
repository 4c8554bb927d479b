"""Where a solid begins to form: one point, or a line of them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..errors import InputError
from ..mixture import Mixture
from ..specified import marked_states, value_of
from ..text import Grid, capital, shown
from .base import Result, TableResult
from .columns import Column

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes

    from .envelope import Envelope

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False, repr=False)
class SolidPoint(Result):
    """The temperature or pressure at which the first solid forms.

    Attributes
    ----------
    given : str
        Which of "T" and "P" was given.
    T, P : float
        K, Pa.
    z : (C,)
        Mole fractions of the feed.
    solid : str
        What forms: "solid water", "hydrate II".
    x : (C,)
        Mole fractions of the solid.
    beside : str
        The fluids there, in words.
    occupancy : dict of dict
        Of a hydrate: which share of its small and large cages each guest fills; empty for a pure solid.
    remarks : tuple of str
        About the solids that were looked for.
    """

    system: Mixture
    given: str
    T: float
    P: float
    z: Array
    solid: str
    x: Array
    beside: str
    occupancy: Mapping[str, Mapping[str, float]]
    remarks: tuple[str, ...]

    word = "solid point"

    @property
    def composition(self) -> dict[str, float]:
        """Mole fractions of the solid by component."""
        return dict(zip(self.system.names, self.x.tolist(), strict=True))

    @property
    def hydration_number(self) -> float:
        """Molecules of water for each guest; NaN where the solid is no hydrate."""
        if not self.occupancy:
            return float("nan")
        water = self.composition["water"]
        return water / (1.0 - water)

    def title(self, units: str | None = None) -> str:
        """Of which system and where."""
        dimension = "temperature" if self.given == "T" else "pressure"
        return f"First solid of {self.system.title} at {shown(getattr(self, self.given), dimension, self.unit_set(units))}"

    def in_short(self, units: str | None = None) -> str:
        """What forms, where and beside what."""
        T, P = (shown(v, d, self.unit_set(units), 5) for v, d in ((self.T, "temperature"), (self.P, "pressure")))
        where = f"below {T} at {P}" if self.given == "P" else f"above {P} at {T}"
        words = f"{capital(self.solid)} forms {where}, beside {self.beside}"
        return f"{words}; {self.hydration_number:.3g} molecules of water for each guest." if self.occupancy else f"{words}."

    @property
    def notes(self) -> list[str]:
        """What a careful colleague would point out."""
        return [*self.system.notes, *self.remarks, *self.system.range_notes(np.array([self.T]))]

    @guarded
    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """The condition, the feed and the solid as rows."""
        return self.printed(units).frame()

    def printed(self, units: str | None = None) -> Grid:
        """The same without pandas."""
        own = [
            Column("T", [self.T, self.T], "temperature"),
            Column("P", [self.P, self.P], "pressure"),
            Column("x", np.stack([self.z, self.x]), of=self.system.names),
        ]
        headed = {k: v for column in own for k, v in column.headed(self.unit_set(units)).items()}
        return Grid(["feed", self.solid], [[float(v) for v in row] for row in headed.values()], list(headed))

    def sections(self, units: str | None = None) -> list[tuple[str, pd.DataFrame]]:
        """The cages of a hydrate."""
        import pandas as pd

        return [("Shares of the cages that guests fill", pd.DataFrame(self.occupancy).T)] if self.occupancy else []

    def to_dict(self) -> dict[str, Any]:
        """Everything in SI, as plain values."""
        return {
            "result": self.word, "system": self.system.outline(), "T": self.T, "P": self.P, "solid": self.solid, "beside": self.beside,
            "x": self.composition, "occupancy": {k: dict(v) for k, v in self.occupancy.items()}, "notes": self.notes,
        }  # fmt: skip


@dataclass(frozen=True, eq=False, repr=False)
class SolidLine(TableResult):
    """Where the first solid forms, at many temperatures or pressures, or from many feeds; ``line[i]`` is one `SolidPoint`. NaN where none forms.

    Attributes
    ----------
    T, P : (N,)
    z, x : (N, C)
        Feeds, and the solids that form.
    solids, beside : tuple of str
    occupancy : (N, cages, C)
        Of hydrates; NaN for pure solids.
    cages : tuple of str
        Kinds of cages.
    remarks : tuple of str
    """

    has_picture = True

    system: Mixture
    given: str
    T: Array
    P: Array
    z: Array
    solids: tuple[str, ...]
    x: Array
    beside: tuple[str, ...]
    occupancy: Array
    cages: tuple[str, ...]
    remarks: tuple[str, ...]

    word = "solid line"
    rows = "points"

    def __len__(self) -> int:
        return len(self.T)

    def __iter__(self) -> Iterator[SolidPoint]:
        return (self[i] for i in range(len(self)))

    def __getitem__(self, index: int) -> SolidPoint:
        i = range(len(self))[index]
        filled = {
            cage: {name: float(share) for name, share in zip(self.system.names, row, strict=True) if share > 0.0}
            for cage, row in zip(self.cages, self.occupancy[i], strict=True)
            if np.isfinite(row).all()
        }
        return SolidPoint(
            self.system, self.given, float(self.T[i]), float(self.P[i]), self.z[i], self.solids[i], self.x[i], self.beside[i], filled, self.remarks
        )  # fmt: skip

    @property
    def _of_hydrates(self) -> bool:
        return bool(np.isfinite(self.occupancy).any())

    @property
    def hydration_number(self) -> Array:
        """Molecules of water for each guest ``(N,)``; NaN where the solid is no hydrate."""
        water = self.x[:, self.system.names.index("water")] if self._of_hydrates else np.full(len(self), np.nan)
        return np.asarray(water / (1.0 - water))

    @guarded
    def distance(self, T: Any, P: Any) -> tuple[float, float]:
        """How far a state is from a line of one feed: K above the line's temperature at its pressure, and Pa of the line's pressure above its own at its temperature.

        Both are positive where no solid forms; NaN where the line does not come there.

        Parameters
        ----------
        T, P
            One state, numbers in SI or text with units.

        Raises
        ------
        InputError
            If the line is of several feeds.

        Examples
        --------
        >>> import sleetfield as sl
        >>> wet_gas = sl.System(["methane", "propane", "water"], eos="SRK")
        >>> line = wet_gas.hydrate([0.85, 0.05, 0.10], P=[10e5, 20e5, 30e5, 40e5])
        >>> kelvin, pascal = line.distance("20 degC", "25 bar")
        >>> kelvin > 5.0
        True

        """
        if np.ptp(self.z, axis=0).max() > 0.0:
            raise InputError(
                "A distance is from the line of one feed, and this one is of several. Calculate the line for one feed."
            )
        at_T, at_P = value_of(T, "T"), value_of(P, "P")
        there = np.flatnonzero(np.isfinite(self.T + self.P))
        own_T, ln_P = self.T[there], np.log(self.P[there])

        def read(at: float, along: Array, values: Array) -> float:
            order = np.argsort(along)
            return float(np.interp(at, along[order], values[order], left=np.nan, right=np.nan)) if len(order) else float("nan")

        return at_T - read(float(np.log(at_P)), ln_P, own_T), float(np.exp(read(at_T, own_T, ln_P))) - at_P

    def title(self, units: str | None = None) -> str:
        """How many points of what."""
        return f"First solid of {self.system.title}, {len(self)} points"

    def in_short(self, units: str | None = None) -> str:
        """Which solids form, over which temperatures and pressures."""
        words = []
        for solid in dict.fromkeys(s for s in self.solids if s):
            rows = [i for i, s in enumerate(self.solids) if s == solid]
            spans = []
            for values, dimension in ((self.T, "temperature"), (self.P, "pressure")):
                low, high = (shown(v, dimension, self.unit_set(units), 4) for v in (values[rows].min(), values[rows].max()))
                spans.append(low if low == high else f"{low} to {high}")
            words.append(f"{capital(solid)} forms first at {' and '.join(spans)}.")
        return " ".join(words)

    def columns(self) -> list[Column]:
        """T, P, what forms, beside what, and its composition."""
        columns = [
            Column("T", self.T, "temperature"),
            Column("P", self.P, "pressure"),
            Column("solid", list(self.solids)),
            Column("beside", list(self.beside)),
        ]
        if self._of_hydrates:
            columns.append(Column("hydration_number", self.hydration_number, label="water for each guest"))
        return [*columns, Column("x", self.x, of=self.system.names, label="x solid")]

    def facts(self) -> dict[str, Any]:
        """The feeds."""
        return {"z": [dict(zip(self.system.names, row, strict=True)) for row in self.z.tolist()]}

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """Without the compositions."""
        frame = self.to_frame(units)
        return frame[[c for c in frame.columns if not c.startswith("x solid")]]

    @property
    def notes(self) -> list[str]:
        """What holds for all points, and where nothing forms."""
        notes = [*self.system.notes, *self.remarks, *self.system.range_notes(self.T)]
        if missing := int(np.isnan(self.T + self.P).sum()):
            notes.append(f"At {missing} of {len(self)} points no solid forms; their numbers are left out.")
        return notes

    @guarded
    def plot(
        self,
        ax: Axes | None = None,
        *,
        units: str | None = None,
        log: bool = False,
        marks: Mapping[str, tuple[Any, Any]] | None = None,
        beside: Envelope | None = None,
    ) -> Axes:
        """Draw pressure against temperature, or the temperature against the share of the first component where feeds differ.

        Parameters
        ----------
        ax : optional
            Axes that have something already, such as those of `Envelope.plot`.
        units : {"SI", "metric", "US"}, optional
            Those of the system where it is left out.
        log : bool
            Logarithmic pressures.
        marks : dict of name to (T, P), optional
            Operating points.
        beside : Envelope, optional
            The feed's, which is drawn under the line.

        Examples
        --------
        >>> import sleetfield as sl
        >>> wet_gas = sl.System(["methane", "propane", "water"], eos="SRK", units="metric")
        >>> wet_gas.hydrate([0.85, 0.05, 0.10], P=[10e5, 20e5, 40e5]).plot().get_xlabel()
        '$T$, temperature [°C]'

        """
        from ..diagrams.solid_line import draw_solid_line

        unit_set = self.unit_set(units)
        under = ax if beside is None else beside.plot(ax, units=unit_set, log=log)
        return draw_solid_line(self, under, unit_set, log, marked_states(marks))
