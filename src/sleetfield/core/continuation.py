"""Following a line of solutions: predict along the tangent, correct, and choose the next length by how hard that was.

A line is a `Path`: how a point ahead is corrected and when it is refused, where the line ends, and what counts as straight on. The loop, shortening, lengthening and giving up are here.
(Michelsen, Fluid Phase Equilib. 4 (1980) 1-10; Allgower and Georg, Introduction to Numerical Continuation Methods (2003), ch. 6.)
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from typing import ClassVar

import numpy as np

from .arrays import Array
from .newton import Solved

_SHORTER = 0.4


class Path(ABC):
    """One way along a line."""

    first: ClassVar[float]
    longest: ClassVar[float]
    shortest: ClassVar[float]
    most: ClassVar[int]
    """Lengths of steps, in the path's own measure, and how many points there are at most."""

    @abstractmethod
    def corrected(self, here: Solved, jump: Array) -> Solved | None:
        """The point near ``here.u + jump``; None where there is none, or it is not the next one of this line."""

    @abstractmethod
    def measured(self, way: Array) -> Array:
        """A direction scaled to unit length."""

    @abstractmethod
    def ended(self, here: Solved, found: Solved) -> list[Array] | None:
        """Where the line ends between two points, the points that still belong to it; None where it goes on."""

    def onward(self, found: Solved, way: Array) -> Array:
        """The direction at a point in which the line goes on from ``way``."""
        ahead = self.measured(found.tangent)
        return ahead if float(ahead @ way) >= 0.0 else -ahead

    def across(self, here: Solved, way: Array) -> tuple[Solved, Array] | None:
        """A point on the far side of a place that steps don't pass, and the direction there."""
        return None

    def held(self, here: Solved, way: Array, length: float) -> float:
        """A length that is no longer than may be gone from here."""
        return length

    def rate(self, steps: int) -> float:
        """How much longer the next step may be after one that took so many of Newton's."""
        return 2.0 if steps <= 2 else 1.3 if steps <= 4 else 0.7

    def given_up(self, here: Solved) -> None:  # noqa: B027 - most paths have nothing to do then
        """Told where no further point was found."""


def follow(path: Path, here: Solved, way: Array) -> list[Array]:
    """Points after ``here`` in the direction ``way``, until the path ends or can't be followed."""
    points: list[Array] = []
    way, length = path.measured(way), path.first
    while len(points) < path.most:
        jumped = path.across(here, way)
        if jumped is not None:
            here, way = jumped[0], path.measured(jumped[1])
            points.append(here.u)
            length = path.first
            continue
        length = path.held(here, way, length)
        found = path.corrected(here, length * way)
        if found is None:
            length *= _SHORTER
            if length < path.shortest:
                path.given_up(here)
                break
            continue
        last = path.ended(here, found)
        if last is not None:
            return [*points, *last]
        points.append(found.u)
        way = path.onward(found, way)
        here, length = found, min(path.longest, length * path.rate(found.steps))
    return points


def norm(way: Array) -> Array:
    """A direction over its Euclidean length."""
    return np.asarray(way / np.linalg.norm(way))
