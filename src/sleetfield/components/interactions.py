"""The bank of published binary interaction parameters of equations of state."""

from __future__ import annotations

import functools

from .databank import read_table, source_text


@functools.cache
def published(equation: str) -> dict[frozenset[str], tuple[float, str]]:
    """kᵢⱼ of an equation of state and where it came from, by pair of component names.

    Examples
    --------
    >>> published("PR")[frozenset({"nitrogen", "methane"})][0]
    0.0311

    """
    return {
        frozenset({r["first"], r["second"]}): (float(r["kij"]), source_text(r["source"]))
        for r in read_table("kij.csv")
        if r["equation"] == equation
    }
