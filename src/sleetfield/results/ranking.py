"""Several models fitted to the same measurements, ranked."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from ..arguments import guarded
from ..data_sets import DataSet
from ..errors import InputError
from ..mixture import Mixture
from .base import Table
from .columns import Column
from .later import Later
from .regression import Regression

if TYPE_CHECKING:
    from matplotlib.axes import Axes

_LEVEL = 2.0
"""Difference of the information criterion within which models are as good as each other (Burnham and Anderson (2002), ch. 2)."""
_FIT = 2.0
"""Standard deviation over the uncertainties beyond which a model does not follow the data."""


@dataclass(frozen=True, eq=False, repr=False)
class ModelRanking(Table):
    """Models fitted to the same measurements, the best supported first.

    Attributes
    ----------
    fits : mapping of str to Regression
        By name, ranked.
    failed : mapping of str to str
        Models that could not be fitted, and why.
    beside : mapping of str to (System, float)
        Models that were not fitted, and the standard deviation of the residuals over the uncertainties that they leave.
    data : tuple of DataSet
    later : Later
    """

    fits: Mapping[str, Regression]
    failed: Mapping[str, str]
    beside: Mapping[str, tuple[Mixture, float]]
    data: tuple[DataSet, ...]
    later: Later

    word = "ranking"
    rows = "models"
    named_by = "model"

    def in_short(self, units: str | None = None) -> str:
        """The recommendation."""
        return self._recommendation() if self.fits else "No model could be fitted."

    def __getitem__(self, name: str) -> Regression:
        """The fit of a model."""
        if name not in self.fits:
            raise InputError(f"There is no fit of {name!r}; there are {', '.join(self.fits)}.")
        return self.fits[name]

    @property
    def recommended(self) -> str:
        """The model to take: of those that the data support equally, one without objections, and of these the one with the fewest parameters."""
        best = min(f.information for f in self.fits.values())
        equal = {name: f for name, f in self.fits.items() if f.information - best <= _LEVEL}
        sound = {name: f for name, f in equal.items() if not objections(f)}
        chosen = sound or equal
        return min(chosen, key=lambda name: (len(chosen[name].names), chosen[name].information))

    def title(self, units: str | None = None) -> str:
        """Of how many models, and which data."""
        return f"{len(self.fits)} models fitted to {', '.join(dict.fromkeys(d.source for d in self.data))}"

    def columns(self) -> list[Column]:
        """Each model's number of parameters, standard deviation, information criterion, and root-mean-square deviations."""
        best = min((f.information for f in self.fits.values()), default=0.0)
        names = [*self.fits, *self.beside]
        own = list(self.fits.values())
        blank = [np.nan] * len(self.beside)
        columns = [
            Column("model", names),
            Column("parameters", [*(len(f.names) for f in own), *[0] * len(self.beside)]),
            Column(
                "standard_deviation",
                [*(f.standard_deviation for f in own), *(s for _, s in self.beside.values())],
                label="standard deviation",
            ),
            Column("information", [*(f.information - best for f in own), *blank], label="information criterion above the best"),
        ]
        quantities = dict.fromkeys(q.quantity for f in own for q in f.quantities)
        for quantity in quantities:
            parts = [[q for q in f.quantities if q.quantity == quantity] for f in own]
            dimension = parts[0][0].dimension if parts and parts[0] else "fraction"
            columns.append(Column(f"rms {quantity}", [*(_rms(p) for p in parts), *blank], dimension))
        return columns

    def facts(self) -> dict[str, Any]:
        """What is recommended, every fit's parameters, and what failed."""
        parameters = {name: dict(zip(f.names, f.values.tolist(), strict=True)) for name, f in self.fits.items()}
        return {"recommended": self.recommended if self.fits else None, "parameters": parameters, "failed": dict(self.failed)}

    @property
    def notes(self) -> list[str]:
        """The recommendation with its reasons, objections to every model, and what could not be fitted."""
        notes = [self._recommendation()] if self.fits else []
        for name, f in self.fits.items():
            if found := objections(f):
                notes.append(f"{name}: {'; '.join(found)}.")
        notes += [f"{name} could not be fitted: {why}" for name, why in self.failed.items()]
        notes += [f"{name} was not fitted; it is drawn beside." for name in self.beside]
        return notes

    def _recommendation(self) -> str:
        name = self.recommended
        f, best = self.fits[name], min(g.information for g in self.fits.values())
        equal = [n for n, g in self.fits.items() if g.information - best <= _LEVEL and n != name]
        words = f"Take {name}: standard deviation {f.standard_deviation:.3g} with {len(f.names)} parameters"
        words += f"; the data support {', '.join(equal)} as well" if equal else "; the data support no other as well"
        if f.standard_deviation > _FIT:
            words += f". It does not follow the data within their uncertainties ({f.standard_deviation:.3g} times them): try more parameters, or look at the residuals"
        return words + "."

    @guarded
    def plot(self, ax: Axes | None = None, *, units: str | None = None, of: int = 0) -> Axes:
        """Draw a set's points with the lines of every model."""
        from ..diagrams.regression import draw_data

        systems = [f.system for f in self.fits.values()] + [system for system, _ in self.beside.values()]
        labels = [*self.fits, *self.beside]
        curves = self.later.curves(systems, self.data[of])
        by_title = {s.model_title: label for s, label in zip(systems, labels, strict=True)}
        named = tuple(c._replace(model=by_title.get(c.model, c.model)) for c in curves)
        drawn: Axes = draw_data(ax, named, self.data[of], self.unit_set(units))
        return drawn


def objections(f: Regression) -> list[str]:
    """What speaks against a fit."""
    found = []
    lost = sum(int((~np.isfinite(q.value)).sum()) for q in f.quantities)
    if lost:
        found.append(f"no answer for {lost} measured values")
    if any("splits the liquid" in remark for remark in f.remarks):
        found.append("splits the liquid where no split was measured")
    if any(f.at_bound):
        found.append("a parameter is at its bound")
    return found


def _rms(parts: list[Any]) -> float:
    off = np.concatenate([q.value - q.measured for q in parts]) if parts else np.array([np.nan])
    return float(np.sqrt(np.nanmean(off**2))) if np.isfinite(off).any() else float("nan")
