"""What a regression adjusts: parameters by name, some of them tied to others, with bounds and where to begin."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...errors import InputError
from ...mixture import Mixture
from ...recipes.parameter import Parameters

Array = NDArray[np.float64]

_PARTS = (" slope", " bend")
BY_INVERSE = " 1/T"
"""What stands behind a parameter that is proportional to 1/T, such as an energy over RT: its slope is its value."""
_INSIDE = 1e-6
"""How far inside its bounds a parameter begins at least, as a share of them."""


def bare(name: str) -> str:
    """A parameter's own name, without slope or bend."""
    for part in _PARTS:
        name = name.removesuffix(part)
    return name


@dataclass(frozen=True, eq=False)
class Adjustable:
    """Parameters that are free, and those that follow them.

    Attributes
    ----------
    names : tuple of str
        Free ones ``(K,)``.
    tied : mapping of str to (factor, name)
        What is a factor times a free one.
    sizes, low, high : (K,)
        Usual sizes, lowest and highest values.
    """

    names: tuple[str, ...]
    tied: Mapping[str, tuple[float, str]]
    sizes: Array
    low: Array
    high: Array

    def numbers(self, values: Array) -> dict[str, float]:
        """Every number that is set, by name."""
        free = dict(zip(self.names, values.tolist(), strict=True))
        return free | {name: factor * free[other] for name, (factor, other) in self.tied.items()}

    def followers(self, k: int) -> list[str]:
        """What changes with the free parameter ``k``: itself, and what is tied to it."""
        name = self.names[k]
        return [name, *(n for n, (_, other) in self.tied.items() if other == name)]

    def inside(self, values: Array) -> Array:
        """Values moved to between the bounds."""
        margins = [_INSIDE * np.abs(np.where(np.isfinite(b), b, 0.0)) for b in (self.low, self.high)]
        return np.clip(values, self.low + margins[0], self.high - margins[1])

    def at_bound(self, values: Array) -> tuple[bool, ...]:
        """Which values lie at one of their bounds."""
        return tuple(bool(v) for v in np.isclose(values, self.low) | np.isclose(values, self.high))


def adjustable(
    system: Mixture,
    fit: str | Sequence[str],
    bounds: Mapping[str, tuple[float, float]],
    tied: Mapping[str, str | tuple[float, str]],
) -> Adjustable:
    """What names and symbols mean for a system.

    Raises
    ------
    InputError
        If there is no such parameter, or a tie or bounds belong to none that is fitted.
    """
    parameters = system.model.parameters
    names, own = _names(parameters, [fit] if isinstance(fit, str) else list(fit))
    ties = {**own, **dict(_tie(name, other, parameters) for name, other in tied.items())}
    bounds = {parameters.proper(name): ends for name, ends in bounds.items()}
    free = tuple(name for name in names if name not in ties)
    for name, (_, other) in ties.items():
        if other not in free:
            raise InputError(f"{name} is tied to {other}, which is not fitted; fitted are {', '.join(free)}.")
    kinds = {s.symbol: s for s in system.model.all_symbols()}
    if strange := [name for name in bounds if name not in free]:
        raise InputError(f"bounds has {strange[0]!r}, which is not fitted; fitted are {', '.join(free)}.")
    limits = []
    for name in free:
        kind = kinds[name.split(" ", 1)[0]]
        limits.append(bounds.get(name, (-np.inf, np.inf) if name.endswith(_PARTS) else (kind.low, kind.high)))
    low, high = (np.array(column, dtype=float) for column in zip(*limits, strict=True))
    if not (low < high).all():
        raise InputError("The lower bound of a parameter is to be below its upper one.")
    sizes = np.array([kinds[name.split(" ", 1)[0]].size for name in free])
    for name in (*free, *ties):
        # a slope of what doesn't depend on temperature is refused
        system.model.with_parameters({name: parameters.value(name) + 1e-5 * kinds[name.split(" ", 1)[0]].size})
    return Adjustable(free, ties, sizes, low, high)


def _tie(name: str, other: Any, parameters: Parameters) -> tuple[str, tuple[float, str]]:
    factor, follows = (1.0, other) if isinstance(other, str) else other
    return parameters.proper(name), (float(factor), parameters.proper(follows))


def _names(parameters: Parameters, wanted: list[str]) -> tuple[list[str], dict[str, tuple[float, str]]]:
    """The parameters that names and symbols mean, and the ties that come with them."""
    found: list[str] = []
    ties: dict[str, tuple[float, str]] = {}
    for entry in wanted:
        inverse = entry.endswith(BY_INVERSE)
        written = entry.removesuffix(BY_INVERSE)
        symbol, _, part = written.partition(" ")
        of_kind = parameters.of_symbol(symbol)
        if of_kind and part in ("", "slope", "bend"):
            own = [f"{p.name} {part}".strip() for p in of_kind]
        else:
            own = [parameters.proper(written)]
        found += own
        if inverse:
            ties |= {f"{name} slope": (1.0, name) for name in own}
    if not found:
        there = ", ".join(list(parameters)[:6]) or "none"
        raise InputError(
            f"fit names no parameter, and none of this model is fitted as a rule. It has {there}; name some with fit=."
        )
    return list(dict.fromkeys(found)), ties
