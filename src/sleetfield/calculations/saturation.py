"""Bubble and dew points of a system: the batched engine first; the whole envelope where that finds none, or for all solutions."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..composition import Composition
from ..core.arrays import ABSENT, Index
from ..core.constants import P_REFERENCE
from ..core.equilibrium import saturation as engine
from ..core.equilibrium.envelope import Line
from ..core.equilibrium.line_points import crossings
from ..core.equilibrium.saturation import SaturationResult
from ..core.equilibrium.stability import MARGINAL, UNSTABLE
from ..core.models.contract import VAPOR
from ..core.saturation_by_flashes import displaced_dew, scanned, split_bubble
from ..errors import CalculationError, InputError
from ..mixture import Mixture
from ..results.saturation import Saturation, SaturationBatch
from ..specified import values_of
from ..text import shown
from .envelope import P_TRACED, boundaries, lines_from_low_pressure
from .later import ANSWERS
from .stability import feed_stability

if TYPE_CHECKING:
    from ..results.state import State

Array = NDArray[np.float64]

SOLVERS = {
    ("bubble", "T"): engine.bubble_at_T,
    ("dew", "T"): engine.dew_at_T,
    ("bubble", "P"): engine.bubble_at_P,
    ("dew", "P"): engine.dew_at_P,
}


def bubble(system: Mixture, z: Composition, *, T: Any = None, P: Any = None, basis: str = "mole") -> Any:
    """A Saturation, or a SaturationBatch where z, T or P is an array; `System.bubble` says it all."""
    return _points(system, "bubble", z, T, P, basis)


def dew(system: Mixture, z: Composition, *, T: Any = None, P: Any = None, basis: str = "mole") -> Any:
    """The same for a vapor."""
    return _points(system, "dew", z, T, P, basis)


def _points(system: Mixture, kind: str, z: Composition, T: Any, P: Any, basis: str) -> Any:
    given = one_of(kind, T, P)
    system.need_vapor(kind)
    values, batch, shape = system.conditions(z, basis, **{given: T if given == "T" else P})
    found = saturate(system, kind, given, values[given], batch)
    points = SaturationBatch(system, kind, given, found.T, found.P, batch, found.incipient, found.tm >= UNSTABLE, ANSWERS)
    if shape:
        return points
    if not found.found[0]:
        raise CalculationError(why_none(system, kind, given, float(values[given][0]), batch[0]))
    return points[0]


def one_of(call: str, T: Any, P: Any) -> str:
    """Which of both is given, "T" or "P".

    Raises
    ------
    InputError
        If neither is, or both are.
    """
    if (T is None) == (P is None):
        raise InputError(f"{call} needs one of T and P; got {'neither' if T is None else 'T and P'}.")
    return "T" if P is None else "P"


def temperatures_or_pressures(call: str, T: Any, P: Any) -> tuple[str, Array]:
    """Which of both is given, and its values ``(N,)`` in SI.

    Raises
    ------
    InputError
        If neither or both are given, or one is not positive.
    """
    given = one_of(call, T, P)
    return given, np.atleast_1d(values_of(T if given == "T" else P, given)).ravel()


def saturate(system: Mixture, kind: str, given: str, values: Array, z: Array, near: engine.Near | None = None) -> SaturationResult:
    """Points of a ``kind`` at given temperatures (``given="T"``) or pressures, NaN where there is none; sought from points ``near`` them where there are some.

    Where there are several, it is the lower pressure of a dew point and the higher of a bubble point at given temperature, and
    the higher temperature of a dew point and the lower of a bubble point at given pressure.
    """
    found = SOLVERS[kind, given](system.phase_model, values, z, near)
    fields = {name: getattr(found, name).copy() for name in SaturationResult.__dataclass_fields__}
    rows = np.flatnonzero(found.found & ~(found.tm >= UNSTABLE))
    if rows.size:
        beside = split_bubble if kind == "bubble" else displaced_dew
        _put(fields, rows, beside(system.thermodynamics, given, values[rows], z[rows]))
    _take_out_liquids(system, kind, z, fields)
    for i in _missing(fields):
        lines = lines_from_low_pressure(system, z[i], P_REFERENCE, P_TRACED)
        solutions = [s for s in _on_lines(system, lines, kind, given, float(values[i]), z[i]) if s.stable]
        if solutions:
            best = solutions[0] if (kind == "dew") == (given == "T") else solutions[-1]
            fields["T"][i], fields["P"][i], fields["incipient"][i] = best.T, best.P, best.incipient
            fields["residual"][i], fields["tm"][i] = 0.0, 0.0
    rows = _missing(fields)
    if rows.size:
        _put(fields, rows, scanned(system.thermodynamics, kind, given, values[rows], z[rows]))
    return SaturationResult(**fields)


def _missing(fields: dict[str, Array]) -> Index:
    """The rows without a stable point so far."""
    return np.flatnonzero(~np.isfinite(fields["T"] + fields["P"]) | ~(fields["tm"] >= UNSTABLE))


def _put(fields: dict[str, Array], rows: Index, found: SaturationResult) -> None:
    """Take what was found for the rows, in place."""
    there = np.flatnonzero(found.found)
    for name, column in fields.items():
        column[rows[there]] = getattr(found, name)[there]


def _take_out_liquids(system: Mixture, kind: str, z: Array, fields: dict[str, Array]) -> None:
    """Leave points out, in place, of which the lighter phase is a liquid as well: two liquids don't boil."""
    there = np.flatnonzero(np.isfinite(fields["T"] + fields["P"]))
    if there.size:
        y = (fields["incipient"] if kind == "bubble" else z)[there]
        with np.errstate(all="ignore"):
            bound = system.phase_model.at(fields["T"][there], fields["P"][there])
            out = there[~bound.is_vapor(np.maximum(y, ABSENT), VAPOR)]
        for column in fields.values():
            column[out] = np.nan


