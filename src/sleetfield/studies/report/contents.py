"""What a report says, in order, as plain values: both templates and the workbook draw on it."""

from __future__ import annotations

import platform
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from importlib import metadata
from typing import TYPE_CHECKING, Any

from ...errors import SleetfieldError
from ...results.provenance import Provenance
from ...text import number
from ...units import pretty_heading
from ..record import Record, Sheet, file_name

if TYPE_CHECKING:
    import pandas as pd

    from ..case import Case
    from ..study import Study

_PACKAGES = ("sleetfield", "numpy", "scipy", "pandas", "matplotlib", "pint")
_MOST_ROWS = 40
_DIGITS = 5
_ALL = 100_000
_MOST_COLUMNS = 9
"""That fit the width of a page."""


@dataclass(frozen=True)
class Grid:
    """A table as it is read: text alone."""

    heading: str
    head: list[str]
    rows: list[list[str]]
    numeric: list[bool]
    left_out: int = 0


@dataclass(frozen=True)
class Note:
    """A note, and the tasks that it is on."""

    number: int
    text: str
    tasks: list[str]


@dataclass(frozen=True)
class SystemPart:
    """A system as a report tells of it."""

    name: str
    title: str
    components: list[str]
    why: str
    fits: list[str]
    parameters: Grid | None
    told: list[str]
    changed: list[str]
    provenance: Provenance


@dataclass(frozen=True)
class TaskPart:
    """A task as a report tells of it."""

    record: Record
    anchor: str
    grids: list[Grid]
    notes: str
    first_note: int
    link: str


@dataclass(frozen=True)
class Contents:
    """Everything that a report says."""

    title: str
    question: str
    remarks: list[str]
    tasks: list[TaskPart]
    systems: list[SystemPart]
    constants: Grid
    feeds: Grid | None
    data: Grid | None
    notes: list[Note]
    sources: list[str]
    inputs: Grid
    versions: Grid
    text: str
    failed: list[TaskPart] = field(default_factory=list)


def contents_of(study: Study, case: Case, records: Sequence[Record]) -> Contents:
    """What a report of a study says."""
    notes = _notes(records)
    of_task = {r.name: [n.number for n in notes if r.name in n.tasks] for r in records}
    tasks = [_task(r, of_task[r.name]) for r in records]
    sources: dict[str, int] = {}
    form = study.form
    systems = list(_systems(study, case, records, sources))
    return Contents(
        title=form.title,
        question=form.question.strip(),
        remarks=list(form.remarks),
        tasks=tasks,
        systems=systems,
        constants=_constants(systems, sources, form.units),
        feeds=_feeds(form),
        data=_data(form),
        notes=notes,
        sources=list(sources),
        inputs=_inputs(study, case),
        versions=_versions(),
        text=study.text,
        failed=[task for task in tasks if task.record.failed],
    )


def _task(r: Record, notes: list[int]) -> TaskPart:
    grids = [part for s in r.shown for part in narrowed(grid(s))]
    link = r.files[0] if r.files else ""
    return TaskPart(r, f"task-{file_name(r.name)}", grids, _in_runs(notes), notes[0] if notes else 0, link)


def _in_runs(numbers: Sequence[int]) -> str:
    """Numbers with those that follow each other put together: ``note 3``, ``notes 1 to 4, 7``."""
    runs: list[list[int]] = []
    for n in sorted(numbers):
        if runs and n == runs[-1][1] + 1:
            runs[-1][1] = n
        else:
            runs.append([n, n])
    told = [str(a) if a == b else f"{a}, {b}" if b == a + 1 else f"{a} to {b}" for a, b in runs]
    return f"{'note' if len(numbers) == 1 else 'notes'} {', '.join(told)}" if numbers else ""


def narrowed(whole: Grid) -> list[Grid]:
    """A table cut into parts that fit a page, with its names, temperature and pressure in each."""
    keys = [j for j, h in enumerate(whole.head) if h == "" or h.startswith(("T [", "P ["))]
    others = [j for j in range(len(whole.head)) if j not in keys]
    if len(whole.head) <= _MOST_COLUMNS:
        return [whole]
    step = _MOST_COLUMNS - len(keys)
    parts = [[*keys, *others[i : i + step]] for i in range(0, len(others), step)]
    return [
        Grid(
            whole.heading if k == 0 else "",
            [whole.head[j] for j in part],
            [[row[j] for j in part] for row in whole.rows],
            [whole.numeric[j] for j in part],
            whole.left_out if k == len(parts) - 1 else 0,
        )
        for k, part in enumerate(parts)
    ]


