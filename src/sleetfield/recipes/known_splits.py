"""Pairs that are known to form two liquids, and models that can't show it."""

from __future__ import annotations

from collections.abc import Iterable

from ..data_sets.shipped import measured_solubilities
from ..text import first_few


def split_notes(ideal: Iterable[tuple[str, str]]) -> list[str]:
    """In plain words, which of the pairs that are taken as ideal form two liquids by what was measured."""
    known = {frozenset((s.first, s.second)) for s in measured_solubilities()}
    found = [" and ".join(names) for names in ideal if frozenset(names) in known]
    if not found:
        return []
    return [f"{first_few(found)} are known to form two liquids; taken as ideal they mix, and what is calculated of them is wrong."]
