"""P-H, T-S and H-S charts of a fluid: its boundary, and lines of constant temperature, pressure, enthalpy, entropy, density and share of vapor.

Every line is made of flashes at its value and at steps of pressure or temperature. Where it crosses the boundary of two phases, or leaves the chart, its points
are taken from there, so that its bends are sharp; where neighbors lie far apart on the page there are further flashes between them.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..composition import Composition
from ..core.equilibrium.critical import critical_points
from ..errors import InputError
from ..mixture import Mixture
from ..results.chart import KINDS, LINES, PER, QUANTITIES, Chart, ChartLine, Columns, Mark, Scale, state_of
from ..specified import series, values_of
from ..units import from_si, to_si
from .envelope import asked as envelope_asked
from .flashing import flash
from .later import ANSWERS
from .pure import saturation_curve

Array = NDArray[np.float64]

_STEPS = 61
_BOUNDARY = 241
_APART = 0.02
"""Of the page, between neighbors on a line."""
_ROUNDS = 5
_RUNS = {"T": "P", "P": "T", "S": "P", "H": "P", "density": "T"}
"""What runs along lines of constant what."""
_COUNTS = {"T": 20, "P": 14, "H": 18, "S": 16, "density": 14}
"""Of lines, some."""
_BY_RATIO = ("P", "density")
_SHARES = tuple(k / 10.0 for k in range(1, 10))

_COLDEST, _HOTTEST, _LEAST, _MOST = 0.42, 1.5, 1.0 / 5000.0, 4.0
"""A chart's range, by a pure fluid's critical point."""
_MIXED_HOTTEST, _MIXED_LEAST, _MIXED_MOST = 1.35, 1.0 / 300.0, 2.5
"""By a mixture's cricondentherm and cricondenbar."""


def chart(
    system: Mixture,
    kind: str,
    z: Composition | None,
    T: Any,
    P: Any,
    lines: Mapping[str, Any] | None,
    per: str,
    zero: Any,
    basis: str,
) -> Chart:
    """The chart; `System.chart` says it all."""
    if kind not in KINDS:
        raise InputError(f"There is no chart {kind!r}. Charts are {', '.join(KINDS)}.")
    if per not in PER:
        raise InputError(f"per is {per!r}; enthalpies and entropies are drawn per {' or '.join(PER)}.")
    system, fractions = _present(system, z, basis)
    nought = None if zero is None else state_of(zero, "zero", system, fractions, ANSWERS)
    mass = float(fractions @ system.molar_mass) if PER[per] else 1.0
    scale = Scale(PER[per], mass, *((0.0, 0.0) if nought is None else (nought.H, nought.S)))
    wanted = _given_lines(lines, kind, scale)
    shares = wanted.get("vapor_fraction", np.array(_SHARES))
    limits = _limits(T, "T"), _limits(P, "P")
    drawing = (_of_pure if len(system) == 1 else _of_mixture)(system, fractions, kind, shares, *limits)
    with np.errstate(all="ignore"):
        found = list(_families(drawing, wanted, scale))
    return Chart(
        system,
        fractions,
        kind,
        scale,
        drawing.T,
        drawing.P,
        tuple(drawing.boundary),
        tuple(found),
        tuple(drawing.marks),
        "" if nought is None else nought.title(),
        ANSWERS,
    )


def _present(system: Mixture, z: Composition | None, basis: str) -> tuple[Mixture, Array]:
    """The system of what there is, and how much of it."""
    if z is None:
        if len(system) != 1:
            raise InputError(f"The chart needs a composition: the system has {len(system)} components.")
        return system, np.ones(1)
    _, batch, shape = system.conditions(z, basis)
    if shape:
        raise InputError("A chart is of one composition.")
    there = [name for name, share in zip(system.names, batch[0], strict=True) if share > 0.0]
    shares = batch[0][batch[0] > 0.0]
    return system.part(there), shares / shares.sum()


def _limits(given: Any, name: str) -> tuple[float, float] | None:
    """A range in SI, given as two values or as text, "1 bar, 20 bar"."""
    if given is None:
        return None
    found = values_of(series(given, QUANTITIES[name], name) if isinstance(given, str) else given, name)
    if found.shape != (2,) or found[0] >= found[1]:
        raise InputError(f"{name} of a chart is its range, two values of which the second is the higher.")
    return float(found[0]), float(found[1])


