"""Sites that bind as the compiled engine takes them."""

from __future__ import annotations

from typing import Any

from ..arrays import Array
from .layout import whole

MOST_SITES = 16
"""Kinds of sites that it has room for."""

PlainSites = tuple[int, Any, Any, Any, Any]
"""How many kinds; the owner and the count of each; volumes, and both energies, of pairs."""

NO_SITES: PlainSites = (0, None, None, None, None)


def plain_sites(owner: Array, count: Array, volume: Array, energy: Array) -> PlainSites:
    """Sites as the engine takes them: owner and count ``(K,)``, volume ``(K, K)``, energy ``(2, K, K)``."""
    return len(owner), whole(owner), whole(count), whole(volume), whole(energy)
