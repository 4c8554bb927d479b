"""Measurements from tables: files of text (.csv, .tsv, .txt) and .xlsx, data frames, and ThermoML."""

from __future__ import annotations

import warnings
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..components.databank import databank
from ..errors import InputError, SleetfieldWarning
from ..tabular import Rows, as_it_was, as_number, cell_text, read_said_and_rows
from ..units import DIMENSIONS, one_in_si, unit_of
from .data_set import DataSet, uncertainty_of
from .headings import NUMBER, PERCENT, PLAIN, Heading, read_heading
from .kinds import FRACTIONS, QUANTITIES

if TYPE_CHECKING:
    import pandas as pd

Array = NDArray[np.float64]


_COLD = 160.0
"""K; mixtures of what boils above it are hardly ever measured below it, and in degrees Celsius usually are."""
_BLANK = {"", "-", "nan", "n/a", "none"}


@guarded
def read_data(
    path: str | Path, components: Sequence[str] | None = None, *, kind: str = "", solid: str = "", source: str | None = None
) -> DataSet:
    r"""Measurements from a table in a file.

    The first row has the headings, such as ``T [degC]``, ``P [kPa]``, ``x acetone``, ``y acetone``, ``x' 1-butanol``, ``gamma_inf acetone``, ``HE [J/mol]``,
    ``Henry hydrogen [bar]``, ``density [kg/m3]``, ``u(P) [%]``, ``weight``, ``left out``; docs/regression.md has them all. Lines before it may say
    ``# source: ...``, ``# kind: azeotrope``, ``# solid: benzoic acid``, ``# components: acetone, 1-butanol`` and ``# P: 101.3 kPa`` (or T) of all points. Of the
    fractions of C components C - 1 are enough.

    Parameters
    ----------
    path
        A .csv, .tsv, .txt (UTF-8; comma, semicolon or tab) or .xlsx file; of a ThermoML file (.xml) that holds a single set, this.
    components : sequence of str, optional
        All components, where neither headings nor the file name the one whose fractions are the rest.
    kind, solid : str, optional
        What the file does not say itself.
    source : str, optional
        Where the points came from; what the file says, or its name, by default.

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
    >>> _ = path.write_text("# P: 101.3 kPa\nT [degC],x ethanol,y ethanol\n78.4,0.9,0.91\n80.0,0.5,0.65\n")
    >>> sl.read_data(path, ["ethanol", "water"]).given
    'P'

    """
    path = Path(path)
    if path.suffix.lower() == ".xml":
        from .thermoml import read_thermoml

        file = read_thermoml(path)
        if len(file.sets) != 1:
            left = f" ({'; '.join(file.skipped)})" if file.skipped else ""
            raise InputError(
                f"{path} holds {len(file.sets)} sets that are understood{left}; sl.read_thermoml(path) gives them all."
            )
        return file.sets[0]
    said, rows = read_said_and_rows(path)
    given = {"kind": kind, "solid": solid, "source": source or ""}
    return _Table(str(path), rows, {**said, **{k: v for k, v in given.items() if v}}, components, path.name).data()


@guarded
def data_from_frame(
    frame: pd.DataFrame, components: Sequence[str] | None = None, *, kind: str = "", solid: str = "", source: str = "a data frame"
) -> DataSet:
    """Measurements from a data frame whose columns have the headings that `read_data` reads.

    Examples
    --------
    >>> import pandas as pd
    >>> import sleetfield as sl
    >>> frame = pd.DataFrame({"T [K]": [330.0, 340.0], "x' 1-butanol": [0.018, 0.017], "x'' 1-butanol": [0.46, 0.44]})
    >>> sl.data_from_frame(frame, ["1-butanol", "water"]).kind
    'liquid-liquid'

    """
    rows: Rows = [(1, [str(c) for c in frame.columns])]
    rows += [(i + 2, ["" if _missing(v) else v for v in row]) for i, row in enumerate(frame.itertuples(index=False))]
    return _Table(source, rows, {"kind": kind, "solid": solid, "source": source}, components, source).data()


def _missing(value: Any) -> bool:
    return value is None or (isinstance(value, float) and np.isnan(value))