def _given_lines(lines: Mapping[str, Any] | None, kind: str, scale: Scale) -> dict[str, Array]:
    """Values of lines in SI by mole, of those quantities that were given."""
    found = {}
    for name, values in (lines or {}).items():
        if name not in LINES[kind]:
            raise InputError(f"A {kind} chart has no lines of constant {name!r}. It has {', '.join(LINES[kind])}.")
        dimension, words = scale.dimension(name), f"lines of {name}"
        read = series(values, dimension, words) if isinstance(values, str) else to_si(values, dimension, words)
        drawn = np.unique(np.atleast_1d(read))
        found[name] = scale.by_mole(name, drawn)
        if not np.isfinite(found[name]).all() or (name in _BY_RATIO and (found[name] <= 0.0).any()):
            raise InputError(f"Lines of {name} need finite values, and of T, P and density positive ones.")
        if name == "vapor_fraction" and ((found[name] <= 0.0) | (found[name] >= 1.0)).any():
            raise InputError("Lines of vapor_fraction lie between 0 and 1.")
    return found


@dataclass(frozen=True)
class _Drawing:
    """What every line of a chart is drawn by: the fluid, the range, the boundary of two phases, and its edges."""

    system: Mixture
    z: Array
    kind: str
    T: tuple[float, float]
    P: tuple[float, float]
    boundary: Sequence[ChartLine]
    marks: Sequence[Mark]

    def states(self, given: Mapping[str, Array]) -> Columns:
        """What there is of states at two quantities ``(N,)``; NaN where there is no answer."""
        quantities: dict[str, Any] = dict(given)
        batch = flash(self.system, self.z, **quantities)
        return {name: np.asarray(getattr(batch, name)) for name in QUANTITIES}

    def steps(self, name: str) -> Array:
        """Values that a temperature or pressure runs over."""
        return np.geomspace(*self.P, _STEPS) if name == "P" else np.linspace(*self.T, _STEPS)

    @cached_property
    def edges(self) -> dict[str, tuple[Columns, Columns]]:
        """The states at both ends of the range of T and of P."""

        def edge(name: str, end: float) -> Columns:
            """All of it; nothing where no state has an answer."""
            found = list(_family(self, name, np.array([end])))
            return found[0].states if found else {quantity: np.array([np.nan]) for quantity in QUANTITIES}

        return {name: (edge(name, low), edge(name, high)) for name, (low, high) in (("T", self.T), ("P", self.P))}

    def spread(self, name: str) -> tuple[float, float]:
        """The least and the most of a quantity over the chart."""
        if name in ("T", "P"):
            low, high = getattr(self, name)
            return float(low), float(high)
        values = np.concatenate([side[name] for pair in self.edges.values() for side in pair])
        if not np.isfinite(values).any():
            raise InputError("A chart needs enthalpies and entropies: there are no heat capacities of some of the components.")
        return float(np.nanmin(values)), float(np.nanmax(values))

    @cached_property
    def page(self) -> dict[str, tuple[float, float]]:
        """How far the axes go."""
        return {axis: self.spread(axis) for axis in KINDS[self.kind]}

    def on_page(self, columns: Columns) -> Array:
        """Where states lie, as shares of the width and height ``(N, 2)``."""
        places = []
        for axis, (low, high) in self.page.items():
            scale = np.log if axis == "P" else np.asarray
            places.append((scale(columns[axis]) - scale(low)) / (scale(high) - scale(low)))
        return np.stack(places, axis=1)


def _within(line: ChartLine, T: tuple[float, float], P: tuple[float, float]) -> ChartLine:
    """What of a line of the boundary lies in the range."""
    c, eps = line.states, 1e-9
    inside = (c["T"] >= T[0] * (1.0 - eps)) & (c["T"] <= T[1] * (1.0 + eps))
    inside &= (c["P"] >= P[0] * (1.0 - eps)) & (c["P"] <= P[1] * (1.0 + eps))
    # one beyond, so that it ends at the edge and not short of it
    keep = inside | np.append(inside[1:], False) | np.append(False, inside[:-1])
    return line._replace(states={name: values[keep] for name, values in c.items()})


