"""The softest direction of a mixture: along which change of its mole numbers at given T and V it comes closest to splitting.

The matrix Bᵢⱼ = δᵢⱼ + √(nᵢnⱼ) ∂²(Aᴿ/RT)/∂nᵢ∂nⱼ has a zero eigenvalue on the limit of stability; at a critical point the cubic form of the
Helmholtz energy along its eigenvector vanishes too (Heidemann and Khalil, AIChE J. 26 (1980) 769-779). The cubic form is the exact
(complex-step) derivative of the matrix.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array
from .contract import VolumeModel

_STEP = 1e-20


class Softest(NamedTuple):
    """The smallest eigenvalue ``(N,)``, the cubic form along its direction ``(N,)``, and the eigenvector ``(N, C)``, of either sign."""

    eigenvalue: Array
    form: Array
    direction: Array


def matrix(model: VolumeModel, T: Array, V: Array, n: Array) -> Array:
    """The matrix B ``(N, C, C)`` of ``n (N, C)`` mol, all positive, in volumes ``V (N,)``."""
    root = np.sqrt(n)
    return np.asarray(np.eye(n.shape[1]) + root[:, :, None] * root[:, None, :] * model.helmholtz_hessian(T, V, n))


def smallest_eigenvalue(model: VolumeModel, T: Array, V: Array, n: Array) -> Array:
    """That of B ``(N,)``; NaN where the matrix is not finite."""
    whole = matrix(model, T, V, n)
    usable = np.asarray(np.isfinite(whole).all(axis=(1, 2)))
    return np.where(usable, np.linalg.eigvalsh(np.where(usable[:, None, None], whole, 0.0))[:, 0], np.nan)


def locally_stable(model: VolumeModel, T: Array, V: Array, n: Array) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Where the smallest eigenvalue is positive, and where it is not ``(N,)``; neither where the matrix is not finite."""
    loops = model.at(T, np.ones_like(T)).loops()
    if loops is not None:
        found = loops.locally_stable(V, n)
        return np.asarray(found == 1), np.asarray(found == 0)
    smallest = smallest_eigenvalue(model, T, V, n)
    return np.asarray(smallest > 0.0), np.asarray(smallest <= 0.0)


def softest(model: VolumeModel, T: Array, V: Array, n: Array) -> Softest:
    """Of ``n (N, C)`` mol, all positive, in volumes ``V (N,)``; NaN where the matrix is not finite."""
    whole = matrix(model, T, V, n)
    usable = np.asarray(np.isfinite(whole).all(axis=(1, 2)))
    values, vectors = np.linalg.eigh(np.where(usable[:, None, None], whole, 0.0))
    u = vectors[:, :, 0]
    along = np.sqrt(n) * u
    change = np.imag(model.helmholtz_hessian(T, V, n + 1j * _STEP * along)) / _STEP
    form = np.einsum("...i,...ij,...j->...", along, change, along) - (along**3 / n**2).sum(axis=-1)
    return Softest(np.where(usable, values[:, 0], np.nan), np.where(usable, form, np.nan), np.where(usable[:, None], u, 0.0))
