"""On which line of a TOML file something stands."""

from __future__ import annotations

import tomllib
from collections.abc import Sequence
from typing import Any


def line_of(text: str, place: Sequence[str | int]) -> int:
    r"""The line on which the entry at ``place`` begins: the first one whose reading makes it be there.

    Every beginning of the text that is whole is read, so that no grammar but TOML's own is needed. Where there is no such entry (because it is
    missing), it is the line of what it is missing from.

    Examples
    --------
    >>> line_of('[feed.a]\nflow = "1 kmol/h"\n[feed.b]\nflow = [\n3]', ("feed", "b", "flow"))
    4
    """
    lines = text.splitlines()
    best, depth, whole = 1, 0, 0
    for n in range(1, len(lines) + 1):
        try:
            content = tomllib.loads("\n".join(lines[:n]))
        except tomllib.TOMLDecodeError:
            continue
        there = _depth(content, place)
        if there > depth:
            best, depth = whole + 1 + _blank(lines[whole:n]), there
        if depth == len(place):
            break
        whole = n
    return best


def _depth(content: Any, place: Sequence[str | int]) -> int:
    """How far down ``place`` goes in what was read."""
    for depth, key in enumerate(place):
        try:
            content = content[key]
        except (KeyError, IndexError, TypeError):
            return depth
    return len(place)


def _blank(lines: Sequence[str]) -> int:
    """How many lines say nothing before the first that does."""
    return next((i for i, line in enumerate(lines) if line.strip() and not line.lstrip().startswith("#")), 0)
