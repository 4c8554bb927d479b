"""The bank of published binary interaction parameters of equations of state."""

from __future__ import annotations

import functools
import math

from .databank import numbers, read_table, source_text


@functools.cache
def published(equation: str) -> dict[frozenset[str], tuple[float | tuple[float, ...], str]]:
    """kᵢⱼ of an equation of state, three numbers where it depends on temperature, and where it came from, by pair of component names.

    Examples
    --------
    >>> published("PR")[frozenset({"nitrogen", "methane"})][0]
    0.0311

    """
    return {
        frozenset({r["first"], r["second"]}): (numbers(r["kij"]), source_text(r["source"]))
        for r in read_table("kij.csv")
        if r["equation"] == equation
    }


@functools.cache
def _aqueous() -> dict[str, tuple[float, ...]]:
    return {r["name"]: tuple(float(r[key]) for key in ("c1", "c2", "c3", "c4")) for r in read_table("aqueous.csv")}


def in_water(name: str) -> tuple[float, ...]:
    """Coefficients of a component's kᵢⱼ in water by Peng and Robinson's equation (`core.models.aqueous`); NaN where the bank has none.

    Examples
    --------
    >>> in_water("carbon dioxide")[0]
    -0.981461

    """
    return _aqueous().get(name, (math.nan,) * 4)
