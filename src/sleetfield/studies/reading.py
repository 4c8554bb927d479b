"""A study from its file: what is wrong is said with line and field."""

from __future__ import annotations

import difflib
import json
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Annotated, Any, Union

from pydantic import Field, ValidationError, create_model

from ..errors import InputError
from ..files import parse_toml, read_text
from ..specified import DIMENSIONS
from ..units import unit_of
from .form import StudyForm
from .lines import line_of
from .record import RESERVED, file_stems
from .tasks import KINDS, TASKS

_MOST_SHOWN = 10

_TASKS: Any = (list[Annotated[Union[TASKS], Field(discriminator="do")]], Field(default=[]))  # type: ignore  # noqa: UP007

Whole: Any = create_model(
    "Study",
    __base__=StudyForm,
    __doc__="A study: components with models, feeds, measurements, and what is to be done with them, in order.",
    task=_TASKS,
)
"""All of a study's file."""

Place = tuple[str | int, ...]


def read(path: Path) -> tuple[Any, str]:
    """The checked form of a study's file, and its text.

    Raises
    ------
    InputError
        If it can't be read, or something in it is wrong: every fault with its line and field.
    """
    text = read_text(path)
    return checked(text, str(path)), text


def checked(text: str, where: str) -> Any:
    """The checked form of a study's text."""
    content = parse_toml(text, where)
    try:
        form = Whole.model_validate(content)
    except ValidationError as error:
        _refuse(where, text, [_fault(content, one) for one in error.errors()])
    _refuse(where, text, list(_unknown_names(form)))
    return form


def _refuse(where: str, text: str, faults: list[tuple[Place, str]]) -> None:
    if not faults:
        return
    told = sorted({(line_of(text, place), _field(place), words) for place, words in faults})
    lines = [f"{where}, line {line}{f' ({field})' if field else ''}: {words}" for line, field, words in told[:_MOST_SHOWN]]
    more = f"\n... and {len(told) - _MOST_SHOWN} more." if len(told) > _MOST_SHOWN else ""
    raise InputError("\n".join(lines) + more)


def _field(place: Place) -> str:
    """A place as people read it: ``task 3, T``; ``feed.column, flow``."""
    parts = [f"{key} {number + 1}" if isinstance(number, int) else str(key) for key, number in _with_numbers(place)]
    return ", ".join(parts)


def _with_numbers(place: Place) -> Iterator[tuple[str | int, str | int]]:
    previous: str | int | None = None
    for key in place:
        if isinstance(key, int) and previous is not None:
            yield previous, key
            previous = None
            continue
        if previous is not None:
            yield previous, ""
        previous = key
    if previous is not None:
        yield previous, ""


def _fault(content: Any, error: Any) -> tuple[Place, str]:
    """Where a fault is, and what is wrong, what is allowed, what to do."""
    place = _place(content, error["loc"])
    kind, value, context = error["type"], error.get("input"), error.get("ctx", {})
    if kind == "extra_forbidden":
        return place, _no_such(str(place[-1]), _known_keys(content, place))
    if kind == "missing":
        return place, f"{place[-1]!r} is missing."
    if kind == "union_tag_invalid":
        return (*place, "do"), _no_such(str(value.get("do")), KINDS, "task")
    if kind == "union_tag_not_found":
        return place, f"'do' is missing: it says what the task does. There are {', '.join(KINDS)}."
    if kind == "value_error":
        return place, str(context["error"])
    if kind == "string_type" and isinstance(value, (int, float)):
        unit = unit_of(DIMENSIONS.get(str(place[-1]), "pressure"), "metric")
        return place, f'{value!r} is a bare number. Write it as text with its unit, such as "{value} {unit}".'
    if kind == "literal_error":
        return place, f"{value!r} is not {context['expected']}."
    if kind == "string_pattern_mismatch":
        return place, f'{value!r} is no name that files can have: up to 60 characters, none of \\ / : * ? " < > |.'
    return place, f"{error['msg'].replace('Input should be', 'it should be')}; got {value!r}."


def _place(content: Any, location: Iterable[Any]) -> Place:
    """Where an error is in the file: names of classes that a checker puts between are left out."""
    place: list[Any] = []
    here = content
    parts = list(location)
    for i, key in enumerate(parts):
        try:
            here = here[key]
        except (KeyError, IndexError, TypeError):
            if i < len(parts) - 1 or (place and not isinstance(here, dict)):
                continue
        place.append(key)
    return tuple(place)


def _known_keys(content: Any, place: Place) -> list[str]:
    """The keys that a table can have."""
    from .form import DataForm, FeedForm, LeftOut, PairNumbers, SystemForm
    from .tasks.states import Then

    if len(place) == 1:
        return list(Whole.model_fields)
    table = content
    for key in place[:-1]:
        table = table[key]
    if isinstance(table, dict) and table.get("do") in KINDS:
        return list(KINDS[table["do"]].model_fields)
    inner: dict[Any, Any] = {"without": LeftOut, "then": Then, "parameters": PairNumbers}
    outer: dict[Any, Any] = {"system": SystemForm, "feed": FeedForm, "data": DataForm}
    form = next((inner[key] for key in place[1:-1] if key in inner), outer.get(place[0]))
    return [] if form is None else list(form.model_fields)


def _no_such(name: str, known: Iterable[str], kind: str = "key") -> str:
    names = list(known)
    near = difflib.get_close_matches(name, names, n=1)
    hint = f" Did you mean {near[0]!r}?" if near else ""
    return f"there is no {kind} {name!r} here.{hint} There {'are' if len(names) > 1 else 'is'} {', '.join(names) or 'none'}."


def _unknown_names(form: Any) -> Iterator[tuple[Place, str]]:
    """Systems, feeds and measurements that tasks name and that are not there; tasks that stand twice; fits that come too late."""
    fits: set[str] = set()
    seen = set(RESERVED)
    for i, task in enumerate(form.task):
        if meeting := seen & (stems := file_stems(task.name, len(task.figures))):
            yield (
                ("task", i, "name"),
                f"there is a task {task.name!r} already, or one whose files are called {min(meeting)} too; give it another name.",
            )
        seen |= stems
        if task.do == "regress" and task.name in form.system:
            yield ("task", i, "name"), f"there is a system {task.name!r} already, and a fit's name is that of the fitted system."
        there = {"system": [*form.system, *fits], "feed": list(form.feed), "data": list(form.data)}
        for kind, known in there.items():
            for name in task.named(kind):
                if name not in known:
                    yield ("task", i), _no_such(name, known, kind)
        if task.do == "regress":
            fits.add(task.name)
    for name, system in form.system.items():
        for fit in system.fits:
            if fit not in fits:
                yield ("system", name, "fits"), _no_such(fit, fits, "fit")
    for name in form.lock:
        if name not in form.system:
            yield ("lock", name), _no_such(name, form.system, "system")


def schema_text() -> str:
    """The JSON Schema of a study's file."""
    return json.dumps(Whole.model_json_schema(), indent=1, ensure_ascii=False) + "\n"