class _Table:
    """Rows of a table as they become a set."""

    def __init__(self, where: str, rows: Rows, said: Mapping[str, str], components: Sequence[str] | None, name: str) -> None:
        self.where, self.body, self.said, self.name = where, rows[1:], said, name
        self.headings: dict[int, Heading] = {}
        self.weight: int | None = None
        self.left_out: int | None = None
        for i, cell in enumerate(rows[0][1]):
            text = str(cell or "").strip()
            found = read_heading(text)
            if text.lower() == "weight":
                self.weight = i
            elif text.lower() in ("left out", "excluded"):
                self.left_out = i
            elif found is not None:
                self.headings[i] = found
        if not self.body:
            raise InputError(f"{where} has headings and no points.")
        named = [] if components is None else list(components)
        self.components = named or [n.strip() for n in said.get("components", "").split(",") if n.strip()]
        self.names = self._names()

    def _names(self) -> tuple[str, ...]:
        written = [h.component for h in self.headings.values() if h.component]
        own = [databank().find(c).name for c in self.components]
        found = {text: self._component(text) for text in written}
        solid = [databank().find(self.said["solid"]).name] if self.said.get("solid") else []
        names = tuple(dict.fromkeys(own or [*found.values(), *solid]))
        if not names:
            raise InputError(
                f"{self.where} names no component. Head columns 'x acetone' (liquid) and 'y acetone' (vapor), by mole, or say '# components: ...'."
            )
        if strange := [text for text, name in found.items() if name not in names]:
            raise InputError(f"{self.where} has a column of {strange[0]}, which is not among {', '.join(names)}.")
        return names

    def _component(self, text: str) -> str:
        """A component by its name, or by its number among those that are named for the whole table."""
        if not text.startswith(NUMBER):
            return databank().find(text).name
        number = int(text.removeprefix(NUMBER))
        if number > len(self.components):
            raise InputError(
                f"{self.where} has a column of component {number}, and {len(self.components) or 'none'} are named. Name them in order: "
                "components=['acetone', 'water'], --components 'acetone + water', or a line '# components: acetone, water'."
            )
        return databank().find(self.components[number - 1]).name

    def data(self) -> DataSet:
        values: dict[str, Array] = {}
        places: dict[tuple[str, str, bool], int] = {}
        for i, h in self.headings.items():
            key = (h.quantity, self._component(h.component) if h.component else "", h.uncertain)
            if key in places:
                raise InputError(f"{self.where}, line 1: the column {self._words(h)!r} stands twice.")
            places[key] = i
        for q in QUANTITIES:
            columns = {name: i for (quantity, name, uncertain), i in places.items() if quantity == q and not uncertain}
            if columns:
                values[q] = self._quantity(q, columns)
        values |= self._constants(values)
        self._check_kelvin(values)
        if len(self.names) == 1:
            values.pop("x", None)
        if not values.keys() & {"T", "P"}:
            raise InputError(
                f"{self.where} has neither T nor P. Head one with its unit, such as 'T [degC]', or say '# P: 101.3 kPa'."
            )
        uncertainty = {q: self._uncertainty(q, i, values) for (q, _, uncertain), i in places.items() if uncertain and q in values}
        said = self.said
        solid = databank().find(said["solid"]).name if said.get("solid") else ""
        weight = None if self.weight is None else self._numbers(self.weight, "weight")
        source = said.get("source") or self.name
        return DataSet(
            self.names, values, said.get("kind", ""), uncertainty, weight, source, self._left_out(), solid, said.get("remark", "")
        )

    def _check_kelvin(self, values: Mapping[str, Array]) -> None:
        """A warning where temperatures in kelvin look like degrees Celsius."""
        T = values.get("T", np.empty(0))
        T = T[np.isfinite(T)]
        if T.size and 0.0 < T.min() and T.max() < _COLD and not any((databank().find(n).Tb or _COLD) < _COLD for n in self.names):
            warnings.warn(
                f"{self.where}: temperatures are {T.min():g} to {T.max():g} K, which look like degrees Celsius. Head the column 'T [degC]' if they are.",
                SleetfieldWarning,
                stacklevel=5,
            )

    def _words(self, h: Heading) -> str:
        return f"{h.quantity} {h.component}".strip()

    def _left_out(self) -> dict[int, str]:
        if self.left_out is None:
            return {}
        cells = [c[self.left_out] if self.left_out < len(c) else None for _, c in self.body]
        texts = ["" if c is None else str(c).strip() for c in cells]
        return {i: as_it_was(t) for i, t in enumerate(texts) if t}

    def _constants(self, values: Mapping[str, Array]) -> dict[str, Array]:
        """T or P that the file says of all points."""
        found = {}
        for q in ("T", "P"):
            text = self.said.get(q.lower())
            if text and q not in values:
                value = one_in_si(text, QUANTITIES[q].dimension, f"{q} of {self.where}")
                found[q] = np.full(len(self.body), value)
        return found

    # ---- columns ----

    def _numbers(self, place: int, what: str) -> Array:
        numbers = np.empty(len(self.body))
        for k, (line, cells) in enumerate(self.body):
            where = f"{self.where}, line {line}, column {place + 1} ({what})"
            text = cell_text(cells, place, where)
            numbers[k] = np.nan if text.lower() in _BLANK else as_number(text, where)
        return numbers

    def _in_si(self, place: int, dimension: str) -> Array:
        h = self.headings[place]
        if not h.unit and dimension != "fraction":
            raise InputError(
                f"{self.where}: the column {self._words(h)!r} has no unit. Head it with one, such as '{self._words(h)} [{DIMENSIONS[dimension][1]}]'."
            )
        numbers = self._numbers(place, self._words(h))
        if dimension == "fraction":
            return numbers
        scale = [one_in_si(f"{x} {h.unit}", dimension, f"{self.where}: the unit of {self._words(h)}") for x in (0.0, 1.0)]
        return np.asarray(scale[0] + (scale[1] - scale[0]) * numbers)

    def _quantity(self, q: str, columns: Mapping[str, int]) -> Array:
        quantity = QUANTITIES[q]
        if q in FRACTIONS:
            return self._fractions(q, columns)
        if not quantity.of_components:
            return self._in_si(columns[""], quantity.dimension)
        result = np.full((len(self.body), len(self.names)), np.nan)
        for name, i in columns.items():
            if not name:
                raise InputError(f"{self.where}: the column {q!r} names no component. Head it like '{q} {self.names[0]}'.")
            result[:, self.names.index(name)] = self._in_si(i, quantity.dimension)
        return result

    def _fractions(self, q: str, columns: Mapping[str, int]) -> Array:
        """Mole fractions ``(N, C)`` of a phase, one of them perhaps the rest."""
        names = self.names
        if "" in columns:
            if len(names) != 2 or len(columns) > 1:
                raise InputError(f"{self.where}: a column {q!r} names no component. Head it like '{q} {names[0]}'.")
            columns = {names[0]: columns[""]}
        bases = {self._basis(self.headings[i]) for i in columns.values()}
        if len({basis for basis, _ in bases}) > 1:
            raise InputError(f"{self.where}: the fractions {q} are by mole and by mass. Give all by one of them.")
        values = np.full((len(self.body), len(names)), np.nan)
        for name, i in columns.items():
            values[:, names.index(name)] = self._in_si(i, "fraction") * self._basis(self.headings[i])[1]
        lacking = [i for i in range(len(names)) if np.isnan(values[:, i]).all()]
        if len(names) < 2:
            if len(self.components) < 1:
                raise InputError(
                    f"{self.where} names one component alone. Name all: read_data(path, components=[...]); one may be the rest."
                )
            return np.ones((len(self.body), 1))
        if len(lacking) > 1:
            raise InputError(
                f"{self.where} lacks columns {q} of {', '.join(names[i] for i in lacking)}. Name all components: read_data(path, components=[...]); one may be the rest."
            )
        if lacking:
            values[:, lacking[0]] = 1.0 - np.delete(values, lacking[0], axis=1).sum(axis=1)
            rounding = np.abs(values[:, lacking[0]]) < 1e-12
            values[rounding, lacking[0]] = 0.0
        if next(iter(bases))[0] == "mass":
            values = self._by_mole(values)
        return values

    def _basis(self, h: Heading) -> tuple[str, float]:
        """By what fractions are, and their unit."""
        unit = h.unit.lower()
        if unit in PERCENT:
            return PERCENT[unit], 0.01
        if unit in PLAIN:
            return PLAIN[unit], 1.0
        raise InputError(
            f"{self.where}: {h.unit!r} is no unit of fractions; there are {', '.join([*PERCENT, *filter(None, PLAIN)])}."
        )

    def _by_mole(self, mass: Array) -> Array:
        molar = np.array([databank().find(n).constant("molar_mass", "mass fractions") for n in self.names])
        moles = mass / molar
        return np.asarray(moles / moles.sum(axis=1, keepdims=True) * mass.sum(axis=1, keepdims=True))

    def _uncertainty(self, q: str, place: int, values: Mapping[str, Array]) -> Array:
        h = self.headings[place]
        numbers = self._numbers(place, f"u({q})")
        if (numbers <= 0.0).any():
            raise InputError(f"{self.where}: uncertainties must be positive.")
        measured = values[q] if values[q].ndim == 1 else values[q][:, 0]
        if q in FRACTIONS:
            return numbers * self._basis(h)[1]
        if h.unit == "%":
            return np.asarray(numbers * 0.01 * np.abs(measured))
        dimension = "temperature_difference" if q == "T" else QUANTITIES[q].dimension
        if dimension == "fraction":
            return numbers
        unit = h.unit or unit_of(dimension)
        return numbers * float(uncertainty_of(q, f"1 {unit}", None)[0])