def grid(sheet: Sheet, most: int = _MOST_ROWS) -> Grid:
    """A table with numbers rounded for reading, without its middle where it is long."""
    named = sheet.names is not None
    rows = [
        [*([pretty_heading(name)] if named else []), *(_cell(c) for c in row)]
        for name, row in zip(sheet.names or [""] * len(sheet.rows), sheet.rows, strict=True)
    ]
    head = [*([""] if named else []), *map(pretty_heading, sheet.columns)]
    numeric = [all(isinstance(row[j], (int, float, type(None))) for row in sheet.rows) for j in range(len(sheet.columns))]
    left_out = max(0, len(rows) - most)
    if left_out:
        rows = [*rows[: most // 2], ["…"] * len(head), *rows[-(most // 2) :]]
    return Grid(sheet.heading, head, rows, [*([False] if named else []), *numeric], left_out)


def _cell(value: Any) -> str:
    return number(value, _DIGITS) if isinstance(value, float) else "" if value is None else str(value)


def _notes(records: Iterable[Record]) -> list[Note]:
    """Every note once, with the tasks that say it."""
    said: dict[str, list[str]] = {}
    for record in records:
        for note in record.notes:
            said.setdefault(note, []).append(record.name)
    return [Note(i, text, list(dict.fromkeys(tasks))) for i, (text, tasks) in enumerate(said.items(), start=1)]


def _systems(study: Study, case: Case, records: Sequence[Record], sources: dict[str, int]) -> Iterable[SystemPart]:
    changed = study.differences_from_today()
    used = {name for r in records for name in r.systems}
    for name in [n for n in study.form.system if n in used] + [r.name for r in records if r.fitted is not None and r.name in used]:
        form = study.form.system.get(name)
        try:
            system = case.system(name)
        except SleetfieldError:
            continue
        provenance = Provenance.of(system)
        told = [str(difference) for difference in changed.get(name, ())]
        yield SystemPart(
            name=name,
            title=system.model_title,
            components=list(system.names),
            why=form.why if form is not None else f"Fitted in “{name}”.",
            fits=list(form.fits) if form is not None else [],
            parameters=_parameters(provenance, sources, study.form.units),
            told=provenance.notes,
            changed=told,
            provenance=provenance,
        )


def _parameters(provenance: Provenance, sources: dict[str, int], units: str) -> Grid | None:
    """The parameters of a system's model."""
    rows = _rows(provenance, sources, units, adjustable=True).reset_index(drop=True)
    return grid(Sheet.of(rows, "Parameters"), most=_ALL) if len(rows) else None


def _constants(systems: Sequence[SystemPart], sources: dict[str, int], units: str) -> Grid:
    """The constants of all components, each once."""
    import pandas as pd

    rows = [_rows(system.provenance, sources, units, adjustable=False) for system in systems]
    whole = pd.concat(rows, ignore_index=True).drop_duplicates().sort_values("of", kind="stable") if rows else pd.DataFrame()
    return grid(Sheet.of(whole.reset_index(drop=True)), most=_ALL)


def _rows(provenance: Provenance, sources: dict[str, int], units: str, *, adjustable: bool) -> pd.DataFrame:
    """Some of the numbers, with their sources by number."""
    for source in provenance.sources:
        sources.setdefault(source, len(sources) + 1)
    frame = provenance.to_frame(units)
    frame["source"] = [f"[{sources[source]}]" for source in frame["source"]]
    return frame[[used.adjustable is adjustable for used in provenance.entries]]


def _feeds(form: Any) -> Grid | None:
    rows = []
    for name, feed in form.feed.items():
        if feed.flows is not None:
            what = " + ".join(f"{flow} {component}" for component, flow in feed.flows.items())
        else:
            what = (
                feed.composition
                if isinstance(feed.composition, str)
                else " + ".join(f"{v} {k}" for k, v in feed.composition.items())
            )
        rows.append([name, what, "by flow" if feed.flows is not None else f"by {feed.basis}", feed.flow or "", feed.remark])
    return _text_grid(["feed", "composition", "basis", "flow", "remark"], rows)


def _data(form: Any) -> Grid | None:
    rows = []
    for name, data in form.data.items():
        left = "; ".join(f"{', '.join(map(str, out.points))}: {out.because}" for out in data.without)
        rows.append([name, data.file, left, data.remark])
    return _text_grid(["measurements", "file", "points left out, and why", "remark"], rows)


def _text_grid(head: list[str], rows: list[list[str]]) -> Grid | None:
    """A table without the columns that say nothing; None where there are no rows."""
    kept = [j for j in range(len(head)) if any(row[j] for row in rows)]
    return Grid("", [head[j] for j in kept], [[row[j] for j in kept] for row in rows], [False] * len(kept)) if rows else None


def _inputs(study: Study, case: Case) -> Grid:
    sums: Mapping[str, str] = {study.name: study.checksum, **case.inputs()}
    return Grid("", ["file", "SHA-256"], [[name, checksum] for name, checksum in sums.items()], [False, False])


def _versions() -> Grid:
    rows = [[name, metadata.version(name)] for name in _PACKAGES] + [["Python", platform.python_version()]]
    return Grid("", ["package", "version"], rows, [False, False])
