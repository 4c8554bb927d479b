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
    end, depth = _whole_up_to(lines, len(lines), -1, place)
    if not depth:
        return 1
    # more of the text never has less in it: halve the beginnings that may be the first to have it all
    low, high = 0, end
    while low + 1 < high:
        middle = (low + high) // 2
        n, there = _whole_up_to(lines, middle, 1, place)
        if n >= high:
            n, there = _whole_up_to(lines, middle, -1, place)
        if n <= low:
            break
        low, high = (n, high) if there < depth else (low, n)
    return low + 1 + _blank(lines[low:high])


def _whole_up_to(lines: Sequence[str], n: int, step: int, place: Sequence[str | int]) -> tuple[int, int]:
    """The nearest beginning of ``n`` lines, or of more or fewer by ``step``, that is whole TOML, and how far down ``place`` goes in it."""
    while 0 < n <= len(lines):
        try:
            return n, _depth(tomllib.loads("\n".join(lines[:n])), place)
        except ValueError:
            n += step
    return max(n, 0), 0


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
