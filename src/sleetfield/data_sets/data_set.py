"""Measured points of one kind, with their uncertainties, kept with their source."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..arguments import as_numbers, short
from ..components.databank import databank
from ..composition import mole_fractions
from ..errors import InputError
from ..text import heading, report
from ..units import from_si, to_si
from .kinds import FRACTIONS, KINDS, QUANTITIES, kind_of

if TYPE_CHECKING:
    import pandas as pd

Array = NDArray[np.float64]

_SUM = 1e-6
_ISOBARIC = 2e-3
"""Share that the pressures of an isobar may differ by."""
_ISOTHERMAL = 0.1
"""What the temperatures of an isotherm may differ by, K."""
GIVEN = "given in code"


@dataclass(frozen=True, eq=False)
class DataSet:
    """Measured points of one kind.

    Attributes
    ----------
    names : tuple of str
        Components.
    values : mapping of str to array
        Quantities (`QUANTITIES`) in SI: ``(N,)``, or ``(N, C)`` where there is one for each component; NaN where it was not measured. `data["P"]`
        gives one of them, NaN where there is none.
    kind : str
        One of `KINDS`; what the quantities speak of where it is not named.
    uncertainty : mapping of str to (N,)
        Standard uncertainties of quantities where they are known, in SI.
    weight : (N,), optional
        What the squares of a point's residuals are multiplied by.
    source : str
    excluded : mapping of int to str
        Points that are left out, with the reason.
    solid : str
        Of liquids saturated with a solid: the component that it is of.
    remark : str
        What else there is to say, such as how it was measured.

    Examples
    --------
    >>> import sleetfield as sl
    >>> data = sl.DataSet.of(["acetone", "1-butanol"], T="60 degC", P=["45 kPa", "68 kPa"], x=[0.3, 0.6], source="bench still")
    >>> data.kind, data["x"].tolist(), data["T"].tolist()
    ('vapor-liquid', [[0.3, 0.7], [0.6, 0.4]], [333.15, 333.15])

    """

    names: tuple[str, ...]
    values: Mapping[str, Array]
    kind: str = ""
    uncertainty: Mapping[str, Array] = field(default_factory=dict)
    weight: Array | None = None
    source: str = GIVEN
    excluded: Mapping[int, str] = field(default_factory=dict)
    solid: str = ""
    remark: str = ""

    @classmethod
    def of(
        cls,
        components: Sequence[str],
        *,
        kind: str = "",
        source: str = GIVEN,
        solid: str = "",
        remark: str = "",
        uncertainty: Mapping[str, Any] | None = None,
        weight: Any = None,
        **quantities: Any,
    ) -> DataSet:
        """Points from numbers as a user has them.

        Parameters
        ----------
        components : sequence of str
            Names.
        kind, source, solid, remark
            See the class.
        uncertainty : mapping of quantity to number or text, optional
            Standard uncertainties: in SI, with a unit, or as a share ("0.5 %").
        weight : array, optional
            Of the points.
        **quantities
            T, P, x, y, HE, density; gamma_inf and Henry; for two liquids ``x_first`` and ``x_second``. Numbers in SI or text with a unit, one or one for each
            point. Compositions are mappings of names to fractions, rows of them, or, of two components, fractions of the first.

        Raises
        ------
        InputError
            If a quantity is unknown, or lacks, or is impossible.
        """
        names = tuple(databank().find(c).name for c in components)
        written = {"x_first": "x'", "x_second": "x''"}
        values = {written.get(q, q): v for q, v in quantities.items()}
        for q in values:
            if q not in QUANTITIES:
                raise InputError(f"There is no quantity {q!r}; there are {', '.join([*QUANTITIES, *written])}.")
        arrays = {q: _read(q, v, names) for q, v in values.items()}
        count = max((len(np.atleast_1d(a)) if not QUANTITIES[q].of_components else len(a) for q, a in arrays.items()), default=0)
        spread = {q: np.repeat(a, count, axis=0) if len(a) == 1 else a for q, a in arrays.items()}
        known = {q: np.broadcast_to(uncertainty_of(q, u, spread.get(q)), (count,)).copy() for q, u in (uncertainty or {}).items()}
        weights = None if weight is None else np.broadcast_to(np.asarray(weight, dtype=float), (count,)).copy()
        place = databank().find(solid).name if solid else ""
        return cls(names, spread, kind, known, weights, source, {}, place, remark)

    def __post_init__(self) -> None:
        object.__setattr__(self, "names", tuple(self.names))
        object.__setattr__(self, "values", {q: self._numbers(q, v) for q, v in self.values.items()})
        kind = self.kind or kind_of(set(self.values), len(self.names), self.solid)
        object.__setattr__(self, "kind", kind)
        if kind not in KINDS:
            raise InputError(f"{self.source}: there is no kind of data {kind!r}; there are {', '.join(KINDS)}.")
        for group in KINDS[kind].needs:
            if not any(q in self.values and np.isfinite(self.values[q]).any() for q in group):
                raise InputError(
                    f"{self.source}: data of the kind {kind} have {' or '.join(group)} ({QUANTITIES[group[0]].words}); there is none."
                )
        lengths = {q: len(v) for q, v in self.values.items()}
        if len(set(lengths.values())) > 1:
            raise InputError(f"{self.source}: quantities differ in length: {', '.join(f'{q} {n}' for q, n in lengths.items())}.")
        if kind == "solid-liquid" and self.solid not in self.names:
            raise InputError(f"{self.source}: name the component that the solid is of: solid='{self.names[0]}'.")
        for q, values in self.values.items():
            self._check(q, values)
        for q, u in self.uncertainty.items():
            if not (np.isnan(u) | (u > 0.0)).all():
                raise InputError(f"{self.source}: uncertainties must be positive; one of {q} is {np.nanmin(u):g}.")
        if self.weight is not None and not (np.isfinite(self.weight) & (self.weight >= 0.0)).all():
            raise InputError(f"{self.source}: weights are not negative.")
        self._check_isobar_and_isotherm()

    def _numbers(self, q: str, values: Any) -> Array:
        try:
            found = as_numbers(values)
            known = q in QUANTITIES and found.ndim == 1 + QUANTITIES[q].of_components
        except ValueError:
            known = False
        if not known:
            raise InputError(
                f"{self.source}: {q} is {short(values)}; quantities are arrays of SI numbers, of fractions with a column for each of {', '.join(self.names)}. "
                "DataSet.of takes units and mappings."
            )
        return found

    def _check(self, q: str, values: Array) -> None:
        if QUANTITIES[q].of_components and values.shape[1:] != (len(self.names),):
            raise InputError(f"{self.source}: {q} has a column for each of {', '.join(self.names)}.")
        if q in FRACTIONS:
            off = np.isfinite(values).all(axis=1) & ((np.abs(values.sum(axis=1) - 1.0) > _SUM) | (values < -_SUM).any(axis=1))
            if off.any():
                i = int(np.argmax(off))
                shown = ", ".join(f"{v:g}" for v in values[i])
                raise InputError(
                    f"{self.source}: the fractions {q} of point {i} are {shown}; they are not negative and sum to 1 (here {values[i].sum():.6g})."
                )
        elif q != "HE" and (values <= 0.0).any():
            what = f"{q} is to be positive and absolute" if q in ("T", "P") else f"{q} is to be positive"
            raise InputError(f"{self.source}: {what} in every point.")

    def _check_isobar_and_isotherm(self) -> None:
        """Refuse an isotherm and an isobar in one set, of which neither is meant to be calculated like the other."""
        if self.kind != "vapor-liquid" or len(self) < 6:
            return
        T, P = self["T"], self["P"]
        if not (np.isfinite(T).all() and np.isfinite(P).all()) or self.isobaric or np.ptp(T) <= _ISOTHERMAL:
            return
        on_isotherm = np.abs(T - _most_frequent(T)) <= _ISOTHERMAL
        on_isobar = np.abs(P / _most_frequent(P) - 1.0) <= _ISOBARIC
        if (on_isotherm | on_isobar).all() and min((on_isotherm & ~on_isobar).sum(), (on_isobar & ~on_isotherm).sum()) > 2:
            raise InputError(f"{self.source} mixes an isotherm and an isobar. Split it into two sets.")

    # ---- what it has ----

    def __len__(self) -> int:
        return len(next(iter(self.values.values())))

    def __getitem__(self, quantity: str) -> Array:
        """A quantity in SI, NaN where it was not measured."""
        if quantity in self.values:
            return self.values[quantity]
        shape = (len(self), len(self.names)) if QUANTITIES[quantity].of_components else (len(self),)
        return np.full(shape, np.nan)

    @property
    def used(self) -> NDArray[np.bool_]:
        """Which points are not left out and weigh something ``(N,)``."""
        kept = np.array([i not in self.excluded for i in range(len(self))], dtype=bool)
        return kept if self.weight is None else kept & (self.weight > 0.0)

    @property
    def isobaric(self) -> bool:
        """Whether its pressures are one, and its temperatures, as far as known, are not."""
        T, P = self["T"][np.isfinite(self["T"])], self["P"][np.isfinite(self["P"])]
        same = len(P) > 1 and np.ptp(P) <= _ISOBARIC * P.mean()
        return bool(same and len(T) > 1 and np.ptp(T) > _ISOTHERMAL)

    @property
    def given(self) -> str:
        """Which of T and P points are calculated at: P for isobaric ones, T for all others."""
        return "P" if self.isobaric or not np.isfinite(self["T"]).any() else "T"

    def standard_uncertainty(self, quantity: str, measured: Array, points: NDArray[np.intp]) -> Array:
        """Standard uncertainties of some points, those that are usual where none are known, less where a point weighs more."""
        usual = QUANTITIES[quantity].usual_uncertainty(measured)
        known = self.uncertainty.get(quantity)
        u = usual if known is None else np.where(np.isfinite(known[points]), known[points], usual)
        return u if self.weight is None else u / np.sqrt(self.weight[points])

    # ---- what else can be made of it ----

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

    def switched_off(self, reason: str) -> DataSet:
        """The same with every point left out."""
        return self.without(range(len(self)), reason)

    def with_all(self) -> DataSet:
        """The same with no point left out."""
        return replace(self, excluded={})

    # ---- as tables ----

    def title(self) -> str:
        """Components, kind and source."""
        return f"{' + '.join(self.names)}, {self.kind}: {self.source}"

    def to_frame(self, units: str = "SI") -> pd.DataFrame:
        """One row for each point, with headings that `read_data` reads."""
        import pandas as pd

        columns: dict[str, Any] = {}
        for q, quantity in QUANTITIES.items():
            values = self[q]
            if not np.isfinite(values).any():
                continue
            shown = from_si(values, quantity.dimension, units)
            if not quantity.of_components:
                columns[heading(q, quantity.dimension, units)] = shown
                continue
            for i, name in enumerate(self.names):
                if np.isfinite(values[:, i]).any():
                    columns[heading(f"{q} {name}", quantity.dimension, units)] = shown[:, i]
        for q, u in self.uncertainty.items():
            dimension = "temperature_difference" if q == "T" else QUANTITIES[q].dimension
            columns[heading(f"u({q})", dimension, units)] = from_si(u, dimension, units)
        if self.weight is not None:
            columns["weight"] = self.weight
        columns["left out"] = [self.excluded.get(i, "") for i in range(len(self))]
        return pd.DataFrame(columns)

    def __str__(self) -> str:
        frame = self.to_frame("metric")
        return report(
            self.title(), frame if self.excluded else frame.drop(columns="left out"), [self.remark] if self.remark else []
        )


def uncertainty_of(quantity: str, given: Any, measured: Array | None) -> Array:
    """A standard uncertainty in SI: from a number, text with a unit, or a share such as "0.5 %" of what was ``measured``.

    Raises
    ------
    InputError
        If it is none.
    """
    if quantity not in QUANTITIES:
        raise InputError(f"There is no quantity {quantity!r} to be uncertain; there are {', '.join(QUANTITIES)}.")
    if isinstance(given, str) and given.strip().endswith("%"):
        try:
            share = float(given.strip()[:-1]) / 100.0
        except ValueError:
            raise InputError(f"The uncertainty of {quantity} is {given!r}; write it like '0.5 %', or with its unit.") from None
        if measured is None:
            raise InputError(f"The uncertainty of {quantity} is a share of what was not measured.")
        return np.asarray(share * np.abs(measured if measured.ndim == 1 else measured[:, 0]))
    dimension = "temperature_difference" if quantity == "T" else QUANTITIES[quantity].dimension
    return np.atleast_1d(to_si(given, dimension, f"the uncertainty of {quantity}"))


def _read(q: str, given: Any, names: tuple[str, ...]) -> Array:
    """A quantity as an array in SI, one row a point."""
    quantity = QUANTITIES[q]
    if not quantity.of_components:
        return np.atleast_1d(to_si(given, quantity.dimension, q)).astype(float)
    if q not in FRACTIONS:
        return _each(q, given, names)
    if not isinstance(given, Mapping):
        plain = np.asarray(given, dtype=float)
        if len(names) == 2 and (plain.ndim < 2 or plain.shape[1] == 1):
            first = np.atleast_1d(plain).reshape(-1)
            return np.stack([first, 1.0 - first], axis=1)
        if plain.ndim == 2 and plain.shape[1] == len(names):
            return plain
        if len(names) == 1:
            return np.ones((np.atleast_1d(plain).size, 1))
    found = mole_fractions(given, names, lambda name: names.index(databank().find(name).name), np.ones(len(names)), "mole")
    return np.atleast_2d(found)


def _each(q: str, given: Any, names: tuple[str, ...]) -> Array:
    """Values of some components, NaN for the others; of the first where none is named."""
    columns = given if isinstance(given, Mapping) else {names[0]: given}
    read = {databank().find(n).name: np.atleast_1d(to_si(v, QUANTITIES[q].dimension, f"{q} {n}")) for n, v in columns.items()}
    if strange := [n for n in read if n not in names]:
        raise InputError(f"{q} is of {strange[0]}, which is not among {', '.join(names)}.")
    count = max(len(v) for v in read.values())
    result = np.full((count, len(names)), np.nan)
    for n, v in read.items():
        result[:, names.index(n)] = v
    return result


def _most_frequent(values: Array) -> float:
    """The value that most others are near to."""
    near = np.abs(values[:, None] / values - 1.0) <= _ISOTHERMAL / 300.0
    return float(values[near.sum(axis=1).argmax()])


def fitted_to(sets: Iterable[DataSet]) -> str:
    """The source of what is fitted to measurements."""
    return f"fitted to {', '.join(dict.fromkeys(data.source for data in sets))}"
