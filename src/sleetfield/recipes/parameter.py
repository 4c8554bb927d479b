"""Adjustable numbers of a model: what there are (`Symbol`), and each one's value, range and source (`Parameter`)."""

from __future__ import annotations

import contextlib
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..components.component_list import ComponentList
from ..core.models.temperature_terms import TERMS
from ..errors import InputError, UnknownComponentError
from ..pairs.of_temperature import PARTS, OfTemperature, constant

Array = NDArray[np.float64]

GIVEN = "given in code"
NO_LAYER = ""


class Symbol(NamedTuple):
    """A kind of parameter: its symbol, what it is in words, its unit, the bounds that a search keeps to, whether it may depend on temperature, and a size that is usual for it."""

    symbol: str
    words: str
    unit: str = ""
    low: float = -np.inf
    high: float = np.inf
    of_temperature: bool = True
    size: float = 1.0

    def possible(self) -> tuple[float, float]:
        """What a value may be at most: twice as far on either side as a search goes."""
        width = self.high - self.low
        return (self.low - width, self.high + width) if np.isfinite(width) else (-np.inf, np.inf)


@dataclass(frozen=True)
class Parameter:
    """One number of a model, or one function of temperature, and where it came from.

    Attributes
    ----------
    symbol : str
        Such as "kij" or "tau".
    of : tuple of str
        The component or the pair that it belongs to; of some parameters the order of the pair matters.
    function : OfTemperature
    source, layer : str
        Where it came from, and which layer it came from: "given", "shipped", "user" or "case"; no layer where nothing is known.
    T_min, T_max : float or None
        Range of validity, K.
    known : bool
        False for what stands in where nothing is known.
    written : str
        The numbers of its pair as they were published or given.
    """

    symbol: str
    of: tuple[str, ...]
    function: OfTemperature
    source: str = GIVEN
    layer: str = "given"
    T_min: float | None = None
    T_max: float | None = None
    known: bool = True
    written: str = ""

    @property
    def name(self) -> str:
        """What it is called everywhere: ``kij nitrogen / methane``."""
        return f"{self.symbol} {' / '.join(self.of)}"

    def changed(self, part: str, number: float, source: str = GIVEN) -> Parameter:
        """With another value, slope or bend, given by hand."""
        return replace(self, function=self.function.with_part(part, number), source=source, layer="given", known=True, written="")

    def to_dict(self) -> dict[str, Any]:
        """As plain values."""
        rest = {k: getattr(self, k) for k in ("source", "layer", "T_min", "T_max", "written") if getattr(self, k) not in (None, "")}
        unknown = {} if self.known else {"known": False}
        return {"symbol": self.symbol, "of": list(self.of), "value": self.function.plain(), **rest, **unknown}

    @classmethod
    def from_dict(cls, plain: Mapping[str, Any]) -> Parameter:
        """From what `to_dict` gives.

        Raises
        ------
        InputError
            If something is missing or strange.
        """
        allowed = {"symbol", "of", "value", "source", "layer", "T_min", "T_max", "written", "known"}
        if not {"symbol", "of", "value"} <= set(plain) or not set(plain) <= allowed:
            raise InputError(
                f"A parameter has symbol, of and value, and may have {', '.join(sorted(allowed))}; got {', '.join(plain)}."
            )
        rest = {k: v for k, v in plain.items() if k not in ("symbol", "of", "value", "layer")}
        of = plain["of"]
        if not isinstance(of, list) or not of or not all(isinstance(n, str) for n in of):
            raise InputError(f"The parameter {plain['symbol']!r} is of {of!r}; it is of a list of names.")
        function = OfTemperature.read(plain["value"], f"{plain['symbol']} of {' / '.join(of)}")
        return cls(str(plain["symbol"]), tuple(of), function, layer=str(plain.get("layer", NO_LAYER)), **rest)


