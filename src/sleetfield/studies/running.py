"""A study done, task by task, into one folder. What is done stays done: a task's files come first, its record last."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Iterable
from dataclasses import replace
from pathlib import Path
from typing import Any

from ..errors import InputError, SleetfieldError
from ..export import drawn, save
from ..files import make_folder
from ..results.base import Shown
from ..system import System
from ..version import __version__
from .case import Case
from .record import FOLDER, Record, Sheet, figure_stem, file_name, path_of, read_record, write_order

_FIGURES = ("svg", "png", "pdf")

Progress = Callable[[int, int, str], None]
"""Told how many tasks are done, how many there are, and whose turn it is."""


def run_tasks(case: Case, folder: Path, *, changed_only: bool, overwrite: bool, progress: Progress | None = None) -> list[Record]:
    """Do every task, and give their records in order.

    Raises
    ------
    InputError
        If the folder can't be made, or holds results already and it wasn't said what is to become of them.
    """
    make_folder(folder / FOLDER)
    earlier = _earlier(folder)
    if earlier and not (changed_only or overwrite):
        raise InputError(
            f"{folder} holds results of a study already. Calculate again what has changed (changed_only=True; --changed-only), "
            "or everything (overwrite=True; --overwrite)."
        )
    records = []
    for number, task in enumerate(case.form.task):
        if progress is not None:
            progress(number, len(case.form.task), task.name)
        before = earlier.pop(task.name, None)
        record = _done(case, task, folder, before if changed_only else None)
        if before is not None:
            _remove_files({*before.files} - {*record.files}, folder)
        records.append(record)
    write_order(folder, [record.name for record in records])
    for record in earlier.values():
        _remove_files(record.files, folder)
        path_of(folder, record.name).unlink(missing_ok=True)
    if progress is not None:
        progress(len(records), len(records), "")
    return records


def _earlier(folder: Path) -> dict[str, Record]:
    found = {}
    for path in sorted((folder / FOLDER).glob("*.json")):
        try:
            record = read_record(path)
        except InputError:
            continue
        if record is not None:
            found[record.name] = record
    return found


def _done(case: Case, task: Any, folder: Path, earlier: Record | None) -> Record:
    """The record of a task: the earlier one where nothing has changed but what is told of it."""
    told = {"asks": task.asks, "remark": task.remark}
    about = {"name": task.name, "do": task.do, "systems": list(task.named("system")), **told}
    try:
        fingerprint = fingerprint_of(case, task)
        if earlier is not None and earlier.fingerprint == fingerprint and _whole(earlier, folder):
            record = replace(earlier, **told)
        else:
            record = _calculated(case, task, folder, {**about, "fingerprint": fingerprint})
    except Exception as error:  # whatever befalls a task, the others are done
        why = str(error) if isinstance(error, SleetfieldError) else f"an error that should not be, please report it: {error!r}"
        record = Record(**about, fingerprint="", failed=why)
    if record != earlier:
        record.write(folder)
    if record.fitted is not None:
        case.fitted[task.name] = System.from_dict(record.fitted)
    return record


def _whole(record: Record, folder: Path) -> bool:
    """Whether it succeeded and all its files are there."""
    return not record.failed and all((folder / name).exists() for name in record.files)


def _calculated(case: Case, task: Any, folder: Path, about: dict[str, Any]) -> Record:
    result = task.result(case)
    units = case.form.units
    figures, faults = _figures(result, [task.drawing() | options for options in task.figures], folder, task.name, case.form.formats)
    tables = [f"{file_name(task.name)}.{form}" for form in case.form.formats if form not in _FIGURES]
    for name in tables:
        save(result, folder / name, overwrite=True)
    files = [*tables, *figures]
    fitted = task.fitted(result)
    plain = fitted.to_dict() if isinstance(fitted, System) else None
    return Record(
        **about,
        **_shown(result, units, faults),
        figures=[name for name in figures if name.endswith(".svg")],
        files=files,
        fitted=plain,
    )


def _shown(result: Any, units: str, faults: list[str]) -> dict[str, Any]:
    """What there is to read of a result."""
    if not isinstance(result, Shown):
        sheet = Sheet.of(result)
        notes = [*result.attrs.get("notes", []), *faults]
        about: dict[str, Any] = {"title": str(result.attrs.get("title", "")), "answer": str(result.attrs.get("in_short", ""))}
        return {**about, "whole": sheet, "compared": Sheet.of(_by_place(result)), "shown": [sheet], "notes": notes}
    shown = [Sheet.of(frame, heading) for heading, frame in [("", result.summary_frame(units)), *result.sections(units)]]
    headings = {sheet.heading for sheet in shown}
    more = [Sheet.of(frame, heading) for heading, frame in result.sheets(units) if heading not in headings]
    about = {"title": result.title(units), "answer": result.in_short(units), "notes": [*result.notes, *faults]}
    return {
        **about,
        "whole": Sheet.of(result.to_frame(units)),
        "compared": Sheet.of(result.compared_frame()),
        "shown": shown,
        "more": more,
    }


def _by_place(table: Any) -> Any:
    """A property table with its rows named by temperature and pressure, where these tell them apart."""
    keys = [c for c in table.columns if str(c).startswith(("T [", "P ["))]
    if not keys or any(table[c].dtype.kind != "f" for c in keys):
        return table
    heads = [str(c).split(" ")[0] for c in keys]
    rows = table[keys].to_numpy().tolist()
    names = [", ".join(f"{head} {value:.6g}" for head, value in zip(heads, row, strict=True)) for row in rows]
    return table.drop(columns=keys).set_axis(names) if len(set(names)) == len(table) else table


def _figures(result: Any, wanted: list[dict[str, Any]], folder: Path, name: str, formats: list[str]) -> tuple[list[str], list[str]]:
    """The names of the figures drawn, and what is wrong with those that could not be."""
    written: list[str] = []
    faults = []
    for number, options in enumerate(wanted):
        if not hasattr(result, "plot") and "x" not in options:
            continue
        names = [f"{figure_stem(name, number)}.{form}" for form in dict.fromkeys(("svg", *formats)) if form in _FIGURES]
        try:
            figure = drawn(result, None, options)
            for file in names:
                save(figure, folder / file, overwrite=True)
        except (SleetfieldError, TypeError) as error:
            faults.append(f"Figure {number + 1} was not drawn: {error}")
            continue
        written += names
    return written, faults


def fingerprint_of(case: Case, task: Any) -> str:
    """SHA-256 of everything that a task's result follows from: the task, its systems' numbers, feeds, measurements, files, and the program's version."""
    data = {name: case.form.data[name].model_dump() for name in task.named("data")}
    files = [*(d["file"] for d in data.values()), *task.files]
    said = {
        "version": __version__,
        "units": case.form.units,
        "formats": case.form.formats,
        "task": task.model_dump(exclude={"asks", "remark"}),
        "systems": {name: case.system(name).to_dict() for name in task.named("system")},
        "feeds": {name: case.feed(name) for name in task.named("feed")},
        "data": data,
        "files": {name: case.checksum(name) for name in files},
        "component": repr(case.component(task.component)) if hasattr(task, "component") else "",
    }
    return hashlib.sha256(json.dumps(said, sort_keys=True).encode()).hexdigest()


def _remove_files(names: Iterable[str], folder: Path) -> None:
    """Files that a task does not have any more."""
    for name in names:
        (folder / name).unlink(missing_ok=True)
