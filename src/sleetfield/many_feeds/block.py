"""One block of a file of feeds: its rows with their properties, and with what is wrong where something is."""

from __future__ import annotations

import csv
import io
from collections import Counter, deque
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..calculations.flashing import flash
from ..composition import TOLERANCE
from ..errors import InputError
from ..mixture import Mixture
from ..results.columns import frame
from ..results.state import StateBatch
from ..results.state_columns import state_columns
from ..specified import RULES, possible
from ..tabular import as_number, kept_as_text
from .layout import Heading, Layout

if TYPE_CHECKING:
    import pandas as pd

Array = NDArray[np.float64]


class Known(NamedTuple):
    """What is kept of a block beside its rows: the headings of its properties, rows, problems, and what its notes follow from."""

    headings: list[str]
    rows: int
    problems: dict[str, int]
    T: list[float]
    loose: int
    unstable: int


@dataclass(frozen=True)
class Work:
    """What is done with each block; a worker gets it with the block's rows."""

    system: Mixture
    layout: Layout
    properties: tuple[str, ...]
    basis: str
    units: str

    def __call__(self, rows: list[list[str]]) -> tuple[bytes, Known]:
        """The rows with their properties and problems, as CSV, and what is known of them."""
        table, problems, known = self.states(rows)
        texts = [column if _all_numbers(column) else list(map(_safe, column)) for column in zip(*rows, strict=True)]
        values = [_cells(table[name]) for name in table.columns]
        buffer = io.StringIO()
        csv.writer(buffer, lineterminator="\n").writerows(zip(*texts, *values, problems, strict=True))
        return buffer.getvalue().encode(), known

    def states(self, rows: list[list[str]]) -> tuple[pd.DataFrame, list[str], Known]:
        """Properties of every row, NaN where there is a problem; the problems; what is known of them. Rows get as many cells as there are headings."""
        import pandas as pd

        count = len(self.layout.headings)
        even = all(len(row) == count for row in rows)
        problems = [""] * len(rows) if even else [self._evened(row) for row in rows]
        columns = list(zip(*rows, strict=True))
        given = {h.name: _numbers(columns[h.place], h, problems) for h in self.layout.quantities}
        for name, values in given.items():
            _mark(problems, np.isfinite(values) & ~possible(name, values), f"{name} is not possible: {RULES.get(name, '')}")
        z = self._fractions(columns, problems)
        good = np.flatnonzero([not p for p in problems])
        if not len(good):
            return pd.DataFrame(index=range(len(rows))), problems, Known([], len(rows), _counts(problems), [], 0, 0)
        specified: dict[str, Any] = {name: values[good] for name, values in given.items()}
        batch: StateBatch = flash(self.system, z[good], **specified)
        for k in np.flatnonzero(batch.failed):
            problems[good[k]] = "no answer: it did not converge, or there is no such state"
        found = frame(state_columns(batch, self.properties), self.units)
        own = [c for c in found.columns if c.split(" [")[0] not in given]
        known = Known(
            own,
            len(rows),
            _counts(problems),
            [float(np.nanmin(batch.T)), float(np.nanmax(batch.T))] if np.isfinite(batch.T).any() else [],
            int((~batch.failed & ~batch.result.converged).sum()),
            int((~batch.failed & ~batch.result.stable).sum()),
        )
        counts = {c: "Int64" for c in own if found[c].dtype.kind == "i"}
        return found[own].astype(counts).set_index(good).reindex(range(len(rows))), problems, known

    def _evened(self, row: list[str]) -> str:
        """Give a row as many cells as there are headings; in words what is too much."""
        count = len(self.layout.headings)
        more = row[count:]
        row[:] = [*row[:count], *[""] * (count - len(row))]
        return f"there are more cells than headings: {', '.join(more)}" if any(cell.strip() for cell in more) else ""

    def _fractions(self, columns: Sequence[Sequence[str]], problems: list[str]) -> Array:
        """Mole fractions ``(N, C)``; what is left empty is absent."""
        z = np.zeros((len(problems), len(self.system)))
        for h in self.layout.components:
            column = [v or "0" for v in columns[h.place]]
            z[:, self.system.names.index(h.name)] = _numbers(column, h, problems)
        _mark(problems, np.any(z < 0.0, axis=1), "an amount is negative")
        total = z.sum(axis=1)
        first = self.layout.components[0]
        if not first.is_flow:
            _mark(
                problems,
                np.isfinite(total) & (np.abs(total - 1.0) > TOLERANCE),
                lambda i: f"the fractions sum to {total[i]:.8g}, not 1",
            )
        by_mass = np.array([any(h.by_mass and h.name == n for h in self.layout.components) for n in self.system.names])
        by_mass |= self.basis == "mass" and not first.is_flow
        moles = np.where(by_mass, z / self.system.molar_mass, z)
        whole = moles.sum(axis=1)
        _mark(problems, np.asarray(~(whole > 0.0)), "no component is there")
        with np.errstate(all="ignore"):
            return np.asarray(moles / whole[:, None])


def _numbers(column: Sequence[str], heading: Heading, problems: list[str]) -> Array:
    """A column in SI; NaN where a cell is no number, which is a problem of its row."""
    try:
        values = np.array(list(map(float, column)))
    except ValueError:
        values = np.array([_number(cell, heading.name, problems, i) for i, cell in enumerate(column)])
    _mark(problems, ~np.isfinite(values), f"{heading.name} is not finite")
    return heading.scale * values + heading.offset


def _number(cell: str, name: str, problems: list[str], row: int) -> float:
    try:
        return as_number(cell.strip(), name)
    except InputError:
        problems[row] = problems[row] or (
            f"{name} is missing" if not cell.strip() else f"{name} is {cell.strip()[:40]!r}, which is no number"
        )
        return float("nan")


def _mark(problems: list[str], bad: NDArray[np.bool_], words: str | Callable[[int], str]) -> None:
    for i in np.flatnonzero(bad):
        problems[i] = problems[i] or (words if isinstance(words, str) else words(int(i)))


def _safe(cell: str) -> str:
    """Text that no spreadsheet takes for a formula; a number as it is."""
    return cell if _all_numbers([cell]) else str(kept_as_text(cell))


def _counts(problems: Sequence[str]) -> dict[str, int]:
    """How many rows have which problem, whatever its numbers."""
    return dict(Counter(_kind(problem) for problem in problems if problem))


def _kind(problem: str) -> str:
    if "which is no number" in problem:
        return f"{problem.split(' is ', maxsplit=1)[0]} is no number"
    return (
        problem.split(":", maxsplit=1)[0]
        if "headings" in problem
        else "the fractions don't sum to 1"
        if "sum to" in problem
        else problem
    )


def _all_numbers(column: Sequence[str]) -> bool:
    try:
        deque(map(float, column), maxlen=0)
    except ValueError:
        return False
    return True


def _cells(column: pd.Series[Any]) -> list[Any]:
    """Numbers to the last digit; what is not there is empty."""
    missing = column.isna().to_numpy()
    plain = column.tolist()
    for i in np.flatnonzero(missing):
        plain[i] = ""
    return plain
