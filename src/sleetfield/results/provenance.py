"""Every constant and parameter that a system is calculated with: value, unit, source, layer, range."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, NamedTuple

from ..arguments import guarded
from ..components import USER, Component
from ..components.quantities import CONSTANTS, CORRELATIONS
from ..components.record import Equation, record_of
from ..mixture import Mixture
from ..text import heading
from ..units import from_si, unit_of
from .base import Result

if TYPE_CHECKING:
    import pandas as pd

_ALWAYS = ("molar_mass", "heat_capacity")
"""What every system's results rest on, beside what its model needs."""

_DIGITS = 10


class Used(NamedTuple):
    """One number, or one equation, that a system is calculated with.

    Attributes
    ----------
    of : tuple of str
        The component, or the pair.
    name : str
        What it is called in files.
    words : str
        What it is.
    value : float, Equation or mapping of str to float
        In SI; a mapping has the terms of a function of temperature.
    dimension : str
        See `sleetfield.units`; of a number alone.
    unit : str
        Of the value in SI.
    source, layer : str
    T_min, T_max : float or None
        Range of validity, K.
    adjustable : bool
        Whether it is one of the model's parameters, and no constant of a component.
    """

    of: tuple[str, ...]
    name: str
    words: str
    value: Any
    dimension: str
    unit: str
    source: str
    layer: str
    T_min: float | None
    T_max: float | None
    adjustable: bool

    @property
    def plain(self) -> Any:
        """The value as plain values in SI."""
        if isinstance(self.value, Equation):
            return {"equation": self.value.name, "coefficients": list(self.value.coefficients)}
        return self.value

    def told(self, units: str = "SI") -> tuple[str, str]:
        """Value and unit as text, in a set of units."""
        if isinstance(self.value, Equation):
            return f"{self.value.name}: {', '.join(f'{c:.{_DIGITS}g}' for c in self.value.coefficients)}", self.unit
        if isinstance(self.value, dict):
            return ", ".join(f"{v:.{_DIGITS}g} ({term})" for term, v in self.value.items()), self.unit
        if self.dimension == "fraction":
            return f"{self.value:.{_DIGITS}g}", self.unit
        return f"{float(from_si(self.value, self.dimension, units)):.{_DIGITS}g}", unit_of(self.dimension, units)


class Difference(NamedTuple):
    """A number that two systems have otherwise; None where one has none."""

    of: tuple[str, ...]
    name: str
    here: str | None
    there: str | None

    def __str__(self) -> str:
        here, there = ("nothing" if v is None else v for v in (self.here, self.there))
        return f"{self.name} of {' / '.join(self.of)}: {here} here, {there} there"


@dataclass(frozen=True, eq=False, repr=False)
class Provenance(Result):
    """Each constant and parameter that a system is calculated with, and where it came from.

    Attributes
    ----------
    entries : tuple of Used
        Component by component, then the model's parameters.
    """

    system: Mixture
    entries: tuple[Used, ...]

    @classmethod
    def of(cls, system: Mixture) -> Provenance:
        """Of a system."""
        needed = dict.fromkeys((*system.model.recipe.needs, *_ALWAYS))
        constants = [used for c in system.components for used in _constants(c, list(needed))]
        return cls(system, (*constants, *_parameters(system)))

    def title(self, units: str | None = None) -> str:
        """Of which system."""
        return f"Numbers behind {self.system.title}"

    @property
    def sources(self) -> tuple[str, ...]:
        """Every source, once, in order."""
        return tuple(dict.fromkeys(used.source for used in self.entries))

    @guarded
    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """One row for each number."""
        import pandas as pd

        unit_set = self.unit_set(units)
        ends = [heading(name, "temperature", unit_set) for name in ("from T", "to T")]
        rows = []
        for used in self.entries:
            value, unit = used.told(unit_set)
            limits = [None if T is None else float(from_si(T, "temperature", unit_set)) for T in (used.T_min, used.T_max)]
            rows.append([" / ".join(used.of), used.words, value, unit, *limits, used.layer, used.source])
        return pd.DataFrame(rows, columns=["of", "quantity", "value", "unit", *ends, "layer", "source"])

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """The same with sources by number; `sections` has them."""
        frame = self.to_frame(units)
        numbers = {source: f"[{i}]" for i, source in enumerate(self.sources, start=1)}
        return frame.assign(source=frame["source"].map(numbers))

    def sections(self, units: str | None = None) -> list[tuple[str, pd.DataFrame]]:
        """Every source by its number."""
        import pandas as pd

        numbers = [f"[{i}]" for i in range(1, len(self.sources) + 1)]
        return [("Sources", pd.DataFrame({"source": numbers, "text": list(self.sources)}))]

    def to_dict(self) -> dict[str, Any]:
        """Everything in SI, as plain values."""
        rows = [{**used._asdict(), "of": list(used.of), "value": used.plain} for used in self.entries]
        return {"result": "provenance", "system": self.system.outline(), "numbers": rows, "notes": self.notes}

    @property
    def notes(self) -> list[str]:
        """How many numbers are estimated, one's own, or unknown."""
        estimated = sum(used.source.startswith("estimated") for used in self.entries)
        own = sum(used.layer not in ("shipped", "") for used in self.entries)
        nothing = sum(used.layer == "" for used in self.entries)
        found = [
            (estimated, "estimated, not measured"),
            (own, f"given by hand or from one's own databank (the {USER} or case layer)"),
            (nothing, "not known, and a default stands in for them"),
        ]
        return [f"{count} of {len(self.entries)} numbers are {what}." for count, what in found if count]

    def differences(self, other: Provenance) -> tuple[Difference, ...]:
        """Which numbers are not those of another system's, this one's first.

        Examples
        --------
        >>> import sleetfield as sl
        >>> gas = sl.System(["methane", "propane"], eos="PR")
        >>> other = gas.with_parameters({"kij methane / propane": 0.02})
        >>> print(gas.provenance().differences(other.provenance())[0])
        kij of methane / propane: 0.014 here, 0.02 there
        """
        own, theirs = ({(used.of, used.name): used for used in p.entries} for p in (self, other))
        found = []
        for key in dict.fromkeys((*own, *theirs)):
            here, there = own.get(key), theirs.get(key)
            if here is None or there is None or here.plain != there.plain:
                found.append(Difference(*key, *(None if used is None else _in_si(used) for used in (here, there))))
        return tuple(found)


def _in_si(used: Used) -> str:
    return " ".join(part for part in used.told() if part)


def _constants(c: Component, needed: list[str]) -> Iterator[Used]:
    values = record_of(c).values
    for key in needed:
        value = values.get(key)
        if value is None:
            continue
        origin = (c.sources.get(key, ""), c.layers.get(key, c.layer))
        if isinstance(value, Equation):
            yield Used(
                (c.name,), key, CORRELATIONS[key].words, value, "", CORRELATIONS[key].unit, *origin, value.T_min, value.T_max, False
            )
        else:
            dimension = CONSTANTS[key].dimension
            yield Used((c.name,), key, CONSTANTS[key].words, value, dimension, unit_of(dimension), *origin, None, None, False)


def _parameters(system: Mixture) -> Iterator[Used]:
    kinds = {s.symbol: s for s in system.model.all_symbols()}
    for p in system.model.parameters.values():
        kind = kinds.get(p.symbol)
        words, unit = (kind.words, kind.unit) if kind is not None else (p.symbol, "")
        yield Used(p.of, p.symbol, words, p.function.plain(), "fraction", unit, p.source, p.layer, p.T_min, p.T_max, True)
