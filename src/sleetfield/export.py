"""Results into files: tables as .csv, .xlsx, .json, .md, .html; figures as .png, .svg, .pdf.

A file is written whole or not at all, and none is overwritten without being asked. Text that a spreadsheet would take for a
formula is written as text.
"""

from __future__ import annotations

import io
import json
import math
from collections.abc import Callable
from html import escape
from pathlib import Path
from typing import TYPE_CHECKING, Any

from . import system_files
from .arguments import guarded
from .errors import InputError
from .files import write_whole
from .mixture import Mixture
from .results.base import Shown
from .results.datasheet import Datasheet
from .system import System
from .tabular import kept_as_text
from .text import has_names, html, laid_out, laid_out_in_markdown, markdown_table, note_lines, page, picture
from .workbook import sheet, workbook

if TYPE_CHECKING:
    import pandas as pd

FIGURES = (".png", ".svg", ".pdf")


@guarded
def save(result: Any, path: str | Path, *, units: str | None = None, overwrite: bool = False, **plot_options: Any) -> Path:
    """Write a result, a table, a figure or a system to a file; the suffix says the format.

    Parameters
    ----------
    result
        Anything that a calculation returns, a data frame from `System.table`, matplotlib Axes (for figures), or a `System`.
    path
        ``.csv .xlsx .json .md .html`` for tables, ``.png .svg .pdf`` for figures, ``.toml .json`` for systems.
    units : {"SI", "metric", "US"}, optional
        For tables and figures; JSON is always SI, in full precision.
    overwrite : bool
        Whether a file that exists may be replaced.
    **plot_options
        Passed on to the result's ``plot``.

    Raises
    ------
    InputError
        If the suffix is unknown, the result has no such form, or the file exists or can't be written.

    """
    path = Path(path)
    suffix = path.suffix.lower()
    if isinstance(result, Mixture):
        data = _system(result, path)
    elif suffix in FIGURES:
        data = _figure(result, suffix, units, plot_options)
    elif suffix in _TABLES:
        data = _TABLES[suffix](result, units)
    else:
        known = " ".join((*_TABLES, *FIGURES))
        raise InputError(
            f"{path} has the suffix {suffix or 'of nothing'!r}, which is no format that can be written. Use one of {known}."
        )
    write_whole(path, data, overwrite)
    return path


def _system(system: Mixture, path: Path) -> bytes:
    forms = {".toml": system_files.as_toml, ".json": system_files.as_json}
    if path.suffix.lower() not in forms:
        raise InputError(f"{path} can't hold a system; those are kept in files that end in {' or '.join(forms)}.")
    return forms[path.suffix.lower()](system)


@guarded
def load(path: str | Path) -> System:
    """The system that `save` put into a .toml or .json file, to the last digit.

    Raises
    ------
    InputError
        If the file can't be read, is damaged, or of another version of the form, or names a model that there is none of.
    """
    return System.of(*system_files.read(Path(path)))


def _frame(result: Any, units: str | None) -> pd.DataFrame:
    import pandas as pd

    if isinstance(result, pd.DataFrame):
        return result
    if not hasattr(result, "to_frame"):
        raise InputError(f"A {type(result).__name__} is no table; it can't be written as one.")
    frame: pd.DataFrame = result.to_frame(units=units)
    return frame


def _notes(result: Any) -> list[str]:
    import pandas as pd

    return list(result.attrs.get("notes", [])) if isinstance(result, pd.DataFrame) else list(getattr(result, "notes", []))


def _about(result: Any, units: str | None) -> dict[str, str]:
    """What a file says of a result beside its tables."""
    if isinstance(result, Shown):
        return result.context(units)
    about: dict[str, str] = getattr(result, "attrs", {}).get("about", {})
    return about


def _csv(result: Any, units: str | None) -> bytes:
    """The table, below lines that begin with # and say what it is of."""
    frame = _frame(result, units)
    said = [*_about(result, units).items(), *(("note", note) for note in _notes(result))]
    head = "".join(f"# {key}: {' '.join(str(value).split())}\n" for key, value in said)
    safe = frame.map(kept_as_text).rename(index=kept_as_text, columns=kept_as_text)
    text: str = safe.to_csv(index=has_names(frame), lineterminator="\n")
    return (head + text).encode("utf-8")


def _xlsx(result: Any, units: str | None) -> bytes:
    import pandas as pd

    if isinstance(result, Datasheet):
        return sheet(result.layout(units), dict(result.sheets(units)))
    frame = _frame(result, units)
    sheets = {"result": frame, "notes": pd.DataFrame({"notes": _notes(result)})}
    if hasattr(result, "summary_frame"):
        summary = result.summary_frame(units=units)
        if not summary.equals(frame):
            sheets["summary"] = summary
    if isinstance(result, Shown):
        sheets |= dict(result.sheets(units))
    if about := _about(result, units):
        sheets["about"] = pd.DataFrame({"about": list(about), "what": list(about.values())})
    return workbook(sheets)


