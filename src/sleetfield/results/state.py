"""States at equilibrium: one, or a batch."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, fields, replace
from functools import cached_property
from itertools import compress
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded, is_number, short
from ..core.arrays import Kinds
from ..core.constants import R
from ..core.equilibrium.flash import FlashResult
from ..core.models.contract import LIQUID, SOLID, VAPOR
from ..core.partials import Partials, ln_gamma, partials
from ..core.properties import PhaseProperties, phase_properties
from ..errors import InputError
from ..mixture import Mixture
from ..specified import value_of
from ..text import Grid, heading, shown
from ..units import from_si, one_in_si
from .base import Result
from .columns import frame, records
from .later import Later
from .phase import Phase
from .state_columns import LOOSE, batch_notes, state_columns
from .state_properties import OVERALL, PARTIAL, PER_COMPONENT, PER_PHASE, TRANSPORT, OfBoundary, OfEachWhole, OfWhole
from .transport import Transport, TransportTable

if TYPE_CHECKING:
    import pandas as pd
    import pint


Array = NDArray[np.float64]

SLOTS = ("vapor", "liquid", "second liquid", "third liquid", "fourth liquid", "fifth liquid")

RARELY_READ = (
    "G",
    "A",
    "U",
    "H_residual",
    "S_residual",
    "G_residual",
    "Cv",
    "speed_of_sound",
    "throttling_coefficient",
    "thermal_expansion",
    "isothermal_compressibility",
    "share by volume",
)
"""Left out where a state is printed; `to_frame` has them all."""

_SHARES = {"mass_fraction": "share by mass", "volume_fraction": "share by volume"}
"""Shares of a phase in the whole, as they are not to be taken for fractions of a component."""

_NO_HEAT = 1e-9
"""Share of an enthalpy that a flash may miss it by."""

DEFAULT_PROPERTIES = ("n_phases", "vapor_fraction", "H", "S", "density")


@dataclass(frozen=True, eq=False, repr=False)
class StateBatch(Result):
    """Many states at equilibrium; arrays hold one entry for each, and ``batch[i]`` is one `State`.

    Attributes
    ----------
    T, P : (N,)
        K, Pa.
    z : (N, C)
        Feed mole fractions.
    flow : (N,) or None
        Feed flow, mol/s.
    result : FlashResult
        The phases, as the engine gives them.
    shape : tuple
        The shape that T, P and z had together.
    later : Later
        What is asked only now and then.

    """

    system: Mixture
    T: Array
    P: Array
    z: Array
    flow: Array | None
    result: FlashResult
    shape: tuple[int, ...]
    later: Later

    # of all phases together: see `OVERALL`
    vapor_fraction = OfEachWhole()
    vapor_mass_fraction = OfEachWhole()
    vapor_volume_fraction = OfEachWhole()
    H = OfEachWhole()
    S = OfEachWhole()
    G = OfEachWhole()
    A = OfEachWhole()
    U = OfEachWhole()
    Cp = OfEachWhole()
    molar_volume = OfEachWhole()
    density = OfEachWhole()
    heat_of_vaporization = OfEachWhole()

    if not TYPE_CHECKING:

        def __getattr__(self, name: str) -> None:
            """There is no such property: say which there are."""
            raise AttributeError(f"A batch of states has no {name!r}; its properties are {', '.join(OVERALL)}.")

    def __len__(self) -> int:
        return len(self.T)

    def __iter__(self) -> Iterator[State]:
        return (self[i] for i in range(len(self)))

    def __getitem__(self, index: int) -> State:
        i = range(len(self))[index]
        row = FlashResult(*(getattr(self.result, f)[i : i + 1] for f in FlashResult.__dataclass_fields__))
        flow = None if self.flow is None else self.flow[i : i + 1]
        return State(StateBatch(self.system, self.T[i : i + 1], self.P[i : i + 1], self.z[i : i + 1], flow, row, (), self.later))

    @cached_property
    def failed(self) -> NDArray[np.bool_]:
        """Which states have no answer; their numbers are NaN."""
        return ~(self.result.residual <= LOOSE)

    @cached_property
    def n_phases(self) -> NDArray[np.intp]:
        """How many phases each state has; 0 where it has no answer."""
        return np.where(self.failed, 0, self.result.n_phases)

    @cached_property
    def fractions(self) -> Array:
        """Mole fraction of the feed in each phase ``(N, F)``, lightest first; NaN where there is no such phase."""
        return np.where(self.failed[:, None], np.nan, self.result.amount)

    @cached_property
    def phase_properties(self) -> PhaseProperties:
        """Properties of each phase ``(N, F)`` or ``(N, F, C)``; NaN where there is no such phase."""
        n, c = self.z.shape
        there = np.isfinite(self.fractions).ravel()
        f = self.fractions.shape[1]
        T, P = np.repeat(self.T, f)[there], np.repeat(self.P, f)[there]
        x, kinds = self.result.x.reshape(-1, c)[there], self.result.kinds.ravel()[there]
        found = phase_properties(self.system.phase_model, self.system.heat_capacities, T, P, x, kinds)

        def spread(values: Array) -> Array:
            full = np.full((f * n, *values.shape[1:]), np.nan)
            full[there] = values
            return full.reshape(n, f, *values.shape[1:])

        return PhaseProperties(*(spread(getattr(found, f)) for f in PhaseProperties.__dataclass_fields__))

    @cached_property
    def phase_volume(self) -> Array:
        """m3/mol of each phase ``(N, F)``; unlike `phase_properties`, it asks nothing of the model again."""
        return np.where(self.failed[:, None], np.nan, self.result.Z) * (R * self.T / self.P)[:, None]

    @cached_property
    def phase_molar_mass(self) -> Array:
        """kg/mol of each phase ``(N, F)``."""
        return self.result.x @ self.system.molar_mass

    def of_phases(self, name: str) -> Array:
        """A property of `PER_PHASE`, `TRANSPORT`, `PER_COMPONENT` or `PARTIAL` for each phase ``(N, F)`` or ``(N, F, C)``."""
        return {**PER_PHASE, **TRANSPORT, **PER_COMPONENT, **PARTIAL}[name].of(self)

    def _each_phase(self, work: Callable[..., Sequence[Array]]) -> list[Array]:
        """What ``work`` gives of T, P ``(M,)``, compositions ``(M, C)``, kinds ``(M,)`` and properties of all phases, spread over them; NaN elsewhere."""
        (n, f), c = self.fractions.shape, self.z.shape[1]
        there = np.isfinite(self.fractions).ravel()
        p = self.phase_properties
        flat = PhaseProperties(*(getattr(p, name).reshape(n * f, -1)[there] for name in PhaseProperties.__dataclass_fields__))
        T, P = np.repeat(self.T, f)[there], np.repeat(self.P, f)[there]
        parts = work(T, P, self.result.x.reshape(-1, c)[there], self.result.kinds.ravel()[there], flat)
        spread = []
        for values in parts:
            full = np.full((n * f, c), np.nan)
            full[there] = values
            spread.append(full.reshape(n, f, c))
        return spread

    @cached_property
    def partials(self) -> Partials:
        """Partial molar properties of each component in each phase ``(N, F, C)``; none in solids."""
        model, heat = self.system.phase_model, self.system.heat_capacities

        def work(T: Array, P: Array, x: Array, kinds: Kinds, p: PhaseProperties) -> list[Array]:
            fluid = np.where(kinds <= LIQUID, 1.0, np.nan)[:, None]
            return [fluid * values for values in partials(model, heat, T, P, x, p)]

        return Partials(*self._each_phase(work))

    @cached_property
    def ln_gamma(self) -> Array:
        """Logarithms of activity coefficients of each component in each liquid ``(N, F, C)``."""
        model = self.system.phase_model

        def work(T: Array, P: Array, x: Array, kinds: Kinds, p: PhaseProperties) -> list[Array]:
            liquid = np.where(kinds == LIQUID, 1.0, np.nan)[:, None]
            return [liquid * ln_gamma(model, T, P, p.ln_phi)]

        return self._each_phase(work)[0]

    @cached_property
    def diffusion(self) -> Array:
        """Diffusion coefficients of each component in each phase, m2/s ``(N, F, C)``."""
        found: Array = self.later.diffusion(self)
        return found

    @cached_property
    def boundaries(self) -> dict[str, Array]:
        """Temperatures of the feeds' bubble and dew points at their pressures ``(N,)``."""
        found: dict[str, Array] = self.later.boundaries(self)
        return found

    @cached_property
    def transport(self) -> Transport:
        """Viscosity, thermal conductivity and surface tension of the phases."""
        found: Transport = self.later.transport(self)
        return found

    def exergy(self, T: Any = "25 degC", P: Any = "1 atm") -> Array:
        """Work to be had from a stream on its way to a dead state at ``T``, ``P``, J/mol ``(N,)``: H - H₀ - T₀(S - S₀).

        The mixture itself is not taken apart: the exergy is that of temperature and pressure.
        """
        dead_T, dead_P = value_of(T, "T"), value_of(P, "P")
        kept, back = np.unique(self.z, axis=0, return_inverse=True)
        dead = self.later.flash(self.system, kept, T=dead_T, P=dead_P)
        H0, S0 = dead.H[np.ravel(back)], dead.S[np.ravel(back)]
        return np.asarray(self.H - H0 - dead_T * (self.S - S0))

    @property
    def slots(self) -> tuple[str, ...]:
        """What phases are called in tables."""
        return *SLOTS, *(f"solid {self.system.names[i]}" for i in self.system.phase_model.solids)

    def slot(self, name: str) -> NDArray[np.intp]:
        """Which column ``(N,)`` holds the phase called ``name``, one of `slots`; -1 where there is none."""
        there, kinds = np.isfinite(self.fractions), self.result.kinds
        if name == "vapor":
            return np.where(there[:, 0] & (kinds[:, 0] == VAPOR), 0, -1)
        place = self.slots.index(name)
        liquid = there & (kinds == LIQUID)
        solid = place - len(SLOTS)
        wanted = there & (kinds == SOLID + solid) if solid >= 0 else liquid & (liquid.cumsum(axis=1) == place)
        return np.where(wanted.any(axis=1), wanted.argmax(axis=1), -1)

    @property
    def notes(self) -> list[str]:
        """What holds for all states, and which of them have no answer or would form another phase."""
        return batch_notes(self.system, self.T, self.P, self.failed, self.result.converged, self.result.stable)

    def title(self, units: str | None = None) -> str:
        """How many states of what."""
        return f"{len(self)} states of {self.system.title}"

    @guarded
    def to_frame(self, units: str | None = None, properties: Sequence[str] = DEFAULT_PROPERTIES) -> pd.DataFrame:
        """One row for each state; columns carry their units. Any of `PROPERTIES`, in the order given."""
        return frame(state_columns(self, properties), self.unit_set(units))

    def to_dict(self) -> dict[str, Any]:
        """Everything in SI, as plain values."""
        return {
            "result": "states",
            "system": self.system.outline(),
            "rows": records(state_columns(self, DEFAULT_PROPERTIES)),
            "notes": self.notes,
        }


