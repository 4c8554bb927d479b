"""Fitted parameters, how sure they are, how well they follow what was measured, and what they come to."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..components import Component
from ..data_sets import QUANTITIES, DataSet, fitted_to
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

_STRONG = 1.0
"""Cook's distance from which a point decides the fit."""
_TIED = 0.99
_UNSURE = 1.0
"""A standard error over this share of a value leaves it undetermined."""
_LISTED = 6
_RELATIVE = ("P", "density", "gamma_inf", "Henry")
"""Quantities whose deviations are told in percent too."""


class FittedQuantity(NamedTuple):
    """One measured quantity of a data set: the number and source of that, which points, measured and fitted values ``(M,)``, standard uncertainties, residuals over their standard
    deviation, leverages, Cook's distances, and which of them stand out.
    """

    number: int
    source: str
    quantity: str
    points: NDArray[np.intp]
    measured: Array
    uncertainty: Array
    value: Array
    scaled: Array
    leverage: Array
    influence: Array
    stray: NDArray[np.bool_]

    @property
    def dimension(self) -> str:
        """What its deviations are of."""
        symbol = self.quantity.split(" ")[0]
        if symbol == "T":
            return "temperature_difference"
        return QUANTITIES[symbol].dimension if symbol in QUANTITIES else "fraction"

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
            Column("leverage", self.leverage),
            Column("influence", self.influence),
        ]


class Consequence(NamedTuple):
    """What fitted parameters of a pair come to: in words, a value in SI, half the width of its 95 % interval, and at which temperature or pressure."""

    pair: tuple[str, str] | tuple[str, ...]
    words: str
    value: float
    half_width: float
    dimension: str
    where: str


