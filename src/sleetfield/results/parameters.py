"""The adjustable numbers that a system is calculated with: one table for every family of models."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..core.models.temperature_terms import TERMS
from ..errors import InputError
from ..mixture import T_SHOWN, Mixture
from ..specified import values_of
from ..text import heading
from ..units import from_si
from .base import Result

if TYPE_CHECKING:
    import pandas as pd

Array = NDArray[np.float64]

_OFF = 0.02
"""Share that a saturation pressure may be off the databank's without a word."""


class PairSummary(NamedTuple):
    """What the parameters of a pair come to: γ at infinite dilution of the first in the second and of the second in the first, at ``T``, K."""

    first: str
    second: str
    T: float
    gamma_first: float
    gamma_second: float
    written: str
    T_min: float | None
    T_max: float | None
    source: str


class SaturationSummary(NamedTuple):
    """What an equation of state gives for a pure component at ``T``, K: its saturation pressure, and the databank's, Pa."""

    name: str
    T: float
    P: float
    known: float


@dataclass(frozen=True, eq=False, repr=False)
class ParameterTable(Result):
    """Every parameter of a system's model by name, with value, slopes, range, source and layer; print it, or look one up: ``table["kij methane / propane"]``.

    Attributes
    ----------
    pairs : tuple of PairSummary
        Of an activity model.
    saturations : tuple of SaturationSummary
        Of an equation of state.
    """

    system: Mixture
    pairs: tuple[PairSummary, ...]
    saturations: tuple[SaturationSummary, ...]

    @property
    def names(self) -> tuple[str, ...]:
        """What the parameters are called, here, in files and by `System.with_parameters`."""
        return tuple(self.system.model.parameters)

    def __getitem__(self, name: str) -> float:
        """A value at 298.15 K by its name, or with " slope" or " bend" behind it one of these."""
        return self.system.model.parameters.value(name)

    def __len__(self) -> int:
        return len(self.system.model.parameters)

    def gamma_infinity(self, first: str, second: str, *, T: Any = T_SHOWN) -> tuple[Array, Array]:
        """Activity coefficients at infinite dilution: of ``first`` in ``second``, and of ``second`` in ``first``, shaped like ``T``."""
        i, j = self.system.position(first), self.system.position(second)
        if i == j:
            raise InputError(f"{first} and {second} are one component; name two.")
        if self.system.activity is None:
            raise InputError(f"{self.system.title} has no activity model, and so no activity coefficients.")
        temperatures = values_of(T, "T")
        flat = np.atleast_1d(temperatures).ravel()
        bound = self.system.activity.at(flat)
        found = []
        for trace, solvent in ((i, j), (j, i)):
            x = np.full((len(self.system), len(flat)), 1e-100)
            x[solvent] = 1.0
            found.append(np.exp(bound.ln_gamma(x)[trace]).reshape(temperatures.shape))
        return found[0], found[1]

    def title(self, units: str | None = None) -> str:
        """Of which system."""
        return f"Parameters of {self.system.title}"

    @guarded
    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """One row for each parameter: its name, value and slopes at 298.15 K, unit, range, layer and source, and how it was written."""
        import pandas as pd

        unit_set = self.unit_set(units)
        symbols = {s.symbol: s.unit for s in self.system.model.all_symbols()}
        ends = [heading(name, "temperature", unit_set) for name in ("from T", "to T")]
        rows = []
        for p in self.system.model.parameters.values():
            low, high = (np.nan if t is None else float(from_si(t, "temperature", unit_set)) for t in (p.T_min, p.T_max))
            rows.append((p.name, *p.function.parts(), symbols.get(p.symbol, ""), low, high, p.layer, p.written, p.source))
        return pd.DataFrame(rows, columns=["parameter", "value", "slope", "bend", "unit", *ends, "layer", "as written", "source"])

    def terms_frame(self) -> pd.DataFrame:
        """One row for each parameter as coefficients of the terms that the literature prints: 1, 1/T, ln T, T and 1/T², T in K."""
        import pandas as pd

        rows = {p.name: p.function.coefficients for p in self.system.model.parameters.values()}
        return pd.DataFrame.from_dict(rows, orient="index", columns=list(TERMS))

    def pairs_frame(self, units: str | None = None) -> pd.DataFrame:
        """One row for each pair of an activity model: its components, numbers as given, γ at infinite dilution, range and source."""
        import pandas as pd

        unit_set = self.unit_set(units)
        rows = []
        for p in self.pairs:
            ends = [np.nan if t is None else float(from_si(t, "temperature", unit_set)) for t in (p.T, p.T_min, p.T_max)]
            rows.append((p.first, p.second, p.written, p.gamma_first, p.gamma_second, *ends, p.source))
        columns = [heading(name, "temperature", unit_set) for name in ("at T", "from T", "to T")]
        heads = ["first", "second", "as given", "gamma first, infinite dilution", "gamma second, infinite dilution"]
        return pd.DataFrame(rows, columns=[*heads, *columns, "source"])

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """What fits on a page: pairs of an activity model with what they come to, or the parameters without those columns that are empty."""
        if self.pairs:
            frame = self.pairs_frame(units).drop(columns="source")
            return frame.rename(columns={c: c.replace(", infinite dilution", "∞").replace("gamma", "γ") for c in frame.columns})
        frame = self.to_frame(units).drop(columns=["as written", "source"])
        empty = [
            c
            for c in frame.columns
            if c not in ("parameter", "value") and (frame[c].isna() | (frame[c] == "") | (frame[c] == 0.0)).all()
        ]
        return frame.drop(columns=empty)

    def to_dict(self) -> dict[str, Any]:
        """Everything in SI, as plain values."""
        return {
            "result": "parameters",
            "system": {"components": list(self.system.names), "model": self.system.model_title},
            "parameters": [p.to_dict() for p in self.system.model.parameters.values()],
            "pairs": [p._asdict() for p in self.pairs],
            "saturations": [s._asdict() for s in self.saturations],
            "notes": self.notes,
        }

    @property
    def notes(self) -> list[str]:
        """Where the parameters came from, and which saturation pressures are off the databank's."""
        counts: dict[str, int] = {}
        of_pairs = [p.source for p in self.pairs] if self.pairs else [p.source for p in self.system.model.parameters.values()]
        for source in of_pairs:
            counts[source] = counts.get(source, 0) + 1
        what = "pair" if self.pairs else "parameter"
        notes = [f"{n} {what}{'s' if n > 1 else ''}: {source}." for source, n in counts.items()]
        off = [f"{s.name} {s.P / s.known - 1.0:+.1%}" for s in self.saturations if abs(s.P / s.known - 1.0) > _OFF]
        if off:
            notes.append(f"Saturation pressures at 0.55 of the critical temperature are off the databank's: {', '.join(off)}.")
        return notes
