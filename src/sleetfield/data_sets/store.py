"""Measurements that are kept: in the user's folder and the case's, a set a file, as tables that anyone can read."""

from __future__ import annotations

import functools
import re
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

import numpy as np

from ..arguments import guarded
from ..components.databank import CASE, SHIPPED, USER, databank, folder_of
from ..errors import InputError, UnknownComponentError
from ..files import each_readable, locked, write_whole
from ..tabular import cell_text, read_said_and_rows
from ..units import one_in_si
from .data_set import Array, DataSet
from .headings import read_heading
from .kinds import KINDS, QUANTITIES
from .reading import read_data
from .shipped import shipped_sets
from .writing import as_text

FOLDER_VARIABLE = "SLEETFIELD_DATA"


class DataRecord(NamedTuple):
    """What there is of a set: components, kind, number of points, ranges of T (K) and P (Pa), source, layer, and the file of one that is kept; `read` gives it."""

    names: tuple[str, ...]
    kind: str
    points: int
    T: tuple[float, float]
    P: tuple[float, float]
    source: str
    layer: str
    path: Path | None
    shipped: DataSet | None = None

    @property
    def name(self) -> str:
        """What it is taken out by: the name of its file; nothing for what is shipped."""
        return "" if self.path is None else self.path.stem

    def read(self) -> DataSet:
        """The set."""
        if self.path is not None:
            return read_data(self.path)
        assert self.shipped is not None
        return self.shipped


def data_folder(layer: str) -> Path:
    """The folder of the "user" layer (see `FOLDER_VARIABLE` to have it elsewhere) or the "case" layer (``sleetfield-data`` in the working folder)."""
    return folder_of(layer, "data", FOLDER_VARIABLE)


@guarded
def store_data(data: DataSet, layer: str = USER, *, overwrite: bool = False) -> Path:
    """Keep a set for later.

    Raises
    ------
    InputError
        If the layer has a set of the same components, kind and source already, or the file can't be written.
    """
    folder = data_folder(layer)
    words = [" ".join(sorted(data.names)), data.kind, data.source]
    path = folder / ("--".join(re.sub(r"[^a-z0-9]+", "-", w.lower()).strip("-")[:80] for w in words) + ".csv")
    with locked(folder):
        if path.exists() and not overwrite:
            raise InputError(
                f"The {layer} layer has {data.kind} of {' and '.join(data.names)} from {data.source} already, in {path}. "
                "Name another source, or ask to overwrite it (overwrite=True; --overwrite)."
            )
        write_whole(path, as_text(data).encode(), overwrite)
    return path


@guarded
def data_records(*components: str, kind: str | None = None, layer: str | None = None) -> list[DataRecord]:
    """The sets that there are, the case's first, then the user's, then what is shipped: of some components, of a kind, of a layer.

    Raises
    ------
    InputError
        If there is no such kind.
    """
    if kind is not None and kind not in KINDS:
        raise InputError(f"There is no kind of data {kind!r}; there are {', '.join(KINDS)}.")
    wanted = {databank().find(c).name for c in components}
    found = [r for name in (CASE, USER) if layer in (None, name) for r in _in_folder(name)]
    found += _shipped() if layer in (None, SHIPPED) else ()
    return [r for r in found if wanted <= set(r.names) and kind in (None, r.kind)]


@guarded
def remove_data(name: str, layer: str = USER) -> Path:
    """Take a kept set out of the user's or the case's folder, by the ``name`` that its record has, which is its file's.

    Raises
    ------
    UnknownComponentError
        If the layer does not have it.
    """
    have = {path.stem: path for path in sorted(data_folder(layer).glob("*.csv"))}
    if name not in have:
        raise UnknownComponentError(f"The {layer} layer has no measurements {name!r}; it has {', '.join(have) or 'none'}.")
    with locked(data_folder(layer)):
        have[name].unlink(missing_ok=True)
    return have[name]


@functools.cache
def _shipped() -> tuple[DataRecord, ...]:
    return tuple(
        DataRecord(d.names, d.kind, len(d), _ends(d["T"]), _ends(d["P"]), d.source, SHIPPED, None, d) for d in shipped_sets()
    )


def _ends(values: Array) -> tuple[float, float]:
    known = values[np.isfinite(values)]
    return (float(known.min()), float(known.max())) if known.size else (float("nan"), float("nan"))


def _in_folder(layer: str) -> Iterator[DataRecord]:
    for _, record in each_readable(data_folder(layer), ".csv", lambda path: _summary(path, layer, path.stat().st_mtime_ns)):
        yield record


@functools.lru_cache(maxsize=20_000)
def _summary(path: Path, layer: str, _changed: int) -> DataRecord:
    """What a file says in short, without making the set."""
    said, rows = read_said_and_rows(path)
    names = tuple(n.strip() for n in said.get("components", "").split(",") if n.strip())
    kind = said.get("kind", "")
    if not names or not kind:
        # a table that somebody put there
        whole = read_data(path)
        names, kind = whole.names, whole.kind
    ranges = {}
    for i, cell in enumerate(rows[0][1]):
        heading = read_heading(str(cell))
        if heading is not None and heading.quantity in ("T", "P") and not heading.uncertain:
            texts = [cell_text(c, i, str(path)) for _, c in rows[1:]]
            values = np.array([float(t) for t in texts if t])
            if values.size:
                zero, size = _line(heading.unit, QUANTITIES[heading.quantity].dimension)
                ranges[heading.quantity] = zero + size * values
    T, P = (_ends(ranges.get(q, np.empty(0))) for q in ("T", "P"))
    return DataRecord(names, kind, len(rows) - 1, T, P, said.get("source", path.name), layer, path)


@functools.cache
def _line(unit: str, dimension: str) -> tuple[float, float]:
    zero, one = (one_in_si(f"{x} {unit}", dimension, "a unit") for x in (0.0, 1.0))
    return zero, one - zero