def solutions(system: Mixture, kind: str, given: str, value: float, z: Array) -> tuple[Saturation, ...]:
    """Every stable point of a ``kind`` at a temperature (``given="T"``) or pressure (``"P"``), in rising order."""
    return _solutions_on(boundaries(system, z, P_REFERENCE, P_TRACED).lines, system, kind, given, value, z)


def usual_solutions(system: Mixture, kind: str, given: str, value: float, z: Array) -> tuple[Saturation, ...]:
    """Those on the lines that are had quickly."""
    return _solutions_on(lines_from_low_pressure(system, z, P_REFERENCE, P_TRACED), system, kind, given, value, z)


def _solutions_on(lines: Sequence[Line], system: Mixture, kind: str, given: str, value: float, z: Array) -> tuple[Saturation, ...]:
    found = [s for s in _on_lines(system, lines, kind, given, value, z) if s.stable]
    # the lines begin at a low pressure; what lies below it is found directly
    direct = SOLVERS[kind, given](system.phase_model, np.array([value]), z[None])
    if direct.found[0] and direct.tm[0] >= UNSTABLE:
        below = [Saturation(system, kind, given, float(direct.T[0]), float(direct.P[0]), z, direct.incipient[0], ANSWERS)]
        found += below if _have_vapors(system, below)[0] else []
    if not found:
        more = scanned(system.thermodynamics, kind, given, np.array([value]), z[None])
        if more.found[0]:
            found.append(Saturation(system, kind, given, float(more.T[0]), float(more.P[0]), z, more.incipient[0], ANSWERS))
    return tuple(_distinct(found, given))


def _distinct(found: list[Saturation], given: str) -> list[Saturation]:
    """In rising order of what was not given, each once."""
    other = "P" if given == "T" else "T"
    found = sorted(found, key=lambda s: float(getattr(s, other)))
    return [s for k, s in enumerate(found) if k == 0 or getattr(s, other) / getattr(found[k - 1], other) - 1.0 > 1e-7]


