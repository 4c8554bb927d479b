"""Many feeds from a file: a row a state goes in, the same rows come back with properties; none is lost, and what was done before an interruption stays done.

The file is worked on block by block, so that a million rows need the memory of one block. Done blocks wait beside the result, in a folder of its name with ``.part``
behind it, until all are there.
"""

from __future__ import annotations

import csv
import hashlib
import io
import itertools
import json
import os
import shutil
from collections import Counter, deque
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np

from ..arguments import guarded
from ..calculations.workers import whole_workers
from ..composition import BASES
from ..errors import InputError
from ..files import make_folder, write_chunks, write_whole
from ..mixture import Mixture
from ..results.base import Table
from ..results.columns import Column
from ..results.state_properties import PROPERTIES
from ..system_files import plain
from ..tabular import kept_as_text, row_blocks
from ..text import counted
from ..version import __version__
from ..workbook import write_rows
from .block import Known, Work
from .layout import Layout

if TYPE_CHECKING:
    from concurrent.futures import Executor

    import pandas as pd

Progress = Callable[[int], None]
"""Told how many rows are done."""

BLOCK = 16_384
PROBLEM = "problem"
"""The column that says what is wrong with a row; empty where nothing is."""
USUAL = ("n_phases", "vapor_fraction", "H", "density")
_AHEAD = 2
"""Blocks that wait for each worker."""


@dataclass(frozen=True, eq=False, repr=False)
class FeedsRun(Table):
    """What became of a file of feeds.

    Attributes
    ----------
    path : Path
        The file that was written.
    count : int
        Rows.
    problems : mapping of str to int
        How many rows have which problem.
    system : System
    remarks : tuple of str
        Notes on the states.
    """

    path: Path
    count: int
    problems: dict[str, int]
    system: Mixture
    remarks: tuple[str, ...]

    word = "feeds"
    rows = "problems"

    @property
    def failed(self) -> int:
        """How many rows have a problem."""
        return sum(self.problems.values())

    def title(self, units: str | None = None) -> str:
        """How many rows, with which model."""
        return f"{self.count - self.failed} of {counted(self.count, 'row')} by {self.system.title}, in {self.path}"

    def columns(self) -> list[Column]:
        """One row for each kind of problem."""
        return [Column("problem", list(self.problems)), Column("rows", list(self.problems.values()))]

    @property
    def notes(self) -> list[str]:
        """Where bad rows are, and what there is to say about the states."""
        bad = [f"{counted(self.failed, 'row')} could not be calculated: the column {PROBLEM!r} says why."] if self.failed else []
        return [*bad, *self.remarks]