# ---- the boundary ----


def _of_pure(
    system: Mixture,
    z: Array,
    kind: str,
    shares: Array,
    T: tuple[float, float] | None,
    P: tuple[float, float] | None,
) -> _Drawing:
    """Of one component: its saturation curve, and shares of vapor between."""
    component = system.components[0]
    found = critical_points(system.phase_model, z)
    Tc, Pc = (found[0].T, found[0].P) if found else (component.Tc, component.Pc)
    if Tc is None or Pc is None:
        raise InputError(f"The critical point of {component.name} is not known: give the ranges T=(..., ...) and P=(..., ...).")
    coldest = max(_COLDEST * Tc, component.Tm or 0.0)
    tip = np.sqrt(max(1.0 - (T[0] if T else coldest) / Tc, 0.0))
    at = np.asarray(Tc * (1.0 - np.linspace(tip, 0.0, _BOUNDARY) ** 2))
    curve = saturation_curve(system, at if found else at[:-1], None)
    there = np.isfinite(curve.P)
    at, pressures = curve.T[there], curve.P[there]
    if P is None:
        least = max(_LEAST * Pc, pressures[0] if len(pressures) else 0.0)
        P = _round(least, -1), _round(_MOST * Pc, 1)
    if T is None:
        lowest = max(coldest, float(np.interp(np.log(P[0]), np.log(pressures), at)) if len(at) else coldest)
        T = max(_tens(lowest, system.units, -1), component.Tm or 0.0), _tens(_HOTTEST * Tc, system.units, 1)
    mass = float(system.molar_mass[0])
    sides = [
        {"H": phase["H"][there], "S": phase["S"][there], "density": mass / phase["V"][there]}
        for phase in (curve.liquid, curve.vapor)
    ]

    def between(share: float) -> Columns:
        """States of some vapor and the rest liquid, by the lever rule."""
        mixed = {name: (1.0 - share) * sides[0][name] + share * sides[1][name] for name in ("H", "S")}
        volume = (1.0 - share) / sides[0]["density"] + share / sides[1]["density"]
        return {"T": at, "P": pressures, **mixed, "density": 1.0 / volume, "vapor_fraction": np.full(len(at), share)}

    lines = [ChartLine("bubble", 0.0, between(0.0)), ChartLine("dew", 1.0, between(1.0))]
    lines += [ChartLine("vapor_fraction", float(share), between(float(share))) for share in shares]
    marks = [Mark("critical point", found[0].T, found[0].P)] if found else []
    return _Drawing(system, z, kind, T, P, [_within(line, T, P) for line in lines], marks)


def _of_mixture(
    system: Mixture,
    z: Array,
    kind: str,
    shares: Array,
    T: tuple[float, float] | None,
    P: tuple[float, float] | None,
) -> _Drawing:
    """Of several: their envelope with its quality lines."""
    names = system.names
    mixture = {name: float(share) for name, share in zip(names, z, strict=True)}
    lowest = "1 bar" if P is None else min(P[0], 1e5)
    envelope = envelope_asked(system, mixture, shares.tolist(), "mole", (lowest, None), (None, None), "mole")
    lines = []
    for line_kind, value, columns in envelope.smooth_lines():
        lines.append(ChartLine("vapor_fraction" if line_kind == "quality" else line_kind, value, columns))
    outline = [line.states for line in lines if line.of != "vapor_fraction"]
    every = {name: np.concatenate([part[name] for part in outline]) for name in ("T", "P")}
    highest = envelope.cricondenbar.P if envelope.cricondenbar is not None else float(every["P"].max())
    hottest = envelope.cricondentherm.T if envelope.cricondentherm is not None else float(every["T"].max())
    if P is None:
        most = _MIXED_MOST * highest if envelope.critical_points else highest
        P = _round(max(_MIXED_LEAST * highest, 1e5), -1), _round(most, 1)
    if T is None:
        coldest = float(every["T"][every["P"] >= P[0]].min())
        T = _tens(coldest, system.units, -1), _tens(_MIXED_HOTTEST * hottest, system.units, 1)
    marks = [Mark("critical point", p.T, p.P) for p in envelope.critical_points if p.stable]
    return _Drawing(system, z, kind, T, P, [_within(line, T, P) for line in lines], marks)


