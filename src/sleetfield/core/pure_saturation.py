"""States of a single component between its two saturated phases, given by two of H, S, U and V.

Along the vapor-pressure curve each quantity says which share of vapor it needs; where two of them agree, both are met.
"""

from __future__ import annotations

import numpy as np

from .arrays import Array
from .blocks import put_rows, take_rows
from .equilibrium.critical import critical_points
from .equilibrium.saturation import bubble_at_T
from .specification import FRACTIONS, Specification, Thermodynamics
from .specified_flash import SpecifiedFlash, nothing, saturated_values, side_by_side

_POINTS = 48
_COLDEST = 0.35
"""Temperature that the curve is followed down to, over the critical one."""
_HOTTEST = 600.0
"""K, where there is no critical point."""


def saturated(wanted: Specification) -> SpecifiedFlash:
    """The states of one component that lie between its phases; no answer for others, or where a share of vapor is given."""
    answer = nothing(wanted.z, wanted.mixture.model)
    names = list(wanted.given)
    alone = (wanted.z > 0.0).sum(axis=1) == 1
    if not alone.any() or any(name in FRACTIONS for name in names):
        return answer
    component = wanted.z.argmax(axis=1)
    for i in np.unique(component[alone]):
        rows = np.flatnonzero(alone & (component == i))
        put_rows(answer, rows, _of_component(wanted.rows(rows), int(i)))
    return answer


def _of_component(wanted: Specification, i: int) -> SpecifiedFlash:
    answer, mixture = nothing(wanted.z, wanted.mixture.model), wanted.mixture
    T, P = _curve(mixture, i)
    if len(T) < 2:
        return answer
    x = np.tile(wanted.z[:1], (len(T), 1))
    values = zip(wanted.given.values(), saturated_values(mixture, list(wanted.given), T, P, x), strict=True)
    shares = [(target[:, None] - liquid) / (vapor - liquid) for target, (vapor, liquid) in values]
    apart = shares[0] - shares[1]
    inside = np.abs(shares[0] - 0.5) < 1.0
    passed = (apart[:, :-1] * apart[:, 1:] <= 0.0) & (inside[:, :-1] | inside[:, 1:])
    rows = np.flatnonzero(passed.any(axis=1))
    if not rows.size:
        return answer
    k = passed[rows].argmax(axis=1)
    weight = apart[rows, k] / (apart[rows, k] - apart[rows, k + 1])
    at_T, at_P = (np.exp((1.0 - weight) * np.log(v[k]) + weight * np.log(v[k + 1])) for v in (T, P))
    share = (1.0 - weight) * shares[0][rows, k] + weight * shares[0][rows, k + 1]
    found = side_by_side(wanted.rows(rows), at_T, at_P, share)
    sound = np.flatnonzero(found.found & (found.result.amount[:, :2] >= 0.0).all(axis=1))
    put_rows(answer, rows[sound], take_rows(found, sound))
    return answer


def _curve(mixture: Thermodynamics, i: int) -> tuple[Array, Array]:
    """Temperatures and vapor pressures of component ``i``, close together towards its critical point."""
    pure = mixture.model.select([i])
    critical = critical_points(pure, np.ones(1))
    top = critical[0].T if critical else _HOTTEST
    depth = np.linspace(np.sqrt(1.0 - _COLDEST), 1e-3, _POINTS)
    T = top * (1.0 - depth**2)
    found = bubble_at_T(pure, T, np.ones((_POINTS, 1)))
    return T[found.found], found.P[found.found]
