"""Melting diagrams of two components, and the invariant points in them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..core.equilibrium.flash import flash
from ..core.equilibrium.onset import on_cooling, together
from ..core.models.contract import VAPOR
from ..core.models.crystal import Crystal
from ..errors import CalculationError, InputError
from ..mixture import Mixture
from ..recipes.solid_compound import SolidCompound
from ..results.melting_diagram import MeltingDiagram, Monotectic, TwoSolids
from ..specified import check_points, value_of
from .boiling_line import spaced
from .solid_points import solids_of

Array = NDArray[np.float64]

_PLACES = np.array([0.5, 0.1, 0.9, 1e-2, 0.99, 1e-3, 0.999, 1e-4, 1e-5, 1e-6])
"""Where between two points a liquid beside both solids is sought from: where it parts, nothing changes along the diagram."""
_SAME = 1e-6
"""How far apart, K, temperatures on a plateau may be."""


def melting_diagram(system: Mixture, names: list[str], P: Any, points: int, compounds: Sequence[SolidCompound]) -> MeltingDiagram:
    """The diagram; `System.melting_diagram` says it all."""
    names = names or list(system.names)
    if len(names) != 2:
        raise InputError("A melting diagram is of two components; name them: melting_diagram(first, second).")
    check_points(points)
    pressure = value_of(P, "P")
    system = system.part(names)
    pure, remarks = solids_of(system)
    solids: list[Crystal] = [*pure, *(c.of(system.who) for c in compounds)]
    words = [*(f"solid {system.names[s.component]}" for s in pure), *(c.title for c in compounds)]
    x = spaced(points)
    with np.errstate(all="ignore"):
        found = on_cooling(system.fluids, solids, np.full(points, pressure), _feeds(x))
        if not (found.crystal >= 0).any():
            raise CalculationError(f"Nothing freezes out of {' + '.join(system.names)} at this pressure.")
        eutectics, peritectics = _of_two_solids(system, solids, words, pressure, x, found.T, found.crystal)
        monotectics, boiling = _monotectics(system, words, pressure, x, found.T, found.crystal)
    both = [*eutectics, *peritectics]
    T = found.T.copy()
    extra = np.array([e.x for e in both] + [v for m in monotectics for v in m.x])
    if extra.size:
        # the corners of the curve are points of it
        at_T = np.array([e.T for e in both] + [m.T for m in monotectics for _ in m.x])
        own = np.array([words.index(e.solids[1]) for e in both] + [words.index(m.solid) for m in monotectics for _ in m.x])
        order = np.argsort(np.concatenate([x, extra]), kind="stable")
        x, T, crystal = (np.concatenate(columns)[order] for columns in ((x, extra), (T, at_T), (found.crystal, own)))
        boiling = np.concatenate([boiling, np.zeros(len(extra), dtype=bool)])[order]
    else:
        crystal = found.crystal
    return MeltingDiagram(
        system,
        pressure,
        x,
        T,
        tuple(words[k] if k >= 0 else "" for k in crystal),
        eutectics,
        peritectics,
        monotectics,
        boiling,
        tuple(remarks),
    )


def _feeds(x: Array) -> Array:
    return np.stack([x, 1.0 - x], axis=1)


def _of_two_solids(
    system: Mixture, solids: Sequence[Crystal], words: Sequence[str], P: float, x: Array, T: Array, crystal: NDArray[np.intp]
) -> tuple[tuple[TwoSolids, ...], tuple[TwoSolids, ...]]:
    """Eutectics and peritectics, where the line of one solid meets that of the other; where a line turns back instead, the first solid changes without both being there together."""
    eutectics: list[TwoSolids] = []
    peritectics: list[TwoSolids] = []
    shares = [float(s.composition(np.ones(1), np.zeros((1, 2)))[0, 0]) for s in solids]
    for row in np.flatnonzero((crystal[:-1] != crystal[1:]) & (crystal[:-1] >= 0) & (crystal[1:] >= 0)):
        own = crystal[row : row + 2]
        low, high = x[row : row + 2]
        for start in low + _PLACES * (high - low):
            at_T, at = together(system.fluids, [solids[k] for k in own], P, float(T[row : row + 2].min()), _feeds(start[None])[0])
            if low <= at[0] <= high:
                break
        else:
            continue
        at_x = float(at[0])
        between = min(shares[k] for k in own) <= at_x <= max(shares[k] for k in own)
        (eutectics if between else peritectics).append(TwoSolids(at_T, at_x, (words[own[0]], words[own[1]])))
    return tuple(eutectics), tuple(peritectics)


def _monotectics(
    system: Mixture, words: Sequence[str], P: float, x: Array, T: Array, crystal: NDArray[np.intp]
) -> tuple[tuple[Monotectic, ...], NDArray[np.bool_]]:
    """Where two liquids stand beside the first solid, and at which points there is vapor there."""
    there = np.flatnonzero(crystal >= 0)
    fluids = flash(system.fluids, T[there], np.full(len(there), P), _feeds(x[there]))
    boiling = np.zeros(len(x), dtype=bool)
    boiling[there] = fluids.kinds[:, 0] == VAPOR
    found: list[Monotectic] = []
    for row in np.flatnonzero((fluids.n_phases == 2) & (fluids.kinds[:, 0] != VAPOR)):
        i = there[row]
        ends = sorted(fluids.x[row, :2, 0].tolist())
        if not any(abs(m.T - T[i]) < _SAME for m in found):
            found.append(Monotectic(float(T[i]), (float(ends[0]), float(ends[1])), words[crystal[i]]))
    return tuple(found), boiling