@dataclass(frozen=True, eq=False, repr=False)
class Regression(TableResult):
    """Parameters fitted to measurements; ``system`` has them.

    Attributes
    ----------
    names : tuple of str
    tied : mapping of str to (factor, name)
        Parameters that follow a fitted one.
    values, standard_error, interval : (K,)
        Fitted values, standard errors, half widths of the 95 % confidence intervals.
    covariance, correlation : (K, K)
    start : (K,)
        Where the fit began.
    at_bound : tuple of bool
    quantities : tuple of FittedQuantity
    standard_deviation : float
        Of the residuals over their uncertainties: near 1 where model and uncertainties are right.
    sum_of_squares : float
        Of the same residuals.
    freedom : int
        Degrees of freedom.
    evaluations : int
        Batches of points that were calculated.
    ended : str
        Why the search ended.
    loss, objective : str
    data : tuple of DataSet
    consequences : tuple of Consequence
        γ∞, azeotropes and two liquids that the parameters come to.
    remarks : tuple of str
    later : Later
        What is asked only now and then.
    """

    system: Mixture
    names: tuple[str, ...]
    tied: Mapping[str, tuple[float, str]]
    values: Array
    standard_error: Array
    interval: Array
    covariance: Array
    correlation: Array
    start: Array
    at_bound: tuple[bool, ...]
    quantities: tuple[FittedQuantity, ...]
    standard_deviation: float
    sum_of_squares: float
    freedom: int
    evaluations: int
    ended: str
    data: tuple[DataSet, ...]
    consequences: tuple[Consequence, ...]
    remarks: tuple[str, ...]
    later: Later
    loss: str
    objective: str

    # ---- what it says ----

    @property
    def count(self) -> int:
        """How many measured values it is fitted to."""
        return sum(len(q.points) for q in self.quantities)

    @property
    def information(self) -> float:
        """Akaike's information criterion with its correction for few points: of models of one set of data the one with the lowest is the best supported.

        N ln(S/N) + 2k + 2k(k + 1)/(N - k - 1), with S the sum of squares and k the number of parameters and one (Burnham and Anderson, Model Selection and
        Multimodel Inference, 2nd ed. (2002), ch. 2).
        """
        n, k = self.freedom + len(self.names), len(self.names) + 1
        small = 2.0 * k * (k + 1) / (n - k - 1) if n > k + 1 else np.inf
        return float(n * np.log(max(self.sum_of_squares, 1e-300) / n) + 2.0 * k + small)

    def title(self, units: str | None = None) -> str:
        """Of which model, to how many measured values."""
        return f"Parameters of {self.system.title} fitted to {self.count} measured values"

    def in_short(self, units: str | None = None) -> str:
        """The parameters with their 95 % intervals, and how well they follow the points."""
        values = ", ".join(f"{n} = {v:.4g} ± {w:.2g}" for n, v, w in zip(self.names, self.values, self.interval, strict=True))
        fit = f"{self.standard_deviation:.3g} times the uncertainties, {self.freedom} degrees of freedom"
        return f"{values} (95 %). Deviations are {fit}."

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
        """Statistics, correlations, what it comes to, and every point."""
        return {
            "correlation": self.correlation.tolist(),
            "tied": {name: list(tie) for name, tie in self.tied.items()},
            "objective": self.objective,
            "loss": self.loss,
            "standard_deviation": self.standard_deviation,
            "sum_of_squares": self.sum_of_squares,
            "degrees_of_freedom": self.freedom,
            "information": self.information,
            "ended": self.ended,
            "deviations": records(self._deviations()),
            "consequences": [{**c._asdict(), "pair": list(c.pair)} for c in self.consequences],
            "points": [record for q in self.quantities for record in records(q.columns())],
        }

    def points_frame(self) -> pd.DataFrame:
        """One row for each measured value, in SI: set, point, quantity, measured, fitted, difference, that over its standard deviation, leverage and influence."""
        import pandas as pd

        return pd.concat([frame(q.columns(), "SI") for q in self.quantities], ignore_index=True)

    def _deviations(self) -> list[Column]:
        """Of each quantity of each set, in SI."""
        rows = []
        for q in self.quantities:
            off = (q.value - q.measured)[np.isfinite(q.value)]
            share = off / q.measured[np.isfinite(q.value)] if q.quantity.split(" ")[0] in _RELATIVE else np.array([np.nan])
            off = off if off.size else np.array([np.nan])
            size = np.abs(off)
            rows.append(
                (
                    q.source,
                    q.quantity,
                    len(q.points),
                    _rms(off),
                    off.mean(),
                    size.mean(),
                    size.max(),
                    _rms(share) if share.size else np.nan,
                )
            )
        names = ("set", "quantity", "points", "rms", "bias", "average", "largest", "relative_rms")
        return [Column(name, list(values)) for name, values in zip(names, zip(*rows, strict=True), strict=True)]

    def deviations_frame(self, units: str | None = None) -> pd.DataFrame:
        """One row for each measured quantity of each set: root mean square, bias, average and largest deviation, in its unit, and relative ones."""
        import pandas as pd

        unit_set = self.unit_set(units)
        rows = []
        for q, record in zip(self.quantities, records(self._deviations()), strict=True):
            told = [shown(record[key], q.dimension, unit_set, 3) for key in ("rms", "bias", "average", "largest")]
            share = record["relative_rms"]
            rows.append((q.source, q.quantity, record["points"], *told, f"{share:.2%}" if np.isfinite(share) else ""))
        heads = ["set", "quantity", "points", "root mean square", "bias", "average", "largest", "rms, relative"]
        return pd.DataFrame(rows, columns=heads)

    def compared_frame(self) -> pd.DataFrame:
        """Deviations of each measured quantity, and what the parameters come to; parameters of two models are not the same things."""
        import pandas as pd

        off = {f"{r['quantity']} of {r['set']}": r["rms"] for r in records(self._deviations())}
        comes_to = {f"{c.words} at {c.where}": c.value for c in self.consequences}
        numbers = {"standard deviation": self.standard_deviation, **off, **comes_to}
        return pd.DataFrame({"value": numbers.values()}, index=list(numbers))

    def consequences_frame(self, units: str | None = None) -> pd.DataFrame:
        """One row for each thing that the parameters come to, with its 95 % interval."""
        import pandas as pd

        unit_set = self.unit_set(units)
        rows = []
        for c in self.consequences:
            difference = "temperature_difference" if c.dimension == "temperature" else c.dimension
            half = "" if np.isnan(c.half_width) else f"± {shown(c.half_width, difference, unit_set, 2)}"
            rows.append((c.words, shown(c.value, c.dimension, unit_set, 5), half, c.where))
        return pd.DataFrame(rows, columns=["it comes to", "value", "95 %", "at"])

    def sections(self, units: str | None = None) -> list[tuple[str, pd.DataFrame]]:
        """Deviations, and what the parameters come to."""
        parts = [("Deviations, fitted - measured", self.deviations_frame(units))]
        return [*parts, ("What the parameters come to", self.consequences_frame(units))] if self.consequences else parts

    def sheets(self, units: str | None = None) -> list[tuple[str, pd.DataFrame]]:
        """These, the correlations, and every point."""
        return [*self.sections(units), ("Correlation", self.correlation_frame()), ("Points", self.points_frame())]

    def correlation_frame(self) -> pd.DataFrame:
        """Correlations of the parameters."""
        import pandas as pd

        return pd.DataFrame(self.correlation, index=list(self.names), columns=list(self.names))

    @property
    def notes(self) -> list[str]:
        """Statistics, stray and strong points, and parameters that the data leave unsure."""
        notes = [
            f"Standard deviation over the uncertainties {self.standard_deviation:.3g}, {self.freedom} degrees of freedom, {self.evaluations} batches of points; {self.ended}."
        ]
        notes += [f"{name} is {_factor(factor)}{other}." for name, (factor, other) in self.tied.items()]
        notes += self.remarks
        for q in self.quantities:
            if stray := _listed(q.points[q.stray]):
                notes.append(
                    f"Far off in {q.quantity} of {q.source}: point {stray}; look at them, or leave them out with data.without(...)."
                )
            if strong := _listed(q.points[(q.influence > _STRONG) & ~q.stray]):
                notes.append(f"Of great influence on the fit: {q.quantity} of {q.source}, point {strong}.")
            lost = int((~np.isfinite(q.value)).sum())
            if lost:
                many = "points" if lost > 1 else "point"
                reason = ": it has one liquid there" if q.quantity.startswith("x'") else ""
                notes.append(f"The model has no answer for {lost} {many} of {q.source} ({q.quantity}){reason}.")
        return notes + self._unsure()

    def _unsure(self) -> list[str]:
        notes = []
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

    # ---- what else follows from it ----

    def interval_of(self, function: Callable[[Any], Any]) -> tuple[Array, Array]:
        """Value and half width of the 95 % confidence interval of any number, or array of them, that is calculated from the fitted system.

        The covariance of the parameters is carried to it by differences.

        Examples
        --------
        >>> import sleetfield as sl
        >>> known = sl.System(["ethanol", "water"], liquid="NRTL")
        >>> points = known.bubble([[v, 1.0 - v] for v in (0.1, 0.3, 0.6, 0.9)], T=350.0)
        >>> data = sl.DataSet.of(known.names, T=350.0, P=points.P * [1.002, 0.998, 1.001, 1.0], x=points.z, y=points.y)
        >>> found = sl.regress(known, data, fit="tau")
        >>> P, half = found.interval_of(lambda s: s.bubble({"ethanol": 0.5, "water": 0.5}, T=350.0).P)
        >>> bool(0.0 < half < 0.02 * P)
        True

        """
        return self.later.interval_of(self, function)

    def forms_frame(self, form: str = "J/mol") -> pd.DataFrame:
        """The fitted pairs as papers print them: a12 and a21 for either order of the pair, in a form of `PairParameters`.

        Raises
        ------
        InputError
            If the fitted function of temperature can't be written in that form.
        """
        import pandas as pd

        rows = []
        for pair in self._pairs():
            for names in (pair, pair[::-1]):
                own = self._of_pair(pair, {})[1]
                one = (own if names == pair else own.swapped()).in_form(form, self.system.model.sign_of_energies)
                rows.append((*names, *one.printed()))
        return pd.DataFrame(rows, columns=["1", "2", "12", "21", "alpha", "unit"])

    # ---- keeping it ----

    def _pairs(self) -> list[tuple[str, str]]:
        pairs: dict[frozenset[str], tuple[str, str]] = {}
        for name in (*self.names, *self.tied):
            of = self.system.model.parameters[_bare(name)].of
            if len(of) != 2:
                raise InputError(f"{name} belongs to no pair, and a bank of pairs can't hold it; keep the system with sl.save.")
            first, second = sorted(of, key=self.system.names.index)
            pairs[frozenset(of)] = (first, second)
        return list(pairs.values())

    def _of_pair(self, pair: tuple[str, str], about: dict[str, Any]) -> tuple[str, Any]:
        return self.system.model.of_pair(self.system.who.part(pair), about)

    def component(self, name: str | None = None) -> Component:
        """A component with the fitted parameters of it among its constants, and where they came from; for other systems, and to be kept with `sleetfield.store_component`.

        Parameters
        ----------
        name : str, optional
            Where the system has several.

        Raises
        ------
        InputError
            If none of its parameters was fitted, or they are not constants of components.
        """
        own: Component = self.system.who[0 if name is None else self.system.who.position(name)]
        keys = self.system.model.recipe.constants_of_components
        fitted = {
            n.removesuffix(f" {own.name}"): v for n, v in zip(self.names, self.values, strict=True) if n.endswith(f" {own.name}")
        }
        if not fitted or not set(fitted) <= set(keys):
            raise InputError(f"No constants of {own.name} were fitted: {', '.join(self.names)}.")
        T = np.concatenate([d["T"][d.used] for d in self.data])
        source = f"fitted to {self.count} values, {np.nanmin(T):.4g} to {np.nanmax(T):.4g} K"
        return own.changed(source=source, **{keys[s]: float(v) for s, v in fitted.items()})

    def store(self, layer: str = "user", *, source: str | None = None) -> list[Path]:
        """Keep the fitted pairs in the user's or the case's bank, with range, statistics and date; every system takes them from then on.

        What the layer has of a pair already is kept as an earlier version (`earlier_pairs`).

        Raises
        ------
        InputError
            If a fitted parameter belongs to no pair.
        """
        pairs = self._pairs()
        T = np.concatenate([d["T"][d.used] for d in self.data])
        if not np.isfinite(T).any():
            T = np.concatenate([q.value for q in self.quantities if q.quantity == "T"])
        rms = {f"{r['quantity']} rms": float(r["rms"]) for r in records(self._deviations())}
        about = {
            "source": source or fitted_to(self.data),
            "T_min": float(np.nanmin(T)),
            "T_max": float(np.nanmax(T)),
            "statistics": {"standard deviation": self.standard_deviation, "values": float(self.count), **rms},
        }
        found = [(pair, *self._of_pair(pair, about)) for pair in pairs]
        return store_pairs([PairRecord(model, *pair, parameters) for pair, model, parameters in found], layer, overwrite=True)

    # ---- figures ----

    @guarded
    def plot(
        self, ax: Axes | None = None, *, units: str | None = None, figure: str = "data", of: int | str = 0, against: str = "point"
    ) -> Axes:
        """Draw a figure of it.

        Parameters
        ----------
        ax : Axes, optional
            Where to draw.
        units : str, optional
            The set of units.
        figure : {"data", "residuals", "parity", "ellipses"}
            A set's points with the model and its 95 % confidence band; every scaled residual; fitted against measured values; the confidence ellipses of pairs
            of parameters.
        of : int or str
            Which set's data are drawn: its number or source.
        against : {"point", "x", "T", "P"}
            What residuals are drawn against; x is that of the first component.

        Raises
        ------
        InputError
            If there is no such figure or set.
        """
        from ..diagrams import regression as drawing

        figures = {
            "data": lambda: drawing.draw_data(ax, self.later.curves([self], self._set(of)), self._set(of), self.unit_set(units)),
            "residuals": lambda: drawing.draw_residuals(ax, self, against, self.unit_set(units)),
            "parity": lambda: drawing.draw_parity(ax, self),
            "ellipses": lambda: drawing.draw_ellipses(ax, self),
        }
        if figure not in figures:
            raise InputError(f"There is no figure {figure!r} of a regression. Figures are {', '.join(figures)}.")
        drawn: Axes = figures[figure]()
        return drawn

    def _set(self, of: int | str) -> DataSet:
        by_name = [d for d in self.data if d.source == of]
        if by_name:
            return by_name[0]
        if isinstance(of, str) or not 0 <= of < len(self.data):
            raise InputError(f"There is no set {of!r}; there are {', '.join(f'{i}: {d.source}' for i, d in enumerate(self.data))}.")
        return self.data[of]


def _rms(values: Array) -> float:
    return float(np.sqrt((values**2).mean()))


def _listed(points: NDArray[np.intp]) -> str:
    return ", ".join(str(i) for i in points[:_LISTED]) + (f" and {len(points) - _LISTED} more" if len(points) > _LISTED else "")


def _factor(factor: float) -> str:
    return "" if factor == 1.0 else f"{factor:g} times "


def _bare(name: str) -> str:
    return name.removesuffix(" slope").removesuffix(" bend")
