"""What Wong and Sandler's mixing rule has of its own: interaction parameters of second virial coefficients, given or from the excess Gibbs energy, and temperatures where it fails."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import combinations
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..components.component_list import ComponentList
from ..core.constants import R
from ..core.models.activity.contract import ActivityModel
from ..core.models.contract import LIQUID
from ..core.models.cubic import CubicModel
from ..errors import InputError
from ..pairs.of_temperature import constant
from ..text import first_few
from .interactions import given_pairs
from .parameter import Parameter

Array = NDArray[np.float64]

_T, _REDUCED_T = 298.15, 0.7
_LOW_PRESSURE = 1.0
"""Pa; an equation of state has a liquid of positive volume down to there at the temperatures above."""

FROM_EXCESS = "from the excess Gibbs energy at half and half, 25 °C or 0.7 Tc, and no pressure"


def virial_interactions(who: ComponentList, given: Any, without: CubicModel, activity: ActivityModel) -> Iterator[Parameter]:
    """Kij of every pair; ``without`` is the equation with none."""
    if isinstance(given, str):
        raise InputError(f"kij is {given!r}; beside mixing='WS' it is a mapping of pairs to numbers.")
    own = given_pairs(who, "kij", given or {})
    pairs = list(combinations(range(len(who)), 2))
    found = _from_excess(without, activity, pairs)
    for (i, j), value in zip(pairs, found, strict=True):
        pair = who.names[i], who.names[j]
        if (i, j) in own:
            yield Parameter("kij", pair, own[i, j])
        else:
            yield Parameter("kij", pair, constant(float(value)), FROM_EXCESS, "shipped")


def _from_excess(without: CubicModel, activity: ActivityModel, pairs: list[tuple[int, int]]) -> Array:
    """With which the equation's excess Gibbs energy is the activity model's: at no pressure it changes by -ln b, and b is as 1 - kij/2 there.

    Wong, Orbey and Sandler, Ind. Eng. Chem. Res. 31 (1992) 2033-2039; at 0.7 of the lower critical temperature where 25 °C is above that.
    """
    i, j = np.array(pairs, dtype=int).reshape(-1, 2).T
    T = np.minimum(_T, _REDUCED_T * np.minimum(without.Tc[i], without.Tc[j]))
    each = np.eye(without.n_components)
    bound = without.at(np.tile(T, 3), np.full(3 * len(T), _LOW_PRESSURE))
    mixed, one, other = np.split(bound.ln_phi(np.concatenate([0.5 * (each[i] + each[j]), each[i], each[j]]), LIQUID), 3)
    row = np.arange(len(T))
    by_equation = 0.5 * (mixed[row, i] - one[row, i] + mixed[row, j] - other[row, j])
    ln_gamma = activity.at(T).ln_gamma(0.5 * (each[i] + each[j]).T)
    wanted = 0.5 * (ln_gamma[i, row] + ln_gamma[j, row])
    return np.asarray(2.0 * (1.0 - np.exp(by_equation - wanted)))


def beyond_boyle(who: ComponentList, model: CubicModel, T: Array) -> list[str]:
    """What there is to say at temperatures where a component's a/bRT is under one, and another's is not."""
    highest = np.array([T.max(initial=0.0)])
    above = model.root_a(highest)[0][0] ** 2 < model.b * R * highest
    if not above.any() or above.all():
        return []
    names = [name for name, is_above in zip(who.names, above, strict=True) if is_above]
    return [
        f"Above the Boyle temperature of a component (here of {first_few(names)}) some mixtures have no covolume by Wong and Sandler's rule, "
        "and states that need one are not found. The other rules have no such limit."
    ]
