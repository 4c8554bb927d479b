"""What the compiled engine does for every model that it has: loops over the states that a model is bound to."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Kinds
from . import ENGINE
from .layout import as_it_lies, whole

CUBIC, PAIR, PC_SAFT, CPA, REFERENCE = range(5)
"""The models, as the engine numbers them."""


class Plain(NamedTuple):
    """A model as the engine takes it that binds it itself: which one, and what it is made of."""

    which: int
    parts: tuple[Any, ...]
    n_components: int


class ModelLoops:
    """A model bound to ``N`` temperatures and pressures.

    Parameters
    ----------
    model : Plain
    T, P : (N,)
    molar_mass : (C,), optional

    """

    def __init__(self, model: Plain, T: Array, P: Array, molar_mass: Array | None) -> None:
        self.shape, self._molar_mass = (len(T), model.n_components), whole(molar_mass)
        self._model = model.which, (model.parts, whole(T), whole(P))

    @property
    def most_known(self) -> int:
        """How many phases are tested against a further one."""
        most: int = engine().MOST_KNOWN
        return most

    def flash(self, feed: Array, ln_k: Array, out: Sequence[NDArray[np.generic]]) -> Kinds:
        """Flashes of ``feed (N, C)`` from rough K-values into ``out``, in the order of the fields of `FlashResult`; what became of each state ``(N,)``."""
        return self._flashed(True, feed, ln_k, out)

    def by_k_values(self, feed: Array, ln_k: Array, out: Sequence[NDArray[np.generic]]) -> Kinds:
        """The same of the phases that rough K-values lead to, one or two."""
        return self._flashed(False, feed, ln_k, out)

    def _flashed(self, every_phase: bool, feed: Array, ln_k: Array, out: Sequence[NDArray[np.generic]]) -> Kinds:
        status, size = np.zeros(len(feed), dtype=np.int8), (*self.shape, out[1].shape[1])
        engine().flash(self._model, *size, every_phase, self._molar_mass, whole(feed), whole(ln_k), tuple(out), status)
        return status

    def ln_phi(self, x: Array, kind: np.int8 | Kinds) -> Array:
        """Ln φ ``(N, C)``, component by component."""
        found = np.empty(self.shape[::-1])
        engine().ln_phi(self._model, *self.shape, *as_it_lies(x), *kinds(kind), found)
        return found.T

    def dn(self, x: Array, kind: np.int8 | Kinds) -> Array:
        """N ∂ln φᵢ/∂nⱼ ``(N, C, C)``."""
        n, c = self.shape
        found = np.empty((n, c, c))
        engine().dn(self._model, n, c, *as_it_lies(x), *kinds(kind), found)
        return found

    def describe(self, x: Array, kind: np.int8 | Kinds) -> tuple[Array, Array, Kinds]:
        """Compressibility factor and packing ``(N,)``; and the kind by density, and whether it is called a vapor: 0, 1, or 2 where that is to be found out, ``(2, N)``."""
        n = self.shape[0]
        found = np.empty(n), np.empty(n), np.empty((2, n), dtype=np.int8)
        engine().describe(self._model, *self.shape, *as_it_lies(x), *kinds(kind), *found)
        return found

    def feed_stability(self, z: Array, d: Array, ln_k: Array) -> tuple[Array, Array]:
        """The lowest tangent-plane distance ``(N,)`` of feeds ``z`` with d = ln z + ln φ, from rough K-values, and the trial phase there ``(N, C)``."""
        tm, trial = np.empty(self.shape[0]), np.empty(self.shape)
        engine().stability(self._model, *self.shape, whole(z), whole(d), whole(ln_k), tm, trial)
        return tm, trial

    def vapor_and_liquid(self, z: Array, ln_k: Array) -> tuple[Array, Array, Array]:
        """As `equilibrium.flash.vapor_and_liquid`."""
        n = len(z)
        found, amount, change = np.array(ln_k, order="C"), np.empty(n), np.empty(n)
        engine().vapor_and_liquid(self._model, *self.shape, whole(z), found, amount, change)
        return found, amount, change

    def further_phase(self, z: Array, phases: Sequence[Array], kind: np.int8 | Kinds) -> tuple[Array, Array]:
        """The same beside phases at equilibrium, ``(N, C)`` each, the first of a kind."""
        tm, trial = np.empty(self.shape[0]), np.empty(self.shape)
        known = np.ascontiguousarray(np.stack(phases, axis=1))
        engine().further(self._model, *self.shape, whole(z), len(phases), known, *kinds(kind), tm, trial)
        return tm, trial

    def evaluate(self, x: Array, kind: np.int8 | Kinds) -> tuple[Array, Array, Array, Array]:
        """Ln φ, its derivatives by T and P ``(N, C)``, and Z, ∂Z/∂T, ∂Z/∂P, Σ x ∂²ln φ/∂T² ``(4, N)``."""
        found = np.empty(self.shape), np.empty(self.shape), np.empty(self.shape), np.empty((4, self.shape[0]))
        engine().evaluate(self._model, *self.shape, *as_it_lies(x), *kinds(kind), *found)
        return found

    def dense_vapors(self, x: Array, packing: Array, names: Kinds) -> None:
        """Settle, in place, as far as that can be done, which of the phases whose name is 2 are vapors."""
        engine().dense_vapors(self._model, *self.shape, *as_it_lies(x), packing, names)

    def locally_stable(self, V: Array, n: Array) -> Kinds:
        """Whether ``n (N, C)`` mol in volumes ``V (N,)`` are stable: 1, 0, or 2 where that can't be said."""
        found = np.empty(self.shape[0], dtype=np.int8)
        engine().stable(self._model, *self.shape, whole(V), *as_it_lies(n), found)
        return found


def engine() -> Any:
    """The module of compiled loops."""
    assert ENGINE is not None
    return ENGINE


def kinds(kind: np.int8 | Kinds) -> tuple[int, Kinds | None]:
    """One kind for all, or one for each."""
    return (0, np.ascontiguousarray(kind, dtype=np.int8)) if np.ndim(kind) else (int(kind), None)
