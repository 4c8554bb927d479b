"""A mixture and its thermodynamic model: where every calculation starts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cached_property
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from .components import Component, databank
from .composition import Composition, mole_fractions
from .core.arrays import component_major
from .core.constants import P_REFERENCE
from .core.equilibrium import saturation as engine
from .core.equilibrium.critical import critical_points
from .core.equilibrium.envelope import (
    Limits,
    Line,
    Point,
    bubble_start,
    crossings,
    dew_start,
    extremum,
    quality_start,
    trace,
)
from .core.equilibrium.flash import flash as flash_at
from .core.equilibrium.stability import UNSTABLE, pure_starts, stability, wilson_starts
from .core.models.contract import PhaseModel, VolumeModel
from .core.models.cubic import CubicModel
from .core.models.ideal_liquid import IdealLiquid
from .core.models.liquid_and_vapor import LiquidAndVapor
from .core.models.peng_robinson import PengRobinson
from .core.models.soave_redlich_kwong import SoaveRedlichKwong
from .errors import CalculationError, InputError, UnknownComponentError
from .results.critical import CriticalPoint, StabilityTest
from .results.envelope import Envelope, MarkedPoint
from .results.saturation import Saturation, SaturationBatch
from .results.state import State, StateBatch, state_table
from .results.text import shown
from .units import UNIT_SETS, to_si, unit_of

if TYPE_CHECKING:
    import pandas as pd

Array = NDArray[np.float64]

EQUATIONS_OF_STATE: dict[str, type[CubicModel]] = {
    "PR": PengRobinson,
    "SRK": SoaveRedlichKwong,
}
"""Equations of state by name: a new one is one line here."""

LIQUIDS = ("ideal",)
VAPORS = ("ideal",)

ENVELOPE_P_MAX = 5.0e7
"""Pressure, Pa, up to which an open envelope is followed unless told otherwise."""

DEFAULT_PROPERTIES = ("n_phases", "vapor_fraction", "H", "S", "Cp", "density", "Z", "composition")


class System:
    """Components with a model: an equation of state, or a liquid model beside a vapor model.

    Parameters
    ----------
    components : sequence
        Names, CAS numbers, formulas where unambiguous, or `Component` objects.
    eos : {"PR", "SRK"}, optional
        Equation of state.
    liquid, vapor : {"ideal"}, optional
        Instead of ``eos``: an ideal liquid on the databank's vapor pressures, and an ideal-gas vapor.
    kij : mapping of pairs to float, optional
        Binary interaction parameters of an equation of state; a pair not given is zero, and a note says so.
    units : {"SI", "engineering", "US"}
        The set of units that results are shown in. Numbers passed in are SI all the same.

    Raises
    ------
    UnknownComponentError
        If a component is not in the databank, or lacks a constant that the model needs.
    InputError
        If a component stands twice, or no model or two are named, or a pair of ``kij`` is not of the system.

    Examples
    --------
    >>> import sleetfield as sl
    >>> gas = sl.System(["nitrogen", "methane", "propane", "n-heptane"], eos="PR", kij={("nitrogen", "methane"): 0.031})
    >>> state = gas.flash({"methane": 0.70, "propane": 0.20, "n-heptane": "rest"}, T="-20 degC", P="20 bar")
    >>> round(state.vapor_fraction, 4)
    0.7845
    """

    def __init__(
        self,
        components: Sequence[str | Component],
        *,
        eos: str | None = None,
        liquid: str | None = None,
        vapor: str | None = None,
        kij: Mapping[tuple[str, str], float] | None = None,
        units: str = "SI",
    ) -> None:
        if isinstance(components, str):
            raise InputError(f"Components are a list of names; got the text {components!r}. Write [{components!r}].")
        if not components:
            raise InputError("A system needs at least one component.")
        self.components = tuple(c if isinstance(c, Component) else databank().find(c) for c in components)
        self.names = tuple(c.name for c in self.components)
        self._positions: dict[str, int] = {}
        for i, component in enumerate(self.components):
            if component.name in self.names[:i]:
                raise InputError(f"{component.name} stands twice among the components. Name each once.")
            for key in (component.name, component.cas, component.formula, *component.aliases):
                if key:
                    self._positions.setdefault(key.lower(), i)
        unit_of("pressure", units)
        self.units = units
        self.molar_mass: Array = np.array([np.nan if c.molar_mass is None else c.molar_mass for c in self.components])
        self.heat_capacities = tuple(c.heat_capacity for c in self.components)
        self._given_pairs = self._pairs(kij or {})
        self.kij: Array = np.zeros((len(self), len(self)))
        for (i, j), value in self._given_pairs.items():
            self.kij[i, j] = self.kij[j, i] = value
        self.eos, self.model = self._choose(eos, liquid, vapor, kij)

    def __len__(self) -> int:
        return len(self.components)

    # ---- what it is ----

    def _choose(
        self, eos: str | None, liquid: str | None, vapor: str | None, kij: Mapping[tuple[str, str], float] | None
    ) -> tuple[str | None, PhaseModel]:
        if (eos is None) == (liquid is None):
            raise InputError(
                f"Name one model: eos= ({', '.join(EQUATIONS_OF_STATE)}), or liquid= ({', '.join(LIQUIDS)}) with vapor= ({', '.join(VAPORS)})."
            )
        if eos is None:
            if liquid not in LIQUIDS or (vapor or "ideal") not in VAPORS:
                raise InputError(f"There is no liquid {liquid!r} with vapor {vapor!r}. Liquids: {', '.join(LIQUIDS)}; vapors: {', '.join(VAPORS)}.")
            if kij:
                raise InputError("kij belongs to an equation of state; an ideal liquid has no interaction parameters.")
            return None, LiquidAndVapor(self._ideal_liquid())
        if vapor is not None:
            raise InputError("An equation of state describes the vapor too: leave out vapor=.")
        name = next((n for n in EQUATIONS_OF_STATE if n.lower() == eos.lower()), None)
        if name is None:
            raise InputError(f"There is no equation of state {eos!r}. Equations of state are {', '.join(EQUATIONS_OF_STATE)}.")
        return name, EQUATIONS_OF_STATE[name](*(self._constants(k, name) for k in ("Tc", "Pc", "omega")), self.kij)

    def _constants(self, key: str, needed_for: str) -> Array:
        return np.array([c.constant(key, needed_for) for c in self.components])

    def _ideal_liquid(self) -> IdealLiquid:
        correlations = []
        for c in self.components:
            if c.vapor_pressure is None:
                raise UnknownComponentError(
                    f"{c.name} has no vapor-pressure correlation, which an ideal liquid needs. Give it with sl.Component(..., vapor_pressure=...)."
                )
            correlations.append(c.vapor_pressure)
        return IdealLiquid(correlations, *(self._constants(k, "the liquid volume") for k in ("Tc", "Pc", "omega")))

    def _pairs(self, kij: Mapping[tuple[str, str], float]) -> dict[tuple[int, int], float]:
        pairs: dict[tuple[int, int], float] = {}
        for pair, value in kij.items():
            if isinstance(pair, str) or len(pair) != 2:
                raise InputError(f"kij is keyed by pairs of names, such as ('nitrogen', 'methane'); got {pair!r}.")
            i, j = sorted(self.position(name) for name in pair)
            if i == j:
                raise InputError(f"The pair {pair!r} is one component twice; kij is between two.")
            if not np.isfinite(value):
                raise InputError(f"kij of {self.names[i]} and {self.names[j]} is {value!r}; it must be a finite number.")
            if pairs.get((i, j), value) != value:
                raise InputError(f"kij of {self.names[i]} and {self.names[j]} is given twice, with different values.")
            pairs[i, j] = float(value)
        return pairs

    def position(self, name: str) -> int:
        """Where a component stands in the system, by any of its names.

        Raises
        ------
        UnknownComponentError
            If it is not in this system.
        """
        i = self._positions.get(str(name).strip().lower())
        if i is None:
            try:
                i = self.names.index(databank().find(str(name)).name)
            except (UnknownComponentError, ValueError):
                raise UnknownComponentError(f"{name!r} is not in this system, which has {', '.join(self.names)}.") from None
        return i

    @property
    def model_title(self) -> str:
        """The model, for headings."""
        return self.eos or "ideal liquid and vapor"

    @property
    def title(self) -> str:
        """Components and model, for headings."""
        shown_names = self.names if len(self) <= 4 else (*self.names[:3], f"{len(self) - 3} more")
        return f"{' + '.join(shown_names)} ({self.model_title})"

    def __repr__(self) -> str:
        return f"<System {self.title}>"

    def to_dict(self) -> dict[str, Any]:
        """Components, model and parameters as plain values."""
        pairs = {f"{self.names[i]} / {self.names[j]}": v for (i, j), v in self._given_pairs.items()}
        return {"components": list(self.names), "model": self.model_title, "kij": pairs}

    # ---- what there is to say about it ----

    @cached_property
    def notes(self) -> list[str]:
        """What holds for every result of this system."""
        notes = []
        if self.eos is not None:
            zero = [
                f"{self.names[i]} - {self.names[j]}"
                for i in range(len(self))
                for j in range(i + 1, len(self))
                if (i, j) not in self._given_pairs
            ]
            if zero:
                which = ", ".join(zero[:4]) + (f" and {len(zero) - 4} more" if len(zero) > 4 else "")
                are = "parameters are" if len(zero) > 1 else "parameter is"
                notes.append(f"The interaction {are} taken as zero for {len(zero)} pair{'s' if len(zero) > 1 else ''}: {which}.")
        else:
            notes.append("The liquid's volume is from the generalized Rackett equation and does not enter the fugacities.")
            estimated = [c.name for c in self.components if c.sources.get("vapor_pressure", "").startswith("estimated")]
            if estimated:
                notes.append(f"The vapor pressure of {', '.join(estimated)} is estimated (corresponding states).")
        lacking = [c.name for c in self.components if c.heat_capacity is None]
        if lacking:
            notes.append(f"There is no ideal-gas heat capacity for {', '.join(lacking)}: no enthalpy, entropy or heat capacity.")
        return notes

    def range_notes(self, T: Array) -> list[str]:
        """Which correlations are used outside their range at temperatures ``T``."""
        heat = [(c.name, c.heat_capacity) for c in self.components if c.heat_capacity is not None]
        return _out_of_range("ideal-gas heat capacity", heat, T, self.units) + self.vapor_pressure_notes(T)

    def vapor_pressure_notes(self, T: Array) -> list[str]:
        """The same for vapor pressures alone, where the model uses them."""
        if self.eos is not None:
            return []
        pressures = [(c.name, c.vapor_pressure) for c in self.components if c.vapor_pressure is not None]
        return _out_of_range("vapor pressure", pressures, T, self.units)

    def where_single_phase(self, state: State) -> str:
        """In words: on which side of the envelope a single-phase state lies."""
        kind = state.phases[0].kind
        z, P = state.z[None], np.array([state.P])
        T_dew, T_bubble = (float(self._saturate(k, "T", P, z).T[0]) for k in ("dew", "bubble"))
        if state.T > T_dew:
            return f"One phase, {kind}: {self._degrees(state.T - T_dew)} above the dew point at this pressure ({shown(T_dew, 'temperature', self.units)})."
        if state.T < T_bubble:
            return f"One phase, {kind}: {self._degrees(T_bubble - state.T)} below the bubble point at this pressure ({shown(T_bubble, 'temperature', self.units)})."
        if np.isnan(T_dew) and np.isnan(T_bubble):
            return f"One phase, {kind}: there is no bubble or dew point at this pressure; the state lies above the two-phase region."
        return f"One phase, {kind}: inside the range of temperatures between bubble and dew point, but outside the two-phase region (retrograde side)."

    def _degrees(self, difference: float) -> str:
        return shown(difference, "temperature_difference", self.units, 3)

    # ---- calculations ----

    def _conditions(self, z: Composition, basis: str, **given: Any) -> tuple[dict[str, Array], Array, tuple[int, ...]]:
        """Specifications and mole fractions as batches of one length, and the shape that they had."""
        fractions = mole_fractions(z, self.names, self.position, self.molar_mass, basis)
        if basis == "mass" and np.isnan(fractions).any():
            lacking = [n for n, m in zip(self.names, self.molar_mass, strict=True) if np.isnan(m)]
            raise UnknownComponentError(f"There is no molar mass of {', '.join(lacking)}, so mass fractions cannot be converted.")
        dimensions = {"T": "temperature", "P": "pressure", "flow": "molar_flow"}
        values = {name: to_si(value, dimensions[name], name) for name, value in given.items()}
        for name, value in values.items():
            bad = ~(np.isfinite(value) & (value > 0.0))
            if bad.any():
                unit = unit_of(dimensions[name])
                what = "absolute temperatures are" if name == "T" else "pressures are absolute and" if name == "P" else "flows are"
                raise InputError(f"{name} is {float(np.ravel(value)[np.ravel(bad)][0]):g} {unit}; {what} positive and finite.")
        try:
            shape = np.broadcast_shapes(*(v.shape for v in values.values()), fractions.shape[:-1])
        except ValueError:
            shapes = ", ".join(f"{n} {v.shape}" for n, v in values.items())
            raise InputError(f"The arrays do not fit together: {shapes}, composition {fractions.shape[:-1]}. Give equal lengths, or single values.") from None
        flat = {n: np.ascontiguousarray(np.broadcast_to(v, shape)).ravel() for n, v in values.items()}
        batch = np.broadcast_to(fractions, (*shape, len(self))).reshape(-1, len(self))
        return flat, batch, shape

    def flash(
        self, z: Composition, *, T: Any = None, P: Any = None, flow: Any = None, basis: str = "mole"
    ) -> Any:
        """Phases at equilibrium at given temperature and pressure, with stability analysis.

        Parameters
        ----------
        z
            Feed: a mapping of names to fractions (one may be ``"rest"``), or fractions in the system's order, ``(..., C)``.
        T, P
            Temperature and pressure: SI numbers, arrays of them, or text with units.
        flow
            Feed flow (mol/s, or text such as "120 kmol/h"), if phase flows are wanted.
        basis : {"mole", "mass"}
            What the fractions are.

        Returns
        -------
        State or StateBatch
            A batch where any of T, P, z is an array.

        Raises
        ------
        InputError
            If a specification is missing or not positive, or the fractions don't sum to 1.
        CalculationError
            If a single state does not converge.

        Examples
        --------
        >>> import sleetfield as sl
        >>> gas = sl.System(["methane", "propane"], eos="SRK")
        >>> batch = gas.flash([0.6, 0.4], T=[230.0, 250.0], P="20 bar")
        >>> batch.n_phases.tolist()
        [2, 2]
        """
        _exactly("flash", {"T": T, "P": P}, 2)
        given = {"T": T, "P": P} if flow is None else {"T": T, "P": P, "flow": flow}
        values, batch, shape = self._conditions(z, basis, **given)
        result = flash_at(self.model, values["T"], values["P"], batch)
        states = StateBatch(self, values["T"], values["P"], batch, values.get("flow"), result, shape)
        if shape:
            return states
        if states.failed[0]:
            condition = f"{shown(states.T[0], 'temperature', self.units)}, {shown(states.P[0], 'pressure', self.units)}"
            raise CalculationError(f"The flash at {condition} did not converge. Try a neighboring state, and please report this one.")
        return states[0]

    def bubble(self, z: Composition, *, T: Any = None, P: Any = None, basis: str = "mole") -> Any:
        """Bubble point of a liquid at given temperature or pressure; arrays give a batch.

        Returns
        -------
        Saturation or SaturationBatch
            With ``.T``, ``.P``, ``.y`` (the vapor that forms), and ``.all``: every solution.

        Raises
        ------
        CalculationError
            If there is no bubble point; the message says what range it has.

        Examples
        --------
        >>> import sleetfield as sl
        >>> gas = sl.System(["propane", "n-butane"], eos="PR")
        >>> round(gas.bubble([0.5, 0.5], T=300.0).P / 1e5, 2)
        6.07
        """
        return self._saturation("bubble", z, T, P, basis)

    def dew(self, z: Composition, *, T: Any = None, P: Any = None, basis: str = "mole") -> Any:
        """Dew point of a vapor at given temperature (the lower pressure, where there are two) or pressure (the higher temperature).

        Returns and raises as `bubble` does.

        Examples
        --------
        >>> import sleetfield as sl
        >>> gas = sl.System(["propane", "n-butane"], eos="PR")
        >>> round(gas.dew([0.5, 0.5], T=300.0).P / 1e5, 2)
        4.05
        """
        return self._saturation("dew", z, T, P, basis)

    def _saturation(self, kind: str, z: Composition, T: Any, P: Any, basis: str) -> Any:
        _exactly(kind, {"T": T, "P": P}, 1)
        given = "T" if T is not None else "P"
        values, batch, shape = self._conditions(z, basis, **{given: T if given == "T" else P})
        found = self._saturate(kind, "P" if given == "T" else "T", values[given], batch)
        points = SaturationBatch(self, kind, given, found.T, found.P, batch, found.incipient, found.tm >= UNSTABLE)
        if shape:
            return points
        if not found.found[0] or np.isnan(found.T[0]):
            raise CalculationError(self._no_saturation(kind, given, float(values[given][0]), batch[0]))
        return points[0]

    def _saturate(self, kind: str, unknown: str, given: Array, z: Array) -> engine.SaturationResult:
        """The engine's points; what it misses is looked up on the whole envelope, once for each composition."""
        solve = getattr(engine, f"{kind}_at_{'T' if unknown == 'P' else 'P'}")
        found: engine.SaturationResult = solve(self.model, given, z)
        fields = {f: getattr(found, f).copy() for f in engine.SaturationResult.__dataclass_fields__}
        missing = np.flatnonzero(np.isnan(fields[unknown]) | ~(fields["tm"] >= UNSTABLE))
        lines: dict[bytes, list[Line]] = {}
        for i in missing:
            key = z[i].tobytes()
            if key not in lines:
                lines[key] = self._lines(z[i], P_REFERENCE, 4.0 * ENVELOPE_P_MAX)
            solutions = self._on_lines(lines[key], kind, "T" if unknown == "P" else "P", float(given[i]), z[i])
            stable = [s for s in solutions if s.stable]
            if stable:
                best = stable[0] if (kind == "dew") == (unknown == "P") else stable[-1]
                fields["T"][i], fields["P"][i], fields["incipient"][i] = best.T, best.P, best.incipient
                fields["residual"][i], fields["tm"][i] = 0.0, 0.0
        return engine.SaturationResult(**fields)

    def saturation_solutions(self, kind: str, given: str, value: float, z: Array) -> tuple[Saturation, ...]:
        """Every stable bubble or dew point of ``z`` at a temperature (``given="T"``) or pressure (``"P"``), in rising order."""
        lines = self._lines(z, P_REFERENCE, 4.0 * ENVELOPE_P_MAX)
        found = [s for s in self._on_lines(lines, kind, given, value, z) if s.stable]
        if not found:
            point = getattr(engine, f"{kind}_at_{given}")(self.model, np.array([value]), z[None])
            if point.found[0]:
                found = [Saturation(self, kind, given, float(point.T[0]), float(point.P[0]), z, point.incipient[0])]
        return tuple(found)

    def _on_lines(self, lines: list[Line], kind: str, given: str, value: float, z: Array) -> list[Saturation]:
        present, model = self._present(z)
        other = "P" if given == "T" else "T"
        found: list[Saturation] = []
        for line in lines:
            for T, P, ln_k, lighter in crossings(model, z[present], line, given, value):
                if lighter != (kind == "dew"):
                    continue
                incipient = np.zeros(len(self))
                incipient[present] = z[present] * np.exp(-ln_k)
                stable = self._feed_tm(np.array([T]), np.array([P]), z[None])[0] >= -1e-7
                found.append(Saturation(self, kind, given, T, P, z, incipient / incipient.sum(), bool(stable)))
        found.sort(key=lambda s: float(getattr(s, other)))
        return [s for k, s in enumerate(found) if k == 0 or getattr(s, other) / getattr(found[k - 1], other) - 1.0 > 1e-8]

    def _no_saturation(self, kind: str, given: str, value: float, z: Array) -> str:
        asked = shown(value, "temperature" if given == "T" else "pressure", self.units)
        message = f"There is no {kind} point at {asked}."
        lines = self._lines(z, P_REFERENCE, 4.0 * ENVELOPE_P_MAX)
        kinds = [(line, line.first_is_lighter == (kind == "dew")) for line in lines]
        values = np.concatenate([(line.T if given == "T" else line.P)[own] for line, own in kinds]) if lines else np.zeros(0)
        if values.size:
            dimension = "temperature" if given == "T" else "pressure"
            low, high = (shown(v, dimension, self.units) for v in (values.min(), values.max()))
            message += f" {kind.capitalize()} points of this mixture were found from {low} to {high}."
        return message + " Draw the envelope to see where it lies (System.envelope, or `sleetfield envelope`)."

    def stability(self, z: Composition, *, T: Any, P: Any, basis: str = "mole") -> StabilityTest:
        """Whether a mixture stays one phase, by the tangent-plane distance.

        Examples
        --------
        >>> import sleetfield as sl
        >>> sl.System(["methane", "propane"], eos="PR").stability([0.5, 0.5], T=250.0, P="20 bar").stable
        False
        """
        values, batch, shape = self._conditions(z, basis, T=T, P=P)
        if shape:
            raise InputError("The stability test takes one state; for many, flash them and read n_phases.")
        tm, trial = self._stability(values["T"], values["P"], batch)
        named = dict(zip(self.names, np.where(batch[0] > 0.0, trial[0], 0.0).tolist(), strict=True))
        T0, P0 = float(values["T"][0]), float(values["P"][0])
        return StabilityTest(self, T0, P0, batch[0], bool(tm[0] >= UNSTABLE), float(tm[0]), named)

    def _stability(self, T: Array, P: Array, z: Array) -> tuple[Array, Array]:
        with np.errstate(all="ignore"):
            feed = component_major(np.maximum(z, 1e-100))
            bound = self.model.at(T, P)
            d = np.log(feed) + bound.ln_phi(feed)
            ln_k = self.model.ln_saturation_guess(T) - np.log(P)[:, None]
            found = stability(bound, feed, d, [*wilson_starts(ln_k, feed), d, *pure_starts(feed)])
        return found.tm, found.trial

    def _feed_tm(self, T: Array, P: Array, z: Array) -> Array:
        return self._stability(T, P, z)[0]

    def critical(self, z: Composition, *, basis: str = "mole") -> CriticalPoint:
        """The critical point, directly; all of them in ``.all``.

        Raises
        ------
        CalculationError
            If the model has none, or none is found.

        Examples
        --------
        >>> import sleetfield as sl
        >>> round(sl.System(["methane"], eos="PR").critical([1.0]).T, 2)
        190.56
        """
        _, batch, shape = self._conditions(z, basis)
        if shape:
            raise InputError("A critical point is of one composition; call it once for each.")
        if not isinstance(self.model, VolumeModel):
            raise CalculationError(f"The model {self.model_title} has no critical points: it needs one equation of state for both phases.")
        present, model = self._present(batch[0])
        found = critical_points(model, batch[0][present])
        if not found:
            raise CalculationError("No critical point with positive pressure was found for this mixture.")
        points = self._checked_critical([(p.T, p.P, p.V) for p in found], batch[0])
        best = next((p for p in points if p.stable), points[0])
        return CriticalPoint(self, best.T, best.P, best.molar_volume, best.stable, tuple(points))

    def _checked_critical(self, found: list[tuple[float, float, float]], z: Array) -> list[CriticalPoint]:
        points = []
        for T, P, V in found:
            # on the point itself the feed is marginal: a clearly negative distance means a third phase
            tm = self._feed_tm(np.array([T]), np.array([P]), z[None])[0]
            points.append(CriticalPoint(self, T, P, V, bool(tm > -1e-7)))
        return points

    def _present(self, z: Array) -> tuple[NDArray[np.intp], PhaseModel]:
        """Positions of the components that are there, and the model of those alone."""
        present = np.flatnonzero(z > 0.0)
        return present, self.model if len(present) == len(self) else self.model.select(present.tolist())

    def envelope(
        self,
        z: Composition,
        *,
        quality: Sequence[float] = (),
        P_min: Any = "1 bar",
        P_max: Any = None,
        basis: str = "mole",
    ) -> Envelope:
        """The P-T envelope: bubble and dew line, critical point, cricondentherm, cricondenbar, and lines of constant quality.

        Parameters
        ----------
        z
            Mixture, as for `flash`.
        quality : sequence of float
            Mole fractions of vapor, between 0 and 1, to draw lines for.
        P_min, P_max
            Pressures to start from and to stop an open envelope at.

        Raises
        ------
        CalculationError
            If no dew or bubble point was found to start from.

        Examples
        --------
        >>> import sleetfield as sl
        >>> env = sl.System(["methane", "propane"], eos="PR").envelope([0.7, 0.3])
        >>> env.closed, round(env.cricondentherm.T, 1)
        (True, 302.2)
        """
        _, batch, shape = self._conditions(z, basis)
        if shape:
            raise InputError("An envelope is of one composition; call it once for each.")
        for q in quality:
            if not 0.0 < q < 1.0:
                raise InputError(f"A quality line needs a vapor fraction between 0 and 1; got {q!r}. (0 is the bubble line, 1 the dew line.)")
        low = float(to_si(P_min, "pressure", "P_min"))
        high = float(to_si(P_max, "pressure", "P_max")) if P_max is not None else min(ENVELOPE_P_MAX, self.model.P_limit)
        if not 0.0 < low < high:
            raise InputError(f"P_min must be positive and below P_max; got {low:g} and {high:g} Pa.")
        feed = batch[0]
        lines = self._lines(feed, low, high)
        if not lines:
            raise CalculationError("No bubble or dew point was found to start the envelope from. Try another P_min.")
        found = [(float(line.T[i]), float(line.P[i]), float(line.Z[i, 0] * 8.31446261815324 * line.T[i] / line.P[i])) for line in lines for i in line.critical]
        critical = tuple(self._checked_critical(found, feed))
        present, model = self._present(feed)
        ends = {of: self._extremum(model, feed[present], lines, of) for of in ("T", "P")}
        return Envelope(
            self, feed, tuple(self._spread(line, present) for line in lines), self._quality_lines(feed, quality, lines, low, high),
            critical, ends["T"], ends["P"], high, self._unstable_share(lines, feed),
        )  # fmt: skip

    def _lines(self, z: Array, low: float, high: float) -> list[Line]:
        """Saturation lines over the components present: one that closes, or one from each side."""
        present, model = self._present(z)
        some = z[present]
        limits = Limits(low * (1.0 - 1e-9), high, 10.0, 5000.0)
        with np.errstate(all="ignore"):
            if len(present) == 1:
                return _pure_line(model, low, high)
            start = dew_start(model, some, low)
            lines = [trace(model, some, 1.0, start, limits)] if start is not None else []
            if not lines or not lines[0].closed:
                other = self._bubble_side(model, some, low)
                if other is not None:
                    lines.append(trace(model, some, 1.0, other, limits))
        return lines

    def _bubble_side(self, model: PhaseModel, z: Array, low: float) -> Point | None:
        """A bubble point at low pressure, as the start of a second line."""
        found = engine.bubble_at_P(model, np.array([low]), z[None])
        if not found.found[0] or found.tm[0] < UNSTABLE:
            return None
        return bubble_start(model, z, float(found.T[0]))

    def _extremum(self, model: PhaseModel, z: Array, lines: list[Line], of: str) -> MarkedPoint | None:
        if not isinstance(model, VolumeModel):
            return None
        with np.errstate(all="ignore"):
            if len(z) == 1:
                end = lines[0]
                i = int(end.T.argmax())
                return MarkedPoint(float(end.T[i]), float(end.P[i])) if end.critical else None
            found = [e for e in (extremum(model, z, line, of) for line in lines) if e is not None]
        best = max(found, key=lambda e: e[0 if of == "T" else 1], default=None)
        highest = max(float((line.T if of == "T" else line.P).max()) for line in lines)
        if best is None or best[0 if of == "T" else 1] < highest * (1.0 - 1e-6):
            return None
        return MarkedPoint(*best)

    def _spread(self, line: Line, present: NDArray[np.intp]) -> Line:
        """A line over the components present as one over all; K of an absent component is not known."""
        ln_k = np.full((len(line.T), len(self)), np.nan)
        ln_k[:, present] = line.ln_k
        return Line(line.T, line.P, ln_k, line.Z, line.fraction, line.critical, line.closed, line.broken)

    def _quality_lines(
        self, z: Array, quality: Sequence[float], lines: list[Line], low: float, high: float
    ) -> dict[float, Line]:
        present, model = self._present(z)
        if len(present) == 1:
            return {}
        found = {}
        limits = Limits(low * (1.0 - 1e-9), high, 10.0, 5000.0)
        with np.errstate(all="ignore"):
            for q in quality:
                start = quality_start(model, z[present], q, low, float(lines[0].T[0]), 10.0)
                if start is not None:
                    found[float(q)] = self._spread(_up_to_critical(trace(model, z[present], q, start, limits)), present)
        return found

    def _unstable_share(self, lines: list[Line], z: Array) -> float:
        T, P = np.concatenate([v.T for v in lines]), np.concatenate([v.P for v in lines])
        tm = self._feed_tm(T, P, np.broadcast_to(z, (len(T), len(z))))
        return float((tm < -1e-6).mean())

    def table(
        self,
        z: Composition,
        *,
        T: Any,
        P: Any,
        properties: Sequence[str] = DEFAULT_PROPERTIES,
        basis: str = "mole",
        units: str | None = None,
    ) -> pd.DataFrame:
        """A property table over every combination of temperatures and pressures, with units in the headings.

        Parameters
        ----------
        z
            Mixture, as for `flash`.
        T, P
            Values to tabulate at: sequences of SI numbers or of text with units.
        properties : sequence of str
            Any of ``n_phases, vapor_fraction, H, S, Cp, molar_volume, density, fraction, Z, molar_mass, composition, ln_phi``.
        units : {"SI", "engineering", "US"}, optional
            The system's own by default.

        Returns
        -------
        pandas.DataFrame
            One row for each state, pressures running fastest. ``frame.attrs["notes"]`` holds the notes.

        Examples
        --------
        >>> import sleetfield as sl
        >>> gas = sl.System(["methane", "propane"], eos="PR")
        >>> gas.table([0.7, 0.3], T=[250.0, 300.0], P=[1e5, 20e5], properties=["vapor_fraction", "H"]).shape
        (4, 4)
        """
        temperatures, pressures = (np.atleast_1d(to_si(v, d, n)) for v, d, n in ((T, "temperature", "T"), (P, "pressure", "P")))
        grid_T, grid_P = np.meshgrid(temperatures, pressures, indexing="ij")
        states = self.flash(z, T=grid_T.ravel(), P=grid_P.ravel(), basis=basis)
        frame = state_table(states, properties, self.units if units is None else units)
        frame.attrs["notes"] = states.notes
        frame.attrs["title"] = f"Properties of {self.title}"
        return frame