def _on_lines(system: Mixture, lines: Sequence[Line], kind: str, given: str, value: float, z: Array) -> list[Saturation]:
    present, model = system.present(z)
    found: list[Saturation] = []
    with np.errstate(all="ignore"):
        for line in lines:
            for T, P, ln_k, lighter in crossings(model, z[present], line, given, value):
                if lighter != (kind == "dew"):
                    continue
                incipient = np.zeros(len(z))
                incipient[present] = z[present] * np.exp(-ln_k)
                found.append(Saturation(system, kind, given, T, P, z, incipient / incipient.sum(), ANSWERS))
    distinct = [s for s, fine in zip(found, _have_vapors(system, found), strict=True) if fine]
    distinct = _distinct(distinct, given)
    if not distinct:
        return []
    at_T, at_P = np.array([s.T for s in distinct]), np.array([s.P for s in distinct])
    tm = feed_stability(system, at_T, at_P, np.broadcast_to(z, (len(distinct), len(z)))).tm
    return [replace(s, stable=bool(t >= MARGINAL)) for s, t in zip(distinct, tm, strict=True)]


def _have_vapors(system: Mixture, points: Sequence[Saturation]) -> NDArray[np.bool_]:
    """Of which points the lighter phase is a vapor."""
    if not points:
        return np.zeros(0, dtype=bool)
    T, P = np.array([s.T for s in points]), np.array([s.P for s in points])
    with np.errstate(all="ignore"):
        return system.phase_model.at(T, P).is_vapor(np.maximum(np.stack([s.y for s in points]), ABSENT), VAPOR)


def why_none(system: Mixture, kind: str, given: str, value: float, z: Array) -> str:
    """In words: that there is no such point, and where there are some."""
    dimension = "temperature" if given == "T" else "pressure"
    message = f"There is no {kind} point at {shown(value, dimension, system.units)}."
    lines = lines_from_low_pressure(system, z, P_REFERENCE, P_TRACED)
    values = []
    for line in lines:
        own = line.first_is_lighter == (kind == "dew")
        own[list(line.critical)] = True
        values.append((line.T if given == "T" else line.P)[own])
    known = np.concatenate(values) if values else np.zeros(0)
    if known.size:
        low, high = (shown(v, dimension, system.units) for v in (known.min(), known.max()))
        message += f" {kind.capitalize()} points of this mixture were found from {low} to {high}."
    return message + " Draw the envelope to see where it lies (System.envelope, or `sleetfield envelope`)."


def where_single_phase(system: Mixture, state: State) -> str:
    """In words: on which side of the envelope a single-phase state lies, by bubble and dew points that are found directly."""
    one = f"One phase, {state.phases[0].kind}"
    if state.phases[0].kind == "solid":
        melting = system.model.parameters[f"melting_T {system.names[int(state.z.argmax())]}"].function.at(state.T)
        degrees = shown(abs(melting - state.T), "temperature_difference", system.units, 3)
        return f"{one}: {degrees} {'below' if state.T < melting else 'above'} its melting point at 1 atm."
    P, z = np.array([state.P]), state.z[None]
    points = (SOLVERS[kind, "P"](system.phase_model, P, z) for kind in ("dew", "bubble"))
    T_dew, T_bubble = (float(p.T[0]) if p.tm[0] >= UNSTABLE else np.nan for p in points)
    for boundary, words, difference in (
        (T_dew, "above the dew point", state.T - T_dew),
        (T_bubble, "below the bubble point", T_bubble - state.T),
    ):
        if difference > 0.0:
            degrees = shown(difference, "temperature_difference", system.units, 3)
            return f"{one}: {degrees} {words} at this pressure ({shown(boundary, 'temperature', system.units)})."
    if np.isnan(T_dew) and np.isnan(T_bubble):
        return f"{one}: no bubble or dew point was found at this pressure; the state lies above the two-phase region, or next to its top."
    return f"{one}: the two-phase region lies at other temperatures or pressures."
