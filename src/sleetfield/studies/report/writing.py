"""A report's files, from its contents and the templates."""

from __future__ import annotations

import base64
import re
from collections.abc import Sequence
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Any

from ...files import write_whole
from ...text import markdown_table
from ...workbook import workbook
from ..form import quoted
from ..record import Record
from .contents import Contents, Grid, contents_of

if TYPE_CHECKING:
    import pandas as pd

    from ..case import Case
    from ..study import Study

HTML, MARKDOWN, WORKBOOK = "report.html", "report.md", "tables.xlsx"


def write_report(study: Study, case: Case, records: Sequence[Record], folder: Path) -> list[Path]:
    """The report as HTML and Markdown, and the workbook, into the folder of a run."""
    contents = contents_of(study, case, records)
    pages = {
        HTML: rendered("report.html.jinja", contents=contents, figure=lambda name: _as_address(folder / name)).encode(),
        MARKDOWN: rendered("report.md.jinja", contents=contents).encode(),
        WORKBOOK: _workbook(contents, records, study.form.units),
    }
    for name, data in pages.items():
        write_whole(folder / name, data, overwrite=True)
    return [folder / name for name in pages]


@cache
def _environment() -> Any:
    from jinja2 import Environment, PackageLoader, StrictUndefined, select_autoescape

    environment = Environment(
        loader=PackageLoader("sleetfield.studies"),
        autoescape=select_autoescape(["html.jinja"]),
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
        keep_trailing_newline=True,
    )
    environment.filters["quoted"] = quoted
    environment.filters["table"] = lambda grid: markdown_table(_frame(grid))
    return environment


def rendered(template: str, **values: Any) -> str:
    """A template of `studies/templates` with values in it."""
    text: str = _environment().get_template(template).render(**values)
    return re.sub(r"\n{3,}", "\n\n", text)


def _as_address(path: Path) -> str:
    """A figure inside the page."""
    return f"data:image/svg+xml;base64,{base64.b64encode(path.read_bytes()).decode()}"


def _workbook(contents: Contents, records: Sequence[Record], units: str) -> bytes:
    import pandas as pd

    sheets: dict[str, pd.DataFrame] = {"Summary": _summary(contents)}
    titles = {"Summary": contents.title}
    if contents.notes:
        sheets["Notes"] = pd.DataFrame(
            [[n.number, n.text, ", ".join(n.tasks)] for n in contents.notes], columns=["", "note", "tasks"]
        )
        titles["Notes"] = "What to watch"
    for record in records:
        if record.whole is not None:
            sheets[record.name], titles[record.name] = record.whole.frame(), record.title
        for sheet in [s for s in (*record.shown, *record.more) if s.heading]:
            name = f"{record.name}, {sheet.heading}"
            sheets[name], titles[name] = sheet.frame(), f"{record.title}: {sheet.heading}"
    for system in contents.systems:
        name = f"Numbers of {system.name}"
        sheets[name], titles[name] = system.provenance.to_frame(units), system.provenance.title()
    for name, one in (("Feeds", contents.feeds), ("Inputs", contents.inputs), ("Versions", contents.versions)):
        if one is not None:
            sheets[name] = _frame(one)
    return workbook(sheets, titles)


def _summary(contents: Contents) -> pd.DataFrame:
    import pandas as pd

    rows = [
        [t.record.name, t.record.asks, f"Failed: {t.record.failed}" if t.record.failed else t.record.answer or t.record.title]
        for t in contents.tasks
    ]
    return pd.DataFrame(rows, columns=["task", "question", "answer"])


def _frame(one: Grid) -> pd.DataFrame:
    import pandas as pd

    return pd.DataFrame(one.rows, columns=one.head)