def _exactly(call: str, given: Mapping[str, Any], count: int) -> None:
    """Too few or too many specifications are refused."""
    names = [name for name, value in given.items() if value is not None]
    if len(names) != count:
        need = "both T and P" if count == 2 else "one of T and P"
        got = " and ".join(names) or "neither"
        raise InputError(f"{call} needs {need}; got {got}.")


def _out_of_range(words: str, correlations: Sequence[tuple[str, Any]], T: Array, units: str) -> list[str]:
    """One note on all the correlations of a kind that are used outside their range at ``T``."""
    known = T[np.isfinite(T)]
    if not known.size:
        return []
    low, high = float(known.min()), float(known.max())
    out = [(n, c) for n, c in correlations if low < c.T_min or high > c.T_max]
    if not out:
        return []
    listed = ", ".join(
        f"{name} ({shown(c.T_min, 'temperature', units, 4)} to {shown(c.T_max, 'temperature', units, 4)})" for name, c in out[:4]
    )
    more = f" and {len(out) - 4} more" if len(out) > 4 else ""
    return [f"The {words} correlation is used outside its range for {listed}{more}."]


def _up_to_critical(line: Line) -> Line:
    """A quality line past the critical point is the line of the other quality: cut it there."""
    if not line.critical:
        return line
    part = slice(0, line.critical[0] + 1)
    return Line(line.T[part], line.P[part], line.ln_k[part], line.Z[part], line.fraction, (line.critical[0],), False, False)


def _pure_line(model: PhaseModel, low: float, high: float) -> list[Line]:
    """The vapor-pressure curve of the only component, up to its critical point where it has one."""
    one = np.ones((1, 1))
    end = critical_points(model, one[0])
    start = engine.bubble_at_P(model, np.array([low]), one)
    if not start.found[0]:
        return []
    if end:
        T = np.geomspace(start.T[0], end[0].T, 60)[:-1]
    else:
        T = np.geomspace(start.T[0], float(engine.bubble_at_P(model, np.array([high]), one).T[0]), 60)
    points = engine.bubble_at_T(model, T, np.ones((len(T), 1)))
    good = points.found
    T, P = T[good], points.P[good]
    bound = model.at(T, P)
    ones = np.ones((len(T), 1))
    Z = np.stack([bound.describe(ones, np.int8(0))[0], bound.describe(ones, np.int8(1))[0]], axis=1)
    if end:
        c = end[0]
        Zc = c.P * c.V / (8.31446261815324 * c.T)
        T, P, Z = np.append(T, c.T), np.append(P, c.P), np.vstack([Z, [Zc, Zc]])
    critical = (len(T) - 1,) if end else ()
    return [Line(T, P, np.zeros((len(T), 1)), Z, 1.0, critical, True, False)]
