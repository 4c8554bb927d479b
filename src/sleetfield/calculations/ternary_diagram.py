"""Diagrams of three components: what liquids they form at a temperature, and how they boil at a pressure."""

from __future__ import annotations

from itertools import permutations

import numpy as np
from numpy.typing import NDArray

from ..core.constants import ATMOSPHERE
from ..core.equilibrium.binodal import Branch, follow, stable_parts
from ..core.equilibrium.flash import FlashResult, flash
from ..core.equilibrium.saturation import bubble_at_P
from ..core.equilibrium.stability import UNSTABLE
from ..core.models.contract import LIQUID
from ..core.restricted import OneKind
from ..core.saturation_by_flashes import split_bubble
from ..errors import CalculationError, InputError
from ..mixture import Mixture
from ..results.azeotropes import Azeotrope
from ..results.ternary_diagram import BoilingMap, LiquidMap
from ..text import shown
from . import azeotropes

Array = NDArray[np.float64]

_LATTICE = 14
_RIM = 0.004
_COVERED, _SIDE = 0.06, 0.03
_STEP_TO_SIDE = 0.06
_BOILING_LATTICE = 30
_CURVE_STEPS, _STEP = 300, 0.08
_SEEDS = 6


def _lattice(per_edge: int) -> Array:
    """Compositions over the triangle, its rim a little inside ``(M, 3)``."""
    i, j = np.meshgrid(np.arange(per_edge + 1), np.arange(per_edge + 1), indexing="ij")
    inside = i + j <= per_edge
    z = np.stack([i[inside], j[inside], per_edge - i[inside] - j[inside]], axis=1) / per_edge
    return np.asarray((z + _RIM) / (1.0 + 3.0 * _RIM))


def liquids(system: Mixture, T: float, P: float = ATMOSPHERE) -> LiquidMap:
    """Binodal curves, tie lines, plait points and three-liquid triangles at a temperature and pressure."""
    _three(system)
    model = OneKind(system.phase_model, LIQUID)
    feeds = _lattice(_LATTICE)
    with np.errstate(all="ignore"):
        r = _liquid_flash(model, T, P, feeds)
        two = np.flatnonzero((r.n_phases == 2) & r.stable & r.converged)
        triangles = _triangles(r)
        branches, beyond = _branches(model, T, P, r.x[two, :2], [])
        if len(beyond):
            triangles = _distinct([*triangles, *_triangles(_liquid_flash(model, T, P, beyond))])
        # from each side of a triangle a branch leads away
        sides = np.array([t[[i, j]] for t in triangles for i, j in ((0, 1), (0, 2), (1, 2))]).reshape(-1, 2, 3)
        branches, _ = _branches(model, T, P, sides, branches, _SIDE)
    return LiquidMap(system, T, P, tuple(_to_sides(b, sides) for b in branches), tuple(triangles))


def _liquid_flash(model: OneKind, T: float, P: float, feeds: Array) -> FlashResult:
    return flash(model, np.full(len(feeds), T), np.full(len(feeds), P), feeds)


def _triangles(r: FlashResult) -> list[Array]:
    """Three liquids wherever they were found, each set once."""
    return _distinct([r.x[k, :3] for k in np.flatnonzero((r.n_phases == 3) & r.converged & r.stable)])


