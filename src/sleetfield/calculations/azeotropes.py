"""All azeotropes of a system: every face of the composition space searched by itself, from many starts.

What is found is then told apart by the residue curves dx/dξ = x - y around it: where all of them leave, it is an unstable node (the
lowest boiling point around), where all end, a stable node, else a saddle.
"""

from __future__ import annotations

from itertools import combinations
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..core.arrays import ABSENT
from ..core.equilibrium import azeotrope as engine
from ..core.equilibrium.stability import UNSTABLE
from ..mixture import Mixture
from ..results.azeotropes import Azeotrope, AzeotropeList
from .saturation import bubble, temperatures_or_pressures

Array = NDArray[np.float64]

_LEVELS = {2: 15, 3: 6, 4: 4, 5: 3}
_FEWEST_LEVELS = 2
_LOOKS = 6
_ZERO = 1e-9


def along(system: Mixture, T: Any, P: Any) -> AzeotropeList:
    """All azeotropes at each of the temperatures or pressures.

    Raises
    ------
    InputError
        If neither or both are given, or one is not positive.
    """
    system.need_vapor("azeotropes")
    given, values = temperatures_or_pressures("azeotropes", T, P)
    found = [a for value in values for a in find(system, given, float(value))]
    return AzeotropeList(system, given, values, tuple(found))


def find(system: Mixture, given: str, value: float) -> tuple[Azeotrope, ...]:
    """Every stable azeotrope at a temperature (``given="T"``) or pressure (``"P"``), the lowest boiling first."""
    model = system.phase_model
    gases = system.gases
    boiling = [i for i in range(len(system)) if i not in gases]
    if len(boiling) < 2:
        return ()
    starts, some = _starts(boiling, len(system))
    found = []
    with np.errstate(all="ignore"):
        one = engine.homogeneous(model, given, value, starts)
        for k in np.flatnonzero(one.tm >= UNSTABLE):
            found.append(_described(system, given, float(one.T[k]), float(one.P[k]), one.x[k], one.x[k][None]))
        unstable = np.flatnonzero(~(one.tm >= UNSTABLE))
        T, P = engine.boiling_guess(model, given, value, some)
        T, P, x = (np.concatenate([own[unstable], more]) for own, more in ((one.T, T), (one.P, P), (one.x, some)))
        there, first, second = engine.split_below(model, T, P, x)
        if there.size:
            two = engine.heterogeneous(model, given, value, np.log(P[there] if given == "T" else T[there]), first, second)
            for k in np.flatnonzero(two.tm >= UNSTABLE):
                liquids = _amounts(two.x[k], two.liquids[k])[:, None] * two.liquids[k]
                found.append(_described(system, given, float(two.T[k]), float(two.P[k]), two.x[k], liquids))
    key = (lambda a: a.T) if given == "P" else (lambda a: -a.P)
    return tuple(sorted(found, key=key))


def _starts(components: list[int], count: int) -> tuple[Array, Array]:
    """Compositions on every face of the ``components`` out of ``count``: many for one liquid, a few from which two liquids are looked for."""
    many, few = [], []
    for size in range(2, len(components) + 1):
        inside = engine.interior_points(size, _LEVELS.get(size, _FEWEST_LEVELS))
        for face in combinations(components, size):
            whole = np.zeros((len(inside), count))
            whole[:, list(face)] = inside
            many.append(whole)
            few.append(whole[:: max(1, len(whole) // _LOOKS)])
    return np.concatenate(many), np.concatenate(few)


def _amounts(x: Array, liquids: Array) -> Array:
    """How much of each liquid makes up ``x``."""
    apart = liquids[0] - liquids[1]
    share = float(((x - liquids[1]) * apart).sum() / (apart * apart).sum())
    return np.array([share, 1.0 - share])


def _described(system: Mixture, given: str, T: float, P: float, x: Array, liquids: Array) -> Azeotrope:
    face = np.flatnonzero(x > 0.0)
    own = np.maximum(liquids[:, face], ABSENT)
    response = engine.vapor_response(system.phase_model.select(face.tolist()), T, P, given, own, x[face])
    # without the direction along which nothing but the whole amount changes
    motion = np.eye(len(face)) - response
    basis = np.linalg.svd(np.ones((1, len(face))))[2][1:]
    inside = np.linalg.eigvals(basis @ motion @ basis.T).real
    outside = 1.0 - np.delete(engine.volatilities(system.phase_model, T, P, liquids, x), face)
    return Azeotrope(system, given, T, P, x, liquids, _boils(inside), _node(np.concatenate([inside, outside])))


def _boils(values: Array) -> str:
    if (values > -_ZERO).all():
        return "minimum boiling"
    return "maximum boiling" if (values < _ZERO).all() else "saddle"


def _node(values: Array) -> str:
    if (values > -_ZERO).all():
        return "unstable node"
    return "stable node" if (values < _ZERO).all() else "saddle"


def pure_nodes(system: Mixture, P: float) -> tuple[list[str], list[float]]:
    """What kind of point each pure component is for residue curves at a pressure, and its boiling temperature."""
    kinds, temperatures = [], []
    for x in np.eye(len(system)):
        T = bubble(system, x, P=P).T
        k = engine.volatilities(system.phase_model, T, P, x[None], x)
        kinds.append(_node(1.0 - k[x == 0.0]))
        temperatures.append(T)
    return kinds, temperatures
