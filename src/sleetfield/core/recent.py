"""What was worked out for the temperatures of late, kept: a loop over parameters or compositions asks for the same ones again and again."""

from __future__ import annotations

from collections.abc import Callable

from .arrays import Array

Arrays = tuple[Array, Array, Array]

_KEPT, _LONGEST = 8, 4096
"""How many sets of temperatures are kept, and of how many temperatures at most."""


class Recent:
    """A function of temperatures ``(N,)`` that remembers what it answered of late; nobody writes into its answers."""

    def __init__(self, work: Callable[[Array], Arrays]) -> None:
        self._work = work
        self._known: dict[bytes, Arrays] = {}

    def __call__(self, T: Array) -> Arrays:
        if len(T) > _LONGEST:
            return self._work(T)
        key = T.tobytes()
        found = self._known.get(key)
        if found is None:
            found = self._work(T)
            while len(self._known) >= _KEPT:
                self._known.pop(next(iter(self._known)), None)
            self._known[key] = found
        return found