def _html(result: Any, units: str | None) -> bytes:
    """A page that needs nothing beside it."""
    title, sections = str(getattr(result, "attrs", {}).get("title", "")), []
    if isinstance(result, Datasheet):
        return page(result.title(units), laid_out(result.layout(units))).encode("utf-8")
    if isinstance(result, Shown):
        title, sections = result.title(units), result.sections(units)
    drawn = picture(result.plot) if isinstance(result, Shown) and result.has_picture else ""  # type: ignore[attr-defined]
    about = "".join(f"<dt>{escape(key)}</dt><dd>{escape(str(value))}</dd>" for key, value in _about(result, units).items())
    body = html(title, _frame(result, units), _notes(result), sections, drawn)
    return page(title, f"{body}<h5>About</h5><dl>{about}</dl>" if about else body).encode("utf-8")


def _json(result: Any, units: str | None) -> bytes:
    return json.dumps(as_plain(result), indent=2, ensure_ascii=False).encode("utf-8")


def as_plain(result: Any) -> Any:
    """A result as dictionaries, lists, numbers and text: full precision, SI; what is not known is null."""
    import pandas as pd

    if isinstance(result, pd.DataFrame):
        return _plain(
            {"result": "table", "about": _about(result, None), "rows": result.to_dict(orient="records"), "notes": _notes(result)}
        )
    return _plain({**result.to_dict(), **({"about": result.context("SI")} if isinstance(result, Shown) else {})})


def _plain(value: Any) -> Any:
    if isinstance(value, dict):
        return {str(k): _plain(v) for k, v in value.items()}
    if isinstance(value, (list, tuple)):
        return [_plain(v) for v in value]
    if hasattr(value, "item") and not isinstance(value, (str, bytes)):
        value = value.item()
    return None if isinstance(value, float) and not math.isfinite(value) else value


def _markdown(result: Any, units: str | None) -> bytes:
    if isinstance(result, Datasheet):
        return laid_out_in_markdown(result.layout(units)).encode("utf-8")
    frame = _frame(result, units)
    title = frame.attrs.get("title") or (result.title(units) if hasattr(result, "title") else "")
    parts = [f"# {title}", ""] if title else []
    sections = result.sections(units) if isinstance(result, Shown) else []
    more = [line for heading, part in sections for line in ("", f"## {heading}", "", markdown_table(part))]
    about = [f"- {key}: {value}" for key, value in _about(result, units).items() if key != "title"]
    end = ["", "About", *about] if about else []
    return "\n".join([*parts, markdown_table(frame), *more, *note_lines(_notes(result)), *end, ""]).encode("utf-8")


def _table_figure(frame: pd.DataFrame, options: dict[str, Any]) -> Any:
    from .diagrams.table import draw_table, usual_columns

    figure = _new_figure((9.6, 6.0))
    draw_table(frame, **{**usual_columns(frame), **{k: v for k, v in options.items() if v is not None}}, ax=figure.add_subplot())
    return figure


_TABLES: dict[str, Callable[[Any, str | None], bytes]] = {
    ".csv": _csv,
    ".xlsx": _xlsx,
    ".json": _json,
    ".md": _markdown,
    ".html": _html,
}


def _figure(result: Any, suffix: str, units: str | None, options: dict[str, Any]) -> bytes:
    return _in_form(drawn(result, units, options), suffix[1:])


@guarded
def drawn(result: Any, units: str | None, options: dict[str, Any]) -> Any:
    """What has a figure, drawn: for as many files as are wanted of it.

    Raises
    ------
    InputError
        If the result has no figure.
    """
    if hasattr(result, "get_figure"):
        return result.get_figure()
    if isinstance(result, Shown) and hasattr(result, "plot"):
        figure = _new_figure(result.figure_size)
        result.plot(figure.add_subplot(), units=units, **options)
    elif hasattr(result, "columns"):
        figure = _table_figure(result, options)
    else:
        raise InputError(f"A {type(result).__name__} has no figure; write it as a table ({' '.join(_TABLES)}).")
    # once for all files; a figure without a layout to find is drawn without a rehearsal
    figure.get_layout_engine().execute(figure)
    figure.set_layout_engine(None)
    return figure


def _new_figure(size: tuple[float, float]) -> Any:
    """A figure that keeps what measures text, which one without a canvas makes anew at every measurement."""
    from matplotlib.backends.backend_agg import FigureCanvasAgg
    from matplotlib.figure import Figure

    figure = Figure(figsize=size, layout="constrained")
    FigureCanvasAgg(figure)
    return figure


_UNDATED = {"svg": {"Date": None}, "pdf": {"CreationDate": None}, "png": {}}


def _in_form(figure: Any, form: str) -> bytes:
    """A figure as a file: the same one gives the same bytes."""
    import matplotlib as mpl

    buffer = io.BytesIO()
    with mpl.rc_context({"svg.hashsalt": "sleetfield"}):
        figure.savefig(buffer, format=form, dpi=133, metadata=_UNDATED[form])
    return buffer.getvalue()
