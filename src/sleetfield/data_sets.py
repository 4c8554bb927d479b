"""Measured vapor-liquid equilibria of mixtures: read from tables, with their uncertainties, kept with their source.

A table has one row a point, and headings such as

    T [degC], P [kPa], x acetone, y acetone, u(P) [kPa]

with ``x`` of the liquid and ``y`` of the vapor, by mole; ``u(...)`` is the standard uncertainty of a quantity. Of the fractions of C components C - 1 are
enough. Columns with other headings are passed over.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from .components.databank import databank
from .errors import InputError
from .measurements import read_columns
from .tabular import read_rows
from .text import heading
from .units import from_si

if TYPE_CHECKING:
    import pandas as pd

Array = NDArray[np.float64]

_FRACTION = re.compile(r"\s*([xy])\s+(.+?)\s*(?:\[.*\])?\s*")
_SUM = 1e-6
_ISOBARIC = 2e-3
"""Share that the pressures of an isobar may differ by."""


@dataclass(frozen=True, eq=False)
class DataSet:
    """Measured points of vapor-liquid equilibrium.

    Attributes
    ----------
    names : tuple of str
        Components.
    T, P : (N,)
        K, Pa; NaN where it was not measured.
    x, y : (N, C)
        Mole fractions of liquid and vapor; NaN where they were not measured.
    uncertainty : mapping of str to (N,)
        Standard uncertainties of "T", "P", "y" where they are known, in SI.
    source : str
    excluded : mapping of int to str
        Points that are left out, with the reason.
    """

    names: tuple[str, ...]
    T: Array
    P: Array
    x: Array
    y: Array
    uncertainty: Mapping[str, Array] = field(default_factory=dict)
    source: str = "given in code"
    excluded: Mapping[int, str] = field(default_factory=dict)

    def __post_init__(self) -> None:
        for letter in ("x", "y"):
            values = getattr(self, letter)
            bad = np.isfinite(values).all(axis=1) & ((np.abs(values.sum(axis=1) - 1.0) > _SUM) | (values < -_SUM).any(axis=1))
            if bad.any():
                i = int(np.argmax(bad))
                raise InputError(
                    f"{self.source}: the fractions {letter} of point {i} are {', '.join(f'{v:g}' for v in values[i])}; they are not negative and sum to 1."
                )
        for letter in ("T", "P"):
            if (getattr(self, letter) <= 0.0).any():
                raise InputError(f"{self.source}: {letter} is to be positive and absolute in every point.")

    def __len__(self) -> int:
        return len(self.T)

    @property
    def used(self) -> NDArray[np.bool_]:
        """Which points are not left out ``(N,)``."""
        return np.array([i not in self.excluded for i in range(len(self))], dtype=bool)

    @property
    def given(self) -> str:
        """Which of T and P points are calculated at: P for isobaric ones, T for all others."""
        P = self.P[np.isfinite(self.P)]
        same = len(P) > 1 and np.ptp(P) <= _ISOBARIC * P.mean()
        varies = np.isfinite(self.T).sum() > 1 and np.nanmax(self.T) - np.nanmin(self.T) > 0.1
        return "P" if (same and varies) or not np.isfinite(self.T).any() else "T"

    def without(self, points: Iterable[int], reason: str) -> DataSet:
        """The same with points left out; the reason is kept.

        Raises
        ------
        InputError
            If there is no such point.
        """
        chosen = [int(i) for i in points]
        for i in chosen:
            if not 0 <= i < len(self):
                raise InputError(f"{self.source} has points 0 to {len(self) - 1}; there is no point {i}.")
        return replace(self, excluded={**self.excluded, **dict.fromkeys(chosen, reason)})

    def to_frame(self, units: str = "SI") -> pd.DataFrame:
        """One row for each point."""
        import pandas as pd

        columns: dict[str, Any] = {}
        for name, dimension in (("T", "temperature"), ("P", "pressure")):
            if np.isfinite(getattr(self, name)).any():
                columns[heading(name, dimension, units)] = from_si(getattr(self, name), dimension, units)
        for letter in ("x", "y"):
            values = getattr(self, letter)
            if np.isfinite(values).any():
                columns |= {f"{letter} {name}": values[:, i] for i, name in enumerate(self.names)}
        columns["left out"] = [self.excluded.get(i, "") for i in range(len(self))]
        return pd.DataFrame(columns)


def read_data(path: str | Path, components: Sequence[str] | None = None, *, source: str | None = None) -> DataSet:
    r"""Measured vapor-liquid equilibria from a .csv or .xlsx file; the module's docstring says what headings it has.

    Parameters
    ----------
    path
        The file.
    components : sequence of str, optional
        All components, where the headings don't name the one whose fractions are the rest.
    source : str, optional
        Where the points came from; the file's name by default.

    Raises
    ------
    InputError
        If the file can't be read, lacks a column, or has impossible numbers; with file, line and column.
    UnknownComponentError
        If a heading names no component.

    Examples
    --------
    >>> import sleetfield as sl
    >>> import pathlib, tempfile
    >>> path = pathlib.Path(tempfile.mkdtemp()) / "still.csv"
    >>> _ = path.write_text("T [degC],P [kPa],x ethanol,y ethanol\n78.4,101.3,0.9,0.91\n80.0,101.3,0.5,0.65\n")
    >>> sl.read_data(path, ["ethanol", "water"]).given
    'P'

    """
    path = Path(path)
    found = [_FRACTION.fullmatch(str(cell or "")) for cell in read_rows(path)[0][1]]
    written = {(m[1], m[2]) for m in found if m}
    if not written:
        raise InputError(f"{path} has no column of a composition. Head them 'x acetone' (liquid) and 'y acetone' (vapor), by mole.")
    named = {text: databank().find(text).name for _, text in sorted(written)}
    names = tuple(dict.fromkeys([databank().find(c).name for c in components or ()] or named.values()))
    if strange := [text for text, name in named.items() if name not in names]:
        raise InputError(f"{path} has a column of {strange[0]}, which is not among {', '.join(names)}.")
    wanted = {"T": "temperature", "P": "pressure", "u(T)": "temperature_difference", "u(P)": "pressure", "u(y)": "fraction"}
    fractions = {f"{letter} {text}": "fraction" for letter, text in written}
    columns = read_columns(path, {}, {**wanted, **fractions})
    count = len(next(iter(columns.values())))
    blank = np.full(count, np.nan)
    x, y = (_fractions(path, letter, names, named, columns, count) for letter in "xy")
    if "T" not in columns and "P" not in columns:
        raise InputError(f"{path} has neither T nor P. Head one with its unit, such as 'T [degC]'.")
    uncertainty = {key[2:-1]: columns[key] for key in ("u(T)", "u(P)", "u(y)") if key in columns}
    if any((values <= 0.0).any() for values in uncertainty.values()):
        raise InputError(f"{path}: uncertainties must be positive.")
    return DataSet(names, columns.get("T", blank), columns.get("P", blank), x, y, uncertainty, source or path.name)


def _fractions(
    path: Path, letter: str, names: tuple[str, ...], named: Mapping[str, str], columns: Mapping[str, Array], count: int
) -> Array:
    """Fractions ``(N, C)`` of a phase, one of them perhaps the rest."""
    values = np.full((count, len(names)), np.nan)
    for text, name in named.items():
        if f"{letter} {text}" in columns:
            values[:, names.index(name)] = columns[f"{letter} {text}"]
    lacking = [i for i in range(len(names)) if np.isnan(values[:, i]).all()]
    if len(lacking) == len(names):
        return values
    if len(lacking) > 1 or len(names) < 2:
        words = f"lacks columns {letter} of {', '.join(names[i] for i in lacking)}" if lacking else "names one component alone"
        raise InputError(f"{path} {words}. Name all components: read_data(path, components=[...]); one may be the rest.")
    if lacking:
        values[:, lacking[0]] = 1.0 - np.delete(values, lacking[0], axis=1).sum(axis=1)
    return values
