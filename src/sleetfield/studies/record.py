"""What is kept of a task that was done: tables, notes, the names of its files, and what it rested on. Reports, workbooks and comparisons of runs draw on it."""

from __future__ import annotations

import json
import math
from collections.abc import Sequence
from dataclasses import asdict, dataclass, field
from pathlib import Path
from typing import TYPE_CHECKING, Any

from ..errors import InputError
from ..files import read_text, write_whole
from ..text import has_names

if TYPE_CHECKING:
    import pandas as pd

VERSION = 1
LARGEST_RECORD = 500_000_000
"""Bytes of one, with all its tables."""
FOLDER = "kept"
"""Where records are, in the folder of a run."""


@dataclass(frozen=True)
class Sheet:
    """A table with its heading; cells are numbers in full precision, text, or None."""

    heading: str
    columns: list[str]
    rows: list[list[Any]]
    names: list[str] | None = None

    @classmethod
    def of(cls, frame: pd.DataFrame, heading: str = "") -> Sheet:
        """Of a data frame."""
        names = [str(i) for i in frame.index] if has_names(frame) else None
        rows = [[_plain(cell) for cell in row] for row in frame.to_numpy(dtype=object).tolist()]
        return cls(heading, [str(c) for c in frame.columns], rows, names)

    def frame(self) -> pd.DataFrame:
        """As a data frame again."""
        import pandas as pd

        return pd.DataFrame(self.rows, columns=self.columns, index=self.names)


def _plain(cell: Any) -> Any:
    if hasattr(cell, "item"):
        cell = cell.item()
    if cell is None or isinstance(cell, (bool, int, str)):
        return cell
    return None if isinstance(cell, float) and not math.isfinite(cell) else cell if isinstance(cell, float) else str(cell)


@dataclass(frozen=True)
class Record:
    """A task that was done, or failed.

    Attributes
    ----------
    name, do, asks, remark : str
        As the study has them.
    fingerprint : str
        Of everything that the result follows from.
    systems : list of str
        What it was done with.
    title, answer : str
        What the result is, and in a sentence or two what it comes to.
    whole : Sheet or None
        The result's table.
    compared : Sheet or None
        What of it can be held against another run's.
    shown : list of Sheet
        The tables that a reader needs.
    more : list of Sheet
        Further tables that a workbook has room for.
    notes : list of str
    figures, files : list of str
        File names in the folder of the run.
    fitted : dict or None
        The system that it made, as plain values.
    failed : str
        Why there is no result.
    """

    name: str
    do: str
    asks: str
    remark: str
    fingerprint: str
    systems: list[str]
    title: str = ""
    answer: str = ""
    whole: Sheet | None = None
    compared: Sheet | None = None
    shown: list[Sheet] = field(default_factory=list)
    more: list[Sheet] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)
    figures: list[str] = field(default_factory=list)
    files: list[str] = field(default_factory=list)
    fitted: dict[str, Any] | None = None
    failed: str = ""

    def write(self, folder: Path) -> None:
        """Into the folder of a run, whole or not at all."""
        text = json.dumps({"record": VERSION, **asdict(self)}, ensure_ascii=False, allow_nan=False)
        write_whole(path_of(folder, self.name), text.encode(), overwrite=True)


def path_of(folder: Path, name: str) -> Path:
    """Where the record of a task is."""
    return folder / FOLDER / f"{file_name(name)}.json"


def file_name(name: str) -> str:
    """What the files of a task are called."""
    return "_".join(name.split())


RESERVED = ("report", "tables")
"""What the files of the whole run are called."""


def figure_stem(name: str, number: int) -> str:
    """What a task's figure is called, counted from 0."""
    return file_name(name) if number == 0 else f"{file_name(name)}_{number + 1}"


def file_stems(name: str, figures: int) -> set[str]:
    """What a task's files are called, in small letters, as some systems of files take them."""
    return {figure_stem(name, k).lower() for k in range(max(1, figures))}


def read_record(path: Path) -> Record | None:
    """The record in a file; None where it is of another version.

    Raises
    ------
    InputError
        If it can't be read, or is damaged.
    """
    try:
        content = json.loads(read_text(path, LARGEST_RECORD))
        if content.pop("record") != VERSION:
            return None
        shown, more = ([Sheet(**one) for one in content.pop(key)] for key in ("shown", "more"))
        whole, compared = (None if (one := content.pop(key)) is None else Sheet(**one) for key in ("whole", "compared"))
        return Record(**content, shown=shown, more=more, whole=whole, compared=compared)
    except (ValueError, TypeError, KeyError, AttributeError) as error:
        raise InputError(f"{path} is damaged, and no record of a task: {error!r}. Run the study again.") from error


def write_order(folder: Path, names: Sequence[str]) -> None:
    """In which order the tasks of a run stand."""
    write_whole(folder / FOLDER / "order.txt", "".join(f"{name}\n" for name in names).encode(), overwrite=True)


def read_records(folder: Path) -> list[Record]:
    """The records in the folder of a run, in the order of its study.

    Raises
    ------
    InputError
        If there is none.
    """
    order = folder / FOLDER / "order.txt"
    names = read_text(order).splitlines() if order.exists() else []
    paths = [path_of(folder, name) for name in names] or sorted((folder / FOLDER).glob("*.json"))
    found = [record for path in paths if path.exists() and (record := read_record(path)) is not None]
    if not found:
        raise InputError(f"{folder} holds no results of a study. Run one into it: sleetfield run STUDY --folder {folder}")
    return found
