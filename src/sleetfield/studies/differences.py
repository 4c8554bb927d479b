"""Two runs of a study held against each other, number by number."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any, NamedTuple

from ..arguments import guarded
from ..errors import InputError
from ..results.base import Table
from ..results.columns import Column, numbers_in
from .record import Record, read_records

_SMALLEST = 1e-9
"""Relative difference that is none."""


class Line(NamedTuple):
    """A number that differs: of which task, what it is, both values, and the relative difference."""

    task: str
    number: str
    first: float | None
    second: float | None

    @property
    def off(self) -> float | None:
        """Relative to the first; None where one is missing or the first is zero."""
        if self.first is None or self.second is None or self.first == 0.0:
            return None
        return self.second / self.first - 1.0


@dataclass(frozen=True, eq=False, repr=False)
class RunDifferences(Table):
    """What differs between two runs, in the unit of the headings.

    Attributes
    ----------
    first, second : str
        The runs.
    lines : tuple of Line
    alike : int
        How many numbers are the same.
    remarks : tuple of str
    """

    first: str
    second: str
    lines: tuple[Line, ...]
    alike: int
    remarks: tuple[str, ...]

    word = "differences"

    def title(self, units: str | None = None) -> str:
        """Which runs."""
        return f"{self.second} held against {self.first}"

    def columns(self) -> list[Column]:
        """One row for each number that differs."""
        columns = [Column("task", [line.task for line in self.lines]), Column("number", [line.number for line in self.lines])]
        columns += [
            Column(self.first, [line.first for line in self.lines]),
            Column(self.second, [line.second for line in self.lines]),
        ]
        return [*columns, Column("off", [line.off for line in self.lines], words=_percent)]

    @property
    def notes(self) -> list[str]:
        """How many are alike, and what could not be compared."""
        return [f"{len(self.lines)} numbers differ, {self.alike} are the same.", *self.remarks]


def _percent(off: float | None) -> str:
    return "" if off is None else f"{100.0 * off:+.3g} %"


@guarded
def compare_runs(first: str | Path, second: str | Path) -> RunDifferences:
    """What differs between two runs of a study, task by task and number by number.

    Parameters
    ----------
    first, second : path
        Folders that `run_study` wrote: of a study and of the same one with another model, say, or of this year's and last year's.

    Raises
    ------
    InputError
        If a folder holds no results.
    """
    one, two = ({r.name: r for r in read_records(Path(folder))} for folder in (first, second))
    lines: list[Line] = []
    remarks: list[str] = []
    alike = 0
    for name in dict.fromkeys((*one, *two)):
        if name not in one or name not in two:
            remarks.append(f"{name}: {first if name in one else second} alone has it.")
            continue
        failed = [f"{name}: failed in {folder}: {r.failed}" for folder, r in ((first, one[name]), (second, two[name])) if r.failed]
        remarks += failed
        if not failed:
            found = list(_pairs(one[name], two[name]))
            lines += [line for line in found if not _same(line)]
            alike += sum(map(_same, found))
    remarks += _told(one, two)
    if not alike and not lines and not remarks:
        raise InputError(f"{first} and {second} have no task in common.")
    labels = [Path(folder).name or str(folder) for folder in (first, second)]
    if labels[0] == labels[1]:
        labels = [str(first), str(second)]
    return RunDifferences(labels[0], labels[1], tuple(lines), alike, tuple(remarks))


def _pairs(one: Record, two: Record) -> Iterator[Line]:
    first, second = ({} if r.compared is None else dict(numbers_in(r.compared.frame())) for r in (one, two))
    for number in dict.fromkeys((*first, *second)):
        yield Line(one.name, number, first.get(number), second.get(number))


def _same(line: Line) -> bool:
    if line.first is None or line.second is None:
        return False
    return abs(line.first - line.second) <= _SMALLEST * max(abs(line.first), abs(line.second))


def _told(one: Mapping[str, Record], two: Mapping[str, Record]) -> list[str]:
    """What the notes of one run say and the other's don't, each once with the tasks that it is on."""
    remarks = []
    for mine, theirs, word in ((one, two, "first"), (two, one, "second")):
        said: dict[str, list[str]] = {}
        for name, record in mine.items():
            if name in theirs and record.do != "compare":
                for note in record.notes:
                    if note not in theirs[name].notes:
                        said.setdefault(note, []).append(name)
        remarks += [f"Only the {word} says of {', '.join(names)}: {note}" for note, names in said.items()]
    return remarks


__all__: list[Any] = ["Line", "RunDifferences", "compare_runs"]
