"""A mixture and its thermodynamic model: where every calculation starts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from concurrent.futures import Executor
from functools import cached_property
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from .calculations import envelope as envelopes
from .calculations import pure as pures
from .calculations import saturation as saturations
from .calculations import specifications, translations
from .calculations.stability import feed_stability
from .components import CASE, USER, Component, databank
from .components.interactions import published
from .composition import Composition, mole_fractions
from .core.constants import R
from .core.correlations import LiquidDensity
from .core.correlations.liquid_density import generalized_rackett
from .core.equilibrium.critical import critical_points
from .core.equilibrium.stability import UNSTABLE
from .core.estimates.interaction import from_critical_volumes
from .core.models.contract import PhaseModel, VolumeModel
from .core.models.cubic import CubicModel
from .core.models.ideal_liquid import IdealLiquid
from .core.models.liquid_and_vapor import LiquidAndVapor
from .core.models.peng_robinson import PengRobinson
from .core.models.peng_robinson_1978 import PengRobinson1978
from .core.models.redlich_kwong import RedlichKwong
from .core.models.soave_redlich_kwong import SoaveRedlichKwong
from .core.specification import Mixture
from .errors import CalculationError, InputError, UnknownComponentError
from .measurements import pure_measurements
from .results.critical import CriticalPoint, StabilityTest
from .results.envelope import Envelope
from .results.interactions import GIVEN, ZERO, Interactions
from .results.saturation import Saturation, SaturationBatch
from .results.saturation_curve import SaturationCurve
from .results.state import DEFAULT_PROPERTIES, State, StateBatch, state_table
from .results.text import shown
from .units import dimension_of, to_si, unit_of

if TYPE_CHECKING:
    import pandas as pd

Array = NDArray[np.float64]

KIJ_RULES = ("published", "estimated", "zero")
"""What is done about interaction parameters that are not given."""

ESTIMATED = "estimated: Chueh and Prausnitz (1967), from critical volumes"

EQUATIONS_OF_STATE: dict[str, type[CubicModel]] = {
    "PR": PengRobinson,
    "PR78": PengRobinson1978,
    "SRK": SoaveRedlichKwong,
    "RK": RedlichKwong,
}
"""Equations of state by name: a new one is one line here."""

_FAMILY = {"PR": "PR", "PR78": "PR", "SRK": "SRK", "RK": "SRK"}
"""Whose volume translation an equation takes."""

_KIJ_OF = {"PR": "PR", "PR78": "PR", "SRK": "SRK"}
"""Whose published interaction parameters an equation takes; none were fitted for the others."""

TRANSLATIONS = ("density", "Peneloux")
"""Where volume translations come from, besides numbers."""

LIQUIDS = ("ideal",)
VAPORS = ("ideal",)

ENVELOPE_P_MAX = 5.0e7
"""Pressure, Pa, up to which an open envelope is followed unless told otherwise."""

TABLE_PROPERTIES = (*DEFAULT_PROPERTIES, "Cp", "Z", "composition")


class System:
    """Components with a model: an equation of state, or a liquid model beside a vapor model.

    Parameters
    ----------
    components : sequence
        Names, CAS numbers, formulas where unambiguous, or `Component` objects.
    eos : {"PR", "PR78", "SRK", "RK"}, optional
        Equation of state.
    liquid, vapor : {"ideal"}, optional
        Instead of ``eos``: an ideal liquid on the databank's vapor pressures, and an ideal-gas vapor.
    kij : mapping of pairs to float, or {"published", "estimated", "zero"}, optional
        Binary interaction parameters of an equation of state. A pair not given is taken from the bank of published ones; where that has
        none it is zero, and a note says so, or with "estimated" from critical volumes. ``interactions`` shows them.
    translation : {"density", "Peneloux"} or mapping of names to m3/mol, optional
        Volume translation of an equation of state: to the databank's liquid density at 298 K (0.7 Tc for gases), or from the Rackett factor; equilibria
        stay the same.
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
    0.7282

    """

    def __init__(
        self,
        components: Sequence[str | Component],
        *,
        eos: str | None = None,
        liquid: str | None = None,
        vapor: str | None = None,
        kij: Mapping[tuple[str, str], float] | str | None = None,
        translation: Mapping[str, Any] | str | None = None,
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
        if isinstance(kij, str) and kij not in KIJ_RULES:
            raise InputError(f"kij is {kij!r}; it is a mapping of pairs to numbers, or one of {', '.join(KIJ_RULES)}.")
        self.eos = self._equation(eos, liquid, vapor, kij)
        self._kij_rule = kij if isinstance(kij, str) else "published"
        self._given_pairs = self._pairs({} if kij is None or isinstance(kij, str) else kij)
        self.kij = self.interactions.kij
        self.translation = self._translation(translation)
        self.model = self._model()

    def __len__(self) -> int:
        return len(self.components)

    # ---- what it is ----

    def _equation(self, eos: str | None, liquid: str | None, vapor: str | None, kij: Any) -> str | None:
        """The equation of state's name; None for an ideal liquid beside an ideal-gas vapor."""
        if (eos is None) == (liquid is None):
            raise InputError(
                f"Name one model: eos= ({', '.join(EQUATIONS_OF_STATE)}), or liquid= ({', '.join(LIQUIDS)}) with vapor= ({', '.join(VAPORS)})."
            )
        if eos is None:
            if liquid not in LIQUIDS or (vapor or "ideal") not in VAPORS:
                raise InputError(
                    f"There is no liquid {liquid!r} with vapor {vapor!r}. Liquids: {', '.join(LIQUIDS)}; vapors: {', '.join(VAPORS)}."
                )
            if kij:
                raise InputError("kij belongs to an equation of state; an ideal liquid has no interaction parameters.")
            return None
        if vapor is not None:
            raise InputError("An equation of state describes the vapor too: leave out vapor=.")
        name = next((n for n in EQUATIONS_OF_STATE if n.lower() == eos.lower()), None)
        if name is None:
            raise InputError(f"There is no equation of state {eos!r}. Equations of state are {', '.join(EQUATIONS_OF_STATE)}.")
        return name

    def _model(self) -> PhaseModel:
        if self.eos is None:
            return LiquidAndVapor(self._ideal_liquid())
        Tc, Pc, omega = (self._constants(k, self.eos) for k in ("Tc", "Pc", "omega"))
        return EQUATIONS_OF_STATE[self.eos](Tc, Pc, omega, self.kij, self.translation)

    @cached_property
    def mixture(self) -> Mixture:
        """What the properties of its states rest on."""
        return Mixture(self.model, self.heat_capacities, self.molar_mass)

    def untranslated(self) -> PhaseModel:
        """The same equation of state with its own volumes."""
        assert self.eos is not None
        Tc, Pc, omega = (self._constants(k, self.eos) for k in ("Tc", "Pc", "omega"))
        return EQUATIONS_OF_STATE[self.eos](Tc, Pc, omega, self.kij)

    def _translation(self, given: Mapping[str, Any] | str | None) -> Array | None:
        """What is taken off each component's molar volume, m3/mol."""
        if given is None:
            return None
        if self.eos is None:
            raise InputError("A volume translation belongs to an equation of state; an ideal liquid has its own volumes.")
        if not isinstance(given, str):
            values = np.zeros(len(self))
            for name, value in given.items():
                values[self.position(name)] = to_si(value, "molar_volume", f"the translation of {name}")
            return values
        rule = next((r for r in TRANSLATIONS if r.lower() == given.lower()), None)
        if rule is None:
            raise InputError(f"translation is {given!r}; it is a mapping of names to m3/mol, or one of {', '.join(TRANSLATIONS)}.")
        return translations.from_density(self) if rule == "density" else translations.peneloux(self, _FAMILY[self.eos])

    @cached_property
    def interactions(self) -> Interactions:
        """The binary interaction parameters in use, and where each came from: print it, plot it.

        Examples
        --------
        >>> import sleetfield as sl
        >>> gas = sl.System(["nitrogen", "methane", "n-octane"], eos="PR", kij={("methane", "n-octane"): 0.05})
        >>> gas.interactions.kij.round(4).tolist()
        [[0.0, 0.0311, 0.0], [0.0311, 0.0, 0.05], [0.0, 0.05, 0.0]]

        """
        matrix, sources = np.zeros((len(self), len(self))), {}
        if self.eos is not None:
            bank = published(_KIJ_OF[self.eos]) if self._kij_rule != "zero" and self.eos in _KIJ_OF else {}
            estimates = from_critical_volumes(self._critical_volumes()) if self._kij_rule == "estimated" else None
            for i in range(len(self)):
                for j in range(i + 1, len(self)):
                    pair = frozenset({self.names[i], self.names[j]})
                    if (i, j) in self._given_pairs:
                        value, source = self._given_pairs[i, j], GIVEN
                    elif pair in bank:
                        value, source = bank[pair]
                    elif estimates is not None:
                        value, source = float(estimates[i, j]), ESTIMATED
                    else:
                        value, source = 0.0, "zero, as asked for" if self._kij_rule == "zero" else ZERO
                    matrix[i, j] = matrix[j, i] = value
                    sources[i, j] = source
        return Interactions(self, matrix, sources)

    def _critical_volumes(self) -> Array:
        """Critical volumes; where one is not known, from Tc, Pc and omega (Lee and Kesler, 1975)."""
        Tc, Pc, omega = (self._constants(k, "an estimated kij") for k in ("Tc", "Pc", "omega"))
        known = np.array([np.nan if c.Vc is None else c.Vc for c in self.components])
        return np.where(np.isnan(known), (0.2905 - 0.085 * omega) * R * Tc / Pc, known)

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
        return IdealLiquid(correlations, [c.liquid_density or self._estimated_density(c) for c in self.components])

    @staticmethod
    def _estimated_density(c: Component) -> LiquidDensity:
        return generalized_rackett(*(c.constant(k, "the liquid volume") for k in ("Tc", "Pc", "omega")))

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
        pairs = {f"{self.names[i]} / {self.names[j]}": float(self.kij[i, j]) for i, j in self.interactions.sources}
        return {"components": list(self.names), "model": self.model_title, "kij": pairs}

    # ---- what there is to say about it ----

    @cached_property
    def notes(self) -> list[str]:
        """What holds for every result of this system."""
        notes = []
        if self.eos is not None:
            sources = self.interactions.sources
            zero = [
                f"{self.names[i]} - {self.names[j]}" for (i, j), source in sources.items() if source.startswith(("none", "zero"))
            ]
            count = sum(1 for source in sources.values() if source == ESTIMATED)
            if count:
                are = "s are" if count > 1 else " is"
                notes.append(
                    f"The interaction parameter{are} estimated from critical volumes for {count} pair{'s' if count > 1 else ''}."
                )
            if zero:
                which = ", ".join(zero[:4]) + (f" and {len(zero) - 4} more" if len(zero) > 4 else "")
                are = "parameters are" if len(zero) > 1 else "parameter is"
                notes.append(f"The interaction {are} taken as zero for {len(zero)} pair{'s' if len(zero) > 1 else ''}: {which}.")
        else:
            notes.append("The liquid's volume is that of the pure liquids and does not enter the fugacities.")
            guessed = [c.name for c in self.components if c.liquid_density is None]
            if guessed:
                notes.append(f"The liquid volume of {', '.join(guessed)} is from the generalized Rackett equation.")
        if self.translation is not None:
            plain = [n for n, c in zip(self.names, self.translation, strict=True) if c == 0.0]
            without = f", not those of {', '.join(plain)}" if plain else ""
            notes.append(f"Volumes are translated{without}; equilibria are the same without.")
        notes += self._origin_notes()
        lacking = [c.name for c in self.components if c.heat_capacity is None]
        if lacking:
            notes.append(f"There is no ideal-gas heat capacity for {', '.join(lacking)}: no enthalpy, entropy or heat capacity.")
        return notes

    def _origin_notes(self) -> list[str]:
        """Which of the numbers that the results rest on are estimated, and which are not shipped but from one's own databank."""
        used = (*(("Tc", "Pc", "omega") if self.eos is not None else ("vapor_pressure", "liquid_density")), "heat_capacity")
        estimated: dict[str, list[str]] = {}
        own: dict[str, list[str]] = {}
        for c in self.components:
            guessed = [key for key in used if c.sources.get(key, "").startswith("estimated")]
            if guessed:
                estimated.setdefault(", ".join(guessed), []).append(c.name)
            for layer in (USER, CASE):
                keys = [key for key in used if c.layers.get(key) == layer]
                if keys:
                    own.setdefault(layer, []).append(f"{', '.join(keys)} of {c.name}")
        notes = [f"Estimated, not measured: {keys} of {', '.join(names)}." for keys, names in estimated.items()]
        return notes + [f"From the {layer} layer of the databank: {'; '.join(what)}." for layer, what in own.items()]

    def range_notes(self, T: Array) -> list[str]:
        """Which correlations are used outside their range at temperatures ``T``."""
        heat = [(c.name, c.heat_capacity) for c in self.components if c.heat_capacity is not None]
        notes = _out_of_range("ideal-gas heat capacity", heat, T, self.units) + self.vapor_pressure_notes(T)
        if self.eos is None:
            densities = [(c.name, c.liquid_density) for c in self.components if c.liquid_density is not None]
            notes += _out_of_range("liquid density", densities, T, self.units)
        return notes

    def vapor_pressure_notes(self, T: Array) -> list[str]:
        """The same for vapor pressures alone, where the model uses them."""
        if self.eos is not None:
            return []
        pressures = [(c.name, c.vapor_pressure) for c in self.components if c.vapor_pressure is not None]
        return _out_of_range("vapor pressure", pressures, T, self.units)

    # ---- calculations ----

    def _conditions(self, z: Composition, basis: str, **given: Any) -> tuple[dict[str, Array], Array, tuple[int, ...]]:
        """Specifications and mole fractions as batches of one length, and the shape that they had."""
        fractions = mole_fractions(z, self.names, self.position, self.molar_mass, basis)
        if basis == "mass" and np.isnan(fractions).any():
            lacking = [n for n, m in zip(self.names, self.molar_mass, strict=True) if np.isnan(m)]
            raise UnknownComponentError(f"There is no molar mass of {', '.join(lacking)}, so mass fractions cannot be converted.")
        values = {name: to_si(value, specifications.DIMENSIONS[name], name) for name, value in given.items()}
        for name, value in values.items():
            bad = ~(np.isfinite(value) & specifications.possible(name, value))
            if bad.any():
                unit = unit_of(specifications.DIMENSIONS[name])
                first = f"{float(np.ravel(value)[np.ravel(bad)][0]):g} {unit}".strip()
                raise InputError(f"{name} is {first}; {specifications.RULES.get(name, 'it must be finite')}.")
        try:
            shape = np.broadcast_shapes(*(v.shape for v in values.values()), fractions.shape[:-1])
        except ValueError:
            shapes = ", ".join(f"{n} {v.shape}" for n, v in values.items())
            raise InputError(
                f"The arrays do not fit together: {shapes}, composition {fractions.shape[:-1]}. Give equal lengths, or single values."
            ) from None
        flat = {n: np.ascontiguousarray(np.broadcast_to(v, shape)).ravel() for n, v in values.items()}
        batch = np.broadcast_to(fractions, (*shape, len(self))).reshape(-1, len(self))
        return flat, batch, shape

    def flash(
        self,
        z: Composition,
        *,
        T: Any = None,
        P: Any = None,
        H: Any = None,
        S: Any = None,
        U: Any = None,
        V: Any = None,
        density: Any = None,
        vapor_fraction: Any = None,
        vapor_mass_fraction: Any = None,
        flow: Any = None,
        basis: str = "mole",
        executor: Executor | None = None,
    ) -> Any:
        """Phases at equilibrium, one to three, at any two given quantities, with stability analysis.

        Parameters
        ----------
        z
            Feed: a mapping of names to fractions (one may be ``"rest"``), or fractions in the system's order, ``(..., C)``.
        T, P
            Temperature and pressure: SI numbers, arrays of them, or text with units.
        H, S, U, V
            Molar enthalpy, J/mol; entropy, J/(mol K); internal energy, J/mol; volume, m3/mol, of all phases together.
        density
            kg/m3, of all phases together.
        vapor_fraction
            By mole, 0 to 1; 0 is the bubble point, 1 the dew point.
        vapor_mass_fraction
            The same by mass.
        flow
            Feed flow (mol/s, or text such as "120 kmol/h" or "5 t/h"), if phase flows are wanted.
        basis : {"mole", "mass"}
            What the fractions are.
        executor : concurrent.futures.Executor, optional
            Where a large batch at T and P is worked on, in blocks: a ``ProcessPoolExecutor``, say, or a cluster's; one block after another by default.

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
        specified = {"T": T, "P": P, "H": H, "S": S, "U": U, "V": V, "density": density}
        specified |= {"vapor_fraction": vapor_fraction, "vapor_mass_fraction": vapor_mass_fraction}
        given = {name: value for name, value in specified.items() if value is not None}
        same = next((pair for pair in specifications.SAME if pair <= set(given)), None)
        if len(given) != 2 or same:
            which = "; these two say the same thing" if same else ""
            raise InputError(f"flash needs two of {', '.join(specified)}; got {' and '.join(given) or 'none'}{which}.")
        if flow is not None:
            given["mass_flow" if dimension_of(flow, "molar_flow", "mass_flow") == "mass_flow" else "flow"] = flow
        values, batch, shape = self._conditions(z, basis, **given)
        moles = values.pop("flow", None)
        if "mass_flow" in values:
            moles = values.pop("mass_flow") / self._mean_molar_mass(batch)
        T_found, P_found, result = specifications.solve(self, values, batch, executor)
        states = StateBatch(self, T_found, P_found, batch, moles, result, shape)
        if shape:
            return states
        if states.failed[0]:
            raise CalculationError(specifications.why_none(self, values))
        return states[0]

    def _mean_molar_mass(self, z: Array) -> Array:
        """kg/mol of mixtures ``(N,)``."""
        mean = z @ self.molar_mass
        if np.isnan(mean).any():
            lacking = [n for n, m in zip(self.names, self.molar_mass, strict=True) if np.isnan(m)]
            raise UnknownComponentError(f"There is no molar mass of {', '.join(lacking)}, so a mass flow cannot be converted.")
        return np.asarray(mean)

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
        6.11

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
        4.17

        """
        return self._saturation("dew", z, T, P, basis)

    def _saturation(self, kind: str, z: Composition, T: Any, P: Any, basis: str) -> Any:
        _one_of(kind, T, P)
        given = "T" if T is not None else "P"
        values, batch, shape = self._conditions(z, basis, **{given: T if given == "T" else P})
        found = saturations.saturate(self, kind, given, values[given], batch)
        points = SaturationBatch(self, kind, given, found.T, found.P, batch, found.incipient, found.tm >= UNSTABLE)
        if shape:
            return points
        if not (found.found[0] and np.isfinite(found.T[0])):
            raise CalculationError(saturations.why_none(self, kind, given, float(values[given][0]), batch[0]))
        return points[0]

    def saturation_solutions(self, kind: str, given: str, value: float, z: Array) -> tuple[Saturation, ...]:
        """Every stable bubble or dew point of ``z`` at a temperature (``given="T"``) or pressure (``"P"``), in rising order."""
        return saturations.solutions(self, kind, given, value, z)

    def where_single_phase(self, state: State) -> str:
        """In words: on which side of the envelope a single-phase state lies."""
        return saturations.where_single_phase(self, state)

    def saturation_curve(self, *, T: Any = None, data: Any = None) -> SaturationCurve:
        """Vapor pressure, densities, heat of vaporization and more of the system's only component along saturation.

        Parameters
        ----------
        T : optional
            Temperatures, K or text with units; by default from half the critical temperature up to it.
        data : optional
            Measured values to stand beside: a .csv or .xlsx file with the columns ``T`` and ``P`` or ``density`` (of the liquid), each with its unit;
            or a mapping such as ``{"P": (T, P)}`` of SI numbers.

        Raises
        ------
        InputError
            If the system has more than one component, or the data can't be read.

        Examples
        --------
        >>> import sleetfield as sl
        >>> curve = sl.System(["propane"], eos="PR").saturation_curve(T=[231.1, 300.0])
        >>> (curve.P / 1e5).round(2).tolist()
        [1.02, 9.98]
        """
        if len(self) != 1:
            raise InputError(
                f"A saturation curve is of one component; this system has {len(self)}. For a mixture, draw its envelope."
            )
        measured = {} if data is None else pure_measurements(data)
        if T is None:
            return pures.saturation_curve(self, pures.default_temperatures(self), measured)
        values, _, _ = self._conditions([1.0], "mole", T=T)
        return pures.saturation_curve(self, values["T"], measured)

    def ln_fugacities(self, T: Array, P: float) -> tuple[Array, Array]:
        """ln(f/Pa) of vapor and liquid of the only component, at temperatures ``T (N,)`` and one pressure; NaN where there is no such phase."""
        return pures.ln_fugacities(self, T, P)

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
        found = feed_stability(self, values["T"], values["P"], batch)
        trial = dict(zip(self.names, np.where(batch[0] > 0.0, found.trial[0], 0.0).tolist(), strict=True))
        T_given, P_given, tm = float(values["T"][0]), float(values["P"][0]), float(found.tm[0])
        return StabilityTest(self, T_given, P_given, batch[0], tm >= UNSTABLE, tm, trial)

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
            raise CalculationError(
                f"The model {self.model_title} has no critical points: it needs one equation of state for both phases."
            )
        present, model = self.present(batch[0])
        found = critical_points(model, batch[0][present])
        if not found:
            raise CalculationError("No critical point with positive pressure was found for this mixture.")
        points = envelopes.checked_critical(self, found, batch[0])
        best = next((p for p in points if p.stable), points[0])
        return CriticalPoint(self, best.T, best.P, best.molar_volume, best.stable, tuple(points))

    def present(self, z: Array) -> tuple[NDArray[np.intp], PhaseModel]:
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
        basis : {"mole", "mass"}
            What the fractions are.

        Raises
        ------
        CalculationError
            If no dew or bubble point was found to start from.

        Examples
        --------
        >>> import sleetfield as sl
        >>> env = sl.System(["methane", "propane"], eos="PR").envelope([0.7, 0.3])
        >>> env.closed, round(env.cricondentherm.T, 1)
        (True, 302.0)

        """
        _, batch, shape = self._conditions(z, basis)
        if shape:
            raise InputError("An envelope is of one composition; call it once for each.")
        for q in quality:
            if not 0.0 < q < 1.0:
                raise InputError(
                    f"A quality line needs a vapor fraction between 0 and 1; got {q!r}. (0 is the bubble line, 1 the dew line.)"
                )
        low = float(to_si(P_min, "pressure", "P_min"))
        high = float(to_si(P_max, "pressure", "P_max")) if P_max is not None else min(ENVELOPE_P_MAX, self.model.P_limit)
        if not 0.0 < low < high:
            raise InputError(f"P_min must be positive and below P_max; got {low:g} and {high:g} Pa.")
        found = envelopes.envelope(self, batch[0], quality, low, high)
        if found is None:
            raise CalculationError("No bubble or dew point was found to start the envelope from. Try another P_min.")
        return found

    def table(
        self,
        z: Composition,
        *,
        T: Any,
        P: Any,
        properties: Sequence[str] = TABLE_PROPERTIES,
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
        basis : {"mole", "mass"}
            What the fractions are.
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
        (4, 6)

        """
        temperatures, pressures = (np.atleast_1d(to_si(v, d, n)) for v, d, n in ((T, "temperature", "T"), (P, "pressure", "P")))
        grid_T, grid_P = np.meshgrid(temperatures, pressures, indexing="ij")
        states = self.flash(z, T=grid_T.ravel(), P=grid_P.ravel(), basis=basis)
        frame = state_table(states, properties, self.units if units is None else units)
        frame.attrs["notes"] = states.notes
        frame.attrs["title"] = f"Properties of {self.title}"
        return frame


def _one_of(call: str, T: Any, P: Any) -> None:
    """Neither or both is refused."""
    if (T is None) == (P is None):
        raise InputError(f"{call} needs one of T and P; got {'neither' if T is None else 'T and P'}.")


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