def _round(value: float, direction: int) -> float:
    """To a number that begins with 1, 2, 3 or 5, downward or upward."""
    decade = 10.0 ** np.floor(np.log10(value))
    steps = np.array([1.0, 2.0, 3.0, 5.0, 10.0]) * decade
    return float(steps[steps <= value * (1.0 + 1e-9)][-1] if direction < 0 else steps[steps >= value * (1.0 - 1e-9)][0])


def _tens(T: float, units: str, direction: int) -> float:
    """To a temperature of full tens in a set of units."""
    shown = float(from_si(T, "temperature", units)) / 10.0
    whole = 10.0 * (np.floor(shown) if direction < 0 else np.ceil(shown))
    zero, one = (float(v) for v in from_si([0.0, 1.0], "temperature", units))
    return float((whole - zero) / (one - zero))


# ---- lines of constant something ----


def _families(drawing: _Drawing, wanted: Mapping[str, Array], scale: Scale) -> Iterator[ChartLine]:
    """Every line of every quantity that the chart has lines of."""
    for name in LINES[drawing.kind]:
        if name == "vapor_fraction":
            continue
        values = wanted[name] if name in wanted else _values(drawing, name, scale)
        if len(values):
            yield from _family(drawing, name, values, _ROUNDS)


def _values(drawing: _Drawing, name: str, scale: Scale) -> Array:
    """Round numbers of a quantity over the chart, SI by mole, some `_COUNTS` of them."""
    units, dimension = drawing.system.units, scale.dimension(name)
    first, last = (float(v) for v in from_si(scale.drawn(name, drawing.spread(name)), dimension, units))
    numbers = _ratios(first, last, _COUNTS[name]) if name in _BY_RATIO else _multiples(first, last, _COUNTS[name])
    zero, one = (float(v) for v in from_si([0.0, 1.0], dimension, units))
    return scale.by_mole(name, (numbers - zero) / (one - zero))


def _multiples(low: float, high: float, count: int) -> Array:
    """Multiples of a round step between two numbers."""
    step = next(
        s * 10.0**k
        for k in range(-12, 13)
        for s in (1.0, 2.0, 2.5, 5.0)
        if (high - low) / (s * 10.0**k) <= count and (s != 2.5 or 10.0**k >= 10.0)
    )
    return np.asarray(step * np.arange(np.ceil(low / step), np.floor(high / step) + 1))


def _ratios(low: float, high: float, count: int) -> Array:
    """Numbers that begin with 1, 2 or 5 between two, or with 1 alone where these are too many."""
    decades = 10.0 ** np.arange(np.floor(np.log10(low)), np.ceil(np.log10(high)) + 1)
    found = [np.sort(np.outer(decades, digits).ravel()) for digits in ((1.0, 2.0, 5.0), (1.0, 3.0), (1.0,))]
    inside = [v[(v >= low) & (v <= high)] for v in found]
    return next((v for v in inside if len(v) <= count), inside[-1])


class _Places(NamedTuple):
    """States of several lines: which of them each is on ``(N,)``, and what is known of it."""

    line: NDArray[np.intp]
    states: Columns

    def joined(self, other: _Places) -> _Places:
        """Both together."""
        return _Places(
            np.concatenate([self.line, other.line]),
            {name: np.concatenate([values, other.states[name]]) for name, values in self.states.items()},
        )

    def taken(self, rows: Any) -> _Places:
        """Some of them, or all in another order."""
        return _Places(self.line[rows], {name: values[rows] for name, values in self.states.items()})


def _family(drawing: _Drawing, name: str, values: Array, rounds: int = 0) -> Iterator[ChartLine]:
    """The lines of one quantity: flashed on a grid where they lie within the chart, with their crossings, and ``rounds`` times refined where they are coarse."""
    runs = _RUNS[name]
    steps = drawing.steps(runs)
    line, run = np.repeat(np.arange(len(values)), _STEPS), np.tile(steps, len(values))
    keep = _reached(drawing, name, values[line], run)
    crossed = _crossings(drawing, name, values)

    def at(line: NDArray[np.intp], run: Array) -> _Places:
        if not len(line):
            return _Places(line, {key: np.empty(0) for key in QUANTITIES})
        found = _Places(line, drawing.states({name: values[line], runs: run}))
        return found.taken(np.isfinite(found.states["H"]) & np.isfinite(found.states["S"]))

    found = at(line[keep], run[keep]).joined(crossed)
    for _ in range(rounds):
        found = _sorted(found, name)
        new_line, new_run = _between(drawing, found, runs)
        if not len(new_line):
            break
        found = found.joined(at(new_line, new_run))
    found = _sorted(found, name)
    for k, value in enumerate(values):
        own = found.taken(found.line == k)
        if len(own.line) > 1:
            yield ChartLine(name, float(value), own.states)


