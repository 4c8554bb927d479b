"""A study: components, models, feeds, measurements and tasks in one text file, that gives the same report again a year later."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from ..arguments import guarded
from ..errors import InputError, SleetfieldError
from ..files import read_text, write_whole
from ..results.base import Table
from ..results.columns import Column
from .case import Case
from .form import SystemForm
from .reading import checked
from .record import Record
from .report import write_report
from .running import Progress, run_tasks

_NOT_THE_MODEL = ("components", "solids")
_BESIDE_A_LIQUID = ("vapor", "henry", "virial", "poynting")


_LOCK = "# The numbers themselves, as they were when the study was locked."


@dataclass(frozen=True, eq=False)
class Study:
    """A checked study; `read_study` makes one.

    Attributes
    ----------
    text : str
        The file as it was written.
    folder : Path
        Where the files that it names are.
    name : str
        Its file's.
    form
        What it says, checked: ``form.title``, ``form.system["column"].liquid``, ``form.task[0].do``.
    """

    text: str
    folder: Path
    name: str
    form: Any

    @classmethod
    def of(cls, text: str, folder: str | Path = ".", name: str = "study.toml") -> Study:
        """A study from its text.

        Raises
        ------
        InputError
            If something in it is wrong: every fault with its line and field.
        """
        return cls(text, Path(folder), name, checked(text, name))

    def __reduce__(self) -> tuple[Any, ...]:
        return Study.of, (self.text, self.folder, self.name)

    @property
    def checksum(self) -> str:
        """SHA-256 of its text."""
        return hashlib.sha256(self.text.encode()).hexdigest()

    def case(self) -> Case:
        """Its systems, feeds and measurements, to work with."""
        return Case(self.form, self.folder)

    def run(
        self, folder: str | Path, *, changed_only: bool = False, overwrite: bool = False, progress: Progress | None = None
    ) -> StudyRun:
        """Do every task, into one folder: tables, figures, a report, a workbook.

        Parameters
        ----------
        folder : path
            Is made where it is not there.
        changed_only : bool
            Whether only what has changed since the last run into this folder is calculated again.
        overwrite : bool
            Whether results that are there may be replaced.
        progress : callable, optional
            Told how many tasks are done, how many there are, and whose turn it is.

        Raises
        ------
        InputError
            If the folder can't be made, or holds results and neither ``changed_only`` nor ``overwrite`` is said.
        """
        folder, case = Path(folder), self.case()
        records = run_tasks(case, folder, changed_only=changed_only, overwrite=overwrite, progress=progress)
        files = write_report(self, case, records, folder)
        return StudyRun(self, folder, tuple(records), tuple(files))

    def with_model(self, system: str, **options: Any) -> Study:
        """The same study with another model in one of its systems; everything else stays, comments included.

        Numbers of the old model (kij, parameters, fits) go with it; one liquid model in place of another keeps the vapor and Henry's constants.

        Parameters
        ----------
        system : str
            The system's name.
        **options
            Of its table: eos, or liquid and vapor, kij and so on.

        Raises
        ------
        InputError
            If there is no such system, or an option is none.
        """
        import tomlkit

        if system not in self.form.system:
            raise InputError(f"There is no system {system!r} in the study; there are {', '.join(self.form.system)}.")
        form = self.form.system[system]
        if form.file is not None:
            raise InputError(
                f"The system {system!r} comes from {form.file}: swap its model there, or write its components and model into the study."
            )
        document: Any = tomlkit.parse(self.text)
        table = document["system"][system]
        kept = {*_NOT_THE_MODEL, *(_BESIDE_A_LIQUID if form.liquid and options.get("liquid") else ())}
        for key in [k for k in SystemForm.model_fields if k not in kept]:
            table.pop(key, None)
        for key, value in {**options, "why": f"In place of {form.liquid or form.eos}, to see what it changes."}.items():
            table[key] = value
        if system in document.get("lock", {}):
            document["lock"].pop(system)
        return Study.of(tomlkit.dumps(document), self.folder, self.name)

    def locked(self) -> Study:
        """The same with every number of every system written into it, as it is today.

        A later databank cannot change its results then; a report says what differs.
        """
        import tomlkit

        document: Any = tomlkit.parse(self.text)
        case = self.case()
        document.pop("lock", None)
        text = tomlkit.dumps(document).replace(_LOCK, "").rstrip()
        lock = tomlkit.dumps({"lock": {name: case.system_today(name).to_dict() for name in self.form.system}})
        return Study.of(f"{text}\n\n{_LOCK}\n{lock}", self.folder, self.name)

    def differences_from_today(self) -> Mapping[str, tuple[Any, ...]]:
        """What the databank has otherwise today than the lock, by system; empty for those that are not locked."""
        case = self.case()
        return {name: _differences(case, name) for name in self.form.lock}

    def save(self, path: str | Path, *, overwrite: bool = False) -> Path:
        """Its text into a file."""
        write_whole(Path(path), self.text.encode(), overwrite)
        return Path(path)

    def __repr__(self) -> str:
        return f"<Study {self.form.title!r}: {len(self.form.system)} systems, {len(self.form.task)} tasks>"


def _differences(case: Case, name: str) -> tuple[Any, ...]:
    try:
        return case.locked(name).provenance().differences(case.system_today(name).provenance())
    except SleetfieldError as error:
        return (str(error),)


@guarded
def read_study(path: str | Path) -> Study:
    """The study in a TOML file (docs/guide/studies.md says how it is written).

    Raises
    ------
    InputError
        If it can't be read, or something in it is wrong: every fault with its line and field.

    Examples
    --------
    >>> import sleetfield as sl
    >>> study = sl.Study.of('''
    ... study = 1
    ... title = "A drum"
    ... [system.gas]
    ... components = ["methane", "propane", "n-heptane"]
    ... eos = "PR"
    ... [feed.inlet]
    ... composition = "0.7 methane + 0.2 propane + rest n-heptane"
    ... [[task]]
    ... do = "flash"
    ... name = "drum"
    ... system = "gas"
    ... feed = "inlet"
    ... T = "-20 degC"
    ... P = "20 bar"
    ... ''')
    >>> study.form.task[0].result(study.case()).n_phases
    2

    """
    path = Path(path)
    text = read_text(path)
    return Study(text, path.parent, path.name, checked(text, str(path)))


@dataclass(frozen=True, eq=False, repr=False)
class StudyRun(Table):
    """What became of a study.

    Attributes
    ----------
    study : Study
    folder : Path
    records : tuple of Record
        One for each task, failed ones among them.
    reports : tuple of Path
        What to open: the report, and a workbook of all tables.
    """

    study: Study
    folder: Path
    records: tuple[Record, ...]
    reports: tuple[Path, ...]

    word = "study"
    rows = "tasks"

    def title(self, units: str | None = None) -> str:
        """The study's."""
        return str(self.study.form.title)

    @property
    def failed(self) -> tuple[Record, ...]:
        """Tasks without a result."""
        return tuple(record for record in self.records if record.failed)

    def columns(self) -> list[Column]:
        """One row for each task."""
        answers = [f"FAILED: {r.failed}" if r.failed else r.answer or r.title for r in self.records]
        return [
            Column("task", [r.name for r in self.records]),
            Column("do", [r.do for r in self.records]),
            Column("answer", answers),
        ]

    @property
    def notes(self) -> list[str]:
        """What failed, what to watch, and what to open."""
        said = len({note for record in self.records for note in record.notes})
        notes = [f"{len(self.failed)} of {len(self.records)} tasks failed."] if self.failed else []
        notes += [f"{said} notes on the results are in the report: read them before relying on a number."] if said else []
        return [*notes, f"Open {', '.join(str(path) for path in self.reports)}."]
