"""Quantities that a state can be specified by: their dimensions, and what values they can have."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .arguments import short
from .core.specification import FRACTIONS
from .errors import InputError
from .units import to_si, unit_of

Array = NDArray[np.float64]

DIMENSIONS = {
    "T": "temperature",
    "P": "pressure",
    "H": "molar_energy",
    "S": "molar_entropy",
    "U": "molar_energy",
    "V": "molar_volume",
    "density": "density",
    "vapor_fraction": "fraction",
    "vapor_mass_fraction": "fraction",
    "flow": "molar_flow",
    "mass_flow": "mass_flow",
    "volume_flow": "volume_flow",
}
"""What can be given, with its dimension."""

RULES = {
    "T": "absolute temperatures are positive and finite",
    "P": "pressures are absolute and positive and finite",
    "V": "volumes are positive and finite",
    "density": "densities are positive and finite",
    "flow": "flows are positive and finite",
    "mass_flow": "flows are positive and finite",
    "volume_flow": "flows are positive and finite",
    "vapor_fraction": "it lies between 0 and 1",
    "vapor_mass_fraction": "it lies between 0 and 1",
}
"""What a value has to be."""


def possible(name: str, value: Array) -> NDArray[np.bool_]:
    """Whether a quantity can have a value."""
    if name in FRACTIONS:
        return np.asarray((value >= 0.0) & (value <= 1.0))
    return np.asarray((value > 0.0) | (name not in RULES))


def values_of(value: Any, name: str) -> Array:
    """What was given for a quantity in SI, of any shape but empty.

    Raises
    ------
    InputError
        If it is no number, or one that the quantity can't have.

    Examples
    --------
    >>> values_of(["1 bar", "2 bar"], "P").tolist()
    [100000.0, 200000.0]

    """
    found = to_si(value, DIMENSIONS[name], name)
    if not found.size:
        raise InputError(f"{name} is empty: there is no state to calculate. Give at least one value.")
    bad = ~(np.isfinite(found) & possible(name, found))
    if bad.any():
        first = f"{float(np.ravel(found)[np.ravel(bad)][0]):g} {unit_of(DIMENSIONS[name])}".strip()
        raise InputError(f"{name} is {first}; {RULES.get(name, 'it must be finite')}.")
    return found


def value_of(value: Any, name: str) -> float:
    """The same of a single value.

    Examples
    --------
    >>> value_of("25 degC", "T")
    298.15

    """
    found = values_of(value, name)
    if found.ndim:
        raise InputError(f"{name} is {short(value)}; it takes one value here.")
    return float(found)


def marked_states(marks: Mapping[str, tuple[Any, Any]] | None) -> dict[str, tuple[float, float]]:
    """Points to mark in a figure: T and P in SI by name.

    Raises
    ------
    InputError
        If a temperature or a pressure is none.

    Examples
    --------
    >>> marked_states({"drum": (250.0, "20 bar")})
    {'drum': (250.0, 2000000.0)}

    """
    return {name: (value_of(T, "T"), value_of(P, "P")) for name, (T, P) in (marks or {}).items()}


def series_of(given: Mapping[str, str | None]) -> dict[str, Array]:
    """`series` of every quantity that is given, by name."""
    return {name: series(text, DIMENSIONS[name], name) for name, text in given.items() if text}


MOST = 1_000_000
"""Values of a range."""

MOST_OF_A_CURVE = 100_000


def check_points(count: int) -> None:
    """Of a number of points of a curve.

    Raises
    ------
    InputError
        If they make no curve, or are more than anyone draws.
    """
    if not 5 <= count <= MOST_OF_A_CURVE:
        raise InputError(f"points is {short(count)}; a curve takes 5 to {MOST_OF_A_CURVE}.")


_RANGE = re.compile(r"\s*(.+?)\s+to\s+(.+?)\s+in\s+(\d+)\s*")
_UNIT = re.compile(r"\s*[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?\s*(.*?)\s*")


def series(text: str, dimension: str, name: str) -> Array:
    """Values as people write them, in SI: one, ``()``; or a list with commas, or ``A to B in N``, ``(N,)``. The last unit covers those that have none.

    Raises
    ------
    InputError
        If it is not understood, or has no unit where it needs one.

    Examples
    --------
    >>> series("1 to 3 bar in 3", "pressure", "P").tolist(), series("250, 260 K", "temperature", "T").tolist()
    ([100000.0, 200000.0, 300000.0], [250.0, 260.0])

    """
    match = _RANGE.fullmatch(text)
    if match:
        count = int(match[3])
        if not 2 <= count <= MOST:
            raise InputError(f"{name} is {text!r}: a range takes 2 to {MOST} values.")
        low, high = to_si(_with_units([match[1], match[2]], dimension, name), dimension, name).tolist()
        return np.linspace(low, high, count)
    if "," in text:
        return to_si(_with_units(text.split(","), dimension, name), dimension, name)
    return to_si(_with_units([text], dimension, name)[0], dimension, name)


def _with_units(parts: list[str], dimension: str, name: str) -> list[str]:
    """The same with the last one's unit behind those that have none."""
    match = _UNIT.fullmatch(parts[-1])
    unit = match[1] if match else ""
    if match and not unit and unit_of(dimension):
        raise InputError(
            f"{name} is {', '.join(p.strip() for p in parts)!r}, without a unit. Write one behind it, such as {unit_of(dimension)!r}."
        )
    return [f"{part.strip()} {unit}" if _bare(part) else part.strip() for part in parts]


def _bare(part: str) -> bool:
    match = _UNIT.fullmatch(part)
    return match is not None and not match[1]