@guarded
def flash_file(
    system: Mixture,
    path: str | Path,
    into: str | Path,
    *,
    properties: Sequence[str] = USUAL,
    basis: str = "mole",
    units: str | None = None,
    block: int = BLOCK,
    executor: Executor | None = None,
    overwrite: bool = False,
    progress: Progress | None = None,
) -> FeedsRun:
    """States of many feeds, one a row of a file, written back beside the rows.

    Parameters
    ----------
    system : System
        Whose components the file's columns are.
    path : path
        ``.csv .tsv .txt .xlsx .parquet`` with headings: two of T, P, H, S, U, V, density, vapor_fraction, vapor_mass_fraction, with their units, ``T [degC]``; and
        components by their names, ``methane``, as fractions, or with a unit, ``methane [kmol/h]``, as flows. Other columns stay as they are. A component that is
        left empty is absent.
    into : path
        ``.csv .xlsx .parquet``: the same rows in the same order, then the properties, then a column ``problem``, empty where there is none.
    properties : sequence of str
        As for `System.table`.
    basis : {"mole", "mass"}
        What fractions are.
    units : {"SI", "metric", "US"}, optional
        Of the properties; the system's own by default.
    block : int
        Rows at a time.
    executor : concurrent.futures.Executor, optional
        Where blocks are worked on: a ``ProcessPoolExecutor``, or a cluster's.
    overwrite : bool
        Whether ``into`` may be replaced.
    progress : callable, optional
        Told how many rows are done.

    Returns
    -------
    FeedsRun
        How many rows have which problem.

    Raises
    ------
    InputError
        If the file can't be read, has not two quantities and a component, or ``into`` is there already.

    Notes
    -----
    An interruption (Ctrl-C) loses no block that is done: the same call goes on from there.
    """
    path, into = Path(path), Path(into)
    if into.exists() and not overwrite:
        raise InputError(f"{into} exists already. Choose another name, or ask to overwrite it (overwrite=True; --overwrite).")
    asked = (tuple(properties), basis, system.units if units is None else units)
    work, blocks = _begun(system, path, asked, block)
    part = _part(into, path, work, block)
    done: list[Known] = []
    with whole_workers(executor):
        for known in _worked(work, blocks, part, executor):
            done.append(known)
            if progress is not None:
                progress(sum(k.rows for k in done))
    _assembled(into, part, work, done, overwrite)
    shutil.rmtree(part)
    problems: Counter[str] = Counter()
    for known in done:
        problems.update(known.problems)
    return FeedsRun(into, sum(k.rows for k in done), dict(problems.most_common()), system, tuple(_notes(system, done)))


def states_of(system: Mixture, path: Path, properties: Sequence[str] = USUAL, *, basis: str = "mole") -> pd.DataFrame:
    """The same as a data frame, for files that are not long: rows, properties, problems; ``attrs`` hold title and notes."""
    import pandas as pd

    work, blocks = _begun(system, path, (tuple(properties), basis, system.units), BLOCK)
    frames, done = [], []
    for rows in blocks:
        table, problems, known = work.states(rows)
        texts = {h: [_as_cell(row[j]) for row in rows] for j, h in enumerate(work.layout.headings)}
        frames.append(pd.concat([pd.DataFrame(texts), table.astype(float), pd.DataFrame({PROBLEM: problems})], axis=1))
        done.append(known)
    whole = pd.concat(frames, ignore_index=True)
    whole = whole[[c for c in whole.columns if c != PROBLEM] + [PROBLEM]]
    bad = int((whole[PROBLEM] != "").sum())
    whole.attrs["notes"] = [
        *([f"{counted(bad, 'row')} could not be calculated: see the column {PROBLEM!r}."] if bad else []),
        *_notes(system, done),
    ]
    whole.attrs["title"] = f"Feeds of {path.name} by {system.title}"
    return whole


def _notes(system: Mixture, done: Sequence[Known]) -> list[str]:
    """What there is to say about all states together."""
    ends = np.array([T for known in done for T in known.T])
    notes = [*system.notes, *(system.range_notes(ends) if ends.size else [])]
    for count, what in (
        (sum(k.loose for k in done), "converged only loosely"),
        (sum(k.unstable for k in done), "would form a further phase that is not shown"),
    ):
        notes += [f"{counted(count, 'state')} {what}."] if count else []
    return notes


def _as_cell(text: str) -> float | str:
    try:
        return float(text)
    except ValueError:
        return text


def _begun(system: Mixture, path: Path, asked: tuple[Any, ...], size: int) -> tuple[Work, Iterator[list[list[str]]]]:
    """The work of each block, and the blocks.

    Raises
    ------
    InputError
        If there is no such property or basis, or the headings don't do.
    """
    properties, basis, units = asked
    if unknown := [name for name in properties if name not in PROPERTIES]:
        raise InputError(f"There is no property {unknown[0]!r}. Properties are {', '.join(PROPERTIES)}.")
    if basis not in BASES:
        raise InputError(f"The basis is {basis!r}; it may be {' or '.join(BASES)}.")
    headings, blocks = row_blocks(path, size)
    return Work(system, Layout.of(headings, system, path.name), tuple(properties), basis, units), blocks