class Parameters(Mapping[str, Parameter]):
    """Parameters by name, in order."""

    def __init__(self, parameters: Iterable[Parameter]) -> None:
        self._by_name = {p.name: p for p in parameters}
        self._by_symbol: dict[str, list[Parameter]] = {}
        for p in self._by_name.values():
            self._by_symbol.setdefault(p.symbol, []).append(p)

    def __getitem__(self, name: str) -> Parameter:
        return self._by_name[name]

    def __iter__(self) -> Iterator[str]:
        return iter(self._by_name)

    def __len__(self) -> int:
        return len(self._by_name)

    def of_symbol(self, symbol: str) -> list[Parameter]:
        """Those with a symbol."""
        return self._by_symbol.get(symbol, [])

    # ---- as arrays ----

    def pairs(self, symbol: str, who: ComponentList, *, mirrored: float = 0.0) -> Array:
        """Coefficients ``(5, C, C)`` of a parameter of pairs, zero where there are none; ``mirrored`` is the factor for the other order of the pair."""
        place = {name: i for i, name in enumerate(who.names)}
        result = np.zeros((len(TERMS), len(who), len(who)))
        found = [p for p in self.of_symbol(symbol) if p.of[0] in place and p.of[1] in place]
        if found:
            i, j = ([place[p.of[k]] for p in found] for k in (0, 1))
            result[:, i, j] = values = np.array([p.function.coefficients for p in found]).T
            if mirrored:
                result[:, j, i] = mirrored * values
        return result

    def column(self, symbol: str, who: ComponentList, default: float = np.nan) -> Array:
        """Values ``(C,)`` of a parameter of components."""
        found = {p.of[0]: p.function.coefficients[0] for p in self.of_symbol(symbol)}
        return np.array([found.get(name, default) for name in who.names])

    # ---- what else can be made of them ----

    def part(self, names: Iterable[str]) -> Parameters:
        """Those of some of the components alone."""
        kept = set(names)
        return Parameters(p for p in self.values() if kept.issuperset(p.of))

    def changed(self, values: Mapping[str, Any], source: str = GIVEN) -> Parameters:
        """With other values: by name, or by name and ``value``, ``slope`` or ``bend``.

        Raises
        ------
        InputError
            If a name is not among them, with those that are, or a number is not finite.
        """
        new = dict(self._by_name)
        for key, number in values.items():
            name, part = _name_and_part(key)
            name = self._find(name)
            if not np.isfinite(float(number)):
                raise InputError(f"{key} is {number!r}; it must be a finite number.")
            new[name] = new[name].changed(part, float(number), source)
        return Parameters(new.values())

    def taking(self, other: Parameters) -> Parameters:
        """With another set's, of the pairs that it has a number given by hand of.

        Raises
        ------
        InputError
            If there is no such pair here.
        """
        pairs = {frozenset(p.of) for p in other.values() if p.layer == "given" and len(p.of) == 2}
        taken = {}
        for p in other.values():
            if frozenset(p.of) in pairs:
                with contextlib.suppress(UnknownComponentError):
                    own = self[self._find(p.name)]
                    taken[own.name] = replace(p, of=own.of)
        if not taken:
            listed = ", ".join(" - ".join(sorted(pair)) for pair in pairs) or "none"
            raise InputError(f"The pairs with numbers given by hand there ({listed}) have none of these parameters here.")
        return Parameters({**self._by_name, **taken}.values())

    def value(self, key: str) -> float:
        """A value, slope or bend by its name, such as ``kij nitrogen / methane slope``."""
        name, part = _name_and_part(key)
        return self[self._find(name)].function.parts()[PARTS.index(part)]

    def proper(self, key: str) -> str:
        """The name that a parameter goes by here, of a symmetric one whichever order of the pair is asked for; with its slope or bend.

        Raises
        ------
        UnknownComponentError
            If there is none.
        """
        name, part = _name_and_part(key)
        return self._find(name) + (f" {part}" if part != "value" else "")

    def _find(self, name: str) -> str:
        if name in self._by_name:
            return name
        symbol, _, of = name.partition(" ")
        names = tuple(n.strip() for n in of.split("/"))
        # of a symmetric parameter the other order is the same one
        turned = f"{symbol} {' / '.join(reversed(names))}"
        if turned in self._by_name and not any(p.of == names for p in self.of_symbol(symbol)):
            return turned
        known = ", ".join(list(self._by_name)[:8]) + (" and others" if len(self) > 8 else "")
        raise UnknownComponentError(f"There is no parameter {name!r} in this model, which has {known or 'none'}.")


def _name_and_part(key: str) -> tuple[str, str]:
    head, _, last = str(key).strip().rpartition(" ")
    return (head.strip(), last) if last in PARTS and head else (str(key).strip(), "value")


__all__ = ["GIVEN", "NO_LAYER", "OfTemperature", "Parameter", "Parameters", "Symbol", "constant"]
