"""Cubic equations of state with van der Waals' mixing rule in the compiled engine."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Kinds
from . import ENGINE
from .layout import as_it_lies, whole

Numbers = tuple[float, float, float, float, float]
"""δ₁, δ₂, V_c/b of a pure component, a/bRT of one at its critical temperature, and R."""


class Quadratic(NamedTuple):
    """What a mixing rule is to the loops: n²a = Σ nᵢnⱼ √(aᵢaⱼ)(1 - kᵢⱼ), nb = Σ nᵢbᵢ or Σ nᵢnⱼ bᵢⱼ/n, and what water adds to n²a.

    ``root (C, N)`` √aᵢ; ``pairs (C, C)`` or ``(N, C, C)`` 1 - kᵢⱼ; ``b (C,)``; ``covolumes (C, C)`` where nb is not linear; ``water`` and ``l (C, N)`` of
    `models.mixing.in_water`, -1 and None where there is none.
    """

    root: Array
    pairs: Array
    b: Array
    covolumes: Array | None = None
    water: int = -1
    l: Array | None = None  # noqa: E741


class CubicLoops:
    """A cubic equation at ``N`` temperatures and pressures, as the loops take it.

    Parameters
    ----------
    numbers : Numbers
    T, P : (N,)
    mixing : Quadratic
    translation, molar_mass : (C,), optional

    """

    def __init__(
        self, numbers: Numbers, T: Array, P: Array, mixing: Quadratic, translation: Array | None, molar_mass: Array | None
    ) -> None:
        root, pairs, b, covolumes, water, of_water = mixing
        self.shape = len(T), len(b)
        arrays = T, P, root, pairs, b, covolumes, of_water, translation
        self._model = (numbers, pairs.ndim == 3, water, *map(whole, arrays))
        self._molar_mass = whole(molar_mass)

    def flash(self, feed: Array, ln_k: Array, out: Sequence[NDArray[np.generic]]) -> Kinds:
        """Flashes of ``feed (N, C)`` from rough K-values into ``out``, in the order of the fields of `FlashResult`; what became of each state ``(N,)``."""
        status = np.zeros(len(feed), dtype=np.int8)
        most = out[1].shape[1]
        _engine().flash_cubic(self._model, *self.shape, most, self._molar_mass, whole(feed), whole(ln_k), *out, status)
        return status

    def ln_phi(self, x: Array, kind: np.int8 | Kinds) -> Array:
        """Ln φ ``(N, C)``, component by component."""
        found = np.empty(self.shape[::-1])
        _engine().ln_phi_cubic(self._model, *self.shape, *as_it_lies(x), *_kinds(kind), found)
        return found.T

    def evaluate(self, x: Array, kind: np.int8 | Kinds, slopes: Array) -> tuple[Array, Array, Array, Array]:
        """Ln φ, its derivatives by T and P ``(N, C)``, and Z, ∂Z/∂T, ∂Z/∂P, Σ x ∂²ln φ/∂T² ``(4, N)``.

        ``slopes (2, C, N)`` are the first two derivatives by temperature of √aᵢ, ``(4, C, N)`` with those of water's lᵢ.
        """
        found = np.empty(self.shape), np.empty(self.shape), np.empty(self.shape), np.empty((4, self.shape[0]))
        _engine().evaluate_cubic(self._model, *self.shape, *as_it_lies(x), *_kinds(kind), whole(slopes), *found)
        return found

    def dn(self, x: Array, kind: np.int8 | Kinds) -> Array:
        """N ∂ln φᵢ/∂nⱼ ``(N, C, C)``."""
        n, c = self.shape
        found = np.empty((n, c, c))
        _engine().dn_cubic(self._model, n, c, *as_it_lies(x), *_kinds(kind), found)
        return found

    def describe(self, x: Array, kind: np.int8 | Kinds) -> tuple[Array, Array, Kinds]:
        """Compressibility factor and packing ``(N,)``; and the kind by density, and whether it is called a vapor: 0, 1, or 2 where that is to be found out, ``(2, N)``."""
        n = self.shape[0]
        found = np.empty(n), np.empty(n), np.empty((2, n), dtype=np.int8)
        _engine().describe_cubic(self._model, *self.shape, *as_it_lies(x), *_kinds(kind), *found)
        return found

    def dense_vapors(self, x: Array, packing: Array, names: Kinds) -> None:
        """Settle, in place, as far as that can be done, which of the phases whose name is 2 are vapors."""
        _engine().dense_vapors_cubic(self._model, *self.shape, *as_it_lies(x), packing, names)

    def feed_stability(self, z: Array, d: Array, ln_k: Array) -> tuple[Array, Array]:
        """The lowest tangent-plane distance ``(N,)`` of feeds ``z`` with d = ln z + ln φ, from rough K-values, and the trial phase there ``(N, C)``."""
        tm, trial = np.empty(self.shape[0]), np.empty(self.shape)
        _engine().stability_cubic(self._model, *self.shape, whole(z), whole(d), whole(ln_k), tm, trial)
        return tm, trial

    def further_phase(self, z: Array, phases: Sequence[Array]) -> tuple[Array, Array]:
        """The same beside phases at equilibrium, ``(N, C)`` each."""
        tm, trial = np.empty(self.shape[0]), np.empty(self.shape)
        known = np.ascontiguousarray(np.stack(phases, axis=1))
        _engine().further_cubic(self._model, *self.shape, whole(z), len(phases), known, tm, trial)
        return tm, trial

    def locally_stable(self, V: Array, n: Array) -> Kinds:
        """Whether ``n (N, C)`` mol in volumes ``V (N,)`` are stable: 1, 0, or 2 where that can't be said."""
        found = np.empty(self.shape[0], dtype=np.int8)
        _engine().stable_cubic(self._model, *self.shape, whole(V), *as_it_lies(n), found)
        return found


def _engine() -> Any:
    assert ENGINE is not None
    return ENGINE


def _kinds(kind: np.int8 | Kinds) -> tuple[int, Kinds | None]:
    """One kind for all, or one for each."""
    return (0, np.ascontiguousarray(kind, dtype=np.int8)) if np.ndim(kind) else (int(kind), None)