def _part(out: Path, path: Path, work: Work, block: int) -> Path:
    """The folder of the blocks that are done: of this very work, or empty."""
    part = out.with_name(f"{out.name}.part")
    stat = path.stat()
    said: list[Any] = [__version__, str(path.resolve()), stat.st_size, stat.st_mtime_ns, block]
    said += [plain(work.system), work.properties, work.basis, work.units]
    fingerprint = hashlib.sha256(json.dumps(said, sort_keys=True).encode()).hexdigest()
    about = part / "about.txt"
    if part.exists() and not (about.exists() and about.read_text() == fingerprint):
        if not about.exists() and any(part.iterdir()):
            raise InputError(f"{part} is in the way; it holds something else. Move it, or choose another name for the result.")
        shutil.rmtree(part)
    make_folder(part)
    write_whole(about, fingerprint.encode(), overwrite=True)
    return part


def _worked(work: Work, blocks: Iterable[list[list[str]]], part: Path, executor: Executor | None) -> Iterator[Known]:
    """What is known of each block, in order; those that are not there yet are worked on, a few at a time."""
    waiting: deque[tuple[int, Any]] = deque()
    ahead = 0 if executor is None else _AHEAD * (os.cpu_count() or 1)
    for number, rows in enumerate(blocks):
        if (part / f"{number:06d}.json").exists():
            waiting.append((number, None))
        elif executor is None:
            _keep(part, number, *work(rows))
            waiting.append((number, None))
        else:
            waiting.append((number, executor.submit(work, rows)))
        while len(waiting) > ahead:
            yield _settled(part, *waiting.popleft())
    while waiting:
        yield _settled(part, *waiting.popleft())


def _settled(part: Path, number: int, future: Any) -> Known:
    if future is not None:
        _keep(part, number, *future.result())
    return Known(*json.loads((part / f"{number:06d}.json").read_text()))


def _keep(part: Path, number: int, text: bytes, known: Known) -> None:
    """A block's rows first, then what is known of it."""
    write_whole(part / f"{number:06d}.csv", text, overwrite=True)
    write_whole(part / f"{number:06d}.json", json.dumps(known).encode(), overwrite=True)


# ---- all blocks together ----


def _assembled(out: Path, part: Path, work: Work, done: Sequence[Known], overwrite: bool) -> None:
    """One file of all blocks. Blocks have columns of the phases that came up in them."""
    blocks = [part / f"{number:06d}.csv" for number in range(len(done))]
    own = _merged([known.headings for known in done])
    headings = [*work.layout.headings, *own, PROBLEM]
    if out.suffix.lower() == ".csv" and all(known.headings == own for known in done):
        head = io.StringIO()
        csv.writer(head, lineterminator="\n").writerow([kept_as_text(h) for h in headings])
        write_chunks(out, itertools.chain([head.getvalue().encode()], (block.read_bytes() for block in blocks)), overwrite)
        return
    first = len(work.layout.headings)
    write_rows(out, headings, lambda: _rows(blocks, [known.headings for known in done], own, first), overwrite)


def _merged(lists: Sequence[list[str]]) -> list[str]:
    """Every heading once, each behind those that it follows."""
    merged: list[str] = []
    for one in lists:
        place = 0
        for heading in one:
            if heading in merged:
                place = merged.index(heading) + 1
            else:
                merged.insert(place, heading)
                place += 1
    return merged


def _rows(blocks: Sequence[Path], headings: Sequence[list[str]], own: list[str], first: int) -> Iterator[list[str]]:
    """The rows of all blocks under the same headings."""
    for block, mine in zip(blocks, headings, strict=True):
        places = [first + mine.index(h) if h in mine else None for h in own]
        for row in csv.reader(io.StringIO(block.read_text(encoding="utf-8"), newline="")):
            yield [*row[:first], *("" if place is None else row[place] for place in places), row[-1]]
