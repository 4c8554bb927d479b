"""Liquids by activity coefficients beside vapors in the compiled engine."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Kinds
from .equation_loops import Plain
from .layout import whole
from .loops import FREE_PAIR, PAIR, ModelLoops

NRTL, WEIGHTED_LOGARITHM, FLORY_HUGGINS, STAVERMAN_GUGGENHEIM, OF_GROUPS = range(5)
"""The terms of an excess Gibbs energy, as the engine numbers them."""
MOST_TERMS, MOST_GROUPS = 2, 40
RIEDEL, ANTOINE, WAGNER = range(3)
"""The equations of vapor pressures, as the engine numbers them."""
RACKETT, POWER_SERIES = range(2)
"""Those of liquid densities."""
LIQUID_NUMBERS, VIRIAL_POWERS = 6, (0, 1, 2, 3, 6, 8)
"""How many coefficients such an equation has at most; the powers of reduced 1/T in second virial coefficients."""


class Term(NamedTuple):
    """A term and its numbers: G and τG ``(C, C, N)``; L ``(C, C, N)`` and weights ``(C,)``; sizes and, if there are, surfaces ``(C,)``.

    Of groups: their L ``(G, G, N)``, what they come to in pure components ``(C, N)``, and ``counts (G, C)`` with their weights ``(G,)``.
    """

    kind: int
    first: Array
    second: Array | None
    counts: tuple[Array, Array] | None = None

    def plain(self) -> tuple[Any, ...]:
        """As the engine takes it."""
        groups, counts = 0, None
        if self.counts is not None:
            groups, counts = len(self.counts[1]), np.concatenate([part.ravel() for part in self.counts])
        return self.kind, whole(self.first), whole(self.second), groups, whole(counts)


OfTemperature = tuple[tuple[int, ...], Array]
"""A quantity of ordered pairs: which terms of `models.temperature_terms` it is a sum of, the constant one first, and their coefficients ``(K, C, C)``."""
NOTHING: tuple[tuple[int, ...], None] = (), None


class FreeTerm(NamedTuple):
    """A term of an excess Gibbs energy at any temperature.

    ``pairs`` τ of NRTL or ln L, ``alpha`` of NRTL; ``own`` weights ``(C,)`` or sizes, ``other`` surfaces; of groups weights ``(G,)`` and ``counts (G, C)``.
    """

    kind: int
    pairs: OfTemperature | None = None
    alpha: OfTemperature | None = None
    own: Array | None = None
    other: Array | None = None
    counts: Array | None = None

    def plain(self) -> tuple[Any, ...]:
        """As the engine takes it."""
        functions = [NOTHING if f is None else (f[0], whole(f[1])) for f in (self.pairs, self.alpha)]
        return (
            self.kind,
            *functions,
            whole(self.own),
            whole(self.other),
            0 if self.counts is None else len(self.counts),
            whole(self.counts),
        )


class PlainLiquids(NamedTuple):
    """The equations of vapor pressures and densities ``(C,)``, their coefficients ``(C, 6)``, and the ranges of vapor pressures ``(C, 2)``."""

    pressure: Kinds
    density: Kinds
    pressures: Array
    densities: Array
    ranges: Array


class PlainVirial(NamedTuple):
    """Second virial coefficients Σ Kₙ (means·factors/T)ⁿ by `VIRIAL_POWERS`: ``means (C, C)``, K, and their factors by temperature; and what those of some
    pairs are instead, ``own``, where ``given (C, C)`` says so.
    """  # fmt: skip

    means: Array
    factors: OfTemperature
    series: Array
    given: NDArray[np.bool_] | None = None
    own: OfTemperature | tuple[tuple[int, ...], None] = NOTHING

    def plain(self) -> tuple[Any, ...]:
        """As the engine takes it."""
        factors, own = ((terms, whole(coefficients)) for terms, coefficients in (self.factors, self.own))
        given = None if self.given is None else np.ascontiguousarray(self.given, dtype=np.int8)
        return whole(self.means), *factors, whole(self.series), given, *own


def plain(
    R: float,
    least_Z: float,
    poynting: bool,
    saturated: bool,
    liquids: PlainLiquids,
    terms: Sequence[FreeTerm],
    virial: PlainVirial | None,
) -> Plain:
    """A liquid beside an ideal gas or the virial equation as the engine takes it; ``saturated`` says whether the liquids' own vapors are as that has them."""
    of_vapor = () if virial is None else virial.plain()
    own = tuple(liquids), tuple(term.plain() for term in terms), of_vapor
    return Plain(FREE_PAIR, (R, least_Z, poynting, saturated, *own), len(liquids.pressure))


class PairLoops(ModelLoops):
    """A liquid beside an ideal gas or the virial equation at ``N`` temperatures and pressures.

    Parameters
    ----------
    pure : (N, C)
        Ln φ of the pure liquids.
    volumes : callable
        What gives theirs ``(N, C)``, m3/mol, when they are asked for.
    per_RT : (N,)
        P/RT.
    B : (N, C, C), optional
        Second virial coefficients.
    least_Z : float
        Of a vapor by these.
    terms : sequence of Term
        Of the excess Gibbs energy.
    molar_mass : (C,), optional

    """

    def __init__(
        self, pure: Array, volumes: Callable[[], Array], per_RT: Array, B: Array | None, least_Z: float, terms: Sequence[Term],
        molar_mass: Array | None,
    ) -> None:  # fmt: skip
        own = whole(pure)
        rest = whole(per_RT), whole(B), tuple(t.plain() for t in terms)
        # volumes cost more than everything else and only some calls want them: elsewhere anything of their shape will do
        super().__init__(PAIR, (least_Z, own, own, *rest), (pure.shape[0], pure.shape[1]), molar_mass)
        self._volumes, self._complete = volumes, False

    def _with_volumes(self) -> tuple[int, tuple[Any, ...]]:
        if not self._complete:
            which, (least_Z, pure, _, *rest) = self._model
            self._model, self._complete = (which, (least_Z, pure, whole(self._volumes()), *rest)), True
        return self._model
