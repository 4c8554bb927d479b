"""How three components freeze."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..core.equilibrium.onset import on_cooling, supersaturations, together
from ..core.models.crystal import Crystal
from ..errors import CalculationError, InputError
from ..mixture import Mixture
from ..results.freezing_map import EutecticPoint, FreezingMap, Valley
from ..specified import value_of
from .melting_diagram import melting_diagram
from .solid_points import solids_of

Array = NDArray[np.float64]

_SIDE = 36
"""Steps of the grid along a side."""
_STEP = 0.02
_FIRST = 1e-4
_LEAST = 1e-9
_OVER = 1e-9
_FAR = 12.0
"""K, between neighbors on a valley."""
_TRACE = 1e-12


def freezing_map(system: Mixture, P: Any) -> FreezingMap:
    """The map; `System.freezing_map` says it all."""
    if len(system) != 3:
        raise InputError(
            f"A freezing map is of three components; this system has {len(system)}. Take some of them with part([...])."
        )
    P = value_of(P, "P")
    solids, remarks = solids_of(system)
    words = [f"solid {system.names[s.component]}" for s in solids]
    x = np.array([[i, j, _SIDE - i - j] for i in range(_SIDE + 1) for j in range(_SIDE + 1 - i)]) / _SIDE
    with np.errstate(all="ignore"):
        found = on_cooling(system.fluids, solids, np.full(len(x), P), x)
        if not (found.crystal >= 0).any():
            raise CalculationError(f"Nothing freezes out of {' + '.join(system.names)} at this pressure.")
        eutectics, valleys = [], []
        for third in range(3):
            for side in _on_side(system, words, P, third):
                eutectics.append(side)
                own = [words.index(s) for s in side.solids]
                valley, end = _valley(system, solids, P, third, own, side)
                valleys.append(Valley(*valley, (side.solids[0], side.solids[1])))
                if end is not None and not any(len(e.solids) == 3 and np.abs(end.x - e.x).max() < 1e-5 for e in eutectics):
                    eutectics.append(EutecticPoint(end.T, end.x, tuple(words)))
    return FreezingMap(
        system,
        P,
        x,
        found.T,
        tuple(words[k] if k >= 0 else "" for k in found.crystal),
        tuple(valleys),
        tuple(eutectics),
        tuple(remarks),
    )


def _on_side(system: Mixture, words: Sequence[str], P: float, third: int) -> Iterator[EutecticPoint]:
    """Eutectics of the two other components."""
    names = [name for i, name in enumerate(system.names) if i != third]
    try:
        side = melting_diagram(system, names, P, 61, ())
    except CalculationError:
        return
    for e in side.eutectics:
        x = np.insert([e.x, 1.0 - e.x], third, 0.0)
        if set(e.solids) <= set(words):
            yield EutecticPoint(e.T, x, e.solids)


def _valley(
    system: Mixture, solids: Sequence[Crystal], P: float, third: int, own: Sequence[int], start: EutecticPoint
) -> tuple[tuple[Array, Array], EutecticPoint | None]:
    """From a side inwards, to where the third solid forms too or the two part: the line, and the ternary eutectic."""
    pair, others = [solids[k] for k in own], [k for k in range(len(solids)) if k not in own]
    T, x, step = [start.T], [start.x], _FIRST

    def over(at_T: float, at_x: Array) -> Array:
        """How far the other solids are supersaturated."""
        return supersaturations(system.fluids, solids, np.array([at_T]), np.array([P]), at_x[None])[0, others]

    while x[-1][third] + step < 1.0:
        share = x[-1][third] + step
        guess = x[-1] * (1.0 - share) / (1.0 - x[-1][third])
        guess[third] = share
        at_T, at_x = together(system.fluids, pair, P, T[-1], np.maximum(guess, _TRACE), fixed=[third])
        reached = np.isfinite(at_T) and abs(at_T - T[-1]) < _FAR
        passed = reached and bool((over(at_T, at_x) > _OVER).any())
        if reached and not passed:
            T.append(at_T)
            x.append(at_x)
            step = min(2.0 * step, _STEP)
            continue
        if passed and len(solids) == 3:
            end_T, end_x = together(system.fluids, solids, P, T[-1], np.maximum(x[-1], _TRACE))
            if np.isfinite(end_T) and x[-1][third] <= end_x[third] <= share + _LEAST:
                return (np.array([*T, end_T]), np.array([*x, end_x])), EutecticPoint(end_T, end_x, ())
        if step < _LEAST:
            break
        step *= 0.25
    return (np.array(T), np.array(x)), None
