"""Fitted parameters, how sure they are, and how well they follow what was measured."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..data_sets import DataSet
from ..errors import InputError
from ..mixture import Mixture
from ..pairs import PairRecord, store_pairs
from ..text import shown
from .base import TableResult
from .columns import Column, frame, records
from .later import Later

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes

Array = NDArray[np.float64]

FIGURES = ("data", "residuals")
_STRAY = 3.0
_TIED = 0.99
_UNSURE = 1.0
"""A standard error over this share of a value leaves it undetermined."""


class FittedQuantity(NamedTuple):
    """One measured quantity of a data set: which points, measured and fitted values ``(M,)``, standard uncertainties, and scaled residuals."""

    source: str
    quantity: str
    points: NDArray[np.intp]
    measured: Array
    uncertainty: Array
    value: Array
    scaled: Array

    def columns(self) -> list[Column]:
        """Every measured value beside the fitted."""
        return [
            Column("set", [self.source] * len(self.points)),
            Column("point", self.points),
            Column("quantity", [self.quantity] * len(self.points)),
            Column("measured", self.measured),
            Column("fitted", self.value),
            Column("difference", self.measured - self.value),
            Column("scaled", self.scaled),
        ]


@dataclass(frozen=True, eq=False)
class Regression(TableResult):
    """Parameters fitted to measurements; ``system`` has them.

    Attributes
    ----------
    names : tuple of str
    values, standard_error, interval : (K,)
        Fitted values, standard errors, half widths of the 95 % confidence intervals.
    correlation : (K, K)
    start : (K,)
        Where the fit began.
    at_bound : tuple of bool
    quantities : tuple of FittedQuantity
    standard_deviation : float
        Of the residuals over their uncertainties: near 1 where model and uncertainties are right.
    evaluations : int
        Batches of points that were calculated.
    loss : str
    data : tuple of DataSet
    assumed : tuple of str
        Uncertainties that the data did not have.
    later : Later
        What is asked only now and then.
    """

    system: Mixture
    names: tuple[str, ...]
    values: Array
    standard_error: Array
    interval: Array
    correlation: Array
    start: Array
    at_bound: tuple[bool, ...]
    quantities: tuple[FittedQuantity, ...]
    standard_deviation: float
    evaluations: int
    loss: str
    data: tuple[DataSet, ...]
    assumed: tuple[str, ...]
    later: Later

    def title(self, units: str | None = None) -> str:
        """Of which model, to how many measured values."""
        count = sum(len(q.points) for q in self.quantities)
        return f"Parameters of {self.system.title} fitted to {count} measured values"

    word = "regression"
    rows = "parameters"
    named_by = "parameter"

    def columns(self) -> list[Column]:
        """Each parameter's value, standard error, 95 % confidence interval, and start."""
        return [
            Column("parameter", list(self.names)),
            Column("value", self.values),
            Column("standard_error", self.standard_error, label="standard error"),
            Column("from_95", self.values - self.interval, label="95 %, from"),
            Column("to_95", self.values + self.interval, label="95 %, to"),
            Column("start", self.start),
        ]

    def facts(self) -> dict[str, Any]:
        """Correlations, and every point."""
        return {
            "correlation": self.correlation.tolist(),
            "standard_deviation": self.standard_deviation,
            "points": [record for q in self.quantities for record in records(q.columns())],
        }

    def points_frame(self) -> pd.DataFrame:
        """One row for each measured value, in SI: set, point, quantity, measured, fitted, difference, and that over its uncertainty."""
        import pandas as pd

        return pd.concat([frame(q.columns(), "SI") for q in self.quantities], ignore_index=True)

    def deviations_frame(self, units: str | None = None) -> pd.DataFrame:
        """One row for each measured quantity of each set: root mean square, mean and largest deviation, in its unit."""
        import pandas as pd

        unit_set = self.unit_set(units)
        rows = []
        for q in self.quantities:
            off = q.value - q.measured
            off = off[np.isfinite(off)]
            dimension = {"T": "temperature_difference", "P": "pressure"}.get(q.quantity, "fraction")
            numbers = (np.sqrt((off**2).mean()), off.mean(), np.abs(off).max()) if off.size else (np.nan,) * 3
            rows.append((q.source, q.quantity, len(q.points), *(shown(float(v), dimension, unit_set, 3) for v in numbers)))
        return pd.DataFrame(rows, columns=["set", "quantity", "points", "root mean square", "mean", "largest"])

    @property
    def notes(self) -> list[str]:
        """Deviations, stray points, and parameters that the data leave unsure."""
        notes = [
            f"{row['set']}, {row['quantity']} of {row['points']} points: root mean square {row['root mean square']}, mean {row['mean']}, largest {row['largest']}."
            for _, row in self.deviations_frame().iterrows()
        ]
        notes.append(
            f"Standard deviation over the uncertainties {self.standard_deviation:.3g}, {self.evaluations} batches of points."
        )
        if self.assumed:
            notes.append(f"Standard uncertainties that the data don't have are taken as {', '.join(self.assumed)}.")
        for q in self.quantities:
            stray = q.points[np.abs(q.scaled) > _STRAY]
            if stray.size:
                listed = ", ".join(str(i) for i in stray[:6])
                notes.append(
                    f"Far off in {q.quantity} of {q.source}: point {listed}; look at them, or leave them out with data.without(...)."
                )
            lost = int((~np.isfinite(q.value)).sum())
            if lost:
                notes.append(f"The model has no answer for {lost} points of {q.source} ({q.quantity}).")
        unsure = [
            n for n, v, e in zip(self.names, self.values, self.standard_error, strict=True) if not e < _UNSURE * max(abs(v), 0.1)
        ]
        if unsure:
            notes.append(f"The data hardly determine {', '.join(unsure)}.")
        tied = [
            f"{self.names[i]} and {self.names[j]} ({self.correlation[i, j]:+.3f})"
            for i in range(len(self.names))
            for j in range(i)
            if abs(self.correlation[i, j]) > _TIED
        ]
        if tied:
            notes.append(f"Correlated so strongly that only their combination is known: {'; '.join(tied)}.")
        edge = [name for name, at in zip(self.names, self.at_bound, strict=True) if at]
        if edge:
            notes.append(f"At the bound of the search: {', '.join(edge)}.")
        return notes

    def store(self, layer: str = "user", *, source: str | None = None, overwrite: bool = False) -> list[Path]:
        """Keep the fitted pairs in the user's or the case's bank, with range, statistics and date; every system takes them from then on.

        Raises
        ------
        InputError
            If a fitted parameter belongs to no pair, or the layer has the pair already.
        """
        pairs: dict[frozenset[str], tuple[str, ...]] = {}
        for name in self.names:
            of = self.system.model.parameters[_bare(name)].of
            if len(of) != 2:
                raise InputError(f"{name} belongs to no pair, and a bank of pairs can't hold it; keep the system with sl.save.")
            first, second = sorted(of, key=self.system.names.index)
            pairs[frozenset(of)] = (first, second)
        T = np.concatenate([d.T[d.used] for d in self.data])
        if not np.isfinite(T).any():
            T = np.concatenate([q.value for q in self.quantities if q.quantity == "T"])
        about = {
            "source": source or f"fitted to {', '.join(d.source for d in self.data)}",
            "T_min": float(np.nanmin(T)),
            "T_max": float(np.nanmax(T)),
            "statistics": {
                "standard deviation": self.standard_deviation,
                "values": float(sum(len(q.points) for q in self.quantities)),
            },
        }
        records = []
        for pair in pairs.values():
            model, parameters = self.system.model.of_pair(self.system.who.part(pair), about)
            records.append(PairRecord(model, pair[0], pair[1], parameters))
        return store_pairs(records, layer, overwrite=overwrite)

    def plot(self, ax: Axes | None = None, *, units: str | None = None, figure: str = "data") -> Axes:
        """Draw data and model in a diagram of two components ("data"), or every scaled residual ("residuals").

        Raises
        ------
        InputError
            If there is no such figure, or "data" is asked for with more than two components.
        """
        from ..diagrams.regression import draw_residuals

        if figure == "residuals":
            return draw_residuals(
                ax, [(f"{q.quantity}, {q.source}", q.points, q.scaled) for q in self.quantities], self.title(units)
            )
        if figure not in FIGURES:
            raise InputError(f"There is no figure {figure!r} of a regression. Figures are {', '.join(FIGURES)}.")
        if len(self.system) != 2:
            raise InputError("Data are drawn in a diagram of two components; take figure='residuals'.")
        data = self.data[0]
        i = data.names.index(self.system.names[0])
        given, kind = data.given, "Pxy" if data.given == "T" else "Txy"
        level = float(np.nanmean(getattr(data, given)[data.used]))
        axis = "P" if given == "T" else "T"
        columns = {"x": data.x[data.used, i], "y": data.y[data.used, i], axis: getattr(data, axis)[data.used]}
        measured = {name: values for name, values in columns.items() if np.isfinite(values).all()}
        diagram = self.later.diagram(self.system, kind, {given: level}, measured)
        drawn: Axes = diagram.plot(ax, units=self.unit_set(units))
        return drawn


def _bare(name: str) -> str:
    return name.removesuffix(" slope").removesuffix(" bend")
