"""What every result can do: say what it is, show itself as a table, print, and speak its notes."""

from __future__ import annotations

from abc import ABC, abstractmethod
from typing import TYPE_CHECKING, Any, ClassVar

import numpy as np

from .. import text
from ..arguments import guarded
from ..composition import written
from ..mixture import Mixture
from ..version import __version__
from .columns import Column, frame, records

if TYPE_CHECKING:
    import pandas as pd


MADE_WITH = f"Sleetfield {__version__}"


class Shown(ABC):
    """Anything that has a title, a table and notes, and so can be printed, shown in a notebook, and saved."""

    @abstractmethod
    def title(self, units: str | None = None) -> str:
        """What it is and at which condition, in a set of units."""

    @abstractmethod
    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """All of it as a data frame, with units in the headings."""

    @property
    @abstractmethod
    def notes(self) -> list[str]:
        """What a careful colleague would point out; empty where there is nothing to say."""

    def unit_set(self, units: str | None) -> str:
        """The set of units asked for, or one for engineers."""
        return "metric" if units is None else units

    def in_short(self, units: str | None = None) -> str:
        """What it comes to, in a sentence or two; nothing where only the tables can say it."""
        return ""

    def compared_frame(self) -> pd.DataFrame:
        """In SI, what can be held against the same of another model: rows that stand for the same thing by their name."""
        return self.to_frame("SI")

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """What is printed; all of it unless there is too much."""
        return self.to_frame(units)

    def context(self, units: str | None = None) -> dict[str, str]:
        """What a file of it says beside its tables: what it is, what it rests on, and what it was made with."""
        return {"title": self.title(units), "made with": MADE_WITH}

    def printed(self, units: str | None = None) -> text.Grid:
        """`summary_frame` as it is printed."""
        return text.Grid.of(self.summary_frame(units))

    def sections(self, units: str | None = None) -> list[tuple[str, pd.DataFrame]]:
        """Further tables that are printed below, with their headings."""
        return []

    def sheets(self, units: str | None = None) -> list[tuple[str, pd.DataFrame]]:
        """Further tables that a spreadsheet has room for."""
        return self.sections(units)

    @guarded
    def report(self, units: str | None = None, digits: int = text.DIGITS) -> str:
        """Title, tables and notes as text, in a set of units, numbers with ``digits`` significant ones."""
        return text.report(self.title(units), self.printed(units), self.notes, self.sections(units), digits)

    def __str__(self) -> str:
        return self.report()

    def __repr__(self) -> str:
        return f"<{type(self).__name__}: {self.title()}>"

    figure_size: ClassVar[tuple[float, float]] = (9.6, 6.0)
    """Inches, of a figure in a file."""

    has_picture: ClassVar[bool] = False
    """Whether a notebook shows its figure."""

    def _repr_html_(self) -> str:
        picture = text.picture(self.plot) if self.has_picture else ""  # type: ignore[attr-defined]
        return text.html(self.title(), self.summary_frame(), self.notes, self.sections(), picture)


class Table(Shown):
    """Rows of the columns that it declares."""

    rows: ClassVar[str] = "rows"
    """What its rows are called."""
    named_by: ClassVar[str] = ""
    """The column that names the rows, where one does."""

    @property
    @abstractmethod
    def word(self) -> str:
        """What it is called."""

    @abstractmethod
    def columns(self) -> list[Column]:
        """Every column, in SI."""

    def about(self) -> dict[str, Any]:
        """What it belongs to, as plain values."""
        return {}

    def facts(self) -> dict[str, Any]:
        """What there is beside the rows, as plain values in SI."""
        return {}

    @guarded
    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """All rows, with units in the headings."""
        table = frame(self.columns(), self.unit_set(units))
        return table.set_index(self.named_by).rename_axis(None) if self.named_by else table

    def to_dict(self) -> dict[str, Any]:
        """Everything in SI, as plain values."""
        rows: Any = records(self.columns())
        if self.named_by:
            rows = {row.pop(self.named_by): row for row in rows}
        return {"result": self.word, **self.about(), **self.facts(), self.rows: rows, "notes": self.notes}


class Result(Shown):
    """A result of a `System`. Subclasses are frozen dataclasses with a field ``system``."""

    if TYPE_CHECKING:

        @property
        def system(self) -> Mixture:
            """The system it belongs to."""

    def __post_init__(self) -> None:
        # arrays of a result can't be written to, nor those of the engine's in it
        own = vars(self)
        for values in (own, vars(own["result"]) if "result" in own else {}):
            for value in values.values():
                if isinstance(value, np.ndarray):
                    value.setflags(write=False)

    def unit_set(self, units: str | None) -> str:
        """The set of units asked for, or the system's own."""
        return self.system.units if units is None else units

    def context(self, units: str | None = None) -> dict[str, str]:
        """With components, model, parameters, the composition and the condition where there is one, and the set of units."""
        unit_set, z = self.unit_set(units), getattr(self, "z", None)
        found = {"title": self.title(units), **self.system.context()}
        if isinstance(z, np.ndarray) and z.ndim == 1:
            found["composition"] = written(z, self.system.names)
        for name, dimension in (("T", "temperature"), ("P", "pressure")):
            if isinstance(value := getattr(self, name, None), float):
                found[name] = text.shown(value, dimension, unit_set, 10)
        return {**found, "units": unit_set, "made with": MADE_WITH}


class TableResult(Table, Result):
    """A result of a `System` that is a table."""

    def about(self) -> dict[str, Any]:
        """The system it belongs to."""
        return {"system": self.system.outline()}
