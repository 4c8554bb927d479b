"""The contract of temperature functions: a(T) = a_c α(T/T_c), with α = 1 at the critical temperature."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence
from typing import Self

import numpy as np

from ...arrays import Array
from ...compiled.numbered import Numbered


class AlphaFunction(Numbered, ABC):
    """√α of ``C`` components, from constants ``(n, C)`` and critical temperatures ``(C,)``, K.

    The mixing rule is in terms of √aᵢ, so the square root is what is asked for. It is never negative.
    """

    def __init__(self, constants: Array, Tc: Array) -> None:
        self.constants, self.Tc = np.asarray(constants, dtype=float), Tc

    @abstractmethod
    def root(self, T: Array) -> tuple[Array, Array, Array]:
        """√α and its first two derivatives by temperature ``(C, N)``."""

    def value(self, T: Array) -> Array:
        """√α alone ``(C, N)``; a function that can be had for less says so here."""
        return self.root(T)[0]

    def select(self, components: Sequence[int]) -> Self:
        """The same for those components."""
        i = np.asarray(components)
        return type(self)(self.constants[:, i], self.Tc[i])
