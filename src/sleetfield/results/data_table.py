"""Sets of measurements as a result: to be printed, saved, and drawn with models beside them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from ..arguments import guarded
from ..data_sets import QUANTITIES, DataSet
from ..errors import InputError
from ..mixture import Mixture
from .base import Table
from .columns import Column
from .later import Later

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes


@dataclass(frozen=True, eq=False, repr=False)
class DataTable(Table):
    """Measurements, and models that are drawn beside them.

    Attributes
    ----------
    data : tuple of DataSet
        All of one kind and of the same components.
    beside : mapping of str to System
    later : Later
    """

    data: tuple[DataSet, ...]
    beside: Mapping[str, Mixture]
    later: Later

    word = "measurements"
    rows = "points"

    def __post_init__(self) -> None:
        if not self.data:
            raise InputError("There are no measurements.")
        first = self.data[0]
        for one in self.data:
            if (one.kind, set(one.names)) != (first.kind, set(first.names)):
                raise InputError(f"{one.title()} does not go into one table with {first.title()}.")

    def title(self, units: str | None = None) -> str:
        """Of what, and where from."""
        return "; ".join(d.title() for d in self.data)

    def columns(self) -> list[Column]:
        """Every quantity of the first set that was measured."""
        (first, *_), columns = self.data, []
        for q, values in first.values.items():
            quantity = QUANTITIES[q]
            columns.append(Column(q, values, quantity.dimension, first.names if quantity.of_components else ()))
        return columns

    @guarded
    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """All points, with headings that `read_data` reads; several sets with a column that names them."""
        import pandas as pd

        frames = [d.to_frame(self.unit_set(units)) for d in self.data]
        if not any(d.excluded for d in self.data):
            frames = [f.drop(columns="left out") for f in frames]
        if len(frames) == 1:
            return frames[0]
        return pd.concat([f.assign(set=d.source) for f, d in zip(frames, self.data, strict=True)], ignore_index=True)

    def about(self) -> dict[str, Any]:
        """Kind, components, sources."""
        return {"kind": self.data[0].kind, "components": list(self.data[0].names), "sources": [d.source for d in self.data]}

    @property
    def notes(self) -> list[str]:
        """How they were measured, and points that are left out."""
        notes = [f"{d.source}: {d.remark}" for d in self.data if d.remark]
        return notes + [f"{d.source}: point {i} is left out: {why}." for d in self.data for i, why in d.excluded.items()]

    @guarded
    def plot(self, ax: Axes | None = None, *, units: str | None = None) -> Axes:
        """Draw them, with the models' lines."""
        from ..diagrams.regression import draw_data

        by_title = {system.model_title: label for label, system in self.beside.items()}
        for k, one in enumerate(self.data):
            curves = self.later.curves(list(self.beside.values()), one) if self.beside and k == 0 else ()
            named = tuple(c._replace(model=by_title[c.model]) for c in curves)
            ax = draw_data(ax, named, one, self.unit_set(units), k)
        assert ax is not None
        return ax
