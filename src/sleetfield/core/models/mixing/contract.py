"""The contract between mixing rules and cubic equations of state.

A rule gives the attraction n²a(T, n) and the covolume nb(T, n) of ``n (N, C)`` mol, homogeneous of the second and of the first degree in them, with derivatives. The equation knows nothing else of mixtures, and a rule
nothing of the equation. Whoever adds one writes one file with one subclass each of `MixingRule` and `BoundMixing`, and a `CubicModel` whose `mixing_rule` makes it.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from typing import Any

import numpy as np

from ...arrays import Array, Index, Numbers
from ...compiled.cubic_loops import Mixing


class BoundMixing(ABC):
    """A rule at temperatures ``T (N,)``; what does not depend on composition is worked out once."""

    @abstractmethod
    def attraction(self, n: Array) -> tuple[Array, Array]:
        """n²a ``(N,)``, Pa m⁶, and half its derivatives by mole numbers ``(C, N)``: what the hot loops ask for."""

    @abstractmethod
    def by_temperature(self, n: Array) -> tuple[Array, Array, Array]:
        """First and second derivative of n²a by temperature ``(N,)``, and the first of its derivatives by mole numbers ``(N, C)``."""

    @abstractmethod
    def second(self, n: Numbers) -> tuple[Numbers, Numbers, Numbers]:
        """n²a ``(N,)``, its first and its second derivatives by mole numbers ``(N, C)``, ``(N, C, C)``; for complex ``n`` too."""

    @abstractmethod
    def covolume(self, n: Array) -> tuple[Array, Array]:
        """Nb ``(N,)``, m3, and its derivatives by mole numbers ``(C, N)``, or ``(C, 1)`` where they are constant."""

    def covolume_by_temperature(self, n: Array) -> tuple[Array, Array, Array]:
        """First and second derivative of nb by temperature ``(N,)``, and the first of its derivatives by mole numbers ``(N, C)``: none, as nearly every rule has it."""
        nothing = np.zeros(len(n))
        return nothing, nothing, np.zeros(n.shape)

    @abstractmethod
    def covolume_second(self, n: Numbers) -> tuple[Numbers, Numbers, Numbers]:
        """Nb ``(N,)``, its first and its second derivatives by mole numbers ``(N, C)``, ``(N, C, C)``; for complex ``n`` too."""

    @abstractmethod
    def rows(self, index: Index) -> BoundMixing:
        """The same for the states ``index`` (repeats allowed)."""


class LinearCovolume(BoundMixing):
    """One whose covolume is Σ nᵢbᵢ; its ``rule`` has the ``b (C,)``."""

    rule: Any

    def covolume(self, n: Array) -> tuple[Array, Array]:
        b = self.rule.b
        return n @ b, b[:, None]

    def covolume_second(self, n: Numbers) -> tuple[Numbers, Numbers, Numbers]:
        b = self.rule.b
        return n @ b, np.broadcast_to(b, n.shape), np.zeros((*n.shape, len(b)))


class MixingRule(ABC):
    """What a cubic equation of state asks of a mixture."""

    linear_covolume: bool = False
    """Whether the covolume is Σ nᵢbᵢ at all temperatures, so that its other derivatives are zero and need not be asked for."""

    @abstractmethod
    def at(self, T: Array) -> BoundMixing:
        """Bind to temperatures."""

    def plain(self) -> Mixing | None:
        """The rule as the compiled engine takes it, where it is one of those."""
        return None
