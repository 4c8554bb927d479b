"""What fitted parameters come to: activity coefficients at infinite dilution, azeotropes, two liquids, each with its confidence interval."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from ...core.equilibrium.parameter_derivatives import Phase, of_saturation_conditions
from ...core.fitting.least_squares import CONFIDENCE, Fit
from ...core.models.contract import LIQUID, VAPOR
from ...data_sets import DataSet
from ...mixture import Mixture
from ...results.regression import Consequence
from ..azeotropes import find
from ..predictions import predict
from ..predictions.vapor_liquid import slopes_of
from .adjustable import Adjustable, bare
from .problem import Movable
from .splitting import can_be_liquid, unstable_by

Array = NDArray[np.float64]

_SPLITS = -1e-6


def consequences(system: Mixture, sets: Sequence[DataSet], adjustable: Adjustable, fit: Fit) -> tuple[Consequence, ...]:
    """What the parameters of each fitted pair come to where it was measured."""
    found: list[Consequence] = []
    parameters = system.model.parameters
    fitted = {frozenset(parameters[bare(n)].of) for n in adjustable.numbers(fit.parameters)}
    for pair in combinations(system.names, 2):
        if frozenset(pair) not in fitted:
            continue
        own = [data for data in sets if set(pair) <= set(data.names)]
        T = np.concatenate([data["T"][data.used] for data in own]) if own else np.empty(0)
        if not np.isfinite(T).any():
            continue
        movable = Movable(system if system.names == pair else system.part(list(pair)), adjustable)
        with np.errstate(all="ignore"):
            found += _Pair(movable, fit, own, T).all()
    return tuple(found)


class _Pair:
    def __init__(self, movable: Movable, fit: Fit, own: Sequence[DataSet], T: Array) -> None:
        self.movable, self.fit, self.own = movable, fit, own
        self.pair, self.shifts = movable.at(fit.parameters), movable.shifts(fit.parameters)
        self.T = np.array([float(np.nanmedian(T))])
        self.T_range = np.unique([float(np.nanmin(T)), float(np.nanmax(T))])

    def all(self) -> Iterator[Consequence]:
        yield from self.infinite_dilution()
        yield from self.azeotropes()
        yield from self.liquids()

    def half(self, slopes: Array) -> float:
        """Half width of the 95 % interval of what has derivatives ``(K_own,)``."""
        from scipy.stats import t as student

        whole = self.movable.spread(slopes[None])
        variance = float((whole @ self.fit.covariance @ whole.T)[0, 0])
        return float(student.ppf(0.5 + 0.5 * CONFIDENCE, self.fit.freedom) * np.sqrt(max(variance, 0.0)))

    def said(self, words: str, value: float, slopes: Array, dimension: str, where: str) -> Consequence:
        return Consequence(self.pair.names, words, value, self.half(slopes), dimension, where)

    def like(self, kind: str, **values: Array) -> DataSet:
        """Points of a kind, at places of one's own."""
        return DataSet(self.pair.names, values, kind, source="")

    def infinite_dilution(self) -> Iterator[Consequence]:
        if self.pair.gases or not can_be_liquid(self.pair, self.T).all():
            return
        data = self.like("infinite dilution", T=self.T, gamma_inf=np.ones((1, 2)))
        for p in predict(self.pair, data, self.shifts):
            name = p.quantity.removeprefix("gamma_inf ")
            other = next(n for n in self.pair.names if n != name)
            if np.isfinite(p.value[0]):
                yield self.said(f"γ∞ of {name} in {other}", float(p.value[0]), p.slopes[0], "fraction", self.where("T", self.T[0]))

    def azeotropes(self) -> Iterator[Consequence]:
        data = next((d for d in self.own if d.kind in ("vapor-liquid", "azeotrope") and len(d.names) == 2), None)
        if data is None:
            return
        given = data.given
        level = float(np.nanmedian(data[given][data.used]))
        for a in find(self.pair, given, level):
            if len(a.liquids) > 1:
                yield Consequence(
                    self.pair.names,
                    f"heterogeneous azeotrope, {self.pair.names[0]}",
                    float(a.x[0]),
                    np.nan,
                    "fraction",
                    self.where(given, level),
                )
                continue
            unknown = "P" if given == "T" else "T"
            at = (np.array([a.T]), np.array([a.P]), a.x[None])
            by_p, y_by_p = slopes_of(self.pair, "bubble", given, a.x[None], at, self.shifts)
            phases = Phase(a.x[None], LIQUID), Phase(a.x[None], VAPOR)
            _, y_by_x = of_saturation_conditions(self.pair.phase_model, given, at[0], at[1], *phases)
            x_by_p = y_by_p[0, :, 0] / (1.0 - y_by_x[0, 1, 0])
            yield self.said(f"azeotrope, {self.pair.names[0]}", float(a.x[0]), x_by_p, "fraction", self.where(given, level))
            dimension = "pressure" if unknown == "P" else "temperature"
            # along the bubble line T and P don't change with composition there
            yield self.said(f"azeotrope, {unknown}", float(getattr(a, unknown)), by_p[0], dimension, self.where(given, level))

    def liquids(self) -> Iterator[Consequence]:
        T = self.T_range[np.argmin(unstable_by(self.pair, self.T_range))]
        if unstable_by(self.pair, np.array([T]))[0] > _SPLITS:
            return
        half = np.full((1, 2), 0.5)
        data = self.like(
            "liquid-liquid", T=np.array([T]), P=np.array([np.nan]), **{"x'": half * [0.1, 1.9], "x''": half * [1.9, 0.1]}
        )
        for p in predict(self.pair, data, self.shifts):
            if np.isfinite(p.value[0]):
                order = "first" if p.quantity.startswith("x' ") else "second"
                yield self.said(
                    f"{self.pair.names[0]} in the {order} of two liquids",
                    float(p.value[0]),
                    p.slopes[0],
                    "fraction",
                    self.where("T", T),
                )

    def where(self, given: str, level: float) -> str:
        from ...text import shown

        return shown(level, "temperature" if given == "T" else "pressure", "metric", 5)


def false_splits(system: Mixture, sets: Sequence[DataSet]) -> list[str]:
    """Sets of vapor and liquid that the model splits the liquid of, where no data of two liquids speak of it."""
    notes = []
    split = {frozenset(d.names) for d in sets if d.kind == "liquid-liquid"}
    for names in {d.names for d in sets if d.kind in ("vapor-liquid", "azeotrope") and len(d.names) == 2}:
        if frozenset(names) in split:
            continue
        T = np.concatenate([d["T"][d.used] for d in sets if d.names == names])
        if not np.isfinite(T).any():
            continue
        pair = system if system.names == names else system.part(list(names))
        if (unstable_by(pair, np.array([np.nanmin(T), np.nanmax(T)])) < _SPLITS).any():
            notes.append(
                f"The fitted model splits the liquid of {' and '.join(names)}, and no data of two liquids were given: if they mix, forbid_split=True keeps it from that."
            )
    return notes