def _reached(drawing: _Drawing, name: str, values: Array, run: Array) -> NDArray[np.bool_]:
    """Which states of lines lie within the chart: all of isotherms and isobars; of others those between its edges."""
    if name in ("T", "P"):
        return np.ones(len(values), dtype=bool)
    runs = _RUNS[name]
    # where pressure runs, the edges are isotherms, and the reverse; H, S and density rise from one to the other
    low, high = drawing.edges["T" if runs == "P" else "P"]
    ends = [np.interp(run, side[runs], side[name]) for side in (low, high)]
    return np.asarray((values > np.minimum(*ends)) & (values < np.maximum(*ends)))


def _crossings(drawing: _Drawing, name: str, values: Array) -> _Places:
    """States in which lines cross the boundary of two phases, and the edges of the chart."""
    edges = [] if name in ("T", "P") else list(drawing.edges["T" if _RUNS[name] == "P" else "P"])
    curves = [line.states for line in drawing.boundary if line.of != "vapor_fraction" and "stable" not in line.of]
    lines, rows = [np.empty(0, dtype=np.intp)], {key: [np.empty(0)] for key in QUANTITIES}
    for curve in (*curves, *edges):
        along = _straight(name, curve[name])
        for k, value in enumerate(_straight(name, values)):
            sign = np.sign(along - value)
            i = np.flatnonzero((sign[1:] != sign[:-1]) & np.isfinite(sign[1:] + sign[:-1]))
            share = (value - along[i]) / (along[i + 1] - along[i])
            lines.append(np.full(len(i), k))
            for key in QUANTITIES:
                own = _straight(key, curve[key])
                rows[key].append(_bent(key, own[i] + share * (own[i + 1] - own[i])))
    found = _Places(np.concatenate(lines), {key: np.concatenate(parts) for key, parts in rows.items()})
    inside = np.ones(len(found.line), dtype=bool)
    for key in ("T", "P"):
        low, high = getattr(drawing, key)
        inside &= (found.states[key] >= low * (1.0 - 1e-6)) & (found.states[key] <= high * (1.0 + 1e-6))
    return found.taken(inside & np.isfinite(found.states["H"]))


def _straight(name: str, values: Array) -> Array:
    """What is nearly straight between points: the logarithm of the pressure, the volume in place of the density."""
    return 1.0 / values if name == "density" else np.log(values) if name == "P" else values


def _bent(name: str, values: Array) -> Array:
    """The reverse."""
    return 1.0 / values if name == "density" else np.exp(values) if name == "P" else values


def _sorted(places: _Places, name: str) -> _Places:
    """Line by line, along what runs; of a pure fluid's vapor and liquid at one pressure and temperature the one that comes first is first."""
    runs = _RUNS[name]
    density = places.states["density"] * (1.0 if runs == "P" else -1.0)
    run = np.round(np.log(places.states[runs]), 9)
    return places.taken(np.lexsort((density, run, places.line)))


def _between(drawing: _Drawing, places: _Places, runs: str) -> tuple[NDArray[np.intp], Array]:
    """Where further states are wanted: halfway between neighbors that lie far apart on the page, unless vapor and liquid boil into each other there."""
    at, run = drawing.on_page(places.states), places.states[runs]
    far = np.hypot(*np.diff(at, axis=0).T) > _APART
    far &= places.line[1:] == places.line[:-1]
    far &= np.abs(np.diff(run)) > 1e-6 * run[1:]
    i = np.flatnonzero(far)
    middle = np.sqrt(run[i] * run[i + 1]) if runs == "P" else 0.5 * (run[i] + run[i + 1])
    return places.line[i], middle
