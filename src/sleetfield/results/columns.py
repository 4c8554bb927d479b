"""Columns of a table, declared once: a data frame in any set of units, and rows or lists of plain values in SI, come from the same."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np

from ..text import has_names, heading
from ..units import from_si

if TYPE_CHECKING:
    import pandas as pd


class Column(NamedTuple):
    """One column, or one for each of several names.

    Attributes
    ----------
    name : str
        As programs read it.
    values : sequence or array
        In SI ``(N,)``, or ``(N, len(of))``; a single value holds for all rows.
    dimension : str
        See `sleetfield.units`.
    of : tuple of str
        Components, where there is a column for each.
    label : str
        As people read it, where that is not the name.
    words : callable
        What people read for a value.
    """

    name: str
    values: Any
    dimension: str = "fraction"
    of: tuple[str, ...] = ()
    label: str = ""
    words: Callable[[Any], str] | None = None

    def headed(self, units: str) -> dict[str, Any]:
        """Heading and values of each column in a set of units."""
        values, name = self.values, self.label or self.name
        if self.words is not None:
            values = [self.words(v) for v in values]
        if self.dimension != "fraction":
            values = from_si(values, self.dimension, units)
        if not self.of:
            return {heading(name, self.dimension, units): values}
        return {heading(f"{name} {n}", self.dimension, units): np.asarray(values)[:, i] for i, n in enumerate(self.of)}

    def plain(self) -> list[Any] | Any:
        """One plain value in SI for each row, by name where there are several; or the single value."""
        values = self.values.tolist() if isinstance(self.values, np.ndarray) else self.values
        if not self.of:
            return values
        return [dict(zip(self.of, row, strict=True)) for row in values]


def yes_or_no(value: bool) -> str:
    """A truth in words."""
    return "yes" if value else "no"


def frame(columns: Sequence[Column], units: str) -> pd.DataFrame:
    """A data frame with units in the headings."""
    import pandas as pd

    headed: dict[str, Any] = {}
    for column in columns:
        headed |= column.headed(units)
    return pd.DataFrame(headed)


def numbers_in(table: pd.DataFrame) -> Iterator[tuple[str, float]]:
    """Every number of a table, with what it is: its column, and its row where there are several or they have names."""
    several = len(table) > 1 or has_names(table)
    for column in table.columns:
        for index, value in zip(table.index, table[column].tolist(), strict=True):
            if isinstance(value, (int, float)) and not isinstance(value, bool) and np.isfinite(value):
                yield f"{column}{f', {index}' if several else ''}", float(value)


def unlike(table: pd.DataFrame) -> pd.DataFrame:
    """Rows of the same name told apart by number."""
    names = [str(name) for name in table.index]
    return table.set_axis([f"{n} {names[: k + 1].count(n)}" if names.count(n) > 1 else n for k, n in enumerate(names)])


def lists(columns: Sequence[Column]) -> dict[str, Any]:
    """Plain values by name of column."""
    return {column.name: column.plain() for column in columns}


def records(columns: Sequence[Column]) -> list[dict[str, Any]]:
    """A dictionary of plain values for each row."""
    names = [column.name for column in columns]
    return [dict(zip(names, row, strict=True)) for row in zip(*(column.plain() for column in columns), strict=True)]