def _branches(
    model: OneKind, T: float, P: float, ties: Array, known: list[Branch], near: float = _COVERED
) -> tuple[list[Branch], Array]:
    """The branches through tie lines ``(M, 2, 3)``, besides those that are ``known``, as far as they are stable; and where they cease to be so."""
    branches, beyond = list(known), [np.zeros((0, 3))]
    left = np.ones(len(ties), dtype=bool)
    for b in branches:
        left &= ~_covered(ties, b.ties, near)
    while left.any():
        open_rows = np.flatnonzero(left)
        longest = open_rows[np.abs(ties[open_rows, 0] - ties[open_rows, 1]).max(axis=1).argmax()]
        parts, ends = stable_parts(model, T, P, follow(model, T, P, ties[longest]))
        left[longest] = False
        beyond.append(ends)
        for part in parts:
            if len(part.ties) > 1 and not any(_covered(part.ties[[len(part.ties) // 2]], b.ties, near).all() for b in branches):
                branches.append(part)
            left &= ~_covered(ties, part.ties, near)
    return branches, np.concatenate(beyond)


def _to_sides(branch: Branch, sides: Array) -> Branch:
    """A branch with the side of a triangle that it comes to as its end."""
    ties = branch.ties
    for end in (0, -1):
        if not len(sides):
            break
        both = np.concatenate([sides, sides[:, ::-1]])
        away = np.abs(both - ties[end]).max(axis=(1, 2))
        k = int(away.argmin())
        if 1e-9 < away[k] < _STEP_TO_SIDE:
            ties = np.concatenate([both[[k]], ties] if end == 0 else [ties, both[[k]]])
    return Branch(ties, branch.plaits)


def _covered(ties: Array, known: Array, near: float) -> NDArray[np.bool_]:
    """Which tie lines lie among those of a branch, whichever liquid stands first."""
    apart = [np.abs(ties[:, None] - other[None]).max(axis=(2, 3)).min(axis=1) for other in (known, known[:, ::-1])]
    return np.asarray(np.minimum(*apart) < near)


def _distinct(found: list[Array]) -> list[Array]:
    kept: list[Array] = []
    for t in found:
        if not any(np.abs(t[list(order)] - k).max() < 1e-5 for k in kept for order in permutations(range(len(t)))):
            kept.append(t)
    return kept


def _three(system: Mixture) -> None:
    if len(system) != 3:
        raise InputError(f"A triangle is of three components; this system has {len(system)}. Take part([...]) of it.")


def boiling(system: Mixture, P: float) -> BoilingMap:
    """Bubble temperatures over the triangle, residue curves, their nodes and saddles, and the boundaries between them."""
    _three(system)
    system.need_vapor("boiling_map")
    z = _lattice(_BOILING_LATTICE)
    with np.errstate(all="ignore"):
        T, y = _boil(system, P, z)
        found = azeotropes.find(system, "P", P)
        known = np.asarray(np.isfinite(y).all(axis=1))
        if 2 * known.sum() < len(known):
            where = shown(P, "pressure", system.units)
            raise CalculationError(
                f"Most of the mixtures of {', '.join(system.names)} have no bubble point at {where}: there is nothing to draw."
            )
        vapor = _Vapors(z[known], y[known])
        seeds = _lattice(_SEEDS)
        seeds = seeds[(seeds > 2.0 * _RIM).all(axis=1)]
        ahead, back = _residue_curves(vapor, seeds, 1.0), _residue_curves(vapor, seeds, -1.0)
        curves = [np.concatenate([b[::-1], a[1:]]) for a, b in zip(ahead, back, strict=True)]
        boundaries = _boundaries(vapor, found)
        kinds, boiling_T = azeotropes.pure_nodes(system, P)
    return BoilingMap(system, P, z, T, y, tuple(curves), tuple(boundaries), found, tuple(kinds), tuple(boiling_T))


def _boil(system: Mixture, P: float, z: Array) -> tuple[Array, Array]:
    """Bubble temperatures and vapors of liquids ``z (N, 3)``, of two liquids where they split."""
    pressure = np.full(len(z), P)
    point = bubble_at_P(system.phase_model, pressure, z)
    T, y = point.T.copy(), point.incipient.copy()
    unstable = np.flatnonzero(point.tm < UNSTABLE)
    if unstable.size:
        split = split_bubble(system.thermodynamics, "P", pressure[unstable], z[unstable])
        T[unstable], y[unstable] = split.T, split.incipient
    return T, y


class _Vapors:
    """The vapor over any liquid of the triangle, interpolated smoothly between those of a lattice."""

    def __init__(self, x: Array, y: Array) -> None:
        from scipy.interpolate import CloughTocher2DInterpolator, NearestNDInterpolator

        # K-values vary less than the vapor itself, and keep it on the triangle's sides
        values = np.log(np.maximum(y, 1e-12) / x)
        self._smooth = CloughTocher2DInterpolator(x[:, :2], values)
        self._nearest = NearestNDInterpolator(x[:, :2], values)

    def over(self, x: Array) -> Array:
        """Mole fractions of the vapor ``(N, 3)``."""
        ln_k = self._smooth(x[:, :2])
        outside = ~np.isfinite(ln_k).all(axis=1)
        if outside.any():
            ln_k[outside] = self._nearest(x[outside, :2])
        y = x * np.exp(ln_k)
        return np.asarray(y / y.sum(axis=1)[:, None])


def _residue_curves(vapor: _Vapors, x: Array, sense: float) -> list[Array]:
    """dx/dξ = x - y from each start ``(N, 3)`` by Heun's method, all at once, to where they end."""
    path, now = [x], x
    for _ in range(_CURVE_STEPS):
        slope = sense * _STEP * (now - vapor.over(now))
        middle = _inside(now + slope)
        now = _inside(now + 0.5 * (slope + sense * _STEP * (middle - vapor.over(middle))))
        path.append(now)
        if np.abs(path[-1] - path[-2]).max() < 2e-5:
            break
    whole = np.stack(path)
    return [whole[:, k] for k in range(whole.shape[1])]


def _inside(x: Array) -> Array:
    x = np.maximum(x, 1e-9)
    return np.asarray(x / x.sum(axis=1)[:, None])


def _boundaries(vapor: _Vapors, found: tuple[Azeotrope, ...]) -> list[Array]:
    """Residue curves that leave the saddles into the triangle, both ways in time, kept where they end at a node other than a vertex they came from."""
    ways = [way for a in found if a.node == "saddle" for way in _ways_out(a.x)]
    lines: list[Array] = []
    for sense in (1.0, -1.0):
        starts = [start for start, own in ways if own == sense]
        if starts:
            lines += _residue_curves(vapor, np.array(starts), sense)
    return [line for line in lines if np.abs(line[-1] - line[0]).max() > 0.02]


def _ways_out(x: Array) -> list[tuple[Array, float]]:
    """Where to start from a saddle: into the triangle from a side, both ways in time; around from inside."""
    small = 2e-3
    absent = np.flatnonzero(x <= 0.0)
    if absent.size == 1:
        inward = (1.0 - small) * x
        inward[absent[0]] += small
        return [(inward, 1.0), (inward, -1.0)]
    directions = np.array([[1.0, -1.0, 0.0], [0.0, 1.0, -1.0], [-1.0, 0.0, 1.0]])
    return [(x + s * small * d, sense) for d in directions for s in (1.0, -1.0) for sense in (1.0, -1.0)]
