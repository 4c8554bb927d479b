"""What a task of a study is: a table of the file that knows how to calculate its result."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterator, Mapping
from typing import TYPE_CHECKING, Any

from pydantic import Field

from ..form import Densities, Energies, Entropies, Form, Fractions, Pressures, Temperatures, Volumes

if TYPE_CHECKING:
    from ...mixture import Mixture
    from ..case import Case

NAME = r"[^\\/:*?\"<>|\x00-\x1f]{1,60}"
"""Of a task: its files are called by it."""


class Work(Form):
    """A calculation: fields that say what is asked, and `result`.

    A subclass has ``do``, a literal that names it in files, and

    1. ``result(case)``, which calculates: systems, feeds and measurements come from the case by name;
    2. fields ``system``, ``systems``, ``feed``, ``feeds``, ``data`` where it takes these; what a task rests on follows from them (`named`).
    """

    do: str

    @abstractmethod
    def result(self, case: Case) -> Any:
        """A result with a title, a table and notes; or a data frame of `System.table`."""

    def fitted(self, result: Any) -> Mixture | None:
        """The system that it makes, which later tasks have under the task's name."""
        return None

    def drawing(self) -> dict[str, Any]:
        """Options of every figure of it, beside those that the file says."""
        return {}

    def options(self, *without: str) -> dict[str, Any]:
        """What was given of its own fields, by name."""
        not_own = {"do", *Shared.model_fields, *without}
        return {k: v for k in type(self).model_fields if k not in not_own and (v := getattr(self, k)) is not None}

    def named(self, kind: str) -> tuple[str, ...]:
        """Names that it has of a ``kind``: system, feed, data."""
        return tuple(dict.fromkeys(_names(self, (kind, f"{kind}s"))))

    @property
    def files(self) -> tuple[str, ...]:
        """Files that it names itself."""
        return tuple(dict.fromkeys(_names(self, ("file", "measured"))))


def _names(work: Work, fields: tuple[str, ...]) -> Iterator[str]:
    for field in fields:
        value = getattr(work, field, None) or ()
        yield from (value,) if isinstance(value, str) else tuple(value)
    inner = getattr(work, "calculation", None)
    if isinstance(inner, Work):
        yield from _names(inner, fields)


class Shared(Form):
    """What every task of a study has beside its work."""

    name: str = Field(pattern=rf"^{NAME}$", description="Its own; its files and, of a fit, the fitted system are called by it.")
    asks: str = Field("", description="The question that it answers, as the report prints it.")
    remark: str = Field("", description="What a reader has to know besides.")
    figures: list[dict[str, Any]] = Field(default=[{}], description="A table of options for each figure; [] for none.")


class Specified(Form):
    """Two of these fix a state."""

    T: Temperatures | None = None
    P: Pressures | None = None
    H: Energies | None = None
    S: Entropies | None = None
    U: Energies | None = None
    V: Volumes | None = None
    density: Densities | None = None
    vapor_fraction: Fractions | None = None
    vapor_mass_fraction: Fractions | None = None

    def given(self) -> dict[str, Any]:
        """What is given, in SI."""
        from ...specified import series_of

        return series_of({k: None if (v := getattr(self, k)) is None else str(v) for k in Specified.model_fields})


def marked(points: Mapping[str, Specified]) -> dict[str, Any]:
    """Options of a figure that has points marked."""
    places = {name: point.given() for name, point in points.items()}
    return {"marks": {name: (float(at["T"]), float(at["P"])) for name, at in places.items()}} if places else {}
