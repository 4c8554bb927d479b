"""How much of an inhibitor keeps hydrates away."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..composition import Composition
from ..core.brackets import narrowed
from ..core.equilibrium.flash import flash
from ..core.equilibrium.onset import supersaturations
from ..errors import InputError
from ..mixture import Mixture
from ..recipes.hydrates import guests, hydrate_notes, hydrates
from ..results.inhibitor_dose import InhibitorDose

Array = NDArray[np.float64]

_MOST = 20.0
"""Moles for each of water that are tried."""
_PLACES = np.concatenate([np.linspace(0.0, 0.4, 17), np.geomspace(0.5, _MOST, 12)])
_CLOSE = 1e-9


def inhibitor_dose(system: Mixture, inhibitor: str, z: Composition, T: Any, P: Any, basis: str) -> InhibitorDose:
    """The dose at each state; `System.inhibitor_dose` says it all."""
    i = system.position(inhibitor)
    name = system.names[i]
    if name == "water" or name in guests(system.who):
        raise InputError(f"{name} makes hydrates itself; an inhibitor is something else, such as methanol.")
    _, found = hydrates(system.who, system.model)
    values, feed, _ = system.conditions(z, basis, T=T, P=P)
    T, P, water = values["T"], values["P"], feed[:, system.names.index("water")]
    if not (water > 0.0).all():
        raise InputError("There is no water in the feed, so that no hydrate forms.")

    def over(share: Array, rows: NDArray[np.intp]) -> Array:
        """How far the hydrates are supersaturated with so many moles for each of water."""
        dosed = _dosed(feed[rows], i, share * water[rows])
        return np.asarray(supersaturations(system.fluids, found, T[rows], P[rows], dosed).max(axis=1))

    with np.errstate(all="ignore"):
        n = len(T)
        s = over(np.tile(_PLACES, n), np.repeat(np.arange(n), len(_PLACES))).reshape(n, -1)
        # the least dose beyond which it stays away
        forms = s >= 0.0
        last = len(_PLACES) - 1 - forms[:, ::-1].argmax(axis=1)
        share = np.where(forms.any(axis=1), np.nan, 0.0)
        rows = np.flatnonzero(forms.any(axis=1) & (last < len(_PLACES) - 1))
        if rows.size:
            at, _, _ = narrowed(lambda u, which: over(u, rows[which]), _PLACES[last[rows]], _PLACES[last[rows] + 1], _CLOSE)
            share[rows] = at
        phases = _phases(system, T, P, _dosed(feed, i, np.nan_to_num(share) * water))
    return InhibitorDose(system, name, T, P, feed, share * water, phases, tuple(hydrate_notes(system.who)))


def _dosed(feed: Array, i: int, moles: Array) -> Array:
    with_it = feed.copy()
    with_it[:, i] += moles
    return np.asarray(with_it / with_it.sum(axis=1, keepdims=True))


def _phases(system: Mixture, T: Array, P: Array, z: Array) -> tuple[Array, Array]:
    """The first phase and the one with the most water ``(N, C)``, NaN where these are the same."""
    found = flash(system.fluids, T, P, z)
    most = np.nanargmax(found.x[:, :, system.names.index("water")], axis=1)
    every = np.arange(len(T))
    first, wet = found.x[:, 0], found.x[every, most]
    alone = np.where(found.n_phases < 2, np.nan, 1.0)[:, None]
    return np.asarray(first * alone), np.asarray(wet * alone)
