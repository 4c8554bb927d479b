"""What the compiled engine does for models that it binds to temperatures and pressures itself, to find these."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Kinds
from .ideal_gases import PlainGases
from .layout import whole
from .loops import Plain, engine

QUANTITIES = ("V", "H", "S", "U", "vapor_fraction", "vapor_mass_fraction", "T", "P")
"""What can be given, in the order of the engine's numbers."""


class Sought(NamedTuple):
    """What is known of states that are sought: two quantities with their values ``(N,)``, feeds ``(N, C)``, and what enthalpies and masses rest on."""

    given: tuple[tuple[str, Array], tuple[str, Array]]
    feed: Array
    gases: PlainGases | None
    molar_mass: Array


def common(R: float, Tc: Array, Pc: Array, omega: Array) -> tuple[Any, ...]:
    """What every equation begins with: the gas constant and what rough saturation pressures rest on."""
    return R, whole(Tc), whole(np.log(Pc)), whole(omega)


class EquationLoops:
    """An equation for what seeks temperatures and pressures itself."""

    def __init__(self, equation: Plain) -> None:
        self._model, self._c = (equation.which, (equation.parts, None, None)), equation.n_components

    def saturation(
        self, given: Array, z: Array, kind: np.int8, of_T: bool, near: tuple[Array, Array] | None
    ) -> tuple[Array, Array, Array, Array, Kinds]:
        """As `equilibrium.saturation`: the unknown T or P ``(N,)``, the incipient phases ``(N, C)``, residuals and tangent-plane distances, and which states are settled ``(N,)``."""
        n = len(given)
        found = np.empty(n), np.empty((n, self._c)), np.empty(n), np.empty(n), np.empty(n, dtype=np.int8)
        start = (None, None) if near is None else map(whole, near)
        engine().saturation(self._model, n, self._c, whole(given), whole(z), of_T, int(kind), *start, *found)
        return found

    def specified(self, sought: Sought, T: Array, P: Array, out: Sequence[NDArray[np.generic]]) -> Kinds:
        """As `specified_flash`, temperature or pressure given first, into ``T``, ``P`` ``(N,)`` and the fields of a `FlashResult`; what became of each state ``(N,)``."""
        return self._solved(engine().specified, sought, T, P, out)

    def near(self, sought: Sought, T: Array, P: Array, out: Sequence[NDArray[np.generic]]) -> Kinds:
        """The same for any two quantities other than these, from ``T`` and ``P`` nearby, in place."""
        return self._solved(engine().near, sought, T, P, out)

    def _solved(self, solve: Any, sought: Sought, T: Array, P: Array, out: Sequence[NDArray[np.generic]]) -> Kinds:
        (one, first), (other, second) = sought.given
        status, most = np.zeros(len(sought.feed), dtype=np.int8), out[1].shape[1]
        shape, values = (len(sought.feed), self._c, most), (whole(first), whole(second))
        names = QUANTITIES.index(one), QUANTITIES.index(other)
        solve(
            self._model,
            *shape,
            whole(sought.molar_mass),
            sought.gases,
            whole(sought.feed),
            names,
            *values,
            T,
            P,
            tuple(out),
            status,
        )
        return status

    def critical_points(self, n: Array, T_low: float, T_high: float) -> Array | None:
        """As `equilibrium.critical`: T, P and the equation's own V ``(K, 3)`` by falling temperature; None where they are too many."""
        points = np.empty((engine().MOST_CRITICAL, 3))
        count = engine().critical(self._model, self._c, whole(n), T_low, T_high, points)
        return None if count < 0 else points[:count]

    def refined_critical(self, n: Array, T: float, V: float) -> Array | None:
        """The one near ``T`` and ``V``: T, P, V ``(3,)``; None where there is none."""
        point = np.empty(3)
        return point if engine().refined_critical(self._model, self._c, whole(n), T, V, point) else None

    def line_point(
        self, z: Array, weights: Array | None, beta: float, roots: tuple[int, int], S: int, value: float, X: Array
    ) -> tuple[int, int, Array, Array, Array]:
        """As `equilibrium.line_equations.Tracer.solve`, from ``X``: what came of it, the number of steps, unknowns, tangent, and Z and packing ``(2, 2)``."""
        u, tangent, rest = X.copy(), np.empty_like(X), np.empty((2, 2))
        how, steps = engine().line_point(self._model, self._c, whole(z), whole(weights), beta, roots, S, value, u, tangent, rest)
        return how, steps, u, tangent, rest