@dataclass(frozen=True, eq=False, repr=False)
class State(Result):
    """One state at equilibrium. ``phases`` holds them, lightest first.

    ``origin`` is the state that `to` began from, where it came so; ``given`` are the two quantities that it was found by, in SI units; ``remarks`` are
    notes on how it was found.
    """

    batch: StateBatch
    origin: State | None = None
    given: Mapping[str, float] = field(default_factory=dict)
    remarks: tuple[str, ...] = ()

    # of all phases together: see `OVERALL`
    vapor_fraction = OfWhole()
    vapor_mass_fraction = OfWhole()
    vapor_volume_fraction = OfWhole()
    H = OfWhole()
    S = OfWhole()
    G = OfWhole()
    A = OfWhole()
    U = OfWhole()
    Cp = OfWhole()
    molar_volume = OfWhole()
    density = OfWhole()
    heat_of_vaporization = OfWhole()
    # of the boundary of two phases: see `BOUNDARIES`
    bubble_point = OfBoundary()
    dew_point = OfBoundary()
    subcooling = OfBoundary()
    superheat = OfBoundary()

    if not TYPE_CHECKING:

        def __getattr__(self, name: str) -> None:
            """There is no such property: say which there are."""
            raise AttributeError(f"A state has no {name!r}; its properties are {', '.join(OVERALL)}.")

    @property
    def system(self) -> Mixture:
        """The system it belongs to."""
        return self.batch.system

    @property
    def T(self) -> float:
        """Temperature, K."""
        return float(self.batch.T[0])

    @property
    def P(self) -> float:
        """Pressure, Pa."""
        return float(self.batch.P[0])

    @property
    def z(self) -> Array:
        """Feed mole fractions ``(C,)``."""
        return np.asarray(self.batch.z[0])

    @property
    def flow(self) -> float | None:
        """Feed flow, mol/s."""
        return None if self.batch.flow is None else float(self.batch.flow[0])

    @property
    def n_phases(self) -> int:
        """Number of phases."""
        return int(self.batch.n_phases[0])

    def exergy(self, T: Any = "25 degC", P: Any = "1 atm") -> float:
        """Work to be had from the stream on its way to a dead state at ``T``, ``P``, J/mol; its composition stays.

        Examples
        --------
        >>> import sleetfield as sl
        >>> gas = sl.System(["methane"], eos="PR").flash([1.0], T="25 degC", P="50 bar")
        >>> round(gas.exergy())
        9408

        """
        return float(self.batch.exergy(T, P)[0])

    @property
    def duty(self) -> float:
        """Heat taken up on the way from ``origin``: H out minus H in; W where a flow was given, else J/mol.

        Raises
        ------
        InputError
            If the state did not come from another one.
        """
        if self.origin is None:
            raise InputError("This state did not come from another: a duty belongs to what state.to(...) gives.")
        taken = self.H - self.origin.H
        # what a flash leaves of an enthalpy that was asked for is none
        exact = 0.0 if abs(taken) <= _NO_HEAT * max(abs(self.H), abs(self.origin.H)) else taken
        return exact * (1.0 if self.flow is None else self.flow)

    def to(self, *, duty: Any = None, efficiency: float | None = None, **given: Any) -> State:
        """The same mixture and flow brought to another state: heated, cooled, throttled (``duty=0``), or through a machine.

        Parameters
        ----------
        duty : optional
            Heat taken up: W or text such as "-50 kW" where the state has a flow, else J/mol.
        efficiency : float, optional
            Beside ``P`` and ``S=state.S``: the isentropic efficiency of a compressor, a pump or an expander, above 0 and up to 1.
        **given
            As for `System.flash`; with ``duty`` that makes two quantities. Where only one is given, and that is not the pressure, the pressure stays.

        Returns
        -------
        State
            With ``.duty``, H out minus H in.

        Raises
        ------
        InputError, CalculationError
            As `System.flash` does.

        Examples
        --------
        >>> import sleetfield as sl
        >>> gas = sl.System(["methane", "propane"], eos="PR").flash([0.8, 0.2], T=300.0, P="60 bar")
        >>> throttled = gas.to(P="20 bar", duty=0.0)
        >>> round(throttled.T, 1), abs(throttled.duty) < 1e-4
        (270.5, True)
        >>> compressed = gas.to(P="120 bar", S=gas.S, efficiency=0.75)
        >>> round(compressed.T, 1)
        356.6
        >>> cooled = gas.to(T="-40 degC")
        >>> cooled.P, cooled.duty < 0.0
        (6000000.0, True)

        """
        if efficiency is not None:
            return self._through_machine(efficiency, given, duty)
        if duty is not None:
            if "H" in given:
                raise InputError("A duty and an enthalpy say the same thing: give one of them.")
            if self.flow is None:
                given["H"] = self.H + one_in_si(duty, "molar_energy", "duty")
            else:
                given["H"] = self.H + one_in_si(duty, "power", "duty") / self.flow
        named = [name for name, value in given.items() if value is not None]
        if len(named) == 1 and named != ["P"]:
            given["P"] = self.P
        if named == ["P"]:
            raise InputError("Say what else holds at that pressure: a temperature, duty=0 for throttling, or S=state.S.")
        made: State = self.batch.later.flash(self.system, self.z, flow=self.flow, **given)
        return replace(made, origin=self)

    def _through_machine(self, efficiency: float, given: dict[str, Any], duty: Any) -> State:
        """What leaves a compressor or an expander: the isentropic work divided by its efficiency, or times it."""
        if set(given) != {"P", "S"} or duty is not None:
            raise InputError("An efficiency stands beside P and S: state.to(P='60 bar', S=state.S, efficiency=0.75).")
        if not is_number(efficiency) or not 0.0 < efficiency <= 1.0:
            raise InputError(f"efficiency is {short(efficiency)}; it lies above 0 and up to 1.")
        ideal = self.to(**given)
        work = ideal.H - self.H
        return self.to(P=ideal.P, H=self.H + (work / efficiency if work > 0.0 else work * efficiency))

    @cached_property
    def phases(self) -> tuple[Phase, ...]:
        """The phases, lightest (largest molar volume) first."""
        names = self.system.names
        values = {name: self.batch.of_phases(name)[0] for name in (*PER_PHASE, *PER_COMPONENT)}
        phases = []
        for k in range(self.n_phases):
            own = {name: float(values[name][k]) for name in PER_PHASE}
            by_component = {name: dict(zip(names, values[name][k].tolist(), strict=True)) for name in PER_COMPONENT}
            kind = _KINDS[min(int(self.batch.result.kinds[0, k]), int(SOLID))]
            flow = None if self.flow is None else self.flow * own["fraction"]
            phases.append(Phase(kind=kind, flow=flow, place=k, state=self, **own, **by_component))  # type: ignore[arg-type]
        return tuple(phases)

    @property
    def transport(self) -> TransportTable:
        """Viscosity, thermal conductivity, surface tension and what goes with them, of each phase, with methods and their usual errors.

        Examples
        --------
        >>> import sleetfield as sl
        >>> drum = sl.System(["n-hexane", "toluene"], eos="PR", units="metric").flash([0.5, 0.5], T="90 degC", P="1 atm")
        >>> float(drum.transport.values["viscosity"].round(6)[0])
        8e-06

        """
        kept = [p.place for p in self.phases if p.kind != "solid"]
        values = {name: self.batch.of_phases(name)[0][kept] for name in TRANSPORT}
        found = self.batch.transport
        return TransportTable(
            self.system, self.T, self.P, tuple(self.phases[i].kind for i in kept), values, found.methods, found.remarks
        )

    @property
    def notes(self) -> list[str]:
        """What a careful colleague would point out."""
        notes = [*self.system.notes, *self.system.range_notes(self.batch.T)]
        result = self.batch.result
        if not result.converged[0]:
            notes.append(f"Converged only loosely: ln f of the phases differ by up to {result.residual[0]:.1e}.")
        if not result.stable[0]:
            notes.append("Another phase would form that is not shown: this is not the equilibrium state.")
        if self.n_phases == 1:
            notes.append(self._where)
        return [*notes, *self._others, *self.remarks]

    @cached_property
    def _others(self) -> tuple[str, ...]:
        """Which other states have the quantities that were given; worked out once."""
        return self.batch.later.other_states(self)

    @cached_property
    def _where(self) -> str:
        """On which side of the envelope a single phase lies; worked out once."""
        return self.batch.later.where_single_phase(self)

    def quantity(self, name: str, units: str | None = None) -> pint.Quantity[Any]:
        """``T``, ``P`` or an overall property as a pint quantity in a set of units.

        Examples
        --------
        >>> import sleetfield as sl
        >>> state = sl.System(["methane"], eos="PR").flash([1.0], T=250.0, P=20e5)
        >>> print(state.quantity("P", units="metric"))
        20.0 bar

        """
        from ..units import quantity

        dimensions = {"T": "temperature", "P": "pressure", "flow": "molar_flow", **{n: p.dimension for n, p in OVERALL.items()}}
        if name not in dimensions:
            raise InputError(f"{name!r} is no quantity of a state. Quantities are {', '.join(dimensions)}.")
        value = getattr(self, name)
        if value is None:
            raise InputError("No flow was given for this state: flash(..., flow='120 kmol/h').")
        return quantity(value, dimensions[name], self.unit_set(units))

    @guarded
    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """Properties as rows, with a column for the whole and one for each phase."""
        return self._grid(units).frame()

    def _grid(self, units: str | None) -> Grid:
        unit_set = self.unit_set(units)
        labels = labels_of(self.phases)
        rows: dict[str, list[Any]] = {}
        rows["share by mole"] = [1.0, *(p.fraction for p in self.phases)]
        if self.flow is not None:
            values = [self.flow, *(p.flow for p in self.phases)]
            rows[heading("flow", "molar_flow", unit_set)] = list(from_si(values, "molar_flow", unit_set))
            mass = [self.flow * float(self.z @ self.system.molar_mass), *((p.flow or 0.0) * p.molar_mass for p in self.phases)]
            rows[heading("mass flow", "mass_flow", unit_set)] = list(from_si(mass, "mass_flow", unit_set))
            for i, component in enumerate(self.system.names):
                flows = [self.flow * float(self.z[i]), *(p.flows[component] for p in self.phases if p.flows is not None)]
                rows[heading(f"flow {component}", "molar_flow", unit_set)] = list(from_si(flows, "molar_flow", unit_set))
        for name, of_phase in PER_PHASE.items():
            if name == "fraction":
                continue
            values = [self.whole(name), *(getattr(p, name) for p in self.phases)]
            rows[heading(_SHARES.get(name, name), of_phase.dimension, unit_set)] = list(
                from_si(values, of_phase.dimension, unit_set)
            )
        if self.origin is not None:
            dimension = "molar_energy" if self.flow is None else "power"
            duty = float(from_si(self.duty, dimension, unit_set))
            rows[heading("duty", dimension, unit_set)] = [duty, *(np.nan for _ in self.phases)]
        for i, component in enumerate(self.system.names):
            rows[f"x {component}"] = [float(self.z[i]), *(p.composition[component] for p in self.phases)]
        return Grid(["overall", *labels], [[float(v) for v in row] for row in rows.values()], list(rows))

    def whole(self, name: str) -> float:
        """A property of `PER_PHASE` for all phases together, where it has a meaning."""
        if name in OVERALL:
            return float(getattr(self, name))
        if name in ("mass_fraction", "volume_fraction"):
            return 1.0
        return float(self.z @ self.system.molar_mass) if name == "molar_mass" else np.nan

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """What is printed: the properties asked for most, and compositions."""
        return self.printed(units).frame()

    def printed(self, units: str | None = None) -> Grid:
        """The same without pandas."""
        grid = self._grid(units)
        names = grid.names or []
        plain = (name.split(" [")[0] for name in names)
        kept = [name not in RARELY_READ and not name.startswith("flow ") for name in plain]
        return Grid(grid.headings, list(compress(grid.rows, kept)), list(compress(names, kept)))

    def in_short(self, units: str | None = None) -> str:
        """How many phases of which share, what flows, and the duty."""
        unit_set = self.unit_set(units)
        where = f"at {shown(self.T, 'temperature', unit_set, 4)} and {shown(self.P, 'pressure', unit_set, 4)}"
        duty = "" if self.origin is None else f" The duty is {self._duty_in(unit_set)}."
        if self.n_phases == 1:
            return f"One phase, {_a(labels_of(self.phases)[0])}, {where}.{duty}"
        parts = [self._share(label, p, unit_set) for label, p in zip(labels_of(self.phases), self.phases, strict=True)]
        return f"{_COUNT[self.n_phases]} phases {where}: {', '.join(parts[:-1])} and {parts[-1]}.{duty}"

    def _share(self, label: str, phase: Phase, unit_set: str) -> str:
        about = [] if phase.flow is None else [shown(phase.flow * phase.molar_mass, "mass_flow", unit_set, 5)]
        if not label.startswith("solid") and np.isfinite(list(phase.mass_composition.values())).all():
            name, share = max(phase.mass_composition.items(), key=lambda item: item[1])
            about.append(f"{100.0 * share:.3g} mass % {name}")
        return f"{100.0 * phase.fraction:.4g} mol % {label}" + (f" ({', '.join(about)})" if about else "")

    def _duty_in(self, unit_set: str) -> str:
        return shown(self.duty, "molar_energy" if self.flow is None else "power", unit_set, 4)

    def title(self, units: str | None = None) -> str:
        """System and condition."""
        unit_set = self.unit_set(units)
        return f"{self.system.title} at {shown(self.T, 'temperature', unit_set)}, {shown(self.P, 'pressure', unit_set)}"

    def to_dict(self) -> dict[str, Any]:
        """Everything in SI, as plain values."""
        return {
            "result": "state",
            "system": self.system.outline(),
            "T": self.T,
            "P": self.P,
            "z": dict(zip(self.system.names, self.z.tolist(), strict=True)),
            "flow": self.flow,
            "vapor_fraction": self.vapor_fraction,
            **{name: getattr(self, name) for name in OVERALL if name != "vapor_fraction"},
            **({} if self.origin is None else {"duty": self.duty}),
            "phases": [{f.name: getattr(p, f.name) for f in fields(p) if f.name != "state"} for p in self.phases],
            "notes": self.notes,
        }


_COUNT = ("No", "One", "Two", "Three", "Four", "Five", "Six")


def _a(label: str) -> str:
    return f"a {label}"


_KINDS = {int(VAPOR): "vapor", int(LIQUID): "liquid", int(SOLID): "solid"}


def labels_of(phases: Sequence[Phase]) -> list[str]:
    """Column names of phases: a second liquid is called that, a solid by what it is of."""
    labels, liquids = [], iter(SLOTS[1:])
    for p in phases:
        solid = f"solid {max(p.composition, key=lambda name: p.composition[name])}"
        labels.append(p.kind if p.kind == "vapor" else next(liquids) if p.kind == "liquid" else solid)
    return labels
