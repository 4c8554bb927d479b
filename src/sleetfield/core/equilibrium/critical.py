"""Critical points, directly: Heidemann and Khalil, AIChE J. 26 (1980) 769-779.

At given T and V the matrix Bᵢⱼ = δᵢⱼ + √(zᵢzⱼ) ∂²(Aᴿ/RT)/∂nᵢ∂nⱼ has a zero eigenvalue on the limit of stability; at a critical
point the cubic form of the Helmholtz energy along its eigenvector u vanishes too. The limit of stability is followed over a range
of volumes, and every sign change of the cubic form is refined. The cubic form is the exact (complex-step) derivative of the matrix.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ..arrays import ABSENT, Array
from ..models.contract import PhaseModel, VolumeModel
from ..models.softest import locally_stable, softest

_VOLUMES = 90
_TEMPERATURES = 60
_HALVINGS = 12
"""Of the brackets of limits of stability, which only begin what Newton's method ends."""


class CriticalPoint(NamedTuple):
    """Temperature, K; pressure, Pa; molar volume, m3/mol."""

    T: float
    P: float
    V: float


def critical_points(model: PhaseModel, z: Array) -> list[CriticalPoint]:
    """All critical points of ``z (C,)`` with positive pressure between 1.02 and 25 covolumes, by falling temperature.

    An empty list where there are none; a model without a volume equation has none.
    """
    if not isinstance(model, VolumeModel):
        return []
    n = np.maximum(z, ABSENT)
    loops = model.free_loops()
    points = None if loops is None else loops.critical_points(n, *model.temperature_scale(n[None]))
    if points is None:
        return _by_arrays(model, n)
    shift = float(model.volume_shift(n[None])[0])
    return [CriticalPoint(T, P, V - shift) for T, P, V in points.tolist()]


def _by_arrays(model: VolumeModel, n: Array) -> list[CriticalPoint]:
    """In the reference engine."""
    with np.errstate(all="ignore"):
        middle = np.sqrt([np.prod(model.temperature_scale(n[None]))])
        V = model.covolume(middle, n[None]) * (1.0 + np.geomspace(0.05, 24.0, _VOLUMES))
        T = _limit_of_stability(model, V, n)
        _, form, direction = softest(model, T, V, np.broadcast_to(n, (len(V), len(n))))
        # an eigenvector has no sign of its own: each takes that of its neighbor
        turned = (direction[1:] * direction[:-1]).sum(axis=1) < 0.0
        form[1:] *= np.cumprod(np.where(turned, -1.0, 1.0))
        known = np.isfinite(T) & np.isfinite(form)
        crossings = np.flatnonzero(known[:-1] & known[1:] & (form[:-1] * form[1:] <= 0.0))
        points: list[CriticalPoint] = []
        for i in crossings:
            weight = form[i] / (form[i] - form[i + 1]) if form[i] != form[i + 1] else 0.5
            own = V[i] + weight * (V[i + 1] - V[i])
            point = refine(model, n, T[i] + weight * (T[i + 1] - T[i]), own - float(model.volume_shift(n[None])[0]))
            if point is not None and not any(abs(point.T / p.T - 1.0) < 1e-7 and abs(point.V / p.V - 1.0) < 1e-6 for p in points):
                points.append(point)
    return sorted(points, key=lambda p: -p.T)


def parting(model: VolumeModel, z: Array, point: CriticalPoint) -> tuple[Array, float, float]:
    """How two phases of ``z (C,)`` part at a critical point, to first order: ln K ``(C,)`` and the logarithm of the ratio of densities, of any
    common size; and d ln P/d ln T at constant volume there.
    """
    n, T = np.maximum(z, ABSENT), point.T * np.array([1.0, 1.0 + 1e-6])
    V = np.full(2, point.V + float(model.volume_shift(n[None])[0]))
    u = softest(model, T[:1], V[:1], n[None]).direction[0]
    change = u / np.sqrt(n)
    denser = float(n @ change)
    P = model.pressure(T, V, np.stack([n, n]))
    return np.asarray(change - denser), denser, float((P[1] / P[0] - 1.0) / 1e-6)


def refine(model: VolumeModel, z: Array, T: float, V: float) -> CriticalPoint | None:
    """Newton's method on both conditions in ln T and ln V, from a point nearby; None where it doesn't get there.

    ``V`` and the answer's volume are those that the model states, not its own untranslated ones.
    """
    n = np.maximum(z, ABSENT)
    shift = float(model.volume_shift(n[None])[0])
    loops = model.free_loops()
    if loops is not None:
        found = loops.refined_critical(n, T, V + shift)
        return None if found is None else CriticalPoint(float(found[0]), float(found[1]), float(found[2]) - shift)
    u = np.log([T, V + shift])
    h = 1e-6
    with np.errstate(all="ignore"):
        for _ in range(40):
            shifts = np.array([[0.0, 0.0], [h, 0.0], [-h, 0.0], [0.0, h], [0.0, -h]])
            points = np.exp(u + shifts)
            mixture = np.broadcast_to(n, (len(points), len(n)))
            if not (np.isfinite(points).all() and (points[:, 1] > model.covolume(points[:, 0], mixture)).all()):
                return None
            eigenvalue, form, direction = softest(model, points[:, 0], points[:, 1], mixture)
            value = np.stack([eigenvalue, np.where((direction * direction[0]).sum(axis=1) < 0.0, -form, form)])
            jacobian = np.stack([(value[:, 1] - value[:, 2]), (value[:, 3] - value[:, 4])], axis=1) / (2.0 * h)
            try:
                step = np.linalg.solve(jacobian, value[:, 0])
            except np.linalg.LinAlgError:
                return None
            u = u - step * min(1.0, 0.05 / float(np.abs(step).max() + 1e-300))
            if np.abs(step).max() < 1e-11:
                break
        else:
            if not np.abs(step).max() < 1e-7:
                return None
        T, V = np.exp(u)
        P = float(model.pressure(np.array([T]), np.array([V]), n[None])[0])
    return CriticalPoint(float(T), P, float(V) - shift) if P > 0.0 else None


def _limit_of_stability(model: VolumeModel, V: Array, n: Array) -> Array:
    """The highest temperature at which the smallest eigenvalue is zero, for each volume; NaN where there is none."""
    low, high = model.temperature_scale(n[None])
    T_grid = np.geomspace(high, low, _TEMPERATURES)
    T, volumes = np.meshgrid(T_grid, V, indexing="ij")
    signs = locally_stable(model, T.ravel(), volumes.ravel(), np.broadcast_to(n, (T.size, len(n))))
    stable, unstable = (sign.reshape(T.shape) for sign in signs)
    crossing = stable[:-1] & unstable[1:]
    some = crossing.any(axis=0)
    first = crossing.argmax(axis=0)
    hot, cold = np.where(some, T_grid[first], np.nan), np.where(some, T_grid[first + 1], np.nan)
    for _ in range(_HALVINGS):
        middle = 0.5 * (hot + cold)
        positive = locally_stable(model, np.where(some, middle, high), V, np.broadcast_to(n, (len(V), len(n))))[0]
        hot, cold = np.where(positive, middle, hot), np.where(positive, cold, middle)
    return np.where(some, 0.5 * (hot + cold), np.nan)
