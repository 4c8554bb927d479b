"""Interaction parameters in water, beside those in phases without it."""

from __future__ import annotations

import functools
import math

from ..components.databank import read_table


@functools.cache
def _aqueous() -> dict[str, tuple[float, ...]]:
    return {r["name"]: tuple(float(r[key]) for key in ("c1", "c2", "c3", "c4")) for r in read_table("aqueous.csv")}


def in_water(name: str) -> tuple[float, ...]:
    """Coefficients of a component's kᵢⱼ in water by Peng and Robinson's equation (`core.models.mixing.in_water`); NaN where the bank has none.

    Examples
    --------
    >>> in_water("carbon dioxide")[0]
    -0.981461

    """
    return _aqueous().get(name, (math.nan,) * 4)
